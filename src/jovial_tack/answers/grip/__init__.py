"""A drive in every situation, over all revs."""
