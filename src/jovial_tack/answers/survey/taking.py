"""A build with its shafts where its survey puts them, and what that changes."""

from __future__ import annotations

from jovial_tack.answers.comparing import Compared, compared
from jovial_tack.answers.drive.surveyed import Surveyed, label_of, survey_start
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import format_length
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.edits.survey import move_point
from jovial_tack.document.model import Build, replaced

_LEAST_MM = 0.005


def taken(build: Build, found: Surveyed, *, other: int | None = None) -> Build:
    """The build with every determined shaft moved where the survey puts it; what hangs on a shaft moves
    along. other: which of the other arrangements to take instead.
    """
    adjusted = found.doubted.adjusted
    places = adjusted.places if other is None else adjusted.also[other]
    shafts = {shaft.id for shaft in build.shafts}
    read = {point for reading in adjusted.net.readings for point in reading.points}
    for k, name in enumerate(found.built.names):
        start = survey_start(build, name)
        if start is None or k not in read or not adjusted.determined[k]:
            continue
        step = complex(places[k]) - start
        if abs(step) < _LEAST_MM:
            continue
        if name in shafts:
            x, y = build.shaft(name).center_mm
            build = move_shaft(build, name, x + step.real, y + step.imag)
        else:
            build = move_point(build, name, start + step)
    return _with_planes(build, found)


def _with_planes(build: Build, found: Surveyed) -> Build:
    if found.planes is None:
        return build
    heights = found.planes.heights
    for k, (drive, pulley) in enumerate(found.planes.names):
        if heights.known[k]:
            model = build.drive(drive).pulley(pulley)
            z = round(float(heights.z[k]), 3)
            if model.plane_mm != z:
                build = with_pulley(build, drive, changed(model, plane_mm=z))
    return build


def before_and_after(
    build: Build, found: Surveyed, catalogue: Catalogue
) -> tuple[Compared, Compared]:
    """How the build stands as drawn, and as surveyed."""
    bare = replaced(build, variants=())
    after = taken(bare, found)
    return (
        compared("As drawn", bare, catalogue, present=True),
        compared("As surveyed", after, catalogue, present=False),
    )


def moved_words(build: Build, found: Surveyed) -> list[str]:
    """By how much each shaft would move, the farthest first; one line each."""
    unit, after = build.display_units, taken(build, found)
    moved = []
    for shaft in build.shafts:
        old, new = survey_start(build, shaft.id), survey_start(after, shaft.id)
        if old is not None and new is not None and abs(new - old) >= _LEAST_MM:
            moved.append((abs(new - old), label_of(build, shaft.id), new - old))
    moved.sort(key=lambda each: -each[0])
    lines = [
        f"{label}: {format_length(away, unit)} ({_way(step, unit)})" for away, label, step in moved
    ]
    return lines or ["No shaft is determined yet, or all stand where the readings put them."]


def _way(step: complex, unit: str) -> str:
    across = f"{format_length(abs(step.real), unit)} {'right' if step.real >= 0 else 'left'}"
    up = f"{format_length(abs(step.imag), unit)} {'up' if step.imag >= 0 else 'down'}"
    return f"{across}, {up}"


def arrangement(build: Build, found: Surveyed, number: int) -> Build:
    """The build drawn in another of the arrangements its readings allow."""
    return taken(build, found, other=number)
