"""Gaps to what is in the way, against brute-force sampling; and what is said of them."""

from __future__ import annotations

import cmath
import math
import random
from itertools import pairwise
from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.verdicts import verdicts
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.arrays import cross
from jovial_tack.core.drive.arm import place_arm
from jovial_tack.core.drive.path import Path, faults, trace
from jovial_tack.core.lay_out.clearance import (
    Bounds,
    Pieces,
    Room,
    at_a_glance,
    belt_gap,
    belt_gaps,
    belt_pieces,
    disc_gap,
    disc_gaps,
)
from jovial_tack.core.lay_out.outlines import Outline, Outlines, between, is_inside
from jovial_tack.document.edits.obstacles import add_obstacle, set_gap_of_kind
from slides import BACK, CORD, FROM, SLOT, SWING, TO, two_pulleys
from support import built, solvable

CATALOGUE = load_catalogue()


def sampled_belt(path: Path) -> np.ndarray:
    """Points along the cord line a tenth of a millimetre apart, by arcs and straight lines."""
    points = []
    for k in range(path.signed_radii.size):
        a, b = complex(path.start[k]), complex(path.end[k])
        points.append(a + np.linspace(0, 1, max(2, int(abs(b - a) / 0.1))) * (b - a))
        after = (k + 1) % path.signed_radii.size
        rho, wrap = float(path.signed_radii[after]), float(path.wrap[after])
        turn = math.copysign(wrap, rho) * np.linspace(0, 1, max(2, int(abs(rho) * wrap / 0.1)))
        points.append(path.centers[after] + (b - path.centers[after]) * np.exp(1j * turn))
    return np.concatenate(points)


def sampled_outline(points: np.ndarray, closed: bool) -> np.ndarray:
    ends = np.append(points, points[:1]) if closed else points
    lines = [
        a + np.linspace(0, 1, max(2, int(abs(b - a) / 0.1))) * (b - a) for a, b in pairwise(ends)
    ]
    return np.concatenate(lines)


def test_gaps_agree_with_brute_force() -> None:
    rng, compared = random.Random(11), 0
    while compared < 25:
        count = rng.randint(2, 5)
        centers = np.array(
            [
                cmath.rect(rng.uniform(80, 300), 2 * math.pi * (k + rng.random() / 2) / count)
                for k in range(count)
            ]
        )
        rho = np.array([rng.uniform(25, 70) for _ in range(count)])
        path = trace(centers, rho)
        if bool(faults(path, 1.0).any):
            continue
        middle = complex(rng.uniform(-350, 350), rng.uniform(-350, 350))
        sides = rng.randint(2, 7)
        corners = np.array(
            [middle + cmath.rect(rng.uniform(5, 50), 2 * math.pi * k / sides) for k in range(sides)]
        )
        outline = Outline(corners, closed=sides > 2)
        dense = sampled_outline(corners, outline.closed)
        bare = belt_gap(belt_pieces(path, Room.of(1.0, 0.0, 0.0, 0.0)), outline)
        belt = sampled_belt(path)
        away = np.abs(belt[:, None] - dense[None, ::5]).min()
        if bare.gap_mm > 0:
            assert bare.gap_mm == pytest.approx(
                away, abs=0.3
            )  # the outline is thinned by five here
            near = int(np.abs(belt - bare.here).argmin())
            exact = np.abs(dense - belt[near]).min()
            assert bare.gap_mm == pytest.approx(
                min(exact, np.abs(belt - bare.there).min()), abs=0.1
            )
            assert abs(bare.here - bare.there) == pytest.approx(bare.gap_mm, abs=1e-9)
        else:
            assert away < 0.5 or outline.closed
        discs = disc_gap(centers, rho, outline)
        by_hand = min(np.abs(dense - c).min() - r for c, r in zip(centers, rho, strict=True))
        if by_hand > 0:
            assert discs.gap_mm == pytest.approx(by_hand, abs=0.1)
        compared += 1


def test_the_belt_needs_room_for_back_ribs_and_flutter() -> None:
    path = trace(np.array([0j, 400 + 0j]), np.array([-50.0, -50.0]))  # clockwise: ribs on the right
    above, below = (
        Outline(np.array([150 + 80j, 250 + 80j]), False),
        Outline(np.array([150 + 20j, 250 + 20j]), False),
    )
    pieces = belt_pieces(path, Room.of(-1.0, 1.1, 3.5, 0.0))
    assert belt_gap(pieces, above).gap_mm == pytest.approx(30 - 1.1)
    assert belt_gap(pieces, below).gap_mm == pytest.approx(30 - 3.5)
    loose = belt_pieces(path, Room.of(-1.0, 1.1, 3.5, 0.02))
    assert belt_gap(loose, above).gap_mm == pytest.approx(30 - 1.1 - 0.02 * 400, abs=0.05)


