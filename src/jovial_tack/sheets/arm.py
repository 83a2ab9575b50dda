"""The sheet of a spring arm: pivot, spring, stops and window, and where the belt puts it."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.results import ArmResult
from jovial_tack.core.units import ANGLE, FORCE, LENGTH, PERCENT, TORQUE, TORQUE_RATE
from jovial_tack.document.edits.tensioners import set_arm, set_arm_end
from jovial_tack.document.model import Build, SpringArmTensioner
from jovial_tack.document.targets import Target
from jovial_tack.document.travel import notch_offset_deg
from jovial_tack.sheets.sheet import Act, Change, Choice, Figure, Row, Sheet, Shown, findings_at

_CAUTION = (
    "The spring stores energy: a bar that slips breaks hands. Know which bolt holds the tensioner"
    " together and which one mounts it before undoing either."
)


def _arm(view: Shown) -> SpringArmTensioner:
    arm = view.drive.tensioner
    assert isinstance(arm, SpringArmTensioner)
    return arm


def _found(view: Shown) -> ArmResult | None:
    tensioner = view.result.tensioner
    return tensioner if isinstance(tensioner, ArmResult) else None


def _rest(name: str) -> Any:
    return lambda view: getattr(_found(view), name) if _found(view) else None


def _running(name: str) -> Any:
    return lambda view: getattr(_found(view), name)[view.lane] if _found(view) else None


def _in_window(view: Shown) -> float | None:
    found = _found(view)
    return None if found is None or found.window_fraction is None else 100 * found.window_fraction


def _set(key: str, scale: float = 1.0) -> Change:
    return lambda build, target, value: set_arm(build, target[1], **{key: value * scale})


def _set_pivot(axis: int) -> Change:
    def change(build: Build, target: Target, mm: float) -> Build:
        arm = build.drive(target[1]).tensioner
        assert isinstance(arm, SpringArmTensioner)
        pivot = (mm, arm.pivot_mm[1]) if axis == 0 else (arm.pivot_mm[0], mm)
        return set_arm(build, target[1], pivot_mm=pivot)

    return change


def _end(key: str, place: int) -> Change:
    return lambda build, target, value: set_arm_end(build, target[1], key, place, value)


def _label(word: str) -> Any:
    return lambda view: f"{word} of {view.drive.label}"


def _usable(end: int) -> Any:
    def read(view: Shown) -> float | None:
        ends = view.result.usable_travel_deg
        return None if ends is None else ends[end]

    return read


def _collides(end: int) -> Any:
    """Whether an end of the usable travel is the stop or a collision."""

    def said(view: Shown) -> str:
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

_FIGURES: tuple[Row, ...] = (
    Figure(
        "Pivot x",
        LENGTH,
        lambda v: _arm(v).pivot_mm[0],
        change=_set_pivot(0),
        label=_label("pivot"),
        spoken="Pivot of the arm, to the right",
    ),
    Figure(
        "Pivot y",
        LENGTH,
        lambda v: _arm(v).pivot_mm[1],
        change=_set_pivot(1),
        label=_label("pivot"),
        spoken="Pivot of the arm, upward",
    ),
    Figure(
        "Arm",
        LENGTH,
        lambda v: _arm(v).arm_mm,
        change=_set("arm_mm"),
        aside=lambda _v: "to the pulley",
        label=_label("arm length"),
        spoken="Length of the arm",
    ),
    Figure(
        "Torque",
        TORQUE,
        lambda v: _arm(v).torque_nm,
        change=_set("torque_nm"),
        aside=lambda v: f"at {_arm(v).angle_deg:.1f}°",
        label=_label("spring torque"),
        spoken="Torque of the spring at its named angle",
    ),
    Figure(
        "At angle",
        ANGLE,
        lambda v: _arm(v).angle_deg,
        change=_set("angle_deg"),
        label=_label("spring angle"),
        spoken="Angle at which the spring has its named torque",
    ),
    Figure(
        "Rate",
        TORQUE_RATE,
        lambda v: _arm(v).rate_nm_per_deg,
        change=_set("rate_nm_per_deg"),
        label=_label("spring rate"),
        spoken="Torque gained for each degree wound back",
    ),
    Figure(
        "Damping",
        PERCENT,
        lambda v: 100 * (_arm(v).damping_fraction or 0.0),
        change=_set("damping_fraction", 0.01),
        aside=lambda _v: "of torque",
        label=_label("damping"),
        spoken="Damping of the arm, as a share of its torque",
    ),
    Figure(
        "Stop, low",
        ANGLE,
        lambda v: _arm(v).stops_deg[0],
        change=_end("stops_deg", 0),
        label=_label("stop"),
        spoken="One stop of the arm",
    ),
    Figure(
        "Stop, high",
        ANGLE,
        lambda v: _arm(v).stops_deg[1],
        change=_end("stops_deg", 1),
        label=_label("stop"),
        spoken="The other stop of the arm",
    ),
    Figure(
        "Window, low",
        ANGLE,
        lambda v: w[0] if (w := _arm(v).window_deg) else None,
        absent=lambda _v: "",
        change=_end("window_deg", 0),
        label=_label("window"),
        spoken="One end of the arm's working window",
    ),
    Figure(
        "Window, high",
        ANGLE,
        lambda v: w[1] if (w := _arm(v).window_deg) else None,
        absent=lambda _v: "",
        change=_end("window_deg", 1),
        label=_label("window"),
        spoken="The other end of the arm's working window",
    ),
    Figure(
        "Wrench",
        LENGTH,
        lambda v: _arm(v).wrench_mm,
        absent=lambda _v: "",
        aside=lambda v: "not given" if _arm(v).wrench_mm is None else "from the pivot",
        change=_set("wrench_mm"),
        label=_label("wrench"),
        spoken="Length of the wrench the arm is wound back with",
    ),
    Figure(
        "Wrench at",
        ANGLE,
        lambda v: _arm(v).wrench_deg,
        change=_set("wrench_deg"),
        aside=lambda _v: "to the arm",
        label=_label("wrench"),
        spoken="Angle from the arm to the wrench",
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
    Figure("Angle", ANGLE, _rest("arm_angle_deg"), aside=lambda _v: "at rest", digits=2),
    Figure(
        "Running",
        ANGLE,
        _running("running_angle_deg"),
        aside=Shown.at,
        digits=2,
        spoken="Angle of the arm while running",
    ),
    Figure("In its window", PERCENT, _in_window, aside=lambda _v: "0 wound"),
    Figure("Spring now", TORQUE, _rest("torque_nm"), aside=lambda _v: "at rest"),
    Figure("Belt pull", FORCE, _rest("tension_n"), aside=lambda _v: "at rest"),
    Figure("Running pull", FORCE, _running("running_tension_n"), aside=Shown.at),
    Figure(
        "Stretch left", LENGTH, lambda v: v.result.growth_left_mm, aside=lambda _v: "to the end"
    ),
)


def _notch(place: int) -> Figure:
    def change(build: Build, target: Target, degrees: float) -> Build:
        arm = build.drive(target[1]).tensioner
        assert isinstance(arm, SpringArmTensioner)
        notches = list(arm.notches_deg or ())
        notches[place] = degrees
        return set_arm(build, target[1], notches_deg=tuple(notches))

    return Figure(
        f"Notch {place + 1}",
        ANGLE,
        lambda v: (_arm(v).notches_deg or ())[place],
        change=change,
        aside=lambda v: "in it" if (_arm(v).notch or 0) == place else "",
        label=_label("notches"),
        spoken=f"Notch {place + 1}: degrees it turns the whole tensioner",
    )


def _lines(view: Shown) -> tuple[Row, ...]:
    count = len(_arm(view).notches_deg or ())
    if not count:
        return _FIGURES
    chosen = Choice(
        "In notch",
        lambda v: tuple((str(k), str(k + 1)) for k in range(len(_arm(v).notches_deg or ()))),
        lambda v: str(_arm(v).notch or 0),
        lambda b, t, key: set_arm(b, t[1], notch=int(key)),
        _label("notch"),
        "The notch it is mounted in",
    )
    return (*_FIGURES, chosen, *(_notch(place) for place in range(count)))


def _acts(view: Shown) -> tuple[Act, ...]:
    arm, drive = _arm(view), view.target[1]
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


def _is_there(build: Build, target: Target) -> bool:
    return isinstance(build.drive(target[1]).tensioner, SpringArmTensioner)


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
        ("Belt", ("belt", v.target[1])),
        ("Pulley", ("pulley", v.target[1], _arm(v).pulley)),
    ),
)
