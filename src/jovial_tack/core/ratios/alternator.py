"""What an alternator gives at a speed, by its output curve (METHOD 10)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Float


def current_at(rpm: Float, current_a: Float, at_rpm: float) -> float:
    """Current at an alternator's own speed, A: none below the first point, held beyond the last.

    Parameters: its curve as speeds (K,), rpm rising, and currents (K,), A.

    >>> current_at(np.array([1000.0, 2000.0]), np.array([10.0, 60.0]), 1500.0)
    35.0
    """
    return float(np.interp(at_rpm, rpm, current_a, left=0.0))


def speed_for(
    rpm: Float, current_a: Float, wanted_a: float, above_rpm: float = 0.0
) -> float | None:
    """The least speed over another at which an alternator gives a current, rpm; None if none does.

    Parameters: its curve as speeds (K,), rpm rising, and currents (K,), A; the speed at which it does
    not give it. A curve that falls gives more below that speed, which no smaller pulley reaches.

    >>> speed_for(np.array([1000.0, 2000.0, 4000.0]), np.array([0.0, 60.0, 100.0]), 80.0)
    3000.0
    """
    enough = np.flatnonzero((current_a >= wanted_a) & (rpm > above_rpm))
    if not enough.size:
        return None
    first = int(enough[0])
    if first == 0:
        return float(rpm[0])  # below its first point it gives nothing
    low, high = current_a[first - 1], current_a[first]
    share = (wanted_a - low) / (high - low)
    return float(rpm[first - 1] + share * (rpm[first] - rpm[first - 1]))
