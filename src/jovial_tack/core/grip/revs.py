"""What happens over a whole range of engine speeds: where to look, and the ranges in which it does.

A figure over the revs is smooth between the corners of the loads' curves. So it is looked at in even
steps and at every corner, then more closely beside each of its peaks and wherever it passes its
limit: nothing that rises above the limit between two steps is lost (METHOD 8).
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.drive.solve import BeltDrive

_STEPS = 25
_MOST_CORNERS = 400
_WITHIN = np.linspace(0.0, 1.0, 6)[1:-1]

#: Lowest and highest engine speed of a range, rev/min.
Range = tuple[float, float]


def speeds_over(drive: BeltDrive, low_rpm: float, high_rpm: float) -> Float:
    """Engine speeds (S,) at which to look first, rising: even steps and the corners of all loads.

    A load that jumps at a corner is seen on both of its sides.
    """
    corners = np.array(sorted(set(drive.corners_rpm())))
    corners = corners[(corners > low_rpm) & (corners < high_rpm)]
    if corners.size > _MOST_CORNERS:  # a curve of so many points is looked at as a smooth one
        corners = corners[:: corners.size // _MOST_CORNERS + 1]
    beside = np.concatenate([corners, corners * (1 - 1e-9), corners * (1 + 1e-9)])
    inside = beside[(beside > low_rpm) & (beside < high_rpm)]
    steps = np.linspace(low_rpm, high_rpm, _STEPS)
    return np.asarray(sorted({*steps.tolist(), *inside.tolist()}))


def between(rpm: Float, excess: Float) -> Float:
    """Further speeds beside every peak of the columns (S, K), and in every cell in which one passes 0.

    NaN counts as beyond the limit. Returns speeds that are not among rpm (S,), rising.
    """
    value = _finite(excess)
    peaks = _peaks(value)
    over = value >= 0
    # a peak may pass 0 within its cell although both ends are below
    cells = (over[:-1] != over[1:]).any(axis=-1) | peaks[:-1] | peaks[1:]
    left, wide = rpm[:-1][cells], np.diff(rpm)[cells]
    return np.asarray((left[:, None] + wide[:, None] * _WITHIN).ravel())


def about_peaks(rpm: Float, columns: Float) -> Float:
    """The speeds at the peaks of the columns (S, K), those beside them, and both ends, rising."""
    chosen = _peaks(_finite(columns))
    chosen[1:] |= chosen[:-1]
    chosen[:-1] |= chosen[1:]
    chosen[[0, -1]] = True
    return np.asarray(rpm[chosen])


def _finite(columns: Float) -> Float:
    # large but finite, so that differences of two such values are not NaN
    return np.nan_to_num(columns.reshape(len(columns), -1), nan=1e9, posinf=1e9, neginf=-1e9)


def _peaks(value: Float) -> Bool:
    """Where a column is higher than before and not lower than after (S,); at the ends it is known."""
    inside = (value[1:-1] > value[:-2]) & (value[1:-1] >= value[2:])
    return np.concatenate([[False], inside.any(axis=-1), [False]])


def ranges_beyond(rpm: Float, excess: Float) -> tuple[Range, ...]:
    """The ranges of rpm (S,) in which excess (S,) is 0 or more, closed by straight lines.

    NaN counts as beyond, and its cell is taken whole.

    >>> ranges_beyond(np.array([0.0, 1.0, 2.0, 3.0]), np.array([-1.0, 1.0, 1.0, -3.0]))
    ((0.5, 2.25),)
    """
    # not (excess >= 0): a NaN must count as beyond
    over = np.concatenate([[False], ~(excess < 0), [False]])
    # a range begins where the next is over and this is not, and ends the other way round
    begins = np.flatnonzero(over[1:] & ~over[:-1])
    ends = np.flatnonzero(over[:-1] & ~over[1:]) - 1
    last = rpm.size - 1
    return tuple(
        (
            float(rpm[0]) if begin == 0 else _passing(rpm, excess, int(begin) - 1),
            float(rpm[last]) if end == last else _passing(rpm, excess, int(end)),
        )
        for begin, end in zip(begins, ends, strict=True)
    )


def _passing(rpm: Float, excess: Float, cell: int) -> float:
    """Where a straight line over a cell passes 0; at a value that is not finite, at its outer end."""
    low, high = float(rpm[cell]), float(rpm[cell + 1])
    first, last = float(excess[cell]), float(excess[cell + 1])
    if not (np.isfinite(first) and np.isfinite(last)):
        return low if np.isfinite(first) else high
    return low + (high - low) * first / (first - last)
