"""Edits: pure functions Build → Build, each checked, with the label undo shows.

Only the parts on the way to the change are made anew; all others stay the same objects, so that a
solve sees at once which drives are unchanged.
"""

from __future__ import annotations

from typing import Any, TypeVar

from jovial_tack.document.model import Build, Drive, Obstacle, Part, Pulley, Shaft, make

P = TypeVar("P", bound=Part)


def changed(part: P, /, **changes: Any) -> P:
    """A checked copy of a part with some keys changed; a value None takes an optional key away.

    Raises BuildFileError with the key and what was expected.
    """
    kept = {part.key_of(name): getattr(part, name) for name in part.given}
    new = {part.key_of(name): value for name, value in changes.items()}
    data = {**kept, **part.unknown, **new}
    for key in [key for key, value in new.items() if value is None]:
        if key in part.__struct_encode_fields__:
            del data[key]
    return make(type(part), data)


def with_shaft(build: Build, shaft: Shaft) -> Build:
    """The build with one shaft replaced by another of the same id."""
    return changed(build, shafts=tuple(shaft if s.id == shaft.id else s for s in build.shafts))


def with_obstacle(build: Build, obstacle: Obstacle) -> Build:
    """The build with one obstacle exchanged for another of the same id."""
    every = tuple(obstacle if old.id == obstacle.id else old for old in build.obstacles)
    return changed(build, obstacles=every)


def with_drive(build: Build, drive: Drive) -> Build:
    """The build with one drive replaced by another of the same id."""
    return changed(build, drives=tuple(drive if d.id == drive.id else d for d in build.drives))


def with_pulley(build: Build, drive_id: str, pulley: Pulley) -> Build:
    """The build with one pulley of a drive replaced by another of the same id."""
    drive = build.drive(drive_id)
    pulleys = tuple(pulley if p.id == pulley.id else p for p in drive.pulleys)
    return with_drive(build, changed(drive, pulleys=pulleys))
