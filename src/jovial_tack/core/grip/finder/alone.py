"""One belt on one of many drives by the general code: for what takes more than one look (METHOD 5)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.drive.adjuster import INSIDE, settle
from jovial_tack.core.drive.arcs import arc_used
from jovial_tack.core.drive.lanes import BeltState, Lanes
from jovial_tack.core.drive.tension import hub_load
from jovial_tack.core.drive.travel import survey_travel
from jovial_tack.core.grip.finder.many import Loads, Many
from jovial_tack.core.grip.finder.settling import FITS, UNFIT
from jovial_tack.core.grip.finder.solving import Tried


def solve_alone(many: Many, loads: Loads, tried: Tried, row: int) -> None:
    """Solve one row of what was tried as `core.drive.adjuster` does, in place."""
    which = int(tried.drive[row])
    layout, arm = many.layout(which), many.arms.of(many.arm_place, which)
    states = _lanes(many, loads, which, float(tried.cord_mm[row]))
    settled = settle(layout, arm, states, survey_travel(layout, arm), rest_decides=True)
    tractions = settled.slack_n[:, None] + states.offsets_n
    share = arm.window_fraction(settled.angle[0])
    fits = bool((settled.outcome == INSIDE).all()) and 0 <= share <= 1
    running = slice(1, None)
    if not fits or not (tractions[running] > 0).all():
        tried.outcome[row] = UNFIT
        return
    tried.outcome[row] = FITS
    tried.angle[row], tried.tension_n[row] = settled.angle[0], tractions[0, 0]
    if not loads.states:
        return
    used = arc_used(tractions, states.friction) / settled.path.wrap
    tried.arc_used[row] = used[running].max()
    tried.hub_n[row] = np.abs(hub_load(settled.path, tractions))[running].max()
    tried.least_n[row] = tractions[running].min()
    tried.running[:, row] = settled.angle[running].min(), settled.angle[running].max()


def _lanes(many: Many, loads: Loads, which: int, cord_mm: float) -> Lanes:
    """Rest and every running state of one drive with one belt."""
    offsets, centrifugal = loads.offsets_n[..., which], loads.centrifugal_n[..., which]
    count, belt = 1 + loads.states, many.belt(which, cord_mm)
    full = np.ones(count)
    strength = np.full(count, loads.spring_scale)
    strength[0] = 1.0  # rest
    return Lanes(
        np.concatenate([np.zeros((1, many.pulleys)), offsets]),
        np.broadcast_to(many.friction[:, which], (count, many.pulleys)),
        np.concatenate([[0.0], centrifugal]),
        strength,
        BeltState(
            full * belt.cord_length_mm, full * belt.stiffness_n, full * belt.reference_tension_n
        ),
    )
