"""Whether a part can take the place of another."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.results import Level
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.model import BoltCircle, Build, Pulley, ShelfPart

_PILOT_MM, _CIRCLE_MM = 0.05, 0.3


def plane_shift(build: Build, pulley: Pulley, part: ShelfPart) -> float | None:
    """How far forward the groove plane moves when a part replaces the fitted one, mm; None: unknown."""
    fitted = next((p for p in build.shelf if p.id == pulley.part), None)
    if fitted is None or fitted.offset_mm is None or part.offset_mm is None:
        return None
    return part.offset_mm - fitted.offset_mm


class Fit(Value, frozen=True):
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

    need = Needs(wanted("bore_mm"), wanted("pilot_mm"), wanted("bolt_circle"), wanted("fixing"))
    found = [
        _round_fit("bore", part.bore_mm, need.bore_mm, unit),
        _round_fit("pilot", part.pilot_mm, need.pilot_mm, unit),
        _bolts_fit(part.bolt_circle, need.bolt_circle, unit),
        _fixing_fit(part.fixing, need.fixing),
        _face_fit(part, pulley, drive.belt.ribs),
        _plane_fit(plane_shift(build, pulley, part), unit),
    ]
    return tuple(fit for fit in found if fit is not None)


class Needs(Value, frozen=True):
    """What a pulley must have to go on a nose; None where nobody knows."""

    bore_mm: float | None
    pilot_mm: float | None
    bolt_circle: BoltCircle | None
    fixing: str | None


def _round_fit(word: str, have: float | None, need: float | None, unit: str) -> Fit | None:
    """Whether a bore or pilot goes on."""
    if have is None or need is None:
        return None
    tells = f"{word} {format_length(have, unit)}"
    if abs(have - need) <= _PILOT_MM:
        return Fit(None, f"{tells} fits")
    return Fit("stop", f"{tells} against {format_length(need, unit)}")


def _bolts_fit(have: BoltCircle | None, need: BoltCircle | None, unit: str) -> Fit | None:
    if have is None or need is None:
        return None
    tells = f"{have[0]:.0f} bolts on {format_length(have[1], unit)}"
    if have[0] == need[0] and abs(have[1] - need[1]) <= _CIRCLE_MM:
        return Fit(None, f"{tells} fit")
    return Fit("stop", f"{tells} against {need[0]:.0f} on {format_length(need[1], unit)}")


def _fixing_fit(have: str | None, need: str | None) -> Fit | None:
    if have is None or need is None or have == need:
        return None
    return Fit("stop", f"{have}, where the shaft wants {need}")


def _face_fit(part: ShelfPart, pulley: Pulley, ribs: int) -> Fit | None:
    """Whether the belt can run on its face."""
    if pulley.side != "ribs":
        return None
    if part.side == "back":
        return Fit("stop", "smooth, where the belt runs on its ribs")
    if part.grooves is not None and part.grooves < ribs:
        return Fit("stop", f"{part.grooves} grooves for {ribs} ribs")
    return None


def _plane_fit(shift_mm: float | None, unit: str) -> Fit | None:
    """Whether its groove comes to stand elsewhere, + forward."""
    if not shift_mm:
        return None
    way = "forward" if shift_mm > 0 else "back"
    moved = format_length(abs(shift_mm), unit, digits=2 if unit == "mm" else 3)
    return Fit("watch", f"its groove plane comes {moved} further {way}")
