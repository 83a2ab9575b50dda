"""Where the belt puts a spring arm: one coupled equilibrium for rest and running.

A state is a set of traction offsets, a speed and a belt (docs/METHOD.md, sections 5 and 7). Rest is
the state without loads at speed zero, so there is one mechanics. The arm is let go from its wound
stop and comes to rest at the first angle where the path grows past the belt. That angle is found
in two steps: a scan that brackets it, and Newton with exact derivatives inside the bracket. The
scan is what makes the answer the one the engine finds, and Newton is what makes it exact.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from jovial_tack.core.arrays import MM_PER_M, Float, Int
from jovial_tack.core.drive.arm import ArmGeometry, Layout, SpringArm, place_arm
from jovial_tack.core.drive.path import Path, faults
from jovial_tack.core.drive.tension import arc_tension, entry, slack_traction_for_mean
from jovial_tack.core.drive.travel import Travel, with_exact_edges

_TOGGLE_STEPS = 6
_NEWTON_STEPS = 60
_ANGLE_TOLERANCE = 1e-13
_NEWTON_CLOSE = 2e-5

#: How an arm came to rest in a state.
INSIDE, WOUND_STOP, UNWOUND_STOP, NO_PATH = 0, 1, 2, 3


@dataclass(frozen=True)
class BeltState:
    """The belt as a spring: cord length at T_ref mm, EA N, T_ref N (whole belt); broadcast to (S,)."""

    cord_length_mm: Float
    stiffness_n: Float
    reference_tension_n: Float

    def length_at(self, tension_n: Float) -> Float:
        """Cord length at a mean tension, mm."""
        return self.cord_length_mm * (1 + (tension_n - self.reference_tension_n) / self.stiffness_n)

    def tension_at(self, path_mm: Float) -> Float:
        """Mean tension when pulled out to a path, N."""
        return self.reference_tension_n + self.stiffness_n * (path_mm / self.cord_length_mm - 1)


@dataclass(frozen=True)
class States:
    """S states of one drive that are solved together.

    offsets_n (S, N): traction of each span above that of the span leaving the driver; friction
    (S, N); centrifugal_n (S,) m·v²; spring_scale (S,) factor on the spring's torque (damping band,
    weakened spring); belt with (S,) members.
    """

    offsets_n: Float
    friction: Float
    centrifugal_n: Float
    spring_scale: Float
    belt: BeltState

    @staticmethod
    def at_rest(pulley_count: int, belt: BeltState, states: int = 1) -> States:
        """Belt on, engine off: no loads, no speed."""
        full = np.ones(states)
        return States(
            np.zeros((states, pulley_count)),
            np.ones((states, pulley_count)),
            np.zeros(states),
            full,
            BeltState(
                full * belt.cord_length_mm,
                full * belt.stiffness_n,
                full * belt.reference_tension_n,
            ),
        )

    @staticmethod
    def joined(*parts: States) -> States:
        """All states of several sets, as one batch."""

        def of(name: str) -> Float:
            return np.concatenate([getattr(part, name) for part in parts])

        def of_belt(name: str) -> Float:
            return np.concatenate([getattr(part.belt, name) for part in parts])

        belt = BeltState(
            of_belt("cord_length_mm"), of_belt("stiffness_n"), of_belt("reference_tension_n")
        )
        return States(
            of("offsets_n"), of("friction"), of("centrifugal_n"), of("spring_scale"), belt
        )

    def scaled(self, factor: Float) -> States:
        """The same states with all loads times a factor (S,)."""
        return replace(self, offsets_n=self.offsets_n * np.asarray(factor)[..., None])


@dataclass(frozen=True)
class ArmStates:
    """Equilibria of S states.

    angle (S,) rad; slack_n (S,) traction of the span leaving the driver; outcome (S,) one of INSIDE,
    WOUND_STOP, UNWOUND_STOP, NO_PATH; path with (S, N) members. NaN where there is no path.
    """

    angle: Float
    slack_n: Float
    outcome: Int
    path: Path


def _slack(arm: SpringArm, geometry: ArmGeometry, states: States, angle: Float) -> Float:
    """Base traction from virtual work: s_p·M = F_in(d_in·v) − F_out(d_out·v)."""
    before = (arm.index - 1) % states.offsets_n.shape[-1]
    torque = arm.push * MM_PER_M * arm.spring_torque(angle) * states.spring_scale
    uneven = (
        states.offsets_n[..., arm.index] * geometry.out_pull
        - states.offsets_n[..., before] * geometry.in_pull
    )
    return (torque + uneven) / geometry.grown


def residual(
    layout: Layout, arm: SpringArm, states: States, angle: Float
) -> tuple[Float, Float, Float, ArmGeometry]:
    """Path less belt at arm angles (S,), with its exact derivative.

    Returns (path − L0(1 + (T̄ − T_ref)/EA)) mm, its derivative by θ in mm/rad, the base traction N,
    and the geometry. METHOD 7.
    """
    geometry = place_arm(layout, arm, angle)
    path, count = geometry.path, states.offsets_n.shape[-1]
    here, before, after = arm.index, (arm.index - 1) % count, (arm.index + 1) % count
    slack = _slack(arm, geometry, states, angle)
    tractions = slack[..., None] + states.offsets_n
    radii = np.abs(layout.signed_radii)
    arcs = arc_tension(entry(tractions), tractions, path.wrap, radii, states.friction)
    summed = (path.length * tractions).sum(axis=-1) + arcs.value.sum(axis=-1)
    total = path.total
    mean = summed / total + states.centrifugal_n
    value = total - states.belt.length_at(mean)

    torque_slope = -MM_PER_M * arm.rate_nm_per_rad * states.spring_scale
    uneven_slope = (
        states.offsets_n[..., here] * geometry.out_pull_rate
        - states.offsets_n[..., before] * geometry.in_pull_rate
    )
    slack_slope = (torque_slope + uneven_slope - slack * geometry.curved) / geometry.grown
    rho, sign = layout.signed_radii, np.sign(layout.signed_radii)
    length_in = geometry.in_pull + (rho[here] - rho[before]) * geometry.in_rate
    length_out = -geometry.out_pull + (rho[after] - rho[here]) * geometry.out_rate
    summed_slope = (
        slack_slope * (path.length.sum(axis=-1) + arcs.by_traction.sum(axis=-1))
        + tractions[..., before] * length_in
        + tractions[..., here] * length_out
        + arcs.by_wrap[..., before] * sign[before] * geometry.in_rate
        + arcs.by_wrap[..., here] * sign[here] * (geometry.out_rate - geometry.in_rate)
        - arcs.by_wrap[..., after] * sign[after] * geometry.out_rate
    )
    mean_slope = (summed_slope - (mean - states.centrifugal_n) * geometry.grown) / total
    stretch_slope = states.belt.cord_length_mm / states.belt.stiffness_n * mean_slope
    return value, geometry.grown - stretch_slope, slack, geometry


def _scan(layout: Layout, arm: SpringArm, states: States, travel: Travel) -> tuple[Float, Float]:
    """Path less belt at both ends of every cell (S, C): the geometry once for all states."""
    cells = travel.low.size
    joined = np.concatenate([travel.low, travel.high[-1:]])
    own_high = travel.high[:-1] != travel.low[1:]
    angles = np.concatenate([joined, travel.high[:-1][own_high]])
    geometry = travel.nodes or place_arm(layout, arm, angles)
    spread = States(
        states.offsets_n[:, None, :],
        states.friction[:, None, :],
        states.centrifugal_n[:, None],
        states.spring_scale[:, None],
        BeltState(
            states.belt.cord_length_mm[:, None],
            states.belt.stiffness_n[:, None],
            states.belt.reference_tension_n[:, None],
        ),
    )
    with np.errstate(invalid="ignore", divide="ignore", over="ignore"):
        slack = _slack(arm, geometry, spread, angles)
        tractions = slack[..., None] + spread.offsets_n
        radii = np.abs(layout.signed_radii)
        arcs = arc_tension(entry(tractions), tractions, geometry.path.wrap, radii, spread.friction)
        total = geometry.path.total
        mean = (geometry.path.length * tractions).sum(axis=-1) + arcs.value.sum(axis=-1)
        value = total - spread.belt.length_at(mean / total + spread.centrifugal_n)
    at_low = value[:, :cells]
    at_high = value[:, 1 : cells + 1].copy()
    at_high[:, :-1][:, own_high] = value[:, cells + 1 :]
    return at_low, at_high


def settle(layout: Layout, arm: SpringArm, states: States, travel: Travel) -> ArmStates:
    """Let the arm go from its wound stop in every state and say where it comes to rest.

    The first cell in which path − belt crosses from − to + holds the equilibrium. A path already
    longer than the belt at the wound side leaves the arm on its wound stop (at rest: the belt is too
    short); a belt longer than every path leaves it on the unwound stop (at rest: too long). On a
    stop the belt's mean tension follows from its stretch there. METHOD 5 and 7.
    """
    count = states.centrifugal_n.size
    outcome = np.full(count, NO_PATH, dtype=np.int64)
    angle = np.full(count, np.nan)
    if not travel.exact and not travel.whole.any():
        travel = with_exact_edges(layout, arm, travel)
    if travel.usable.any():
        at_low, at_high = _scan(layout, arm, states, travel)
        if not travel.exact and not _is_plain(travel, at_low, at_high):
            travel = with_exact_edges(layout, arm, travel)
            at_low, at_high = _scan(layout, arm, states, travel)
        outcome, cell = _outcomes(travel, at_low, at_high)
        inside = np.flatnonzero(outcome == INSIDE)
        if inside.size:
            lane = cell[inside]
            angle[inside] = _newton(
                layout,
                arm,
                _pick(states, inside),
                travel.low[lane],
                travel.high[lane],
                _first_guess(travel, lane, at_low[inside], at_high[inside]),
            )
        angle[outcome == WOUND_STOP] = travel.low[int(np.argmax(travel.usable))]
        angle[outcome == UNWOUND_STOP] = travel.high[-1]
    geometry = place_arm(layout, arm, angle)
    path = geometry.path
    with np.errstate(invalid="ignore", divide="ignore"):
        slack = np.where(outcome == NO_PATH, np.nan, _slack(arm, geometry, states, angle))
    stopped = np.flatnonzero((outcome == WOUND_STOP) | (outcome == UNWOUND_STOP))
    if stopped.size:
        slack[stopped] = _slack_on_stop(path, _pick(states, stopped), stopped)
    return ArmStates(angle, slack, outcome, path)


def _outcomes(travel: Travel, at_low: Float, at_high: Float) -> tuple[Int, Int]:
    """How each state ends (S,), and the cell of its first crossing from − to + (S,)."""
    found = travel.usable & (at_low < 0) & (at_high >= 0)
    outcome = np.where(found.any(axis=-1), INSIDE, UNWOUND_STOP)
    outcome[at_low[:, int(np.argmax(travel.usable))] >= 0] = WOUND_STOP
    if not travel.unwound_works:
        outcome[outcome == UNWOUND_STOP] = NO_PATH
    return outcome, np.argmax(found, axis=-1)


def _is_plain(travel: Travel, at_low: Float, at_high: Float) -> bool:
    """Whether every state settles in the first whole stretch, so that its exact ends do not matter."""
    first = int(np.argmax(travel.whole))
    broken = np.flatnonzero(~travel.whole[first:])
    last = first + int(broken[0]) if broken.size else travel.whole.size
    crosses = (at_low[:, first:last] < 0) & (at_high[:, first:last] >= 0)
    return bool((crosses.any(axis=-1) & (at_low[:, first] < 0)).all())


def _slack_on_stop(path: Path, states: States, which: Int) -> Float:
    still = pick_path(path, which)
    return slack_traction_for_mean(
        still,
        states.offsets_n,
        states.friction,
        states.centrifugal_n,
        states.belt.tension_at(still.total),
    )


def pick_path(path: Path, which: Int) -> Path:
    """The chosen lanes of a path with (S, N) members."""
    return Path(
        path.centers[which],
        path.signed_radii,
        path.direction[which],
        path.length[which],
        path.wrap[which],
    )


def _pick(states: States, which: Int) -> States:
    if which.size == states.centrifugal_n.size:
        return states
    return States(
        states.offsets_n[which],
        states.friction[which],
        states.centrifugal_n[which],
        states.spring_scale[which],
        BeltState(
            states.belt.cord_length_mm[which],
            states.belt.stiffness_n[which],
            states.belt.reference_tension_n[which],
        ),
    )


def _first_guess(travel: Travel, cell: Int, at_low: Float, at_high: Float) -> Float:
    """Where a curve through the cell's ends and the next node crosses zero (S,).

    Inverse quadratic interpolation, which saves Newton a step; a straight line where the next cell
    does not work, and the middle where the value at the low end is not finite.
    """
    lane = np.arange(cell.size)
    following = np.minimum(cell + 1, travel.low.size - 1)
    a, b, c = travel.low[cell], travel.high[cell], travel.high[following]
    fa, fb, fc = at_low[lane, cell], at_high[lane, cell], at_high[lane, following]
    with np.errstate(invalid="ignore", divide="ignore"):
        straight = a - fa * (b - a) / (fb - fa)
        curved = (
            a * fb * fc / ((fa - fb) * (fa - fc))
            + b * fa * fc / ((fb - fa) * (fb - fc))
            + c * fa * fb / ((fc - fa) * (fc - fb))
        )
        joined = travel.whole[following] & (following > cell) & ((curved - a) * (curved - b) < 0)
        guess = np.where(joined, curved, straight)
    return np.where((guess - a) * (guess - b) < 0, guess, (a + b) / 2)


def _newton(
    layout: Layout,
    arm: SpringArm,
    states: States,
    low: Float,
    high: Float,
    angle: Float,
) -> Float:
    """Refine bracketed equilibria: Newton, halved whenever a step would leave the bracket.

    low is always the side where the path is still shorter than the belt, which is also the side
    the arm comes from, so the two ends need not be in numerical order.
    """
    done = np.zeros(angle.shape, dtype=np.bool_)
    for _ in range(_NEWTON_STEPS):
        value, slope, _, _ = residual(layout, arm, states, angle)
        low, high = np.where(value < 0, angle, low), np.where(value >= 0, angle, high)
        with np.errstate(invalid="ignore", divide="ignore"):
            change = -value / slope
            step = angle + change
        near = np.abs(change) < _NEWTON_CLOSE
        # Newton squares the error: a step that small lands within 1e-9 rad of the root
        inside = near | ((step - low) * (step - high) <= 0)
        angle = np.where(done, angle, np.where(inside, step, (low + high) / 2))
        done |= near | (np.abs(high - low) < _ANGLE_TOLERANCE)
        if done.all():
            break
    return angle


def belt_for_angle(layout: Layout, arm: SpringArm, belt: BeltState, angle: Float) -> Float:
    """Cord length at T_ref of the belt that rests with the arm at given angles (...), mm.

    NaN where the arm cannot work. The inverse of settling at rest: T = s_p·M/(dL/dθ) and
    L0 = path/(1 + (T − T_ref)/EA). METHOD 4 and 5.
    """
    geometry = place_arm(layout, arm, angle)
    exists = ~faults(geometry.path, layout.driver_sign).any
    with np.errstate(invalid="ignore", divide="ignore"):
        tension = arm.push * MM_PER_M * arm.spring_torque(angle) / geometry.grown
        fills = geometry.path.total / (1 + (tension - belt.reference_tension_n) / belt.stiffness_n)
    return np.where(exists & (tension > 0), fills, np.nan)


def toggle_distance(layout: Layout, arm: SpringArm, angle: float) -> float:
    """Angle from an arm position to the nearest place where dL/dθ = 0, rad; NaN if none within 180°.

    At the toggle the arm loses its lever and its tension grows without bound. METHOD 5.
    """
    ways = np.array([1.0, -1.0])
    angles = angle + ways * np.linspace(0.0, np.pi, 91)[:, None]
    grown = arm.push * place_arm(layout, arm, angles).grown
    past = np.argmax(~(grown > 0), axis=0)
    lane = np.flatnonzero((past > 0) & np.isfinite(grown[past, [0, 1]]))
    if not lane.size:
        return float("nan")
    low, high = angles[past[lane] - 1, lane], angles[past[lane], lane]
    middle = (low + high) / 2
    for _ in range(_TOGGLE_STEPS):
        geometry = place_arm(layout, arm, middle)
        short = arm.push * geometry.grown > 0
        low, high = np.where(short, middle, low), np.where(short, high, middle)
        step = middle - geometry.grown / geometry.curved
        middle = np.where((step - low) * (step - high) <= 0, step, (low + high) / 2)
    return float(np.abs(middle - angle).min())
