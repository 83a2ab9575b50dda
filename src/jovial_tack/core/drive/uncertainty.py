"""How well the length of a path is known (docs/METHOD.md, 13)."""

from __future__ import annotations

from math import hypot

import numpy as np

from jovial_tack.core.arrays import Bool
from jovial_tack.core.drive.path import Path


def length_sigma_mm(
    path: Path,
    on_back: Bool,
    *,
    center_mm: float,
    diameter_mm: float,
    cord_mm: float,
    number_mm: float,
    sold: float,
) -> float:
    """One standard deviation of the belt length a path takes, mm.

    ∂L/∂c = d_in − d_out for a centre, the wrap for a radius; the cord's height in the grooves cancels
    but for the wrap on the back. METHOD 13.

    Parameters: one lane of a path; the pulleys (N,) that run on the belt's back; standard deviations of
    a centre (in either axis), a diameter, the cord's height and the number's offset, mm; of a belt as
    it is sold, as a share of its length.
    """
    # the span that enters pulls one way, the one that leaves the other
    by_center = np.roll(path.direction, 1) - path.direction
    return hypot(
        center_mm * float(np.linalg.norm(np.abs(by_center))),
        diameter_mm * float(np.linalg.norm(path.wrap / 2)),
        cord_mm * float(path.wrap[on_back].sum()),
        number_mm,
        sold * float(path.total),
    )
