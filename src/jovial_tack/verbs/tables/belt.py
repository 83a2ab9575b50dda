"""Belts, belt numbers and toothed drives as text tables."""

from __future__ import annotations

from jovial_tack.answers.belt.as_seen import AsFitted
from jovial_tack.answers.belt.buying import BeltChoice
from jovial_tack.answers.belt.measured import WAYS, Measured
from jovial_tack.answers.belt.window import Candidate
from jovial_tack.core.units import FORCE, format_length, written_in
from jovial_tack.document.model import Build


def belt_table(build: Build, choice: BeltChoice) -> str:
    """The window, a line a belt, and what to bring home."""
    lines = [build.drive(choice.drive).label]
    if choice.window is None:
        return f"{lines[0]}: {choice.problem}"
    window = choice.window
    unit = build.display_units
    shortest, longest, middle, within = (
        format_length(mm, unit)
        for mm in (window.shortest_mm, window.longest_mm, window.mid_mm, choice.uncertain_mm)
    )
    lines.append(
        f"belts of {shortest} to {longest} fit, {middle} puts the adjuster in its middle;"
        f" uncertain by {within} (one sigma)"
    )
    lines.append(
        f"{'':2}{'belt':14}{'effective':>12}{'window':>8}{'arm':>9}{'tension':>9}{'hot':>9}"
    )
    if choice.installed is not None:
        lines.append("* " + _line(choice.installed, unit))
    lines += ["  " + _line(belt, unit) for belt in choice.candidates]
    if choice.installed is not None:
        lines.append("(* fitted now)")
    if choice.bring_home:
        home = ", ".join(f"{b.number} ({100 * b.probability:.0f} %)" for b in choice.bring_home)
        any_fits = 100 * (choice.any_fits or 0.0)
        lines.append(f"bring home {home}: one of them fits with {any_fits:.0f} %")
    else:
        lines.append("no stocked belt comes near")
    return "\n".join(lines)


def _line(belt: Candidate, unit: str) -> str:
    part = _cell(
        None if belt.window_fraction is None else 100 * belt.window_fraction, 7, ".0f", "%"
    )
    arm = _stands(belt)
    pulls = "".join(
        f"{'–' if pull is None else written_in(pull, FORCE, unit):>9}"
        for pull in (belt.tension_n, belt.tension_hot_n)
    )
    length = format_length(belt.effective_length_mm, unit)
    said = belt.reason or ("fits" if belt.fits else "")
    return f"{belt.number:14}{length:>12}{part}{arm}{pulls}  {said}".rstrip()


def _stands(belt: Candidate) -> str:
    if belt.place is not None and belt.place.slide_mm is not None:
        return _cell(belt.place.slide_mm, 8, ".1f", "mm")
    return _cell(None if belt.place is None else belt.place.arm_angle_deg, 8, ".1f", "°")


def fitted_table(found: AsFitted, unit: str) -> str:
    """What an adjuster seen somewhere implies."""
    way = "longer" if found.off_mm > 0 else "shorter"
    lines = [
        f"as fitted: a belt of {format_length(found.implied_mm, unit)},"
        f" {format_length(abs(found.off_mm), unit)} {way} than told"
        f" ({format_length(found.label_mm, unit)}); uncertain by {format_length(found.sigma_mm, unit)}"
    ]
    return "\n".join([*lines, *(f"  {cause.sentence}" for cause in found.causes)])


def measured_table(found: Measured, unit: str) -> str:
    """What a reading means, step by step."""
    lines = [f"measured: {format_length(found.reading_mm, unit)}, {WAYS[found.way].title}"]
    lines += [f"  {step}" for step in found.steps]
    lines.append(
        f"belt to order {format_length(found.order_mm, unit)},"
        f" uncertain by {format_length(found.sigma_mm, unit)}"
    )
    if found.trade_mm is not None:
        lines.append(
            f"the trade's rule for a slack arm would take {format_length(found.trade_mm, unit)}:"
            f" {'in' if found.trade_fits else 'outside'} the window"
        )
    return "\n".join(lines)


def _cell(value: float | None, width: int, form: str, unit: str) -> str:
    return f"{'–':>{width + len(unit)}}" if value is None else f"{value:{width}{form}}{unit}"
