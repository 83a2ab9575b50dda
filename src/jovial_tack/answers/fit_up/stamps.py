"""Stamps: what a step depends on, in twelve characters, so that a later change of just that is seen."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from typing import Any

from jovial_tack.document.model import Build, dump

#: A path into a build's file: keys, and entries of lists by what they are told by.
Path = tuple[str, ...]
_LETTERS = 12
#: By what an entry of a list is told from the others.
_NAMED_BY = ("id", "shaft", "for")


def stamp_of(build: Build, depends: Iterable[Path]) -> str:
    """The stamp of paths into a build's file: the first twelve hex digits of SHA-256 of what stands
    there, as canonical JSON. Where nothing stands is a thing to depend on as well.
    """
    plain = dump(build)
    return stamped(plain, depends)


def stamped(plain: dict[str, Any], depends: Iterable[Path]) -> str:
    """The same of a build as plain values."""
    values = [[*path, at(plain, path)] for path in sorted(set(depends))]
    text = json.dumps(values, sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()[:_LETTERS]


def at(plain: Any, path: Path) -> Any:
    """What stands at a path; None where there is nothing."""
    value = plain
    for step in path:
        if isinstance(value, dict):
            value = value.get(step)
        elif isinstance(value, list):
            value = next((entry for entry in value if _is_named(entry, step)), None)
        else:
            return None
    return value


def _is_named(entry: Any, name: str) -> bool:
    return isinstance(entry, dict) and any(entry.get(key) == name for key in _NAMED_BY)
