"""A unit bolted to several seats: where it comes to stand, how it tilts, and which gaps are pulled
shut.

Bolted up it follows the plane that is nearest to all seats with the least slope. docs/METHOD.md, 12.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.value import Value


class Seating(Value, frozen=True, eq=False):
    """How a unit follows its seats, as weights on the height of each (E,): of its plane at one place,
    of its slopes dz/dx and dz/dy (2, E), and of what is left as a gap at each (E, E).
    """

    plane: Float
    slopes: Float
    gaps: Float

    def at(self, heights_mm: Float) -> Seated:
        """Where it stands with its seats at some heights (E,), mm."""
        slopes = self.slopes @ heights_mm
        about = np.array([np.arctan(slopes[1]), -np.arctan(slopes[0])])
        return Seated(float(self.plane @ heights_mm), about, self.gaps @ heights_mm)

    def worst_mm(self, tolerances_mm: Float) -> float:
        """The most the plane can be off with each seat at an end of its tolerance (E,), mm."""
        return float(np.abs(self.plane) @ tolerances_mm)

    def rss_mm(self, tolerances_mm: Float) -> float:
        """How far the plane is off in 95 of 100, of tolerances of two standard deviations (E,), mm."""
        return float(np.linalg.norm(self.plane * tolerances_mm))


class Seated(Value, frozen=True, eq=False):
    """Where a unit stands: plane_mm + toward the viewer; tilt (2,) rad of its axis about x and y; gap
    (E,) mm at each ear before it is bolted shut, + where the seat stands proud.
    """

    plane_mm: float
    tilt: Float
    gap_mm: Float


def seating(ears: Complex, center: complex, steer_mm: float) -> Seating:
    """How a unit with ears at places (E,) follows its seats, told at one place, complex mm.

    Ears nearer than steer_mm to the line of the others steer no tilt across it: there the gap is shut
    by bending. METHOD 12.

    >>> level = seating(np.array([0j, 100 + 0j]), 50 + 30j, 25.0)
    >>> round(level.at(np.array([0.0, 1.0])).plane_mm, 6)
    0.5
    """
    count = ears.size
    middle = ears.mean()
    away = np.stack([(ears - middle).real, (ears - middle).imag], axis=1)
    left, sizes, right = np.linalg.svd(away, full_matrices=False)
    # a single ear off the line of the others by d gives a size of d·√(1 − 1/E)
    counts = sizes >= steer_mm * np.sqrt(1.0 - 1.0 / count) if count > 1 else sizes > np.inf
    inverse = np.where(counts, 1.0 / np.where(counts, sizes, 1.0), 0.0)
    slopes = (right.T * inverse) @ left.T
    mean = np.full(count, 1.0 / count)
    slopes = slopes - slopes.sum(axis=1, keepdims=True) * mean
    offset = np.array([(center - middle).real, (center - middle).imag])
    return Seating(
        mean + offset @ slopes,
        slopes,
        np.eye(count) - mean - away @ slopes,
    )
