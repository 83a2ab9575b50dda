"""What is told of a belt that could be bought, in words."""

from __future__ import annotations

from jovial_tack.answers.belt.buying import BeltChoice
from jovial_tack.answers.belt.window import Candidate
from jovial_tack.answers.drive.words import percent
from jovial_tack.core.units import FORCE, format_length, written_in
from jovial_tack.core.words import sentence
from jovial_tack.document.model import Build


def about_belt(belt: Candidate, build: Build, drive_id: str) -> tuple[str, str]:
    """Two lines: where it puts the adjuster and what it then carries; and whether it goes on."""
    unit = build.display_units
    first = [f"{belt.number}: {format_length(belt.effective_length_mm, unit)} effective"]
    if belt.place is not None:
        first.append(belt.place.words(unit))
    if belt.window_fraction is not None:
        first.append(f"{percent(belt.window_fraction)} into its window")
    if belt.tension_n is not None:
        hot = (
            ""
            if belt.tension_hot_n is None
            else f", {written_in(belt.tension_hot_n, FORCE, unit)} hot"
        )
        first.append(f"{written_in(belt.tension_n, FORCE, unit)} at rest{hot}")
    if belt.fits and belt.growth_left_mm is not None:
        first.append(f"{format_length(belt.growth_left_mm, unit)} of growth left")
    if belt.fits and belt.toggle is not None:
        first.append(f"{belt.toggle.distance(unit)} to the toggle")
    return ", ".join(first) + ".", _second(belt, build, drive_id)


def _second(belt: Candidate, build: Build, drive_id: str) -> str:
    cost = "" if belt.price is None else f" Costs {belt.price:.2f}"
    if belt.count is not None:
        cost += f"{', ' if cost else ' '}{belt.count} in stock"
    cost = f"{cost}." if cost else ""
    if belt.reason:
        return f"{sentence(belt.reason)}{cost}"
    if belt.fitting is None:
        return f"It fits; what moves to put it on is not told.{cost}"
    last = belt.fitting.last
    name = build.shaft(build.drive(drive_id).pulley(last.pulley).shaft).label
    spare = format_length(belt.fitting.spare_mm, build.display_units)
    room = f"with {spare} to spare" if belt.fitting.spare_mm > 0.05 else "just so"
    if belt.fitting.peak_tension_n is not None:
        room = "walked on with its tool"
    return f"It fits and goes on over {name} last, {room}.{cost}"


def about_home(choice: BeltChoice, build: Build) -> str:
    """Which belts to bring home, and how sure it is that one of them fits."""
    if choice.problem:
        return sentence(choice.problem)
    if not choice.bring_home:
        return "No stocked belt comes near; look through another stock list."
    names = " and ".join(belt.number for belt in choice.bring_home)
    sure = 100 * (choice.any_fits or 0.0)
    shown = "over 99" if sure > 99.4 else f"{sure:.0f}"
    known = format_length(2 * choice.uncertain_mm, build.display_units)
    by = "by the survey" if choice.surveyed else "not surveyed"
    several = len(choice.bring_home) > 1
    return (
        f"Bring home {names}: {'one' if several else 'it'} fits with {shown} % (the length is known to"
        f" ±{known}, {by}).{' Take back the other unmounted.' if several else ''}"
    )
