"""The solved state of one drive, between the mechanics and the results and findings."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from jovial_tack.build.assemble import DriveCase
from jovial_tack.build.model import Engine
from jovial_tack.catalogue import Limits
from jovial_tack.core.arrays import Float, Int
from jovial_tack.core.drive.adjuster import INSIDE, States, pick_path, toggle_distance
from jovial_tack.core.drive.path import Path, PathFaults, faults, trace
from jovial_tack.core.drive.solve import Drive, Running, run, states_at
from jovial_tack.core.drive.travel import Travel, survey_travel, working
from jovial_tack.core.fit.alignment import Alignment, align, spacers

_SWEEP = 25


@dataclass(frozen=True, eq=False)
class SolvedDrive:
    """One drive, solved at rest and at every speed.

    rpm (R,): the listed speeds first, then those of idle, cruise and redline that are not among them;
    listed: how many were listed.
    rest: the path at rest, None if the drive cannot exist; drawn_path and rest_faults: what was judged
    then. outcome: how the arm came to rest; toggle_deg: how far from its toggle, NaN if unknown.
    rest_traction_n: NaN if unknown, or if the belt hangs slack. running, low: nominal and low side of
    the damping band, None while the tensioner is undecided or the belt slack. torque (R, N) N·m.
    usable: the ends of the adjuster's travel that collisions leave, None where nothing is in the way
    or none was looked for.
    """

    case: DriveCase
    limits: Limits
    rpm: Float
    listed: int
    drawn_path: Path | None
    rest_faults: PathFaults | None
    travel: Travel | None
    outcome: int
    rest: Path | None
    rest_angle: float
    rest_traction_n: float
    toggle_deg: float
    running: Running | None
    low: Running | None
    torque: Float
    usable: tuple[float, float] | None = None

    @cached_property
    def alignment(self) -> Alignment | None:
        """Angles of the belt against its grooves; None without a path."""
        return None if self.rest is None else align(self.rest, self.case.seats())

    @cached_property
    def moves(self) -> Float | None:
        """Spacers (N,), mm; None without a path, or if none mend it."""
        if self.rest is None:
            return None
        good = np.radians(self.case.belt.profile.good_angle_deg)
        return spacers(self.rest, self.case.seats(), float(good), self.drive.layout.driver)

    @cached_property
    def sweep(self) -> Running | None:
        """The low side of the damping band from idle to redline at sweep_rpm; None where low is."""
        if self.low is None:
            return None
        speeds = self.sweep_rpm
        states = states_at(self.drive, speeds)
        scale = np.full(speeds.shape, 1.0 - damping_fraction(self.case))
        return run(self.drive, replace(states, spring_scale=scale), self.travel)

    @property
    def engine_rpm(self) -> Float:
        """Idle, cruise and redline speed."""
        engine = self.case.engine
        return np.array([engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm])

    @property
    def redline(self) -> int:
        """The place of redline speed in `rpm`."""
        return int(np.flatnonzero(self.rpm == self.case.engine.redline_rpm)[0])

    @property
    def sweep_rpm(self) -> Float:
        """Engine speeds of the sweep."""
        return sweep_speeds(self.case)

    @property
    def drive(self) -> Drive:
        """The drive as the mechanics see it."""
        assert self.case.drive is not None
        return self.case.drive


def solve_state(
    case: DriveCase, rpm: Sequence[float], limits: Limits, *, live: bool = False
) -> SolvedDrive:
    """Solve a case at rest and at the listed speeds plus idle, cruise and redline.

    live: leave out the distance to the toggle, for use while the pointer moves.
    """
    drive = case.drive
    assert drive is not None
    engine = case.engine
    own = (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
    speeds = np.array([*rpm, *(speed for speed in own if speed not in rpm)], dtype=float)
    travel = survey_travel(drive.layout, case.arm) if case.arm else None
    rest_angle, rest_traction, outcome = np.nan, np.nan, INSIDE
    running = low = None
    drawn = found = rest = torque = None
    if case.arm is None or not case.decided:
        drawn = _drawn_path(case, drive)
        found = faults(drawn, drive.layout.driver_sign)
        rest = None if bool(found.any) else drawn
        if case.slide is not None and case.slide.share is None:
            rest = None  # the belt fits nowhere on the shaft's travel
    if case.decided and (case.arm is not None or rest is not None):
        states, torque = _all_states(case, drive, speeds)
        every = run(drive, states, travel)
        outcome = int(every.outcome[0])
        rest_angle, rest_traction = float(every.angle[0]), float(every.tractions[0, 0])
        if outcome == INSIDE:
            rest = first_lane(every.path)
        if outcome == INSIDE and rest_traction <= 0:
            rest_traction = np.nan  # a stretched belt that hangs slack pulls nothing at any speed
        elif outcome == INSIDE:
            count = speeds.size
            running = _pick(every, np.arange(1, 1 + count))
            low = _pick(every, np.arange(1 + count, 1 + 2 * count))
        else:
            rest, drawn = None, _drawn_path(case, drive)
            found = faults(drawn, drive.layout.driver_sign)
    toggle = np.nan
    if case.arm is not None and np.isfinite(rest_angle) and not live:
        toggle = float(np.degrees(toggle_distance(drive.layout, case.arm, rest_angle)))
    return SolvedDrive(
        case, limits, speeds, len(rpm), drawn or rest, found, travel, outcome, rest, rest_angle,
        rest_traction, toggle, running, low,
        drive.torques(speeds) if torque is None else torque,
    )  # fmt: skip


def first_lane(path: Path) -> Path:
    """The first lane of a path with (S, N) members."""
    return Path(path.centers[0], path.signed_radii, path.direction[0], path.length[0], path.wrap[0])


def sweep_speeds(case: DriveCase) -> Float:
    """Engine speeds from idle to redline in even steps, rev/min."""
    return np.linspace(case.engine.idle_rpm, case.engine.redline_rpm, _SWEEP)


def shown_speeds(engine: Engine, step_rpm: float = 100.0) -> tuple[float, ...]:
    """Speeds for pictures over revs: idle, cruise, redline and round figures between, rising."""
    first = math.ceil(engine.idle_rpm / step_rpm) * step_rpm
    between = np.arange(first, engine.redline_rpm, max(step_rpm, engine.redline_rpm / 90))
    own = (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
    return tuple(sorted({*own, *(float(round(speed)) for speed in between)}))


def damping_fraction(case: DriveCase) -> float:
    """Damping of the arm as a fraction of its torque; 0 where none is given."""
    return float(getattr(case.model.tensioner, "damping_fraction", None) or 0.0)


def _all_states(case: DriveCase, drive: Drive, speeds: Float) -> tuple[States, Float]:
    """Rest, every speed, and every speed on the low side of damping; with the torques (R, N)."""
    every = np.concatenate([speeds, speeds])
    scale = np.full(every.shape, 1.0 - damping_fraction(case))
    scale[: speeds.size] = 1.0
    torques = drive.torques(every)
    turning = replace(states_at(drive, every, torques), spring_scale=scale)
    resting = States.at_rest(drive.pulley_count, drive.belt)
    return States.joined(resting, turning), torques[: speeds.size]


def _pick(running: Running, which: Int) -> Running:
    return Running(
        running.angle[which],
        running.outcome[which],
        running.tractions[which],
        running.centrifugal[which],
        pick_path(running.path, which),
        running.friction[which],
    )


def _drawn_path(case: DriveCase, drive: Drive) -> Path:
    """The path to judge when no equilibrium is known: the arm (or a shaft on its travel) where it can
    work, or in the middle.
    """
    layout = drive.layout
    arm, slide = case.arm, case.slide
    centers = layout.centers
    if slide is not None and slide.share is None and slide.short is None:
        # no path anywhere on the travel: what stands in its way is told for the middle
        centers = layout.centers.copy()
        moved = [k for k, shaft in enumerate(case.shafts) if shaft.id == case.locked_shaft]
        centers[moved] = slide.track.center(np.asarray(0.5))
    if arm is not None:
        angles = np.linspace(*arm.stops, 41)
        exists, works = working(layout, arm, angles)
        middle = (arm.window[0] + arm.window[1]) / 2
        good = angles[works] if works.any() else angles[exists]
        angle = good[np.argmin(np.abs(good - middle))] if good.size else middle
        centers = layout.centers.copy()
        centers[arm.index] = arm.center(np.asarray(angle))
    return trace(centers, layout.signed_radii)
