"""What is plotted over the revs of one drive, without Qt: curves, the lines that bound them, export."""

from __future__ import annotations

import csv
import io
from typing import Literal, get_args

import numpy as np

from jovial_tack.answers.drive.air import air_of, blower_of, engine_air
from jovial_tack.answers.results import ArmResult, DriveResult, Numbers, Results
from jovial_tack.core.cells import as_text
from jovial_tack.core.ratios.blower import charge_at
from jovial_tack.core.units import FORCE, LENGTH, PRESSURE, Quantity
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Build, Drive, SpringArmTensioner, SpringSlideTensioner
from jovial_tack.document.targets import NOTHING, ArmAt, PulleyAt, SpanAt, Target
from jovial_tack.document.travel import notch_offset_deg, slot_of

Over = Literal["arc used", "tension", "arm angle", "speed", "boost"]
OVERS: tuple[Over, ...] = get_args(Over)

_UNITS: dict[Over, str] = {"arc used": "% of wrap", "arm angle": "°", "speed": "rpm"}
#: What is plotted in the build's own unit.
_QUANTITIES: dict[Over, Quantity] = {"tension": FORCE, "boost": PRESSURE}


class Curve(Value, frozen=True):
    """One thing over the revs. target: what it is of; rpm and values run together.

    aside: what the values hold for, where they are not of the arm at its full torque.
    """

    name: str
    target: Target
    rpm: tuple[float, ...]
    values: Numbers
    aside: str = ""

    def at(self, rpm: float) -> float | None:
        """The value at the speed nearest to an engine speed."""
        gaps = [abs(speed - rpm) for speed in self.rpm]
        return self.values[gaps.index(min(gaps))] if gaps else None


class Bound(Value, frozen=True):
    """A level that matters: where something slips, stops or breaks. grave: not only to be watched."""

    name: str
    value: float
    grave: bool
    target: Target = NOTHING


class RevCurves(Value, frozen=True):
    """All curves of one kind of one drive; unit: of their values."""

    over: Over
    drive: str
    unit: str
    curves: tuple[Curve, ...]
    bounds: tuple[Bound, ...]

    def held(self, target: Target) -> Curve | None:
        """The curve a selected thing is about; the first that reaches highest if it is about none."""
        own = next((curve for curve in self.curves if curve.target == target), None)
        if own is not None or not self.curves:
            return own
        return max(
            self.curves, key=lambda c: max((v for v in c.values if v is not None), default=0)
        )


def rev_curves(
    build: Build, results: Results, drive_id: str, over: Over, watch_arc_used: float
) -> RevCurves:
    """The curves of a drive. Arc used is judged on the low side of the arm's damping."""
    drive, result = build.drive(drive_id), results.drive(drive_id)
    names = {p.id: build.shaft(p.shaft).label for p in drive.pulleys}
    slides = over == "arm angle" and isinstance(drive.tensioner, SpringSlideTensioner)
    quantity = LENGTH if slides else _QUANTITIES.get(over)
    unit = _UNITS[over] if quantity is None else quantity.shown(build.display_units)
    if over == "boost":
        return RevCurves(
            over, drive_id, unit, _in(unit, quantity, _boosts(build, drive, result, names)), ()
        )
    make = {"arc used": _arcs, "tension": _tensions, "arm angle": _arm, "speed": _speeds}[over]
    curves = make(drive, result, names)
    bounds: tuple[Bound, ...] = ()
    if over == "arc used":
        bounds = (Bound("slips", 100.0, True), Bound("watch", 100 * watch_arc_used, False))
    elif over == "arm angle":
        bounds = _slide_bounds(build, drive, unit) if slides else _arm_bounds(drive)
    elif over == "speed":
        limits = {p.id: build.shaft(p.shaft).max_rpm for p in drive.pulleys}
        bounds = tuple(
            Bound(f"limit of {names[name]}", limit, True, PulleyAt(drive_id, name))
            for name, limit in limits.items()
            if limit is not None
        )
    return RevCurves(over, drive_id, unit, _in(unit, quantity, curves), bounds)


def _in(unit: str, quantity: Quantity | None, curves: tuple[Curve, ...]) -> tuple[Curve, ...]:
    """Curves in the unit of the mechanics, in the one they are shown in."""
    size = 1.0 if quantity is None else quantity.factor(unit)
    return tuple(
        replace(curve, values=tuple(v if v is None else v / size for v in curve.values))
        for curve in curves
    )


