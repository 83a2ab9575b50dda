"""Edits that build an engine up: shafts put on and taken away, belts begun and threaded, tensioners
chosen. Like all edits pure and checked; see `edits`.
"""

from __future__ import annotations

import re
from typing import Any, Literal

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.belt.numbers import read_number, why_not
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.belts import set_belt, set_belt_length
from jovial_tack.document.edits.changing import changed, with_drive
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.edits.naming import renamed
from jovial_tack.document.model import (
    Build,
    Drive,
    LockedTensioner,
    Pulley,
    Shaft,
    ShelfPart,
    Sprung,
    make,
)

Side = Literal["ribs", "back"]


_NEW_RIBS = 6


_NEW_WIDTHS = {"v": 1, "ribbed": _NEW_RIBS, "toothed": 30}


def set_profile(build: Build, drive_id: str, profile: str, catalogue: Catalogue) -> Build:
    """Take a belt of another profile. Single V-belts and ribbed ones do not share their count or cord:
    the count starts anew, and figures typed for the old belt go.
    """
    belt = build.drive(drive_id).belt
    if belt.profile == profile:
        return build
    was, now = (catalogue.profile(name).section for name in (belt.profile, profile))
    ribs = belt.ribs if was == now else _NEW_WIDTHS[now]
    changes: dict[str, Any] = dict.fromkeys(
        (
            "stiffness_n_per_rib",
            "mass_kg_per_m_per_rib",
            "friction_ribs",
            "friction_back",
            "reference_tension_n_per_rib",
        )
    )
    new = changed(belt, profile=profile, ribs=ribs, **changes)
    return with_drive(build, changed(build.drive(drive_id), belt=new))


def new_belt(build: Build, first: str, second: str, catalogue: Catalogue) -> tuple[Build, str]:
    """Lay a new ribbed belt round two shafts; returns the drive's id too."""
    pulleys = tuple(_pulley_on(build, shaft, "ribs", catalogue, shaft) for shaft in (first, second))
    name = build.shaft(second).label
    drive = make(
        Drive,
        {
            "id": free_name(second, (d.id for d in build.drives)),
            "name": free_name(f"{name} drive", (d.label for d in build.drives)),
            "belt": {"profile": "PK", "ribs": _NEW_RIBS},
            "pulleys": pulleys,
            "route": (first, second),
        },
    )
    return changed(build, drives=(*build.drives, drive)), drive.id


def _pulley_on(build: Build, shaft_id: str, side: Side, catalogue: Catalogue, name: str) -> Pulley:
    """Another pulley on a shaft: the part that waits there, as large as the one there is, or the
    typical one of its kind.
    """
    shaft = build.shaft(shaft_id)
    there = [p.diameter_mm for d in build.drives for p in d.pulleys if p.shaft == shaft_id]
    data: dict[str, Any] = {"id": name, "shaft": shaft_id, "side": side}
    data["diameter_mm"] = [*there, catalogue.kinds[shaft.kind].typical_diameter_mm][0]
    if shaft.part is not None and not there:
        data |= _figures_of(build.part(shaft.part), shaft)
    return make(Pulley, data)


def _figures_of(part: ShelfPart, shaft: Shaft) -> dict[str, Any]:
    """What a pulley has of the part that waits on its shaft."""
    if part.kind not in ("pulley", "idler"):
        return {}
    keys = ("diameter_mm", "grooves", "flange_mm", "friction_scale")
    figures = {key: value for key in keys if (value := getattr(part, key)) is not None}
    if shaft.face_mm is not None and part.offset_mm is not None:
        figures["plane_mm"] = shaft.face_mm + part.offset_mm
    return figures | {"part": part.id}


def lay_on(
    build: Build, drive_id: str, after: str, shaft_id: str, side: Side, catalogue: Catalogue
) -> Build:
    """Lay the span that leaves a pulley over another shaft, on the belt's ribs or back."""
    drive = build.drive(drive_id)
    name = free_name(shaft_id, (p.id for p in drive.pulleys))
    new = _pulley_on(build, shaft_id, side, catalogue, name)
    place = drive.route.index(after) + 1
    route = (*drive.route[:place], name, *drive.route[place:])
    laid = with_drive(build, changed(drive, pulleys=(*drive.pulleys, new), route=route))
    return renamed(build, laid)


def take_off(build: Build, drive_id: str, pulley_id: str) -> Build:
    """Take a pulley off its belt; a belt left with one pulley goes, and a tensioner left without."""
    drive = build.drive(drive_id)
    if len(drive.route) <= 2:
        return remove_belt(build, drive_id)
    gone = drive.pulley(pulley_id)
    changes: dict[str, Any] = {
        "pulleys": tuple(p for p in drive.pulleys if p.id != pulley_id),
        "route": tuple(name for name in drive.route if name != pulley_id),
    }
    held = drive.tensioner
    if (isinstance(held, Sprung) and held.pulley == pulley_id) or (
        isinstance(held, LockedTensioner) and held.shaft == gone.shaft
    ):
        changes["tensioner"] = None
    return renamed(build, with_drive(build, changed(drive, **changes)))


def remove_belt(build: Build, drive_id: str) -> Build:
    """Take a whole belt away; its shafts stay."""
    return changed(build, drives=tuple(d for d in build.drives if d.id != drive_id))


def set_side(build: Build, drive_id: str, pulley_id: str, side: str) -> Build:
    """Run a pulley on the belt's ribs or on its back."""
    drive = build.drive(drive_id)
    pulleys = tuple(changed(p, side=side) if p.id == pulley_id else p for p in drive.pulleys)
    return with_drive(build, changed(drive, pulleys=pulleys))


def shift_in_route(build: Build, drive_id: str, pulley_id: str, step: int) -> Build:
    """Let the belt reach a pulley earlier (−1) or later (+1) in its travel."""
    drive = build.drive(drive_id)
    route = [name for name in drive.route if name != pulley_id]
    place = (drive.route.index(pulley_id) + step) % len(drive.route)
    route.insert(place, pulley_id)
    return with_drive(build, changed(drive, route=tuple(route)))


def fit_number(build: Build, drive_id: str, text: str, catalogue: Catalogue) -> Build:
    """Fit the belt of a number: profile, ribs and length; an empty text takes the belt away.

    Of several readings one of the profile that is on counts first. Raises BuildFileError for no number.
    """
    if not text.strip():
        return set_belt_length(build, drive_id, None)
    now = build.drive(drive_id).belt
    several = re.fullmatch(r"\s*([0-9]{1,2})\s*[x×]\s+(.+)", text)  # single V-belts side by side
    count = int(several[1]) if several else None
    readings = read_number(several[2] if several else text)
    known = [r for r in readings if r.profile in catalogue.profiles]
    known.sort(key=lambda reading: reading.profile != now.profile)
    if not known:
        raise BuildFileError("number", f"a belt number: {why_not(text)}")
    reading = known[0]
    assert reading.profile is not None
    build = set_profile(build, drive_id, reading.profile, catalogue)
    profile = catalogue.profile(reading.profile)
    width = reading.ribs if profile.section == "ribbed" else reading.width_mm
    if profile.section == "v":
        width = count
    if width is not None:
        build = set_belt(build, drive_id, ribs=round(width))
    length = round(reading.length_mm - profile.number_offset_mm, 4)
    return set_belt_length(build, drive_id, length)
