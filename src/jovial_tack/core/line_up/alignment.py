"""Alignment of groove planes along a belt (METHOD.md, 12)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float
from jovial_tack.core.drive.path import Path
from jovial_tack.core.value import Value


class Seats(Value, frozen=True):
    """Where the belt sits on each pulley, in travel order.

    plane_mm (N,) z of the belt's centre, NaN if not measured; tilt (N, 2) rad of the pulley's axis
    about x and y, right-handed; flat (N,) pulleys that fix no z because the belt's back runs on
    them.
    """

    plane_mm: Float
    tilt: Float
    flat: Bool


class Alignment(Value, frozen=True):
    """Angles of one drive's belt against its grooves, rad, NaN where not determined.

    exit, entry (N,): belt against the groove of pulley k where span k leaves it, and against the
    groove of pulley k + 1 where span k meets it; NaN at flat pulleys. steer (N,): tilt of a flat
    pulley across the belt, NaN at grooved ones. span (N,): the worse of a span's two ends.
    """

    exit: Float
    entry: Float
    steer: Float
    span: Float


def groove_slope(tilt: Float, direction: Complex) -> Float:
    """Slope dz/ds of a tilted pulley's groove plane along a direction in the front view.

    Parameters: tilt (..., 2) rad [about x, about y]; direction (...) unit complex. METHOD 12.

    >>> round(float(groove_slope(np.radians([[0.0, 1.0]]), np.array([1 + 0j]))[0]), 6)
    -0.017455
    """
    slope: Float = np.tan(tilt[..., 0]) * direction.imag - np.tan(tilt[..., 1]) * direction.real
    return slope


def align(path: Path, seats: Seats) -> Alignment:
    """Angle of the belt at both ends of every span of one path (single lane).

    The belt climbs evenly from each grooved pulley over the flat ones to the next: Δz over the sum
    of the spans and the flat arcs between. The angle at a groove is that slope less the slope of
    the groove's own plane along the span. METHOD 12.
    """
    count = seats.plane_mm.size
    nothing = np.full(count, np.nan)
    exits, entries, climb = nothing.copy(), nothing.copy(), nothing.copy()
    for spans, here, there, _, slope in climbs(path, seats):
        climb[spans] = np.arctan(slope)
        exits[here] = slope - groove_slope(seats.tilt[here], path.direction[here])
        entries[spans[-1]] = slope - groove_slope(seats.tilt[there], path.direction[spans[-1]])
    steer = np.where(seats.flat, groove_slope(seats.tilt, path.direction), np.nan)
    exits, entries = np.arctan(exits), np.arctan(entries)
    # fmax: one end at a flat pulley is NaN, and the other one counts
    worse = np.fmax(np.abs(exits), np.abs(entries))
    # a span between two flat pulleys has no groove at either end; what it climbs is told
    span = np.where(np.isnan(climb), np.nan, np.where(np.isnan(worse), np.abs(climb), worse))
    return Alignment(exits, entries, np.arctan(steer), span)


def span_sd(path: Path, seats: Seats, spread: Float) -> Float:
    """One standard deviation of the angle of each span (N,), rad, by that of the planes; NaN where they
    were not read.

    Parameters: as for `align`; covariance of the planes (N, N), mm². METHOD 12 and 15.
    """
    count = seats.plane_mm.size
    found = np.full(count, np.nan)
    for spans, here, there, run in _hops(path, seats):
        square = spread[here, here] + spread[there, there] - 2.0 * spread[here, there]
        # a plane read finer than its figure is written tells as much as one that is exact
        found[spans] = np.sqrt(max(float(square), 0.0)) / run if np.isfinite(square) else np.nan
    return found


def climbs(path: Path, seats: Seats) -> Iterator[tuple[list[int], int, int, float, float]]:
    """From each grooved pulley over flat ones to the next: the spans between, both, the way, mm, and
    the slope dz/ds of the belt along it; NaN where a plane is not known.
    """
    for spans, here, there, run in _hops(path, seats):
        leaves = seats.plane_mm[here] + _rise(path, seats, here, path.start[here])
        meets = seats.plane_mm[there] + _rise(path, seats, there, path.end[spans[-1]])
        yield spans, here, there, run, float(meets - leaves) / run


def _hops(path: Path, seats: Seats) -> Iterator[tuple[list[int], int, int, float]]:
    """From each grooved pulley over flat ones to the next: the spans between, both, and the way, mm."""
    count = seats.plane_mm.size
    grooved = [int(place) for place in np.flatnonzero(~seats.flat)]
    for place, here in enumerate(grooved):
        there = grooved[(place + 1) % len(grooved)]
        # a single grooved pulley is its own neighbour, once round the whole belt
        hops = (there - here) % count or count
        spans = [(here + k) % count for k in range(hops)]
        # over a flat pulley the belt climbs on: its arc belongs to the way
        run = sum(path.length[k] for k in spans) + sum(path.arc[k] for k in spans[1:])
        yield spans, here, there, float(run)


def _rise(path: Path, seats: Seats, pulley: int, point: complex) -> float:
    """How far a tilted groove plane stands above its centre at a point of the front view, mm."""
    away = point - path.centers[pulley]
    return float(
        np.tan(seats.tilt[pulley, 0]) * away.imag - np.tan(seats.tilt[pulley, 1]) * away.real
    )
