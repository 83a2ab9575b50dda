"""What a drive has in hand, and how its tension is read."""
