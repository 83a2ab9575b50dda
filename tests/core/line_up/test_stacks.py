"""Pieces against every multiset, seats against planes laid by hand, bolts, readings against
simulations.
"""

from __future__ import annotations

from itertools import combinations_with_replacement, product

import numpy as np
import pytest

from jovial_tack.core.line_up.bolts import Hole, fit, standard_length, thread_of
from jovial_tack.core.line_up.pieces import Line, Option, Rule, choose, options
from jovial_tack.core.line_up.readings import Bench, Reading, adjust
from jovial_tack.core.line_up.seats import seating
from jovial_tack.core.line_up.standoffs import Post, bend

Ways = dict[tuple[tuple[int, int], ...], float]


def every_way(need: float, lines: list[Line], rule: Rule) -> Ways:
    found: Ways = {}
    for count in range(rule.most + 1):
        for taken in combinations_with_replacement(range(len(lines)), count):
            numbers = {k: taken.count(k) for k in taken}
            thin = sum(lines[k].thickness_mm < rule.thin_mm for k in taken)
            total = sum(round(1000 * lines[k].thickness_mm) for k in taken)
            if any(n > lines[k].count for k, n in numbers.items()) or thin > rule.most_thin:
                continue
            if abs(total - round(1000 * need)) <= round(1000 * rule.tolerance_mm):
                found[tuple(sorted(numbers.items()))] = total / 1000
    return found


def best_of_all(needs: list[float], ways: list[Ways], lines: list[Line]) -> tuple[float, ...]:
    """Turned, pieces and squares of the best choice, by trying every one."""
    best: tuple[float, ...] | None = None
    for chosen in product(*([None, *found.items()] for found in ways)):
        used = np.zeros(len(lines), int)
        squares = 0.0
        for need, way in zip(needs, chosen, strict=True):
            for k, number in way[0] if way else ():
                used[k] += number
            squares += (way[1] - need) ** 2 if way else 0.0
        if (used <= [line.count for line in lines]).all():
            told = (float(sum(way is None for way in chosen)), float(used.sum()), squares)
            best = told if best is None or told < best else best
    assert best is not None
    return best


@pytest.mark.parametrize("seed", range(30))
def test_pieces_are_the_best_of_every_choice(seed: int) -> None:
    rng = np.random.default_rng(seed)
    lines = [
        Line(round(float(rng.choice([0.5, 1.0, 1.6, 2.0, 3.0, 5.0]) + rng.choice([0, 0.1])), 2),
             int(rng.integers(0, 4)))
        for _ in range(int(rng.integers(1, 6)))
    ]  # fmt: skip
    rule = Rule(0.15, int(rng.integers(1, 5)), int(rng.integers(1, 4)), 2.0)
    needs = [round(float(rng.uniform(-0.2, 9)), 2) for _ in range(3)]
    ways = [every_way(need, lines, rule) for need in needs]
    for need, found in zip(needs, ways, strict=True):
        told = {tuple(sorted(o.pieces)): o.total_mm for o in options(need, lines, rule)}
        assert told == found
    chosen = choose(needs, lines, [rule] * 3, [range(len(lines))] * 3)
    assert chosen.sure
    assert told_of(needs, chosen.options) == pytest.approx(best_of_all(needs, ways, lines))


def told_of(needs: list[float], chosen: tuple[Option | None, ...]) -> tuple[float, ...]:
    pairs = [(o, need) for o, need in zip(chosen, needs, strict=True) if o is not None]
    squares = sum((option.total_mm - need) ** 2 for option, need in pairs)
    return len(needs) - len(pairs), float(sum(option.count for option, _ in pairs)), squares


@pytest.mark.parametrize("count", [2, 3, 5])
def test_a_unit_stands_in_the_plane_of_its_seats(count: int) -> None:
    """With heights in one plane there is no gap, and plane and tilt are that plane's."""
    rng = np.random.default_rng(count)
    ears = rng.uniform(-100, 100, count) + 1j * rng.uniform(-100, 100, count)
    center = complex(*rng.uniform(-50, 50, 2))
    slopes, z = rng.normal(0, 0.01, 2), 1.5
    if count == 2:  # across the line of two ears nothing tells a slope, and none is made
        along = ears[1] - ears[0]
        across = np.array([-along.imag, along.real])
        slopes -= across * (slopes @ across) / (across @ across)
    heights = z + slopes[0] * ears.real + slopes[1] * ears.imag
    found = seating(ears, center, 25.0).at(heights)
    assert found.gap_mm == pytest.approx(np.zeros(count), abs=1e-9)
    wanted = z + slopes[0] * center.real + slopes[1] * center.imag
    assert found.plane_mm == pytest.approx(wanted, abs=1e-6)
    assert found.tilt == pytest.approx([np.arctan(slopes[1]), -np.arctan(slopes[0])], abs=1e-9)


def test_an_ear_close_to_the_line_of_the_others_is_bent_and_steers_nothing() -> None:
    ears = np.array([0j, 100 + 0j, 50 + 8j])
    found = seating(ears, 50 + 60j, 25.0).at(np.array([0.0, 0.0, 0.6]))
    assert found.tilt == pytest.approx([0.0, 0.0], abs=1e-12)
    assert found.gap_mm == pytest.approx([-0.2, -0.2, 0.4])


def test_a_standard_bolt_holds_and_does_not_bottom_and_the_next_shorter_does_not() -> None:
    series = [20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 60.0, 70.0, 80.0]
    for grip in np.linspace(4, 45, 60):
        for depth in (18.0, 24.0, 40.0, None):
            hole = Hole(thread_of("M8"), depth, 16.0)
            found = standard_length(hole, float(grip), series, 2.0)
            does = [length for length in series if holds(hole, float(grip), length)]
            assert found == (min(does) if does else None)


