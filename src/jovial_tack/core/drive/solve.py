"""One belt whole: from a drive and its loads to every state asked for (METHOD.md, sections 5 to 8)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property, lru_cache

import numpy as np

from jovial_tack.core.arrays import Complex, Float, Int
from jovial_tack.core.drive.adjuster import INSIDE, ArmStates, settle, settle_together
from jovial_tack.core.drive.arcs import arc_used
from jovial_tack.core.drive.arm import Layout, Layouts, SpringArm, SpringArms
from jovial_tack.core.drive.lanes import BeltState, Lanes
from jovial_tack.core.drive.loads import Load, NoLoad, belt_speed, traction_steps
from jovial_tack.core.drive.path import Path, trace
from jovial_tack.core.drive.tension import hub_load, slack_traction_for_mean
from jovial_tack.core.drive.travel import Travel, cells_of, survey_travel
from jovial_tack.core.value import Value


class Locked(Value, frozen=True):
    """Pulleys that stand still; the belt keeps its installed tension, N, at every speed."""

    tension_n: float


class BeltDrive(Value, frozen=True, dict=True):
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
        driver, torque = self.layout.driver, np.zeros(speeds.shape)
        for place, load in enumerate(self.loads):
            if place != driver and not isinstance(load, NoLoad):
                torque[:, place] = load.torque_nm(speeds[:, place])
        # last, since the driver's is the sum of what the others take, over their radii to its own
        torque[:, driver] = (torque / self.radii).sum(axis=-1) * self.radii[driver]
        return torque

    def corners_rpm(self) -> tuple[float, ...]:
        """Crank speeds at which the curve of a load has a corner, or jumps."""
        return tuple(
            rpm / float(self.ratios[place])
            for place, load in enumerate(self.loads)
            if place != self.layout.driver
            for rpm in load.corners_rpm()
        )

    def speed(self, crank_rpm: Float) -> Float:
        """Speed of the cord line, m/s."""
        driver = self.layout.driver
        return belt_speed(crank_rpm * self.speed_ratio, float(self.radii[driver]))


class Running(Value, frozen=True, dict=True):
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

    def lanes(self, which: Int | slice) -> Running:
        """The chosen states."""
        return Running(
            self.angle[which],
            self.outcome[which],
            self.tractions[which],
            self.centrifugal[which],
            self.path.lanes(which),
            self.friction[which],
        )

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


@lru_cache(maxsize=256)
def _from_driver(count: int, driver: int) -> Int:
    return np.roll(np.arange(count), -driver)


def states_at(drive: BeltDrive, crank_rpm: Float, torques: Float | None = None) -> Lanes:
    """Steady states with all loads on, at crank speeds (S,) rev/min. METHOD 7.

    torques (S, N): those of the drive at these speeds, if the caller has them already.
    """
    torques = drive.torques(crank_rpm) if torques is None else torques
    steps = traction_steps(torques, drive.radii, drive.layout.driver)
    # cumulated from the driver's exit, the slack span, in the order of travel
    order = _from_driver(drive.pulley_count, drive.layout.driver)
    # the driver's exit is zero: what the base traction means
    offsets = np.empty_like(steps)
    offsets[:, order] = np.cumsum(steps[:, order], axis=-1) - steps[:, order[:1]]
    full, belt = np.ones(crank_rpm.size), drive.belt
    return Lanes(
        offsets,
        np.broadcast_to(drive.friction, offsets.shape),
        drive.mass_kg_per_m * drive.speed(crank_rpm) ** 2,
        full,
        BeltState(
            full * belt.cord_length_mm, full * belt.stiffness_n, full * belt.reference_tension_n
        ),
    )


def run(
    drive: BeltDrive, states: Lanes, travel: Travel | None = None, *, rest_decides: bool = False
) -> Running:
    """Solve states of a drive: arm, tractions and geometry together.

    travel: the arm's surveyed travel, if the caller has it already; rest_decides: as of `settle`.
    """
    if isinstance(drive.adjuster, Locked):
        path = trace(np.asarray(drive.layout.centers), drive.layout.signed_radii)
        # nothing moves with the load: one geometry serves every state
        still = _spread(path, states.centrifugal_n.size)
        mean = drive.adjuster.tension_n * states.spring_scale
        slack = slack_traction_for_mean(
            still, states.offsets_n, states.friction, states.centrifugal_n, mean
        )
        # no arm, no angle; and a locked drive always settles, so that its outcome is inside
        angle = np.full(slack.shape, np.nan)
        outcome = np.full(slack.shape, INSIDE, dtype=np.int64)
    else:
        travel = travel or survey_travel(drive.layout, drive.adjuster)
        arm = drive.adjuster
        return _running(
            settle(drive.layout, arm, states, travel, rest_decides=rest_decides), states
        )
    return _running(ArmStates(angle, slack, outcome, still), states)


def _running(settled: ArmStates, states: Lanes) -> Running:
    return Running(
        settled.angle,
        settled.outcome,
        settled.slack_n[:, None] + states.offsets_n,
        states.centrifugal_n,
        settled.path,
        states.friction,
    )


def run_from_rest(drive: BeltDrive, states: Lanes) -> tuple[Running, Travel | None]:
    """Solve states of a drive, the first of them at rest, which decides (see `settle`).

    Returns with them the travel that was surveyed, if there is an arm.
    """
    arm = drive.adjuster
    travel = survey_travel(drive.layout, arm) if isinstance(arm, SpringArm) else None
    return run(drive, states, travel, rest_decides=True), travel


def run_together(
    drives: Sequence[BeltDrive], states: Sequence[Lanes]
) -> list[tuple[Running, Travel | None]]:
    """The same for each of several drives, with as many states each.

    Drives with an arm are solved as one batch, which costs little more than one of them.
    """
    done: dict[int, tuple[Running, Travel | None]] = {}
    armed = [k for k, drive in enumerate(drives) if isinstance(drive.adjuster, SpringArm)]
    if len(armed) > 1:
        done = _run_armed({k: drives[k] for k in armed}, {k: states[k] for k in armed})
    for place, drive in enumerate(drives):
        if place not in done:
            done[place] = run_from_rest(drive, states[place])
    return [done[place] for place in range(len(drives))]


def _run_armed(
    drives: Mapping[int, BeltDrive], states: Mapping[int, Lanes]
) -> dict[int, tuple[Running, Travel | None]]:
    """Those of the drives that can be solved side by side."""
    layouts = Layouts.of([drive.layout for drive in drives.values()])
    each = [drive.adjuster for drive in drives.values() if isinstance(drive.adjuster, SpringArm)]
    arms = SpringArms.of(each, layouts)
    travel = survey_travel(layouts, arms)
    # a drive whose state hangs on an exact end of its travel is solved again by itself below
    settled, plain = settle_together(layouts, arms, Lanes.beside(*states.values()), travel)
    cells = cells_of(arms)
    done: dict[int, tuple[Running, Travel | None]] = {}
    for lane, name in enumerate(drives):
        own = travel.drive(lane, int(cells[lane]))
        if plain[lane]:
            path = settled.path.route(lane)
            of = ArmStates(
                settled.angle[:, lane], settled.slack_n[:, lane], settled.outcome[:, lane], path
            )
            running = _running(of, states[name])
        else:
            running = run(drives[name], states[name], own, rest_decides=True)
        done[name] = running, own
    return done


def _spread(path: Path, states: int) -> Path:
    shape = (states, path.centers.shape[-1])
    return Path(
        np.broadcast_to(path.centers, shape),
        path.signed_radii,
        np.broadcast_to(path.direction, shape),
        np.broadcast_to(path.length, shape),
        np.broadcast_to(path.wrap, shape),
        path.ring,
    )
