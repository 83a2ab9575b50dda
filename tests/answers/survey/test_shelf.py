"""Parts of the shelf: what they become, whether they interchange, what is to buy; stacks of pulleys."""

from __future__ import annotations

import json

import numpy as np
import pytest

from jovial_tack.answers.comparing import bill_of
from jovial_tack.answers.drive.solve import solve, solve_again
from jovial_tack.answers.drive.stack import stack_on
from jovial_tack.answers.interchange import interchange
from jovial_tack.answers.survey.keeping import ways_without
from jovial_tack.answers.survey.putting_on import put_on, spring_of
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.edits.belts import set_belt, set_belt_length
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.routes import new_belt
from jovial_tack.document.edits.shafts import add_shaft, set_shaft
from jovial_tack.document.edits.shelf import add_part, remove_part, set_part, shelve_pulley
from jovial_tack.document.edits.variants import bare
from jovial_tack.document.model import SpringArmTensioner
from support import DEMO, built

CATALOGUE = load_catalogue()
BUILD = built(json.loads(DEMO.read_text("utf-8")))


def test_a_part_takes_the_place_of_a_pulley_and_moves_its_plane() -> None:
    build, old = shelve_pulley(BUILD, "blower", "blower")
    build = set_part(build, old, offset_mm=29.0)
    before = build.drive("blower").pulley("blower")
    build, new = add_part(
        build, "pulley", diameter_mm=70.0, side="ribs", grooves=10, offset_mm=31.5
    )
    after = put_on(build, "blower", new, CATALOGUE).drive("blower").pulley("blower")
    assert (after.diameter_mm, after.grooves, after.part) == (70.0, 10, new)
    assert before.plane_mm is not None
    assert after.plane_mm == pytest.approx(before.plane_mm + 2.5)
    # off the shelf again: what is fitted stays, only its name is forgotten
    kept = remove_part(put_on(build, "blower", new, CATALOGUE), new)
    assert kept.drive("blower").pulley("blower") == changed(after, part=None)


def test_a_part_waits_on_a_bare_shaft_for_its_belt() -> None:
    build, shaft = add_shaft(BUILD, "vacuum_pump", CATALOGUE, (-300.0, 0.0))
    build, part = add_part(build, "pulley", diameter_mm=63.5, grooves=6, offset_mm=8.0)
    build = set_shaft(put_on(build, shaft, part, CATALOGUE), shaft, face_mm=20.0)
    build, drive = new_belt(build, "crank", shaft, CATALOGUE)
    pulley = build.drive(drive).pulley(shaft)
    assert (pulley.diameter_mm, pulley.part, pulley.plane_mm) == (63.5, part, 28.0)


def test_interchange_compares_what_is_known_with_nose_or_fitted_part() -> None:
    build, new = add_part(
        BUILD,
        "pulley",
        side="ribs",
        grooves=6,
        pilot_mm=19.0,
        bolt_circle=(4, 50.0),
        fixing="keyed",
    )
    words = [fit.words for fit in interchange(build, "blower", "blower", new)]
    assert words == ["6 grooves for 10 ribs"]  # nothing else is known to compare with
    build = set_shaft(
        build, "blower", nose_pilot_mm=19.02, nose_bolt_circle=(3, 50.0), nose_fixing="bolted"
    )
    fits = {fit.words: fit.level for fit in interchange(build, "blower", "blower", new)}
    assert fits["pilot 19.0 mm fits"] is None
    assert fits["4 bolts on 50.0 mm against 3 on 50.0 mm"] == "stop"
    assert fits["keyed, where the shaft wants bolted"] == "stop"


def test_two_scale_readings_give_the_spring_and_the_arm_then_has_it() -> None:
    """A scale 100 mm out reads F = (M0 + k·wound)/lever: what went in comes out."""
    torque, rate, lever = 21.0, 0.35, 110.0
    readings = tuple((wound, 1000 * (torque + rate * wound) / lever) for wound in (4.0, 17.0))
    build, part = add_part(BUILD, "tensioner", arm_mm=82.0, lever_mm=lever, readings=readings)
    assert spring_of(build.part(part)) == pytest.approx((torque, rate))
    arm = put_on(build, "arm", part, CATALOGUE).drive("accessory").tensioner
    assert isinstance(arm, SpringArmTensioner)
    unwound = max(arm.stops_deg) if arm.pushes == "ccw" else min(arm.stops_deg)
    assert (arm.angle_deg, arm.arm_mm) == (unwound, 82.0)
    assert arm.torque_nm == pytest.approx(torque) and arm.rate_nm_per_deg == pytest.approx(rate)


