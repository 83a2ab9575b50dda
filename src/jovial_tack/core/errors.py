"""The errors Jovial Tack raises on purpose; each also is the builtin that fits."""

from __future__ import annotations


class JovialTackError(Exception):
    """Base of every error whose text is meant to be read by the user."""


class GeometryError(JovialTackError, ValueError):
    """A drive was handed to the mechanics in a shape that has no meaning."""


class UnitError(JovialTackError, ValueError):
    """A typed quantity could not be read, or its unit does not belong to the field."""


class EitherFigureError(UnitError):
    """A typed figure may mean either of two: nothing is taken until it is said which.

    Parameters
    ----------
    typed : what was typed
    readings : both ways to type it so that there is no doubt, the one with decimals first
    """

    def __init__(self, typed: str, readings: tuple[str, str]) -> None:
        self.readings = readings
        super().__init__(f"“{typed}” may be {readings[0]} or {readings[1]}: type it so")


class CatalogueError(JovialTackError, LookupError):
    """The shipped or user data has no such entry, or the entry is unusable."""


class SaveError(JovialTackError, OSError):
    """A file could not be written; what stood there before is untouched."""


class BuildFileError(JovialTackError, ValueError):
    """A build file was refused.

    Parameters
    ----------
    path : where in the file, such as ``drives[0].pulleys[2].diameter_mm``; empty for the whole file
    expected : what should have been there, as one sentence
    """

    def __init__(self, path: str, expected: str) -> None:
        # names and texts of a file may hold line breaks; an error is one line
        path, expected = (" ".join(text.split()) for text in (path, expected))
        self.path = path
        self.expected = expected
        super().__init__(f"{path}: {expected}" if path else expected)


class LogError(JovialTackError, ValueError):
    """A run log could not be read or understood; the text says why and what would help."""


class SoundError(JovialTackError, ValueError):
    """A recording could not be read, or cannot be judged; the text says what would be needed."""
