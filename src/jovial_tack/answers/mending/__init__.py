"""What mends a finding: changes a builder would make, each solved before it is said."""

from jovial_tack.answers.mending.mends import mended, mends_of

__all__ = ["mended", "mends_of"]
