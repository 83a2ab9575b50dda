"""What differs between two builds, in a line: told apart by parts, not by figures."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jovial_tack.document.model import Build

_WORDS = {
    "notes": "the notes",
    "title": "the title",
    "catalogue_version": "",
    "air": "the air",
    "engine": "the engine",
    "display_units": "the units",
    "pinned_notes": "notes",
    "load_case": "the load case",
    "choices": "what the finder may choose",
    "fit_up": "steps of fitting up",
    "notes_torque": "torques of bolts",
    "logbook": "the logbook",
    "survey": "the survey",
    "alignment": "readings of planes",
    "symptoms": "what is seen of noises",
}
_MOST = 5


def differences(one: Build, other: Build) -> str:
    """What two builds differ in: “the title, 2 shafts, the logbook”; "" if nothing.

    Of parts with names those are counted that only one has, or that are otherwise.
    """
    said = []
    for key in Build.__struct_fields__:
        here, there = getattr(one, key), getattr(other, key)
        words = _WORDS.get(key, key.replace("_", " "))
        if here == there or not words:
            continue
        count = _count(here, there)
        said.append(words if count is None else f"{count} {_of(words, count)}")
    more = len(said) - _MOST
    return ", ".join(said[:_MOST]) + (f" and {more} more" if more > 0 else "")


def _count(here: Any, there: Any) -> int | None:
    """How many parts differ; None where they have no names."""
    if not _are_named(here) or not _are_named(there):
        return None
    ours, theirs = ({part.id: part for part in parts} for parts in (here, there))
    return sum(ours.get(name) != theirs.get(name) for name in ours.keys() | theirs.keys()) or None


def _are_named(parts: Any) -> bool:
    return isinstance(parts, Sequence) and all(hasattr(part, "id") for part in parts)


def _of(words: str, count: int) -> str:
    return words.removesuffix("s") if count == 1 and not words.endswith("ss") else words
