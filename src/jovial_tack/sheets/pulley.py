"""The sheet of a pulley: its size and place, and what it has to bear."""

from __future__ import annotations

from collections.abc import Callable
from math import isfinite
from typing import Any

from jovial_tack.answers.results import Numbers
from jovial_tack.core.units import (
    ANGLE,
    FORCE,
    LENGTH,
    PERCENT,
    POWER,
    RATIO,
    SPEED,
    TORQUE,
    Quantity,
    written_in,
)
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.pulleys import set_diameter, set_plane, set_tilt
from jovial_tack.document.edits.routes import set_side, shift_in_route, take_off
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.edits.shelf import shelve_pulley
from jovial_tack.document.model import Build, Pulley, SpringSlideTensioner, Sprung
from jovial_tack.document.targets import ArmAt, BeltAt, PartAt, PulleyAt, ShaftAt, SpanAt, Target
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import (
    Act,
    Choice,
    Figure,
    Row,
    Sheet,
    Shown,
    findings_at,
    has_pulley,
)

_CAUTIONS = {
    "supercharger": "Over-speeding a blower can burst it: its maker's limit rules.",
    "fan": "A fan can start by itself: key out and fan unplugged before hands go in.",
    "tensioner": "The arm's spring stores energy: a bar that slips breaks hands. Know which bolt"
    " holds it together before undoing either.",
    "crank": "A damper is not swapped for a plain pulley unexamined.",
    "alternator": "Battery off first. Never pry on its case; on the lug, or move the bracket.",
    "power_steering": "Never pry on a pump's case or hammer its shaft.",
    "water_pump": "Hot parts cold before hands go in; engine off, key out.",
}
_GENERAL = "Engine off, key out before hands go in. Keep clear of a running belt."


def caution_of(kind: str) -> str:
    """The caution that belongs to work on a kind of shaft."""
    return _CAUTIONS.get(kind, _GENERAL)


def _lane(view: Shown[PulleyAt], column: str) -> float | None:
    found = view.pulley_result
    values: Numbers = () if found is None else getattr(found, column)
    return values[view.lane] if values else None


def _sides(view: Shown[PulleyAt]) -> list[float]:
    if view.pulley_result is None:
        return []
    place, spans = view.drive.route.index(view.target.pulley), view.result.spans
    pulls = (spans[place - 1].tension_n[view.lane], spans[place].tension_n[view.lane])
    return sorted(pull for pull in pulls if pull is not None)


def _slack(view: Shown[PulleyAt]) -> float | None:
    sides = _sides(view)
    return sides[0] if sides else None


def _tight(view: Shown[PulleyAt]) -> float | None:
    sides = _sides(view)
    return sides[-1] if sides else None


def _used(view: Shown[PulleyAt]) -> float | None:
    share = _lane(view, "arc_used_fraction")
    return None if share is None else 100 * share


def _weak(view: Shown[PulleyAt]) -> str:
    """The share with the arm at its weakest, at the speed shown; without an arm the worst of all."""
    found = view.pulley_result
    if found is None or found.worst_arc_used is None:
        return view.at()
    low = _lane(view, "low_arc_used")
    if getattr(view.drive.tensioner, "damping_fraction", None) and low is not None:
        return f"{100 * low:.0f} % arm weak"
    return f"worst {100 * found.worst_arc_used:.0f} %"


def _spacer(view: Shown[PulleyAt]) -> float | None:
    return view.result.spacer_mm(view.target.pulley) or None


def _no_spacer(view: Shown[PulleyAt]) -> str:
    if view.pulley.side == "back":
        return "–"
    return "none" if view.result.spacer_mm(view.target.pulley) == 0 else "–"


def _about_spacer(view: Shown[PulleyAt]) -> str:
    if view.pulley.side == "back":
        return "flat, fixes none"
    spacer = view.result.spacer_mm(view.target.pulley)
    if spacer is None:
        return "not determined"
    return "" if spacer == 0 else "to add" if spacer > 0 else "to take off"


def _window_end(end: int) -> Callable[[Shown[PulleyAt]], float | None]:
    def read(view: Shown[PulleyAt]) -> float | None:
        window = view.result.window_mm(view.target.pulley)
        return None if window is None or not isfinite(window[end]) else window[end]

    return read


def _no_window(view: Shown[PulleyAt]) -> str:
    """What is said where a window has no end there."""
    if view.pulley.side == "back" or view.pulley.plane_mm is None:
        return "–"
    return "nowhere" if view.result.window_mm(view.target.pulley) is None else "anywhere"


