"""Planes of pulleys by the depths and steps of a build's survey."""

from __future__ import annotations

from collections.abc import Mapping
from math import nan

import numpy as np

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.survey.heights import Heights, Step, adjust_heights
from jovial_tack.core.value import Value
from jovial_tack.document import model as doc

#: A pulley counts as standing where its depth was read, mm.
_THERE_MM = 0.02
Spread = tuple[tuple[float, ...], ...]


class Planes(Value, frozen=True):
    """The planes of a survey. names (P,): drive and pulley of each; of (N,): which reading of the
    survey each of its readings is; problems: why readings are not used, by their place.
    """

    heights: Heights
    names: tuple[tuple[str, str], ...]
    of: tuple[int, ...]
    problems: Mapping[int, str]


def sd_of(reading: doc.AnyReading, survey: doc.Survey, catalogue: Catalogue) -> float:
    """One standard deviation of a reading: typed, that of its tool, or the usual one; mm or degrees."""
    typed = getattr(reading, "sd_mm", None) or getattr(reading, "sd_deg", None)
    if typed is not None:
        return float(typed)
    tool = survey.instruments.get(reading.instrument)
    if tool is not None and tool.sd_mm is not None and not isinstance(reading, doc.AngleReading):
        return tool.sd_mm
    return catalogue.readings[reading.type].sd_with(reading.instrument)


def planes_of(build: doc.Build, catalogue: Catalogue) -> Planes | None:
    """The planes of a build's pulleys by depths and steps; None without such a reading."""
    steps: list[Step] = []
    names: list[tuple[str, str]] = []
    of: list[int] = []
    problems: dict[int, str] = {}
    survey = build.survey

    def place(name: tuple[str, str]) -> int:
        if name not in names:
            drive = build.find_drive(name[0])
            if drive is None or all(p.id != name[1] for p in drive.pulleys):
                raise GeometryError(f"there is no pulley “{name[1]}” on a drive “{name[0]}”")
            names.append(name)
        return names.index(name)

    for k, reading in enumerate(survey.readings):
        if reading.set_aside or not isinstance(reading, doc.DepthReading | doc.StepReading):
            continue
        sd = sd_of(reading, survey, catalogue)
        try:
            if isinstance(reading, doc.DepthReading):
                more = -(reading.rim_mm or 0.0) / 2
                steps.append(Step(None, place(reading.pulley), reading.value_mm, sd, more))
            else:
                first, second = (place(name) for name in reading.pulleys)
                if first == second:
                    raise GeometryError(
                        "it is of a pulley to itself; choose another for one of them"
                    )
                rims = reading.rims_mm or (0.0, 0.0)
                steps.append(Step(first, second, reading.value_mm, sd, (rims[0] - rims[1]) / 2))
            of.append(k)
        except GeometryError as error:
            problems[k] = str(error)
    if not steps and not problems:
        return None
    drawn = np.array([build.drive(d).pulley(p).plane_mm or 0.0 for d, p in names])
    return Planes(adjust_heights(drawn, tuple(steps)), tuple(names), tuple(of), problems)


def plane_spread(build: doc.Build, catalogue: Catalogue, drive: doc.Drive) -> Spread | None:
    """Covariance of the planes of a drive's pulleys along its route (N, N), mm²; NaN for those that
    were not read, or are drawn elsewhere. None where none was read.
    """
    planes = planes_of(build, catalogue)
    if planes is None or not planes.of:
        return None
    heights, places = planes.heights, []
    for pulley_id in drive.route:
        name = (drive.id, pulley_id)
        place = planes.names.index(name) if name in planes.names else None
        drawn = drive.pulley(pulley_id).plane_mm
        if place is not None and (
            drawn is None or abs(drawn - float(heights.z[place])) > _THERE_MM
        ):
            place = None
        places.append(place)
    if all(place is None for place in places):
        return None
    return tuple(
        tuple(
            nan if one is None or other is None else float(heights.covariance[one, other])
            for other in places
        )
        for one in places
    )
