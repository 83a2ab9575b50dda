"""The plan view, looking down on one drive: groove planes, spans with their angles, spacers; no Qt.

x runs to the right as in the front view, z from the engine toward the viewer. Only the belt's centre
line and the groove planes are shown, so that z can be drawn many times larger than x.
"""

from __future__ import annotations

from itertools import chain
from math import isfinite, radians, tan

import numpy as np

from jovial_tack.answers.drive.case import seat_offset
from jovial_tack.answers.results import DriveResult, Results
from jovial_tack.answers.verdicts import Mark
from jovial_tack.catalogue import Profile
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Drive, Pulley

Point = tuple[float, float]


class PlanPulley(Value, frozen=True):
    """The groove plane of a pulley from its left rim to its right, (x, z) mm.

    known: whether its plane was measured; if not it lies where its neighbours would have it. flat: the
    belt's back runs on it, so that it fixes no plane. spacer_mm: what puts it in line, None if that is
    not determined; window: from where to where it may stand with all else as it is, z mm.
    """

    pulley: str
    name: str
    left: Point
    right: Point
    known: bool
    flat: bool
    tilted: bool
    spacer_mm: float | None
    window: Point | None


class PlanSpan(Value, frozen=True):
    """A span from where it leaves one pulley to where it meets the next, (x, z) mm."""

    leaves: str
    start: Point
    end: Point
    angle_deg: float | None
    state: Mark


class Plan(Value, frozen=True):
    """One drive from above. low, high: the z it takes up, mm."""

    drive: str
    pulleys: tuple[PlanPulley, ...]
    spans: tuple[PlanSpan, ...]
    x_range: Point
    z_range: Point


def plan_view(build: Build, results: Results, drive_id: str, profile: Profile) -> Plan | None:
    """Look down on a drive; None if it has no path."""
    drive, result = build.drive(drive_id), results.drive(drive_id)
    path = result.rest_path
    if path is None:
        return None
    centers = {name: complex(path.centers[k]) for k, name in enumerate(drive.route)}
    planes = _planes(drive, result, profile)
    pulleys = tuple(
        _pulley(build, drive, result, name, centers[name], planes) for name in drive.route
    )
    spans = tuple(
        _span(drive, result, k, centers, planes, profile) for k in range(len(drive.route))
    )
    edges, heights = zip(*chain.from_iterable((p.left, p.right) for p in pulleys), strict=True)
    heights += tuple(p.left[1] + (p.spacer_mm or 0.0) for p in pulleys)
    return Plan(drive_id, pulleys, spans, (min(edges), max(edges)), (min(heights), max(heights)))


def _planes(drive: Drive, result: DriveResult, profile: Profile) -> dict[str, float]:
    """z of the belt on every pulley: measured on grooved ones; elsewhere it climbs evenly from the
    measured one before to the one after.
    """
    route, path = drive.route, result.rest_path
    assert path is not None
    known = {
        name: plane + seat_offset(drive.pulley(name), drive.belt.ribs, profile.pitch_mm)
        for name in route
        if (plane := drive.pulley(name).plane_mm) is not None and drive.pulley(name).side == "ribs"
    }
    if not known:
        return dict.fromkeys(route, 0.0)
    steps = path.length + np.roll(path.arc, -1)
    along = np.concatenate([[0.0], np.cumsum(steps)[:-1]])
    places = [k for k, name in enumerate(route) if name in known]
    heights = np.interp(
        along, along[places], [known[route[k]] for k in places], period=float(path.total)
    )
    return dict(zip(route, map(float, heights), strict=True))


def _pulley(
    build: Build,
    drive: Drive,
    result: DriveResult,
    name: str,
    center: complex,
    planes: dict[str, float],
) -> PlanPulley:
    pulley, found = drive.pulley(name), result.pulley(name)
    radius, slope = pulley.diameter_mm / 2, -tan(radians(pulley.tilt_deg[1]))
    own = pulley.plane_mm
    z = planes[name] if own is None or pulley.side == "ribs" else own
    return PlanPulley(
        name,
        build.shaft(pulley.shaft).label,
        (center.real - radius, z - slope * radius),
        (center.real + radius, z + slope * radius),
        pulley.plane_mm is not None,
        pulley.side == "back",
        pulley.tilt_deg != (0.0, 0.0),
        None if found is None else result.spacer_mm(found.id),
        _window(result, name, z - (own or 0.0)),
    )


def _window(result: DriveResult, name: str, seat_mm: float) -> Point | None:
    """The window of a pulley where the belt sits on it; None where there is none, or it is
    boundless.
    """
    found = result.window_mm(name)
    if found is None or not all(isfinite(end) for end in found):
        return None
    return found[0] + seat_mm, found[1] + seat_mm


def _span(
    drive: Drive,
    result: DriveResult,
    place: int,
    centers: dict[str, complex],
    planes: dict[str, float],
    profile: Profile,
) -> PlanSpan:
    span = result.spans[place]
    angle = span.misalignment_deg
    state: Mark = "unknown"
    if angle is not None:
        good, limit = profile.good_angle_deg, profile.limit_angle_deg
        state = "stop" if angle > limit else "watch" if angle > good else "good"

    def at(name: str, point: Point) -> Point:
        pulley = drive.pulley(name)
        return point[0], planes[name] + _rise(pulley, complex(*point) - centers[name])

    return PlanSpan(
        span.from_id, at(span.from_id, span.start_mm), at(span.to_id, span.end_mm), angle, state
    )


def _rise(pulley: Pulley, away: complex) -> float:
    """How far a tilted groove plane stands before its centre at a point of the front view, mm."""
    about_x, about_y = (tan(radians(degrees)) for degrees in pulley.tilt_deg)
    return about_x * away.imag - about_y * away.real
