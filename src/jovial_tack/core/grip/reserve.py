"""What a drive has in reserve: loads, tension, friction, and the speed it slips from (METHOD 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.lanes import BeltState, Lanes
from jovial_tack.core.drive.solve import BeltDrive, Running, run, states_at
from jovial_tack.core.drive.travel import Travel
from jovial_tack.core.search import first_reach
from jovial_tack.core.value import replace


def most_arc_used(running: Running) -> Float:
    """Largest arc used over wrap of each state (S,); infinite where the belt floats."""
    used = running.arc_used_fraction
    return np.asarray(np.where(np.isnan(used), np.inf, used).max(axis=-1))


def capacity_factor(
    drive: BeltDrive, crank_rpm: float, travel: Travel | None = None, spring_scale: float = 1.0
) -> float | None:
    """All loads times this factor put the first pulley at its limit, in the coupled state.

    None if nothing slips up to 50 times the loads (or nothing is driven). METHOD 8.
    """

    def excess(factors: Float) -> Float:
        states = states_at(drive, np.full(factors.shape, crank_rpm)).scaled(factors)
        states = replace(states, spring_scale=np.full(factors.shape, spring_scale))
        return most_arc_used(run(drive, states, travel)) - 1.0

    reached = first_reach(lambda log: excess(np.exp(log)), np.log(0.02), np.log(50.0), passes=4)
    return None if reached is None else float(np.exp(reached))


def slip_from_rpm(
    drive: BeltDrive,
    low_rpm: float,
    high_rpm: float,
    travel: Travel | None = None,
    *,
    spring_scale: float = 1.0,
    friction_scale: float = 1.0,
    passes: int = 3,
) -> float | None:
    """Lowest crank speed in a range at which a pulley slips; None if none does. METHOD 8."""

    def excess(rpm: Float) -> Float:
        states = states_at(drive, rpm)
        states = replace(
            states,
            spring_scale=np.full(rpm.shape, spring_scale),
            friction=states.friction * friction_scale,
        )
        return most_arc_used(run(drive, states, travel)) - 1.0

    return first_reach(excess, low_rpm, high_rpm, lanes=25, passes=passes)


def run_sprung(
    drive: BeltDrive, crank_rpm: Float, scales: Float, travel: Travel | None = None
) -> Running:
    """Every crank speed (S,) with the spring's torque (or installed tension) times each scale (K,).

    The lanes of the result are K × S, the speeds running fastest.
    """
    base, lanes = states_at(drive, crank_rpm), scales.size
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

    def holds(scales: Float) -> Float:
        used = most_arc_used(run_sprung(drive, crank_rpm, scales, travel))
        spare = wanted - used.reshape(scales.size, crank_rpm.size).max(axis=-1)
        return np.asarray(np.nan_to_num(spare, nan=-9.0, neginf=-9.0))

    return first_reach(holds, 0.05, 4.0)


def most_bearing_scale(
    drive: BeltDrive, crank_rpm: Float, hub_limit_n: Float, travel: Travel | None = None
) -> float | None:
    """Greatest factor on the spring's torque (or installed tension) the bearings allow.

    Parameters: hub_limit_n (N,), infinite where no limit is known. None if four times is still
    within every limit. METHOD 8.
    """

    def over(scales: Float) -> Float:
        hub = np.abs(run_sprung(drive, crank_rpm, scales, travel).hub_load) / hub_limit_n
        return np.asarray(hub.max(axis=-1).reshape(scales.size, -1).max(axis=-1) - 1.0)

    return first_reach(over, 0.05, 4.0)


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
            friction=states.friction * np.exp(-falls)[:, None],
        )
        return most_arc_used(run(drive, states, travel)) - 1.0

    least, most = -np.log(8.0), -np.log(0.05)
    reached = first_reach(excess, least, most, passes=4)
    return None if reached is None or reached == least else float(np.exp(-reached))
