"""Belts, belt numbers and toothed drives as text tables."""

from __future__ import annotations

from jovial_tack.answers.belt.as_seen import AsFitted
from jovial_tack.answers.belt.buying import BeltChoice
from jovial_tack.answers.belt.measured import WAYS, Measured
from jovial_tack.answers.belt.window import Candidate
from jovial_tack.document.model import Build


def belt_table(build: Build, choice: BeltChoice) -> str:
    """The window, a line a belt, and what to bring home."""
    lines = [build.drive(choice.drive).label]
    if choice.window is None:
        return f"{lines[0]}: {choice.problem}"
    window = choice.window
    lines.append(
        f"belts of {window.shortest_mm:.1f} to {window.longest_mm:.1f} mm fit, {window.mid_mm:.1f} mm"
        f" puts the adjuster in its middle; uncertain by {choice.uncertain_mm:.1f} mm (one sigma)"
    )
    lines.append(
        f"{'':2}{'belt':14}{'effective':>12}{'window':>8}{'arm':>9}{'tension':>9}{'hot':>9}"
    )
    if choice.installed is not None:
        lines.append("* " + _line(choice.installed))
    lines += ["  " + _line(belt) for belt in choice.candidates]
    if choice.installed is not None:
        lines.append("(* fitted now)")
    if choice.bring_home:
        home = ", ".join(f"{b.number} ({100 * b.probability:.0f} %)" for b in choice.bring_home)
        any_fits = 100 * (choice.any_fits or 0.0)
        lines.append(f"bring home {home}: one of them fits with {any_fits:.0f} %")
    else:
        lines.append("no stocked belt comes near")
    return "\n".join(lines)


def _line(belt: Candidate) -> str:
    part = _cell(
        None if belt.window_fraction is None else 100 * belt.window_fraction, 7, ".0f", "%"
    )
    arm = _cell(belt.arm_angle_deg, 8, ".1f", "°")
    pulls = _cell(belt.tension_n, 7, ".0f", " N") + _cell(belt.tension_hot_n, 7, ".0f", " N")
    said = belt.reason or ("fits" if belt.fits else "")
    return f"{belt.number:14}{belt.effective_length_mm:9.1f} mm{part}{arm}{pulls}  {said}".rstrip()


def fitted_table(found: AsFitted) -> str:
    """What an adjuster seen somewhere implies."""
    way = "longer" if found.off_mm > 0 else "shorter"
    lines = [
        f"as fitted: a belt of {found.implied_mm:.1f} mm, {abs(found.off_mm):.1f} mm {way} than told"
        f" ({found.label_mm:.1f} mm); uncertain by {found.sigma_mm:.1f} mm"
    ]
    return "\n".join([*lines, *(f"  {cause}" for cause in found.causes)])


def measured_table(found: Measured) -> str:
    """What a reading means, step by step."""
    lines = [f"measured: {found.reading_mm:g} mm, {WAYS[found.way][0]}"]
    lines += [f"  {step}" for step in found.steps]
    lines.append(f"belt to order {found.order_mm:.1f} mm, uncertain by {found.sigma_mm:.1f} mm")
    if found.trade_mm is not None:
        lines.append(
            f"the trade's rule for a slack arm would take {found.trade_mm:.1f} mm:"
            f" {'in' if found.trade_fits else 'outside'} the window"
        )
    return "\n".join(lines)


def _cell(value: float | None, width: int, form: str, unit: str) -> str:
    return f"{'–':>{width + len(unit)}}" if value is None else f"{value:{width}{form}}{unit}"
