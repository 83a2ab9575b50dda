"""Layouts begun, and what suits them."""
