"""The rev plan, boost and pulleys of a build; the blower's power fed back into its belt."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from jovial_tack.build.edits import changed, set_diameter, with_drive
from jovial_tack.build.ratios import boost_at, pulleys_for, rev_plan
from jovial_tack.build.solve import solve
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.errors import BuildFileError, GeometryError
from support import built

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
    for wrong in (["--target-kpa", "0"], ["--at", "6000"], ["--target-kpa", "60", "--at", "1,2"]):
        assert main(["boost", str(path), *wrong]) == 2
        assert len(capsys.readouterr().err.splitlines()) == 1
    demo_data["engine"].pop("displacement_l")
    path.write_text(json.dumps(demo_data))
    assert main(["boost", str(path)]) == 2
    assert "displacement_l" in capsys.readouterr().err
