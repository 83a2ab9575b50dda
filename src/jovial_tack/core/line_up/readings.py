"""Planes and tilts of pulleys by laser, straightedge, depth and square, adjusted together.

All readings are linear in the planes z, the slopes dz/dx and dz/dy of each pulley, how far its rim
stands before its groove, and the slope of each laser in its seat. docs/METHOD.md, section 12.
"""

from __future__ import annotations

from collections.abc import Sequence
from statistics import NormalDist
from typing import Literal

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float, Int
from jovial_tack.core.value import Value

Kind = Literal["laser", "straightedge", "depth", "square", "plumb"]

#: Slopes are solved for as what they come to over this way, so that all unknowns are millimetres.
_OVER_MM = 100.0
_RANK = 1e-9
#: Chance that a list without a bad reading has one named.
_ALARM = 0.01
#: Below this share of redundancy nobody checks a reading.
UNCHECKED = 0.05


class Reading(Value, frozen=True):
    """One reading. on: the pulley a laser or straightedge is on, None for others; at: the pulley read.

    values: mm, at the near and the far rim or only one in its middle; of a plumb line the slope in y;
    none of a square. sd: one standard deviation of each, mm or slope; seat_sd: of a laser's slope.
    """

    kind: Kind
    at: int
    values: tuple[float, ...]
    sd: float
    on: int | None = None
    seat_sd: float = 0.0


class Bench(Value, frozen=True, eq=False):
    """Pulleys that are read: centers (P,) complex mm, diameters (P,) mm; rims (P,) how far each rim
    stands before its groove, mm, NaN if not measured, rim_sd (P,) mm.
    """

    centers: Complex
    diameters: Float
    rims: Float
    rim_sd: Float


class Planes(Value, frozen=True, eq=False):
    """What readings tell. z (P,) mm and slopes (P, 2) dz/dx, dz/dy; their standard deviations, NaN
    where they are not determined; standardised (N,) the worst residual of each reading, 0 where nothing
    checks it; suspect: the reading that does not fit, None if all do.
    """

    z: Float
    z_sd: Float
    slopes: Float
    slope_sd: Float
    standardised: Float
    suspect: int | None


def adjust(bench: Bench, readings: Sequence[Reading]) -> Planes:
    """The planes and slopes that fit all readings best, and how well they are known. METHOD 12."""
    rows, known, of = _rows(bench, readings)
    pulleys = bench.centers.size
    left, sizes, right = np.linalg.svd(rows, full_matrices=False)
    counts = sizes > _RANK * max(float(sizes.max(initial=0.0)), 1.0)
    inverse = np.where(counts, 1.0 / np.where(counts, sizes, 1.0), 0.0)
    found = right.T @ (inverse * (left.T @ known))
    spread = (right.T * inverse**2) @ right
    # what the readings say nothing of lies outside the space they span
    outside = 1.0 - (right[counts] ** 2).sum(axis=0)
    sd = np.where(outside > 1e-6, np.nan, np.sqrt(np.maximum(spread.diagonal(), 0.0)))
    used = left[:, counts]
    residual = known - rows @ found
    worst = _standardised(residual, used, np.array(of, dtype=np.int64), len(readings))
    z, slopes = found[:pulleys], found[pulleys : 3 * pulleys].reshape(pulleys, 2)
    return Planes(
        z,
        sd[:pulleys],
        slopes / _OVER_MM,
        sd[pulleys : 3 * pulleys].reshape(pulleys, 2) / _OVER_MM,
        worst,
        _suspect(worst),
    )


def _standardised(residual: Float, used: Float, of: Int, count: int) -> Float:
    """The worst standardised residual of each reading (N,), were one of its figures wrong, or all by
    the same: a rim that was missed, or a tool that was seated wrong. W. Baarda (1968).

    Parameters: residuals (R,), of a unit standard deviation each; the space the rows span (R, K).
    """
    worst = np.zeros(count)
    for reading in range(count):
        own = np.flatnonzero(of == reading)
        ways = [np.array([place]) for place in own] + ([own] if own.size > 1 else [])
        for rows in ways:
            taken = used[rows].sum(axis=0)
            free = (rows.size - float(taken @ taken)) / rows.size
            if free < UNCHECKED:
                continue
            value = float(residual[rows].sum()) / np.sqrt(free * rows.size)
            if abs(value) > abs(worst[reading]):
                worst[reading] = value
    return worst


