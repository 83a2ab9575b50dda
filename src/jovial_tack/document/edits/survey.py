"""Readings, points and tools of a survey."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.model import AnyReading, Build, Survey, SurveyPoint, make


def with_survey(build: Build, **changes: Any) -> Build:
    """The build with some keys of its survey changed; None takes one away. Raises BuildFileError."""
    return changed(build, survey=changed(build.survey, **changes))


def add_reading(build: Build, reading: Mapping[str, Any]) -> Build:
    """Add a reading, given as in the file, behind the others. Raises BuildFileError."""
    return with_survey(build, readings=(*build.survey.readings, dict(reading)))


def change_reading(build: Build, place: int, **changes: Any) -> Build:
    """Change some keys of a reading; None takes one away. Raises BuildFileError."""
    readings = list(build.survey.readings)
    readings[place] = changed(readings[place], **changes)
    return with_survey(build, readings=tuple(readings))


def exchange_reading(build: Build, place: int, reading: Mapping[str, Any]) -> Build:
    """Put another reading, given as in the file, in the place of one. Raises BuildFileError."""
    readings: list[AnyReading | dict[str, Any]] = list(build.survey.readings)
    readings[place] = dict(reading)
    return with_survey(build, readings=tuple(readings))


def remove_reading(build: Build, place: int) -> Build:
    """Take a reading away."""
    kept = tuple(r for k, r in enumerate(build.survey.readings) if k != place)
    return with_survey(build, readings=kept or None)


def set_zero(build: Build, tool: str, zero_sd_mm: float | None) -> Build:
    """Say how far a tool's own zero may be off, one standard deviation, mm; None for not at all."""
    tools: dict[str, Any] = dict(build.survey.instruments)
    if zero_sd_mm is None and tool in tools and tools[tool].sd_mm is None:
        del tools[tool]
    elif tool in tools:
        tools[tool] = changed(tools[tool], zero_sd_mm=zero_sd_mm)
    elif zero_sd_mm is not None:
        tools[tool] = {"zero_sd_mm": zero_sd_mm}
    return with_survey(build, instruments=tools or None)


def add_point(build: Build, name: str, at_mm: tuple[float, float]) -> tuple[Build, str]:
    """Add a point that is no shaft; returns its id too."""
    taken = [*(p.id for p in build.survey.points), *(s.id for s in build.shafts)]
    point = make(SurveyPoint, {"id": free_name("point", taken), "name": name, "at_mm": at_mm})
    return with_survey(build, points=(*build.survey.points, point)), point.id


def move_point(build: Build, point_id: str, at: complex) -> Build:
    """Move a point of the survey, complex mm."""
    place = round(at.real, 3), round(at.imag, 3)
    points = tuple(
        changed(point, at_mm=place) if point.id == point_id else point
        for point in build.survey.points
    )
    return with_survey(build, points=points)


def clear_survey(build: Build) -> Build:
    """Forget all readings, points and tools."""
    return changed(build, survey=Survey())


def add_pattern(build: Build, name: str, holes: tuple[tuple[float, float, str], ...]) -> Build:
    """Lay a bolt pattern on the engine: each hole (x, y, name) is a point, and all are one body."""
    ids = []
    for x, y, label in holes:
        build, made = add_point(build, label, (x, y))
        ids.append(made)
    places = tuple((x, y) for x, y, _ in holes)
    reading = {"type": "pattern", "shafts": tuple(ids), "coordinates_mm": places, "note": name}
    return add_reading(build, reading)
