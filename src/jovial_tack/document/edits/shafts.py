"""Shafts put on, moved, copied and taken off."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from jovial_tack.catalogue import Catalogue
from jovial_tack.document.edits.changing import changed, with_drive, with_obstacle, with_shaft
from jovial_tack.document.edits.loads import without_loads_of
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.edits.naming import renamed
from jovial_tack.document.edits.routes import take_off
from jovial_tack.document.edits.stacks import remove_stack
from jovial_tack.document.model import (
    Build,
    Drive,
    HolesMount,
    Point,
    Shaft,
    SlotMount,
    SpringArmTensioner,
    SwingMount,
    make,
)
from jovial_tack.document.model.shaft import Mount


def arm_of_shaft(build: Build, shaft_id: str) -> tuple[Drive, SpringArmTensioner] | None:
    """The spring arm whose pulley sits on a shaft, if there is one."""
    for drive in build.drives:
        tensioner = drive.tensioner
        if (
            isinstance(tensioner, SpringArmTensioner)
            and drive.pulley(tensioner.pulley).shaft == shaft_id
        ):
            return drive, tensioner
    return None


def _mount_moved(mount: Mount | None, shifted: Callable[[Point], Point]) -> dict[str, Any]:
    """What changes of a shaft's freedom that moves with it."""
    if isinstance(mount, SlotMount):
        ends = {"from_mm": shifted(mount.from_mm), "to_mm": shifted(mount.to_mm)}
        return {"mount": changed(mount, **ends)}
    if isinstance(mount, SwingMount):
        return {"mount": changed(mount, pivot_mm=shifted(mount.pivot_mm))}
    if isinstance(mount, HolesMount):
        places = tuple(shifted(place) for place in mount.positions_mm)
        return {"mount": changed(mount, positions_mm=places)}
    return {}


def move_shaft(build: Build, shaft_id: str, x_mm: float, y_mm: float) -> Build:
    """Move a shaft. What it hangs on moves along (a spring arm's pivot, a slot, a swing, holes), and
    what hangs on it (the body of an accessory).
    """
    shaft = build.shaft(shaft_id)
    x, y = round(x_mm, 3), round(y_mm, 3)
    dx, dy = x - shaft.center_mm[0], y - shaft.center_mm[1]

    def shifted(point: Point) -> Point:
        return round(point[0] + dx, 3), round(point[1] + dy, 3)

    mounted = _mount_moved(shaft.mount, shifted)
    moved = with_shaft(build, changed(shaft, center_mm=(x, y), **mounted))
    for obstacle in build.obstacles:
        if obstacle.moves_with == shaft_id:
            outline = tuple(shifted(point) for point in obstacle.outline_mm)
            moved = with_obstacle(moved, changed(obstacle, outline_mm=outline))
    found = arm_of_shaft(build, shaft_id)
    if found is None:
        return moved
    drive, arm = found
    return with_drive(moved, changed(drive, tensioner=changed(arm, pivot_mm=shifted(arm.pivot_mm))))


def set_shaft(build: Build, shaft_id: str, **changes: Any) -> Build:
    """Change figures of a shaft; a belt that is called by it is called so anew."""
    new = with_shaft(build, changed(build.shaft(shaft_id), **changes))
    return renamed(build, new) if {"name", "kind"} & changes.keys() else new


_ROOM_MM = 110.0


def free_place(build: Build) -> Point:
    """A place for another shaft, mm: on rings about the crank, clear of what stands there."""
    stands = np.array([complex(*shaft.center_mm) for shaft in build.shafts] or [0j])
    for ring in (200.0, 300.0, 400.0, 500.0):
        for angle in np.radians([60, 120, 0, 180, 90, 30, 150, -30, 210, -60, 240]):
            place = ring * np.exp(1j * angle)
            if np.abs(stands - place).min() >= _ROOM_MM:
                return round(float(place.real)), round(float(place.imag))
    return 0.0, 600.0


def add_shaft(
    build: Build, kind: str, catalogue: Catalogue, place: Point | None = None
) -> tuple[Build, str]:
    """Put a shaft on the engine; returns its id too. Without a place a free one is found."""
    label = catalogue.kinds[kind].label
    shaft = {
        "id": free_name(kind, (s.id for s in build.shafts)),
        "name": free_name(label, (s.label for s in build.shafts)),
        "kind": kind,
        "center_mm": place or free_place(build),
    }
    new = make(Shaft, shaft)
    return changed(build, shafts=(*build.shafts, new)), new.id


def duplicate_shaft(build: Build, shaft_id: str) -> tuple[Build, str]:
    """Another shaft like one, beside it; its pulleys are not copied. Returns its id too."""
    shaft = build.shaft(shaft_id)
    x, y = shaft.center_mm
    new = changed(
        shaft,
        id=free_name(shaft.kind, (s.id for s in build.shafts)),
        name=free_name(shaft.label, (s.label for s in build.shafts)),
        center_mm=(x + _ROOM_MM, y),
        mount=None,
    )
    return changed(build, shafts=(*build.shafts, new)), new.id


def remove_shaft(build: Build, shaft_id: str) -> Build:
    """Take a shaft off the engine, its pulleys off their belts, and what hangs on it."""
    build = without_loads_of(build, shaft_id)
    for drive in build.drives:
        for pulley in drive.pulleys:
            if pulley.shaft == shaft_id and any(d.id == drive.id for d in build.drives):
                build = take_off(build, drive.id, pulley.id)
    bodies = tuple(o for o in build.obstacles if o.moves_with != shaft_id)
    shafts = tuple(s for s in build.shafts if s.id != shaft_id)
    brackets = tuple(
        changed(b, shafts=tuple(name for name in b.shafts if name != shaft_id))
        for b in build.brackets
        if b.shafts != (shaft_id,)
    )
    build = remove_stack(build, shaft_id)
    return changed(build, shafts=shafts, obstacles=bodies or None, brackets=brackets or None)
