"""Logs judged with the build at hand."""
