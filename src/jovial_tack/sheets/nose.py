"""The lines of a shaft's nose: what a pulley must fit, and how the stack on it bends it."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.drive.stack import Stack, stack_on
from jovial_tack.core.units import FORCE, LENGTH, TORQUE
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.sheets.bolt_circle import FIXINGS, bolt_lines
from jovial_tack.sheets.sheet import Choice, Figure, Row, Shown


def _label(view: Shown) -> str:
    return f"nose of {view.shaft.label}"


def _line(name: str, key: str, spoken: str, **more: Any) -> Figure:
    return Figure(
        name,
        more.pop("quantity", LENGTH),
        lambda v: getattr(v.shaft, key),
        absent=lambda _v: "",
        aside=lambda v: "not given" if getattr(v.shaft, key) is None else "",
        change=lambda b, t, value: set_shaft(b, t[1], **{key: value}),
        label=_label,
        spoken=spoken,
        **more,
    )


def _stack(view: Shown) -> tuple[Stack, int] | None:
    found = stack_on(view.build, view.results, view.shaft.id)
    if found is None:
        return None
    away = [abs(rpm - view.rpm) for rpm in found.rpm]
    return found, away.index(min(away))


def _stacked(name: str) -> Any:
    def read(view: Shown) -> float | None:
        found = _stack(view)
        return None if found is None else float(getattr(found[0], name)[found[1]])

    return read


NOSE: tuple[Row, ...] = (
    _line("Mounting face", "face_mm", "Face a pulley is mounted against, forward"),
    _line("Nose bore", "nose_bore_mm", "Bore a pulley must have"),
    _line("Nose pilot", "nose_pilot_mm", "Pilot a pulley must have"),
    *bolt_lines(
        ("Nose bolts", "Nose circle"),
        lambda b, t: b.shaft(t[1]).nose_bolt_circle,
        lambda b, t, circle: set_shaft(b, t[1], nose_bolt_circle=circle),
        _label,
    ),
    Choice(
        "Nose fixing",
        lambda _v: FIXINGS,
        lambda v: v.shaft.nose_fixing or "",
        lambda b, t, key: set_shaft(b, t[1], nose_fixing=key or None),
        _label,
        "How a pulley is fixed to it",
    ),
    _line("Bearing plane", "bearing_mm", "Foremost bearing, forward from the reference face"),
    _line(
        "Most moment", "hub_moment_limit_nm", "Greatest bending moment it may bear", quantity=TORQUE
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
