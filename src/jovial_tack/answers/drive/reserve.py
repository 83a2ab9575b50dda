"""How much a drive has in hand, searched over the coupled state (docs/METHOD.md, section 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.state import SolvedDrive, damping_fraction
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


def slip_onset(state: SolvedDrive, *, exact: bool) -> float | None:
    """Lowest engine speed from idle to redline at which a pulley slips, on the low side of damping.

    exact: search for it; otherwise read it off the sweep by a straight line.
    """
    if state.sweep is None:
        return None
    excess = most_arc_used(state.sweep) - 1.0
    slipping = np.flatnonzero(~(excess < 0))
    if not slipping.size:
        return None
    first = int(slipping[0])
    if first == 0:
        return float(state.sweep_rpm[0])
    low, high = state.sweep_rpm[first - 1 : first + 1]
    if exact:
        return _search(state, float(low), float(high), 1.0, passes=1)
    rise = excess[first] - excess[first - 1]
    share = -excess[first - 1] / rise if np.isfinite(rise) else 1.0
    return float(low + share * (high - low))


def _search(
    state: SolvedDrive, low_rpm: float, high_rpm: float, friction_scale: float, passes: int = 2
) -> float | None:
    return slip_from_rpm(
        state.drive,
        low_rpm,
        high_rpm,
        state.travel,
        spring_scale=1.0 - damping_fraction(state.case),
        friction_scale=friction_scale,
        passes=passes,
    )


def least_scale(state: SolvedDrive) -> float | None:
    """Least factor on the spring (or installed tension) that holds at idle, cruise and redline.

    Held even on the low side of the damping. None if no tension would hold, or while the tension is
    undecided.
    """
    if state.running is None:
        return None
    scale = least_holding_scale(state.drive, state.engine_rpm, state.travel)
    return None if scale is None else scale / (1.0 - damping_fraction(state.case))


def grip_of(state: SolvedDrive, onset: float | None, least: float | None) -> GripResult | None:
    """The reserve of a drive on the low side of its damping; None while it is undecided.

    onset: from `slip_onset`; least: from `least_scale`.
    """
    if state.running is None:
        return None
    limits = state.limits
    redline = state.case.engine.redline_rpm
    whole = (state.case.engine.idle_rpm, redline)
    dry = None if onset is None else _search(state, *whole, limits.friction_dry)
    wet = _search(state, *whole, limits.friction_wet)
    at_redline = state.running.tractions[state.redline]
    tight, slack = at_redline.max(), at_redline.min()
    creep = creep_fraction(tight, slack, state.drive.belt.stiffness_n)
    return GripResult(
        capacity_factor=capacity_factor(
            state.drive, redline, state.travel, 1.0 - damping_fraction(state.case)
        ),
        slip_from_rpm=(wet, onset, dry),
        least_tension_n=_rest_tension(state, least),
        most_tension_n=number(_most_tension(state)),
        creep_percent=number(float(100 * creep)),
    )


def _rest_tension(state: SolvedDrive, scale: float | None) -> float | None:
    if scale is None:
        return None
    return number(rest_traction(state.drive, scale, state.travel))


def _most_tension(state: SolvedDrive) -> float:
    """The most the belt and the bearings allow at rest, N."""
    belt = state.case.belt
    most = belt.construction.most_tension_n_per_rib * belt.ribs
    limits = np.array([shaft.hub_load_limit_n or np.inf for shaft in state.case.shafts])
    if np.isfinite(limits).any():
        speeds = state.engine_rpm
        scale = most_bearing_scale(state.drive, speeds, limits, state.travel)
        if scale is not None:
            most = min(most, rest_traction(state.drive, scale, state.travel))
    return most
