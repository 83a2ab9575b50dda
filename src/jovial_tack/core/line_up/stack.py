"""Several pulleys on one shaft: their pulls together, and how they bend it (METHOD 9)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Complex, Float


def stacked(pulls_n: Complex, levers_mm: Float) -> tuple[Float, Float, Float]:
    """Size of the summed pull, N, of the bending moment about the bearing, N·m, and where one pull of
    that size would have to act for it, mm before the bearing.

    Parameters: pulls of the belts (K, R), complex N; distances of their planes before the foremost
    bearing (K,), mm.

    >>> together = stacked(np.array([[300 + 0j], [0 + 400j]]), np.array([10.0, 20.0]))
    >>> [round(float(figure[0]), 3) for figure in together]
    [500.0, 8.544, 17.088]
    """
    load = np.abs(pulls_n.sum(axis=0))
    moment = np.abs((pulls_n * levers_mm[:, None]).sum(axis=0)) / 1000.0
    with np.errstate(divide="ignore", invalid="ignore"):  # pulls that cancel act nowhere
        overhang = 1000.0 * moment / load
    return load, moment, overhang
