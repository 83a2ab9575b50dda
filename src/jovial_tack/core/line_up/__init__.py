"""Groove planes and what brings them in line."""