def _limit(value: float | None, view: Shown[PulleyAt], quantity: Quantity) -> str:
    shown = "" if value is None else written_in(value, quantity, view.build.display_units)
    return f"limit {shown.split()[0]}" if shown else view.at()


def _move_x(build: Build, target: PulleyAt, mm: float) -> Build:
    shaft = build.shaft(build.drive(target.drive).pulley(target.pulley).shaft)
    return move_shaft(build, shaft.id, mm, shaft.center_mm[1])


def _move_y(build: Build, target: PulleyAt, mm: float) -> Build:
    shaft = build.shaft(build.drive(target.drive).pulley(target.pulley).shaft)
    return move_shaft(build, shaft.id, shaft.center_mm[0], mm)


_ONE_WAY = (("", "both ways"), ("cw", "clockwise only"), ("ccw", "counter-clockwise only"))


def _write(build: Build, target: PulleyAt, **keys: Any) -> Build:
    return with_pulley(build, target.drive, changed(_its_pulley(build, target), **keys))


def _its_pulley(build: Build, target: PulleyAt) -> Pulley:
    return build.drive(target.drive).pulley(target.pulley)


_PULLEY = Fields(Pulley, _its_pulley, _write, named=lambda view: view.shaft.label)
_FIGURES: tuple[Row[PulleyAt], ...] = (
    Choice(
        "Belt runs on",
        lambda _view: (("ribs", "its ribs"), ("back", "its back")),
        lambda view: view.pulley.side,
        lambda b, t, side: set_side(b, t.drive, t.pulley, side),
        lambda view: f"side of {view.shaft.label}",
        "Side of the belt on this pulley",
    ),
    _PULLEY.choice(
        "one_way",
        "Turns its shaft",
        _ONE_WAY,
        "Both ways, or only one as a one-way pulley does",
        undo="one-way",
    ),
    _PULLEY.figure(
        "diameter_mm",
        "Diameter",
        LENGTH,
        "Diameter of the pulley",
        undo="diameter",
        aside=lambda view: "over the ribs" if view.pulley.side == "ribs" else "flat",
        change=lambda b, t, mm: set_diameter(b, t.drive, t.pulley, mm),
    ),
    _PULLEY.figure(
        "former_mm",
        "Former",
        LENGTH,
        "Diameter the engine had here before",
        undo="former pulley",
        aside="before",
    ),
    _PULLEY.figure(
        "flange_mm",
        "Lip",
        LENGTH,
        "How far its rim stands over the ribs",
        undo="lip",
        aside="over the ribs",
        missing="over the ribs",
    ),
    _PULLEY.words("coating", "Coating", "Coating or surface", undo="coating"),
    _PULLEY.figure(
        "friction_scale",
        "Grip",
        RATIO,
        "Friction against a plain pulley",
        undo="grip",
        aside="times plain",
        digits=2,
    ),
    *(
        Figure(
            f"Place {'xy'[axis]}",
            LENGTH,
            lambda view, at=axis: view.shaft.center_mm[at],  # type: ignore[misc]
            change=move,
            label=lambda view: f"move {view.shaft.label}",
            spoken=f"Place of the shaft, {where}",
        )
        for axis, move, where in ((0, _move_x, "to the right"), (1, _move_y, "upward"))
    ),
    _PULLEY.figure(
        "plane_mm",
        "Groove plane",
        LENGTH,
        "Groove plane, forward from the reference face",
        undo="plane",
        aside="forward",
        missing="not measured",
        change=lambda b, t, mm: set_plane(b, t.drive, t.pulley, mm),
    ),
    _PULLEY.figure(
        "rim_mm",
        "Rim",
        LENGTH,
        "From its groove plane to the face of its rim, forward: where a straightedge lies",
        undo="rim",
        aside="before the groove",
        missing="not measured",
        digits=2,
    ),
    _PULLEY.figure(
        "flush_plane_mm",
        "Flush at",
        LENGTH,
        "Its groove plane when it is pressed flush with the end of its shaft",
        undo="flush plane",
        missing="not measured",
        digits=2,
    ),
    _PULLEY.figure(
        "tilt_deg",
        "Tilt about y",
        ANGLE,
        "Tilt of the axis to the left or right",
        undo="tilt",
        aside="left, right",
        axis=1,
        digits=2,
        signed=True,
        change=lambda b, t, degrees: set_tilt(b, t.drive, t.pulley, 1, degrees),
    ),
    _PULLEY.figure(
        "tilt_deg",
        "Tilt about x",
        ANGLE,
        "Tilt of the axis up or down",
        undo="tilt",
        aside="up, down",
        axis=0,
        digits=2,
        signed=True,
        change=lambda b, t, degrees: set_tilt(b, t.drive, t.pulley, 0, degrees),
    ),
    Figure(
        "Speed", SPEED, lambda v: _lane(v, "rpm"), aside=lambda v: _limit(v.shaft.max_rpm, v, SPEED)
    ),
    Figure(
        "Wrap",
        ANGLE,
        lambda v: None if v.pulley_result is None else v.pulley_result.wrap_deg,
        aside=lambda _v: "at rest",
    ),
    Figure("Arc used", PERCENT, _used, aside=_weak, spoken="Share of the wrap the load uses"),
    Figure("Torque", TORQUE, lambda v: _lane(v, "torque_nm"), aside=Shown.at),
    Figure("Power", POWER, lambda v: _lane(v, "power_kw"), aside=Shown.at),
    Figure("Belt, slack", FORCE, _slack, aside=Shown.at),
    Figure("Belt, tight", FORCE, _tight, aside=Shown.at),
    Figure(
        "Hub load",
        FORCE,
        lambda v: _lane(v, "hub_load_n"),
        aside=lambda v: _limit(v.shaft.hub_load_limit_n, v, FORCE),
        spoken="Pull of the belt on the bearing",
    ),
    Figure(
        "Spacer",
        LENGTH,
        _spacer,
        aside=_about_spacer,
        absent=_no_spacer,
        digits=2,
        signed=True,
        spoken="Spacer that puts the pulley in line",
    ),
    Figure(
        "May stand from",
        LENGTH,
        _window_end(0),
        absent=_no_window,
        digits=2,
        spoken="The rearmost plane at which its belts are in line, with all else as it is",
    ),
    Figure(
        "May stand to",
        LENGTH,
        _window_end(1),
        absent=_no_window,
        digits=2,
        spoken="The foremost plane at which its belts are in line, with all else as it is",
    ),
    Figure(
        "From flush",
        LENGTH,
        lambda v: (
            None
            if v.pulley.plane_mm is None or v.pulley.flush_plane_mm is None
            else v.pulley.plane_mm - v.pulley.flush_plane_mm
        ),
        aside=lambda _v: "as pressed on",
        digits=2,
        signed=True,
        spoken="How far it stands before where it is pressed flush with its shaft",
    ),
)


