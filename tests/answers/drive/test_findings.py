"""Impossible and doubtful drives answer with the right finding and level, never a number."""

from __future__ import annotations

import copy
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.solve import solve, solve_again
from jovial_tack.answers.results import ArmResult, Results
from jovial_tack.answers.verdicts import verdicts
from jovial_tack.catalogue import Catalogue
from jovial_tack.files.results_json import drive_json
from support import built, read_case

Change = Callable[[dict[str, Any]], object]


def drive(data: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = data["drives"][0]
    return found


def shaft(data: dict[str, Any], name: str) -> dict[str, Any]:
    return next(s for s in data["shafts"] if s["id"] == name)


def pulley(data: dict[str, Any], name: str) -> dict[str, Any]:
    return next(p for p in drive(data)["pulleys"] if p["id"] == name)


def levels(results: Results) -> dict[tuple[str, str], str]:
    return {(f.code, f.where): f.level for f in results.findings}


IMPOSSIBLE: dict[str, tuple[Change, str, str]] = {
    "overlap": (
        lambda d: shaft(d, "wp").update(center_mm=[60, 185 - 70]), "pulleys_overlap", "wp"),
    "same place": (
        lambda d: shaft(d, "alt").update(center_mm=[225, 20]), "pulleys_overlap", "ac"),
    "back pulley inside": (
        lambda d: shaft(d, "wp").update(center_mm=[0, 420]), "no_contact", "wp"),
    "wrong side": (lambda d: pulley(d, "alt").update(side="back"), "no_contact", "alt"),
    "crossed route": (
        lambda d: drive(d).update(route=["crank", "tens", "alt", "wp", "ps", "ac"]), "", ""),
    "too short": (
        lambda d: drive(d)["belt"].update(effective_length_mm=1640), "belt_too_short", "tens"),
    "too long": (
        lambda d: drive(d)["belt"].update(effective_length_mm=1760), "belt_too_long", "tens"),
    "spring pushes the belt loose": (
        lambda d: drive(d)["tensioner"].update(pushes="ccw"), "", "tens"),
}  # fmt: skip


@pytest.mark.parametrize("name", IMPOSSIBLE)
def test_impossible_drives_stop_and_give_no_number(
    name: str, case_data: dict[str, Any], catalogue: Catalogue
) -> None:
    change, code, where = IMPOSSIBLE[name]
    change(case_data)
    results = solve(built(case_data), None, catalogue)
    found = results.drives[0]
    geometry = {
        "pulleys_overlap", "no_contact", "belt_crosses_itself", "belt_too_short", "belt_too_long",
    }  # fmt: skip
    stops = [f for f in found.findings if f.code in geometry]
    assert stops
    assert all(f.level == "stop" for f in stops)
    assert not code or (code, where) in {(f.code, f.where) for f in stops}
    json = drive_json(found)
    assert json["cord_length_mm"] is json["tensioner"] is None
    assert json["spans"] == json["pulleys"] == json["belt_speed_mps"] == []
    good = solve(built(read_case("accessory_spring_arm")["build"]), None, catalogue)
    assert json.keys() == drive_json(good.drives[0]).keys()


def test_a_stretched_belt_that_hangs_slack_pulls_nothing(
    case_data: dict[str, Any], catalogue: Catalogue
) -> None:
    drive(case_data)["tensioner"] = {"type": "stretch"}
    path = solve(built(case_data), None, catalogue).drives[0].path_effective_length_mm
    assert path is not None
    drive(case_data)["belt"]["effective_length_mm"] = path + 30
    found = solve(built(case_data), None, catalogue).drives[0]
    assert ("stop", "belt_too_long") in {(f.level, f.code) for f in found.findings}
    json = drive_json(found)
    assert json["tensioner"] is None
    for span in json["spans"]:
        assert {*span["tension_n"], span["tone_hz"], span["push_n"]} == {None}
    assert {load for pulley in json["pulleys"] for load in pulley["hub_load_n"]} == {None}
    drive(case_data)["belt"]["effective_length_mm"] = path - 5
    assert (
        drive_json(solve(built(case_data), None, catalogue).drives[0])["tensioner"]["tension_n"] > 0
    )


def test_geometry_is_told_before_length(case_data: dict[str, Any], catalogue: Catalogue) -> None:
    shaft(case_data, "wp").update(center_mm=[60, 115])
    drive(case_data)["belt"].update(effective_length_mm=900)
    codes = [f.code for f in solve(built(case_data), None, catalogue).findings]
    assert "pulleys_overlap" in codes
    assert "belt_too_short" not in codes


def test_a_wrong_drive_leaves_the_others_solved(
    demo_data: dict[str, Any], catalogue: Catalogue
) -> None:
    demo_data["drives"][1]["belt"]["effective_length_mm"] = 5000
    results = solve(built(demo_data), None, catalogue)
    assert not results.drive("blower").exists
    assert results.drive("accessory").exists
    assert results.stops


def test_the_belts_named_in_a_refusal_do_fit(
    case_data: dict[str, Any], catalogue: Catalogue
) -> None:
    drive(case_data)["belt"].update(effective_length_mm=1640)
    (short,) = solve(built(case_data), None, catalogue).drives[0].findings[:1]
    assert short.limit is not None
    for beyond, fits in ((0.05, True), (-0.05, False)):
        drive(case_data)["belt"].update(effective_length_mm=short.limit + beyond)
        tensioner = solve(built(case_data), None, catalogue).drives[0].tensioner
        assert isinstance(tensioner, ArmResult)
        assert tensioner.window_fraction is not None
        assert (0 <= tensioner.window_fraction <= 1) is fits


DOUBTFUL: dict[str, tuple[Change, str, str, str]] = {
    "overspeed": (lambda d: shaft(d, "alt").update(max_rpm=15000), "overspeed", "alt", "stop"),
    "rotation": (
        lambda d: shaft(d, "wp").update(needs_rotation="cw"), "wrong_rotation", "wp", "stop"),
    "too many ribs": (lambda d: pulley(d, "ps").update(grooves=5), "rib_mismatch", "ps", "stop"),
    "untracked ribs": (lambda d: pulley(d, "ps").update(grooves=8), "rib_mismatch", "ps", "watch"),
    "small": (
        lambda d: (
            pulley(d, "alt").update(diameter_mm=44),
            drive(d)["belt"].update(effective_length_mm=1665),
        ),
        "small_pulley", "alt", "watch"),
    "hub": (lambda d: shaft(d, "ac").update(hub_load_limit_n=900), "hub_load", "ac", "watch"),
    "proud": (lambda d: pulley(d, "ps").update(flange_mm=0.5), "proud_of_rim", "ps", "watch"),
    "speed": (lambda d: d["engine"].update(redline_rpm=7600), "belt_speed", "crank", "watch"),
    "reserve": (lambda d: None, "low_reserve", "wp", "watch"),
    "wrap": (lambda d: None, "low_wrap", "ac", "watch"),
    "slip": (lambda d: drive(d)["belt"].update(friction_back=0.2), "slip", "wp", "stop"),
    "undecided": (lambda d: drive(d).update(tensioner=None), "not_determined", "crank", "note"),
    "no length": (
        lambda d: drive(d)["belt"].pop("effective_length_mm"), "not_determined", "crank", "note"),
}  # fmt: skip


@pytest.mark.parametrize("name", DOUBTFUL)
def test_doubtful_drives_are_pointed_out(
    name: str, case_data: dict[str, Any], catalogue: Catalogue
) -> None:
    change, code, where, level = DOUBTFUL[name]
    change(case_data)
    results = solve(built(case_data), None, catalogue)
    assert levels(results).get((code, where)) == level
    assert results.drives[0].exists


def test_a_belt_too_loose_for_its_speed_floats(catalogue: Catalogue) -> None:
    data = read_case("two_pulleys_locked")["build"]
    drive(data)["tensioner"].update(installed_tension_n=150)
    results = solve(built(data), None, catalogue)
    assert levels(results)[("belt_floats", "crank")] == "stop"
    assert results.drives[0].pulleys[0].arc_used_fraction[-1] is None


def test_an_arm_on_its_stop_and_out_of_its_window(catalogue: Catalogue) -> None:
    found = levels(solve(built(read_case("accessory_arm_on_stop")["build"]), None, catalogue))
    assert found[("arm_at_stop", "tens")] == "stop"
    assert found[("arm_outside_window", "tens")] == "watch"


def test_the_demo_ships_with_its_three_faults(
    demo_data: dict[str, Any], catalogue: Catalogue
) -> None:
    build = built(demo_data)
    results = solve(build, None, catalogue)
    orders = belts_to_order(build, catalogue)
    fits, order, holds, lines_up = verdicts(build, results, orders, catalogue)
    assert (fits.mark, order.mark, holds.mark, lines_up.mark) == (
        "watch", "watch", "stop", "watch",
    )  # fmt: skip
    assert "Corvane 61 slips from" in holds.sentence
    assert lines_up.where == ("accessory", "alternator")
    slip = results.drive("blower").grip
    assert slip is not None
    assert slip.slip_from_rpm[1] is not None
    assert 5800 < slip.slip_from_rpm[1] < 6600
    arms = [d.tensioner for d in results.drives if isinstance(d.tensioner, ArmResult)]
    fractions = [arm.window_fraction or 0 for arm in arms]
    assert 0.4 < fractions[0] < 0.6
    assert 0.85 < fractions[1] < 1.0


def test_the_ordered_belt_is_stocked_and_solved(
    demo_data: dict[str, Any], catalogue: Catalogue
) -> None:
    order = belts_to_order(built(demo_data), catalogue)["blower"]
    assert order is not None
    assert order.effective_length_mm in catalogue.lengths["PK"]
    demo_data["drives"][1]["belt"]["effective_length_mm"] = order.effective_length_mm
    result = solve(built(demo_data), None, catalogue).drive("blower")
    assert isinstance(result.tensioner, ArmResult)
    assert result.tensioner.window_fraction == pytest.approx(order.window_fraction, abs=1e-9)
    assert result.growth_left_mm == pytest.approx(order.growth_left_mm, abs=1e-6)


def test_the_spacer_named_puts_the_alternator_in_line(
    demo_data: dict[str, Any], catalogue: Catalogue
) -> None:
    result = solve(built(demo_data), None, catalogue).drive("accessory")
    spacer = result.spacer_mm("alternator")
    assert spacer == pytest.approx(-1.64, abs=0.01)
    assert [p.id for p in result.pulleys if result.spacer_mm(p.id)] == ["alternator"]
    demo_data["drives"][0]["pulleys"][4]["plane_mm"] += spacer
    after = solve(built(demo_data), None, catalogue)
    assert not [f for f in after.findings if f.code == "misaligned"]


def test_planes_not_measured_are_unknown_not_aligned(
    demo_data: dict[str, Any], catalogue: Catalogue
) -> None:
    del demo_data["drives"][0]["pulleys"][4]["plane_mm"]
    result = solve(built(demo_data), None, catalogue).drive("accessory")
    angles = {span.from_id: span.misalignment_deg for span in result.spans}
    assert angles["alternator"] is angles["pump"] is angles["steering"] is None
    assert angles["crank"] is not None
    assert any(f.code == "not_determined" for f in result.findings)


def test_a_jackshaft_equals_its_belts_one_after_the_other(catalogue: Catalogue) -> None:
    base = read_case("two_pulleys_locked")["build"]
    base["shafts"][1].update(kind="jackshaft")
    base["shafts"][1].pop("load")
    fan = {"id": "fan", "kind": "fan", "center_mm": [600, 300],
           "load": {"type": "power_law", "torque_nm": 3.0, "at_rpm": 2000, "exponent": 2}}  # fmt: skip
    outer = copy.deepcopy(drive(base))
    outer.update(id="outer", name="outer", route=["alt", "fan"])
    outer["pulleys"] = [
        {"id": "alt", "shaft": "alt", "diameter_mm": 90, "side": "ribs"},
        {"id": "fan", "shaft": "fan", "diameter_mm": 120, "side": "ribs"},
    ]
    outer["tensioner"].update(shaft="fan")
    joined = copy.deepcopy(base)
    joined["shafts"].append(fan)
    joined["drives"].append(outer)
    results = solve(built(joined), [3000], catalogue)
    inner, further = results.drive("two"), results.drive("outer")
    handed = further.pulley("alt")
    taken = inner.pulley("alt")
    assert handed is not None
    assert taken is not None
    assert taken.torque_nm == pytest.approx(handed.torque_nm)
    assert taken.power_kw[0] == pytest.approx(further.pulley("fan").power_kw[0])  # type: ignore[union-attr]
    assert further.pulley("fan").speed_ratio == pytest.approx(  # type: ignore[union-attr]
        taken.speed_ratio * (45 + 1.6) / (60 + 1.6)
    )
    alone = copy.deepcopy(base)
    alone["shafts"][1]["load"] = {"type": "constant_torque", "torque_nm": taken.torque_nm[0]}
    single = solve(built(alone), [3000], catalogue).drives[0]
    assert [s.tension_n for s in single.spans] == [pytest.approx(s.tension_n) for s in inner.spans]

    joined["drives"][1]["pulleys"].append(
        {"id": "crank", "shaft": "crank", "diameter_mm": 100, "side": "ribs"}
    )
    joined["drives"][1]["route"].append("crank")
    looped = solve(built(joined), [3000], catalogue)
    assert ("drive_loop", "stop") in {(f.code, f.level) for f in looped.findings}
    assert looped.drive("two").exists or looped.drive("outer").exists


def test_absent_figures_are_the_shipped_ones(
    case_data: dict[str, Any], catalogue: Catalogue
) -> None:
    explicit = copy.deepcopy(case_data)
    built_in = catalogue.construction("PK", "standard")
    for key in ("stiffness_n_per_rib", "mass_kg_per_m_per_rib", "friction_ribs", "friction_back"):
        drive(explicit)["belt"][key] = getattr(built_in, key)
        del drive(case_data)["belt"][key]
    explicit["shafts"][4]["load"] = {"type": "table", "rpm": [1500, 3000, 6000, 12000],
                                     "power_kw": [0.6, 2.0, 3.0, 3.2]}  # fmt: skip
    del case_data["shafts"][4]["load"]
    known, guessed = (solve(built(data), None, catalogue) for data in (explicit, case_data))
    assert guessed.drives[0].guessed == ("alt",) and not known.drives[0].guessed
    # all figures are the same; only what is concluded from them is another
    assert [drive.pulleys for drive in known.drives] == [drive.pulleys for drive in guessed.drives]
    assert [drive.spans for drive in known.drives] == [drive.spans for drive in guessed.drives]


def test_unchanged_drives_are_taken_over(demo_data: dict[str, Any], catalogue: Catalogue) -> None:
    from jovial_tack.document.edits.pulleys import set_diameter

    build = built(demo_data)
    first = solve_again(build, None, catalogue, None)
    edited = set_diameter(build, "blower", "blower", 80.0)
    second = solve_again(edited, None, catalogue, first)
    assert second.own.drive("accessory") is first.own.drive("accessory")
    assert second.results == solve(edited, None, catalogue)
    live = solve_again(edited, None, catalogue, first, live=True)
    full = live.results.drive("blower")
    assert np.isclose(full.cord_length_mm or 0, second.results.drive("blower").cord_length_mm or 1)
