"""The finder against solving every combination by itself, and what it tells and takes."""

from __future__ import annotations

import json
import math
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve, solve_again
from jovial_tack.answers.drive.spread import share_sigma, spread_of
from jovial_tack.answers.finder.figures import case_of, cases_named, figures_of, laws_of
from jovial_tack.answers.finder.space import FinderError, Space, space_of
from jovial_tack.answers.finder.sure import how_sure
from jovial_tack.answers.finder.trying import Answer, find, low_side
from jovial_tack.answers.finder.vetting import vetted
from jovial_tack.answers.finder.words import best_words
from jovial_tack.answers.results import ArmResult
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.drive.adjuster import INSIDE
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.solve import run_from_rest, states_at
from jovial_tack.core.grip.finder.alone import solve_alone
from jovial_tack.core.grip.finder.near import still_of
from jovial_tack.core.grip.finder.settling import FITS
from jovial_tack.core.grip.finder.solving import solve_many
from jovial_tack.core.grip.finder.taut import Loaded
from jovial_tack.core.grip.finder.travel import nodes_of, wanted_at_rest
from jovial_tack.core.value import replace
from jovial_tack.document.edits.belts import set_belt, set_belt_length
from jovial_tack.document.edits.brackets import add_bracket, set_bracket
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.freedoms import set_freedom, set_mount
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.model import Build, Choices, HolesMount, SpringArmTensioner, make
from support import DEMO, built, read_case

RPM = (850.0, 2600.0, 6600.0)
ARMS = ("accessory_arm_on_stop", "accessory_spring_arm", "blower_spring_arm")


def demo() -> Build:
    return built(json.loads(DEMO.read_text("utf-8")))


def one_alone(space: Space, combination: int) -> tuple[float, float, float] | None:
    """What the general code says: angle, tension at rest, most arc used; None where it does not fit."""
    case = case_of(space.build_of(combination), space)
    drive, arm = case.drive, case.arm
    assert arm is not None
    states = Lanes.joined(
        Lanes.at_rest(drive.pulley_count, drive.belt), states_at(drive, np.array(RPM))
    )
    ran, _ = run_from_rest(drive, states)
    if (ran.outcome != INSIDE).any() or not 0 <= float(arm.window_fraction(ran.angle)[0]) <= 1:
        return None
    if not (ran.tractions[1:] > 0).all():
        return None
    used = float(ran.arc_used_fraction[1:].max())
    return float(ran.angle[0]), float(ran.tractions[0, 0]), used


def drawn(seed: int) -> tuple[Build, Choices]:
    """A reference case pushed about, and choices of every kind about it."""
    rng = np.random.default_rng(seed)
    build = built(read_case(ARMS[seed % len(ARMS)])["build"])
    drive = build.drives[0]
    arm = drive.tensioner
    assert isinstance(arm, SpringArmTensioner)
    for shaft in build.shafts:
        x, y = shaft.center_mm
        if shaft.kind not in ("crank", "tensioner"):
            build = move_shaft(build, shaft.id, x + rng.normal(0, 6), y + rng.normal(0, 6))
    idle = [p for p in drive.pulleys if p.id != arm.pulley]
    first, second, third = (idle[k] for k in rng.permutation(len(idle))[:3])
    build = set_mount(build, first.shaft, "holes")
    x, y = build.shaft(first.shaft).center_mm
    holes = tuple((x + rng.normal(0, 9), y + rng.normal(0, 9)) for _ in range(2))
    build = set_freedom(build, first.shaft, positions_mm=((x, y), *holes))
    build, bracket = add_bracket(build, second.shaft)
    offsets = ((0.0, 0.0), (float(rng.integers(-9, 9)), float(rng.integers(-9, 9))))
    build = set_bracket(build, bracket, offsets_mm=offsets)
    build = set_arm(build, drive.id, notches_deg=(0.0, 7.0, -9.0), notch=0)
    length = drive.belt.effective_length_mm
    assert length is not None
    choices = make(
        Choices,
        {
            "drive": drive.id,
            "belt_lengths_mm": tuple((length + rng.uniform(-30, 30, 4)).round(2).tolist()),
            "notches": (0, 2),
            "holes": {first.shaft: (0, 2)},
            "offsets": {bracket: (0, 1)},
            "diameters_mm": {third.id: (third.diameter_mm, round(third.diameter_mm * 1.12, 1))},
            "sides": {second.id: (second.side, "back" if second.side == "ribs" else "ribs")},
            "constructions": ("standard", "low_stretch"),
        },
    )
    return build, choices