def _related(view: Shown[PulleyAt]) -> tuple[tuple[str, Target], ...]:
    drive, name = view.drive, view.target.pulley
    before = drive.route[drive.route.index(name) - 1]
    found: list[tuple[str, Target]] = [
        ("Belt", BeltAt(drive.id)),
        ("Shaft", ShaftAt(view.pulley.shaft)),
        ("Span in", SpanAt(drive.id, before)),
        ("Span out", SpanAt(drive.id, name)),
    ]
    held = drive.tensioner
    if isinstance(held, Sprung) and held.pulley == name:
        what = "Slide" if isinstance(held, SpringSlideTensioner) else "Arm"
        found.insert(0, (what, ArmAt(drive.id)))
    return tuple(found)


def _acts(view: Shown[PulleyAt]) -> tuple[Act, ...]:
    drive, name = view.target.drive, view.target.pulley
    label = view.shaft.label
    return (
        Act(
            "Take off the belt",
            lambda b: take_off(b, drive, name),
            f"take {label} off",
            lambda b: ShaftAt(view.pulley.shaft),
            removes=True,
        ),
        Act(
            "Put it on the shelf",
            lambda b: shelve_pulley(b, drive, name)[0],
            f"shelve {label}",
            lambda b: PartAt(b.shelf[-1].id),
        ),
        Act("Earlier in travel", lambda b: shift_in_route(b, drive, name, -1), f"reroute {label}"),
        Act("Later in travel", lambda b: shift_in_route(b, drive, name, 1), f"reroute {label}"),
    )


PULLEY = Sheet(
    title=lambda v: v.shaft.label,
    subtitle=lambda v: (
        f"{v.drive.label}, on the belt's {'ribs' if v.pulley.side == 'ribs' else 'back'}"
    ),
    figures=lambda _view: _FIGURES,
    caution=lambda v: caution_of(v.shaft.kind),
    findings=lambda v: findings_at(v, v.target.pulley),
    is_there=has_pulley,
    related=_related,
    acts=_acts,
)
