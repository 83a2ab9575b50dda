"""Belts that were tried, without any layout: how long the right one is (docs/METHOD.md, section 15)."""

from __future__ import annotations

from collections.abc import Sequence
from math import erf
from typing import Literal

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.value import Value

_STEP_MM, _BEYOND_MM = 0.1, 60.0

Came = Literal["fits", "long", "short"]


class TriedBelt(Value, frozen=True):
    """A belt by its effective length, mm, and what came of it: too long, too short, or it fits."""

    length_mm: float
    came: Came


def right_length(
    tried: Sequence[TriedBelt], sold_mm: float, taken_up_mm: float
) -> tuple[float, float]:
    """The length of the right belt and one standard deviation of it, mm.

    One that fits is near it, as near as an adjuster takes up (taken_up_mm) and belts are sold
    (sold_mm, both one standard deviation); it is shorter than one too long, longer than one too short.

    >>> found = right_length([TriedBelt(1610, "short"), TriedBelt(1630, "long")], 1.0, 4.0)
    >>> [round(v, 1) for v in found]
    [1620.0, 5.9]
    """
    lengths = np.array([belt.length_mm for belt in tried])
    grid = np.arange(lengths.min() - _BEYOND_MM, lengths.max() + _BEYOND_MM, _STEP_MM)
    worth = np.zeros(grid.size)
    for belt in tried:
        away = grid - belt.length_mm
        if belt.came == "fits":
            worth -= 0.5 * (away / np.hypot(sold_mm, taken_up_mm)) ** 2
        else:
            # the chance that a belt sold as so long is longer, or shorter, than the right one
            side = -1.0 if belt.came == "long" else 1.0
            worth += np.log(_below(side * away / sold_mm))
    weight = np.exp(worth - worth.max())
    weight /= weight.sum()
    mean = float(weight @ grid)
    return mean, float(np.sqrt(weight @ (grid - mean) ** 2))


def _below(deviations: Float) -> Float:
    """The share of a normal distribution below some deviations (K,), at least next to nothing."""
    shares = [0.5 * (1.0 + erf(float(z) / 2**0.5)) for z in deviations]
    return np.asarray(np.maximum(np.array(shares), 1e-12))
