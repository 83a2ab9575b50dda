"""Order of work on the engine."""
