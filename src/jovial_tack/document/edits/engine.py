"""The engine, and the build as a whole."""

from __future__ import annotations

from typing import Any, Literal

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.model import Build, make


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
    return make(
        Build,
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
        },
    )
