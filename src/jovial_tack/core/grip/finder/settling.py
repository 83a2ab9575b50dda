"""Where belts rest on many drives and how they run: each state located, then refined (METHOD 5 and 7)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.grip.finder.near import Near, place_near
from jovial_tack.core.grip.finder.taut import Loaded, Residual, residual_of
from jovial_tack.core.grip.finder.travel import (
    Crossings,
    State,
    cord_at,
    levers_of,
    path_exists,
)

from jovial_tack.core.value import Value

#: What is known of a belt on a drive in one state.
UNFIT, FITS, OPEN = 0, 1, 2
_STEPS = 40
#: A last step so small, rad, that what follows from the angle may be moved on by it to first order.
_LAST_STEP = 3e-6
_TINY = 1e-13
_HALVINGS = 18


def told(state: State, drive: Int, cord_mm: Float, at: Crossings, only: Bool) -> Int:
    """Whether belts (R,) surely come to rest between the stops, where they cross: UNFIT, FITS, OPEN.

    OPEN is what hangs on exactly where a stretch of travel begins or ends, and is to be solved by
    `core.drive.adjuster`. only (J, C): the cells that matter, all while running, at rest those that
    reach into the window; a belt that rests elsewhere is no belt for that drive.
    """
    result = np.full(drive.shape, UNFIT)
    crosses = at.found & ~at.too_short
    rows = np.flatnonzero(crosses & (only[drive, at.cell] | at.more))
    of, cell = drive[rows], at.cell[rows]
    low, high = state.exists(of, cell), state.exists(of, cell + 1)
    sure = low & high & (cell < state.nodes.end[of])
    matters, more = only[of, cell], at.more[rows]
    # with neither end the belt does not rest here; it may further on
    nowhere = ~low & ~high & ~more
    open_ = ~sure & ~nowhere & (matters | more)
    result[rows[sure & matters]] = FITS
    result[rows[open_]] = OPEN
    _tell_begins(state, drive, at, only, result)
    _tell_ends(state, drive, cord_mm, at, only, result)
    return result


def _tell_begins(state: State, drive: Int, at: Crossings, only: Bool, result: Int) -> None:
    """Mark what may come to rest before the first node with a lever, or after another begin.

    A belt that is too short there settles nothing if there is no path at that node: then a later
    stretch is the first.
    """
    nodes = state.nodes
    first = nodes.first[drive]
    before = at.too_short & (first > 0) & only[drive, np.maximum(first - 1, 0)]
    rows = np.flatnonzero(at.too_short & at.found & ~before)
    exists = state.exists(drive[rows], first[rows]) & state.exists(drive[rows], first[rows] + 1)
    # a node with a lever by itself, without a whole cell
    alone = ~nodes.works[drive] & nodes.levers.any(axis=1)[drive]
    result[rows[~exists]] = OPEN
    result[before | alone] = OPEN


def _tell_ends(
    state: State, drive: Int, cord_mm: Float, at: Crossings, only: Bool, result: Int
) -> None:
    """Mark what may come to rest in the cell in which the first stretch with a lever ends.

    Toward a toggle the tension grows beyond all bounds, so that a belt that is longer than wanted
    before it stays so. A spring that runs out of torque, or a path that ends, may let it cross.
    """
    nodes, many = state.nodes, state.loaded.many
    cells = nodes.whole.shape[1]
    end = nodes.end[drive]
    past = np.minimum(end + 1, cells)
    at_toggle = many.arms.push * nodes.near.grown[drive, past] <= 0
    ends = ~at.found & ~at.too_short & nodes.works[drive] & (end < cells) & ~at_toggle
    ends &= only[drive, np.minimum(end, cells - 1)]
    rows = np.flatnonzero(ends)
    # if the path ended before, then between nodes at which the belt is longer than wanted
    rows = rows[state.exists(drive[rows], end[rows])]
    if not rows.size:
        return
    each, of = np.unique(drive[rows], return_inverse=True)
    longest = _wanted_at_end(state, each)[of]
    result[rows[~(longest < cord_mm[rows])]] = OPEN


def _wanted_at_end(state: State, drive: Int) -> Float:
    """The belt wanted where the first stretch of drives (J,) ends, cord length mm, by halving."""
    nodes, loaded = state.nodes, state.loaded.chosen(drive)
    many, still = loaded.many, loaded.still
    end = nodes.end[drive]
    inside, outside = nodes.angle[drive, end], nodes.angle[drive, end + 1]
    for _ in range(_HALVINGS):
        middle = (inside + outside) / 2
        near = place_near(many, still, middle)
        works = levers_of(many, near, middle) & path_exists(many, near)
        inside, outside = np.where(works, middle, inside), np.where(works, outside, middle)
    near = place_near(many, still, inside)
    return cord_at(loaded, near, inside)


class Settled(Value, frozen=True, eq=False):
    """Equilibria of R states: angle (R,) rad, and what was found a last small step before it."""

    angle: Float
    loaded: Loaded
    near: Near
    residual: Residual
    step: Float

    @property
    def slack_n(self) -> Float:
        """Base traction (R,), N."""
        return self.residual.slack + self.residual.slack_slope * self.step


def refine(state: State, drive: Int, cell: Int, cord_mm: Float) -> Settled:
    """Refine equilibria of belts cord_mm (R,), bracketed by cells of the drives' travel.

    Newton, halved whenever a step would leave the bracket. The last step is only taken to first order.
    """
    loaded, nodes = state.loaded.chosen(drive), state.nodes
    angle = _guess(state, drive, cell, cord_mm)
    near, found, step = _step(loaded, angle, cord_mm)
    rows = np.flatnonzero(~(np.abs(step) < _LAST_STEP))
    if rows.size:
        ends = nodes.angle[drive, cell][rows], nodes.angle[drive, cell + 1][rows]
        settled = _newton(loaded.chosen(rows), ends, angle[rows], cord_mm[rows])
        angle = angle.copy()
        angle[rows] = settled
        near, found, step = _step(loaded, angle, cord_mm)
        # where halving ended the search the slope may be of no use
        step = np.where(np.abs(step) < _LAST_STEP, step, 0.0)
    return Settled(angle + step, loaded, near, found, step)


def _step(loaded: Loaded, angle: Float, cord_mm: Float) -> tuple[Near, Residual, Float]:
    near = place_near(loaded.many, loaded.still, angle)
    found = residual_of(loaded, near, angle, cord_mm)
    with np.errstate(invalid="ignore", divide="ignore"):
        return near, found, -found.value / found.slope


def _newton(
    loaded: Loaded, ends: tuple[Float, Float], angle: Float, cord_mm: Float
) -> Float:
    """Move angles (Q,) on until the next step is a last one."""
    low, high = ends
    done = np.zeros(angle.shape, dtype=np.bool_)
    for _ in range(_STEPS):
        _, found, step = _step(loaded, angle, cord_mm)
        done |= (np.abs(step) < _LAST_STEP) | (np.abs(high - low) < _TINY)
        if done.all():
            break
        # low is always the side where the path is still shorter than the belt
        low = np.where(found.value < 0, angle, low)
        high = np.where(found.value >= 0, angle, high)
        onward = angle + step
        # a NaN step fails the test and is halved
        inside = (onward - low) * (onward - high) <= 0
        angle = np.where(done, angle, np.where(inside, onward, (low + high) / 2))
    return angle


def _guess(state: State, drive: Int, cell: Int, cord_mm: Float) -> Float:
    """Where a curve through the belts wanted at four nodes reaches these belts (R,), rad.

    Inverse cubic interpolation over the cell and one node on either side; a straight line where one of
    those has no lever, or is only known to be longer or shorter.
    """
    nodes, wanted = state.nodes, state.wanted
    last = nodes.angle.shape[1] - 1
    places = np.stack([np.maximum(cell - 1, 0), cell, cell + 1, np.minimum(cell + 2, last)])
    angle = nodes.angle[drive, places]
    with np.errstate(invalid="ignore", divide="ignore"):
        over = wanted.cord_mm[drive, places] - cord_mm
        straight = angle[1] - over[1] * (angle[2] - angle[1]) / (over[2] - over[1])
    middle = (angle[1] + angle[2]) / 2
    guess = np.where((straight - angle[1]) * (straight - angle[2]) <= 0, straight, middle)
    good = (wanted.exact[drive, places] & nodes.levers[drive, places]).all(axis=0)
    good &= (places[0] < places[1]) & (places[3] > places[2]) & (angle[3] != angle[2])
    # only a curve that rises all along has one place for each belt
    good &= (over[0] < over[1]) & (over[2] < over[3])
    if good.any():
        curved = _inverse_cubic(angle[:, good], over[:, good])
        within = (curved - angle[1][good]) * (curved - angle[2][good]) <= 0
        guess[good] = np.where(within, curved, guess[good])
    return np.asarray(guess)


def _inverse_cubic(x: Float, f: Float) -> Float:
    """x = Σ xᵢ Π fⱼ/(fⱼ − fᵢ) over four points (4, R) with rising f."""
    total = np.zeros(x.shape[1])
    for i in range(4):
        share = x[i]
        for j in range(4):
            if j != i:
                share = share * (f[j] / (f[j] - f[i]))
        total += share
    return total
