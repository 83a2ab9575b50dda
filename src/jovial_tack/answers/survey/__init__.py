"""Which parts stay, go, or are put on."""
