"""Belts by themselves: their lines and lengths."""
