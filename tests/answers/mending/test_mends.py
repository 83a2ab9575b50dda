"""Every mend that is told is true: applied as printed, solved at sixty speeds, its finding is gone."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from contextlib import suppress
from typing import Any

import numpy as np
import pytest

from drawn import CATALOGUE, DEMO_DATA, drawn
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
from jovial_tack.answers.mending import mends_of
from jovial_tack.answers.mending.changes import changes
from jovial_tack.answers.mending.mends import Key
from jovial_tack.answers.results import DriveResult, Mend, Results
from jovial_tack.answers.survey.putting_on import put_on
from jovial_tack.answers.verdicts import verdicts
from jovial_tack.core.errors import JovialTackError
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.model import Build, SpringArmTensioner, dump
from support import built, read_case

_GRAVITY = {"good": 0, "unknown": 0, "watch": 1, "stop": 2, "note": 0}
#: Findings that one change may make into another of the same matter.
_SAME_MATTER = (
    {"slip", "belt_floats", "low_reserve"},
    {"arm_at_stop", "arm_outside_window", "belt_too_long", "belt_too_short"},
)

pytestmark = pytest.mark.slow


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


def sixty(build: Build) -> tuple[float, ...]:
    engine = build.engine
    return tuple(np.linspace(engine.idle_rpm, engine.redline_rpm, 60).tolist())


def judged(build: Build, results: Results) -> list[int]:
    """How grave each of the four verdicts is."""
    orders = belts_to_order(build, CATALOGUE)
    return [_GRAVITY[v.mark] for v in verdicts(build, results, orders, CATALOGUE)]


def graver(before: Sequence[int], after: Sequence[int]) -> bool:
    return any(b > a for a, b in zip(before, after, strict=True))


def mends_told(build: Build) -> tuple[Results, Mapping[Key, tuple[Mend, ...]]]:
    solution = solve_again(build, None, CATALOGUE, None)
    orders = belts_to_order(build, CATALOGUE)
    return solution.results, mends_of(build, CATALOGUE, solution, orders)


def test_every_mend_removes_its_finding_and_makes_no_verdict_worse(drawing: int) -> None:
    build = drawn(drawing)
    before = judged(build, solve(build, sixty(build), CATALOGUE))
    _, told = mends_told(build)
    for (drive, code, where), mends in told.items():
        for mend in mends:
            then = edited(build, mend.edits)
            assert dump(then) == dump(mend.build)
            results = solve(then, sixty(build), CATALOGUE)
            left = {(f.kind.code, f.where) for f in results.drive(drive).findings}
            assert (code, where) not in left, mend.words
            assert not graver(before, judged(then, results)), mend.words
            if code in ("slip", "low_reserve"):
                pulley = results.drive(drive).pulley(where)
                assert pulley is not None and pulley.worst_arc_used is not None
                assert f"{100 * pulley.worst_arc_used:.0f} % of its wrap" in mend.sentence


def singles(build: Build, drive: DriveResult, results: Results) -> Iterator[tuple[str, Build]]:
    """Every stocked belt that fits and goes on, every part of the shelf on every shaft, every notch;
    and what else is tried.
    """
    for belt in choose_belt(build, drive.id, CATALOGUE).candidates:
        if belt.fits and belt.can_be_fitted is not False and belt.count != 0:
            yield belt.number, set_belt_length(build, drive.id, belt.effective_length_mm)
    of_drive = build.drive(drive.id)
    arm = of_drive.tensioner
    for name in of_drive.route:
        shaft = build.shaft(of_drive.pulley(name).shaft)
        idle = shaft.kind in ("idler", "tensioner")
        for part in build.shelf:
            like = part.count > 0 and part.kind == ("idler" if idle else "pulley")
            sprung = isinstance(arm, SpringArmTensioner) and name == arm.pulley
            if like or (part.kind == "tensioner" and sprung):
                with suppress(JovialTackError):
                    yield f"{part.id} on {shaft.id}", put_on(build, shaft.id, part.id, CATALOGUE)
    if isinstance(arm, SpringArmTensioner):
        for place in range(len(arm.notches_deg or ())):
            yield f"notch {place}", set_arm(build, drive.id, notch=place)
    for change in changes(build, drive, {f.kind for f in drive.findings}, CATALOGUE, results):
        yield change.words, change.build


def levels(results: Results) -> dict[Key, int]:
    found: dict[Key, int] = {}
    for drive in results.drives:
        for f in drive.findings:
            if f.kind.verdict is not None:
                key = drive.id, f.kind.code, f.where
                found[key] = max(found.get(key, 0), _GRAVITY[f.level])
    return found


def mends_it(key: Key, before: dict[Key, int], after: dict[Key, int]) -> bool:
    """Gone, not become another of its matter as grave there, and without a stop anywhere else."""
    drive, code, where = key
    if code in ("slip", "low_reserve") and (drive, "belt_floats") in {k[:2] for k in after}:
        return False
    matter = next((m for m in _SAME_MATTER if code in m), {code})
    for other, level in after.items():
        same = other[0] == drive and other[1] in matter
        new_stop = level == 2 and before.get(other, 0) < 2
        if same and (other == key or (other[2] == where and level >= before[key])):
            return False
        if new_stop and not (same and other[2] == where):
            return False
    return True


def test_nothing_that_mends_is_hidden(drawing: int) -> None:
    """Where any single change mends what is found, one is proposed."""
    build = drawn(drawing)
    results, told = mends_told(build)
    stood, now = judged(build, results), levels(results)
    ran = {d.id for d in results.drives if d.tensioner is not None}
    for drive in results.drives:
        missing = [key for key in now if now[key] and key[0] == drive.id and key not in told]
        if not missing or drive.id not in ran:
            continue
        for words, tried in singles(build, drive, results):
            then = solve(tried, None, CATALOGUE)
            found = levels(then)
            lost = {k for k in found if k[1] in ("belt_too_long", "belt_too_short")} - set(now)
            if lost or not ran <= {d.id for d in then.drives if d.tensioner is not None}:
                continue
            mended = [key for key in missing if mends_it(key, now, found)]
            assert not mended or graver(stood, judged(tried, then)), (words, mended)


def test_the_belt_to_order_is_one_to_bring_home_and_passes_all_there_is(drawing: int) -> None:
    build = drawn(drawing)
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
    assert slip.message.endswith("; fit 10PK1180: 84 % of its wrap, 1 more to watch")
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
