"""A drive in every situation: the same figures as its solve, and what speeding up takes by hand."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.finder.figures import cases_named
from jovial_tack.answers.grip.situation_words import worst_words
from jovial_tack.answers.grip.situations import _speeding, situations_of
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build
from support import DEMO, built


def demo() -> Build:
    return built(json.loads(DEMO.read_text("utf-8")))


@pytest.mark.parametrize("drive", ["accessory", "blower"])
def test_as_it_is_and_wet_are_what_the_solve_says(drive: str) -> None:
    build, catalogue = demo(), load_catalogue()
    told = situations_of(build, drive, catalogue)
    result = solve(build, None, catalogue).drive(drive)
    assert told is not None and result.grip is not None
    plain = told.each[0]
    worst = max(p.worst_arc_used or 0.0 for p in result.pulleys)
    assert plain.worst[0] == pytest.approx(worst, rel=1e-6)
    wet, design, dry = result.grip.slip_from_rpm
    assert (plain.slips[0][0] if plain.slips else None) == design
    assert told.band == (wet, dry)
    # each but the first is no better than the next
    shares = [one.worst[0] for one in told.each[1:]]
    assert shares == sorted(shares, reverse=True)
    assert told.over.shape == (len(told.each), told.grid.size, len(build.drive(drive).route))


def test_a_load_case_of_the_build_is_what_choosing_it_gives() -> None:
    build, catalogue = demo(), load_catalogue()
    told = situations_of(build, "accessory", catalogue)
    assert told is not None
    lock = next(one for one in told.each if one.key == "steering_at_lock")
    chosen = solve(changed(build, load_case="steering_at_lock"), None, catalogue)
    worst = max(p.worst_arc_used or 0.0 for p in chosen.drive("accessory").pulleys)
    assert lock.worst[0] == pytest.approx(worst, rel=1e-6)
    assert lock.usual


def test_speeding_up_takes_inertia_times_acceleration_and_one_way_pulleys_give_nothing_back() -> (
    None
):
    build, catalogue = demo(), load_catalogue()
    build = set_shaft(build, "alternator", inertia_kg_m2=0.004)

    def torque(build: Build, rpm_per_s: float) -> tuple[float, float]:
        case = cases_named(build, catalogue)["accessory"]
        place = case.model.route.index("alternator")
        rpm = np.array([2600.0])
        before = case.drive.torques(rpm)[0, place]
        return before, _speeding(case, rpm_per_s).torques(rpm)[0, place]

    case = cases_named(build, catalogue)["accessory"]
    ratio = case.drive.ratios[case.model.route.index("alternator")]
    before, after = torque(build, 3000.0)
    assert after - before == pytest.approx(0.004 * ratio * 3000.0 * 2 * np.pi / 60)
    assert torque(build, -8000.0)[1] < 0
    pulley = build.drive("accessory").pulley("alternator")
    turns = "cw" if build.engine.crank_rotation == "cw" else "ccw"
    free = with_pulley(build, "accessory", changed(pulley, one_way=turns))
    assert torque(free, -8000.0)[1] == 0.0


def test_the_verb_names_the_worst(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["cases", str(DEMO), "--drive", "blower", "--json"]) == 1
    told = json.loads(capsys.readouterr().out)
    worst = next(case for case in told["cases"] if case["id"] == told["worst"])
    assert worst["worst_arc_used"] == max(case["worst_arc_used"] for case in told["cases"])
    assert len(worst["arc_used"]["blower"]) == len(told["rpm"])
    assert main(["cases", str(DEMO), "--drive", "accessory"]) == 0
    said = capsys.readouterr().out
    mine = situations_of(demo(), "accessory", load_catalogue())
    assert mine is not None
    assert worst_words(demo(), mine)[1:] in said
    assert "wet from" in said and "new and dry never" in said
