"""Parts on the shelf: what there is, where it is put, whether it interchanges, and what is to buy."""

from __future__ import annotations

from typing import Any

from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build, ShelfPart, make

KINDS: dict[str, str] = {
    "pulley": "Pulley",
    "idler": "Idler",
    "tensioner": "Tensioner",
    "accessory": "Accessory",
    "spacer": "Spacer",
    "washer": "Washer",
    "bolt": "Bolt",
}


def add_part(build: Build, kind: str, **figures: Any) -> tuple[Build, str]:
    """Put a part on the shelf; returns its id too."""
    name = free_name(kind, (part.id for part in build.shelf))
    label = figures.pop("name", None) or free_name(KINDS[kind], (p.label for p in build.shelf))
    new = make(ShelfPart, {"id": name, "name": label, "kind": kind, **figures})
    return changed(build, shelf=(*build.shelf, new)), name


def set_part(build: Build, part_id: str, **changes: Any) -> Build:
    """Change figures of a part on the shelf; what is fitted already stays as it is."""
    new = changed(build.part(part_id), **changes)
    return changed(build, shelf=tuple(new if p.id == part_id else p for p in build.shelf))


def remove_part(build: Build, part_id: str) -> Build:
    """Take a part off the shelf; where it is fitted only its name is forgotten."""
    for drive in build.drives:
        for pulley in drive.pulleys:
            if pulley.part == part_id:
                build = with_pulley(build, drive.id, changed(pulley, part=None))
    for shaft in build.shafts:
        if shaft.part == part_id:
            build = set_shaft(build, shaft.id, part=None)
    kept = tuple(part for part in build.shelf if part.id != part_id)
    return changed(build, shelf=kept or None)


def shelve_pulley(build: Build, drive_id: str, pulley_id: str) -> tuple[Build, str]:
    """Put a fitted pulley on the shelf as a part of its own; returns its id too."""
    pulley = build.drive(drive_id).pulley(pulley_id)
    shaft = build.shaft(pulley.shaft)
    kind = "idler" if shaft.kind in ("idler", "tensioner") else "pulley"
    figures = {
        key: getattr(pulley, key)
        for key in ("diameter_mm", "side", "grooves", "flange_mm", "coating", "friction_scale")
        if key in pulley.given and getattr(pulley, key) is not None
    }
    label = free_name(f"{shaft.label} pulley", (p.label for p in build.shelf))
    build, name = add_part(build, kind, name=label, **figures)
    return with_pulley(build, drive_id, changed(pulley, part=name)), name