def holds(hole: Hole, grip: float, length: float) -> bool:
    sits = fit(hole, grip, length)
    bottoms = sits.free_mm is not None and sits.free_mm < 2.0 - 1e-9
    return sits.engagement_mm >= hole.needed_mm - 1e-9 and not bottoms and sits.shank_free_mm >= 0


def bench_of(rng: np.random.Generator) -> tuple[Bench, np.ndarray, np.ndarray]:
    """Pulleys with their true planes and slopes (P, 2)."""
    count = int(rng.integers(3, 6))
    centers = 250 * np.exp(2j * np.pi * (np.arange(count) + rng.uniform(-0.2, 0.2, count)) / count)
    rims = rng.normal(8, 1, count)
    bench = Bench(centers, rng.uniform(60, 160, count), rims, np.full(count, 0.1))
    slopes = np.radians(rng.normal(0, 0.4, (count, 2)))
    slopes[0] = rng.normal(0, 0.002, 2)  # found square
    return bench, rng.normal(40, 2, count), slopes


def read(rng: np.random.Generator, bench: Bench, z: np.ndarray, g: np.ndarray) -> list[Reading]:
    """A depth and a square of the first, and lasers and straightedges between all both ways."""

    def plane(k: int, at: complex) -> float:
        away = at - bench.centers[k]
        return float(z[k] + g[k] @ [away.real, away.imag])

    rims = bench.rims + rng.normal(0, bench.rim_sd)
    found = [
        Reading("depth", 0, (float(z[0] + rng.normal(0, 0.5)),), 0.5),
        Reading("square", 0, (), 0.002),
    ]
    for on in range(z.size):
        for at in range(z.size):
            if on == at:
                continue
            gap = bench.centers[at] - bench.centers[on]
            half = bench.diameters[at] / 2 * gap / abs(gap)
            places = [bench.centers[at] - half, bench.centers[at] + half]
            seat = rng.normal(0, 0.002)
            laser = [
                plane(at, p) - plane(on, p) - seat * abs(p - bench.centers[on])
                + rng.normal(0, 0.3) for p in places
            ]  # fmt: skip
            edge = [
                plane(at, p) + rims[at] - plane(on, p) - rims[on] + rng.normal(0, 0.2)
                for p in places
            ]
            found.append(Reading("laser", at, tuple(laser), 0.3, on, 0.002))
            found.append(Reading("straightedge", at, tuple(edge), 0.2, on))
    return found


def test_planes_and_tilts_by_readings_are_as_sure_as_they_are_told() -> None:
    pulls: list[float] = []
    leans: list[float] = []
    for seed in range(150):
        rng = np.random.default_rng(seed)
        bench, z, g = bench_of(rng)
        found = adjust(bench, read(rng, bench, z, g))
        assert np.isfinite(found.z_sd).all() and np.isfinite(found.slope_sd).all()
        pulls += ((found.z - z) / found.z_sd).tolist()
        leans += ((found.slopes - g) / found.slope_sd).ravel().tolist()
    assert 0.9 < np.std(pulls) < 1.1 and 0.9 < np.std(leans) < 1.1


def test_a_reading_that_is_wrong_is_named() -> None:
    named = 0
    alarms = 0
    for seed in range(60):
        rng = np.random.default_rng(1000 + seed)
        bench, z, g = bench_of(rng)
        readings = read(rng, bench, z, g)
        wrong = int(rng.integers(2, len(readings)))
        alarms += adjust(bench, readings).suspect is not None
        off = tuple(value + 5.0 for value in readings[wrong].values)
        one = readings[wrong]
        readings[wrong] = Reading(one.kind, one.at, off, one.sd, one.on, one.seat_sd)
        suspect = adjust(bench, readings).suspect
        assert suspect in (wrong, None)
        named += suspect == wrong
    assert named >= 56 and alarms <= 2


def test_one_laser_does_not_tell_the_tilt_across_it() -> None:
    bench = Bench(np.array([0j, 324 + 0j]), np.array([150.0, 60.0]), np.full(2, np.nan), np.ones(2))
    found = adjust(
        bench,
        [
            Reading("depth", 0, (40.0,), 0.01),
            Reading("square", 0, (), 1e-5),
            Reading("laser", 1, (0.4, 0.5), 0.3, 0, float(np.tan(np.radians(0.1)))),
        ],
    )
    assert found.z_sd[1] == pytest.approx(0.67, abs=0.1)
    assert np.isfinite(found.slope_sd[1, 0]) and np.isnan(found.slope_sd[1, 1])


def test_a_post_bends_as_a_column_does_and_two_across_halve_it() -> None:
    one = Post(0j, 0.0, 60.0, 19.0, 10.0, 8.2)
    alone = bend([one], 800 + 0j, 0j, 100.0, elastic_mpa=206000.0)
    second = np.pi / 64 * (19.0**4 - 10.0**4 + 8.2**4)
    by_hand = (800 * 40 * 60 + 800 * 60**2 / 2) / (206000.0 * second)
    assert alone.tilt[1] == pytest.approx(by_hand, rel=1e-9)
    assert alone.moments == pytest.approx([80_000.0])
    pair = [Post(at, 0.0, 60.0, 19.0, 10.0, 8.2) for at in (-45j, 45j)]
    across = bend(pair, 800 + 0j, 0j, 100.0, elastic_mpa=206000.0)
    assert across.tilt[1] == pytest.approx(by_hand / 2, rel=1e-6)
    along = [Post(at, 0.0, 60.0, 19.0, 10.0, 8.2) for at in (-45 + 0j, 45 + 0j)]
    held = bend(along, 800 + 0j, 0j, 100.0, elastic_mpa=206000.0)
    assert abs(held.tilt[1]) < 0.05 * by_hand
