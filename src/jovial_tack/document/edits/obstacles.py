"""Edits of what is in the way: outlines put down, moved, reshaped and taken away."""

from __future__ import annotations

from typing import Any

from jovial_tack.catalogue import Catalogue
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.edits.shafts import free_place
from jovial_tack.document.model import Build, Obstacle, Point, make

_HALF_WIDTH_MM, _HALF_HEIGHT_MM = 40.0, 25.0


def add_obstacle(
    build: Build,
    catalogue: Catalogue,
    kind: str = "other",
    outline: tuple[Point, ...] | None = None,
) -> tuple[Build, str]:
    """Put an outline on the paper, without one a box of usual size; returns its id too."""
    x, y = free_place(build)
    w, h = _HALF_WIDTH_MM, _HALF_HEIGHT_MM
    box = ((x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h))
    label = catalogue.obstacles[kind].label
    # what was wanted from others of its kind is wanted from this one
    wanted = [o.needed_mm for o in build.obstacles if o.kind == kind and o.needed_mm is not None]
    new = make(
        Obstacle,
        {
            **({"needed_mm": wanted[-1]} if wanted else {}),
            "id": free_name(kind, (o.id for o in build.obstacles)),
            "name": free_name(label, (o.label for o in build.obstacles)),
            "kind": kind,
            "outline_mm": outline or box,
        },
    )
    return changed(build, obstacles=(*build.obstacles, new)), new.id


def set_obstacle(build: Build, obstacle_id: str, **changes: Any) -> Build:
    """Change figures of an obstacle."""
    new = changed(build.obstacle(obstacle_id), **changes)
    every = tuple(new if o.id == obstacle_id else o for o in build.obstacles)
    return changed(build, obstacles=every)


def set_gap_of_kind(build: Build, kind: str, needed_mm: float) -> Build:
    """Want the same gap from everything of a kind."""
    for obstacle in build.obstacles:
        if obstacle.kind == kind:
            build = set_obstacle(build, obstacle.id, needed_mm=needed_mm)
    return build


def move_obstacle(
    build: Build, obstacle_id: str, dx_mm: float, dy_mm: float, corner: int | None = None
) -> Build:
    """Move an outline whole, or one of its corners."""

    def shifted(point: Point) -> Point:
        return round(point[0] + dx_mm, 2), round(point[1] + dy_mm, 2)

    outline = build.obstacle(obstacle_id).outline_mm
    moved = tuple(
        shifted(point) if corner in (None, place) else point for place, point in enumerate(outline)
    )
    return set_obstacle(build, obstacle_id, outline_mm=moved)


def set_corner(build: Build, obstacle_id: str, corner: int, axis: int, mm: float) -> Build:
    """Put a corner at another x (axis 0) or y (axis 1), mm."""
    outline = [list(point) for point in build.obstacle(obstacle_id).outline_mm]
    outline[corner][axis] = mm
    return set_obstacle(build, obstacle_id, outline_mm=tuple((x, y) for x, y in outline))


def add_corner(build: Build, obstacle_id: str) -> Build:
    """Put another corner into the middle of the longest side."""
    obstacle = build.obstacle(obstacle_id)
    points = [complex(*point) for point in obstacle.outline_mm]
    sides = len(points) if obstacle.closed and len(points) > 2 else len(points) - 1
    longest = max(range(sides), key=lambda k: abs(points[(k + 1) % len(points)] - points[k]))
    middle = (points[longest] + points[(longest + 1) % len(points)]) / 2
    outline = list(obstacle.outline_mm)
    outline.insert(longest + 1, (round(middle.real, 2), round(middle.imag, 2)))
    return set_obstacle(build, obstacle_id, outline_mm=tuple(outline))


def remove_corner(build: Build, obstacle_id: str, corner: int) -> Build:
    """Take a corner away; the last two stay."""
    outline = build.obstacle(obstacle_id).outline_mm
    if len(outline) <= 2:
        return build
    kept = tuple(point for place, point in enumerate(outline) if place != corner)
    return set_obstacle(build, obstacle_id, outline_mm=kept)


def remove_obstacle(build: Build, obstacle_id: str) -> Build:
    """Take an outline away."""
    return changed(build, obstacles=tuple(o for o in build.obstacles if o.id != obstacle_id))
