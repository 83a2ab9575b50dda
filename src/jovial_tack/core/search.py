"""Finding where a batch function first reaches a level, by grids instead of one call at a time."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jovial_tack.core.arrays import Float


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
    share = -value[0] / rise if np.isfinite(rise) and rise > 0 else 1.0
    return float(grid[0] + min(max(share, 0.0), 1.0) * (grid[1] - grid[0]))
