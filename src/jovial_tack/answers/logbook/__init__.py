"""What the logbook of a build tells: what is due, what wore, what lasted, what it cost."""
