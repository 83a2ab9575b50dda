"""Use, time, wear and lives: the arithmetic of a logbook. No clock: the day is handed in."""
