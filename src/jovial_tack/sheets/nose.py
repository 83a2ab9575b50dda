"""The lines of a shaft's nose: what a pulley must fit, and how the stack on it bends it."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.drive.stack import Stack, stack_on
from jovial_tack.core.units import FORCE, LENGTH, TORQUE
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Shaft
from jovial_tack.document.targets import ShaftAt
from jovial_tack.sheets.bolt_circle import FIXINGS, bolt_lines
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import Figure, Row, Shown


def _label(view: Shown[ShaftAt]) -> str:
    return f"nose of {view.shaft.label}"


_KEYS: Fields[Shaft, ShaftAt] = Fields(
    Shaft,
    lambda build, target: build.shaft(target.shaft),
    lambda build, target, **keys: set_shaft(build, target.shaft, **keys),
    "nose",
    lambda view: view.shaft.label,
)


def _stack(view: Shown[ShaftAt]) -> tuple[Stack, int] | None:
    found = stack_on(view.build, view.results, view.shaft.id)
    if found is None:
        return None
    away = [abs(rpm - view.rpm) for rpm in found.rpm]
    return found, away.index(min(away))


def _stacked(name: str) -> Any:
    def read(view: Shown[ShaftAt]) -> float | None:
        found = _stack(view)
        return None if found is None else float(getattr(found[0], name)[found[1]])

    return read


NOSE: tuple[Row[ShaftAt], ...] = (
    _KEYS.figure("face_mm", "Mounting face", LENGTH, "Face a pulley is mounted against, forward"),
    _KEYS.figure("nose_bore_mm", "Nose bore", LENGTH, "Bore a pulley must have"),
    _KEYS.figure("nose_pilot_mm", "Nose pilot", LENGTH, "Pilot a pulley must have"),
    *bolt_lines(
        ("Nose bolts", "Nose circle"),
        lambda b, t: b.shaft(t.shaft).nose_bolt_circle,
        lambda b, t, circle: set_shaft(b, t.shaft, nose_bolt_circle=circle),
        _label,
    ),
    _KEYS.choice("nose_fixing", "Nose fixing", FIXINGS, "How a pulley is fixed to it"),
    _KEYS.figure(
        "bearing_mm",
        "Bearing plane",
        LENGTH,
        "Foremost bearing, forward from the reference face",
    ),
    _KEYS.figure(
        "hub_moment_limit_nm", "Most moment", TORQUE, "Greatest bending moment it may bear"
    ),
    Figure(
        "Pull of all", FORCE, _stacked("load_n"), aside=Shown.at, spoken="All pulls on it together"
    ),
    Figure(
        "Overhang",
        LENGTH,
        _stacked("overhang_mm"),
        aside=lambda _v: "forward",
        spoken="How far before its bearing the pulls act together",
    ),
    Figure(
        "Bent with",
        TORQUE,
        _stacked("moment_nm"),
        aside=Shown.at,
        spoken="Bending moment of all pulls about its bearing",
    ),
)
