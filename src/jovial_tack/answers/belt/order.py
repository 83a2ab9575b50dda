"""Which belt to order: the stocked lengths that fit, each solved (docs/METHOD.md, sections 4 and 5)."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jovial_tack.answers.belt.stock import stock_for
from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import Case
from jovial_tack.answers.drive.clearance import Ends, clear_travel
from jovial_tack.answers.drive.freedom import standing_obstacles
from jovial_tack.answers.drive.lengths import called_for_length, travel_lengths, window_lengths
from jovial_tack.answers.drive.solved import damping_fraction
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Float
from jovial_tack.core.belt.lines import cord_length
from jovial_tack.core.drive.adjuster import INSIDE, settle
from jovial_tack.core.drive.inverse import belt_for_angle
from jovial_tack.core.drive.lanes import BeltState, Lanes
from jovial_tack.core.drive.solve import run, states_at
from jovial_tack.core.drive.travel import survey_travel
from jovial_tack.core.grip.reserve import most_arc_used
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Build, LockedTensioner


class OrderedBelt(Value, frozen=True):
    """The stocked belt to order for one drive.

    window_fraction and growth_left_mm where the arm would rest; holds at every speed on the low
    side of damping; off_by_mm from the length called for (locked drives); width in words.
    """

    drive: str
    ribs: int
    profile: str
    width: str
    effective_length_mm: float
    is_fitted: bool
    window_fraction: float | None = None
    growth_left_mm: float | None = None
    holds: bool = True
    off_by_mm: float | None = None


def belts_to_order(
    build: Build,
    catalogue: Catalogue,
    only: str | None = None,
    check_cancelled: Callable[[], None] = lambda: None,
) -> dict[str, OrderedBelt | None]:
    """For every drive (or only one) the stocked belt nearest to mid window; None where none fits.

    Only those count that rest where nothing is in the way. Among the lengths that rest in the window
    those are preferred that also stay in it and hold at idle, cruise and redline. Drives without a
    decided adjuster or a path are left out. check_cancelled: called between drives; what it raises
    ends the work.
    """
    found: dict[str, OrderedBelt | None] = {}
    cases = assemble(build, catalogue)
    stand = standing_obstacles(build, cases)
    for case in cases:
        if case.drive is None or case.model.tensioner is None or only not in (None, case.model.id):
            continue
        check_cancelled()
        usable = clear_travel(case, stand, catalogue) if stand else None
        stocked = np.array(
            [belt.effective_length_mm for belt in stock_for(build, case.belt, catalogue)]
        )
        if case.arm is not None:
            found[case.model.id] = _for_arm(case, stocked, usable)
        elif isinstance(case.model.tensioner, LockedTensioner):
            called_for = called_for_length(case, usable)
            if called_for is not None:
                found[case.model.id] = _for_locked(case, stocked, called_for, usable)
    return found


def _nominal(case: Case, length: float, **more: object) -> OrderedBelt:
    fitted = case.model.belt.effective_length_mm
    return OrderedBelt(
        drive=case.model.id,
        ribs=case.belt.ribs,
        profile=case.belt.profile.name,
        width=case.belt.profile.counted(case.belt.ribs),
        effective_length_mm=length,
        is_fitted=fitted is not None and abs(fitted - length) < 0.5,
        **more,  # type: ignore[arg-type]
    )


def _for_locked(
    case: Case, stocked: Float, called_for: float, usable: Ends | None
) -> OrderedBelt | None:
    """The stocked length nearest to the one called for; on a travel, of those that fit on it."""
    if case.track is not None:
        ends = travel_lengths(case, usable)
        low, high = ends or (np.inf, -np.inf)
        stocked = stocked[(stocked >= low) & (stocked <= high)]
    if not stocked.size:
        return None
    nearest = float(min(stocked, key=lambda length: abs(length - called_for)))
    return _nominal(case, nearest, off_by_mm=nearest - called_for)


def _for_arm(case: Case, stocked: Float, usable: Ends | None) -> OrderedBelt | None:
    drive, arm, profile = case.drive, case.arm, case.belt.profile
    assert drive is not None
    assert arm is not None
    window = window_lengths(case, usable)
    if window is None:
        return None
    lengths = stocked[(stocked >= window[0]) & (stocked <= window[1])]
    if not lengths.size:
        return None
    travel = survey_travel(drive.layout, arm)
    cords = np.asarray(cord_length(lengths, profile.effective_to_cord_mm))
    resting = Lanes.at_rest(drive.pulley_count, drive.belt, lengths.size)
    rest = settle(drive.layout, arm, _with_lengths(resting, cords), travel)
    engine = case.engine
    speeds = np.array([engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm])
    turning = states_at(drive, np.tile(speeds, lengths.size))
    weak = np.full(turning.centrifugal_n.shape, 1.0 - damping_fraction(case))
    turning = replace(_with_lengths(turning, np.repeat(cords, speeds.size)), spring_scale=weak)
    running = run(drive, turning, travel)
    shape = (lengths.size, speeds.size)
    used = most_arc_used(running).reshape(shape).max(axis=-1)
    settled = (running.outcome == INSIDE).reshape(shape).all(axis=-1)
    turning_fraction = arm.window_fraction(running.angle).reshape(shape)
    inside = settled & ((turning_fraction >= 0) & (turning_fraction <= 1)).all(axis=-1)
    fraction = arm.window_fraction(rest.angle)
    fits = (rest.outcome == INSIDE) & (fraction >= 0) & (fraction <= 1)
    if not fits.any():
        return None
    holds = np.nan_to_num(used, nan=np.inf) < 1.0
    rank = np.abs(fraction - 0.5) + 2.0 * ~inside + 4.0 * ~holds + 100.0 * ~fits
    best = int(np.nanargmin(rank))
    end = belt_for_angle(drive.layout, arm, drive.belt, np.array([arm.window[1]]))
    return _nominal(
        case,
        float(lengths[best]),
        window_fraction=float(fraction[best]),
        growth_left_mm=float(end[0] - cords[best]),
        holds=bool(holds[best]),
    )


def _with_lengths(states: Lanes, cords: Float) -> Lanes:
    belt = states.belt
    return replace(states, belt=BeltState(cords, belt.stiffness_n, belt.reference_tension_n))
