"""How a belt tires at a pulley (docs/METHOD.md, section 9)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import MM_PER_M, Float

#: How steeply life falls with pull (rep.): the slope of the fatigue line of V- and ribbed belts.
EXPONENT = 11.0
#: From the neutral line of a rib to the fibre that tires first, mm (rep.).
_FIBRE_MM = 2.0


def damage(peak_n: Float, diameter_mm: Float, bending_n_m2: float) -> Float:
    """Damage of one pass over a pulley, in a unit of its own: (T + T_b)^11.

    T_b = 2·EI/(d·h) is the pull that bending about a diameter d adds in the fibre at h from the neutral
    line. Only ratios mean something. Source: the fatigue line of belts, N·T^m = constant, with bending
    as an added tension, as of machine-design texts for V-belts. METHOD 9.

    Parameters: greatest total tension at the pulley for one rib, N; diameter mm; EI of one rib, N·m²;
    all broadcast.

    >>> half = damage(np.array(50.0), np.array(80.0), 0.0005)
    >>> more = damage(np.array(55.0), np.array(80.0), 0.0005)
    >>> round(float(more / half), 2)
    2.55
    """
    bent = 2.0 * bending_n_m2 / (diameter_mm * _FIBRE_MM) * MM_PER_M**2
    return np.asarray((peak_n + bent) ** EXPONENT)
