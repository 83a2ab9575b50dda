"""The sheet of a belt: its length, where it puts the arm, and what the drive has in hand."""

from __future__ import annotations

from jovial_tack.build.edits import set_belt, set_belt_length
from jovial_tack.build.figures.figure import Figure, Sheet, Target, View
from jovial_tack.build.model import Build, LockedTensioner, SpringArmTensioner
from jovial_tack.build.results import ArmResult, FixedResult, GripResult
from jovial_tack.core.units import ANGLE, BELT_SPEED, FORCE, LENGTH, PERCENT, RATIO, SPEED

_CAUTION = (
    "Belt off: engine cold, key out. The figures are estimates from the data entered; makers'"
    " limits and a qualified engineer's word come first."
)
_CONSTRUCTIONS = {
    "standard": "plain",
    "soft_grip": "soft grip",
    "low_stretch": "low stretch",
    "stretch_fit": "stretch fit",
}


def _arm(view: View) -> ArmResult | None:
    tensioner = view.result.tensioner
    return tensioner if isinstance(tensioner, ArmResult) else None


def _grip(view: View) -> GripResult | None:
    return view.result.grip


def _rest_tension(view: View) -> float | None:
    tensioner = view.result.tensioner
    return None if tensioner is None else tensioner.tension_n


def _called_for(view: View) -> float | None:
    tensioner = view.result.tensioner
    return tensioner.called_for_effective_length_mm if isinstance(tensioner, FixedResult) else None


def _in_window(view: View) -> float | None:
    arm = _arm(view)
    return None if arm is None or arm.window_fraction is None else 100 * arm.window_fraction


def _reserve(view: View) -> float | None:
    grip = _grip(view)
    if grip is None or grip.capacity_factor is None:
        return None
    return 100 * (grip.capacity_factor - 1)


def _speed(view: View) -> float | None:
    return view.result.belt_speed_mps[view.lane] if view.result.belt_speed_mps else None


def _never(view: View) -> str:
    return "never" if _grip(view) is not None else "–"


_LENGTHS = (
    Figure(
        "Belt length", LENGTH, lambda v: v.drive.belt.effective_length_mm,
        aside=lambda _v: "effective", absent=lambda _v: "",
        change=lambda b, t, mm: set_belt_length(b, t[1], mm),
        label=lambda v: f"belt of {v.drive.label}", spoken="Effective length of the belt",
    ),
    Figure(
        "Ribs", RATIO, lambda v: float(v.drive.belt.ribs), digits=0,
        change=lambda b, t, n: set_belt(b, t[1], ribs=round(n)),
        label=lambda v: f"ribs of {v.drive.label}", spoken="Number of ribs",
    ),
    Figure(
        "Path", LENGTH, lambda v: v.result.path_effective_length_mm,
        aside=lambda _v: "effective", spoken="Effective length of the path at rest",
    ),
    Figure(
        "Over the back", LENGTH, lambda v: v.result.back_length_mm, aside=lambda _v: "by tape",
        spoken="What a tape laid round the belt in place reads",
    ),
    Figure("Tension", FORCE, _rest_tension, aside=lambda _v: "at rest"),
)  # fmt: skip
_ARM = (
    Figure(
        "Arm", ANGLE, lambda v: a.arm_angle_deg if (a := _arm(v)) else None,
        aside=lambda _v: "at rest", digits=2,
    ),
    Figure("In its window", PERCENT, _in_window, aside=lambda _v: "0 wound"),
    Figure(
        "Stretch left", LENGTH, lambda v: a.growth_left_mm if (a := _arm(v)) else None,
        aside=lambda _v: "to the end",
        spoken="Growth of the belt before the arm leaves its window",
    ),
    Figure(
        "To the toggle", ANGLE, lambda v: a.toggle_deg if (a := _arm(v)) else None,
        aside=lambda _v: "lever lost", spoken="How far the arm is from losing its lever",
    ),
)  # fmt: skip
_LOCKED = (Figure("Calls for", LENGTH, _called_for, aside=lambda _v: "effective"),)
_HOLDS = (
    Figure("Belt speed", BELT_SPEED, _speed, aside=View.at),
    Figure(
        "Reserve", PERCENT, _reserve, aside=lambda _v: "of all loads", signed=True,
        spoken="How much all loads may grow before the first pulley slips",
    ),
    Figure(
        "Slips wet from", SPEED, lambda v: g.slip_from_rpm[0] if (g := _grip(v)) else None,
        absent=_never,
    ),
    Figure(
        "Least tension", FORCE, lambda v: g.least_tension_n if (g := _grip(v)) else None,
        aside=lambda _v: "that holds",
    ),
    Figure(
        "Most tension", FORCE, lambda v: g.most_tension_n if (g := _grip(v)) else None,
        aside=lambda _v: "allowed",
    ),
)  # fmt: skip


def _figures(view: View) -> tuple[Figure, ...]:
    tensioner = view.drive.tensioner
    middle: tuple[Figure, ...] = ()
    if isinstance(tensioner, SpringArmTensioner):
        middle = _ARM
    elif isinstance(tensioner, LockedTensioner):
        middle = _LOCKED
    return _LENGTHS + middle + _HOLDS


def _related(view: View) -> tuple[tuple[str, Target], ...]:
    sprung = isinstance(view.drive.tensioner, SpringArmTensioner)
    return (("Arm", ("arm", view.target[1])),) if sprung else ()


def _is_there(build: Build, target: Target) -> bool:
    return build.drive(target[1]).id == target[1]


BELT = Sheet(
    title=lambda v: v.drive.label,
    subtitle=lambda v: (
        f"{v.drive.belt.profile} belt, {v.drive.belt.ribs} ribs,"
        f" {_CONSTRUCTIONS[v.drive.belt.construction]}"
    ),
    figures=_figures,
    caution=lambda _v: _CAUTION,
    findings=lambda v: tuple(f for f in v.results.findings if f in v.result.findings),
    is_there=_is_there,
    related=_related,
)
