"""Where the belt puts a spring arm: one coupled equilibrium for rest and running.

A state is a set of traction offsets, a speed and a belt (docs/METHOD.md, sections 5 and 7). Rest is
the state without loads at speed zero, so there is one mechanics. The arm is let go from its wound
stop and comes to rest at the first angle where the path grows past the belt. That angle is found
in two steps: a scan that brackets it, and Newton with exact derivatives inside the bracket. The
scan is what makes the answer the one the engine finds, and Newton is what makes it exact.

One drive or several side by side go through the same code (see `ring`): where a text says (S,), several
drives have (S, R), and N then counts the pulleys of all of them.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from jovial_tack.core.arrays import MM_PER_M, Bool, Float, Int
from jovial_tack.core.drive.arm import (
    ArmGeometry,
    Layout,
    Layouts,
    SpringArm,
    SpringArms,
    place_arm,
)
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.path import Path
from jovial_tack.core.drive.tension import arc_tension, arc_traction, slack_traction_for_mean
from jovial_tack.core.drive.travel import Travel, with_exact_edges
from jovial_tack.core.value import Value

_NEWTON_STEPS = 60
_ANGLE_TOLERANCE = 1e-13
_NEWTON_CLOSE, _NEWTON_LEFT = 2e-5, 5e-10
_DIAGONAL = (np.arange(4), np.arange(4))
_EVERY_NODE = (slice(None), None)  # an axis of nodes behind that of states

#: How an arm came to rest in a state.
INSIDE, WOUND_STOP, UNWOUND_STOP, NO_PATH = 0, 1, 2, 3


class ArmStates(Value, frozen=True):
    """Equilibria of S states.

    angle (S,) rad; slack_n (S,) traction of the span leaving the driver; outcome (S,) one of INSIDE,
    WOUND_STOP, UNWOUND_STOP, NO_PATH; path with (S, N) members. NaN where there is no path.
    """

    angle: Float
    slack_n: Float
    outcome: Int
    path: Path


def _slack(
    arm: SpringArm | SpringArms, geometry: ArmGeometry, states: Lanes, angle: Float
) -> Float:
    """Base traction from virtual work: s_p·M = F_in(d_in·v) − F_out(d_out·v)."""
    before = geometry.path.ring.before[arm.index]
    # N·m to N·mm: all else here is in millimetres
    torque = arm.push * MM_PER_M * arm.spring_torque(angle) * states.spring_scale
    # what the two spans at the arm pull more than the base traction, by their own levers
    uneven = (
        states.offsets_n[..., arm.index] * geometry.out_pull
        - states.offsets_n[..., before] * geometry.in_pull
    )
    return np.asarray((torque + uneven) / geometry.grown)


def residual(
    layout: Layout | Layouts, arm: SpringArm | SpringArms, states: Lanes, angle: Float
) -> tuple[Float, Float, Float, ArmGeometry]:
    """Path less belt at arm angles (S,), with its exact derivative.

    Returns (path − L0(1 + (T̄ − T_ref)/EA)) mm, its derivative by θ in mm/rad, the base traction N,
    and the geometry. METHOD 7.
    """
    geometry = place_arm(layout, arm, angle)
    path, ring, here = geometry.path, layout.ring, arm.index
    before, after = ring.before[here], ring.after[here]
    slack = _slack(arm, geometry, states, angle)
    # the base traction is one unknown per route; what loads add to it is known beforehand
    tractions = ring.spread(slack) + states.offsets_n
    radii = np.abs(layout.signed_radii)
    arcs = arc_tension(ring.entering(tractions), tractions, path.wrap, radii, states.friction)
    summed = ring.sum(path.length * tractions + arcs.value)
    total = path.total
    # m·v² is the same in every span, so it joins the mean and not the tractions that hold the arm
    mean = summed / total + states.centrifugal_n
    value = total - states.belt.length_at(mean)

    # the exact derivative: a numeric one would cost a second evaluation of every state
    torque_slope = -MM_PER_M * arm.rate_nm_per_rad * states.spring_scale
    uneven_slope = (
        states.offsets_n[..., here] * geometry.out_pull_rate
        - states.offsets_n[..., before] * geometry.in_pull_rate
    )
    slack_slope = (torque_slope + uneven_slope - slack * geometry.curved) / geometry.grown
    # each tangent length grows as the arm's pulley runs along it, and as the tangent turns on it
    rho, sign = layout.signed_radii, np.sign(layout.signed_radii)
    length_in = geometry.in_pull + (rho[here] - rho[before]) * geometry.in_rate
    # the belt leaves along out: what the arm gives there is taken off the span, hence the minus
    length_out = -geometry.out_pull + (rho[after] - rho[here]) * geometry.out_rate
    # chain rule over base traction, the two spans at the arm, and the wraps of the three pulleys there
    summed_slope = (
        slack_slope * ring.sum(path.length + arcs.by_traction)
        + tractions[..., before] * length_in
        + tractions[..., here] * length_out
        + arcs.by_wrap[..., before] * sign[before] * geometry.in_rate
        + arcs.by_wrap[..., here] * sign[here] * (geometry.out_rate - geometry.in_rate)
        - arcs.by_wrap[..., after] * sign[after] * geometry.out_rate
    )
    mean_slope = (summed_slope - (mean - states.centrifugal_n) * geometry.grown) / total
    stretch_slope = states.belt.cord_length_mm / states.belt.stiffness_n * mean_slope
    return value, geometry.grown - stretch_slope, slack, geometry


def _scan(
    layout: Layout | Layouts, arm: SpringArm | SpringArms, states: Lanes, travel: Travel
) -> tuple[Float, Float]:
    """Path less belt at both ends of every cell (S, C): the geometry once for all states."""
    # cells share their nodes unless their ends are exact: then each has two of its own
    cells, nodes = travel.low.shape[0], travel.nodes
    angles = np.concatenate([travel.low, travel.high if nodes is None else travel.high[-1:]])
    geometry = nodes or place_arm(layout, arm, angles)
    path, ring, spread = geometry.path, layout.ring, states.chosen(_EVERY_NODE)
    # where the path does not exist all of this is NaN, and the cell is not usable
    with np.errstate(invalid="ignore", divide="ignore", over="ignore"):
        slack = _slack(arm, geometry, spread, angles)
        tractions = ring.spread(slack) + spread.offsets_n
        radii, entered = np.abs(layout.signed_radii), ring.entering(tractions)
        arcs = arc_traction(entered, tractions, path.wrap, radii, spread.friction)
        mean = ring.sum(path.length * tractions + arcs) / path.total
        value = path.total - spread.belt.length_at(mean + spread.centrifugal_n)
    return value[:, :cells], value[:, 1:] if nodes is not None else value[:, cells:]


def settle(
    layout: Layout, arm: SpringArm, states: Lanes, travel: Travel, *, rest_decides: bool = False
) -> ArmStates:
    """Let the arm go from its wound stop in every state and say where it comes to rest.

    The first cell in which path − belt crosses from − to + holds the equilibrium. A path already
    longer than the belt at the wound side leaves the arm on its wound stop (at rest: the belt is too
    short); a belt longer than every path leaves it on the unwound stop (at rest: too long). On a
    stop the belt's mean tension follows from its stretch there. METHOD 5 and 7.

    rest_decides: if the first state does not settle inside, the others are of no interest and may
    be told roughly.
    """
    found = _Found.of(layout, arm, states, travel)
    if not found.is_plain(rest_decides):
        travel = with_exact_edges(layout, arm, travel)
        found = _Found.of(layout, arm, states, travel)
    return _settled(layout, arm, states, found, rest_decides=rest_decides)


def settle_together(
    layouts: Layouts, arms: SpringArms, states: Lanes, travel: Travel
) -> tuple[ArmStates, Bool]:
    """The same of several drives at once, the first state of each deciding (see `settle`).

    Returns the states, and which drives (R,) they are right for; the others have a state that hangs
    on exactly where a stretch of travel ends, and are to be settled by themselves.
    """
    found = _Found.of(layouts, arms, states, travel)
    plain = found.is_plain(rest_decides=True)
    return _settled(layouts, arms, states, found, rest_decides=True), plain


class _Found(Value, frozen=True):
    """Where the scan sees the states (S,) come to rest: outcome, and the cell of the first crossing;
    sure: whether exact ends of the stretches cannot change it. at_low, at_high (S, C) path less belt.
    """

    travel: Travel
    at_low: Float
    at_high: Float
    outcome: Int
    cell: Int
    sure: Bool

    @staticmethod
    def of(
        layout: Layout | Layouts, arm: SpringArm | SpringArms, states: Lanes, travel: Travel
    ) -> _Found:
        at_low, at_high = _scan(layout, arm, states, travel)
        usable = travel.usable
        first = np.argmax(usable, axis=0)
        # a NaN at an end compares false, so that no cell beside a fault can hold the crossing
        crosses = usable & (at_low < 0) & (at_high >= 0)
        cell, works = np.argmax(crosses, axis=1), usable.any(axis=0)
        at_first = at_low[:, first] if first.ndim == 0 else at_low[:, first, np.arange(first.size)]
        too_long = at_first >= 0
        # the order matters: each line overrules the ones before it
        outcome = np.where(crosses.any(axis=1), INSIDE, UNWOUND_STOP)
        outcome[(outcome == UNWOUND_STOP) & ~travel.unwound_works] = NO_PATH
        outcome[too_long] = WOUND_STOP
        outcome[np.broadcast_to(~works, outcome.shape)] = NO_PATH
        sure = np.ones(outcome.shape, dtype=np.bool_)
        if not travel.exact:
            # the first whole stretch is looked at by itself: where it ends decides nothing
            index = np.arange(usable.shape[0]).reshape(-1, *(1,) * first.ndim)
            after = ~usable & (index > first)
            end = np.where(after.any(axis=0), np.argmax(after, axis=0), usable.shape[0])
            at_stop = (outcome == WOUND_STOP) & (first == 0)
            sure = works & np.where(
                outcome == INSIDE,
                cell < end,
                at_stop | ((outcome == UNWOUND_STOP) & (end == usable.shape[0])),
            )
        return _Found(travel, at_low, at_high, outcome, cell, sure)

    def of_cell(self, values: Float, offset: int = 0) -> Float:
        """Of the cells' values (S, C) those of the crossing's cell, or of one beside it (S,)."""
        place = self.cell
        if offset:
            place = np.minimum(np.maximum(place + offset, 0), values.shape[1] - 1)
        if place.ndim == 1:
            return np.asarray(values[np.arange(place.size), place])
        state, drive = (np.arange(size) for size in place.shape)
        return np.asarray(values[state[:, None], place, drive])

    def is_plain(self, rest_decides: bool) -> Bool:
        """Whether every state that matters is sure, per drive."""
        plain = self.sure.all(axis=0)
        if rest_decides:
            plain = plain | (self.sure[0] & (self.outcome[0] != INSIDE))
        return np.asarray(plain)


def _settled(
    layout: Layout | Layouts,
    arm: SpringArm | SpringArms,
    states: Lanes,
    found: _Found,
    *,
    rest_decides: bool,
) -> ArmStates:
    travel, outcome = found.travel, found.outcome
    # the wound stop of a drive is where its travel first works, not always its own stop
    wound = _at_cell(travel.low, np.argmax(travel.usable, axis=0))
    angle = np.where(outcome == WOUND_STOP, wound, travel.high[-1])
    angle[outcome == NO_PATH] = np.nan
    # a belt that does not settle at rest never runs: its other states need no refining
    inside = outcome == INSIDE
    if rest_decides:
        inside[1:] &= inside[0]
    with np.errstate(invalid="ignore", divide="ignore"):
        if inside.any():
            angle = _newton(layout, arm, states, found, inside, angle)
        geometry = place_arm(layout, arm, angle)
        # where there is no path the angle is NaN, and so must be what follows from it
        slack = np.where(outcome == NO_PATH, np.nan, _slack(arm, geometry, states, angle))
    # on a stop the arm no longer follows the belt: its pull follows from how far it is stretched there
    stopped = (outcome == WOUND_STOP) | (outcome == UNWOUND_STOP)
    if rest_decides:
        stopped[1:] &= inside[0]
    which = np.flatnonzero(stopped if stopped.ndim == 1 else stopped.any(axis=1))
    if which.size:
        of_stop = _slack_on_stop(geometry.path.lanes(which), states.chosen(which))
        slack[which] = np.where(stopped[which], of_stop, slack[which])
    return ArmStates(angle, slack, outcome, geometry.path)


def _at_cell(figure: Float | Bool, cell: Int) -> Any:
    """A figure of the cells (C,) at chosen ones, per state or once for all."""
    if figure.ndim == 1:
        return figure[cell]
    return figure[cell, np.arange(figure.shape[1])]


def _slack_on_stop(still: Path, states: Lanes) -> Float:
    return slack_traction_for_mean(
        still,
        states.offsets_n,
        states.friction,
        states.centrifugal_n,
        states.belt.tension_at(still.total),
    )


def _first_guess(found: _Found) -> Float:
    """Where a curve through the cell's ends and the nodes beside them crosses zero (S,).

    Inverse cubic interpolation, x = Σ xᵢ Π fⱼ/(fⱼ − fᵢ), which saves Newton a step or two; a straight
    line where a neighbour cell does not work, and the middle where a value is not finite.
    """
    travel, cell = found.travel, found.cell
    cells = travel.low.shape[0]
    earlier, later = np.maximum(cell - 1, 0), np.minimum(cell + 1, cells - 1)

    a, b = _at_cell(travel.low, cell), _at_cell(travel.high, cell)
    fa, fb = found.of_cell(found.at_low), found.of_cell(found.at_high)
    x = np.stack([_at_cell(travel.low, earlier), a, b, _at_cell(travel.high, later)])
    f = np.stack([found.of_cell(found.at_low, -1), fa, fb, found.of_cell(found.at_high, 1)])
    # a pair of equal values would divide by zero; their term is left out
    apart = f - f[:, None]
    shares = f / np.where(apart == 0, np.inf, apart)
    shares[_DIAGONAL] = 1.0
    curved = (shares.prod(axis=1) * x).sum(axis=0)
    joined = _at_cell(travel.whole, earlier) & _at_cell(travel.whole, later)
    joined &= (earlier < cell) & (
        x[3] != b
    )  # beside others a short travel ends in cells of no width
    # a guess outside its cell would let Newton begin in another crossing
    straight = a - fa * (b - a) / (fb - fa)
    guess = np.where(joined & ((curved - a) * (curved - b) < 0), curved, straight)
    return np.asarray(np.where((guess - a) * (guess - b) < 0, guess, (a + b) / 2))


def _newton(
    layout: Layout | Layouts,
    arm: SpringArm | SpringArms,
    states: Lanes,
    found: _Found,
    wanted: Bool,
    elsewhere: Float,
) -> Float:
    """Refine bracketed equilibria: Newton, halved whenever a step would leave the bracket.

    low is always the side where the path is still shorter than the belt, which is also the side
    the arm comes from, so the two ends need not be in numerical order. States that are not wanted (S,)
    keep the angle they have elsewhere.

    Newton squares the error: a step h from x leaves about |f″/2f′|h², and with the values at the ends e
    of the cell f″ is about the greater 2(f(e) − f − f′(e − x))/(e − x)². Past a kink, where a pulley
    begins to slip and the slope changes by parts of a thousand, such a step lands within 1e-7 rad.
    """
    done = ~wanted
    low, high = _at_cell(found.travel.low, found.cell), _at_cell(found.travel.high, found.cell)
    ends = np.stack([low, high])
    of_ends = np.stack([found.of_cell(found.at_low), found.of_cell(found.at_high)])
    angle = np.where(done, elsewhere, _first_guess(found))
    for _ in range(_NEWTON_STEPS):
        value, slope, _, _ = residual(layout, arm, states, angle)
        # a NaN value moves neither end; the step is then out of the bracket, and it is halved
        low, high = np.where(value < 0, angle, low), np.where(value >= 0, angle, high)
        change = -value / slope
        # accepted if it ends the search or stays in the bracket; otherwise the bracket is halved
        step = angle + change
        away = ends - angle
        bent = np.abs(((of_ends - value) / away / slope - 1) / away).max(axis=0)
        near = (np.abs(change) < _NEWTON_CLOSE) & (bent * change**2 < _NEWTON_LEFT)
        inside = near | ((step - low) * (step - high) <= 0)
        angle = np.where(done, angle, np.where(inside, step, (low + high) / 2))
        done |= near | (np.abs(high - low) < _ANGLE_TOLERANCE)
        if done.all():
            break
    return angle
