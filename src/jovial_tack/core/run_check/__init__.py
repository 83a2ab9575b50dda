"""What a log shows: pulls, slip and its onset."""
