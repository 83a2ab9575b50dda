"""A build with its shafts where its survey puts them, and what that changes."""

from __future__ import annotations

from jovial_tack.answers.comparing import Compared, compared
from jovial_tack.answers.drive.surveyed import Surveyed, survey_start
from jovial_tack.catalogue import Catalogue
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
