"""Where belts rest on many drives and how they run: each state located, then refined (METHOD 5, 7)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.grip.finder.existing import path_exists, stand_apart
from jovial_tack.core.grip.finder.many import Many
from jovial_tack.core.grip.finder.near import Near, place_near, put
from jovial_tack.core.grip.finder.taut import Loaded, Residual, residual_of
from jovial_tack.core.grip.finder.travel import (
    Crossings,
    State,
    cord_at,
    levers_of,
)
from jovial_tack.core.value import Value

#: What is known of a belt on a drive in one state.
UNFIT, FITS, OPEN = 0, 1, 2
_STEPS = 40
#: A last step so small, rad, that what follows from the angle may be moved on by it to first order.
_LAST_STEP = 1.5e-5
_NO_STEP = 1e-9
_TINY = 1e-13
_HALVINGS = 18
_LOOKS = (0.0, 0.25, 0.5, 0.75, 1.0)
_CLEAR_MM = 0.01


def told(state: State, drive: Int, cord_mm: Float, at: Crossings, only: Bool) -> tuple[Int, Bool]:
    """Whether belts (R,) come to rest between the stops, where they cross: UNFIT, FITS, OPEN; and
    whether that hung on how long they are within their cell (R,).

    OPEN is what takes more than one look along the travel, and is to be solved by
    `core.drive.adjuster`. only (C, J): the cells that matter, all while running, at rest those that
    reach into the window; a belt that rests elsewhere is no belt for that drive. Where a crossing lies
    in a cell with one working end, the bracket in `at` is drawn in to where the path ends.
    """
    result = np.full(drive.shape, UNFIT)
    crosses = at.found & ~at.too_short
    rows = np.flatnonzero(crosses & (only[at.cell, drive] | at.more))
    of, cell = drive[rows], at.cell[rows]
    low, high = state.exists(of, cell), state.exists(of, cell + 1)
    sure = low & high & (cell < state.nodes.end[of])
    matters, more = only[cell, of], at.more[rows]
    result[rows[sure & matters]] = FITS
    # with neither end the belt does not rest here, but it may further on
    result[rows[~sure & more]] = OPEN
    result[rows[low & high & ~sure & matters]] = OPEN
    edge = (low ^ high) & ~more & matters
    _tell_edges(state, rows[edge], low[edge], drive, cord_mm, at, result)
    _tell_begins(state, drive, at, only, result)
    ends = _ending(state, drive, at, only)
    at.cell[ends] = state.nodes.end[drive[ends]]
    _tell_edges(state, ends, np.ones(ends.shape, dtype=np.bool_), drive, cord_mm, at, result)
    by_length = np.zeros(drive.shape, dtype=np.bool_)
    by_length[rows[edge]] = by_length[ends] = True
    return result, by_length


def _tell_begins(state: State, drive: Int, at: Crossings, only: Bool, result: Int) -> None:
    """Mark what may come to rest before the first node with a lever, or after another begin.

    A belt that is too short there settles nothing if there is no path at that node: then a later
    stretch is the first.
    """
    nodes = state.nodes
    first = nodes.first[drive]
    before = at.too_short & (first > 0) & only[np.maximum(first - 1, 0), drive]
    rows = np.flatnonzero(at.too_short & at.found & ~before)
    exists = state.exists(drive[rows], first[rows]) & state.exists(drive[rows], first[rows] + 1)
    # a node with a lever by itself, without a whole cell
    some = np.asarray(nodes.levers.any(axis=0))
    alone = ~nodes.works[drive] & some[drive]
    result[rows[~exists]] = OPEN
    result[before | alone] = OPEN


def _ending(state: State, drive: Int, at: Crossings, only: Bool) -> Int:
    """The rows that may come to rest in the cell in which the first stretch with a lever ends.

    Toward a toggle the tension grows beyond all bounds, so that a belt that is longer than wanted
    before it stays so. A spring that runs out of torque, or a path that ends, may let it cross.
    """
    nodes = state.nodes
    cells = nodes.whole.shape[0]
    end = nodes.end[drive]
    past = np.minimum(end + 1, cells)
    at_toggle = nodes.reaches_toggle(past, drive)
    ends = ~at.found & ~at.too_short & nodes.works[drive] & (end < cells) & ~at_toggle
    ends &= only[np.minimum(end, cells - 1), drive]
    rows = np.flatnonzero(ends)
    # if the path ended before, then between nodes at which the belt is longer than wanted
    return rows[state.exists(drive[rows], end[rows])]


def _tell_edges(
    state: State,
    rows: Int,
    closes: Bool,
    drive: Int,
    cord_mm: Float,
    at: Crossings,
    result: Int,
) -> None:
    """Tell rows (Q,) whose crossing can only lie in a cell of which one end works: closes (Q,), the
    wound one.
    """
    if not rows.size:
        return
    of, cord, cell = drive[rows], cord_mm[rows], at.cell[rows]
    angle = state.nodes.angle
    wound, unwound = angle[cell, of], angle[cell + 1, of]
    # many belts ask for the same cell
    _, some, each = np.unique(of * angle.shape[0] + cell, return_index=True, return_inverse=True)
    inside = np.where(closes, wound, unwound)[some]
    outside = np.where(closes, unwound, wound)[some]
    keep = ~(closes & (_longest(state, of[some], inside, outside)[each] + _CLEAR_MM < cord))
    wanted, edge = _at_edge(state, of[some], cell[some], inside, outside, np.unique(each[keep]))
    wanted, edge = wanted[each], edge[each]
    crosses = keep & np.where(closes, wanted >= cord, wanted < cord)
    result[rows] = np.where(crosses, FITS, UNFIT)
    at.low[rows] = np.where(closes, wound, edge)
    at.high[rows] = np.where(closes, edge, unwound)


def _longest(state: State, drive: Int, inside: Float, outside: Float) -> Float:
    """The longest belt wanted at angles (R,) until the arm's pulley touches one beside it, mm: what is
    longer does not hang on where exactly the path ends. NaN where there is no path.
    """
    loaded = state.loaded.chosen(drive)
    many = loaded.many
    touch, far = inside, outside
    for _ in range(_HALVINGS):
        middle = (touch + far) / 2
        apart = _stands_apart(many, middle) & (many.arms.torque_nmm(middle) > 0)
        touch, far = np.where(apart, middle, touch), np.where(apart, far, middle)
    looks = [_wanted(loaded, inside + (touch - inside) * part) for part in _LOOKS]
    return np.asarray(np.max(looks, axis=0))


def _stands_apart(many: Many, angle: Float) -> Bool:
    """Whether the arm's pulleys touch neither of those beside them at angles (R,)."""
    center = many.arms.pivot + many.arms.lever(angle)
    apart = np.ones(angle.shape, dtype=np.bool_)
    for place in (many.before, many.after):
        apart &= stand_apart(many, center, many.arm_place, many.centers[place], place)
    return apart


