"""A build's survey: belts tried as readings, planes, ± carried on, places taken, and bad readings."""

from __future__ import annotations

import copy
import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.belt.buying import choose_belt
from jovial_tack.answers.drive.freedom import freedom_of
from jovial_tack.answers.drive.solve import solve, solve_again
from jovial_tack.answers.drive.spread import length_sigma, spread_of
from jovial_tack.answers.drive.surveyed import (
    center_sigma,
    standing_survey,
    survey_start,
    surveyed,
)
from jovial_tack.answers.kinds import CLEARANCE, MISALIGNED
from jovial_tack.answers.results import ArmResult, ClearanceResult
from jovial_tack.answers.survey.taking import taken
from jovial_tack.answers.survey.told import survey_words, tell_survey
from jovial_tack.catalogue import Catalogue, load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.value import replace
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.obstacles import set_obstacle
from jovial_tack.document.edits.survey import with_survey
from jovial_tack.document.model import Build, Survey, replaced
from support import DEMO, built, solvable

CATALOGUE = load_catalogue()
_SHAFTS = ("crank", "arm", "steering", "pump", "alternator", "idler")


def demo_data() -> dict[str, Any]:
    data: dict[str, Any] = json.loads(DEMO.read_text("utf-8"))
    return data


def mid_path(build: Build, drive: str) -> float:
    """The cord's path with the arm in the middle of its window, mm."""
    case = solvable(build, drive)
    freedom = freedom_of(case)
    assert freedom is not None and case.arm is not None
    return float(freedom.paths(np.array([sum(case.arm.window) / 2])).total[0])


def places_of(build: Build) -> dict[str, complex]:
    found = {shaft.id: survey_start(build, shaft.id) for shaft in build.shafts}
    return {name: place for name, place in found.items() if place is not None}


def rests_at(build: Build, drive: str, length: float) -> float:
    """Where the arm truly comes to rest with a belt, degrees."""
    tensioner = solve(set_belt_length(build, drive, length), None, CATALOGUE).drive(drive).tensioner
    angle: float = tensioner.arm_angle_deg  # type: ignore[union-attr, assignment]
    return angle


def test_three_belts_that_were_tried_tell_the_path_to_a_millimetre() -> None:
    truth = built(demo_data())
    at = places_of(truth)
    belts = [(length, rests_at(truth, "accessory", length)) for length in (1610.0, 1615.0, 1622.0)]
    told, before, after = [], [], []
    for seed in range(80):
        dice = np.random.default_rng(seed)
        data = demo_data()
        readings: list[dict[str, Any]] = []
        for name in _SHAFTS[1:]:
            place = at[name] + 3.0 * complex(*dice.normal(size=2))
            readings.append(
                {"type": "at", "shafts": [name], "at_mm": [place.real, place.imag], "sd_mm": 3.0}
            )
        data["survey"] = {"readings": readings}
        taped = taken(built(data), survey_of(data))
        for length, angle in belts:
            readings.append(
                {
                    "type": "belt", "drive": "accessory", "arm_angle_deg": angle, "sd_mm": 0.5,
                    "effective_length_mm": length + 0.5 * dice.normal(),
                }
            )  # fmt: skip
        found = survey_of(data)
        tried = taken(built(data), found)
        told.append(center_sigma(found, "accessory", 0.5))
        true = mid_path(truth, "accessory")
        before.append(mid_path(taped, "accessory") - true)
        after.append(mid_path(tried, "accessory") - true)
    assert np.std(before) > 3.0
    assert np.sqrt(np.mean(np.square(after))) < 1.0
    # 80 surveys tell a spread to a twelfth of it
    assert np.std(after) == pytest.approx(np.mean(told), rel=0.2)


def survey_of(data: dict[str, Any]) -> Any:
    found = surveyed(built(data), CATALOGUE, search=False)
    assert found is not None
    return found


