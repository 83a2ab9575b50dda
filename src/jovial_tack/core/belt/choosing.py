"""How probably one of several belts fits, where the length taken is known with a ± (METHOD 13)."""

from __future__ import annotations

from math import erf, inf, sqrt

import numpy as np

from jovial_tack.core.arrays import Float


def chance_of_one(low_mm: Float, high_mm: Float, sigma_mm: float) -> float:
    """Probability that an unknown amount lies in at least one of some ranges (B,), mm: their union.

    sigma_mm: its standard deviation about zero; normally distributed.

    >>> round(chance_of_one(np.array([-1.0]), np.array([1.0]), 1.0), 4)
    0.6827
    >>> round(chance_of_one(np.array([-1.0, 0.0]), np.array([1.0, 2.0]), 1.0), 4)
    0.8186
    """
    total, reached = 0.0, -inf
    for place in np.argsort(low_mm, kind="stable"):
        begin, end = max(float(low_mm[place]), reached), float(high_mm[place])
        if end > begin:
            total += below(end, sigma_mm) - below(begin, sigma_mm)
            reached = end
    return total


def below(limit: float, sigma: float) -> float:
    """Probability that a normally distributed amount about zero lies below a limit.

    >>> below(0.0, 1.0), below(1.0, 0.0)
    (0.5, 1.0)
    """
    if sigma <= 0:
        return 1.0 if limit >= 0 else 0.0
    return 0.5 * (1.0 + erf(limit / sigma / sqrt(2.0)))