def _wanted(loaded: Loaded, angle: Float) -> Float:
    near = place_near(loaded.many, loaded.still, angle)
    with np.errstate(invalid="ignore", divide="ignore"):
        return cord_at(loaded, near, angle)


def _at_edge(
    state: State, drive: Int, cell: Int, inside: Float, outside: Float, asked: Int
) -> tuple[Float, Float]:
    """The belt wanted, mm, at the last working angle, rad, in cells (R,) of which one end works; only
    of those asked for. The angle is found once and kept.
    """
    known, wanted = state.known, np.full(drive.shape, np.nan)
    new = asked[np.isnan(known.edge[cell[asked], drive[asked]])]
    if new.size:
        of = drive[new]
        loaded, low, high = state.loaded.chosen(of), inside[new], outside[new]
        many, still = loaded.many, loaded.still
        for _ in range(_HALVINGS):
            middle = (low + high) / 2
            near = place_near(many, still, middle)
            works = levers_of(many, near, middle) & path_exists(many, still, near) & known.base[of]
            low, high = np.where(works, middle, low), np.where(works, high, middle)
        known.edge[cell[new], of] = low
    edge = known.edge[cell, drive]
    wanted[asked] = _wanted(state.loaded.chosen(drive[asked]), edge[asked])
    return wanted, edge


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


