"""How much a drive has in hand, searched over the coupled state (docs/METHOD.md, section 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.solved import Solved, damping_fraction
from jovial_tack.answers.results import GripResult, number
from jovial_tack.core.drive.arcs import creep_fraction
from jovial_tack.core.grip.reserve import (
    capacity_factor,
    least_holding_scale,
    most_arc_used,
    most_bearing_scale,
    rest_traction,
    slip_from_rpm,
)


def slip_onset(solved: Solved, *, exact: bool) -> float | None:
    """Lowest engine speed from idle to redline at which a pulley slips, on the low side of damping.

    exact: search for it; otherwise read it off the sweep by a straight line.
    """
    if solved.sweep is None:
        return None
    excess = most_arc_used(solved.sweep) - 1.0
    slipping = np.flatnonzero(~(excess < 0))
    if not slipping.size:
        return None
    first = int(slipping[0])
    if first == 0:
        return float(solved.sweep_rpm[0])
    low, high = solved.sweep_rpm[first - 1 : first + 1]
    if exact:
        return _search(solved, float(low), float(high), 1.0, passes=1)
    rise = excess[first] - excess[first - 1]
    share = -excess[first - 1] / rise if np.isfinite(rise) else 1.0
    return float(low + share * (high - low))


def _search(
    solved: Solved, low_rpm: float, high_rpm: float, friction_scale: float, passes: int = 2
) -> float | None:
    return slip_from_rpm(
        solved.drive,
        low_rpm,
        high_rpm,
        solved.travel,
        spring_scale=1.0 - damping_fraction(solved.case),
        friction_scale=friction_scale,
        passes=passes,
    )


def least_scale(solved: Solved) -> float | None:
    """Least factor on the spring (or installed tension) that holds at idle, cruise and redline.

    Held even on the low side of the damping. None if no tension would hold, or while the tension is
    undecided.
    """
    if solved.running is None:
        return None
    scale = least_holding_scale(solved.drive, solved.engine_rpm, solved.travel)
    return None if scale is None else scale / (1.0 - damping_fraction(solved.case))


def grip_of(solved: Solved, onset: float | None, least: float | None) -> GripResult | None:
    """The reserve of a drive on the low side of its damping; None while it is undecided.

    onset: from `slip_onset`; least: from `least_scale`.
    """
    if solved.running is None:
        return None
    limits = solved.limits
    redline = solved.case.engine.redline_rpm
    whole = (solved.case.engine.idle_rpm, redline)
    dry = None if onset is None else _search(solved, *whole, limits.friction_dry)
    wet = _search(solved, *whole, limits.friction_wet)
    at_redline = solved.running.tractions[solved.redline]
    tight, slack = at_redline.max(), at_redline.min()
    creep = creep_fraction(tight, slack, solved.drive.belt.stiffness_n)
    return GripResult(
        capacity_factor=capacity_factor(
            solved.drive, redline, solved.travel, 1.0 - damping_fraction(solved.case)
        ),
        slip_from_rpm=(wet, onset, dry),
        least_tension_n=_rest_tension(solved, least),
        most_tension_n=number(_most_tension(solved)),
        creep_percent=number(float(100 * creep)),
    )


def _rest_tension(solved: Solved, scale: float | None) -> float | None:
    if scale is None:
        return None
    return number(rest_traction(solved.drive, scale, solved.travel))


def _most_tension(solved: Solved) -> float:
    """The most the belt and the bearings allow at rest, N."""
    belt = solved.case.belt
    most = belt.construction.most_tension_n_per_rib * belt.ribs
    limits = np.array([shaft.hub_load_limit_n or np.inf for shaft in solved.case.shafts])
    if np.isfinite(limits).any():
        speeds = solved.engine_rpm
        scale = most_bearing_scale(solved.drive, speeds, limits, solved.travel)
        if scale is not None:
            most = min(most, rest_traction(solved.drive, scale, solved.travel))
    return most
