"""How well the length of a path is known (docs/METHOD.md, 13)."""

from __future__ import annotations

from math import hypot

import numpy as np

from jovial_tack.core.arrays import Bool
from jovial_tack.core.drive.path import Path


def by_centers_mm(path: Path, each_mm: float) -> float:
    """One standard deviation of the path by its centres, mm, each known to each_mm in either axis.

    ∂L/∂c = d_in − d_out: the span that enters pulls one way, the one that leaves the other. METHOD 13.
    """
    by_center = np.roll(path.direction, 1) - path.direction
    return each_mm * float(np.linalg.norm(np.abs(by_center)))


def length_sigma_mm(
    path: Path,
    on_back: Bool,
    *,
    centers_mm: float,
    diameter_mm: float,
    cord_mm: float,
    number_mm: float,
    sold: float,
) -> float:
    """One standard deviation of the belt length a path takes, mm.

    ∂L/∂r is the wrap for a radius; the cord's height in the grooves cancels but for the wrap on the
    back. METHOD 13.

    Parameters: one lane of a path; the pulleys (N,) that run on the belt's back; one standard deviation
    of the path by all its centres, of a diameter, the cord's height and the number's offset, mm; of a
    belt as it is sold, as a share of its length.
    """
    return hypot(
        centers_mm,
        diameter_mm * float(np.linalg.norm(path.wrap / 2)),
        cord_mm * float(path.wrap[on_back].sum()),
        number_mm,
        sold * float(path.total),
    )