def _suspect(worst: Float) -> int | None:
    if not worst.size:
        return None
    limit = NormalDist().inv_cdf(1.0 - _ALARM / (2 * worst.size))
    place = int(np.abs(worst).argmax())
    return place if abs(worst[place]) > limit else None


def _rows(bench: Bench, readings: Sequence[Reading]) -> tuple[Float, Float, list[int]]:
    """Every figure read over its standard deviation, as a row over the unknowns (z, slopes, rims,
    seats); which reading each is of, −1 for what is known beforehand.
    """
    pulleys = bench.centers.size
    lasers = [k for k, reading in enumerate(readings) if reading.kind == "laser"]
    unknowns = 4 * pulleys + len(lasers)
    rows: list[Float] = []
    known: list[float] = []
    of: list[int] = []

    def add(row: Float, value: float, sd: float, reading: int) -> None:
        rows.append(row / sd)
        known.append(value / sd)
        of.append(reading)

    def plane(row: Float, pulley: int, at: complex, sign: float) -> None:
        """The groove plane of a pulley at a place of the front view."""
        away = (at - bench.centers[pulley]) / _OVER_MM
        row[pulley] += sign
        row[pulleys + 2 * pulley] += sign * away.real
        row[pulleys + 2 * pulley + 1] += sign * away.imag

    for k, reading in enumerate(readings):
        at, on = reading.at, reading.on
        if reading.kind == "depth":
            row = np.zeros(unknowns)
            row[at] = 1.0
            add(row, reading.values[0], reading.sd, k)
        elif reading.kind in ("square", "plumb"):
            axes = (0, 1) if reading.kind == "square" else (1,)
            for axis in axes:
                row = np.zeros(unknowns)
                row[pulleys + 2 * at + axis] = 1.0 / _OVER_MM
                add(row, reading.values[0] if reading.values else 0.0, reading.sd, k)
        else:
            assert on is not None
            gap = bench.centers[at] - bench.centers[on]
            along = gap / (abs(gap) or 1.0)
            for value, place in zip(reading.values, _places(bench, reading, along), strict=True):
                row = np.zeros(unknowns)
                plane(row, at, place, 1.0)
                plane(row, on, place, -1.0)
                if reading.kind == "laser":
                    over = abs(place - bench.centers[on]) / _OVER_MM
                    row[4 * pulleys + lasers.index(k)] = -over
                else:
                    row[3 * pulleys + at] += 1.0
                    row[3 * pulleys + on] -= 1.0
                add(row, value, reading.sd, k)
    for seat, k in enumerate(lasers):
        row = np.zeros(unknowns)
        row[4 * pulleys + seat] = 1.0 / _OVER_MM
        add(row, 0.0, readings[k].seat_sd, -1)
    for pulley in np.flatnonzero(np.isfinite(bench.rims)):
        row = np.zeros(unknowns)
        row[3 * pulleys + pulley] = 1.0
        add(row, float(bench.rims[pulley]), float(bench.rim_sd[pulley]), -1)
    return np.array(rows).reshape(len(rows), unknowns), np.array(known), of


def _places(bench: Bench, reading: Reading, along: complex) -> list[complex]:
    """Where a laser or straightedge is read: at the near and far rim, or in the middle."""
    middle = complex(bench.centers[reading.at])
    if len(reading.values) == 1:
        return [middle]
    half = bench.diameters[reading.at] / 2
    return [middle - half * along, middle + half * along]


def settled_by(known: Bool) -> str:
    """What to read next where a pulley's z, dz/dx and dz/dy (3,) are not all determined."""
    if not known[0]:
        return "a depth, or a laser or straightedge from a pulley that is known"
    return "a square against its face, or a laser from another side"
