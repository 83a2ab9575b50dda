"""Every mend that is told is true: applied as printed, solved at sixty speeds, its finding is gone."""

from __future__ import annotations

import copy
import json
from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.advice import advised
from jovial_tack.answers.belt.buying import choose_belt
from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.solve import solve, solve_again
from jovial_tack.answers.kinds import (
    ARM_AT_STOP,
    ARM_OUTSIDE_WINDOW,
    BELT_FLOATS,
    HUB_LOAD,
    SLIP,
    TOO_TIGHT,
)
from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.answers.mending import mends_of
from jovial_tack.answers.mending.changes import changes
from jovial_tack.answers.mending.mends import key_of
from jovial_tack.answers.verdicts import Verdict, verdicts
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.model import Build, dump
from layouts import moved
from support import DEMO, built, read_case

CATALOGUE = load_catalogue()
DEMO_DATA: dict[str, Any] = json.loads(DEMO.read_text("utf-8"))
LAID_OUT = [json.loads(json.dumps(dump(make(CATALOGUE)))) for _, make in LAYOUTS]
_GRAVITY = {"good": 0, "unknown": 0, "watch": 1, "stop": 2}
#: Layouts to start from, reference cases, the demo (11), a toothed (10) and a stretch belt (26).
SEEDS = (0, 2, 3, 4, 6, 8, 9, 10, 11, 12, 26)

pytestmark = pytest.mark.slow


