"""Whether a part can take the place of another."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.results import Level
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Pulley, ShelfPart

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