def test_belts_too_long_and_too_short_bound_the_path() -> None:
    truth = built(demo_data())
    at = places_of(truth)
    base = demo_data()
    base["survey"] = {
        "readings": [
            {"type": "at", "shafts": [n], "at_mm": [at[n].real, at[n].imag], "sd_mm": 3.0}
            for n in _SHAFTS[1:]
        ]
    }
    plain = mid_path(taken(built(base), survey_of(base)), "accessory")
    for verdict, length, way in (("long", 1500.0, -1), ("short", 1700.0, 1), ("long", 1900.0, 0)):
        data = copy.deepcopy(base)
        data["survey"]["readings"].append(
            {
                "type": "belt",
                "drive": "accessory",
                "effective_length_mm": length,
                "verdict": verdict,
            }
        )
        moved = mid_path(taken(built(data), survey_of(data)), "accessory") - plain
        assert np.sign(round(moved, 2)) == way, (verdict, length, moved)


def test_an_event_of_the_logbook_is_a_reading_and_its_figures_stand_once() -> None:
    data = demo_data()
    event = {
        "id": "e1", "at": "2026-11-01", "kind": "belt_tried", "drive": "accessory",
        "effective_length_mm": 1615.0, "arm_angle_deg": 70.0,
    }  # fmt: skip
    data["logbook"] = {"events": [event]}
    typed = {
        "type": "belt",
        "drive": "accessory",
        "effective_length_mm": 1615.0,
        "arm_angle_deg": 70.0,
    }
    readings = []
    for reading in ({"type": "belt", "event": "e1"}, typed):
        data["survey"] = {"readings": [reading]}
        readings.append(survey_of(data).built.net.readings)
    assert readings[0] == readings[1]
    data["survey"] = {"readings": [{"type": "belt", "event": "gone"}]}
    assert "no event “gone”" in survey_of(data).problems[0]


def full_survey(build: Build, sd: float = 0.3, noise: float = 0.0) -> list[dict[str, Any]]:
    """Readings of every shaft of a build, three to each, and a level."""
    at, dice, readings = places_of(build), np.random.default_rng(4), []
    names = list(at)
    for k, name in enumerate(names):
        near = sorted(names[:k], key=lambda other: abs(at[other] - at[name]))[:3]
        for other in near:
            value = abs(at[name] - at[other]) + noise * sd * dice.normal()
            readings.append(
                {"type": "distance", "shafts": [other, name], "value_mm": value, "sd_mm": sd}
            )
        step = at[name] - at[names[0]]
        if k:
            readings += [
                {"type": "dx", "shafts": [names[0], name], "value_mm": step.real, "sd_mm": sd},
                {"type": "dy", "shafts": [names[0], name], "value_mm": step.imag, "sd_mm": sd},
            ]
    return readings


def test_the_spread_of_a_belt_length_is_that_of_the_survey_it_stands_by() -> None:
    data = demo_data()
    plain = built(data)
    usual = length_sigma(solvable(plain, "blower"), spread_of(plain, CATALOGUE))
    data["survey"] = {"readings": full_survey(plain, 0.1)}
    fine = built(data)
    assert standing_survey(fine, CATALOGUE) is not None
    close = length_sigma(solvable(fine, "blower"), spread_of(fine, CATALOGUE))
    assert close < usual
    choice = choose_belt(fine, "blower", CATALOGUE)
    assert choice.surveyed and choice.uncertain_mm == close
    coarse = copy.deepcopy(data)
    coarse["survey"] = {"readings": full_survey(plain, 3.0)}
    rough = built(coarse)
    assert length_sigma(solvable(rough, "blower"), spread_of(rough, CATALOGUE)) > usual
    # drawn elsewhere than it was surveyed: what was surveyed is not what is drawn
    data["shafts"][2]["center_mm"][0] += 2.0
    assert standing_survey(built(data), CATALOGUE) is None