def agrees(space: Space, answer: Answer, some: Sequence[int]) -> int:
    """That the same of some combinations fit as by themselves, and are the same; how many fit."""
    told = {int(name): k for k, name in enumerate(answer.fitting.combination)}
    fits = 0
    for combination in some:
        alone = one_alone(space, combination)
        assert (alone is None) == (combination not in told), space.words_of(combination)
        if alone is not None:
            k = told[combination]
            found = answer.fitting
            assert found.angle[k] == pytest.approx(alone[0], abs=1e-6)
            assert found.tension_n[k] == pytest.approx(alone[1], rel=1e-6)
            assert found.arc_used[k] == pytest.approx(alone[2], rel=1e-5)
            fits += 1
    assert list(answer.fitting.arc_used) == sorted(answer.fitting.arc_used)
    return fits


@pytest.mark.parametrize("seed", range(6))
def test_it_finds_what_solving_one_at_a_time_finds(seed: int) -> None:
    build, choices = drawn(seed)
    space = space_of(build, choices, load_catalogue())
    answer = find(space, RPM)
    some = np.random.default_rng(seed).choice(space.count, 90, replace=False)
    agrees(space, answer, [int(k) for k in some])
    assert answer.tried == space.count == 2 * 2 * 2 * 2 * 2 * 2 * 4


def test_belts_that_cross_more_than_once_rest_where_they_come_first() -> None:
    """A soft belt and an arm let out toward its toggle: the belt that would rest there grows shorter
    again and then longer, so that some belts have three places of which the first counts.
    """
    build = built(read_case("blower_spring_arm")["build"])
    drive = build.drives[0]
    arm = drive.tensioner
    assert isinstance(arm, SpringArmTensioner)
    stops = (min(arm.stops_deg) - 150.0, max(arm.stops_deg) + 60.0)
    build = set_arm(
        build,
        drive.id,
        stops_deg=stops,
        window_deg=stops,
        torque_nm=60.0,
        rate_nm_per_deg=0.05,
    )
    build = set_belt(build, drive.id, stiffness_n_per_rib=50.0, reference_tension_n_per_rib=0.0)
    space = space_of(build, make(Choices, {"drive": drive.id}), load_catalogue())
    figures = figures_of(space, case_of(build, space), np.array([850.0]))
    laws = laws_of(space, figures, np.zeros(1, dtype=np.int64))
    still = still_of(laws.many)
    nodes = nodes_of(laws.many, still)
    wanted = wanted_at_rest(Loaded(laws.many, still), nodes).cord_mm[nodes.levers]
    peak = int(np.argmax(np.diff(wanted) < 0))
    dip = float(wanted[peak:].min())
    assert dip < wanted[peak] < wanted[-1]
    # so many that most are read between those that are solved
    count = 1800
    cords = np.linspace(2 * dip - wanted[peak], 2 * wanted[peak] - dip, count)
    tried = solve_many(laws.many, laws.loads, np.zeros(count, dtype=np.int64), cords)
    alone = replace(tried, outcome=tried.outcome.copy(), angle=tried.angle.copy())
    some = np.arange(0, count, 30)
    for row in some:
        solve_alone(laws.many, laws.loads, alone, int(row))
    assert (tried.outcome == alone.outcome)[some].all()
    fits = some[tried.outcome[some] == FITS]
    assert np.allclose(tried.angle[fits], alone.angle[fits], atol=1e-6)
    assert np.ptp(np.sign(cords[fits] - dip)) == 2  # on both sides of the dip


@pytest.mark.parametrize("seed", range(3))
def test_many_belts_on_one_drive_come_to_what_each_comes_to_by_itself(seed: int) -> None:
    """Belts over all of the travel and past both its ends, in no order, ends of paths between."""
    build, _ = drawn(seed)
    drive = build.drives[0]
    length, rng = drive.belt.effective_length_mm, np.random.default_rng(seed)
    assert length is not None
    lengths = (length + rng.uniform(-60.0, 60.0, 1500)).round(4).tolist()
    choices = make(Choices, {"drive": drive.id, "belt_lengths_mm": lengths, "notches": (0, 1)})
    space = space_of(build, choices, load_catalogue())
    answer = find(space, RPM)
    agrees(space, answer, [int(k) for k in rng.choice(space.count, 70, replace=False)])
    # the belts nearest to where they begin and cease to fit are told right as well
    by_length = np.argsort(lengths)
    told = np.isin(by_length, answer.fitting.combination)
    edges = np.flatnonzero(told[1:] != told[:-1])
    assert edges.size
    agrees(space, answer, [int(by_length[k + more]) for k in edges for more in (0, 1)])


