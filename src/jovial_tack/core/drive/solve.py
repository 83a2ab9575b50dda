"""One belt whole: from a drive and its loads to every state asked for (METHOD.md, sections 5 to 8)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from jovial_tack.core.arrays import Complex, Float, Int
from jovial_tack.core.drive.adjuster import INSIDE, BeltState, States, settle
from jovial_tack.core.drive.arm import Layout, SpringArm
from jovial_tack.core.drive.grip import arc_used
from jovial_tack.core.drive.loads import Load, belt_speed, traction_steps
from jovial_tack.core.drive.parts import hub_load
from jovial_tack.core.drive.path import Path, trace
from jovial_tack.core.drive.tension import slack_traction_for_mean
from jovial_tack.core.drive.travel import Travel, survey_travel
from jovial_tack.core.search import first_reach


@dataclass(frozen=True)
class Locked:
    """Pulleys that stand still; the belt keeps its installed tension, N, at every speed."""

    tension_n: float


@dataclass(frozen=True)
class Drive:
    """One drive, ready for the mechanics.

    speed_ratio: speed of the driver over the crank's; friction (N,); loads (N,), the driver's
    ignored; mass_kg_per_m and belt for the whole width.
    """

    layout: Layout
    adjuster: SpringArm | Locked
    belt: BeltState
    mass_kg_per_m: float
    friction: Float
    loads: tuple[Load, ...]
    speed_ratio: float = 1.0

    @cached_property
    def radii(self) -> Float:
        """Cord radii (N,), mm."""
        return np.abs(self.layout.signed_radii)

    @property
    def pulley_count(self) -> int:
        """How many pulleys stand on the route."""
        return int(self.layout.signed_radii.size)

    @cached_property
    def ratios(self) -> Float:
        """Speed of each pulley over the crank's (N,), from cord radii. METHOD 6."""
        return np.asarray(self.speed_ratio * self.radii[self.layout.driver] / self.radii)

    def torques(self, crank_rpm: Float) -> Float:
        """Torque at each pulley (S, N), N·m: driven positive, the driver's the positive total."""
        speeds = crank_rpm[:, None] * self.ratios
        torque = np.stack([load.torque_nm(speeds[:, i]) for i, load in enumerate(self.loads)], -1)
        driver = self.layout.driver
        torque[:, driver] = 0.0
        torque[:, driver] = (torque / self.radii).sum(axis=-1) * self.radii[driver]
        return torque

    def speed(self, crank_rpm: Float) -> Float:
        """Speed of the cord line, m/s."""
        driver = self.layout.driver
        return belt_speed(crank_rpm * self.speed_ratio, float(self.radii[driver]))


@dataclass(frozen=True)
class Running:
    """S running states of a drive.

    angle (S,) rad, NaN for a locked drive; outcome (S,) as of the adjuster; tractions (S, N) N of
    the span leaving each pulley; centrifugal (S,) m·v² N; path with (S, N) members; friction
    (S, N).
    """

    angle: Float
    outcome: Int
    tractions: Float
    centrifugal: Float
    path: Path
    friction: Float

    @cached_property
    def arc_used_fraction(self) -> Float:
        """Arc used over wrap (S, N); NaN where the belt floats."""
        return arc_used(self.tractions, self.friction) / self.path.wrap

    @cached_property
    def total_tension(self) -> Float:
        """Total span tensions (S, N), N."""
        return self.tractions + self.centrifugal[:, None]

    @cached_property
    def hub_load(self) -> Complex:
        """Hub load vectors (S, N), N."""
        return hub_load(self.path, self.tractions)