def test_places_are_taken_with_what_hangs_on_them_and_nothing_else_moves() -> None:
    truth, data = built(demo_data()), demo_data()
    data["survey"] = {"readings": full_survey(truth)}
    shift = {"pump": (4.0, -3.0), "arm": (-5.0, 2.0), "blower": (1.0, 6.0)}
    for shaft in data["shafts"]:
        if shaft["id"] in shift:
            shaft["center_mm"] = [a + b for a, b in zip(shaft["center_mm"], shift[shaft["id"]])]  # noqa: B905
    tensioner = data["drives"][0]["tensioner"]
    tensioner["pivot_mm"] = [a + b for a, b in zip(tensioner["pivot_mm"], shift["arm"])]  # noqa: B905
    drawn = built(data)
    found = surveyed(drawn, CATALOGUE)
    assert found is not None
    back = taken(drawn, found)
    for name, place in places_of(truth).items():
        assert places_of(back)[name] == pytest.approx(place, abs=0.02)
    assert back.drives[0].tensioner == truth.drives[0].tensioner
    moved = {s.id for s, old in zip(back.shafts, drawn.shafts, strict=True) if s != old}
    assert moved == set(shift)


def test_depths_and_steps_tell_planes_and_their_spread() -> None:
    data = demo_data()
    pulleys = [("accessory", pulley["id"]) for pulley in data["drives"][0]["pulleys"][:3]]
    data["survey"] = {
        "readings": [
            {"type": "depth", "pulley": pulleys[0], "value_mm": 52.0, "rim_mm": 24.0, "sd_mm": 0.5},
            {
                "type": "step", "pulleys": [pulleys[0], pulleys[1]], "value_mm": 1.2,
                "rims_mm": [24.0, 30.0], "sd_mm": 0.15,
            },
            {"type": "step", "pulleys": [pulleys[1], pulleys[1]], "value_mm": 1.0},
        ]
    }  # fmt: skip
    build = built(data)
    found = surveyed(build, CATALOGUE)
    assert found is not None and found.planes is not None
    first, second = tell_survey(build, CATALOGUE, found).planes
    assert first.z_mm == pytest.approx(40.0) and first.sd_mm == pytest.approx(0.5)
    # fronts 1.2 apart, and a rim 6 mm wider whose middle lies 3 mm farther back
    assert second.z_mm == pytest.approx(40.0 + 1.2 - 3.0)
    assert found.planes.heights.apart_sd(0, 1) == pytest.approx(0.15)
    assert "to itself" in found.problems[2]
    after = taken(build, found)
    assert after.drive("accessory").pulley(pulleys[1][1]).plane_mm == pytest.approx(38.2)


@pytest.mark.parametrize(
    ("reading", "said"),
    [
        ({"type": "distance", "shafts": ["crank", "crank"], "value_mm": 100}, "to itself"),
        (
            {"type": "distance", "shafts": ["crank", "nobody"], "value_mm": 100},
            "“nobody” is no shaft",
        ),
        ({"type": "outside", "shafts": ["crank", "pump"], "value_mm": 300}, "type which diameter"),
        ({"type": "outside", "shafts": ["pump", "arm"], "value_mm": 300}, "pivot"),
        (
            {"type": "belt", "drive": "accessory", "effective_length_mm": 1615},
            "where the arm stood",
        ),
        (
            {"type": "belt", "drive": "none", "effective_length_mm": 1615, "verdict": "long"},
            "no drive",
        ),
        ({"type": "depth", "pulley": ["accessory", "x"], "value_mm": 3}, "no pulley “x”"),
    ],
)
def test_a_reading_that_cannot_be_used_is_told_and_the_others_go_on(
    reading: dict[str, Any], said: str
) -> None:
    data = demo_data()
    data["survey"] = {"readings": [*full_survey(built(data)), reading]}
    build = built(data)
    found = surveyed(build, CATALOGUE)
    assert found is not None
    told = tell_survey(build, CATALOGUE, found)
    assert said in told.readings[-1].problem
    assert all(shaft.determined for shaft in told.shafts)