def blower_choices(**more: Any) -> Choices:
    return make(
        Choices,
        {
            "drive": "blower",
            "belt_lengths_mm": tuple(1150.0 + 5.0 * k for k in range(20)),
            "notches": (0, 1, 2),
            "diameters_mm": {"blower": (72.0, 76.0, 80.0), "blower_idler": (76.2, 80.0)},
            **more,
        },
    )


def test_the_best_of_the_demo_holds_over_all_revs_and_says_why() -> None:
    build, catalogue = demo(), load_catalogue()
    target = {"pulley": "blower", "ratio": 2.13, "tolerance": 0.05}
    needs = ("holds", "goes_on", "not_tight", "clear", "no_stop")
    space = space_of(build, blower_choices(target=target, needs=needs), catalogue)
    answer = find(space, RPM)
    before = solve_again(build, None, catalogue, None)
    best = next(vetted(answer, 1, before))
    codes = {
        finding.kind.code for finding in solve(best.build, None, catalogue).drive("blower").findings
    }
    assert not codes & {"slip", "belt_floats", "too_tight", "hub_load", "clearance", "overspeed"}
    assert best.worth is not None
    assert best.worth.factor[0] < 1 < best.worth.factor[1]
    said = best_words(answer, best, before.results.drive("blower"))
    assert "slips no more" in said
    assert " since " in said
    blower = best.build.drive("blower").pulley("blower")
    assert blower.diameter_mm == 76.0  # the others miss the ratio
    low = low_side(answer, np.array([best.place]))
    assert low.arc_used[0] == pytest.approx(
        max(p.low_arc_used[k] or 0 for p in best.result.pulleys for k in (0, 1, 2)), rel=1e-4
    )


def test_a_part_of_the_shelf_is_taken_with_all_it_is() -> None:
    build = demo()
    space = space_of(build, blower_choices(), load_catalogue())
    owned = [k for k in range(space.count) if space.pulley_of(k, "blower").diameter_mm == 72.0]
    taken = space.build_of(owned[0])
    assert taken.drive("blower").pulley("blower").part == "pulley"
    answer = find(space, RPM)
    for k in range(0, answer.fitting.combination.size, 17):
        now = build.drive("blower").belt.effective_length_mm
        made = space.build_of(int(answer.fitting.combination[k])).drive("blower")
        bought = int(made.belt.effective_length_mm != now)
        bought += made.pulley("blower").diameter_mm == 80.0  # none of it lies on the shelf
        assert answer.fitting.to_buy[k] == bought


@pytest.mark.parametrize(
    ("aim", "column"), [("hub_load", "hub_n"), ("cost", "cost"), ("owned", "to_buy")]
)
def test_every_aim_ranks_by_its_own_figure(aim: str, column: str) -> None:
    answer = find(space_of(demo(), blower_choices(aim=aim), load_catalogue()), RPM)
    figures = getattr(answer.fitting, column).tolist()
    assert figures == sorted(figures)
    assert len(set(figures)) > 1


def test_drives_without_an_arm_are_solved_one_by_one() -> None:
    build = built(read_case("two_pulleys_locked")["build"])
    drive = build.drives[0]
    driven = next(p for p in drive.pulleys if build.shaft(p.shaft).kind != "crank")
    sizes = (driven.diameter_mm, driven.diameter_mm * 1.3)
    choices = make(Choices, {"drive": drive.id, "diameters_mm": {driven.id: sizes}})
    space = space_of(build, choices, load_catalogue())
    answer = find(space, (1000.0, 3000.0))
    assert answer.tried == answer.feasible == 2
    for k, combination in enumerate(answer.fitting.combination.tolist()):
        solved = solve(space.build_of(combination), (1000.0, 3000.0), load_catalogue())
        used = [share for p in solved.drives[0].pulleys for share in p.arc_used_fraction]
        assert answer.fitting.arc_used[k] == pytest.approx(max(s or 0 for s in used), rel=1e-9)


@pytest.mark.parametrize(
    ("choices", "told"),
    [
        ({"drive": "nobody"}, "one of the build's drives"),
        ({"drive": "blower", "notches": (7,)}, "0 to 2, not 7"),
        ({"drive": "blower", "holes": {"blower": (0,)}}, "a shaft of Blower drive with holes"),
        ({"drive": "blower", "diameters_mm": {"alternator": (60.0,)}}, "a pulley of Blower drive"),
        ({"drive": "blower", "offsets": {"none": (0,)}}, "a bracket of the build"),
    ],
)
def test_choices_that_are_not_there_are_told(choices: dict[str, Any], told: str) -> None:
    with pytest.raises(FinderError, match=told):
        space_of(demo(), make(Choices, choices), load_catalogue())


