"""How a shaft may move: slots, swings, holes."""

from __future__ import annotations

from typing import Any

import numpy as np

from jovial_tack.document.edits.changing import changed, with_shaft
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.model import (
    Build,
    Drive,
    HolesMount,
    LockedTensioner,
    Point,
    SpringSlideTensioner,
)
from jovial_tack.document.travel import track_on

_SLOT_MM, _SWING_MM, _SWING_DEG = 25.0, 70.0, 20.0


def set_mount(build: Build, shaft_id: str, kind: str) -> Build:
    """Give a shaft a freedom of usual size about where it stands: fixed, slot, swing or holes."""
    shaft = build.shaft(shaft_id)
    x, y = shaft.center_mm
    center = complex(x, y)
    out = center / abs(center) if abs(center) > 1 else 1 + 0j

    def point(at: complex) -> Point:
        return round(at.real, 1), round(at.imag, 1)

    mounts: dict[str, dict[str, Any] | None] = {
        "fixed": None,
        "slot": {
            "type": "slot",
            "from_mm": point(center - _SLOT_MM * out),
            "to_mm": point(center + _SLOT_MM * out),
        },
        "swing": {
            "type": "swing",
            "pivot_mm": point(center + 1j * _SWING_MM * out),
            "radius_mm": _SWING_MM,
            "from_deg": round(float(np.degrees(np.angle(-1j * out))) - _SWING_DEG, 1),
            "to_deg": round(float(np.degrees(np.angle(-1j * out))) + _SWING_DEG, 1),
        },
        "holes": {"type": "holes", "positions_mm": ((x, y), point(center + 20 * out)), "at": 0},
    }
    return with_shaft(build, changed(shaft, mount=mounts[kind]))


def set_freedom(build: Build, shaft_id: str, **changes: Any) -> Build:
    """Change figures of a shaft's freedom; the shaft goes to the nearest place on it."""
    shaft = build.shaft(shaft_id)
    assert shaft.mount is not None
    mount = changed(shaft.mount, **changes)
    track, center = track_on(mount), shaft.center_mm
    if track is not None:
        place = complex(track.center(np.asarray(track.share(complex(*center)))))
        center = round(place.real, 3), round(place.imag, 3)
    return with_shaft(build, changed(shaft, mount=mount, center_mm=center))


def put_in_hole(build: Build, shaft_id: str, at: int) -> Build:
    """Bolt a shaft into one of its holes."""
    shaft = build.shaft(shaft_id)
    assert isinstance(shaft.mount, HolesMount)
    mount = changed(shaft.mount, at=at)
    return with_shaft(build, changed(shaft, mount=mount, center_mm=mount.positions_mm[at]))


def slide_shaft(build: Build, shaft_id: str, x_mm: float, y_mm: float) -> Build:
    """Move a shaft along its freedom to the place nearest to a point; a fixed one goes there whole.

    A shaft whose place its belt decides moves with its slot or swing, since it cannot be put elsewhere
    on it.
    """
    shaft = build.shaft(shaft_id)
    mount, track = shaft.mount, track_on(shaft.mount)
    decided = any(
        _moved_by_belt(drive) == shaft_id and drive.belt.effective_length_mm is not None
        for drive in build.drives
    )
    point = complex(x_mm, y_mm)
    if isinstance(mount, HolesMount) and mount.positions_mm:
        holes = [abs(complex(*hole) - point) for hole in mount.positions_mm]
        return put_in_hole(build, shaft_id, holes.index(min(holes)))
    if track is None or decided:
        return move_shaft(build, shaft_id, x_mm, y_mm)
    center = complex(track.center(np.asarray(track.share(point))))
    place = round(center.real, 3), round(center.imag, 3)
    return with_shaft(build, changed(shaft, center_mm=place))


def _moved_by_belt(drive: Drive) -> str | None:
    """The shaft that a drive's belt puts somewhere on its travel."""
    tensioner = drive.tensioner
    if isinstance(tensioner, SpringSlideTensioner):
        return drive.pulley(tensioner.pulley).shaft
    return tensioner.shaft if isinstance(tensioner, LockedTensioner) else None