def refine(
    state: State, drive: Int, at: Crossings, cord_mm: Float, last: float = _LAST_STEP
) -> Settled:
    """Refine equilibria of belts cord_mm (R,), bracketed in the drives' travel.

    Newton, halved whenever a step would leave the bracket. The last step, rad, is only taken to first
    order.
    """
    loaded = state.loaded.chosen(drive)
    # where a path ends its derivatives grow beyond all bounds, and the first order is not enough
    angles = state.nodes.angle
    edged = (at.low != angles[at.cell, drive]) | (at.high != angles[at.cell + 1, drive])
    enough = np.where(edged, _NO_STEP, last)
    angle = _guess(state, drive, at, cord_mm)
    near, found, step = _step(loaded, angle, cord_mm)
    rows = np.flatnonzero(~(np.abs(step) < enough))
    some, low, high = loaded.chosen(rows), at.low[rows], at.high[rows]
    for _ in range(_STEPS):
        if not rows.size:
            break
        here, value = angle[rows], found.value[rows]
        # low is always the side where the path is still shorter than the belt
        low, high = np.where(value < 0, here, low), np.where(value >= 0, here, high)
        onward = here + step[rows]
        # a NaN step fails the test and is halved
        inside = (onward - low) * (onward - high) <= 0
        angle[rows] = np.where(inside, onward, (low + high) / 2)
        again, refound, restep = _step(some, angle[rows], cord_mm[rows])
        near.put(rows, again)
        put(found, rows, refound)
        step[rows] = restep
        left = ~((np.abs(restep) < enough[rows]) | (np.abs(high - low) < _TINY))
        rows, low, high = rows[left], low[left], high[left]
        some = some.chosen(np.flatnonzero(left))
    # where halving ended the search the slope may be of no use
    step = np.where(np.abs(step) < _LAST_STEP, step, 0.0)
    return Settled(angle + step, loaded, near, found, step)


def _step(loaded: Loaded, angle: Float, cord_mm: Float) -> tuple[Near, Residual, Float]:
    # where no path exists all of it is NaN, and goes no further
    with np.errstate(invalid="ignore", divide="ignore", over="ignore"):
        near = place_near(loaded.many, loaded.still, angle)
        found = residual_of(loaded, near, angle, cord_mm)
        return near, found, -found.value / found.slope


def _guess(state: State, drive: Int, at: Crossings, cord_mm: Float) -> Float:
    """Where a curve through the belts wanted at four nodes reaches these belts (R,), rad.

    Inverse cubic interpolation over the cell and one node on either side; a straight line where one of
    those has no lever, or is only known to be longer or shorter.
    """
    nodes, wanted, cell = state.nodes, state.wanted, at.cell
    last = nodes.angle.shape[0] - 1
    places = np.stack([np.maximum(cell - 1, 0), cell, cell + 1, np.minimum(cell + 2, last)])
    angle = nodes.angle[places, drive]
    with np.errstate(invalid="ignore", divide="ignore"):
        over = wanted.cord_mm[places, drive] - cord_mm
        straight = angle[1] - over[1] * (angle[2] - angle[1]) / (over[2] - over[1])
    middle = (at.low + at.high) / 2
    guess = np.where((straight - at.low) * (straight - at.high) <= 0, straight, middle)
    good = (wanted.exact[places, drive] & nodes.levers[places, drive]).all(axis=0)
    good &= (places[0] < places[1]) & (places[3] > places[2]) & (angle[3] != angle[2])
    # only a curve that rises all along has one place for each belt
    good &= (over[0] < over[1]) & (over[2] < over[3])
    if good.any():
        curved = _inverse_cubic(angle[:, good], over[:, good])
        within = (curved - at.low[good]) * (curved - at.high[good]) <= 0
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