def _arcs(drive: Drive, result: DriveResult, names: dict[str, str]) -> tuple[Curve, ...]:
    return tuple(
        Curve(
            names[pulley.id],
            PulleyAt(drive.id, pulley.id),
            result.rpm,
            tuple(None if used is None else 100 * used for used in pulley.low_arc_used),
            "arm weak" if pulley.low_arc_used != pulley.arc_used_fraction else "",
        )
        for pulley in result.pulleys
        if any(used is not None and used > 0.005 for used in pulley.low_arc_used)
    )


def _tensions(drive: Drive, result: DriveResult, names: dict[str, str]) -> tuple[Curve, ...]:
    return tuple(
        Curve(
            f"{names[span.from_id]} to {names[span.to_id]}",
            SpanAt(drive.id, span.from_id),
            result.rpm,
            span.tension_n,
        )
        for span in result.spans
    )


def _arm(drive: Drive, result: DriveResult, names: dict[str, str]) -> tuple[Curve, ...]:
    arm = result.tensioner
    if not isinstance(arm, ArmResult):
        return ()
    what = "arm" if arm.slide_mm is None else "slide"
    return (Curve(f"{what} of {drive.label}", ArmAt(drive.id), result.rpm, arm.running),)


def _speeds(drive: Drive, result: DriveResult, names: dict[str, str]) -> tuple[Curve, ...]:
    return tuple(
        Curve(names[pulley.id], PulleyAt(drive.id, pulley.id), result.rpm, pulley.rpm)
        for pulley in result.pulleys
    )


def _boosts(
    build: Build, drive: Drive, result: DriveResult, names: dict[str, str]
) -> tuple[Curve, ...]:
    """The boost of each blower on the drive, and the straight line some expect beside it."""
    engine, curves = engine_air(build.engine), []
    for pulley in result.pulleys:
        blower = blower_of(build, build.shaft(drive.pulley(pulley.id).shaft))
        if blower is None or engine is None or not result.rpm:
            continue
        rpm = np.array(result.rpm)
        made = charge_at(blower, engine, air_of(build.air), rpm, pulley.speed_ratio).boost_kpa
        target = PulleyAt(drive.id, pulley.id)
        curves.append(Curve(names[pulley.id], target, result.rpm, tuple(made.tolist())))
        straight = made[-1] * rpm / rpm[-1]
        curves.append(Curve("by a straight line", NOTHING, result.rpm, tuple(straight.tolist())))
    return tuple(curves)


def _arm_bounds(drive: Drive) -> tuple[Bound, ...]:
    arm = drive.tensioner
    if not isinstance(arm, SpringArmTensioner):
        return ()
    turned = notch_offset_deg(arm)
    found = [Bound("stop", angle + turned, True) for angle in arm.stops_deg]
    if arm.window_deg is not None:
        found += [Bound("window", angle + turned, False) for angle in arm.window_deg]
    return tuple(found)


def _slide_bounds(build: Build, drive: Drive, unit: str) -> tuple[Bound, ...]:
    """The ends of a sprung slide's slot and of its window, in the unit shown."""
    slide = drive.tensioner
    assert isinstance(slide, SpringSlideTensioner)
    slot, shown = slot_of(drive, build.shaft(drive.pulley(slide.pulley).shaft)), LENGTH.factor(unit)
    ends = () if slot is None else (0.0, slot.length_mm)
    found = [Bound("stop", end / shown, True) for end in ends]
    return (*found, *(Bound("window", end / shown, False) for end in slide.window_mm or ()))


def as_csv(shown: RevCurves) -> str:
    """The curves as CSV: engine speed, then a column a curve, empty where there is no value."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    heads = (as_text(f"{curve.name} [{shown.unit}]") for curve in shown.curves)
    table.writerow(["engine speed [rpm]", *heads])
    speeds = shown.curves[0].rpm if shown.curves else ()
    for place, rpm in enumerate(speeds):
        cells = [c.values[place] if place < len(c.values) else None for c in shown.curves]
        table.writerow([f"{rpm:g}", *("" if v is None else f"{v:.6g}" for v in cells)])
    return out.getvalue()
