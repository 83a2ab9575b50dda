"""What shafts take: guesses make no alarm and no green light; load cases; alternators, banks."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.lay_out.starts import one_belt_with_arm
from jovial_tack.answers.results import Finding, Results
from jovial_tack.answers.verdicts import Verdict, verdicts
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.engine import set_engine
from jovial_tack.document.edits.loads import (
    add_bank,
    add_case,
    look_at,
    remove_bank,
    remove_case,
    rename_bank,
    set_bank,
    set_case,
    set_case_load,
)
from jovial_tack.document.edits.shafts import add_shaft, remove_shaft, set_shaft
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, dump
from support import DEMO, built, solvable, with_own_loads

CATALOGUE = load_catalogue()


def holds(build: Build) -> tuple[Verdict, Results]:
    results = solve(build, None, CATALOGUE)
    return verdicts(build, results, {}, CATALOGUE)[2], results


def found(results: Results, code: str) -> dict[str, Finding]:
    return {f.where: f for f in results.findings if f.code == code}


def taken(build: Build, shaft: str, rpm: float) -> float:
    """What a shaft takes at its own speed, N·m."""
    for case in [solvable(build, drive.id) for drive in build.drives]:
        for place, each in enumerate(case.shafts):
            if each.id == shaft and place != case.driver:
                return float(case.drive.loads[place].torque_nm(np.array(rpm)))
    raise KeyError(shaft)


def test_what_only_a_guess_says_is_not_known_yet_and_becomes_an_alarm_when_typed() -> None:
    guessing = one_belt_with_arm(CATALOGUE)
    guessing = set_arm(guessing, guessing.drives[0].id, torque_nm=7.0)
    open_, results = holds(guessing)
    slips = found(results, "slip")
    assert slips and all(f.level == "unknown" for f in slips.values()) and not results.stops
    assert open_.mark == "unknown" and open_.sentence.startswith("Not known yet, with usual loads")
    assert "type the load of" in open_.detail and not open_.mends
    known, typed = holds(with_own_loads(guessing))
    assert known.mark == "stop" and typed.stops
    for where, finding in found(typed, "slip").items():
        # one figure: what is said of the guess is what is said once it is typed
        assert finding.level == "stop" and slips[where].value == finding.value
        assert finding.message.partition(";")[0] in slips[where].message


def test_what_slips_by_what_was_typed_is_an_alarm_whatever_else_was_guessed() -> None:
    build = one_belt_with_arm(CATALOGUE)
    heavy = {"type": "constant_torque", "torque_nm": 90.0}
    alternator = next(s.id for s in build.shafts if s.kind == "alternator")
    verdict, results = holds(set_shaft(build, alternator, load=heavy))
    assert verdict.mark == "stop" and found(results, "slip")[alternator].level == "stop"
    assert results.drives[0].guessed and alternator not in results.drives[0].guessed


def test_a_jackshafts_belt_is_as_unknown_as_what_it_drives(demo_data: dict[str, Any]) -> None:
    build = set_shaft(built(demo_data), "blower", load=None)
    results = solve(build, None, CATALOGUE)
    assert results.drive("blower").guessed == ("blower",)
    assert not results.drive("accessory").guessed


def test_a_load_case_multiplies_what_it_names(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    own = taken(build, "steering", 3000.0)
    locked = look_at(build, "steering_at_lock")
    factor = CATALOGUE.load_cases["steering_at_lock"].loads["power_steering"]
    assert taken(locked, "steering", 3000.0) == pytest.approx(factor * own)
    assert taken(locked, "pump", 3000.0) == taken(build, "pump", 3000.0)
    # the factor is a usual one: what it alone makes slip is not known yet
    accessory = solve(locked, None, CATALOGUE).drive("accessory")
    assert accessory.guessed == ("steering",) and accessory.situation == "Steering at lock"
    verdict, _ = holds(locked)
    assert verdict.sentence.startswith("Steering at lock: ")
    # a case of the build's own is as sure as what it is made of
    mine = set_case_load(
        add_case(build, "hot day", {"alternator": 1.3}), "hot day", "steering", 2.0
    )
    assert mine.load_case == "hot day" and taken(mine, "steering", 900.0) == pytest.approx(2 * own)
    assert not solve(mine, None, CATALOGUE).drive("accessory").guessed
    none = set_case_load(mine, "hot day", "steering", 0.0)
    assert taken(none, "steering", 900.0) == 0.0
    other = set_case(
        mine, "hot day", loads={"steering": {"type": "constant_torque", "torque_nm": 9}}
    )
    assert taken(other, "steering", 900.0) == 9.0
    # friction and springs: half the friction is half the exponent, so that less holds
    for factors in ({"friction_factor": 0.7}, {"spring_factor": 0.7}):
        worse = set_case(add_case(build, "worn", {}), "worn", **factors)
        mine_, theirs = (solve(b, None, CATALOGUE).drive("blower").grip for b in (worse, build))
        assert mine_ is not None and theirs is not None
        assert (mine_.capacity_factor or 0) < (theirs.capacity_factor or 0)
    # what goes takes its loads with it, and the file is what it was
    assert not remove_shaft(mine, "steering").load_cases[0].loads.keys() & {"steering"}
    assert remove_case(mine, "hot day") == build
    again, _ = build_from_json(json.loads(json.dumps(dump(mine))), CATALOGUE)
    assert again == mine and dump(again) == dump(mine)


def test_a_load_case_that_is_nowhere_is_refused(
    demo_data: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    for bad, where in (
        ({"load_case": "monsoon"}, "load_case: one of all_at_once"),
        ({"load_cases": [{"id": "a", "loads": {"fan": 2.0}}]}, "load_cases[0].loads: shafts of"),
        (
            {"load_cases": [{"id": "a", "loads": {"pump": -1}}]},
            "load_cases[0].loads.pump: a number",
        ),
        (
            {"load_cases": [{"id": "a", "loads": {"idler": 1.0, "pump": {"type": "odd"}}}]},
            "load_cases[0].loads.pump.type: one of table, constant_torque",
        ),
    ):
        with pytest.raises(BuildFileError) as refused:
            build_from_json(demo_data | bad, CATALOGUE)
        assert str(refused.value).startswith(where)
    assert main(["solve", str(DEMO), "--case", "monsoon"]) == 2
    assert capsys.readouterr().err.count("\n") == 1
    assert main(["solve", str(DEMO), "--case", "all_at_once", "--json", "--bare"]) == 1
    told = json.loads(capsys.readouterr().out)
    assert told["drives"][0]["guessed_loads"] == ["steering", "alternator"]


def test_an_alternators_belt_load_follows_from_its_amps(demo_data: dict[str, Any]) -> None:
    build = set_shaft(built(demo_data), "alternator", load=None)
    output = {"rpm": (1500.0, 6000.0), "current_a": (40.0, 160.0)}
    usual = set_shaft(build, "alternator", output=output)
    mine = set_shaft(build, "alternator", output=output | {"volts": 28.0, "efficiency": 0.7})
    watts = 100.0 * 28.0 / 0.7  # half way between the points
    assert taken(mine, "alternator", 3750.0) == pytest.approx(watts / (3750.0 * np.pi / 30))
    rest = CATALOGUE.kinds["alternator"].output
    assert rest is not None
    less = rest["volts"] / rest["efficiency"] * 0.7 / 28.0
    assert taken(usual, "alternator", 3750.0) == pytest.approx(
        less * taken(mine, "alternator", 3750.0)
    )
    assert not solve(mine, None, CATALOGUE).drive("accessory").guessed


def test_alternators_are_summed_by_the_bank_they_charge(demo_data: dict[str, Any]) -> None:
    build = set_engine(built(demo_data), electrical_idle_a=None, electrical_cruise_a=None)
    output = {"rpm": (1000.0, 2000.0), "current_a": (0.0, 60.0)}
    build = set_shaft(build, "alternator", output=output)
    build = set_bank(add_bank(build), "bank", idle_a=90.0, cruise_a=50.0)
    assert not found(solve(build, None, CATALOGUE), "underspeed")  # it charges the car's, not this
    build = set_shaft(build, "alternator", bank="bank")
    short = found(solve(build, None, CATALOGUE), "underspeed")["alternator"]
    assert short.level == "watch" and "where 90 A are asked of bank bank" in short.message
    # by the output usual for its kind it is not known, whatever it says
    usual = set_shaft(build, "alternator", output=None)
    assert found(solve(usual, None, CATALOGUE), "underspeed")["alternator"].level == "unknown"
    renamed = rename_bank(build, "bank", "house")
    assert renamed.shaft("alternator").bank == "house" and "house" in renamed.engine.banks
    gone = remove_bank(renamed, "house")
    assert gone.shaft("alternator").bank is None and not gone.engine.banks
    # a second alternator on another bank gives it nothing
    more, second = add_shaft(renamed, "alternator", CATALOGUE)
    assert more.shaft(second).bank is None
    with pytest.raises(BuildFileError):
        set_shaft(build, "alternator", bank="nowhere")
