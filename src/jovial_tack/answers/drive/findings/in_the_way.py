"""Belts and pulleys that touch, or come too near to, what is in the way."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.spread import SURELY
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import CLEARANCE
from jovial_tack.answers.results import ClearanceResult, Finding
from jovial_tack.document.model import Build


def clearance_findings(
    build: Build, solved: Solved, near: Sequence[ClearanceResult], speech: Speech
) -> tuple[Finding, ...]:
    """One finding for each obstacle that is touched or too near, or may be by a survey's ±."""
    return tuple(
        _finding(build, solved, found, speech)
        for found in near
        if found.gap_mm < found.needed_mm or _is_open(found)
    )


def _is_open(found: ClearanceResult) -> bool:
    """Whether a gap that is drawn wide enough may be too little by the ± of a survey.

    A usual tape's ± is no more than a guess, and leaves open nothing.
    """
    if not found.surveyed or found.gap_sd_mm is None:
        return False
    return found.gap_mm - SURELY * found.gap_sd_mm < found.needed_mm


def _finding(build: Build, solved: Solved, found: ClearanceResult, speech: Speech) -> Finding:
    obstacle = build.obstacle(found.obstacle).label
    name = speech.name(found.pulley)
    if found.of == "pulley":
        what = name
    elif found.of == "body":
        what = build.obstacle(found.body or "").label
    elif found.of == "wrench":
        what = f"the wrench on the arm of {speech.drive}"
    else:
        route = solved.case.model.route
        after = route[(route.index(found.pulley) + 1) % len(route)]
        what = f"the belt of {speech.drive} near {name} and {speech.name(after)}"
    when = "" if found.place is None else f" with the {found.place.words(speech.unit)}"
    known = ""
    if found.surveyed and found.gap_sd_mm is not None:
        known = f" (± {speech.length(found.gap_sd_mm)})"
    if found.gap_mm >= found.needed_mm:
        wanted = speech.length(found.needed_mm)
        return Finding(
            CLEARANCE,
            "unknown",
            found.pulley,
            f"{what} passes {obstacle} with {speech.length(found.gap_mm)}{known}{when}; whether the"
            f" {wanted} that is wanted is there cannot be told yet: measure the gap itself",
            value=found.gap_mm,
            limit=found.needed_mm,
        )
    short = speech.length(found.needed_mm - found.gap_mm)
    touches = found.gap_mm < 0
    said = (
        f"{what} runs {speech.length(-found.gap_mm)}{known} into {obstacle}{when}"
        if touches
        else f"{what} passes {obstacle} with {speech.length(found.gap_mm)}{known}{when}"
    )
    return Finding(
        CLEARANCE,
        "stop" if touches else "watch",
        found.pulley,
        f"{said}; {speech.length(found.needed_mm)} is wanted, {short} more",
        value=found.gap_mm,
        limit=found.needed_mm,
    )
