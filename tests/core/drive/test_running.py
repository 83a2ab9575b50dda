"""The coupled running state: exact derivatives, equilibrium, and agreement with the plain solver."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jovial_tack.core.drive.adjuster import INSIDE, UNWOUND_STOP, residual, settle
from jovial_tack.core.drive.arm import SpringArm, place_arm
from jovial_tack.core.drive.inverse import belt_for_angle, toggle_distance
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.solve import BeltDrive, run, run_from_rest, run_together, states_at
from jovial_tack.core.drive.tension import mean_tension
from jovial_tack.core.drive.travel import survey_travel, working
from jovial_tack.core.grip.reserve import (
    capacity_factor,
    least_holding_scale,
    most_arc_used,
    run_sprung,
    slip_ranges,
)
from jovial_tack.core.grip.revs import speeds_over
from jovial_tack.core.value import replace
from plain import plain_of
from support import DEMO, built, read_case, solvable


def drives() -> dict[str, BeltDrive]:
    import json

    demo = built(json.loads(DEMO.read_text("utf-8")))
    found = {drive.id: solvable(demo, drive.id).drive for drive in demo.drives}
    for name in ("accessory_arm_on_stop", "blower_spring_arm", "two_pulleys_locked"):
        found[name] = solvable(built(read_case(name)["build"])).drive
    return found


DRIVES = drives()
SPRUNG = [name for name, drive in DRIVES.items() if isinstance(drive.adjuster, SpringArm)]


def _sprung(name: str) -> tuple[BeltDrive, SpringArm]:
    drive = DRIVES[name]
    assert isinstance(drive.adjuster, SpringArm)
    return drive, drive.adjuster


@pytest.mark.parametrize("name", SPRUNG)
@given(share=st.floats(0.1, 0.9), rpm=st.floats(500, 6500), scale=st.floats(0.6, 1.4))
@settings(max_examples=25, deadline=None)
def test_exact_derivatives_against_finite_differences(
    name: str, share: float, rpm: float, scale: float
) -> None:
    drive, arm = _sprung(name)
    angle = np.array([arm.window[0] + share * (arm.window[1] - arm.window[0])])
    states = replace(states_at(drive, np.array([rpm])), spring_scale=np.array([scale]))
    h = 1e-6
    up, down = place_arm(drive.layout, arm, angle + h), place_arm(drive.layout, arm, angle - h)
    here = place_arm(drive.layout, arm, angle)
    assert here.grown == pytest.approx((up.path.total - down.path.total) / (2 * h), rel=1e-6)
    assert here.curved == pytest.approx((up.grown - down.grown) / (2 * h), rel=1e-5)
    _, slope, slack, _ = residual(drive.layout, arm, states, angle)
    above = residual(drive.layout, arm, states, angle + h)[0]
    below = residual(drive.layout, arm, states, angle - h)[0]
    assert slope == pytest.approx((above - below) / (2 * h), rel=1e-4, abs=1e-4)
    tractions = slack[:, None] + states.offsets_n
    more = mean_tension(here.path, tractions + 1e-3, states.friction, states.centrifugal_n)[0]
    less = mean_tension(here.path, tractions - 1e-3, states.friction, states.centrifugal_n)[0]
    by_traction = mean_tension(here.path, tractions, states.friction, states.centrifugal_n)[1]
    assert by_traction == pytest.approx((more - less) / 2e-3, rel=1e-5)


@pytest.mark.parametrize("name", SPRUNG)
def test_equilibrium_leaves_no_residual(name: str) -> None:
    drive, arm = _sprung(name)
    states = states_at(drive, np.linspace(500, 6600, 40))
    found = settle(drive.layout, arm, states, survey_travel(drive.layout, arm))
    inside = found.outcome == INSIDE
    assert inside.sum() > 20
    value = residual(drive.layout, arm, states, found.angle)[0]
    assert np.abs(value[inside]).max() < 1e-7  # mm of belt


@given(
    names=st.lists(st.sampled_from(list(DRIVES)), min_size=2, max_size=4),
    seed=st.integers(0, 10**6),
    away=st.sampled_from([0.0, 3.0, 12.0, 40.0]),
    loads=st.floats(0.2, 3.0),
)
@settings(max_examples=150, deadline=None)
def test_drives_solved_together_are_as_each_by_itself(
    names: list[str], seed: int, away: float, loads: float
) -> None:
    rng, drives, states = np.random.default_rng(seed), [], []
    for name in names:
        layout = DRIVES[name].layout
        moved = layout.centers + away * rng.normal(size=layout.centers.size)
        drives.append(replace(DRIVES[name], layout=replace(layout, centers=moved)))
        turning = states_at(drives[-1], rng.uniform(600, 6600, 5)).scaled(np.full(5, loads))
        resting = Lanes.at_rest(drives[-1].pulley_count, drives[-1].belt)
        states.append(Lanes.joined(resting, turning))
    for drive, own, (got, _) in zip(drives, states, run_together(drives, states), strict=True):
        wanted, _ = run_from_rest(drive, own)
        assert got.outcome[0] == wanted.outcome[0]
        lanes = slice(None) if wanted.outcome[0] == INSIDE else slice(1)
        assert got.outcome[lanes].tolist() == wanted.outcome[lanes].tolist()
        for name in ("angle", "tractions"):
            one, other = getattr(got, name)[lanes], getattr(wanted, name)[lanes]
            assert one == pytest.approx(other, rel=1e-7, abs=1e-7, nan_ok=True)
        assert got.path.total[lanes] == pytest.approx(wanted.path.total[lanes], nan_ok=True)


@pytest.mark.parametrize("name", DRIVES)
@given(
    nudges=st.lists(st.floats(-4, 4), min_size=12, max_size=12),
    rpm=st.floats(600, 6600),
    loads=st.floats(0.2, 1.3),
)
@settings(max_examples=20, deadline=None)
def test_agrees_with_the_plain_solver(
    name: str, nudges: list[float], rpm: float, loads: float
) -> None:
    drive = DRIVES[name]
    count = drive.pulley_count
    shift = np.array(nudges[:count]) + 1j * np.array(nudges[6 : 6 + count])
    layout = replace(drive.layout, centers=drive.layout.centers + shift)
    drive = replace(drive, layout=layout)
    if isinstance(drive.adjuster, SpringArm):
        travel = np.linspace(*drive.adjuster.stops, 60)
        if not working(layout, drive.adjuster, travel)[1].all():
            return  # the plain solver knows no stretches of travel without a path
    speed = np.array([rpm])
    states = states_at(drive, speed).scaled(np.array([loads]))
    got = run(drive, states)
    if not np.isfinite(got.tractions).all() or got.outcome[0] not in (INSIDE, UNWOUND_STOP):
        return
    if (got.tractions <= 0).any():
        return  # a floating belt has no unique state
    plain = plain_of(drive)
    offsets = plain.offsets([float(t) * loads for t in drive.torques(speed)[0]])
    angle, tractions, on_stop = plain.solve(offsets, float(drive.speed(speed)[0]))
    assert got.tractions[0] == pytest.approx(tractions, rel=1e-6, abs=1e-4)
    assert on_stop == (got.outcome[0] == UNWOUND_STOP)
    if np.isfinite(angle):
        assert got.angle[0] == pytest.approx(angle, abs=1e-8)


@pytest.mark.parametrize("name", SPRUNG)
def test_the_belt_for_an_angle_rests_there(name: str) -> None:
    drive, arm = _sprung(name)
    angles = np.linspace(*arm.window, 9)[1:-1]
    belt = replace(drive.belt, cord_length_mm=belt_for_angle(drive.layout, arm, drive.belt, angles))
    known = np.isfinite(belt.cord_length_mm)
    assert known.sum() >= 5
    resting = Lanes.at_rest(drive.pulley_count, belt, angles.size)
    found = settle(drive.layout, arm, resting, survey_travel(drive.layout, arm))
    assert found.angle[known] == pytest.approx(angles[known], abs=1e-9)


def test_the_toggle_is_where_the_lever_is_lost() -> None:
    drive, arm = _sprung("blower_spring_arm")
    angle = float(run(drive, Lanes.at_rest(drive.pulley_count, drive.belt)).angle[0])
    away = toggle_distance(drive.layout, arm, angle)
    levers = [
        float(place_arm(drive.layout, arm, np.array(angle + s * away)).grown) for s in (1, -1)
    ]
    assert min(map(abs, levers)) < 1e-4
    assert max(map(abs, levers)) > 1


@pytest.mark.parametrize("name", DRIVES)
def test_loads_times_the_capacity_factor_put_one_pulley_at_its_limit(name: str) -> None:
    drive = DRIVES[name]
    factor = capacity_factor(drive, np.array([4000.0]))
    assert factor is not None
    states = states_at(drive, np.array([4000.0])).scaled(np.array([factor]))
    used = run(drive, states).arc_used_fraction[0]
    assert used.max() == pytest.approx(1.0, abs=1e-3)
    assert (used > 0.999).sum() == 1


def test_slip_onset_and_least_tension_are_where_the_arc_is_used_up() -> None:
    drive = DRIVES["blower"]
    ((onset, last),) = slip_ranges(drive, speeds_over(drive, 850, 6600), spring_scale=0.75)
    assert last == 6600
    states = replace(states_at(drive, np.array([onset])), spring_scale=np.array([0.75]))
    assert most_arc_used(run(drive, states)) == pytest.approx(1.0, abs=1e-4)
    speeds = np.array([2600.0, 6600.0])
    least = least_holding_scale(drive, speeds)
    assert least is not None
    used = most_arc_used(run_sprung(drive, speeds, np.array([least])))
    assert used.max() == pytest.approx(1.0, abs=1e-3)


def test_running_spends_some_of_the_tension_and_a_locked_belt_keeps_its_mean() -> None:
    drive, _ = _sprung("blower_spring_arm")
    rest = run(drive, Lanes.at_rest(drive.pulley_count, drive.belt)).tractions[0, 0]
    fast = run(drive, states_at(drive, np.array([6600.0]))).tractions[0, 0]
    assert 0.6 * rest < fast < 0.95 * rest
    locked = DRIVES["two_pulleys_locked"]
    states = states_at(locked, np.array([900.0, 6000.0]))
    running = run(locked, states)
    mean, _ = mean_tension(running.path, running.tractions, running.friction, running.centrifugal)
    assert mean == pytest.approx([700.0, 700.0])
