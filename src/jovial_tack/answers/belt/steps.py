"""How a belt is put on, step by step, in words (docs/METHOD.md, 13)."""

from __future__ import annotations

from jovial_tack.answers.belt.window import Candidate
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.core.units import FORCE, format_length, written_in

CAUTION = (
    "Engine off, key out, cold. A wound arm bites: hold it with the right wrench, or pin it. Never"
    " lever a belt over a rim with a screwdriver; its cords break where nobody sees it."
)
STRETCH_CAUTION = (
    "Engine off, key out, cold. A stretch belt goes on with the tool made for it, the crank turned by"
    " hand at its bolt; once taken off it is not used again unless its maker says so."
)


def fitting_steps(case: SolvableCase, belt: Candidate, unit: str) -> tuple[str, ...]:
    """The steps of putting a belt on; the last pulley and what is left off are those of its fitting."""
    fitting = belt.fitting
    if fitting is None:
        return (belt.reason or "it cannot be told what moves to put this belt on",)
    last = case.label(fitting.last.pulley)
    names = [case.label(name) for name in case.model.route]
    left_off = [] if fitting.can else [case.label(name) for name in fitting.leave_off]
    if not fitting.can and not left_off and fitting.peak_tension_n is None:
        return (
            f"{belt.reason or 'it cannot be put on'}; a longer belt, or more travel, is needed",
        )
    steps = []
    if fitting.peak_tension_n is None:
        steps.append(_slacken(case))
    if left_off:
        steps.append(f"leave {left_off[0]} off")
        last = left_off[0]
    others = [name for name in names if name != last]
    seated = (
        "every rib in its groove" if case.belt.profile.section == "ribbed" else "seated in each"
    )
    steps.append(f"lay the belt round {', '.join(others)}, {seated}")
    if left_off:
        steps.append(f"bolt {left_off[0]} in against the belt, square and to its torque")
    elif fitting.peak_tension_n is not None:
        steps.append(
            f"walk it over {last} last with its tool:"
            f" {written_in(fitting.peak_tension_n, FORCE, unit)} at the rim's top"
        )
    else:
        needs = format_length(fitting.last.lifted_mm, unit)
        has = format_length(fitting.slack_mm, unit)
        kind = ", which is smooth" if fitting.last.smooth else ""
        takes = f"which takes {needs}" if fitting.last.lifted_mm > 0.05 else "which takes none"
        steps.append(f"lift it over {last} last{kind}, {takes}; {has} of slack is there")
    steps.append(_check(case, belt, unit))
    return tuple(steps)


def _slacken(case: SolvableCase) -> str:
    if case.arm is not None:
        name = case.shafts[case.arm.index].label
        return (
            f"push {name} back to the end of its slot and hold it there"
            if case.arm.slides
            else f"wind {name} back to its stop and hold it there"
        )
    moving = case.moving
    return f"slide {case.shafts[moving[0]].label} fully in" if moving else "loosen the adjuster"


def _check(case: SolvableCase, belt: Candidate, unit: str) -> str:
    if belt.place is not None:
        noun = belt.place.noun
        return (
            f"let the {noun} come on slowly, turn the engine twice by hand and look at every pulley;"
            f" the {noun} should rest at {belt.place.figure(unit)}"
        )
    if case.track is not None and belt.tension_n is not None:
        return (
            f"draw it up to {written_in(belt.tension_n, FORCE, unit)}, bolt it, turn the engine"
            " twice by hand and look at every pulley"
        )
    return "turn the engine twice by hand and look at every pulley"
