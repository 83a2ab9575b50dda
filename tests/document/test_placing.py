"""Shafts that fall into place, mirrors, brackets, notes: as geometry, not as pictures."""

from __future__ import annotations

import json
import random

import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.edits.brackets import (
    add_bracket,
    bolt_bracket,
    carry,
    drag_bracket,
    set_offset,
)
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.engine import set_engine
from jovial_tack.document.edits.placing import (
    level_with,
    mirror_build,
    mirror_shaft,
    rim_level_with,
    with_equal_gaps,
)
from jovial_tack.document.edits.shafts import move_shaft, remove_shaft
from jovial_tack.document.model import Build
from jovial_tack.document.snapping import Placed, distances, radius_on, snapped
from jovial_tack.drawing.front import shaft_centers
from support import DEMO, built

CATALOGUE = load_catalogue()
BUILD = built(json.loads(DEMO.read_text("utf-8")))


def test_a_mirrored_engine_that_turns_the_other_way_is_the_same_engine() -> None:
    mirrored = mirror_build(BUILD)
    assert mirror_build(mirrored) == BUILD
    # turning the other way the belts run as they did, only mirrored: nothing but angles may change
    drives = tuple(changed(d, route=tuple(reversed(d.route))) for d in mirrored.drives)
    turned = changed(set_engine(mirrored, crank_rotation="ccw"), drives=drives)
    for before, after in zip(
        solve(BUILD, None, CATALOGUE).drives, solve(turned, None, CATALOGUE).drives, strict=True
    ):
        assert after.cord_length_mm == pytest.approx(before.cord_length_mm, abs=1e-6)
        assert after.tensioner.tension_n == pytest.approx(before.tensioner.tension_n)  # type: ignore[union-attr]
        assert after.tensioner.arm_angle_deg == pytest.approx(  # type: ignore[union-attr]
            180 - before.tensioner.arm_angle_deg  # type: ignore[union-attr, operator]
        )
        for p, q in zip(before.pulleys, after.pulleys, strict=True):
            assert q.arc_used_fraction == pytest.approx(p.arc_used_fraction, rel=1e-6)
            assert q.turns != p.turns
    # turning as before, the arm now pulls on what has become the tight side
    assert solve(mirrored, None, CATALOGUE).stops


def test_places_fall_in_only_within_reach_and_do_what_their_word_says() -> None:
    rng = random.Random(4)
    seen = set()
    for _ in range(400):
        others = tuple(
            Placed(str(k), rng.uniform(-300, 300), rng.uniform(-300, 300), rng.uniform(30, 80))
            for k in range(3)
        )
        asked, radius = (rng.uniform(-300, 300), rng.uniform(-300, 300)), rng.uniform(25, 70)
        near = rng.choice(others)  # a place that is nearly level or plumb with one of them
        asked = (near.x + rng.uniform(-6, 6), asked[1]) if rng.random() < 0.5 else asked
        assert snapped(asked, radius, others, 0.0) == (asked, ())
        (x, y), guides = snapped(asked, radius, others, 4.0)
        assert abs(x - asked[0]) <= 8 and abs(y - asked[1]) <= 8
        me = Placed("", x, y, radius)
        for guide in guides:
            seen.add(guide.word)
            (x0, y0), (x1, y1) = guide.points
            if guide.word in ("level", "rim level"):
                assert y0 == pytest.approx(y1)
            elif guide.word in ("plumb", "rim plumb"):
                assert x0 == pytest.approx(x1)
        gaps = [abs(complex(g.points[0][0] - g.points[1][0], g.points[0][1] - g.points[1][1]))
                for g in guides if g.word == "equal gap"]  # fmt: skip
        if gaps:
            assert gaps[0] == pytest.approx(gaps[1], abs=0.01)
            nearest = sorted(distances(me, other)[3] for other in others)
            assert gaps[0] == pytest.approx(nearest[0], abs=0.01)
    assert seen == {"level", "plumb", "rim level", "rim plumb", "equal gap"}


def test_commands_place_one_shaft_by_another() -> None:
    moved = level_with(BUILD, "alternator", "pump")
    assert moved.shaft("alternator").center_mm[1] == BUILD.shaft("pump").center_mm[1]
    assert moved.shaft("alternator").center_mm[0] == BUILD.shaft("alternator").center_mm[0]
    rims = rim_level_with(BUILD, "alternator", "pump", CATALOGUE)
    tops = [
        rims.shaft(name).center_mm[1] + side * radius_on(rims, name, CATALOGUE)
        for name in ("alternator", "pump")
        for side in (1, -1)
    ]
    assert tops[0] == pytest.approx(tops[2]) or tops[1] == pytest.approx(tops[3])
    centers = shaft_centers(BUILD, solve(BUILD, None, CATALOGUE))
    even = with_equal_gaps(BUILD, "alternator", centers, CATALOGUE)
    me = Placed("", *even.shaft("alternator").center_mm, radius_on(even, "alternator", CATALOGUE))
    gaps = sorted(
        distances(me, Placed(s.id, *centers[s.id], radius_on(BUILD, s.id, CATALOGUE)))[3]
        for s in BUILD.shafts
        if s.id != "alternator"
    )
    assert gaps[0] == pytest.approx(gaps[1], abs=0.01)
    assert mirror_shaft(mirror_shaft(BUILD, "pump"), "pump") == BUILD


def test_a_bracket_takes_its_shafts_along_and_back() -> None:
    build, name = add_bracket(BUILD, "alternator")
    build = carry(build, name, "pump", on=True)
    build = set_offset(build, name, 1, (12.0, -5.0))
    there = bolt_bracket(build, name, 1)
    for shaft in ("alternator", "pump"):
        x, y = BUILD.shaft(shaft).center_mm
        assert there.shaft(shaft).center_mm == (x + 12.0, y - 5.0)
    assert bolt_bracket(there, name, 0) == changed(
        build, brackets=bolt_bracket(there, name, 0).brackets
    )
    x, y = BUILD.shaft("alternator").center_mm
    assert drag_bracket(build, name, "alternator", x + 11, y).bracket(name).at == 1
    # the offset it is bolted on at is typed over: its shafts follow
    further = set_offset(there, name, 1, (20.0, 0.0))
    assert (
        further.shaft("pump").center_mm
        == move_shaft(
            BUILD, "pump", BUILD.shaft("pump").center_mm[0] + 20, BUILD.shaft("pump").center_mm[1]
        )
        .shaft("pump")
        .center_mm
    )
    without: Build = remove_shaft(remove_shaft(build, "alternator"), "pump")
    assert without.brackets == ()
