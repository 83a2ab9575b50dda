"""A drive in every situation: the same figures as its solve, and what speeding up takes by hand."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.finder.figures import cases_named
from jovial_tack.answers.grip.situation_words import worst_words
from jovial_tack.answers.grip.situations import _speeding, reflected_inertia, situations_of
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
        inertia = reflected_inertia(case, build, catalogue)
        return before, _speeding(case, rpm_per_s, inertia).torques(rpm)[0, place]

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


def test_what_turns_behind_a_step_up_and_on_belts_further_on_is_felt_by_its_energy() -> None:
    """½·J·ω² of all that turns at a radian a second of the pulley is ½ of what the pulley feels."""
    data, catalogue = json.loads(DEMO.read_text("utf-8")), load_catalogue()
    blower = next(shaft for shaft in data["shafts"] if shaft["id"] == "blower")
    blower["load"] = {
        "type": "supercharger", "model": "positive_displacement", "displacement_l_per_rev": 1.2,
        "step_up": 2.5, "impeller_inertia_kg_m2": 0.002,
    }  # fmt: skip
    blower["inertia_kg_m2"] = 0.001
    alternator = next(shaft for shaft in data["shafts"] if shaft["id"] == "alternator")
    alternator["inertia_kg_m2"] = 0.003
    x, y = alternator["center_mm"]
    data["shafts"].append(
        {"id": "fan", "kind": "fan", "center_mm": [x + 200, y], "inertia_kg_m2": 0.01}
    )
    pulleys = [
        {"id": "a", "shaft": "alternator", "diameter_mm": 60.0, "side": "ribs", "grooves": 4}
    ]
    pulleys.append({"id": "f", "shaft": "fan", "diameter_mm": 90.0, "side": "ribs", "grooves": 4})
    belt = {"profile": "PK", "ribs": 4}
    data["drives"].append({"id": "more", "belt": belt, "pulleys": pulleys, "route": ["a", "f"]})
    build = built(data)
    cases = cases_named(build, catalogue)

    def felt(drive: str, pulley: str) -> float:
        place = cases[drive].model.route.index(pulley)
        return float(reflected_inertia(cases[drive], build, catalogue)[place])

    assert felt("blower", "blower") == pytest.approx(0.001 + 0.002 * 2.5**2)
    radii = np.abs(cases["more"].drive.layout.signed_radii)
    slower = radii[0] / radii[1]
    assert felt("accessory", "alternator") == pytest.approx(0.003 + 0.01 * slower**2)
