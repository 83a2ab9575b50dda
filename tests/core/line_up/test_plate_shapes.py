"""Outlines of bracket plates: arcs found again, what turning and mirroring leave, webs, sheets."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jovial_tack.core.arrays import Complex
from jovial_tack.core.line_up.plate_checks import bands, edges, least_web, meets, widths
from jovial_tack.core.line_up.plate_cuts import (
    ArcSlot,
    Cut,
    KeptOut,
    Ring,
    RoundHole,
    Slot,
    usual_pad,
)
from jovial_tack.core.line_up.plate_shape import Shape, shape_plate, spine_of
from jovial_tack.core.line_up.rings import arc_of, flat, ring_of
from jovial_tack.core.line_up.tiles import MARGIN, OVERLAP, PAPERS, STRIP, tile

Webs = list[tuple[str, str]] | None


def drawn_plate(seed: int) -> tuple[list[Cut], Webs, list[KeptOut]]:
    """Holes, slots and arcs drawn at random, joined one way or the other, something in the way."""
    rng = np.random.default_rng(seed)
    cuts: list[Cut] = []
    for name in "abcdefg"[: rng.integers(2, 8)]:
        at, width = complex(*rng.uniform(-90, 90, 2)), float(rng.choice([6.6, 9.0, 11.0, 13.5]))
        pad, kind = usual_pad(width), rng.integers(0, 4)
        if kind == 2:
            cuts.append(Slot(name, width, pad, at, at + complex(*rng.uniform(-40, 40, 2))))
        elif kind == 3:
            turn, sweep = rng.uniform(0, 6), rng.uniform(0.2, 1.4)
            cuts.append(ArcSlot(name, width, pad, at, 60.0, turn, sweep))
        else:
            cuts.append(RoundHole(name, width, pad, at))
    webs = None if seed % 2 else [(a.id, b.id) for a, b in pairwise(cuts)]
    disc = 14 * np.exp(2j * np.pi * np.arange(90) / 90) + complex(*rng.uniform(-60, 60, 2))
    box = np.array([0, 25, 25 + 18j, 18j]) + complex(*rng.uniform(-60, 60, 2))
    return cuts, webs, [KeptOut("disc", disc, 4.0), KeptOut("box", box, 2.0)]


def shaped(cuts: list[Cut], webs: Webs, away: list[KeptOut]) -> Shape:
    return shape_plate(cuts, webs, web_mm=24.0, fillet_mm=5.0, keep_outs=away)


def polygon(ring: Complex) -> shapely.Polygon:
    return shapely.Polygon([(p.real, p.imag) for p in ring])


@pytest.mark.parametrize("seed", range(30))
def test_arcs_found_again_are_the_outline_and_few(seed: int) -> None:
    shape = shaped(*drawn_plate(seed))
    corners = vertices = 0
    for line, ring in zip(shape.lines, shape.rings, strict=True):
        one, other = polygon(line), polygon(flat(ring))
        assert other.is_valid
        # spikes of the library that are thinner than a hair are left out on purpose
        assert one.symmetric_difference(other).area <= 0.01 * one.length
        assert other.exterior.hausdorff_distance(one.exterior) <= 0.03
        corners, vertices = corners + line.size, vertices + len(ring)
    assert vertices < corners / 8


@settings(max_examples=60, deadline=None)
@given(
    st.lists(
        st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=3, max_size=9, unique=True
    ),
    st.floats(1.0, 12.0),
)
def test_a_hull_with_round_corners_comes_back_as_its_sides_and_arcs(
    points: list[tuple[float, float]], radius: float
) -> None:
    """Its area by sides and arcs is that of the hull, a band round it and a disc."""
    hull = shapely.MultiPoint(points).convex_hull
    if not isinstance(hull, shapely.Polygon) or hull.area < 1.0:
        return
    rounded = hull.buffer(radius, quad_segs=64)
    ring = ring_of(np.array([complex(*p) for p in rounded.exterior.coords[:-1]]))
    exact = hull.area + radius * hull.length + np.pi * radius**2
    # sides and arcs may lie 4 µm off their corners, and these 1e-4 of a disc inside of it
    assert ring_area(ring) == pytest.approx(exact, abs=0.004 * rounded.length)
    assert sum(bulge != 0 for _, _, bulge in ring) <= 2 * len(hull.exterior.coords)


def ring_area(ring: Ring) -> float:
    """Area inside of a ring with arcs: that of its corners, and what bulges over each side."""
    corners = np.array([complex(x, y) for x, y, _ in ring])
    area = float(np.imag(np.conj(corners) * np.roll(corners, -1)).sum()) / 2
    for start, end in zip(ring, (*ring[1:], ring[0]), strict=True):
        if start[2] != 0:
            _, radius, _, turn = arc_of(start, end)
            area += radius**2 / 2 * (turn - np.sin(turn))
    return abs(area)


MOVES: list[Callable[[complex], complex]] = [
    lambda p: p * np.exp(0.7j),
    lambda p: p + (300 - 40j),
    lambda p: -p.conjugate(),
]


@pytest.mark.parametrize("move", MOVES, ids=["turned", "shifted", "mirrored"])
@pytest.mark.parametrize("seed", [1, 2, 5, 8])
def test_area_edges_and_web_stay_when_all_is_moved(
    seed: int, move: Callable[[complex], complex]
) -> None:
    cuts, webs, away = drawn_plate(seed)
    cuts = [cut for cut in cuts if isinstance(cut, RoundHole)] or [
        RoundHole("a", 11.0, 16.5, 0j), RoundHole("b", 9.0, 13.5, 60 + 20j)
    ]  # fmt: skip
    webs = None if webs is None else [
        (a.id, b.id) for a, b in pairwise(cuts)
    ]  # fmt: skip
    moved: list[Cut] = [
        RoundHole(cut.id, cut.width_mm, cut.pad_mm, complex(move(cut.middle))) for cut in cuts
    ]
    gone = [
        KeptOut(one.tells, np.array([move(p) for p in one.outline]), one.clear_mm) for one in away
    ]
    first, second = shaped(cuts, webs, away), shaped(moved, webs, gone)
    assert second.metal.area == pytest.approx(first.metal.area, rel=1e-4)
    assert len(second.pieces) == len(first.pieces)
    for a, b in zip(edges(cuts, first), edges(moved, second), strict=True):
        assert b.away_mm == pytest.approx(a.away_mm, abs=0.01)
    one, other = least_web(cuts, first), least_web(moved, second)
    assert (one is None) == (other is None)
    if one is not None and other is not None:
        assert other.width_mm == pytest.approx(one.width_mm, abs=0.05)


@pytest.mark.parametrize("seed", range(12))
def test_pads_stay_whole_and_hulls_keep_out_of_what_is_kept_out(seed: int) -> None:
    cuts, _, away = drawn_plate(seed)
    shape = shaped(cuts, None, away)
    pads = shapely.union_all([spine_of(cut).buffer(cut.pad_mm) for cut in cuts])
    assert pads.difference(shape.metal.buffer(0.02)).is_empty
    for one in away:
        grown = polygon(one.outline).buffer(one.clear_mm)
        within = shape.metal.intersection(grown).difference(pads.buffer(5.5))
        assert within.area < 0.5  # but for where a round corner runs into a pad
    # what it does meet is told, with how deep; and nothing that is further away than its gap
    told = {met.which: met.gap_mm for met in meets(shape, away, 0.05)}
    for k, one in enumerate(away):
        gap = shape.metal.distance(polygon(one.outline))
        assert (k in told) == (gap < one.clear_mm - 0.05)
        if gap > 0 and k in told:
            assert told[k] == pytest.approx(gap, abs=1e-9)


def test_a_web_that_meets_something_is_left_out_and_told() -> None:
    cuts: list[Cut] = [RoundHole(n, 9.0, 13.5, at) for n, at in (("a", 0j), ("b", 90 + 0j))]
    away = [KeptOut("bolt", 45 + 5 * np.exp(2j * np.pi * np.arange(40) / 40), 1.0)]
    shape = shaped(cuts, [("a", "b")], away)
    assert shape.blocked == (("a", "b", 0),) and len(shape.pieces) == 2
    assert least_web(cuts, shape) is not None and now_web(cuts, shape) == 0.0
    assert len(shaped(cuts, [("a", "b")], []).pieces) == 1


def now_web(cuts: list[Cut], shape: Shape) -> float:
    web = least_web(cuts, shape)
    assert web is not None
    return web.width_mm


@pytest.mark.parametrize("seed", [0, 2, 3, 6, 7, 10])
def test_the_least_web_is_the_widest_disc_that_gets_through(seed: int) -> None:
    """Against discs tried on a grid: those that fit inside the outline, joined to their neighbours."""
    cuts, webs, away = drawn_plate(seed)
    shape = shaped(cuts, webs, away)
    web = least_web(cuts, shape)
    assert web is not None
    step, outline = 1.0, shape.metal
    left, foot, right, top = outline.bounds
    xs, ys = np.arange(left, right, step), np.arange(foot, top, step)
    grid = shapely.points(*np.meshgrid(xs, ys))
    room = np.where(shapely.contains(outline, grid), shapely.distance(grid, outline.boundary), -1.0)
    for factor, joins in ((0.9, True), (1.15, False)):
        half = factor * web.width_mm / 2
        assert _gets_through(room >= half, cuts, xs, ys, half) == (joins and web.width_mm > 0)


def _gets_through(
    free: np.ndarray[tuple[int, ...], np.dtype[np.bool_]],
    cuts: list[Cut],
    xs: np.ndarray[tuple[int, ...], np.dtype[np.float64]],
    ys: np.ndarray[tuple[int, ...], np.dtype[np.float64]],
    half: float,
) -> bool:
    from scipy.ndimage import label

    parts, _ = label(free, structure=np.ones((3, 3)))
    reached: list[set[int]] = []
    for cut in cuts:
        near = set()
        for place in cut.spine:
            row, column = np.abs(ys - place.imag).argmin(), np.abs(xs - place.real).argmin()
            near.add(int(parts[row, column]))
        reached.append(near - {0})
    return bool(set.intersection(*reached))


def test_a_bar_with_a_narrow_place_bends_as_one_width() -> None:
    """1/width summed along the way: half of it 40 wide, half 20, is 26.7 throughout."""
    bar = shapely.union_all([shapely.box(0, -20, 50, 20), shapely.box(50, -10, 100, 10)])
    assert widths(bar, 0j, 100 + 0j, 10) == pytest.approx(2 / (1 / 40 + 1 / 20), rel=1e-9)
    assert widths(bar, 0j, 200 + 0j, 10) == 0.0  # it ends on the way


def test_a_ring_round_something_open_is_told_in_pieces_that_fill_nothing() -> None:
    turns = np.exp(2j * np.pi * np.arange(40) / 40)
    links = [40 * np.exp(2j * np.pi * k / 12) + 14 * turns for k in range(12)]
    area = shapely.union_all([polygon(link) for link in links])
    made = shapely.union_all([polygon(part) for part in bands(links)])
    assert isinstance(area, shapely.Polygon) and area.interiors
    assert made.symmetric_difference(area).area < 0.02 * area.area
    assert not made.contains(shapely.Point(0, 0))


@settings(max_examples=80, deadline=None)
@given(
    st.floats(20, 700), st.floats(20, 700), st.sampled_from(sorted(PAPERS)),
    st.floats(0.97, 1.03), st.floats(0.97, 1.03),
)  # fmt: skip
def test_sheets_hold_all_of_a_drawing_and_share_their_crosses(
    wide: float, high: float, paper: str, across: float, upright: float
) -> None:
    low = complex(-120.0, 33.0)
    tiles = tile(low, low + complex(wide, high), paper, (across, upright))
    for x, y in ((low.real, low.imag), (low.real + wide, low.imag + high)):
        shown = [
            sheet
            for sheet, (left, foot) in enumerate(tiles.origins)
            if -1e-6 <= x - left <= tiles.area[0] + 1e-6
            and -1e-6 <= y - foot <= tiles.area[1] + 1e-6
        ]
        assert shown
        on = tiles.on_paper(shown[0], x, y)
        assert MARGIN - 1e-6 <= on[0] <= tiles.size[0] - MARGIN + 1e-6
        assert MARGIN + STRIP - 1e-6 <= on[1] <= tiles.size[1] - MARGIN + 1e-6
    # a sheet fewer in a row would not do
    if tiles.columns > 1:
        lap = OVERLAP / across
        assert (tiles.columns - 1) * (tiles.area[0] - lap) + lap < wide
    for _, x, y in tiles.crosses:
        shared = [
            (left, foot)
            for left, foot in tiles.origins
            if 0 <= x - left <= tiles.area[0] and 0 <= y - foot <= tiles.area[1]
        ]
        assert len(shared) >= 2
    assert bool(tiles.crosses) == (tiles.count > 1)
