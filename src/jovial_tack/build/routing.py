"""Edits that build an engine up: shafts put on and taken away, belts begun and threaded, tensioners
chosen. Like all edits pure and checked; see `edits`.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any, Literal

import numpy as np

from jovial_tack.build.assemble import assemble, track_on
from jovial_tack.build.edits import (
    changed,
    move_shaft,
    set_belt,
    set_belt_length,
    with_drive,
    with_shaft,
)
from jovial_tack.build.model import (
    Build,
    Drive,
    HolesMount,
    LockedTensioner,
    Point,
    Pulley,
    Shaft,
    SpringArmTensioner,
)
from jovial_tack.build.order import belts_to_order
from jovial_tack.build.solve import solve
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.belt.numbers import read_number, why_not
from jovial_tack.core.drive.path import faults, trace
from jovial_tack.core.errors import BuildFileError

Side = Literal["ribs", "back"]

_NEW_RIBS = 6
_NEW_WIDTHS = {"v": 1, "ribbed": _NEW_RIBS, "toothed": 30}
_LOCKED_N_PER_RIB = 70.0
_ARM = {"arm_mm": 85.0, "rate_nm_per_deg": 0.4, "damping_fraction": 0.25}
_ARM_TORQUES_NM = (16.0, 22.0, 30.0, 40.0, 52.0)
_ARM_STOPS_DEG, _ARM_WINDOW_DEG = 22.0, 16.0
_SLOT_MM, _SWING_MM, _SWING_DEG = 25.0, 70.0, 20.0
_ROOM_MM = 110.0


def free_name(wanted: str, taken: Iterable[str]) -> str:
    """A name that is not taken: the wanted one, or with a number behind it.

    >>> free_name("idler", ["idler", "idler 2"])
    'idler 3'
    """
    names = {name.casefold() for name in taken}
    number, name = 1, wanted
    while name.casefold() in names:
        number += 1
        name = f"{wanted} {number}"
    return name


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
    new = Shaft.model_validate(shaft)
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
    return changed(build, shafts=shafts, obstacles=bodies or None, brackets=brackets or None)


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
        ("stiffness_n_per_rib", "mass_kg_per_m_per_rib", "friction_ribs", "friction_back",
         "reference_tension_n_per_rib")
    )  # fmt: skip
    new = changed(belt, profile=profile, ribs=ribs, **changes)
    return with_drive(build, changed(build.drive(drive_id), belt=new))


def new_belt(build: Build, first: str, second: str, catalogue: Catalogue) -> tuple[Build, str]:
    """Lay a new ribbed belt round two shafts; returns the drive's id too."""
    pulleys = tuple(_pulley_on(build, shaft, "ribs", catalogue, shaft) for shaft in (first, second))
    name = build.shaft(second).label
    drive = Drive.model_validate(
        {
            "id": free_name(second, (d.id for d in build.drives)),
            "name": free_name(f"{name} drive", (d.label for d in build.drives)),
            "belt": {"profile": "PK", "ribs": _NEW_RIBS},
            "pulleys": pulleys,
            "route": (first, second),
        }
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
    waits = next((p for p in build.shelf if p.id == shaft.part), None)
    if waits is not None and waits.kind in ("pulley", "idler") and not there:
        keys = ("diameter_mm", "grooves", "flange_mm", "friction_scale")
        data |= {key: value for key in keys if (value := getattr(waits, key)) is not None}
        data["part"] = waits.id
        if shaft.face_mm is not None and waits.offset_mm is not None:
            data["plane_mm"] = shaft.face_mm + waits.offset_mm
    return Pulley.model_validate(data)


def lay_on(
    build: Build, drive_id: str, after: str, shaft_id: str, side: Side, catalogue: Catalogue
) -> Build:
    """Lay the span that leaves a pulley over another shaft, on the belt's ribs or back."""
    drive = build.drive(drive_id)
    name = free_name(shaft_id, (p.id for p in drive.pulleys))
    new = _pulley_on(build, shaft_id, side, catalogue, name)
    place = drive.route.index(after) + 1
    route = (*drive.route[:place], name, *drive.route[place:])
    return with_drive(build, changed(drive, pulleys=(*drive.pulleys, new), route=route))


def best_span(
    build: Build, drive_id: str, shaft_id: str, side: Side, catalogue: Catalogue
) -> str | None:
    """The pulley after which a shaft joins a belt with the shortest path; None if nowhere."""
    found: list[tuple[float, str]] = []
    for after in build.drive(drive_id).route:
        tried = lay_on(build, drive_id, after, shaft_id, side, catalogue)
        case = next(c for c in assemble(tried, catalogue) if c.model.id == drive_id)
        if case.drive is None:
            continue
        path = trace(case.drive.layout.centers, case.drive.layout.signed_radii)
        if not bool(faults(path, case.drive.layout.driver_sign).any):
            found.append((float(path.total), after))
    return min(found)[1] if found else None


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
    if (isinstance(held, SpringArmTensioner) and held.pulley == pulley_id) or (
        isinstance(held, LockedTensioner) and held.shaft == gone.shaft
    ):
        changes["tensioner"] = None
    return with_drive(build, changed(drive, **changes))


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


# tensioners and freedoms


def set_no_tensioner(build: Build, drive_id: str) -> Build:
    """Leave the tensioner undecided."""
    return with_drive(build, changed(build.drive(drive_id), tensioner=None))


def set_stretch(build: Build, drive_id: str) -> Build:
    """Let the belt's own stretch make the tension."""
    drive = changed(build.drive(drive_id), tensioner={"type": "stretch"})
    return with_drive(build, changed(drive, belt=changed(drive.belt, construction="stretch_fit")))


def set_locked(build: Build, drive_id: str, shaft_id: str) -> Build:
    """Tension a belt by moving a shaft and bolting it."""
    drive = build.drive(drive_id)
    pull = _LOCKED_N_PER_RIB * drive.belt.ribs
    tensioner = {"type": "locked", "shaft": shaft_id, "installed_tension_n": pull}
    return with_drive(build, changed(drive, tensioner=tensioner))


def set_spring_arm(build: Build, drive_id: str, pulley_id: str, catalogue: Catalogue) -> Build:
    """Put a pulley on a spring arm, the weakest of a usual series that holds, and fit the belt for it.

    The arm stands across the way in which the pulley takes up belt, so that it has its full lever; of
    the two sides its pivot takes the one with more room.
    """
    drive = build.drive(drive_id)
    case = next(c for c in assemble(build, catalogue) if c.model.id == drive_id)
    place = drive.route.index(pulley_id)
    shaft = build.shaft(drive.pulley(pulley_id).shaft)
    center = complex(*shaft.center_mm)
    way = 1j
    if case.drive is not None:
        direction = trace(case.drive.layout.centers, case.drive.layout.signed_radii).direction
        taken = complex(direction[place - 1] - direction[place])
        way = taken / abs(taken) if np.isfinite(taken) and abs(taken) > 1e-6 else 1j
    others = [complex(*s.center_mm) for s in build.shafts if s.id != shaft.id]
    pivots = {turn: center + 1j * turn * way * _ARM["arm_mm"] for turn in (1, -1)}
    turn = max(pivots, key=lambda t: min((abs(pivots[t] - o) for o in others), default=0.0))
    angle = float(np.degrees(np.angle(center - pivots[turn])))
    tensioner = {
        "type": "spring_arm",
        "pulley": pulley_id,
        "pivot_mm": (round(pivots[turn].real, 1), round(pivots[turn].imag, 1)),
        "pushes": "ccw" if turn > 0 else "cw",
        "angle_deg": round(angle, 1),
        "stops_deg": (round(angle - _ARM_STOPS_DEG, 1), round(angle + _ARM_STOPS_DEG, 1)),
        "window_deg": (round(angle - _ARM_WINDOW_DEG, 1), round(angle + _ARM_WINDOW_DEG, 1)),
        **_ARM,
    }
    if shaft.kind == "idler":
        build = with_shaft(build, changed(shaft, kind="tensioner"))
    for torque in _ARM_TORQUES_NM:
        sprung = changed(drive, tensioner={**tensioner, "torque_nm": torque})
        tried = fit_belt(with_drive(build, sprung), drive_id, catalogue)
        result = solve(tried, None, catalogue).drive(drive_id)
        codes = {finding.code for finding in result.findings}
        inside = getattr(result.tensioner, "window_fraction", None) or 0.0
        if not codes & {"slip", "belt_floats"} and 0.2 < inside < 0.8:
            break
    return tried


def fit_belt(build: Build, drive_id: str, catalogue: Catalogue) -> Build:
    """Fit the stocked belt that suits the tensioner best; the build as it is if none does."""
    started = build
    if build.drive(drive_id).belt.effective_length_mm is None:
        started = set_belt_length(build, drive_id, 1000.0)  # any: what suits does not depend on it
    order = belts_to_order(started, catalogue).get(drive_id)
    return build if order is None else set_belt_length(build, drive_id, order.effective_length_mm)


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
        isinstance(drive.tensioner, LockedTensioner)
        and drive.tensioner.shaft == shaft_id
        and drive.belt.effective_length_mm is not None
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
