"""Putting a belt on: the shortest path of a travel, and lifting it over a rim (METHOD 13)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.path import faults, trace


def shortest_path(
    centers: Complex, signed_radii: Float, driver_sign: float
) -> tuple[float, Complex] | None:
    """The shortest path of those that can exist, mm, and the centres there (P,); None if none can.

    Parameters: centres over a travel (V, P), complex mm; radii (P,), signed by the side of the belt
    they lie on; the driver's sign. Source: METHOD 3 and 13.

    >>> length, _ = shortest_path(np.array([[0, 200.0], [0, 190.0]]), np.array([30.0, 30.0]), 1.0)
    >>> round(length - 2 * np.pi * 30.0, 6)
    380.0
    """
    path = trace(centers, signed_radii)
    good = ~faults(path, driver_sign).any
    if not good.any():
        return None
    # a path that cannot exist may be the shortest of all; it must not win
    lane = int(np.argmin(np.where(good, path.total, np.inf)))
    return float(path.total[lane]), centers[lane]


def lifted_over(centers: Complex, signed_radii: Float, lifts: Float) -> Float:
    """By how much the path grows with the belt on the rim of one pulley, for each (P,), mm.

    Parameters: centres (P,), complex mm; radii (P,), signed; how far each rim stands over the radius
    the belt runs at (P,), mm. NaN where there is no path so. Source: METHOD 13.

    >>> radii, lifts = np.array([30.0, 30.0]), np.array([0.0, 2.0])
    >>> lifted_over(np.array([0, 200.0]), radii, lifts).round(2).tolist()
    [0.0, 6.3]
    """
    # the rim stands further out on whichever side the belt lies
    signs = np.sign(signed_radii)
    raised = signed_radii + np.diag(signs * lifts)  # a row with each pulley raised alone
    every = np.tile(centers, (raised.shape[0], 1))
    grown = np.array(
        [float(trace(at, radii).total) for at, radii in zip(every, raised, strict=True)]
    )
    return grown - float(trace(centers, signed_radii).total)