def test_the_verb_tells_the_keys_and_counts(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    data = json.loads(DEMO.read_text("utf-8"))
    data["choices"] = {"drive": "blower", "belt_lengths_mm": [1180.0, 1185.0], "notches": [0, 1]}
    file = tmp_path / "found.jtack"
    file.write_text(json.dumps(data), "utf-8")
    assert main(["find", str(file), "--json", "--rpm", "850,6600"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["tried"] == 4
    assert len(told["results"]) == told["feasible"] <= 4
    best = told["results"][0]
    solved = solve(
        space_of(built(data), built(data).choices or blower_choices(), load_catalogue()).build_of(
            [1180.0, 1185.0].index(best["belt_length_mm"]) + 2 * [0, 1].index(best["notch"] or 0)
        ),
        (850.0, 6600.0),
        load_catalogue(),
    ).drive("blower")
    assert best["tension_n"] == pytest.approx(solved.tensioner.tension_n, rel=1e-6)  # type: ignore[union-attr]
    assert best["low_worst_arc_used"] > best["worst_arc_used"]
    data["choices"]["belt_lengths_mm"] = [700.0, 3000.0]
    file.write_text(json.dumps(data), "utf-8")
    assert main(["find", str(file), "--sure"]) == 1
    assert "2 fit" not in (nothing := capsys.readouterr().out)
    assert "Nothing that was tried keeps the limits" in nothing
    assert main(["find", str(DEMO)]) == 2
    assert "choices" in capsys.readouterr().err


def test_a_hole_keeps_its_place_on_a_bracket_that_is_moved() -> None:
    build, choices = drawn(1)
    space = space_of(build, choices, load_catalogue())
    shaft = next(iter(choices.holes))
    for combination in range(0, space.count, 37):
        made = space.build_of(combination).shaft(shaft)
        assert isinstance(made.mount, HolesMount)
        assert made.center_mm == made.mount.positions_mm[made.mount.at]
    assert changed(build, choices=choices).choices == choices


def test_how_sure_it_is_spreads_as_the_linear_estimate_says_and_comes_out_the_same() -> None:
    build, catalogue = demo(), load_catalogue()
    sure = how_sure(build, "accessory", catalogue)
    assert sure is not None
    assert sure == how_sure(build, "accessory", catalogue)
    assert sure != how_sure(build, "accessory", catalogue, seed=2)
    case = cases_named(build, catalogue)["accessory"]
    result = solve(build, None, catalogue).drive("accessory")
    assert isinstance(result.tensioner, ArmResult)
    angle = result.tensioner.arm_angle_deg
    assert angle is not None
    sigma = share_sigma(case, math.radians(angle), spread_of(build, catalogue))
    assert sigma is not None
    # the estimate knows nothing of the spring's tolerance and stretch, which matter little here
    low, middle, high = sure.window
    assert (high - low) / (2 * 1.645) == pytest.approx(sigma, rel=0.15)
    assert middle == pytest.approx(result.tensioner.window_fraction, abs=0.02)


def test_a_drive_that_is_known_exactly_holds_or_does_not() -> None:
    build, catalogue = demo(), load_catalogue()
    limits = replace(
        catalogue.limits,
        survey_sigma_mm=0.0,
        diameter_sigma_mm=0.0,
        belt_length_tolerance=0.0,
        spring_tolerance=0.0,
    )
    profile = replace(
        catalogue.profile("PK"), effective_to_cord_tolerance_mm=0.0, number_offset_tolerance_mm=0.0
    )
    known = replace(catalogue, limits=limits, profiles={**catalogue.profiles, "PK": profile})
    slips = how_sure(build, "blower", known, samples=50)
    holds = how_sure(set_belt_length(build, "blower", 1180.0), "blower", known, samples=50)
    assert slips is not None and holds is not None
    assert (slips.fits, slips.holds, holds.holds) == (1.0, 0.0, 1.0)
    blower = solve(build, None, catalogue).drive("blower").pulley("blower")
    assert blower is not None
    used = blower.worst_arc_used
    # stretch and mass of the belt are still drawn, and hardly matter
    assert slips.arc_used[1] == pytest.approx(used, rel=0.005)
