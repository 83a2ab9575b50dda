"""Figures of a belt changed."""

from __future__ import annotations

from typing import Any

from jovial_tack.document.edits.changing import changed, with_drive
from jovial_tack.document.model import Belt, Build


def set_belt_length(build: Build, drive_id: str, effective_length_mm: float | None) -> Build:
    """Fit a belt of another effective length, mm."""
    drive = build.drive(drive_id)
    belt: Belt = changed(drive.belt, effective_length_mm=effective_length_mm)
    return with_drive(build, changed(drive, belt=belt))


def set_belt(build: Build, drive_id: str, **changes: Any) -> Build:
    """Change figures of a drive's belt."""
    drive = build.drive(drive_id)
    return with_drive(build, changed(drive, belt=changed(drive.belt, **changes)))
