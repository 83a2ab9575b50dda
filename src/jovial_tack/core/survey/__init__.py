"""Shaft centres from a tape: a net of readings, adjusted and judged."""
