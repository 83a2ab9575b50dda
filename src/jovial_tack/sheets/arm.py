"""The sheet of a spring arm: pivot, spring, stops and window, and where the belt puts it."""

from __future__ import annotations

from math import radians
from typing import Any

from jovial_tack.answers.belt.putting_on import wind_back
from jovial_tack.answers.drive.spread import known_by
from jovial_tack.core.units import (
    ANGLE,
    FORCE,
    LENGTH,
    PERCENT,
    TORQUE,
    TORQUE_RATE,
    format_length,
    written_in,
)
from jovial_tack.document.edits.tensioners import set_arm, set_arm_end
from jovial_tack.document.model import Build, SpringArmTensioner
from jovial_tack.document.targets import ArmAt, BeltAt, PulleyAt
from jovial_tack.document.travel import notch_offset_deg
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.held import at_rest, held, in_window, running, window_sd
from jovial_tack.sheets.sheet import Act, Change, Choice, Figure, Row, Sheet, Shown, findings_at

_CAUTION = (
    "The spring stores energy: a bar that slips breaks hands. Know which bolt holds the tensioner"
    " together and which one mounts it before undoing either."
)


def _its_arm(build: Build, target: ArmAt) -> SpringArmTensioner:
    arm = build.drive(target.drive).tensioner
    assert isinstance(arm, SpringArmTensioner)
    return arm


def _arm(view: Shown[ArmAt]) -> SpringArmTensioner:
    return _its_arm(view.build, view.target)


def _mark(view: Shown[ArmAt]) -> float | None:
    """Where a mark on the arm stands against one for the middle of its window, mm along the arc of its
    pulley's centre; less than nothing toward the wound side.
    """
    found, arm = held(view), _arm(view)
    if found is None or found.window_fraction is None:
        return None
    low, high = arm.window_deg or arm.stops_deg
    return (found.window_fraction - 0.5) * abs(radians(high - low)) * arm.arm_mm


def _marks_apart(view: Shown[ArmAt]) -> str:
    """How far apart the marks for the ends of the window are."""
    arm = _arm(view)
    low, high = arm.window_deg or arm.stops_deg
    apart = abs(radians(high - low)) * arm.arm_mm
    return f"from the middle of {format_length(apart, view.build.display_units)}"


def _end(key: str, place: int) -> Change[ArmAt]:
    return lambda build, target, value: set_arm_end(build, target.drive, key, place, value)


def _usable(end: int) -> Any:
    def read(view: Shown[ArmAt]) -> float | None:
        ends = view.result.usable_travel_deg
        return None if ends is None else ends[end]

    return read


def _collides(end: int) -> Any:
    """Whether an end of the usable travel is the stop or a collision."""

    def said(view: Shown[ArmAt]) -> str:
        ends = view.result.usable_travel_deg
        if ends is None:
            return "all clear"
        turned = notch_offset_deg(_arm(view))
        stops = (stop + turned for stop in _arm(view).stops_deg)
        return (
            "its stop" if min(abs(ends[end] - stop) for stop in stops) < 0.01 else "touches there"
        )

    return said


_STEP_DEG = 8.0

_KEYS = Fields(
    SpringArmTensioner,
    _its_arm,
    lambda build, target, **keys: set_arm(build, target.drive, **keys),
    named=lambda view: view.drive.label,
)


def _on_bar(view: Shown[ArmAt]) -> str:
    """How long the bar is, and how many people it takes."""
    wound = wind_back(_arm(view), view.catalogue)
    bar = written_in(wound.bar_mm, LENGTH, view.build.display_units)
    people = "one person" if wound.people == 1 else f"{wound.people} people"
    return f"{bar}{'' if wound.is_told else ' (usual)'}, {people}"


