"""Parts on the shelf: what there is, where it is put, whether it interchanges, and what is to buy."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi
from typing import Any

from jovial_tack.build.edits import changed, set_arm, set_shaft, with_pulley
from jovial_tack.build.model import Build, Pulley, Shaft, ShelfPart, SpringArmTensioner
from jovial_tack.build.results import Level
from jovial_tack.build.routing import free_name, set_spring_arm
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import format_length

#: Thickness of a steel tape; a tape laid round reads π times it too much.
TAPE_MM = 0.15
_PILOT_MM, _CIRCLE_MM = 0.05, 0.3

KINDS: dict[str, str] = {
    "pulley": "Pulley", "idler": "Idler", "tensioner": "Tensioner", "accessory": "Accessory",
    "spacer": "Spacer", "washer": "Washer", "bolt": "Bolt",
}  # fmt: skip


def add_part(build: Build, kind: str, **figures: Any) -> tuple[Build, str]:
    """Put a part on the shelf; returns its id too."""
    name = free_name(kind, (part.id for part in build.shelf))
    label = figures.pop("name", None) or free_name(KINDS[kind], (p.label for p in build.shelf))
    new = ShelfPart.model_validate({"id": name, "name": label, "kind": kind, **figures})
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
        for key in ("diameter_mm", "side", "grooves", "flange_mm", "friction_scale")
        if key in pulley.model_fields_set and getattr(pulley, key) is not None
    }
    label = free_name(f"{shaft.label} pulley", (p.label for p in build.shelf))
    build, name = add_part(build, kind, name=label, **figures)
    return with_pulley(build, drive_id, changed(pulley, part=name)), name


def put_on(build: Build, shaft_id: str, part_id: str, catalogue: Catalogue) -> Build:
    """Put a part on a shaft.

    A pulley or idler takes the place of the shaft's pulley on the same side of a belt (or waits for the
    next belt that is laid on it), a tensioner gives its figures to the arm, an accessory its limits.
    """
    part, shaft = build.part(part_id), build.shaft(shaft_id)
    if part.kind == "accessory":
        given = ("max_rpm", "hub_load_limit_n", "needs_rotation")
        figures = {key: v for key in given if (v := getattr(part, key)) is not None}
        if part.of is not None and shaft.kind != "crank":
            figures["kind"] = part.of
        return set_shaft(build, shaft_id, name=part.label, part=part_id, **figures)
    if part.kind == "tensioner":
        return _put_tensioner(build, shaft, part, catalogue)
    if part.kind not in ("pulley", "idler"):
        return build
    on = [(d.id, p) for d in build.drives for p in d.pulleys if p.shaft == shaft_id]
    same = [entry for entry in on if entry[1].side == part.side] or on
    if not same:
        return set_shaft(build, shaft_id, part=part_id)
    drive, pulley = same[0]
    return with_pulley(build, drive, changed(pulley, **_figures(build, pulley, part)))


def _figures(build: Build, pulley: Pulley, part: ShelfPart) -> dict[str, Any]:
    """What a pulley becomes when a part takes its place; its plane moves with the offset."""
    keys = ("diameter_mm", "grooves", "flange_mm", "friction_scale", "side")
    figures: dict[str, Any] = {
        key: value for key in keys if (value := getattr(part, key)) is not None
    }
    figures["part"] = part.id
    shift = plane_shift(build, pulley, part)
    face = build.shaft(pulley.shaft).face_mm
    if shift is not None and pulley.plane_mm is not None:
        figures["plane_mm"] = pulley.plane_mm + shift
    elif face is not None and part.offset_mm is not None:
        figures["plane_mm"] = face + part.offset_mm
    return figures


def plane_shift(build: Build, pulley: Pulley, part: ShelfPart) -> float | None:
    """How far forward the groove plane moves when a part replaces the fitted one, mm; None: unknown."""
    fitted = next((p for p in build.shelf if p.id == pulley.part), None)
    if fitted is None or fitted.offset_mm is None or part.offset_mm is None:
        return None
    return part.offset_mm - fitted.offset_mm


def _put_tensioner(build: Build, shaft: Shaft, part: ShelfPart, catalogue: Catalogue) -> Build:
    on = [(d.id, p.id) for d in build.drives for p in d.pulleys if p.shaft == shaft.id]
    if not on:
        return set_shaft(build, shaft.id, part=part.id)
    drive, pulley = on[0]
    held = build.drive(drive).tensioner
    if not isinstance(held, SpringArmTensioner) or held.pulley != pulley:
        build = set_spring_arm(build, drive, pulley, catalogue)
    figures: dict[str, Any] = {}
    if part.arm_mm is not None:
        figures["arm_mm"] = part.arm_mm
    sprung = spring_of(part)
    arm = build.drive(drive).tensioner
    if sprung is not None and isinstance(arm, SpringArmTensioner):
        # the readings count how far the arm is wound back; at its unwound stop that is nothing
        unwound = max(arm.stops_deg) if arm.pushes == "ccw" else min(arm.stops_deg)
        figures |= {"angle_deg": unwound, "torque_nm": sprung[0], "rate_nm_per_deg": sprung[1]}
    build = set_shaft(build, shaft.id, part=part.id)
    return set_arm(build, drive, **figures) if figures else build


def spring_of(part: ShelfPart) -> tuple[float, float] | None:
    """Torque at the unwound stop, N·m, and rate, N·m per degree, from two scale readings on the arm.

    Each reading: degrees wound back from the unwound stop, and the pull of the scale square to the arm
    at `lever_mm` from the pivot. None without two different ones.
    """
    lever = part.lever_mm or part.arm_mm
    readings = part.readings or ()
    if lever is None or len(readings) < 2 or readings[0][0] == readings[1][0]:
        return None
    (a, pull_a), (b, pull_b) = readings[:2]
    first, second = pull_a * lever / 1000.0, pull_b * lever / 1000.0
    rate = (second - first) / (b - a)
    torque = first - rate * a
    return (torque, rate) if torque > 0 and rate >= 0 else None


def tape_of(diameter_mm: float) -> float:
    """What a tape laid round a diameter reads, mm."""
    return pi * (diameter_mm + TAPE_MM)


def diameter_by_tape(reading_mm: float) -> float:
    """The diameter a tape was laid round, mm.

    >>> round(diameter_by_tape(tape_of(165.0)), 6)
    165.0
    """
    return reading_mm / pi - TAPE_MM


# does it interchange?


@dataclass(frozen=True)
class Fit:
    """One thing that decides whether a part interchanges: how grave, and in words."""

    level: Level | None  # None: it fits
    words: str


def interchange(build: Build, drive_id: str, pulley_id: str, part_id: str) -> tuple[Fit, ...]:
    """Whether a part can take the place of a pulley: pilot, bolt circle, fixing, grooves, offset.

    It is compared with the nose of the shaft, or with the part that is fitted; what neither tells is
    not compared.
    """
    drive, part = build.drive(drive_id), build.part(part_id)
    pulley = drive.pulley(pulley_id)
    shaft, unit = build.shaft(pulley.shaft), build.display_units
    fitted = next((p for p in build.shelf if p.id == pulley.part and p.id != part.id), None)

    def wanted(key: str) -> Any:
        own = getattr(shaft, f"nose_{key}", None)
        return getattr(fitted, key) if own is None and fitted is not None else own

    found: list[Fit] = []
    for key, word in (("bore_mm", "bore"), ("pilot_mm", "pilot")):
        have, need = getattr(part, key), wanted(key)
        if have is not None and need is not None:
            tells = f"{word} {format_length(have, unit)}"
            close = abs(have - need) <= _PILOT_MM
            found.append(
                Fit(None, f"{tells} fits")
                if close
                else Fit("stop", f"{tells} against {format_length(need, unit)}")
            )
    have, need = part.bolt_circle, wanted("bolt_circle")
    if have is not None and need is not None:
        same = have[0] == need[0] and abs(have[1] - need[1]) <= _CIRCLE_MM
        tells = f"{have[0]:.0f} bolts on {format_length(have[1], unit)}"
        against = f"{need[0]:.0f} on {format_length(need[1], unit)}"
        found.append(
            Fit(None, f"{tells} fit") if same else Fit("stop", f"{tells} against {against}")
        )
    fixing = wanted("fixing")
    if part.fixing is not None and fixing is not None and part.fixing != fixing:
        found.append(Fit("stop", f"{part.fixing}, where the shaft wants {fixing}"))
    ribs = drive.belt.ribs
    if pulley.side == "ribs" and part.side == "back":
        found.append(Fit("stop", "smooth, where the belt runs on its ribs"))
    elif pulley.side == "ribs" and part.grooves is not None and part.grooves < ribs:
        found.append(Fit("stop", f"{part.grooves} grooves for {ribs} ribs"))
    shift = plane_shift(build, pulley, part)
    if shift:
        way = "forward" if shift > 0 else "back"
        moved = format_length(abs(shift), unit, digits=2 if unit == "mm" else 3)
        found.append(Fit("watch", f"its groove plane comes {moved} further {way}"))
    return tuple(found)


# what is to buy


@dataclass(frozen=True)
class Bill:
    """What a build is made of: parts that are owned, parts to buy, what those cost as far as prices are
    known, and how many prices are missing.
    """

    owned: int
    to_buy: int
    cost: float
    unpriced: int


def bill_of(build: Build) -> Bill:
    """Count pulleys, tensioners and belts against the shelf. Those that are not from it are to buy."""
    needed: dict[str, int] = {}
    owned = to_buy = unpriced = 0
    cost = 0.0

    def buy(price: float | None) -> None:
        nonlocal to_buy, unpriced, cost
        to_buy += 1
        unpriced += price is None
        cost += price or 0.0

    for drive in build.drives:
        for pulley in drive.pulleys:
            if pulley.part is None:
                buy(None)
            else:
                needed[pulley.part] = needed.get(pulley.part, 0) + 1
        if drive.belt.owned:
            owned += 1
        else:
            buy(drive.belt.price)
    for shaft in build.shafts:
        if shaft.part is not None:
            needed[shaft.part] = needed.get(shaft.part, 0) + 1
    for name, count in needed.items():
        part = build.part(name)
        owned += min(count, part.count)
        for _ in range(max(0, count - part.count)):
            buy(part.price)
    return Bill(owned, to_buy, cost, unpriced)
