"""What a change is worth: equal to solving the changed build, ranked, and nothing left worse untold."""

from __future__ import annotations

import json
from functools import cache

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.mending.worth import Worth, greatest_pull_n, ranked, worth_of
from jovial_tack.answers.mending.worth_words import cost_words, won_words
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.value import replace
from jovial_tack.document.model import Build, dump
from jovial_tack.verbs.worth import worth_verb
from support import DEMO, built, with_own_loads

BUILD = with_own_loads(built(json.loads(DEMO.read_text("utf-8"))))


@cache
def worths(drive_id: str) -> tuple[Worth, ...]:
    return worth_of(BUILD, drive_id, load_catalogue())


@pytest.mark.parametrize("drive_id", ["blower", "accessory"])
def test_every_figure_is_that_of_the_changed_build_solved_anew(drive_id: str) -> None:
    catalogue = load_catalogue()
    before = solve(BUILD, None, catalogue).drive(drive_id)
    assert before.grip is not None and len(worths(drive_id)) >= 8
    for one in worths(drive_id):
        now = solve(one.build, None, catalogue)
        drive = now.drive(drive_id)
        assert drive.grip is not None and drive.grip.capacity_factor is not None
        assert one.factor[1] == pytest.approx(drive.grip.capacity_factor, rel=1e-3)
        assert one.factor[0] == pytest.approx(before.grip.capacity_factor, rel=1e-3)
        assert one.hub_n[1] == pytest.approx(greatest_pull_n(drive), rel=1e-3)
        assert one.slips_from[1] == pytest.approx(drive.grip.slip_from_rpm[1])
        assert one.won > 0 and one.build != BUILD
        # what is told to be worse is found in that build
        assert set(one.worse) <= {finding.code for finding in now.findings}


def loaded(build: Build, factor: float) -> Build:
    """All loads of a build times a factor: as tables, so that nothing else follows from them."""
    data = json.loads(json.dumps(dump(build)))
    for shaft in data["shafts"]:
        load = shaft.get("load")
        if load is None:
            continue
        for key in ("torque_nm",):
            if key in load:
                load[key] *= factor
        if load["type"] == "table":
            load["power_kw"] = [power * factor for power in load["power_kw"]]
    return built(data)


def test_loads_times_the_factor_are_just_held() -> None:
    """A hundredth less and nothing slips, a hundredth more and something does."""
    for one in worths("accessory")[:3]:
        for share, slips in ((0.99, False), (1.01, True)):
            results = solve(loaded(one.build, share * one.factor[1]), None, load_catalogue())
            found = [f for f in results.drive("accessory").findings if f.code == "slip"]
            assert bool(found) == slips


def test_an_idler_wraps_the_pulley_that_slips_first_further() -> None:
    catalogue = load_catalogue()
    one = next(worth for worth in worths("accessory") if worth.sort == "idler")
    before = solve(BUILD, None, catalogue).drive("accessory")
    after = solve(one.build, None, catalogue).drive("accessory")
    used = {p.id: max(u or 0.0 for u in p.arc_used_fraction) for p in before.pulleys}
    worst = max(used, key=lambda name: used[name])
    was, now = before.pulley(worst), after.pulley(worst)
    assert was is not None and now is not None and now.wrap_deg > was.wrap_deg + 3.0
    assert len(one.build.shafts) == len(BUILD.shafts) + 1 and one.to_buy >= 1
    x, y = one.build.shafts[-1].center_mm
    assert f"x {x:.1f} mm" in one.words and f"y {y:.1f} mm" in one.words
    assert not {"pulleys_overlap", "belt_crosses_itself", "clearance"} & set(one.worse)


def test_what_makes_a_stop_comes_last_and_of_a_sort_the_best_few() -> None:
    every = worths("accessory")
    stops = [one.level == "stop" for one in every]
    assert stops == sorted(stops)
    won = [one.won for one in every if one.level != "stop"]
    assert won == sorted(won, reverse=True)
    springs = [one for one in every if one.sort == "spring"]
    assert len(springs) <= 2
    # in whatever order they are found, they are told in one
    rng = np.random.default_rng(2)
    shuffled = [every[k] for k in rng.permutation(len(every))]
    assert [one.words for one in ranked(shuffled)] == [one.words for one in every]


def test_words_tell_what_is_won_and_what_it_costs() -> None:
    best = worths("blower")[0]
    slips = replace(best, factor=(0.9, 0.95), slips_from=(6407.0, 6600.0), worse=(), level=None)
    assert won_words(slips) == "reserve −10 % to −5 %, slips from 6600 rpm"
    assert won_words(replace(slips, factor=(0.9, 1.2), slips_from=(6407.0, None))).endswith(
        "no more"
    )
    free = replace(slips, hub_n=(1.0, 1.0), rest_n=(None, None), to_buy=0)
    assert cost_words(BUILD, free) == "costs nothing elsewhere"
    assert "most pull on a hub −5 %" in cost_words(BUILD, replace(free, hub_n=(1000.0, 950.0)))


def test_work_that_nobody_waits_for_ends() -> None:
    class DroppedError(Exception):
        pass

    told: list[Worth] = []

    def check() -> None:
        if told:
            raise DroppedError

    with pytest.raises(DroppedError):
        worth_of(BUILD, "blower", load_catalogue(), check, told.append)
    assert len(told) == 1


def test_the_verb_tells_it(capsys: pytest.CaptureFixture[str]) -> None:
    assert worth_verb([str(DEMO), "--drive", "blower", "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    changes = answer["changes"]
    assert answer["drive"] == "blower" and answer["capacity_factor"] < 1.0
    assert changes[0]["capacity_factor"] > 1.0 and changes[0]["slips_from_rpm"] is None
    assert {"words", "won", "hub_load_n", "rest_tension_n", "to_buy", "worse"} <= changes[0].keys()
