"""Gaps between belts, pulleys and what is in the way."""
