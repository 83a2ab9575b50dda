"""What findings and reserve say holds from idle to redline, not only at the speeds that are listed."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.drive.reserve import least_scale, most_scale
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.drive.solved import (
    Solved,
    damping_fraction,
    shown_speeds,
    solve_states,
)
from jovial_tack.answers.kinds import BELT_FLOATS, HUB_LOAD, SLIP, TOO_TIGHT
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.drive.solve import run, states_at
from jovial_tack.core.grip.reserve import most_arc_used, run_sprung
from jovial_tack.core.value import replace
from jovial_tack.drawing.revs import rev_ranges
from support import built, read_case, solvable

CATALOGUE = load_catalogue()
DENSE = np.linspace(850.0, 6800.0, 1500)  # a plain search, every 4 rev/min


def drawn(seed: int) -> dict[str, Any]:
    """A drive whose load peaks somewhere, narrow or wide, and whose arm is damped or not."""
    rng = np.random.default_rng(seed)
    name = ["accessory_spring_arm", "blower_spring_arm", "two_pulleys_locked"][seed % 3]
    data = read_case(name)["build"]
    driven = [s for s in data["shafts"] if s["kind"] not in ("crank", "tensioner", "idler")]
    peak, wide = rng.uniform(1500, 9000), rng.uniform(60, 900)
    height, base = rng.uniform(3.0, 9.0), rng.uniform(0.2, 1.0)
    driven[-1]["load"] = {
        "type": "table",
        "rpm": [400.0, peak - wide, peak, peak + wide, 20000.0],
        "power_kw": [base / 5, base, base + height, base, base * 2],
    }
    driven[-1]["hub_load_limit_n"] = rng.uniform(800, 3000)
    tensioner = data["drives"][0]["tensioner"]
    if tensioner["type"] == "spring_arm" and rng.random() < 0.7:
        tensioner["damping_fraction"] = rng.uniform(0.1, 0.4)
    if rng.random() < 0.5:  # far too slack or too tight to begin with
        key = "torque_nm" if "torque_nm" in tensioner else "installed_tension_n"
        tensioner[key] *= rng.uniform(0.3, 3.0)
    return dict(data)


def solved_of(data: dict[str, Any]) -> Solved:
    cases = [solvable(built(data))]
    return solve_states(cases, (850.0, 2600.0, 6800.0), CATALOGUE.limits)[0]


def dense(solved: Solved) -> np.ndarray:
    """Where to look: every few rev/min, and the corners of the load."""
    corners = np.array(solved.drive.corners_rpm())
    return np.sort([*DENSE, *corners[(corners > 850) & (corners < 6800)]])


@pytest.mark.parametrize("seed", range(30))
def test_figures_are_those_of_a_dense_search(seed: int) -> None:
    data = drawn(seed)
    solved = solved_of(data)
    if solved.turning is None:
        pytest.skip("does not stand")
    drive, rpm, low = solved.drive, dense(solved), 1.0 - damping_fraction(solved.case)
    states = replace(states_at(drive, rpm), spring_scale=np.full(rpm.shape, low))
    used = most_arc_used(run(drive, states, solved.travel))
    result = solve(built(data), None, CATALOGUE).drives[0]
    grip = result.grip
    assert grip is not None

    slips = [f for f in result.findings if f.kind in (SLIP, BELT_FLOATS)]
    assert bool(slips) == bool((used >= 1.0).any()) or abs(used.max() - 1.0) < 0.005
    if np.isfinite(used.max()) and slips:
        values = [f.value for f in slips if f.kind is SLIP and f.value is not None]
        assert max(values) == pytest.approx(used.max(), rel=0.005)
    onset = grip.slip_from_rpm[1]
    if onset is not None:
        before, after = rpm < onset - 12, rpm <= onset + 12
        assert not (used[before] > 1.005).any() and used[after].max() > 0.995

    if grip.capacity_factor:  # 0: not even a fiftieth of the loads
        for factor, slipping in (
            (grip.capacity_factor * 1.005, True),
            (grip.capacity_factor * 0.995, False),
        ):
            loaded = run(drive, states.scaled(np.full(rpm.shape, factor)), solved.travel)
            assert (most_arc_used(loaded).max() >= 1.0) == slipping

    least = least_scale(solved)
    if least is not None and least * low > 0.051:  # 0.05 is where the search begins
        for scale, holds in ((least * 1.005, True), (least * 0.995, False)):
            weak = run_sprung(drive, rpm, np.array([scale * low]), solved.travel)
            assert (most_arc_used(weak).max() < 1.0) == holds


@pytest.mark.parametrize("seed", range(30))
def test_the_band_is_where_nothing_slips_and_nothing_is_too_tight(seed: int) -> None:
    """Inside the band no finding, just outside it one: spring or pull set anew, solved anew."""
    data = drawn(seed)
    solved = solved_of(data)
    if solved.turning is None:
        pytest.skip("does not stand")
    least, most = least_scale(solved), most_scale(solved)

    def kinds_at(scale: float) -> set[str]:
        tuned = json.loads(json.dumps(data))
        tensioner = tuned["drives"][0]["tensioner"]
        for key in ("torque_nm", "rate_nm_per_deg", "installed_tension_n"):
            if key in tensioner:
                tensioner[key] *= scale
        return {f.kind.code for f in solve(built(tuned), None, CATALOGUE).findings}

    tight, loose = {TOO_TIGHT.code, HUB_LOAD.code}, {SLIP.code, BELT_FLOATS.code}
    if most is not None and 0.06 < most < 4:
        assert not kinds_at(most * 0.99) & tight and kinds_at(most * 1.01) & tight
    low = 1.0 - damping_fraction(solved.case)
    if least is not None and least * low > 0.051:
        assert not kinds_at(least * 1.01) & loose and kinds_at(least * 0.99) & loose


@pytest.mark.parametrize("seed", range(12))
def test_one_thing_has_one_figure_wherever_it_stands(seed: int) -> None:
    """Sentence, value, slider, reserve and card; at the window's speeds and the command line's."""
    build = built(drawn(seed))
    listed = solve(build, None, CATALOGUE)
    shown = solve(build, shown_speeds(build.engine), CATALOGUE)
    assert [f.message for f in listed.findings] == [f.message for f in shown.findings]
    (drive,) = listed.drives
    slips = [f for f in drive.findings if f.kind is SLIP]
    ranges = [r for r in rev_ranges(build, listed) if r.kind == "stop"]
    assert {f.where for f in slips} == {p.id for p in drive.pulleys if p.slips_rpm} or any(
        f.kind is BELT_FLOATS for f in drive.findings
    )
    for finding in slips:
        pulley = drive.pulley(finding.where)
        assert pulley is not None and finding.value == pytest.approx(pulley.worst_arc_used)
        assert f"{100 * (pulley.worst_arc_used or 0):.0f} % of its wrap" in finding.message
        first = pulley.slips_rpm[0][0]
        assert f"slips from {first:.0f}" in finding.message
        assert any(r.low_rpm == first for r in ranges)
    if slips and drive.grip is not None:
        assert drive.grip.slip_from_rpm[1] == pytest.approx(min(r.low_rpm for r in ranges), abs=1.0)
