"""Speeds of every shaft, and the boost they make."""
