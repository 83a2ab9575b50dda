"""Edits: pure functions Build → Build, each checked, with the label undo shows.

Only the parts on the way to the change are made anew; all others stay the same objects, so that a
solve sees at once which drives are unchanged.
"""

from __future__ import annotations

from typing import Any, Literal, TypeVar

from pydantic import ValidationError

from jovial_tack.build.load import refusal, validated
from jovial_tack.build.model import (
    Belt,
    Build,
    Drive,
    HolesMount,
    Part,
    Point,
    Pulley,
    Shaft,
    SlotMount,
    SpringArmTensioner,
    SwingMount,
)

P = TypeVar("P", bound=Part)


def changed(part: P, /, **changes: Any) -> P:
    """A checked copy of a part with some keys changed; a value None takes an optional key away.

    Raises BuildFileError with the key and what was expected.
    """
    kept = {name: getattr(part, name) for name in part.model_fields_set}
    data = {**kept, **(part.model_extra or {}), **changes}
    gone = [name for name, value in changes.items() if value is None]
    for name in gone:
        if name in type(part).model_fields:
            del data[name]
    try:
        return type(part).model_validate(data)
    except ValidationError as error:
        raise refusal(error.errors(include_url=False)[0], data) from None


def with_shaft(build: Build, shaft: Shaft) -> Build:
    """The build with one shaft replaced by another of the same id."""
    return changed(build, shafts=tuple(shaft if s.id == shaft.id else s for s in build.shafts))


def with_drive(build: Build, drive: Drive) -> Build:
    """The build with one drive replaced by another of the same id."""
    return changed(build, drives=tuple(drive if d.id == drive.id else d for d in build.drives))


def with_pulley(build: Build, drive_id: str, pulley: Pulley) -> Build:
    """The build with one pulley of a drive replaced by another of the same id."""
    drive = build.drive(drive_id)
    pulleys = tuple(pulley if p.id == pulley.id else p for p in drive.pulleys)
    return with_drive(build, changed(drive, pulleys=pulleys))


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


def move_shaft(build: Build, shaft_id: str, x_mm: float, y_mm: float) -> Build:
    """Move a shaft. What it hangs on moves along (a spring arm's pivot, a slot, a swing, holes), and
    what hangs on it (the body of an accessory).
    """
    shaft = build.shaft(shaft_id)
    x, y = round(x_mm, 3), round(y_mm, 3)
    dx, dy = x - shaft.center_mm[0], y - shaft.center_mm[1]

    def shifted(point: Point) -> Point:
        return round(point[0] + dx, 3), round(point[1] + dy, 3)

    changes: dict[str, Any] = {"center_mm": (x, y)}
    mount = shaft.mount
    if isinstance(mount, SlotMount):
        changes["mount"] = changed(
            mount, from_mm=shifted(mount.from_mm), to_mm=shifted(mount.to_mm)
        )
    elif isinstance(mount, SwingMount):
        changes["mount"] = changed(mount, pivot_mm=shifted(mount.pivot_mm))
    elif isinstance(mount, HolesMount):
        places = tuple(shifted(place) for place in mount.positions_mm)
        changes["mount"] = changed(mount, positions_mm=places)
    moved = with_shaft(build, changed(shaft, **changes))
    if any(obstacle.moves_with == shaft_id for obstacle in build.obstacles):
        hung = tuple(
            changed(o, outline_mm=tuple(shifted(point) for point in o.outline_mm))
            if o.moves_with == shaft_id
            else o
            for o in build.obstacles
        )
        moved = changed(moved, obstacles=hung)
    found = arm_of_shaft(build, shaft_id)
    if found is None:
        return moved
    drive, arm = found
    return with_drive(moved, changed(drive, tensioner=changed(arm, pivot_mm=shifted(arm.pivot_mm))))


def set_diameter(build: Build, drive_id: str, pulley_id: str, diameter_mm: float) -> Build:
    """Give a pulley another diameter, mm."""
    pulley = build.drive(drive_id).pulley(pulley_id)
    return with_pulley(build, drive_id, changed(pulley, diameter_mm=diameter_mm))


def set_plane(build: Build, drive_id: str, pulley_id: str, plane_mm: float | None) -> Build:
    """Set, or forget, the z of a pulley's groove centre, mm."""
    pulley = build.drive(drive_id).pulley(pulley_id)
    return with_pulley(build, drive_id, changed(pulley, plane_mm=plane_mm))


def set_belt_length(build: Build, drive_id: str, effective_length_mm: float | None) -> Build:
    """Fit a belt of another effective length, mm."""
    drive = build.drive(drive_id)
    belt: Belt = changed(drive.belt, effective_length_mm=effective_length_mm)
    return with_drive(build, changed(drive, belt=belt))


def set_belt(build: Build, drive_id: str, **changes: Any) -> Build:
    """Change figures of a drive's belt."""
    drive = build.drive(drive_id)
    return with_drive(build, changed(drive, belt=changed(drive.belt, **changes)))


def set_tilt(build: Build, drive_id: str, pulley_id: str, axis: int, degrees: float) -> Build:
    """Tilt a pulley's axis about x (0) or y (1), degrees."""
    pulley = build.drive(drive_id).pulley(pulley_id)
    about_x, about_y = pulley.tilt_deg
    tilt = (degrees, about_y) if axis == 0 else (about_x, degrees)
    return with_pulley(build, drive_id, changed(pulley, tilt_deg=tilt))


def set_tensioner(build: Build, drive_id: str, **changes: Any) -> Build:
    """Change figures of a drive's tensioner."""
    drive = build.drive(drive_id)
    assert drive.tensioner is not None
    return with_drive(build, changed(drive, tensioner=changed(drive.tensioner, **changes)))


def set_arm(build: Build, drive_id: str, **changes: Any) -> Build:
    """Change figures of a drive's spring arm."""
    assert isinstance(build.drive(drive_id).tensioner, SpringArmTensioner)
    return set_tensioner(build, drive_id, **changes)


def set_arm_end(build: Build, drive_id: str, key: str, place: int, degrees: float) -> Build:
    """Change one end of an arm's stops_deg or window_deg; a window not given starts as the stops."""
    arm = build.drive(drive_id).tensioner
    assert isinstance(arm, SpringArmTensioner)
    ends = list(getattr(arm, key) or arm.stops_deg)
    ends[place] = degrees
    return set_arm(build, drive_id, **{key: tuple(ends)})


def set_shaft(build: Build, shaft_id: str, **changes: Any) -> Build:
    """Change figures of a shaft."""
    return with_shaft(build, changed(build.shaft(shaft_id), **changes))


def set_engine(build: Build, **changes: Any) -> Build:
    """Change figures of the engine."""
    return changed(build, engine=changed(build.engine, **changes))


def set_units(build: Build, unit: Literal["mm", "in"]) -> Build:
    """Show the build in millimetres or inches; the file stays metric."""
    return changed(build, display_units=unit)


def set_title(build: Build, title: str) -> Build:
    """Name the build."""
    return changed(build, title=title)


def empty_build(catalogue_version: str) -> Build:
    """A new build: an engine with its crank and nothing else."""
    return validated(
        {
            "format": "jovial-tack/build",
            "version": 1,
            "title": "New build",
            "catalogue_version": catalogue_version,
            "display_units": "mm",
            "engine": {
                "name": "",
                "idle_rpm": 850.0,
                "cruise_rpm": 2500.0,
                "redline_rpm": 6500.0,
                "crank_rotation": "cw",
            },
            "shafts": ({"id": "crank", "name": "Crank", "kind": "crank", "center_mm": (0.0, 0.0)},),
            "drives": (),
        }
    )