def test_the_bill_counts_each_part_once_for_every_place_it_is_needed() -> None:
    build, part = shelve_pulley(BUILD, "accessory", "idler")
    build = set_part(build, part, price=30.0)  # one in hand
    pulley = build.drive("blower").pulley("blower_idler")
    build = with_pulley(build, "blower", changed(pulley, part=part))  # and needed a second time
    build = set_belt(set_belt(build, "accessory", owned=True), "blower", price=61.5)
    bill = bill_of(build)
    pulleys = sum(len(d.pulleys) for d in build.drives)
    assert bill.owned == 2 and bill.owned + bill.to_buy == pulleys + 2
    assert bill.cost == 91.5 and bill.unpriced == pulleys - 2


def test_a_stack_bends_its_shaft_by_the_sum_of_its_pulls() -> None:
    build = set_shaft(BUILD, "crank", bearing_mm=-20.0)
    results = solve(build, None, CATALOGUE)
    stack = stack_on(build, results, "crank")
    assert stack is not None
    moment = np.zeros(3, dtype=complex)
    for drive in results.drives:
        pulley = drive.pulley("crank")
        assert pulley is not None
        plane = build.drive(drive.id).pulley("crank").plane_mm
        assert plane is not None
        for lane in range(3):
            way = np.exp(1j * np.radians(pulley.hub_direction_deg[lane] or 0.0))
            moment[lane] += (pulley.hub_load_n[lane] or 0.0) * way * (plane + 20.0) / 1000
    assert stack.moment_nm == pytest.approx(np.abs(moment))
    limited = set_shaft(build, "crank", hub_moment_limit_nm=float(np.abs(moment).max()) * 0.9)
    found = [f for f in solve(limited, None, CATALOGUE).findings if "bend it" in f.message]
    assert len(found) == 1
    nearer = float(found[0].message.rsplit("pulleys ", 1)[1].split(" mm")[0])
    moved = set_shaft(
        limited, "crank", bearing_mm=-20.0 + nearer + 1
    )  # as good as all pulleys nearer
    assert not [f for f in solve(moved, None, CATALOGUE).findings if "bend it" in f.message]


def test_a_one_way_pulley_turned_the_wrong_way_drives_nothing() -> None:
    pulley = BUILD.drive("accessory").pulley("alternator")
    for way, stops in (("cw", False), ("ccw", True)):
        build = with_pulley(BUILD, "accessory", changed(pulley, one_way=way))
        result = solve(build, None, CATALOGUE).drive("accessory")
        torque = result.pulley("alternator").torque_nm  # type: ignore[union-attr]
        assert (max(t or 0 for t in torque) == 0) is stops
        said = [f.message for f in result.findings if f.code == "wrong_rotation"]
        assert any("runs free" in message for message in said) is stops


def test_the_ways_without_an_accessory_are_solved_and_told() -> None:
    keep, delete, idle = ways_without(BUILD, "steering", CATALOGUE)
    assert keep.build == bare(BUILD) and not keep.changes
    assert all(s.id != "steering" for s in delete.build.shafts)
    assert any("no path" in words for words in delete.changes)
    assert idle.build.shaft("steering").kind == "idler"
    result = solve(idle.build, None, CATALOGUE).drive("accessory")
    assert result.pulley("steering").torque_nm == (0.0, 0.0, 0.0)  # type: ignore[union-attr]
    assert idle.stands.reserve is not None


def test_the_finding_of_a_stack_follows_the_drive_that_moved() -> None:
    """Solving again takes unchanged drives over; what is found of both together must be new."""
    build = set_shaft(BUILD, "crank", bearing_mm=-20.0, hub_moment_limit_nm=1.0)
    first = solve_again(build, None, CATALOGUE, None)
    lighter = set_belt_length(build, "accessory", 1640.0)  # the arm unwinds: less pull
    for live in (False, True):
        again = solve_again(lighter, None, CATALOGUE, first, live=live).results
        (was,) = [f for f in first.results.findings if "bend it" in f.message]
        (now,) = [f for f in again.findings if "bend it" in f.message]
        assert now.value != was.value
        alone = solve(lighter, None, CATALOGUE)
        assert now.value == pytest.approx(
            next(f.value for f in alone.findings if "bend it" in f.message)
        )
