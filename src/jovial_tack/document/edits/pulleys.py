"""Figures of a pulley changed."""

from __future__ import annotations

from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.model import Build


def set_diameter(build: Build, drive_id: str, pulley_id: str, diameter_mm: float) -> Build:
    """Give a pulley another diameter, mm."""
    pulley = build.drive(drive_id).pulley(pulley_id)
    return with_pulley(build, drive_id, changed(pulley, diameter_mm=diameter_mm))


def set_plane(build: Build, drive_id: str, pulley_id: str, plane_mm: float | None) -> Build:
    """Set, or forget, the z of a pulley's groove centre, mm."""
    pulley = build.drive(drive_id).pulley(pulley_id)
    return with_pulley(build, drive_id, changed(pulley, plane_mm=plane_mm))


def set_tilt(build: Build, drive_id: str, pulley_id: str, axis: int, degrees: float) -> Build:
    """Tilt a pulley's axis about x (0) or y (1), degrees."""
    pulley = build.drive(drive_id).pulley(pulley_id)
    about_x, about_y = pulley.tilt_deg
    tilt = (degrees, about_y) if axis == 0 else (about_x, degrees)
    return with_pulley(build, drive_id, changed(pulley, tilt_deg=tilt))
