"""What a drive has in reserve: loads, tension, friction, and the speed it slips from (METHOD 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.lanes import BeltState, Lanes
from jovial_tack.core.drive.solve import BeltDrive, Running, run, states_at
from jovial_tack.core.drive.travel import Travel
from jovial_tack.core.grip.revs import Range, between, ranges_beyond
from jovial_tack.core.search import first_all_over, first_reach, first_reach_over
from jovial_tack.core.value import replace


def most_arc_used(running: Running) -> Float:
    """Largest arc used over wrap of each state (S,); infinite where the belt floats."""
    used = running.arc_used_fraction
    # a belt that floats on one pulley is beyond grip, however little the others use
    return np.asarray(np.where(np.isnan(used), np.inf, used).max(axis=-1))


def beyond_grip(running: Running) -> Float:
    """How far each state (S,) is beyond what its pulleys hold, as `beyond_arc`."""
    return beyond_arc(most_arc_used(running))


def beyond_arc(used: Float) -> Float:
    """One less wrap over arc used (...): 0 or more where a pulley slips, 1 where the belt floats (NaN).

    Unlike the arc itself it stays finite as the slack side loses its pull, so that it can be
    interpolated.

    >>> beyond_arc(np.array([0.5, 1.0, 2.0, np.nan])).tolist()
    [-1.0, 0.0, 0.5, 1.0]
    """
    # NaN, the belt floats, becomes infinite use and so exactly 1: further than any slip
    with np.errstate(divide="ignore"):
        return np.asarray(1.0 - 1.0 / np.where(np.isnan(used), np.inf, used))


def capacity_factor(
    drive: BeltDrive, crank_rpm: Float, travel: Travel | None = None, spring_scale: float = 1.0
) -> float | None:
    """All loads times this factor put the first pulley at its limit at one of the speeds (S,).

    In the coupled state. None if nothing slips up to 50 times the loads (or nothing is driven); 0 where
    the belt does not even hold a fiftieth of them. METHOD 8.
    """
    # searched in logarithms: a factor of two is as far up as down
    least, most = np.log(0.02), np.log(50.0)

    def excess(logs: Float, rpm: Float) -> Float:
        states = states_at(drive, np.tile(rpm, logs.size)).scaled(np.repeat(np.exp(logs), rpm.size))
        states = replace(states, spring_scale=np.full(states.centrifugal_n.shape, spring_scale))
        return beyond_grip(run(drive, states, travel)).reshape(logs.size, rpm.size)

    reached = first_reach_over(excess, crank_rpm, least, most)
    if reached is None:
        return None
    return 0.0 if reached == least else float(np.exp(reached))


def slip_excess(
    drive: BeltDrive,
    crank_rpm: Float,
    travel: Travel | None = None,
    *,
    spring_scale: float = 1.0,
    friction_scale: float = 1.0,
) -> Float:
    """As `beyond_grip`, at crank speeds (S,)."""
    states = states_at(drive, crank_rpm)
    states = replace(
        states,
        spring_scale=np.full(crank_rpm.shape, spring_scale),
        friction=states.friction * friction_scale,
    )
    return beyond_grip(run(drive, states, travel))


def slip_ranges(
    drive: BeltDrive,
    crank_rpm: Float,
    travel: Travel | None = None,
    *,
    spring_scale: float = 1.0,
    friction_scale: float = 1.0,
) -> tuple[Range, ...]:
    """The ranges of crank speeds in which a pulley slips, looked for at (S,) and between. METHOD 8."""

    def excess(rpm: Float) -> Float:
        return slip_excess(
            drive, rpm, travel, spring_scale=spring_scale, friction_scale=friction_scale
        )

    # twice: where the first look cannot tell how it runs between two speeds, one more lies there
    first = excess(crank_rpm)
    further = between(crank_rpm, first)
    rpm = np.concatenate([crank_rpm, further])
    order = np.argsort(rpm)
    every = np.concatenate([first, excess(further) if further.size else further])
    return ranges_beyond(rpm[order], every[order])


def run_sprung(
    drive: BeltDrive, crank_rpm: Float, scales: Float, travel: Travel | None = None
) -> Running:
    """Every crank speed (S,) with the spring's torque (or installed tension) times each scale (K,).

    The lanes of the result are K × S, the speeds running fastest. Speed 0 is the belt at rest, without
    loads.
    """
    # speed 0 has no loads and no m·v², but is a lane like the others
    turning = crank_rpm > 0
    base, lanes = states_at(drive, np.where(turning, crank_rpm, 1.0)), scales.size
    base = replace(
        base,
        offsets_n=np.where(turning[:, None], base.offsets_n, 0.0),
        centrifugal_n=np.where(turning, base.centrifugal_n, 0.0),
    )
    states = Lanes(
        np.tile(base.offsets_n, (lanes, 1)),
        np.tile(base.friction, (lanes, 1)),
        np.tile(base.centrifugal_n, lanes),
        np.repeat(scales, crank_rpm.size),
        BeltState(
            np.tile(base.belt.cord_length_mm, lanes),
            np.tile(base.belt.stiffness_n, lanes),
            np.tile(base.belt.reference_tension_n, lanes),
        ),
    )
    return run(drive, states, travel)


def least_holding_scale(
    drive: BeltDrive, crank_rpm: Float, travel: Travel | None = None, wanted: float = 1.0
) -> float | None:
    """Least factor on the spring's torque (or installed tension) at which nothing slips.

    Holds means that no pulley uses more than `wanted` of its wrap at any of the speeds (S,). None
    if even four times is not enough. METHOD 8.
    """

    def spare(scales: Float, rpm: Float) -> Float:
        running = run_sprung(drive, rpm, scales, travel)
        # 1 − beyond is wrap over arc used; the belt that floats holds nothing
        held = 1.0 - beyond_grip(running).reshape(scales.size, rpm.size)
        return np.asarray(np.nan_to_num(held, nan=0.0) - 1.0 / wanted)

    return first_all_over(spare, crank_rpm, 0.05, 4.0)


def most_bearing_scale(
    drive: BeltDrive, crank_rpm: Float, hub_limit_n: Float, travel: Travel | None = None
) -> float | None:
    """Greatest factor on the spring's torque (or installed tension) the bearings allow.

    Parameters: hub_limit_n (N,), infinite where no limit is known; crank_rpm (S,), 0 among them for
    the belt at rest. None if four times is still within every limit. METHOD 8.
    """

    def over(scales: Float, rpm: Float) -> Float:
        hub = np.abs(run_sprung(drive, rpm, scales, travel).hub_load) / hub_limit_n
        return np.asarray(hub.max(axis=-1).reshape(scales.size, rpm.size) - 1.0)

    return first_reach_over(over, crank_rpm, 0.05, 4.0)


def rest_traction(drive: BeltDrive, scale: float, travel: Travel | None = None) -> float:
    """Tension at rest with the spring's torque (or installed tension) times a factor, N."""
    state = replace(Lanes.at_rest(drive.pulley_count, drive.belt), spring_scale=np.array([scale]))
    return float(run(drive, state, travel).tractions[0, 0])


def friction_at_limit(
    drive: BeltDrive, crank_rpm: float, travel: Travel | None = None, spring_scale: float = 1.0
) -> float | None:
    """Factor on all friction at which the first pulley just slips at an engine speed, coupled state.

    None if it slips even with eight times the friction, or holds with a twentieth. METHOD 8 and 17.
    """

    def excess(falls: Float) -> Float:
        states = states_at(drive, np.full(falls.shape, crank_rpm))
        states = replace(
            states,
            spring_scale=np.full(falls.shape, spring_scale),
            # friction falls as the search goes on, so that the first reach is the first slip
            friction=states.friction * np.exp(-falls)[:, None],
        )
        return most_arc_used(run(drive, states, travel)) - 1.0

    # eight times to a twentieth of the friction, from most to least as the search goes on
    least, most = -np.log(8.0), -np.log(0.05)
    reached = first_reach(excess, least, most, passes=4)
    return None if reached is None or reached == least else float(np.exp(-reached))
