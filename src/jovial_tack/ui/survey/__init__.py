"""Parts on the shelf, and which accessories stay or go."""
