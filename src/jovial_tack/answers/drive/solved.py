"""The solved state of one drive, between the mechanics and the results and findings."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cached_property

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.catalogue import Limits
from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.adjuster import INSIDE
from jovial_tack.core.drive.inverse import toggle_distance
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.path import Path, PathFaults, faults, trace
from jovial_tack.core.drive.solve import (
    BeltDrive,
    Running,
    run,
    run_from_rest,
    run_together,
    states_at,
)
from jovial_tack.core.drive.travel import Travel, survey_travel
from jovial_tack.core.grip.revs import about_peaks, between, speeds_over
from jovial_tack.core.line_up.alignment import Alignment, align
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Engine


class OverRevs(Value, frozen=True, eq=False):
    """A drive from idle to redline: rpm (R,) rising, corners of the loads among them, and beside every
    peak; at the nominal torque of the spring, and on the low and the high side of its damping.
    """

    rpm: Float
    nominal: Running
    low: Running
    high: Running


class Turning(Value, frozen=True, eq=False):
    """A drive whose belt is taut, and all that needs tension: at each speed with the nominal torque of
    the spring and on the low side of its damping; pull of the belt at rest, N.
    """

    nominal: Running
    low: Running
    rest_traction_n: float


class Solved(Value, frozen=True, eq=False, dict=True):
    """One drive, solved at rest and at every speed.

    rpm (R,): the listed speeds first, then those of idle, cruise and redline that are not among them;
    listed: how many were listed.
    rest: the path at rest, None if the drive cannot exist; drawn_path: what was judged then. outcome:
    how the arm came to rest; toggle: how far from its toggle, rad (of a
    slide a share), NaN if unknown. turning: None
    while the tensioner is undecided or the belt slack. torque (R, N) N·m.
    usable: the ends of the adjuster's travel that collisions leave, None where nothing is in the way
    or none was looked for. live: solved while something moves, without looking closely.
    """

    case: SolvableCase
    limits: Limits
    rpm: Float
    listed: int
    drawn_path: Path | None
    travel: Travel | None
    outcome: int
    rest: Path | None
    rest_angle: float
    toggle: float
    turning: Turning | None
    torque: Float
    usable: tuple[float, float] | None = None
    live: bool = False

    @cached_property
    def rest_faults(self) -> PathFaults | None:
        """What was found in the drawn path; None without one."""
        path = self.drawn_path
        return None if path is None else faults(path, self.drive.layout.driver_sign)

    @cached_property
    def alignment(self) -> Alignment | None:
        """Angles of the belt against its grooves; None without a path."""
        return None if self.rest is None else align(self.rest, self.case.seats())

    @cached_property
    def over_revs(self) -> OverRevs | None:
        """From idle to redline, what findings judge by; None where `turning` is."""
        if self.turning is None:
            return None
        rpm = self.looked_at_rpm
        first = self._run_over(rpm)
        if self.live:
            return first
        watched = [first.low.arc_used_fraction - 1.0, np.abs(first.high.hub_load)]
        if self.case.arm is not None:
            fraction = self.case.arm.window_fraction(first.nominal.angle)[:, None]
            watched += [fraction - 1.0, -fraction]
        return self._run_over(np.sort([*rpm, *between(rpm, np.concatenate(watched, axis=-1))]))

    @property
    def critical_rpm(self) -> Float:
        """Engine speeds about the peaks of arc used and hub load: one of them is where it matters."""
        over = self.over_revs
        assert over is not None
        columns = [over.low.arc_used_fraction, np.abs(over.high.hub_load)]
        peaks = about_peaks(over.rpm, np.concatenate(columns, axis=-1))
        return np.array(
            sorted({*peaks.tolist(), *over.rpm[:: max(1, over.rpm.size // 6)].tolist()})
        )

    @cached_property
    def looked_at_rpm(self) -> Float:
        """Engine speeds from idle to redline at which to look first, and listed ones beyond them.

        Which speeds are listed between changes nothing: the window lists more than the command line,
        and both say the same.
        """
        engine = self.case.engine
        low, high = engine.idle_rpm, engine.redline_rpm
        beyond = self.rpm[(self.rpm < low) | (self.rpm > high)]
        even = speeds_over(self.drive, low, high)
        return np.array(sorted({*even.tolist(), engine.cruise_rpm, *beyond.tolist()}))

    def _run_over(self, rpm: Float) -> OverRevs:
        """Every speed, at the nominal torque of the spring and at both sides of its damping."""
        states, damping = states_at(self.drive, rpm), damping_fraction(self.case)
        sides = (1.0, 1.0 - damping, 1.0 + damping)
        lanes = [replace(states, spring_scale=np.full(rpm.shape, side)) for side in sides]
        every, count = run(self.drive, Lanes.joined(*lanes), self.travel), rpm.size
        return OverRevs(rpm, *(every.lanes(slice(k * count, (k + 1) * count)) for k in range(3)))

    @property
    def redline(self) -> int:
        """The place of redline speed in `rpm`."""
        return int(np.flatnonzero(self.rpm == self.case.engine.redline_rpm)[0])

    @property
    def drive(self) -> BeltDrive:
        """The drive as the mechanics see it."""
        return self.case.drive


def solve_states(
    cases: Sequence[SolvableCase], rpm: Sequence[float], limits: Limits, *, live: bool = False
) -> list[Solved]:
    """Solve cases of a build at rest and at the listed speeds plus idle, cruise and redline.

    live: for use while the pointer moves: all at once, and without the distance to the toggle.
    """
    begun = [_begun(case, rpm, limits, live=live) for case in cases]
    lanes = [
        k
        for k, case in enumerate(cases)
        if case.decided and (case.arm is not None or begun[k].rest is not None)
    ]
    drives, states = [begun[k].drive for k in lanes], [_all_states(begun[k]) for k in lanes]
    # each by itself is to the last digit the same, whichever drives are taken over from before
    ran = run_together(drives, states) if live else list(map(run_from_rest, drives, states))
    for place, (every, travel) in zip(lanes, ran, strict=True):
        begun[place] = _ended(begun[place], every, travel, live=live)
    return begun


def _begun(case: SolvableCase, rpm: Sequence[float], limits: Limits, *, live: bool) -> Solved:
    """A drive before it is run; what no belt decides is judged as it is drawn."""
    drive, engine = case.drive, case.engine
    assert drive is not None
    own = (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
    speeds = np.array([*rpm, *(speed for speed in own if speed not in rpm)], dtype=float)
    travel = drawn = rest = None
    if case.arm is None or not case.decided:
        travel = survey_travel(drive.layout, case.arm) if case.arm else None
        drawn = _drawn_path(case, travel)
        rest = None if bool(faults(drawn, drive.layout.driver_sign).any) else drawn
        if case.slide is not None and case.slide.share is None:
            rest = None  # the belt fits nowhere on the shaft's travel
    return Solved(
        case=case,
        limits=limits,
        rpm=speeds,
        listed=len(rpm),
        drawn_path=drawn,
        travel=travel,
        outcome=INSIDE,
        rest=rest,
        rest_angle=np.nan,
        toggle=np.nan,
        turning=None,
        torque=drive.torques(speeds),
        live=live,
    )


def _all_states(begun: Solved) -> Lanes:
    """Rest, every speed, and every speed on the low side of damping."""
    speeds, torque, low = begun.rpm, begun.torque, 1.0 - damping_fraction(begun.case)
    every = np.concatenate([[0.0], speeds, speeds])
    scale = np.ones(every.size)
    scale[1 + speeds.size :] = low
    rest = np.zeros((1, begun.drive.pulley_count))
    turning = states_at(begun.drive, every, np.concatenate([rest, torque, torque]))
    return replace(turning, spring_scale=scale)


def _ended(begun: Solved, every: Running, travel: Travel | None, *, live: bool) -> Solved:
    """A drive with what its run tells."""
    case, layout, count = begun.case, begun.drive.layout, begun.rpm.size
    outcome, traction = int(every.outcome[0]), float(every.tractions[0, 0])
    angle, toggle = float(every.angle[0]), np.nan
    if case.arm is not None and np.isfinite(angle) and not live:
        toggle = toggle_distance(layout, case.arm, angle)
    if outcome == INSIDE:
        rest = every.path.lanes(0)
        drawn = begun.drawn_path or rest
    else:
        rest, drawn = None, _drawn_path(case, travel)
    turning = None
    # a stretched belt that hangs slack pulls nothing at any speed
    if outcome == INSIDE and traction > 0:
        nominal, low = every.lanes(slice(1, 1 + count)), every.lanes(slice(1 + count, None))
        turning = Turning(nominal, low, traction)
    return replace(
        begun,
        drawn_path=drawn,
        travel=travel,
        outcome=outcome,
        rest=rest,
        rest_angle=angle,
        toggle=toggle,
        turning=turning,
    )


def shown_speeds(engine: Engine, step_rpm: float = 100.0) -> tuple[float, ...]:
    """Speeds for pictures over revs: idle, cruise, redline and round figures between, rising."""
    first = math.ceil(engine.idle_rpm / step_rpm) * step_rpm
    between = np.arange(first, engine.redline_rpm, max(step_rpm, engine.redline_rpm / 90))
    own = (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
    return tuple(sorted({*own, *(float(round(speed)) for speed in between)}))


def damping_fraction(case: SolvableCase) -> float:
    """Damping of the arm as a fraction of its torque; 0 where none is given."""
    return float(getattr(case.model.tensioner, "damping_fraction", None) or 0.0)


def _drawn_path(case: SolvableCase, travel: Travel | None) -> Path:
    """The path to judge when no equilibrium is known: the arm (or a shaft on its travel) where it can
    work, or in the middle.
    """
    layout, arm, slide = case.drive.layout, case.arm, case.slide
    if arm is not None:
        assert travel is not None
        assert travel.nodes is not None
        angles = np.concatenate([travel.low, travel.high[-1:]])
        good = travel.works if travel.works.any() else travel.exists
        away = np.abs(angles - (arm.window[0] + arm.window[1]) / 2)
        if good.any():
            away[~good] = np.inf
        return travel.nodes.path.lanes(int(np.argmin(away)))
    centers = layout.centers
    if slide is not None and slide.share is None and slide.short is None:
        # no path anywhere on the travel: what stands in its way is told for the middle
        centers = layout.centers.copy()
        moved = [k for k, shaft in enumerate(case.shafts) if shaft.id == case.locked_shaft]
        centers[moved] = slide.track.center(np.asarray(0.5))
    return trace(centers, layout.signed_radii)
