"""The solved state of one drive, between the mechanics and the results and findings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from jovial_tack.build.assemble import DriveCase
from jovial_tack.catalogue import Limits
from jovial_tack.core.arrays import Float, Int
from jovial_tack.core.drive.adjuster import (
    INSIDE,
    NO_PATH,
    BeltState,
    Layout,
    States,
    Travel,
    pick_path,
    survey_travel,
    working,
)
from jovial_tack.core.drive.path import Path, PathFaults, faults, trace
from jovial_tack.core.drive.solve import Drive, Running, run, states_at
from jovial_tack.core.fit.alignment import Alignment, align, spacers


@dataclass(frozen=True, eq=False)
class SolvedDrive:
    """One drive, solved at rest and at every speed.

    rpm (R,): the listed speeds first, then idle, cruise and redline; listed: how many were listed.
    rest: the path at rest, None if the drive cannot exist; rest_faults: why not, at `drawn_path`.
    outcome: how the arm came to rest. running, low: nominal and low side of the damping band, None
    while the tensioner is undecided. torque (R, N) N·m. moves (N,) mm: spacers, None if none mend it.
    """

    case: DriveCase
    limits: Limits
    rpm: Float
    listed: int
    drawn_path: Path
    rest_faults: PathFaults
    travel: Travel | None
    outcome: int
    rest: Path | None
    rest_angle: float
    rest_traction_n: float
    running: Running | None
    low: Running | None
    torque: Float
    alignment: Alignment | None
    moves: Float | None

    @property
    def drive(self) -> Drive:
        """The drive as the mechanics see it."""
        assert self.case.drive is not None
        return self.case.drive


def solve_state(case: DriveCase, rpm: Sequence[float], limits: Limits) -> SolvedDrive:
    """Solve a case at rest and at the listed speeds plus idle, cruise and redline."""
    drive = case.drive
    assert drive is not None
    engine = case.engine
    speeds = np.array([*rpm, engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm], dtype=float)
    travel = survey_travel(drive.layout, case.arm) if case.arm else None
    rest_angle, rest_traction, outcome = np.nan, np.nan, INSIDE
    running = low = None
    drawn = _drawn_path(case, drive)
    found = faults(drawn, drive.layout.driver_sign)
    rest: Path | None = None if bool(found.any) else drawn
    if case.decided and (case.arm is not None or rest is not None):
        every = run(drive, _all_states(case, drive, speeds), travel)
        outcome = int(every.outcome[0])
        rest_angle, rest_traction = float(every.angle[0]), float(every.tractions[0, 0])
        if outcome == INSIDE:
            rest = Path(*(getattr(every.path, name)[0] for name in Path.__slots__))
            count = speeds.size
            running = _pick(every, np.arange(1, 1 + count))
            low = _pick(every, np.arange(1 + count, 1 + 2 * count)) if _damped(case) else running
        else:
            rest = None
    alignment = moves = None
    if rest is not None:
        seats = case.seats()
        alignment = align(rest, seats)
        good = np.radians(case.belt.profile.good_angle_deg)
        moves = spacers(rest, seats, float(good), drive.layout.driver)
    return SolvedDrive(
        case, limits, speeds, len(rpm), drawn, found, travel, outcome, rest, rest_angle,
        rest_traction, running, low, drive.torques(speeds), alignment, moves,
    )  # fmt: skip


def _damped(case: DriveCase) -> bool:
    return bool(getattr(case.model.tensioner, "damping_fraction", None))


def damping_fraction(case: DriveCase) -> float:
    """Damping of the arm as a fraction of its torque; 0 where none is given."""
    return float(getattr(case.model.tensioner, "damping_fraction", None) or 0.0)


def _all_states(case: DriveCase, drive: Drive, speeds: Float) -> States:
    """Rest, every speed, and every speed on the low side of the damping band, as one batch."""
    turning = states_at(drive, speeds)
    rest = States.at_rest(drive.pulley_count, drive.belt)
    parts = [rest, turning]
    if _damped(case):
        weak = np.full(speeds.shape, 1.0 - damping_fraction(case))
        parts.append(replace(turning, spring_scale=weak))

    def joined(name: str) -> Float:
        return np.concatenate([getattr(part, name) for part in parts])

    def belts(name: str) -> Float:
        return np.concatenate([getattr(part.belt, name) for part in parts])

    return States(
        joined("offsets_n"),
        joined("friction"),
        joined("centrifugal_n"),
        joined("spring_scale"),
        BeltState(belts("cord_length_mm"), belts("stiffness_n"), belts("reference_tension_n")),
    )


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
    """The path to judge when no equilibrium is known: the arm where it can work, or mid window."""
    layout = drive.layout
    arm = case.arm
    centers = layout.centers
    if arm is not None:
        angles = np.linspace(*arm.stops, 41)
        exists, works = working(layout, arm, angles)
        middle = (arm.window[0] + arm.window[1]) / 2
        good = angles[works] if works.any() else angles[exists]
        angle = good[np.argmin(np.abs(good - middle))] if good.size else middle
        centers = layout.centers.copy()
        centers[arm.index] = arm.center(np.asarray(angle))
    return trace(centers, layout.signed_radii)


def with_layout(drive: Drive, layout: Layout) -> Drive:
    """The same drive with its pulleys elsewhere, for trying a mend."""
    return replace(drive, layout=layout)


__all__ = ["NO_PATH", "SolvedDrive", "damping_fraction", "solve_state", "with_layout"]
