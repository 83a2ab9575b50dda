"""The finder's card: what may change, the trade-off, the list."""
