"""Answers as text for the terminal."""
