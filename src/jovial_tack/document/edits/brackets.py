"""Brackets that carry several shafts and can be bolted on at one of a few offsets.

The centres in the file are those with the bracket where it is; another offset shifts all its shafts.
"""

from __future__ import annotations

from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.model import Bracket, Build, PlateOf, Point, make

_STEP_MM = 10.0


def add_bracket(build: Build, shaft_id: str) -> tuple[Build, str]:
    """A bracket that carries a shaft, with one further offset; returns its id too."""
    name = free_name("bracket", (bracket.id for bracket in build.brackets))
    label = free_name("Bracket", (bracket.label for bracket in build.brackets))
    new = make(
        Bracket,
        {
            "id": name,
            "name": label,
            "shafts": (shaft_id,),
            "offsets_mm": ((0.0, 0.0), (0.0, _STEP_MM)),
        },
    )
    return changed(build, brackets=(*build.brackets, new)), name


def set_bracket(build: Build, bracket_id: str, **changes: Any) -> Build:
    """Change a bracket's name, shafts or offsets; nothing moves."""
    new = changed(build.bracket(bracket_id), **changes)
    every = tuple(new if b.id == bracket_id else b for b in build.brackets)
    return changed(build, brackets=every)


def usual_plate(build: Build, bracket_id: str) -> PlateOf:
    """A plate of a usual size toward what a bracket carries, to be typed over."""
    shaft = build.bracket(bracket_id).shafts[0]
    planes = [
        pulley.plane_mm
        for drive in build.drives
        for pulley in drive.pulleys
        if pulley.shaft == shaft and pulley.plane_mm is not None
    ]
    z = (planes[0] if planes else 0.0) - 40.0
    size = {"length_mm": 120.0, "width_mm": 60.0, "thickness_mm": 12.0}
    return make(PlateOf, {**size, "direction_deg": 90.0, "z_mm": z})


def bolt_bracket(build: Build, bracket_id: str, at: int) -> Build:
    """Bolt a bracket on at another of its offsets: all its shafts go along."""
    bracket = build.bracket(bracket_id)
    dx, dy = (
        new - old
        for new, old in zip(bracket.offsets_mm[at], bracket.offsets_mm[bracket.at], strict=True)
    )
    build = set_bracket(build, bracket_id, at=at)
    for name in bracket.shafts:
        x, y = build.shaft(name).center_mm
        build = move_shaft(build, name, x + dx, y + dy)
    return build


def set_offset(build: Build, bracket_id: str, place: int, offset: Point) -> Build:
    """Give a bracket another offset; its shafts follow if it is bolted on there."""
    bracket = build.bracket(bracket_id)
    offsets = tuple(offset if k == place else o for k, o in enumerate(bracket.offsets_mm))
    if place != bracket.at:
        return set_bracket(build, bracket_id, offsets_mm=offsets)
    spare = (*bracket.offsets_mm, offset)
    moved = bolt_bracket(
        set_bracket(build, bracket_id, offsets_mm=spare), bracket_id, len(spare) - 1
    )
    return set_bracket(moved, bracket_id, offsets_mm=offsets, at=place)


def drag_bracket(build: Build, bracket_id: str, shaft_id: str, x_mm: float, y_mm: float) -> Build:
    """Bolt a bracket on where it brings one of its shafts nearest to a point."""
    bracket = build.bracket(bracket_id)
    places = carried_places(build, bracket, shaft_id)
    away = [abs(complex(x - x_mm, y - y_mm)) for x, y in places]
    return bolt_bracket(build, bracket_id, away.index(min(away)))


def carried_places(build: Build, bracket: Bracket, shaft_id: str) -> tuple[Point, ...]:
    """Where a shaft of a bracket would stand at each of its offsets."""
    x, y = build.shaft(shaft_id).center_mm
    now = bracket.offsets_mm[bracket.at]
    return tuple((x + dx - now[0], y + dy - now[1]) for dx, dy in bracket.offsets_mm)


def bracket_of(build: Build, shaft_id: str) -> Bracket | None:
    """The bracket that carries a shaft, if there is one."""
    return next((b for b in build.brackets if shaft_id in b.shafts), None)


def carry(build: Build, bracket_id: str, shaft_id: str, *, on: bool) -> Build:
    """Put a shaft on a bracket, or take it off; the last one stays."""
    shafts = [name for name in build.bracket(bracket_id).shafts if name != shaft_id]
    return set_bracket(build, bracket_id, shafts=(*shafts, *((shaft_id,) if on else ())))


def remove_bracket(build: Build, bracket_id: str) -> Build:
    """Take a bracket away; its shafts stay where they are."""
    kept = tuple(b for b in build.brackets if b.id != bracket_id)
    return changed(build, brackets=kept or None)
