"""Fit up: the order of work on the engine, one step large."""
