"""The air side: superchargers, and the power they take."""
