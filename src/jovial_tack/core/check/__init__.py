"""Checks of what was built: slip from a log."""
