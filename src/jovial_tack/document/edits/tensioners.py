"""Tensioners chosen, and their figures changed."""

from __future__ import annotations

from typing import Any

from jovial_tack.document.edits.changing import changed, with_drive
from jovial_tack.document.model import Build, SpringArmTensioner


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


def set_no_tensioner(build: Build, drive_id: str) -> Build:
    """Leave the tensioner undecided."""
    return with_drive(build, changed(build.drive(drive_id), tensioner=None))


def set_stretch(build: Build, drive_id: str) -> Build:
    """Let the belt's own stretch make the tension."""
    drive = changed(build.drive(drive_id), tensioner={"type": "stretch"})
    return with_drive(build, changed(drive, belt=changed(drive.belt, construction="stretch")))


def set_locked(build: Build, drive_id: str, shaft_id: str, pull_n: float) -> Build:
    """Tension a belt by moving a shaft and bolting it at a pull, N."""
    drive = build.drive(drive_id)
    tensioner = {"type": "locked", "shaft": shaft_id, "installed_tension_n": pull_n}
    return with_drive(build, changed(drive, tensioner=tensioner))