def _with(data: dict[str, Any], outline: list[list[float]], **more: Any) -> dict[str, Any]:
    data["obstacles"] = [
        {"id": "neck", "name": "Neck", "kind": "water_neck", "outline_mm": outline, **more}
    ]
    return data


def _square(x: float, y: float, half: float = 10.0) -> list[list[float]]:
    return [[x - half, y - half], [x + half, y - half], [x + half, y + half], [x - half, y + half]]


def test_touching_stops_and_nearness_is_watched_at_the_same_depth_only(
    demo_data: dict[str, Any],
) -> None:
    blower = solve(built(demo_data), None, CATALOGUE).drive("blower")
    span = next(s for s in blower.spans if s.from_id == "blower_idler")
    x, y = np.mean([span.start_mm, span.end_mm], axis=0)
    for away, level in ((0.0, "stop"), (17.0, "watch"), (60.0, None)):
        results = solve(
            built(_with(demo_data, _square(float(x) + away, float(y)))), None, CATALOGUE
        )
        found = [f for f in results.drive("blower").findings if f.code == "clearance"]
        assert [f.level for f in found] == ([level] if level else [])
        if level:
            assert "Neck" in found[0].message
            fits = verdicts(built(demo_data), results, {}, CATALOGUE)[0]
            assert fits.mark in ("stop", "watch")
    behind = solve(
        built(_with(demo_data, _square(float(x), float(y)), z_mm=[0, 40])), None, CATALOGUE
    )
    assert not [f for f in behind.drive("blower").findings if f.code == "clearance"]