def test_impossible_triangles_and_wild_figures_end_in_words() -> None:
    build = built(demo_data())
    triangle = [
        {"type": "distance", "shafts": ["crank", "pump"], "value_mm": 100.0},
        {"type": "distance", "shafts": ["crank", "idler"], "value_mm": 100.0},
        {"type": "distance", "shafts": ["pump", "idler"], "value_mm": 900.0},
    ]
    wild = {"type": "dx", "shafts": ["crank", "blower"], "value_mm": 99_999.0, "sd_mm": 1e9}
    sure = {"type": "dy", "shafts": ["crank", "blower"], "value_mm": 1e5, "sd_mm": 1e-9}
    surveyed_build = with_survey(build, readings=(*triangle, wild, sure))
    found = surveyed(surveyed_build, CATALOGUE)
    assert found is not None
    told = tell_survey(surveyed_build, CATALOGUE, found)
    assert np.isfinite(told.chi2) and all(np.isfinite(s.center_mm).all() for s in told.shafts)
    assert told.disagree or told.suspects
    assert survey_words(surveyed_build, told)


def test_the_command_line_tells_and_takes_a_survey(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    data, path = demo_data(), tmp_path / "a.jtack"
    readings = full_survey(built(data))
    data["survey"] = {"readings": readings}
    path.write_text(json.dumps(data))
    assert main(["survey", str(path), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    shaft = next(s for s in told["shafts"] if s["id"] == "steering")
    assert shaft["determined"] and len(shaft["sd_mm"]) == 2 and len(shaft["ellipse95_mm"]) == 3
    assert {"chi2", "dof", "p", "turn_free"} == told["fit"].keys()
    assert told["next_reading"] is None or told["next_reading"]["belt_length_sd_mm"]
    readings[3]["value_mm"] += 12.0
    path.write_text(json.dumps(data))
    assert main(["survey", str(path), "--take", str(tmp_path / "b.jtack")]) == 1
    said = capsys.readouterr().out
    assert "does not fit; the others make it" in said
    assert json.loads((tmp_path / "b.jtack").read_text())["survey"] == data["survey"]
    del data["survey"]
    path.write_text(json.dumps(data))
    assert main(["survey", str(path)]) == 2
    assert "has no survey" in capsys.readouterr().err


def lines_up(data: dict[str, Any]) -> Any:
    results = solve(built(data), None, CATALOGUE)
    return [
        finding
        for drive in results.drives
        if drive.id == "accessory"
        for finding in drive.findings
        if finding.kind is MISALIGNED
    ]


def test_an_angle_the_depths_leave_open_is_neither_good_nor_out() -> None:
    """Alternator and pump stand as read: by a rule nothing can be told, by a feeler it can."""
    data = demo_data()
    planes = {p["id"]: p["plane_mm"] for p in data["drives"][0]["pulleys"]}
    apart = planes["alternator"] - planes["pump"]
    assert [f.level for f in lines_up(data)] == ["watch"]  # as drawn it is out of line

    def read(sd: float, off: float) -> dict[str, Any]:
        found = copy.deepcopy(data)
        for pulley in found["drives"][0]["pulleys"]:
            pulley["plane_mm"] = (
                round(planes["pump"] + off, 3) if pulley["id"] == "alternator" else 41.5
            )
        depths = [
            {
                "type": "depth",
                "pulley": ["accessory", p["id"]],
                "value_mm": p["plane_mm"],
                "sd_mm": sd,
            }
            for p in found["drives"][0]["pulleys"]
        ]
        found["survey"] = {"readings": depths}
        return found

    (out,) = lines_up(read(0.05, apart))
    assert out.level == "stop" and "(± 0.07 mm) from under it" in out.message
    in_line = 1.78  # its belt runs half a groove farther in
    assert lines_up(read(0.05, in_line)) == []
    for off in (apart, in_line):
        (told,) = lines_up(read(1.0, off))
        assert told.level == "unknown"
        assert "cannot be told yet" in told.message and "straightedge and feeler" in told.message


def test_a_place_that_does_not_fit_is_told_by_how_far_it_is_off() -> None:
    data = demo_data()
    readings = full_survey(built(data))
    at = places_of(built(data))["pump"]
    readings.append(
        {"type": "at", "shafts": ["pump"], "at_mm": [at.real + 9.0, at.imag], "sd_mm": 0.3}
    )
    data["survey"] = {"readings": readings}
    build = built(data)
    found = surveyed(build, CATALOGUE)
    assert found is not None
    told = tell_survey(build, CATALOGUE, found)
    (suspect,) = told.suspects
    assert suspect.is_place and suspect.place == len(readings) - 1
    said = " ".join(survey_words(build, told))
    assert "the others put it 9.0 mm elsewhere" in said


Gaps = dict[tuple[str, str, str], ClearanceResult]


def looked(build: Build, catalogue: Catalogue = CATALOGUE) -> tuple[Gaps, dict[str, ArmResult]]:
    """The gaps of a build over the window, by drive, obstacle and what comes near; its arms."""
    found = solve_again(build, None, catalogue, None, reserve=False).results
    gaps = {(d.id, gap.obstacle, gap.of): gap for d in found.drives for gap in d.clearances}
    return gaps, {d.id: d.tensioner for d in found.drives if isinstance(d.tensioner, ArmResult)}


def shifted(data: dict[str, Any], shaft: str, axis: int, by: float) -> Build:
    """With one shaft elsewhere; of an arm's the pivot with it."""
    data = copy.deepcopy(data)
    next(s for s in data["shafts"] if s["id"] == shaft)["center_mm"][axis] += by
    for drive in data["drives"]:
        arm = drive["tensioner"]
        if arm["type"] == "spring_arm" and drive_shaft(drive, arm["pulley"]) == shaft:
            arm["pivot_mm"][axis] += by
    return built(data)


def drive_shaft(drive: dict[str, Any], pulley: str) -> str:
    return next(str(p["shaft"]) for p in drive["pulleys"] if p["id"] == pulley)


def test_the_spread_of_gaps_and_shares_is_that_of_shifted_shafts() -> None:
    """Every gap and every arm's share against all shafts moved by a little, one after another."""
    data = demo_data()
    here = built(data)
    gaps, arms = looked(here)
    squares = dict.fromkeys(gaps, 0.0)
    shares = dict.fromkeys(arms, 0.0)
    sigma, step = CATALOGUE.limits.survey_sigma_mm, 0.02
    for shaft in (s["id"] for s in data["shafts"]):
        for axis in (0, 1):
            low, high = (looked(shifted(data, shaft, axis, by)) for by in (-step, step))
            for key in gaps:
                grown = (high[0][key].gap_mm - low[0][key].gap_mm) / (2 * step)
                squares[key] += (sigma * grown) ** 2
            for name in shares:
                grown = (in_window(high[1][name]) - in_window(low[1][name])) / (2 * step)
                shares[name] += (sigma * grown) ** 2
    assert gaps
    for key, gap in gaps.items():
        assert gap.gap_sd_mm == pytest.approx(squares[key] ** 0.5, rel=0.02), key
    # told of the whole length, belts and diameters too: what twice the ± adds is of the centres
    limits = replace(CATALOGUE.limits, survey_sigma_mm=2 * sigma)
    _, twice = looked(here, replace(CATALOGUE, limits=limits))
    for name, square in shares.items():
        once, more = (found[name].window_sd or 0.0 for found in (arms, twice))
        assert (more**2 - once**2) / 3 == pytest.approx(square, rel=0.02), name


def in_window(arm: ArmResult) -> float:
    assert arm.window_fraction is not None
    return arm.window_fraction


def test_a_gap_that_a_survey_leaves_open_is_neither_good_nor_bad() -> None:
    drawn = built(json.loads((DEMO.parent / "tessary-fen-survey.jtack").read_text("utf-8")))
    found = surveyed(drawn, CATALOGUE)
    assert found is not None
    surveyed_build = taken(drawn, found)
    plain = replaced(surveyed_build, survey=Survey())
    for build, open_to in ((surveyed_build, {"unknown"}), (plain, set())):
        gap = min(looked(build)[0].values(), key=lambda found: found.gap_mm - found.needed_mm)
        assert gap.gap_sd_mm is not None and gap.surveyed == bool(open_to)
        # asked for half a ± less than there is
        wanted = gap.gap_mm - 0.5 * gap.gap_sd_mm
        close = set_obstacle(build, gap.obstacle, needed_mm=wanted)
        levels = {f.level for f in solve(close, None, CATALOGUE).findings if f.kind is CLEARANCE}
        assert levels == open_to
