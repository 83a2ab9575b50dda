"""The rev plan, boost and pulleys of a build; the blower's power fed back into its belt."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.ratios.charge import boost_at
from jovial_tack.answers.ratios.pulleys import pulleys_at_hand, pulleys_for
from jovial_tack.answers.ratios.rev_plan import rev_plan
from jovial_tack.answers.ratios.underdrive import underdrives
from jovial_tack.answers.run_check.calibrating import calibrated
from jovial_tack.answers.run_check.judging import drive_case
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.errors import BuildFileError, GeometryError, JovialTackError
from jovial_tack.core.ratios.alternator import speed_for
from jovial_tack.core.ratios.blower import Air, AirEngine, Centrifugal, Compression, charge_at
from jovial_tack.core.run_check.points import Log
from jovial_tack.core.run_check.slip import judge_pull
from jovial_tack.document.edits.changing import changed, with_drive, with_pulley
from jovial_tack.document.edits.curves import with_curve
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.model import Build, OutputCurve, dump
from jovial_tack.files.build_file import read_build
from support import DEMO, built

CATALOGUE = load_catalogue()
CENTRIFUGAL = {
    "type": "supercharger", "model": "centrifugal", "step_up": 4.1,
    "known_point": {"unit_rpm": 12500, "boost_kpa": 70}, "adiabatic_efficiency": 0.7,
    "mechanical_efficiency": 0.93, "intercooler_effectiveness": 0.0, "map_csv": None,
}  # fmt: skip
DISPLACEMENT = {
    "type": "supercharger", "model": "positive_displacement", "displacement_l_per_rev": 1.4,
    "volumetric_efficiency": 0.9, "adiabatic_efficiency": 0.6, "mechanical_efficiency": 0.92,
}  # fmt: skip


def blown(data: dict[str, Any], load: dict[str, Any]) -> dict[str, Any]:
    next(s for s in data["shafts"] if s["id"] == "blower")["load"] = load
    return data


@pytest.mark.parametrize("load", [CENTRIFUGAL, DISPLACEMENT])
def test_the_power_the_air_takes_is_the_load_of_the_belt(
    demo_data: dict[str, Any], load: dict[str, Any]
) -> None:
    build = built(blown(demo_data, load) | {"air": {"pressure_kpa": 84.0, "temperature_c": 12.0}})
    speeds = (900.0, 3000.0, 6600.0)
    charge = boost_at(build, CATALOGUE, speeds)
    pulley = solve(build, speeds, CATALOGUE).drive("blower").pulley("blower")
    assert pulley is not None
    assert pulley.power_kw == pytest.approx(charge.power_kw, rel=1e-9)
    assert pulley.rpm == pytest.approx(charge.blower_rpm)
    assert charge.boost_kpa[2] > 20


@pytest.mark.parametrize("load", [CENTRIFUGAL, DISPLACEMENT])
def test_pulleys_for_a_boost_are_boost_for_pulleys_run_backwards(
    demo_data: dict[str, Any], load: dict[str, Any]
) -> None:
    build = built(blown(demo_data, load))
    pairs = pulleys_for(build, CATALOGUE, 50.0, 6000.0)
    assert {(p.changed, p.exact) for p in pairs} == {
        ("blower", True), ("blower", False), ("crank", True), ("crank", False),
    }  # fmt: skip
    for pair in pairs:
        tried = set_diameter(build, "blower", "blower", pair.blower_mm)
        tried = set_diameter(tried, "blower", "crank", pair.crank_mm)
        made = float(boost_at(tried, CATALOGUE, (6000.0,)).boost_kpa[0])
        assert made == pytest.approx(pair.boost_kpa, abs=1e-6)
        assert (abs(made - 50.0) < 0.1) or not pair.exact
        if not pair.exact:
            size = pair.blower_mm if pair.changed == "blower" else pair.crank_mm
            assert size % 2.5 == pytest.approx(0.0, abs=1e-9)


def test_wishes_that_cannot_be_had_say_what_can(demo_data: dict[str, Any]) -> None:
    build = built(blown(demo_data, CENTRIFUGAL))
    over = pulleys_for(build, CATALOGUE, 160.0, 6600.0)[0]
    assert over.problem is not None and "over its 16500 rpm limit" in over.problem
    most = float(over.problem.rsplit("; ", 1)[1].split(" kPa")[0])
    assert pulleys_for(build, CATALOGUE, most - 0.2, 6600.0)[0].problem is None
    small = changed(build.drive("blower").belt, profile="SAE 0.500")  # wants 76 mm at the least
    build = with_drive(build, changed(build.drive("blower"), belt=changed(small, ribs=1)))
    narrow = pulleys_for(build, CATALOGUE, 110.0, 6600.0)[0]
    assert narrow.blower_mm < 76.0 and narrow.problem is not None
    there = float(narrow.problem.rsplit("there ", 1)[1].split(" kPa")[0])
    at_least = set_diameter(build, "blower", "blower", 76.0)
    assert float(boost_at(at_least, CATALOGUE, (6600.0,)).boost_kpa[0]) == pytest.approx(
        there, abs=0.06
    )
    with pytest.raises(
        GeometryError, match=r"no pulleys make .*kPa is the most within its speed limit"
    ):
        pulleys_for(built(blown(demo_data, DISPLACEMENT)), CATALOGUE, 1990.0, 6600.0)
    for key, value in (("known_point", None), ("adiabatic_efficiency", 0.0), ("step_up", "x")):
        with pytest.raises(BuildFileError, match=key):
            built(blown(demo_data, CENTRIFUGAL | {key: value}))


def test_the_plan_tells_every_shaft_and_its_margin(demo_data: dict[str, Any]) -> None:
    plan = {shaft.id: shaft for shaft in rev_plan(built(demo_data), CATALOGUE)}
    results = solve(built(demo_data), None, CATALOGUE)
    for drive in results.drives:
        for pulley in drive.pulleys:
            if pulley.id in plan:
                assert plan[pulley.id].ratio == pytest.approx(pulley.speed_ratio)
                assert plan[pulley.id].redline_rpm == pytest.approx(pulley.rpm[-1])
    assert plan["crank"].ratio == 1.0 and plan["crank"].margin is None
    alternator = plan["alternator"]
    assert alternator.margin == pytest.approx(18000 / alternator.redline_rpm - 1)  # type: ignore[operator]


def test_the_verbs_tell_it(
    demo_data: dict[str, Any], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "blown.jtack"
    path.write_text(json.dumps(blown(demo_data, CENTRIFUGAL)))
    assert main(["plan", str(path), "--json"]) == 0
    assert len(json.loads(capsys.readouterr().out)["shafts"]) == len(demo_data["shafts"])
    assert main(["boost", str(path), "--json", "--rpm", "2600,6600"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said["rpm"] == [2600, 6600] and len(said["power_kw"]) == 2
    assert main(["boost", str(path), "--json", "--target-kpa", "60", "--at", "6000"]) == 0
    first = json.loads(capsys.readouterr().out)["pulleys"][0]
    assert first["boost_kpa"] == pytest.approx(60.0, abs=0.1) and first["crank_mm"] == 165.0
    assert main(["plan", str(path), "--json", "--underdrive", "accessory"]) == 0
    steps = json.loads(capsys.readouterr().out)["underdrive"]
    assert len(steps) == 5 and steps[-1]["saved_redline_kw"] > steps[0]["saved_redline_kw"] > 0
    assert main(["plan", str(path), "--underdrive", "nothing"]) == 2
    assert "accessory, blower" in capsys.readouterr().err
    assert main(["boost", str(DEMO), "--json", "--rpm", "2600,6600"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said["surge_margin"][1] > 0.5 and 0.7 < said["map_efficiency"][1] < 0.76
    assert main(["boost", str(DEMO), "--pulleys"]) == 0
    assert "on the shelf" in capsys.readouterr().out
    for wrong in (
        ["--target-kpa", "0"],
        ["--target-kpa", "60", "--pulleys"],
        ["--at", "6000"],
        ["--target-kpa", "60", "--at", "1,2"],
    ):
        assert main(["boost", str(path), *wrong]) == 2
        assert len(capsys.readouterr().err.splitlines()) == 1
    demo_data["engine"].pop("displacement_l")
    path.write_text(json.dumps(demo_data))
    assert main(["boost", str(path)]) == 2
    assert "displacement_l" in capsys.readouterr().err


def test_duties_are_judged_and_the_mend_meets_them(demo_data: dict[str, Any]) -> None:
    for shaft in demo_data["shafts"]:
        if shaft["id"] == "pump":
            shaft["min_rpm"] = 1200.0
        if shaft["id"] == "alternator":
            shaft["output"] = {"rpm": [1500, 2500, 5000], "current_a": [10, 60, 110]}
    demo_data["engine"] |= {"electrical_idle_a": 50.0, "electrical_cruise_a": 111.0}
    build = built(demo_data)
    slow = [f for f in solve(build, None, CATALOGUE).findings if f.code == "underspeed"]
    assert [f.level for f in slow] == ["watch"] * 3
    pump, alternator, never = slow
    plan = {shaft.id: shaft for shaft in rev_plan(build, CATALOGUE)}
    idle = 850 * plan["alternator"].ratio  # type: ignore[operator]
    assert plan["alternator"].output_a == pytest.approx((10 + 50 * (idle - 1500) / 1000, 110.0))
    assert pump.limit == 1200.0 and alternator.limit == pytest.approx(2300.0)
    assert "no higher speed makes it" in never.message
    # a curve that falls gives more at lower speeds, down to none: no mend either
    falling = np.array([0.0, 2000.0, 6000.0]), np.array([120.0, 60.0, 20.0])
    assert speed_for(*falling, 80.0, above_rpm=2500.0) is None
    assert speed_for(*falling, 40.0, above_rpm=4500.0) is None
    for finding, id in ((pump, "pump"), (alternator, "alternator")):
        size = float(finding.message.split("; ")[1].split(" mm")[0])
        mended = set_diameter(build, "accessory", id, size - 0.1)
        left = solve(mended, None, CATALOGUE).findings
        assert not any(f.code == "underspeed" and f.message == finding.message for f in left)
        assert sum(f.code == "underspeed" for f in left) == 2
        worse = set_diameter(build, "accessory", id, size + 0.1)
        assert sum(f.code == "underspeed" for f in solve(worse, None, CATALOGUE).findings) == 3


def test_alternators_meet_the_demand_together(demo_data: dict[str, Any]) -> None:
    """Each is asked only what the others leave; one behind a pulley that runs free gives nothing."""
    demo_data["engine"] |= {"electrical_idle_a": 90.0, "electrical_cruise_a": 10.0}
    for shaft in demo_data["shafts"]:
        if shaft["id"] in ("alternator", "pump"):
            shaft |= {"kind": "alternator", "load": {"type": "constant_torque", "torque_nm": 2.0}}
            shaft["output"] = {"rpm": [500, 2000, 5000], "current_a": [10, 60, 110]}
    build = built(demo_data)

    def asked(build: Build) -> dict[str, str]:
        found = solve(build, None, CATALOGUE).findings
        return {f.where: f.message for f in found if f.code == "underspeed"}

    gives = {s.id: s.output_a[0] for s in rev_plan(build, CATALOGUE) if s.output_a is not None}
    both = sum(gives.values())
    assert set(gives) == {"alternator", "pump"} and both > 60
    enough = changed(build, engine=changed(build.engine, electrical_idle_a=both - 1.0))
    assert not asked(enough)
    short = changed(build, engine=changed(build.engine, electrical_idle_a=both + 5.0))
    told = asked(short)
    assert set(told) == {"alternator", "pump"}
    assert f"beside {gives['pump']:.0f} A of the others" in told["alternator"]
    size = float(told["pump"].split("; ")[1].split(" mm")[0])
    assert not asked(set_diameter(short, "accessory", "pump", size - 0.1))
    turns = solve(enough, None, CATALOGUE).drive("accessory").pulley("pump").turns  # type: ignore[union-attr]
    free = changed(
        enough.drive("accessory").pulley("pump"), one_way={"cw": "ccw", "ccw": "cw"}[turns]
    )
    alone = with_pulley(enough, "accessory", free)
    assert "alternator" in asked(alone) and "of the others" not in asked(alone)["alternator"]


def test_former_pulleys_and_what_a_smaller_crank_pulley_saves(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    plan = {shaft.id: shaft for shaft in rev_plan(build, CATALOGUE)}
    former = set_diameter(
        set_diameter(build, "accessory", "crank", 170.0), "accessory", "alternator", 58.0
    )
    then = {shaft.id: shaft.ratio for shaft in rev_plan(former, CATALOGUE)}
    for id in ("pump", "alternator"):
        assert plan[id].former_ratio == then[id] != plan[id].ratio
    assert plan["blower"].over_former is None  # its pulleys were not changed
    crank = build.drive("accessory").pulley("crank").diameter_mm
    compared = 0
    for step in underdrives(build, "accessory", CATALOGUE):
        tried = set_diameter(build, "accessory", "crank", step.driver_mm)
        now, later = (solve(b, (6600.0,), CATALOGUE).drive("accessory") for b in (build, tried))
        if later.pulleys and now.pulleys:  # today's belt still lies on the smaller pulley
            taken = [r.pulley("crank").power_kw[0] for r in (now, later)]  # type: ignore[union-attr]
            assert step.saved_redline_kw == pytest.approx(taken[0] - taken[1], rel=1e-6)  # type: ignore[operator]
            compared += 1
        short = [s for shaft in rev_plan(tried, CATALOGUE) for s in shaft.short + shaft.maybe_short]
        assert len(short) == len(step.too_slow)
        assert step.driver_mm < crank and step.slower > 0
    assert compared >= 2


@pytest.mark.slow
def test_a_map_bounds_the_wish_and_pulleys_on_the_shelf_are_tried(
    demo_data: dict[str, Any],
) -> None:
    build = built(demo_data)  # its blower has a map, its shelf two pulleys for it
    wish = pulleys_for(build, CATALOGUE, 170.0, 6600.0)[0]
    assert wish.problem is not None and "choke line" in wish.problem
    nearest = float(wish.problem.rsplit("; ", 1)[1].split(" kPa")[0])
    within = pulleys_for(build, CATALOGUE, nearest - 1.0, 6600.0)
    assert within[0].problem is None
    parts = {p.part: p for p in pulleys_at_hand(build, CATALOGUE, 6600.0) if p.part}
    assert {part.diameter_mm for part in build.shelf if part.label in parts} == {72.0, 80.0}
    pair = next(p for p in parts.values() if p.blower_mm == 72.0)
    fitted = set_diameter(build, "blower", "blower", 72.0)
    now, then = (solve(b, None, CATALOGUE).drive("blower") for b in (fitted, build))
    assert pair.length_change_mm == pytest.approx(
        now.path_effective_length_mm - then.path_effective_length_mm  # type: ignore[operator]
    )
    pulley = now.pulley("blower")
    assert pair.contact_mm == pytest.approx(math.radians(pulley.wrap_deg) * (36.0 + 1.6))  # type: ignore[union-attr]
    assert pair.place == now.tensioner.place  # type: ignore[union-attr]
    assert pair.next_belt_mm == belts_to_order(fitted, CATALOGUE)["blower"].effective_length_mm  # type: ignore[union-attr]


@pytest.mark.parametrize("load", [None, CENTRIFUGAL, DISPLACEMENT])
def test_a_pull_calibrates_the_blower(
    demo_data: dict[str, Any], load: dict[str, Any] | None
) -> None:
    """A pull of the fan law with a loss above 6000 rpm: what holds tells the boost, in its own air."""
    if load is None:
        next(s for s in demo_data["shafts"] if s["id"] == "blower").pop("load")
    else:
        blown(demo_data, load)
    build = built(demo_data)
    case = drive_case(build, "blower", CATALOGUE)
    ratio = float(case.drive.ratios[case.model.route.index("blower")])
    truth = Centrifugal(14000.0, 60.0, Air(95.0, 25.0), Compression(0.7, 0.9))
    rpm = np.linspace(2500.0, 6600.0, 300)
    engine, air = AirEngine(4.2, 4, (6600.0,), (0.9,)), Air(95.0, 25.0)
    loss = 1 - 0.12 * np.clip((rpm - 6000) / 600, 0, None)
    boost = [
        charge_at(truth, engine, air, np.array([n]), ratio * k).boost_kpa[0]
        for n, k in zip(rpm, loss, strict=True)
    ]
    rng = np.random.default_rng(3)
    log = Log(
        np.arange(300) / 40.0,
        rpm,
        np.array(boost) * (1 + 0.003 * rng.standard_normal(300)),
        air_kpa=95.0,
    )
    pull = judge_pull(log, slice(0, 300))
    assert pull.slip is True
    made = calibrated(build, pull, case, log.air_kpa)
    made = changed(made, air=changed(made.air, pressure_kpa=95.0))
    at = (pull.onset_rpm,)
    assert at[0] is not None
    wanted = charge_at(truth, engine, air, np.array(at), ratio).boost_kpa[0]
    assert boost_at(made, CATALOGUE, at).boost_kpa[0] == pytest.approx(wanted, rel=0.01)  # type: ignore[arg-type]


def test_curves_and_maps_are_read_for_the_shaft_they_fit(
    demo_data: dict[str, Any], tmp_path: Path
) -> None:
    build = built(demo_data)
    fed, what = with_curve(build, "alternator", "rpm;output A\n3000;80,5\n1500;20\n")
    assert what == "output curve" and fed.shaft("alternator").output == OutputCurve(
        rpm=(1500.0, 3000.0), current_a=(20.0, 80.5)
    )
    fed, what = with_curve(build, "pump", "speed rpm,power hp\n1000,0.5\n6000,4\n")
    assert what == "load curve"
    assert fed.shaft("pump").load.power_kw[1] == pytest.approx(2.983, abs=1e-3)  # type: ignore[union-attr]
    for shaft, text in (
        ("pump", "rpm,current_a\n1,2\n3,4\n"), ("pump", "a,b\n1,2\n3,4\n"),
        ("pump", "rpm,kw\n1,2\nx,4\n"), ("pump", "speed,flow,ratio\n1,1,1\n2,2,2\n3,3,3\n"),
    ):  # fmt: skip
        with pytest.raises(JovialTackError):
            with_curve(build, shaft, text)
    # a map named by a path is read in from beside the build, and carried along from then on
    load = next(s for s in demo_data["shafts"] if s["id"] == "blower")["load"]
    text, load["map_csv"] = load["map_csv"], "maps/own.csv"
    path = tmp_path / "named.jtack"
    path.write_text(json.dumps(demo_data))
    missing = read_build(path, CATALOGUE)
    assert any("own.csv" in remark for remark in missing.remarks)
    assert boost_at(missing.build, CATALOGUE).boost_kpa[-1] > 100  # a map bounds, it is not needed
    assert pulleys_for(missing.build, CATALOGUE, 130.0, 6600.0)[0].problem is None
    (tmp_path / "maps").mkdir()
    (tmp_path / "maps/own.csv").write_text(text)
    assert read_build(path, CATALOGUE).build == built(demo_data | {"shafts": dump(build)["shafts"]})


def test_pulleys_are_no_longer_looked_for_once_nobody_waits(demo_data: dict[str, Any]) -> None:
    calls = 0

    def gone_after_two() -> None:
        nonlocal calls
        calls += 1
        if calls > 2:
            raise InterruptedError

    build = built(demo_data)
    with pytest.raises(InterruptedError):
        pulleys_at_hand(build, CATALOGUE, 6600.0, gone_after_two)
    assert calls == 3
    with pytest.raises(InterruptedError):
        pulleys_for(build, CATALOGUE, 55.0, 6600.0, gone_after_two)
