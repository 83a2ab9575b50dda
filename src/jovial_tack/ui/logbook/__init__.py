"""The logbook, station 9: what was tried, fitted, read and paid, and what is due."""
