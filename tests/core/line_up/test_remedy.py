"""The fewest bodies to move against every subset put through a linear program; windows by bisection."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest
from scipy.optimize import linprog

from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.path import Path, trace
from jovial_tack.core.line_up.alignment import Seats, align
from jovial_tack.core.line_up.remedy import Body, Slopes, remedy, slopes_of, window

GOOD = np.radians(0.33)
Drive = tuple[Path, Seats, int]


def drive(rng: np.random.Generator, first: int) -> Drive:
    """A ring of pulleys, some out of line, some tilted, some flat."""
    count = int(rng.integers(3, 7))
    angle = 2 * np.pi * np.arange(count) / count + rng.uniform(-0.2, 0.2, count)
    centers = rng.uniform(150, 350) * np.exp(-1j * angle)
    path = trace(centers, -rng.uniform(25, 60, count))
    out, near = rng.uniform(-4, 4, count), rng.uniform(-0.3, 0.3, count)
    planes = np.where(rng.random(count) < 0.4, out, near)
    tilts = np.radians(rng.normal(0, 0.25, (count, 2)))
    tilt = np.where(rng.random((count, 1)) < 0.25, tilts, 0.0)
    flat = np.zeros(count, bool)
    flat[2] = count > 4 and rng.random() < 0.5
    flat[-2] = count > 5 and rng.random() < 0.3
    return path, Seats(planes, tilt, flat), first


def drives(seed: int) -> tuple[list[Drive], Slopes, list[Body]]:
    """One drive, or two that share the crank and a jackshaft; some bodies cannot go far."""
    rng = np.random.default_rng(seed)
    each = [drive(rng, 0)]
    shared = [Body((0,), last=True)]
    if rng.random() < 0.5:
        first = each[0][0].centers.size
        each.append(drive(rng, first))
        shared = [Body((0, first), last=True), Body((1, first + 1))]
    taken = {number for body in shared for number in body.pulleys}
    bodies = shared
    for path, seats, first in each:
        for k in range(path.centers.size):
            if first + k not in taken and not seats.flat[k]:
                far = (-np.inf, np.inf) if rng.random() < 0.7 else tuple(rng.uniform(0, 3, 2))
                low, high = (-far[0], far[1]) if np.isfinite(far[0]) else far
                bodies = [*bodies, Body((first + k,), float(low), float(high))]
    slopes = Slopes.joined([slopes_of(path, seats, GOOD, first) for path, seats, first in each])
    return each, slopes, bodies


def by_program(slopes: Slopes, bodies: list[Body], chosen: tuple[int, ...]) -> float:
    """The least worst slope with some bodies moved, as a share of what is good."""
    node = np.zeros(1 + max(slopes.here.max(), slopes.there.max()), int)
    for place, k in enumerate(chosen, 1):
        node[[n for n in bodies[k].pulleys if n < node.size]] = place
    rows: list[Float] = []
    most: list[float] = []
    rest = 0.0
    for here, there, run, slope, good in zip(
        node[slopes.here], node[slopes.there], slopes.run, slopes.slope, slopes.good, strict=True
    ):
        if here == there:
            rest = max(rest, abs(slope) / good)
            continue
        row = np.zeros(len(chosen) + 1)
        row[there] += 1 / run
        row[here] -= 1 / run
        for sign in (1.0, -1.0):
            rows.append(np.append(sign * row[1:], -good))
            most.append(-sign * slope)
    ends = [(bodies[k].low_mm, bodies[k].high_mm) for k in chosen]
    cost = np.append(np.zeros(len(chosen)), 1.0)
    found = linprog(cost, A_ub=np.array(rows), b_ub=most, bounds=[*ends, (0, None)])
    return max(float(found.fun), rest) if found.status == 0 else np.inf


def by_force(slopes: Slopes, bodies: list[Body]) -> tuple[int, float] | None:
    """The size of the smallest set that mends all, and the least worst slope with one of that size."""
    first = [k for k, body in enumerate(bodies) if not body.last]
    for choice in (first, range(len(bodies))):
        for size in range(1, len(choice) + 1):
            tried = [by_program(slopes, bodies, c) for c in combinations(choice, size)]
            if min(tried) <= 1 + 1e-7:
                return size, min(tried)
    return None


@pytest.mark.parametrize("seed", range(40))
def test_the_fewest_moves_are_those_of_every_subset_tried(seed: int) -> None:
    each, slopes, bodies = drives(seed)
    pulleys = sum(path.centers.size for path, _, _ in each)
    worst = max(float(np.nanmax(align(path, seats).span)) for path, seats, _ in each)
    assert np.arctan(np.abs(slopes.slope).max()) == pytest.approx(worst, abs=1e-12)
    found = remedy(slopes, bodies, pulleys)
    if worst <= GOOD:
        assert found is not None and not found.moves
        return
    wanted = by_force(slopes, bodies)
    assert (found is None) == (wanted is None)
    if found is None or wanted is None:
        return
    by = np.zeros(pulleys)
    for k, move in found.moves:
        assert bodies[k].low_mm - 1e-6 <= move <= bodies[k].high_mm + 1e-6
        by[list(bodies[k].pulleys)] = move
    assert len(found.moves) == wanted[0]
    for path, seats, first in each:
        after = seats.plane_mm + by[first : first + path.centers.size]
        angles = align(path, Seats(after, seats.tilt, seats.flat)).span
        assert np.nanmax(angles) <= GOOD * (1 + 1e-6)
    share = np.abs(slopes.moved(by)) / slopes.good
    assert share.max() == pytest.approx(wanted[1], abs=2e-5)


@pytest.mark.parametrize("seed", range(12))
def test_a_window_ends_where_the_belt_does_not_line_up_any_more(seed: int) -> None:
    """Its ends are looked for by bisection of the angles themselves, to 0.01 mm."""
    each, slopes, _ = drives(seed)
    (path, seats, first), count = each[0], each[0][0].centers.size
    k = next(place for place in range(1, count) if not seats.flat[place])
    own = Slopes.joined([slopes_of(path, seats, GOOD, first)])
    reach = np.isin(own.here, [k]) | np.isin(own.there, [k])

    def off(by: float) -> float:
        planes = seats.plane_mm.copy()
        planes[k] += by
        found = slopes_of(path, Seats(planes, seats.tilt, seats.flat), GOOD, first)
        return float(np.abs(found.slope[reach]).max() - np.tan(GOOD))

    grid = np.linspace(-15, 15, 6001)
    inside = [by for by in grid if off(float(by)) <= 0]
    told = window(slopes, Body((k,)))
    if told is None:
        assert len(inside) <= 1
        return
    assert told[0] == pytest.approx(min(inside), abs=0.01)
    assert told[1] == pytest.approx(max(inside), abs=0.01)
