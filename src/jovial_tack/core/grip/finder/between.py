"""Many belts on one drive: within a cell of its travel all that comes of a belt is a smooth function of
its length, so that it is solved at a few lengths and read between them (METHOD 8, "Finder").

What is read is checked against further lengths that are solved; where it does not agree (a pulley that
begins to slip, a path about to end) every belt is solved by itself.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.grip.finder.near import put
from jovial_tack.core.grip.finder.settling import Settled, refine, told
from jovial_tack.core.grip.finder.travel import Crossings, State, crossings_of

#: Belts from which on it is worth it, of a drive and in one cell.
_BELTS, _IN_CELL = 500, 60
#: Degree of the polynomials in a belt's length; how closely they must agree: rad of the angle, which is
#: told first, and as a share of the other figures.
_DEGREE = 8
_WITHIN_RAD, _WITHIN = 1e-9, 1e-8
#: A last step, rad, whose square is nothing.
_LAST_STEP = 1e-7

_NODES = np.cos(np.pi * np.arange(_DEGREE + 1) / _DEGREE)
_CHECKS = np.cos(np.pi * (np.arange(0, _DEGREE, 2) + 0.5) / _DEGREE)
_PLACES = np.concatenate([_NODES, _CHECKS])


def _powers(place: Float) -> Float:
    """Chebyshev polynomials (D + 1, R) at places from −1 to 1 (R,)."""
    powers = np.empty((_DEGREE + 1, place.size))
    powers[0], powers[1] = 1.0, place
    for k in range(2, _DEGREE + 1):
        powers[k] = 2.0 * place * powers[k - 1] - powers[k - 2]
    return powers


#: From figures at the nodes to their polynomials.
_FITTED = np.linalg.inv(_powers(_NODES))


def found(state: State, drive: Int, cord_mm: Float, only: Bool) -> tuple[Int, Crossings]:
    """Whether belts cord_mm (R,) come to rest on drives (R,), and where they cross, as of `told`.

    Of one drive belts that are wanted between the same two of its nodes are told alike.
    """
    if state.loaded.many.count > 1 or drive.size < _BELTS:
        at = crossings_of(state, drive, cord_mm)
        return told(state, drive, cord_mm, at, only)[0], at
    wanted = np.sort(state.wanted.cord_mm[:, 0])  # NaN, where there is no path, comes last
    between = np.searchsorted(wanted, cord_mm)
    first, which = _each_once(between, wanted.size + 1)
    at = crossings_of(state, drive[first], cord_mm[first])
    outcome, by_length = told(state, drive[first], cord_mm[first], at, only)
    outcome, at = outcome[which], at.chosen(which)
    rows = np.flatnonzero(by_length[which])
    if rows.size:
        own = crossings_of(state, drive[rows], cord_mm[rows])
        outcome[rows], _ = told(state, drive[rows], cord_mm[rows], own, only)
        put(at, rows, own)
    return outcome, at


def settled(
    state: State,
    drive: Int,
    at: Crossings,
    cord_mm: Float,
    tell: Callable[[Settled], Float],
) -> Float:
    """What is told (F, R) of where belts cord_mm (R,) settle, bracketed in the drives' travel.

    tell: makes it of equilibria, the angle first.
    """
    if state.loaded.many.count > 1 or drive.size < _BELTS:
        return tell(refine(state, drive, at, cord_mm))
    cells = np.flatnonzero(np.bincount(at.cell))
    members = [np.flatnonzero(at.cell == cell) for cell in cells]
    large = [rows for rows in members if rows.size >= _IN_CELL and _is_whole(state, at, rows)]
    if not large:
        return tell(refine(state, drive, at, cord_mm))
    low = np.array([cord_mm[rows].min() for rows in large])
    wide = np.array([cord_mm[rows].max() for rows in large]) - low
    solved = _solved(state, at, large, low, wide, tell)
    # (cells, figures, places): the polynomials through the nodes, and whether they hold between
    each, checks = solved[..., : _NODES.size] @ _FITTED, solved[..., _NODES.size :]
    good = (wide > 0) & _agree(each @ _powers(_CHECKS), checks)
    result = np.empty((solved.shape[1], cord_mm.size))
    left = np.ones(cord_mm.size, dtype=np.bool_)
    for k in np.flatnonzero(good):
        rows = _as_slice(large[k])
        place = 2.0 * (cord_mm[rows] - low[k]) / wide[k] - 1.0
        result[:, rows] = each[k] @ _powers(place)
        left[rows] = False
    rest = np.flatnonzero(left)
    if rest.size:
        result[:, rest] = tell(refine(state, drive[rest], at.chosen(rest), cord_mm[rest]))
    return result


def _each_once(figure: Int, count: int) -> tuple[Int, Int]:
    """Of figures from 0 to below a count (R,) where each that occurs stands first, and which of those
    every one is (R,).
    """
    first = np.full(count, -1)
    first[figure[::-1]] = np.arange(figure.size - 1, -1, -1)
    occurs = first >= 0
    return first[occurs], (np.cumsum(occurs) - 1)[figure]


def _as_slice(rows: Int) -> Int | slice:
    """Rows that rise, as a slice where they follow one another: belts are mostly in order."""
    first, last = int(rows[0]), int(rows[-1]) + 1
    return slice(first, last) if last - first == rows.size else rows


def _is_whole(state: State, at: Crossings, rows: Int) -> bool:
    """Whether the bracket of all rows is the whole of their cell, which they share."""
    angle, cell = state.nodes.angle[:, 0], at.cell[rows[0]]
    low, high = at.low[rows], at.high[rows]
    return bool((low == angle[cell]).all() and (high == angle[cell + 1]).all())


def _solved(
    state: State,
    at: Crossings,
    large: list[Int],
    low: Float,
    wide: Float,
    tell: Callable[[Settled], Float],
) -> Float:
    """What is told at the places of the polynomials in each of C cells (C, F, P)."""
    of = np.repeat([rows[0] for rows in large], _PLACES.size)
    share = np.tile((1.0 + _PLACES) / 2, len(large))
    cords = np.repeat(low, _PLACES.size) + share * np.repeat(wide, _PLACES.size)
    drive = np.zeros(of.shape, dtype=np.int64)
    # nearer than usual: what is read between them is no better than they are
    each = tell(refine(state, drive, at.chosen(of), cords, _LAST_STEP))
    return each.reshape(each.shape[0], len(large), _PLACES.size).transpose(1, 0, 2)


def _agree(read: Float, solved: Float) -> Bool:
    """In which cells what is read (C, F, P) is what was solved; NaN does not agree."""
    off = np.abs(read - solved)
    within = _WITHIN * np.abs(solved)
    within[:, 0] = _WITHIN_RAD
    return np.asarray((off <= within).all(axis=(1, 2)))
