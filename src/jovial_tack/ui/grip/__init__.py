"""The belt unrolled, and what happens over the revs."""
