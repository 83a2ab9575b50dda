"""What is drawn is what was computed: lengths, places, states and tensions of every picture."""

from __future__ import annotations

import csv
import json
import math

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.drive.solved import shown_speeds
from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.answers.results import Results
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.model import Build
from jovial_tack.document.targets import CornerAt, ObstacleAt, PulleyAt, drive_of
from jovial_tack.drawing.curves import OVERS, as_csv, rev_curves
from jovial_tack.drawing.front import front_view, shaft_centers
from jovial_tack.drawing.plan import plan_view
from jovial_tack.drawing.ribbon import ribbon
from jovial_tack.drawing.shapes import BeltLoop, Label, Shape
from jovial_tack.sheets import exists
from support import DEMO, built

CATALOGUE = load_catalogue()
WATCH = CATALOGUE.limits.low_reserve_arc_used
BUILDS = {
    "demo": built(json.loads(DEMO.read_text("utf-8"))),
    **{name: make(CATALOGUE) for name, make in LAYOUTS},
}


def solved(build: Build) -> Results:
    return solve(build, shown_speeds(build.engine), CATALOGUE)


def shapes_of(build: Build) -> dict[str, Shape]:
    shapes = front_view(build, solved(build), CATALOGUE)
    keyed = {shape.key: shape for shape in shapes}
    assert len(keyed) == len(shapes)
    return keyed


@pytest.mark.parametrize("name", BUILDS)
def test_the_front_view_draws_belts_at_their_length(name: str) -> None:
    build, results = BUILDS[name], solved(BUILDS[name])
    shapes = shapes_of(build)
    loops = [shape for shape in shapes.values() if isinstance(shape, BeltLoop)]
    assert {drive_of(loop.target) for loop in loops} == {drive.id for drive in build.drives}
    for loop in loops:
        result = results.drive(drive_of(loop.target) or "")
        assert result.rest_path is not None
        straight = sum(math.dist(*span) for span in loop.spans)
        whole = float(result.rest_path.total)
        assert straight == pytest.approx(float(result.rest_path.length.sum()), abs=1e-6)
        assert straight < whole
        for place, (start, end) in enumerate(loop.spans):
            assert result.spans[place].start_mm == pytest.approx(start, abs=1e-6)
            assert result.spans[place].end_mm == pytest.approx(end, abs=1e-6)
    for shape in shapes.values():
        target = shape.target
        if isinstance(target, CornerAt):  # of an outline that is selected
            target = ObstacleAt(target.obstacle)
        assert exists(build, target), shape.key
    texts = [shape.text for shape in shapes.values() if isinstance(shape, Label)]
    assert {shaft.label for shaft in build.shafts} <= set(texts)


def test_only_what_moved_is_drawn_anew() -> None:
    build = BUILDS["demo"]
    before = shapes_of(build)
    x, y = build.shaft("blower").center_mm
    after = shapes_of(move_shaft(build, "blower", x + 3, y - 2))
    moved = {key for key, shape in after.items() if before.get(key) != shape}
    assert "shaft/blower" in moved
    touched = {drive_of(after[key].target) for key in moved} - {None}
    assert touched == {"blower"}  # nothing of the accessory drive
    assert after["shaft/alternator"] == before["shaft/alternator"]


@pytest.mark.parametrize("name", BUILDS)
def test_ribbon_and_curves_tell_the_results(name: str) -> None:
    build, results = BUILDS[name], solved(BUILDS[name])
    for drive in build.drives:
        result = results.drive(drive.id)
        for rpm in (build.engine.idle_rpm, build.engine.redline_rpm):
            shown = ribbon(drive, result, rpm, WATCH)
            assert shown is not None
            assert result.rest_path is not None
            assert shown.length == pytest.approx(float(result.rest_path.total))
            assert [block.pulley for block in shown.blocks][-1] == result.driver
            lane = result.lane(rpm)
            pulls = {pull for _, pull in shown.tension}
            assert {s.tension_n[lane] for s in result.spans} <= pulls | {None}
            places = [place for place, _ in shown.tension]
            assert places == sorted(places)
            for block in shown.blocks:
                pulley = result.pulley(block.pulley)
                assert pulley is not None
                arc = math.radians(pulley.wrap_deg)
                radius = drive.pulley(block.pulley).diameter_mm / 2
                assert (block.end - block.start) / arc == pytest.approx(radius, abs=3.0)
                assert block.start <= block.used_from <= block.end
                middle = (block.start + block.end) / 2
                assert shown.target_at(middle) == PulleyAt(drive.id, block.pulley)
        for over in OVERS:
            curves = rev_curves(build, results, drive.id, over, WATCH)
            rows = list(csv.reader(as_csv(curves).splitlines()))
            assert len({len(row) for row in rows}) == 1
            assert len(rows) == 1 + (len(result.rpm) if curves.curves else 0)
            for curve in curves.curves:
                assert exists(build, curve.target)
                assert curve.at(result.rpm[3]) == curve.values[3]


@pytest.mark.parametrize("name", BUILDS)
def test_the_plan_leans_as_the_figures_say(name: str) -> None:
    build, results = BUILDS[name], solved(BUILDS[name])
    centers = shaft_centers(build, results)
    for drive in build.drives:
        result = results.drive(drive.id)
        profile = CATALOGUE.profile(drive.belt.profile)
        plan = plan_view(build, results, drive.id, profile)
        assert plan is not None
        for pulley in plan.pulleys:
            middle = (pulley.left[0] + pulley.right[0]) / 2
            assert middle == pytest.approx(centers[drive.pulley(pulley.pulley).shaft][0], abs=1e-6)
            assert plan.x_range[0] <= pulley.left[0] <= pulley.right[0] <= plan.x_range[1]
            assert plan.z_range[0] <= pulley.left[1] <= plan.z_range[1]
        for span, computed in zip(plan.spans, result.spans, strict=True):
            assert span.leaves == computed.from_id
            assert span.angle_deg == computed.misalignment_deg
            if span.angle_deg is not None:
                assert (span.state == "good") == (span.angle_deg <= profile.good_angle_deg)


def test_a_smaller_blower_pulley_is_drawn_to_scale() -> None:
    build = BUILDS["demo"]
    small = set_diameter(build, "blower", "blower", 70.0)
    faster = [solved(b).drive("blower").pulley("blower") for b in (build, small)]
    assert faster[0] is not None
    assert faster[1] is not None
    before, after = faster[0].rpm[-1], faster[1].rpm[-1]
    assert before is not None and after is not None and after > before
    radii = [
        getattr(shapes_of(b)["pulley/blower/blower"], "radius", np.nan) for b in (build, small)
    ]
    assert radii[0] > radii[1] == pytest.approx(35.0)
    assert np.isfinite(radii).all()
