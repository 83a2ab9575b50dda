"""Which of many trade-offs nothing else beats in both figures."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Float, Int


def front_of(cost: Float, gain: Float) -> Int:
    """The places of those (F,) that no other beats at once with less cost and more gain, by rising
    cost.

    Source: the set of Pareto; of equal ones the first.

    >>> front_of(np.array([1.0, 2.0, 2.5, 3.0]), np.array([1.0, 3.0, 2.0, 4.0])).tolist()
    [0, 1, 3]
    """
    order = np.lexsort((-gain, cost))
    if not order.size:
        return order
    best = np.maximum.accumulate(gain[order])
    rises = np.concatenate([[True], best[1:] > best[:-1]])
    return np.asarray(order[rises])