_FIGURES: tuple[Row[ArmAt], ...] = (
    _KEYS.figure(
        "pivot_mm", "Pivot x", LENGTH, "Pivot of the arm, to the right", undo="pivot", axis=0
    ),
    _KEYS.figure("pivot_mm", "Pivot y", LENGTH, "Pivot of the arm, upward", undo="pivot", axis=1),
    _KEYS.figure(
        "arm_mm", "Arm", LENGTH, "Length of the arm", undo="arm length", aside="to the pulley"
    ),
    _KEYS.figure(
        "torque_nm",
        "Torque",
        TORQUE,
        "Torque of the spring at its named angle",
        undo="spring torque",
        aside=lambda view: f"at {_arm(view).angle_deg:.1f}°",
    ),
    _KEYS.figure(
        "angle_deg",
        "At angle",
        ANGLE,
        "Angle at which the spring has its named torque",
        undo="spring angle",
    ),
    _KEYS.figure(
        "rate_nm_per_deg",
        "Rate",
        TORQUE_RATE,
        "Torque gained for each degree wound back",
        undo="spring rate",
    ),
    Figure(
        "Damping",
        PERCENT,
        lambda v: 100 * (_arm(v).damping_fraction or 0.0),
        change=lambda b, t, share: set_arm(b, t.drive, damping_fraction=share * 0.01),
        aside=lambda _v: "of torque",
        label=lambda v: f"damping of {v.drive.label}",
        spoken="Damping of the arm, as a share of its torque",
    ),
    _KEYS.figure("stops_deg", "Stop, low", ANGLE, "One stop of the arm", undo="stop", axis=0),
    _KEYS.figure(
        "stops_deg", "Stop, high", ANGLE, "The other stop of the arm", undo="stop", axis=1
    ),
    _KEYS.figure(
        "window_deg",
        "Window, low",
        ANGLE,
        "One end of the arm's working window",
        undo="window",
        missing="",
        axis=0,
        change=_end("window_deg", 0),
    ),
    _KEYS.figure(
        "window_deg",
        "Window, high",
        ANGLE,
        "The other end of the arm's working window",
        undo="window",
        missing="",
        axis=1,
        change=_end("window_deg", 1),
    ),
    _KEYS.figure(
        "wrench_mm",
        "Wrench",
        LENGTH,
        "Length of the wrench the arm is wound back with",
        undo="wrench",
        aside="from the pivot",
    ),
    _KEYS.figure(
        "wrench_deg",
        "Wrench at",
        ANGLE,
        "Angle from the arm to the wrench",
        undo="wrench",
        aside="to the arm",
    ),
    Figure(
        "Usable from",
        ANGLE,
        _usable(0),
        aside=_collides(0),
        spoken="How far the arm can be wound before something is touched",
    ),
    Figure(
        "Usable to",
        ANGLE,
        _usable(1),
        aside=_collides(1),
        spoken="How far the arm can unwind before something is touched",
    ),
    Figure("Angle", ANGLE, at_rest("arm_angle_deg"), aside=lambda _v: "at rest", digits=2),
    Figure(
        "Running",
        ANGLE,
        running("running"),
        aside=Shown.at,
        digits=2,
        spoken="Angle of the arm while running",
    ),
    Figure("In its window", PERCENT, in_window, aside=lambda _v: "0 wound"),
    Figure(
        "Its mark",
        LENGTH,
        _mark,
        aside=_marks_apart,
        spoken="Where a mark on the arm stands from the middle of its window, along its pulley's arc",
    ),
    Figure(
        "Known to ±",
        PERCENT,
        window_sd,
        aside=lambda v: known_by(at_rest("surveyed")(v)),
        spoken="One standard deviation of how far it rests into its window, by where the shafts are",
    ),
    Figure("Spring now", TORQUE, at_rest("torque_nm"), aside=lambda _v: "at rest"),
    Figure(
        "Wound back",
        TORQUE,
        lambda v: wind_back(_arm(v), v.catalogue).torque_nm,
        aside=lambda _v: "at its stop",
        spoken="Torque that winds it back to its stop, its damping against it",
    ),
    Figure(
        "On the bar",
        FORCE,
        lambda v: wind_back(_arm(v), v.catalogue).pull_n,
        aside=_on_bar,
        spoken="Pull at the end of the wrench that winds it back to its stop",
    ),
    Figure("Belt pull", FORCE, at_rest("tension_n"), aside=lambda _v: "at rest"),
    Figure("Running pull", FORCE, running("running_tension_n"), aside=Shown.at),
    Figure(
        "Stretch left", LENGTH, lambda v: v.result.growth_left_mm, aside=lambda _v: "to the end"
    ),
)


def _notch(place: int) -> Figure[ArmAt]:
    def change(build: Build, target: ArmAt, degrees: float) -> Build:
        notches = list(_its_arm(build, target).notches_deg or ())
        notches[place] = degrees
        return set_arm(build, target.drive, notches_deg=tuple(notches))

    return Figure(
        f"Notch {place + 1}",
        ANGLE,
        lambda v: (_arm(v).notches_deg or ())[place],
        change=change,
        aside=lambda v: "in it" if (_arm(v).notch or 0) == place else "",
        label=lambda v: f"notches of {v.drive.label}",
        spoken=f"Notch {place + 1}: degrees it turns the whole tensioner",
    )


def _lines(view: Shown[ArmAt]) -> tuple[Row[ArmAt], ...]:
    count = len(_arm(view).notches_deg or ())
    if not count:
        return _FIGURES
    chosen: Choice[ArmAt] = Choice(
        "In notch",
        lambda v: tuple((str(k), str(k + 1)) for k in range(len(_arm(v).notches_deg or ()))),
        lambda v: str(_arm(v).notch or 0),
        lambda b, t, key: set_arm(b, t.drive, notch=int(key)),
        lambda v: f"notch of {v.drive.label}",
        "The notch it is mounted in",
    )
    return (*_FIGURES, chosen, *(_notch(place) for place in range(count)))


def _acts(view: Shown[ArmAt]) -> tuple[Act, ...]:
    arm, drive = _arm(view), view.target.drive
    notches, label, now = arm.notches_deg or (), f"notches of {view.drive.label}", arm.notch or 0
    more = (*notches, notches[-1] + _STEP_DEG) if notches else (0.0, _STEP_DEG)
    acts = [
        Act(
            "Add a notch",
            lambda b: set_arm(b, drive, notches_deg=more, notch=now),
            label,
        )
    ]
    if notches:
        fewer = notches[:-1] if len(notches) > 2 else None
        at = None if fewer is None else min(now, len(fewer) - 1)
        acts.append(
            Act(
                "Take the last notch away",
                lambda b: set_arm(b, drive, notches_deg=fewer, notch=at),
                label,
            )
        )
    return tuple(acts)


def _is_there(build: Build, target: ArmAt) -> bool:
    return isinstance(build.drive(target.drive).tensioner, SpringArmTensioner)


ARM = Sheet(
    title=lambda v: f"Arm of {v.drive.label}",
    subtitle=lambda v: (
        "Spring arm, pushes " + ("clockwise" if _arm(v).pushes == "cw" else "counter-clockwise")
    ),
    figures=_lines,
    acts=_acts,
    caution=lambda _v: _CAUTION,
    findings=lambda v: findings_at(v, _arm(v).pulley),
    is_there=_is_there,
    related=lambda v: (
        ("Belt", BeltAt(v.target.drive)),
        ("Pulley", PulleyAt(v.target.drive, _arm(v).pulley)),
    ),
)
