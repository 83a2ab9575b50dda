"""Finding where a batch function first reaches a level, by grids instead of one call at a time."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from typing import Any

import numpy as np

from jovial_tack.core.arrays import Float

#: Values nearer than this to the level are on it, for what has been closed by a straight line.
_SAME = 1e-4


def first_reach(
    function: Callable[[Float], Float],
    low: float,
    high: float,
    *,
    lanes: int = 17,
    passes: int = 3,
) -> float | None:
    """Least x in [low, high] where function(x) ≥ 0, given that it is negative before it.

    Every pass evaluates one grid of lanes and keeps the cell where the sign changes, so a
    vectorised function is called only `passes` times; the last cell is closed by a straight line.
    NaN counts as reached. Returns None if the level is never reached, and low if it is from the
    start.

    >>> round(first_reach(lambda x: x**2 - 2.0, 0.0, 2.0), 6)
    1.414214
    """
    grid, value = np.array([low, high]), np.empty(0)
    for turn in range(passes):
        grid = np.linspace(grid[0], grid[-1], lanes)
        value = function(grid)
        reached = ~(value < 0)
        if turn == 0 and (reached[0] or not reached.any()):
            return low if reached[0] else None
        # the ends of a cell were already seen, so rounding cannot lose the change of sign
        place = int(np.argmax(reached)) if reached[1:].any() else lanes - 1
        place = max(place, 1)
        grid, value = grid[place - 1 : place + 1], value[place - 1 : place + 1]
    rise = value[1] - value[0]
    # a jump, or an end that is not finite, is told at its safe end
    share = -value[0] / rise if np.isfinite(rise) and rise > 0 else 1.0
    return float(grid[0] + min(max(share, 0.0), 1.0) * (grid[1] - grid[0]))


def first_reach_over(
    function: Callable[[Float, Float], Float],
    over: Float,
    low: float,
    high: float,
    *,
    lanes: int = 11,
    passes: int = 3,
) -> float | None:
    """Least x in [low, high] where function(x, y) ≥ 0 for any y of over (S,), rising.

    function: values (K, S) at x (K,) and y (S,). After the first grid only those y are looked at that
    are beyond the level at the upper end of the cell, and what lies beside the foremost of them; in the
    end all are looked at again, and those that were there before are taken along. NaN counts as
    reached. None if the level is never reached, low if it is from the start.
    """
    grid = np.linspace(low, high, lanes)
    value = function(grid, over)
    reached = ~(value < 0)
    somewhere = np.asarray(reached.any(axis=-1))
    if somewhere[0] or not somewhere.any():
        return low if somewhere[0] else None
    place = int(np.argmax(somewhere))
    foremost = _foremost(over, value[place], reached[place])
    while True:
        found = _in_cell(function, foremost, np.max, grid, place, passes - 1)
        value = function(np.array([found]), over)[0]
        before = ~(value < _SAME) & ~np.isin(over, foremost)
        if not before.any():
            return found
        foremost = np.union1d(foremost, _foremost(over, value, before))


def first_all_over(
    function: Callable[[Float, Float], Float],
    over: Float,
    low: float,
    high: float,
    *,
    lanes: int = 11,
    passes: int = 3,
) -> float | None:
    """Least x in [low, high] where function(x, y) ≥ 0 for every y of over (S,), rising.

    As `first_reach_over`, but all must be there: after the first grid only those y are looked at that
    were not yet there at the lower end of the cell, and what lies beside the last of them, until no
    other is missing.
    """
    grid = np.linspace(low, high, lanes)
    value = function(grid, over)
    there = np.asarray((value >= 0).all(axis=-1))
    if there[0] or not there.any():
        return low if there[0] else None
    place = int(np.argmax(there))
    last = _foremost(over, -value[place - 1], ~(value[place - 1] >= 0))
    while True:
        found = _in_cell(function, last, np.min, grid, place, passes - 1)
        value = function(np.array([found]), over)[0]
        missing = ~(value >= -_SAME) & ~np.isin(over, last)
        if not missing.any():
            return found
        last = np.union1d(last, _foremost(over, -value, missing))


def _in_cell(
    function: Callable[[Float, Float], Float],
    chosen: Float,
    of_all: Callable[..., Any],
    grid: Float,
    place: int,
    passes: int,
) -> float:
    """Where the greatest or least of function over the chosen reaches its level, in the cell of grid
    (K,) that ends at place; else its end.
    """
    low, high = float(grid[place - 1]), float(grid[place])

    def value(x: Float) -> Float:
        return np.asarray(of_all(function(x, chosen), axis=-1))

    found = first_reach(value, low, high, lanes=len(grid), passes=passes)
    return high if found is None else found


def _foremost(over: Float, value: Float, chosen: Any) -> Float:
    """The chosen of over (S,) that lie furthest, at most three, and points beside the foremost."""
    # NaN counts as furthest: what cannot be is beyond every level
    rank = np.where(chosen, np.nan_to_num(value, nan=np.inf), -np.inf)
    order = np.argsort(-rank)[: min(3, int(chosen.sum()))]
    first = int(order[0])
    near = over[max(0, first - 1) : first + 2]
    beside = [np.linspace(a, b, 4)[1:-1] for a, b in pairwise(near.tolist())]
    return np.concatenate([over[order], *beside])