def test_usable_travel_is_what_collisions_leave(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    bare = solve(build, None, CATALOGUE).drive("blower")
    arm = build.drive("blower").tensioner
    assert arm is not None
    pivot = complex(*arm.pivot_mm)  # type: ignore[union-attr]
    rest: float = bare.tensioner.arm_angle_deg  # type: ignore[union-attr, assignment]
    # something small that the arm's pulley reaches 12 degrees further on
    reach = arm.arm_mm  # type: ignore[union-attr]
    rim = 45.0
    post = pivot + cmath.rect(reach, math.radians(rest + 12))
    outward = (post - pivot) / abs(post - pivot)
    at = post + rim * outward
    data = _with(demo_data, [[at.real, at.imag], [at.real + 1, at.imag]], closed=False)
    result = solve(built(data), None, CATALOGUE).drive("blower")
    usable = result.usable_travel_deg
    assert usable is not None

    case = solvable(built(demo_data), "blower")
    assert case.drive is not None
    assert case.arm is not None

    def gap(degrees: float) -> float:
        path = place_arm(case.drive.layout, case.arm, np.array([math.radians(degrees)])).path  # type: ignore[arg-type]
        one = trace(path.centers[0], path.signed_radii)
        flutter = CATALOGUE.limits.flutter_share
        room = Room.of(case.drive.layout.driver_sign, 1.1, 3.5, flutter)
        pieces = belt_pieces(one, room)
        outline = Outline(np.array([at, at + 1]), False)
        rims = np.array([p.diameter_mm / 2 for p in case.pulleys])
        return min(belt_gap(pieces, outline).gap_mm, disc_gap(one.centers, rims, outline).gap_mm)

    ends = sorted(usable)
    assert ends[0] - 1e-9 <= rest <= ends[1] + 1e-9
    limited = [e for e in usable if min(abs(e - s) for s in arm.stops_deg) > 0.2]  # type: ignore[union-attr]
    assert limited
    for end in limited:
        way = 1 if end > rest else -1
        assert gap(end - 0.01 * way) >= 0
        assert gap(end + 0.1 * way) < 0


def _post(at: complex) -> dict[str, Any]:
    """A thin post as an obstacle: an open line of a hundredth of a millimetre."""
    return {
        "id": "post", "kind": "other", "closed": False, "needed_mm": 0,
        "outline_mm": [[at.real, at.imag], [at.real + 0.01, at.imag]],
    }  # fmt: skip


def test_what_stands_in_a_slot_shortens_the_travel_and_the_belts_that_fit() -> None:
    data = two_pulleys(SLOT, None)
    driven = next(p for p in data["drives"][0]["pulleys"] if p["shaft"] != "crank")
    outside = driven["diameter_mm"] / 2 + CORD + BACK  # the belt's back, where it wraps the pulley
    free = belts_to_order(built(data), CATALOGUE)[data["drives"][0]["id"]]
    assert free is not None
    data["drives"][0]["belt"]["effective_length_mm"] = free.effective_length_mm
    start, end = complex(*FROM), complex(*TO)
    along = (end - start) / abs(end - start)
    at = solve(built(data), None, CATALOGUE).drives[0].tensioner
    share = at.travel.travel_fraction  # type: ignore[union-attr]
    # just behind where the belt puts it: whatever lies further on is lost
    post = start + (share * abs(end - start) + 1.5 + outside) * along
    data["obstacles"] = [_post(post)]
    result = solve(built(data), None, CATALOGUE).drives[0]
    assert result.usable_travel_fraction is not None
    low, high = result.usable_travel_fraction
    assert low == 0.0
    assert (high - share) * abs(end - start) == pytest.approx(1.5, abs=0.02)
    shorter = belts_to_order(built(data), CATALOGUE)[data["drives"][0]["id"]]
    assert shorter is not None
    assert shorter.effective_length_mm <= free.effective_length_mm
    data["drives"][0]["belt"]["effective_length_mm"] = shorter.effective_length_mm
    stays = solve(built(data), None, CATALOGUE).drives[0].tensioner.travel  # type: ignore[union-attr]
    assert stays is not None and stays.travel_fraction <= high


def test_a_body_swings_with_its_shaft_and_keeps_its_gap() -> None:
    data = two_pulleys(SWING, None)
    drive = data["drives"][0]
    order = belts_to_order(built(data), CATALOGUE)[drive["id"]]
    assert order is not None
    drive["belt"]["effective_length_mm"] = order.effective_length_mm
    shaft = next(s for s in data["shafts"] if s["id"] == drive["tensioner"]["shaft"])
    drawn, pivot = complex(*shaft["center_mm"]), complex(*SWING["pivot_mm"])  # type: ignore[misc]
    travel = solve(built(data), None, CATALOGUE).drives[0].tensioner.travel  # type: ignore[union-attr]
    now = complex(*travel.center_mm)  # type: ignore[union-attr]
    corners = [drawn + 120 + dx + 1j * dy for dx, dy in ((0, 0), (60, 0), (60, 40), (0, 40))]
    turn = cmath.rect(1.0, cmath.phase(now - pivot) - cmath.phase(drawn - pivot))
    moved = np.array([pivot + (c - pivot) * turn for c in corners])
    wall = np.array([moved[1] + 9 * (moved[1] - moved[0]) / 60, moved[2] + 60 + 80j])
    data["obstacles"] = [
        {"id": "body", "name": "Case", "kind": "body", "moves_with": shaft["id"],
         "outline_mm": [[c.real, c.imag] for c in corners]},
        {"id": "wall", "kind": "frame_rail", "closed": False, "needed_mm": 10,
         "outline_mm": [[c.real, c.imag] for c in wall]},
    ]  # fmt: skip
    result = solve(built(data), None, CATALOGUE).drives[0]
    found = next(c for c in result.clearances if c.of == "body")
    by_hand = np.abs(
        sampled_outline(moved, True)[:, None] - sampled_outline(wall, False)[None, ::3]
    ).min()
    assert found.gap_mm == pytest.approx(by_hand, abs=0.1) and found.gap_mm < 9.5
    assert any("Case passes" in f.message for f in result.findings if f.code == "clearance")


def test_the_wrench_needs_room_to_wind_the_arm_back(demo_data: dict[str, Any]) -> None:
    arm = demo_data["drives"][1]["tensioner"]
    rest = solve(built(demo_data), None, CATALOGUE).drive("blower").tensioner.arm_angle_deg  # type: ignore[union-attr]
    wound = max(arm["stops_deg"]) if arm["pushes"] == "cw" else min(arm["stops_deg"])
    arm |= {"wrench_mm": 900.0, "wrench_deg": 0.0}
    middle = math.radians((rest + wound) / 2)
    post = complex(*arm["pivot_mm"]) + cmath.rect(880.0, middle)
    demo_data["obstacles"] = [_post(post)]
    said = [f.message for f in solve(built(demo_data), None, CATALOGUE).drive("blower").findings]
    assert any("the wrench on the arm of" in message for message in said)
    arm["wrench_mm"] = 700.0
    said = [f.message for f in solve(built(demo_data), None, CATALOGUE).drive("blower").findings]
    assert not any("the wrench on" in message for message in said)


def _plain_gap(pieces: Pieces, outline: Outline) -> float:
    """The least gap of every piece to every side, none left out."""
    start, end = outline.edges
    a, b = pieces.start[:, None], pieces.end[:, None]
    away, here, there = between(a, b, start, end)
    left = cross(b - a, there - here) > 0
    gap = away - np.where(left, pieces.left[:, None], pieces.right[:, None])
    inside = is_inside(pieces.start, outline) if outline.closed else np.zeros(1, dtype=np.bool_)
    if inside.any():
        deep = np.where(inside, away.min(axis=1), -np.inf)
        k = int(np.argmax(deep))
        gap[k] = away[k] - 2 * deep[k] - max(pieces.left[k], pieces.right[k])
    return float(gap.min())


def test_many_outlines_at_once_are_each_as_by_itself() -> None:
    rng = random.Random(23)
    path = trace(np.array([0j, 320 + 30j, 120 + 260j]), np.array([70.0, 45.0, 55.0]))
    pieces = belt_pieces(path, Room.of(1.0, 1.1, 3.5, 0.01))
    outlines = []
    for _ in range(60):
        middle = complex(rng.uniform(-100, 420), rng.uniform(-120, 380))
        sides = rng.choice([2, 3, 4, 6, 60, 300])
        points = [
            middle + cmath.rect(rng.uniform(4, 60), 2 * math.pi * k / sides) for k in range(sides)
        ]
        outlines.append(Outline(np.array(points), closed=sides > 2))
    together = Outlines.of(outlines)
    centers, rims = path.centers, np.array([70.0, 45.0, 55.0])
    for one, belt, disc in zip(
        outlines, belt_gaps(pieces, together), disc_gaps(centers, rims, together), strict=True
    ):
        assert belt == belt_gap(pieces, one) and disc == disc_gap(centers, rims, one)
        assert belt.gap_mm == pytest.approx(_plain_gap(pieces, one), abs=1e-9)


def test_parts_left_out_and_belts_looked_at_together_change_no_gap() -> None:
    rng, near = random.Random(31), 0
    shapes = [
        (np.array([0j, 320 + 30j, 120 + 260j]), np.array([70.0, 45.0, 55.0])),
        (np.array([0j, 150 + 40j, -60 + 330j, -140 + 90j]), np.array([-60.0, -35.0, -50.0, 30.0])),
    ]
    paths = [trace(*shape) for shape in shapes]
    rooms = [Room.of(1.0, 1.1, 3.5, 0.01), Room.of(-1.0, 1.3, 4.1, 0.02)]
    both = Path.beside(paths)
    room = Room.beside(rooms, both.ring)
    for _ in range(200):
        middle = complex(rng.uniform(-200, 420), rng.uniform(-120, 400))
        sides, wide = rng.randint(2, 6), rng.choice([8, 40, 300])
        points = np.array(
            [middle + cmath.rect(wide, 2 * math.pi * k / sides + 0.2) for k in range(sides)]
        )
        outline = Outline(points, closed=sides > 2)
        together = Outlines.of([outline, outline], [0, 1])
        bounds = Bounds.of(both, room, together)
        pieces = belt_pieces(both, room, bounds.parts(np.array([0, 1])))
        found = belt_gaps(pieces, together, bounds.at_most)
        glance = at_a_glance(both, np.zeros(7), room, together)
        for k, (path, own) in enumerate(zip(paths, rooms, strict=True)):
            whole = belt_gap(belt_pieces(path, own), outline)
            assert found[k].gap_mm == pytest.approx(whole.gap_mm, abs=1e-9)
            least = float(bounds.at_least[k].min())
            assert least <= whole.gap_mm + 1e-9 and glance[k] <= max(whole.gap_mm, 0) + 1e-9
            near += whole.gap_mm < 40
    assert near > 60


def test_a_gap_is_wanted_from_a_whole_kind(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    for _ in range(2):
        build, _name = add_obstacle(build, CATALOGUE, "exhaust")
    build = set_gap_of_kind(build, "exhaust", 33.0)
    build, last = add_obstacle(build, CATALOGUE, "exhaust")
    gaps = {o.id: o.needed_mm for o in build.obstacles}
    assert gaps[last] == 33.0 and list(gaps.values()).count(33.0) == 3 and gaps["hood"] is None