def started(seed: int) -> dict[str, Any]:
    """A reference case, the demo, or a layout to start from: arms, slots, swings, V-belts."""
    names = ("accessory_spring_arm", "blower_spring_arm", "two_pulleys_locked")
    if seed % 3:
        return [*(read_case(n)["build"] for n in names), copy.deepcopy(DEMO_DATA)][seed % 4]
    return copy.deepcopy(LAID_OUT[seed // 3 % len(LAID_OUT)])


def stretched(data: dict[str, Any], rng: np.random.Generator) -> None:
    """The two pulleys on fixed centres, with a belt that stretches or one that does not."""
    drive = data["drives"][0]
    drive["tensioner"] = {"type": "stretch"}
    drive["belt"] |= {"construction": str(rng.choice(["stretch", "standard"]))}
    for key in ("stiffness_n_per_rib", "reference_tension_n_per_rib"):
        drive["belt"].pop(key, None)


def toothed(data: dict[str, Any]) -> None:
    """The two pulleys with a toothed belt on a slot."""
    data["shafts"][1]["mount"] = {"type": "slot", "from_mm": [170, 230], "to_mm": [215, 285]}
    drive = data["drives"][0]
    drive["belt"] = {"profile": "8M", "ribs": 30, "effective_length_mm": 1040.0}
    for pulley, teeth in zip(drive["pulleys"], (64, 32), strict=True):
        pulley["diameter_mm"] = teeth * 8 / np.pi - 2 * 0.686


def drawn(seed: int) -> Build:
    """A drive with something wrong: loads, springs, pulls, belts and notches at random."""
    rng = np.random.default_rng(seed)
    data = started(seed)
    if data["title"] == "two pulleys" and seed % 5 < 2:
        stretched(data, rng) if seed % 5 else toothed(data)
    elif rng.random() < 0.3 and all(d["tensioner"]["type"] == "spring_arm" for d in data["drives"]):
        data = moved(data, turn_deg=float(rng.uniform(-40, 40)))
    for shaft in data["shafts"]:
        load = shaft.get("load", {})
        for key in ("torque_nm", "power_kw"):
            if key in load:
                factor = rng.uniform(0.5, 2.0)
                load[key] = (np.asarray(load[key]) * factor).tolist()
        if shaft["kind"] == "alternator" and rng.random() < 0.5:
            shaft["hub_load_limit_n"] = float(rng.uniform(600, 2500))
    for drive in data["drives"]:
        tensioner, belt = drive["tensioner"], drive["belt"]
        if tensioner["type"] == "spring_arm":
            tensioner["torque_nm"] *= rng.uniform(0.5, 2.5)
            tensioner["damping_fraction"] = float(rng.uniform(0.0, 0.4))
            tensioner |= {"notches_deg": [0.0, 6.0, -6.0], "notch": 0}
        elif tensioner["type"] == "locked":
            tensioner["installed_tension_n"] *= rng.uniform(0.4, 2.5)
        if belt.get("effective_length_mm"):
            belt["effective_length_mm"] += float(rng.choice([-10, -5, 0, 0, 5, 10]))
    return built(data)


def edited(build: Build, edits: Any) -> Build:
    """The build with the edits of a mend done to its file, as another program would."""
    data = dump(build)
    for edit in edits:
        *way, last = edit.path.strip("/").split("/")
        node: Any = data
        for step in way:
            node = node[int(step)] if isinstance(node, list) else node[step]
        if edit.op == "remove":
            del node[last]
        else:
            node[int(last) if isinstance(node, list) else last] = edit.value
    return built(data)


def judged(build: Build) -> tuple[Verdict, ...]:
    engine = build.engine
    speeds = np.linspace(engine.idle_rpm, engine.redline_rpm, 60)
    results = solve(build, tuple(speeds.tolist()), CATALOGUE)
    return verdicts(build, results, {}, CATALOGUE.limits)


@pytest.mark.parametrize("seed", SEEDS)
def test_every_mend_removes_its_finding_and_makes_no_verdict_worse(seed: int) -> None:
    build = drawn(seed)
    solution = solve_again(build, None, CATALOGUE, None)
    before = judged(build)
    engine = build.engine
    speeds = tuple(np.linspace(engine.idle_rpm, engine.redline_rpm, 60).tolist())
    for (drive, code, where), mends in mends_of(build, CATALOGUE, solution).items():
        for mend in mends:
            then = edited(build, mend.edits)
            assert dump(then) == dump(mend.build)
            results = solve(then, speeds, CATALOGUE)
            left = {(f.kind.code, f.where) for f in results.drive(drive).findings}
            assert (code, where) not in left, mend.words
            if code == SLIP.code:
                pulley = results.drive(drive).pulley(where)
                assert pulley is not None and pulley.worst_arc_used is not None
                assert f"{100 * pulley.worst_arc_used:.0f} % of its wrap" in mend.sentence
            for a, b in zip(before, judged(then), strict=True):
                assert _GRAVITY[b.mark] <= _GRAVITY[a.mark], (mend.words, a, b)


@pytest.mark.parametrize("seed", SEEDS)
def test_nothing_that_mends_is_hidden(seed: int) -> None:
    """Where any single change of those that are tried mends a stop, one is proposed."""
    build = drawn(seed)
    solution = solve_again(build, None, CATALOGUE, None)
    told = mends_of(build, CATALOGUE, solution)
    before = judged(build)
    for drive in solution.results.drives:
        stops = [f for f in drive.findings if f.kind in (SLIP, TOO_TIGHT, ARM_AT_STOP)]
        missing = [f for f in stops if key_of(drive, f) not in told]
        if not missing:
            continue
        for change in changes(build, drive, {"Fits", "Holds"}, CATALOGUE):
            results = solve(change.build, None, CATALOGUE)
            left = {(f.kind.code, f.where) for f in results.drive(drive.id).findings}
            then = judged(change.build)
            graver = [
                _GRAVITY[b.mark] > _GRAVITY[a.mark] for a, b in zip(before, then, strict=True)
            ]
            for finding in missing:
                gone = (finding.kind.code, finding.where) not in left
                gone = gone and not {"belt_too_long", "belt_too_short"} & {code for code, _ in left}
                assert not gone or any(graver), change.words


@pytest.mark.parametrize("seed", SEEDS)
def test_the_belt_to_order_is_one_to_bring_home_and_passes_all_there_is(seed: int) -> None:
    build = drawn(seed)
    for name, order in belts_to_order(build, CATALOGUE).items():
        choice = choose_belt(build, name, CATALOGUE)
        passing = {c.number for c in choice.candidates if c.passes and c.count != 0}
        home = {belt.number for belt in choice.bring_home}
        assert order is None or order.number in home
        if passing:
            assert home <= passing and order is not None and choice.reason is None
            fitted = set_belt_length(build, name, order.effective_length_mm)
            kinds = {f.kind for f in solve(fitted, None, CATALOGUE).drive(name).findings}
            assert not kinds & {SLIP, TOO_TIGHT, ARM_AT_STOP, ARM_OUTSIDE_WINDOW}
        elif home:
            assert choice.reason


def test_the_demo_is_mended_by_the_belt_that_is_named_under_order() -> None:
    build = built(DEMO_DATA)
    results, judged_now = advised(build, solve_again(build, None, CATALOGUE, None), CATALOGUE)
    fits, order, holds, _ = judged_now
    assert holds.mark == "stop" and holds.mends[0].words == "fit 10PK1180"
    assert dict(order.belts)["blower"] == "10PK1180" and fits.mends[0].words == "fit 10PK1180"
    slip = next(f for f in results.findings if f.kind is SLIP)
    assert slip.message.endswith("; fit 10PK1180: 84 % of its wrap then")
    after = holds.mends[0].build
    then, verdicts_then = advised(after, solve_again(after, None, CATALOGUE, None), CATALOGUE)
    assert verdicts_then[2].mark == "watch" and not then.stops


def test_where_no_tension_will_do_it_is_said_and_slip_is_not_traded_for_a_floating_belt() -> None:
    data = read_case("two_pulleys_locked")["build"]
    alternator = next(s for s in data["shafts"] if s["kind"] == "alternator")
    alternator["load"]["torque_nm"] = 30.0
    alternator["hub_load_limit_n"] = 300.0
    results, _ = advised(*(b := built(data), solve_again(b, None, CATALOGUE, None)), CATALOGUE)
    grip = results.drives[0].grip
    assert grip is not None and grip.least_tension_n is not None and grip.most_tension_n is not None
    least, most = f"{grip.least_tension_n:.0f} N at rest", f"{grip.most_tension_n:.0f} N the most"
    assert grip.least_tension_n > grip.most_tension_n
    stops = [f for f in results.findings if f.level == "stop"]
    assert {f.kind for f in stops} == {SLIP, HUB_LOAD}
    for finding in stops:
        if not finding.mends:
            assert f"no tension will do: {least} is the least" in finding.message
            assert most in finding.message
        for mend in finding.mends:
            then = solve(mend.build, None, CATALOGUE)
            assert not [f for f in then.findings if f.kind in (SLIP, BELT_FLOATS)]
