"""What is said of a bracket plate beside its findings."""

from __future__ import annotations

from jovial_tack.answers.results import PlateResult, Spacer
from jovial_tack.core.units import FORCE, MASS, format_length, written_in
from jovial_tack.document.meant import cut_name
from jovial_tack.document.model import Build, Plate

#: Decimals of what is made to size.
_FINE = {"mm": 2, "in": 3}


def size_words(build: Build, plate: Plate, told: PlateResult) -> str:
    """How large and heavy a plate is, and its least web."""
    if told.bounds_mm is None:
        return "nothing is cut in it yet: add a hole, or have it proposed"
    unit = build.display_units
    left, foot, right, top = told.bounds_mm
    wide, high = (format_length(mm, unit) for mm in (right - left, top - foot))
    thick = format_length(plate.thickness_mm, unit, digits=_FINE[unit])
    said = f"{wide} by {high}, {thick} thick"
    if told.mass_kg is not None:
        said += f", {written_in(told.mass_kg, MASS, unit)}"
    if told.web_mm:
        wanted = format_length(told.wanted_web_mm, unit)
        said += f"; least web {format_length(told.web_mm, unit)} ({wanted} wanted)"
    return said


def spacer_words(build: Build, plate: Plate, spacer: Spacer) -> str:
    """What stands behind a plate at one bolt."""
    name = cut_name(build, plate.feature(spacer.id))
    unit = build.display_units
    length = format_length(abs(spacer.length_mm), unit, digits=_FINE[unit])
    if spacer.length_mm < 0:
        return f"{name}: the face of {spacer.behind} stands {length} before the plate's rear"
    return f"{name}: {length} of spacer between it and {spacer.behind}"


def bent_words(build: Build, told: PlateResult) -> str:
    """What the pull does to a plate; "" where that is not told."""
    bent = told.bent
    if bent is None:
        return ""
    pull = written_in(bent.pull_n, FORCE, build.display_units)
    low, high = bent.turned_deg
    rest, least, most = ("–" if a is None else f"{a:.2f}°" for a in bent.angles_deg)
    said = (
        f"under {pull} at {bent.rpm:.0f} rpm it turns {low:.2f} to {high:.2f}°: belts {rest} at rest,"
        f" {least} to {most} pulled (good {bent.good_deg:.2f}°)"
    )
    return f"{said}; so short a plate is stiffer than that" if bent.is_bound else said
