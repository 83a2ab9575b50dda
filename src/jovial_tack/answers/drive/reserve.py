"""How much a drive has in hand over all revs, on the low side of its damping (METHOD, section 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.hot import tension_growth_n, warmed
from jovial_tack.answers.drive.solved import Solved, damping_fraction
from jovial_tack.answers.results import GripResult, number
from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.arcs import creep_fraction
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.solve import BeltDrive, run
from jovial_tack.core.drive.travel import Travel
from jovial_tack.core.grip.reserve import (
    beyond_grip,
    capacity_factor,
    least_holding_scale,
    most_bearing_scale,
    rest_traction,
    slip_ranges,
)
from jovial_tack.core.grip.revs import Range, ranges_beyond
from jovial_tack.core.search import first_reach
from jovial_tack.core.value import replace

_STANDING = np.array([0.0])


def slipping_ranges(solved: Solved) -> tuple[Range, ...]:
    """The ranges of engine speed, from idle to redline, in which some pulley slips."""
    over = solved.over_revs
    return () if over is None else ranges_beyond(over.rpm, beyond_grip(over.low))


def least_scale(solved: Solved) -> float | None:
    """Least factor on the spring (or installed tension) that holds at every speed.

    Held even on the low side of the damping. None if no tension would hold, or while the tension is
    undecided.
    """
    if solved.turning is None:
        return None
    scale = least_holding_scale(solved.drive, solved.critical_rpm, solved.travel)
    return None if scale is None else scale / (1.0 - damping_fraction(solved.case))


def most_scale(solved: Solved) -> float | None:
    """Greatest factor on the spring (or installed tension) that belt and bearings bear.

    On the high side of the damping, at rest cold and hot, bearings at every speed as well. None if
    four times is borne.
    """
    cold, most = solved.drive, most_at_rest_n(solved)
    limits = np.array([shaft.hub_load_limit_n or np.inf for shaft in solved.case.shafts])
    found = [_scale_at(cold, most, solved.travel)]
    if np.isfinite(limits).any():
        every = np.append(_STANDING, solved.critical_rpm)
        found.append(most_bearing_scale(cold, every, limits, solved.travel))
    found += _scales_hot(solved, most, limits)
    known = [scale for scale in found if scale is not None]
    return max(0.0, min(known) / (1.0 + damping_fraction(solved.case))) if known else None


def _scales_hot(solved: Solved, most_n: float, hub_limit_n: Float) -> list[float | None]:
    """The same hot, at rest. What a bolted drive gains by heat is not scaled along."""
    cold, limits = solved.drive, solved.limits
    hot, set_n = warmed(cold, limits), getattr(cold.adjuster, "tension_n", None)
    gained = 0.0
    if set_n is not None:
        hot = replace(hot, adjuster=cold.adjuster)
        gained = tension_growth_n(cold, limits) / max(set_n, 1e-9)
    found = [_scale_at(hot, most_n, None)]
    if np.isfinite(hub_limit_n).any():
        found.append(most_bearing_scale(hot, _STANDING, hub_limit_n))
    return [None if scale is None else scale - gained for scale in found]


def most_at_rest_n(solved: Solved) -> float:
    """The most the belt should be set to at rest, N: a figure of its construction."""
    belt = solved.case.belt
    return belt.construction.most_tension_n_per_rib * belt.ribs


def _scale_at(drive: BeltDrive, tension_n: float, travel: Travel | None) -> float | None:
    """The factor on the spring (or installed tension) that sets a tension at rest."""

    def over(scales: np.ndarray) -> np.ndarray:
        states = Lanes.at_rest(drive.pulley_count, drive.belt, scales.size)
        rest = run(drive, replace(states, spring_scale=scales), travel)
        return np.nan_to_num(rest.tractions[:, 0], nan=np.inf) / tension_n - 1.0

    return first_reach(over, 0.05, 6.0, lanes=17, passes=2)


def grip_of(solved: Solved, least: float | None) -> GripResult | None:
    """The reserve of a drive; None while it is undecided. least: from `least_scale`."""
    if solved.turning is None:
        return None
    limits = solved.limits
    low = 1.0 - damping_fraction(solved.case)
    onset = [
        ranges[0][0] if ranges else None
        for ranges in (
            _ranges_at(solved, limits.friction_wet),
            slipping_ranges(solved),
            _ranges_at(solved, limits.friction_dry),
        )
    ]
    at_redline = solved.turning.nominal.tractions[solved.redline]
    tight, slack = at_redline.max(), at_redline.min()
    creep = creep_fraction(tight, slack, solved.drive.belt.stiffness_n)
    most = most_scale(solved)
    return GripResult(
        capacity_factor=capacity_factor(solved.drive, solved.critical_rpm, solved.travel, low),
        slip_from_rpm=(onset[0], onset[1], onset[2]),
        least_tension_n=_rest_tension(solved, least),
        most_tension_n=_rest_tension(solved, most),
        creep_percent=number(float(100 * creep)),
    )


def _ranges_at(solved: Solved, friction_scale: float) -> tuple[Range, ...]:
    return slip_ranges(
        solved.drive,
        solved.looked_at_rpm,
        solved.travel,
        spring_scale=1.0 - damping_fraction(solved.case),
        friction_scale=friction_scale,
    )


def _rest_tension(solved: Solved, scale: float | None) -> float | None:
    if scale is None:
        return None
    return number(rest_traction(solved.drive, scale, solved.travel))
