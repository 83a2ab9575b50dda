"""Shafts placed by command, and rival layouts side by side."""