def states_at(drive: Drive, crank_rpm: Float, torques: Float | None = None) -> States:
    """Steady states with all loads on, at crank speeds (S,) rev/min. METHOD 7.

    torques (S, N): those of the drive at these speeds, if the caller has them already.
    """
    torques = drive.torques(crank_rpm) if torques is None else torques
    steps = traction_steps(torques, drive.radii, drive.layout.driver)
    # cumulated from the driver's exit, the slack span, in the order of travel
    order = np.roll(np.arange(drive.pulley_count), -drive.layout.driver)
    offsets = np.empty_like(steps)
    offsets[:, order] = np.cumsum(steps[:, order], axis=-1) - steps[:, order[:1]]
    at_rest = States.at_rest(drive.pulley_count, drive.belt, crank_rpm.size)
    return replace(
        at_rest,
        offsets_n=offsets,
        friction=np.broadcast_to(drive.friction, offsets.shape),
        centrifugal_n=drive.mass_kg_per_m * drive.speed(crank_rpm) ** 2,
    )


def run(drive: Drive, states: States, travel: Travel | None = None) -> Running:
    """Solve states of a drive: arm, tractions and geometry together.

    travel: the arm's surveyed travel, if the caller has it already.
    """
    if isinstance(drive.adjuster, Locked):
        path = trace(np.asarray(drive.layout.centers), drive.layout.signed_radii)
        still = _spread(path, states.centrifugal_n.size)
        mean = drive.adjuster.tension_n * states.spring_scale
        slack = slack_traction_for_mean(
            still, states.offsets_n, states.friction, states.centrifugal_n, mean
        )
        angle = np.full(slack.shape, np.nan)
        outcome = np.full(slack.shape, INSIDE, dtype=np.int64)
    else:
        travel = travel or survey_travel(drive.layout, drive.adjuster)
        settled = settle(drive.layout, drive.adjuster, states, travel)
        angle, outcome, still, slack = (
            settled.angle,
            settled.outcome,
            settled.path,
            settled.slack_n,
        )
    tractions = slack[:, None] + states.offsets_n
    return Running(angle, outcome, tractions, states.centrifugal_n, still, states.friction)


def _spread(path: Path, states: int) -> Path:
    shape = (states, path.centers.shape[-1])
    return Path(
        np.broadcast_to(path.centers, shape),
        path.signed_radii,
        np.broadcast_to(path.direction, shape),
        np.broadcast_to(path.length, shape),
        np.broadcast_to(path.wrap, shape),
    )


def most_arc_used(running: Running) -> Float:
    """Largest arc used over wrap of each state (S,); infinite where the belt floats."""
    used = running.arc_used_fraction
    return np.asarray(np.where(np.isnan(used), np.inf, used).max(axis=-1))


def capacity_factor(
    drive: Drive, crank_rpm: float, travel: Travel | None = None, spring_scale: float = 1.0
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
    drive: Drive,
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
    drive: Drive, crank_rpm: Float, scales: Float, travel: Travel | None = None
) -> Running:
    """Every crank speed (S,) with the spring's torque (or installed tension) times each scale (K,).

    The lanes of the result are K × S, the speeds running fastest.
    """
    base, lanes = states_at(drive, crank_rpm), scales.size
    states = States(
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
    drive: Drive, crank_rpm: Float, travel: Travel | None = None, wanted: float = 1.0
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
    drive: Drive, crank_rpm: Float, hub_limit_n: Float, travel: Travel | None = None
) -> float | None:
    """Greatest factor on the spring's torque (or installed tension) the bearings allow.

    Parameters: hub_limit_n (N,), infinite where no limit is known. None if four times is still
    within every limit. METHOD 8.
    """

    def over(scales: Float) -> Float:
        hub = np.abs(run_sprung(drive, crank_rpm, scales, travel).hub_load) / hub_limit_n
        return np.asarray(hub.max(axis=-1).reshape(scales.size, -1).max(axis=-1) - 1.0)

    return first_reach(over, 0.05, 4.0)


def rest_traction(drive: Drive, scale: float, travel: Travel | None = None) -> float:
    """Tension at rest with the spring's torque (or installed tension) times a factor, N."""
    state = replace(States.at_rest(drive.pulley_count, drive.belt), spring_scale=np.array([scale]))
    return float(run(drive, state, travel).tractions[0, 0])


def friction_at_limit(
    drive: Drive, crank_rpm: float, travel: Travel | None = None, spring_scale: float = 1.0
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
