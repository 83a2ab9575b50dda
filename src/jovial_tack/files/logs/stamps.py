"""Time columns as seconds: clocks, dates, milliseconds, day fractions, stamps that repeat."""

from __future__ import annotations

from typing import Any

import numpy as np

from jovial_tack.core.arrays import Float

#: The last clock in a cell, whatever date stands before it: hours may be absent.
_CLOCK = r"(?:(\d{1,3}):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)"
_DAY_S = 86_400.0
#: Steps between samples of no logger: seconds written as days; ms and µs written without their unit.
_LEAST_STEP_S, _MS_STEP, _US_STEP = 2e-5, 5.0, 900.0
_MANY_ROWS = 5000


def clock_seconds(cells: Any) -> Float:
    """Seconds (N,) of cells with a clock in them, from a column of strings; NaN where there is none.

    Past midnight they go on.
    """
    hours, minutes, seconds = (
        cells.str.extract(_CLOCK, group)
        .str.replace(",", ".", literal=True)
        .cast(float, strict=False)
        .fill_null(0.0 if group == 1 else float("nan"))
        .to_numpy()
        for group in (1, 2, 3)
    )
    found = np.asarray(3600.0 * hours + 60.0 * minutes + seconds)
    known = np.where(np.isfinite(found), found, 0.0)
    midnights = np.cumsum(np.diff(known, prepend=known[:1]) < -_DAY_S / 2)
    return np.asarray(found + _DAY_S * midnights)


def unit_by_steps(time: Float) -> str | None:
    """The unit a time without one is likely in, by how far its samples lie apart; None: seconds."""
    steps = np.diff(time[np.isfinite(time)])
    steps = steps[steps > 0]
    if not steps.size:
        return None
    usual = float(np.median(steps))
    if usual < _LEAST_STEP_S:
        return "days"
    if usual >= _US_STEP:
        return "µs"
    # a log of a step a second has few rows; one of a step a millisecond has many
    if usual >= _MS_STEP or (usual >= 1.0 and time.size > _MANY_ROWS):
        return "ms"
    return None


def spread(time: Float) -> Float:
    """Stamps (N,) coarser than the rate, spread evenly from each to the next.

    >>> spread(np.array([0.0, 0.0, 1.0, 1.0, 2.0, 2.0])).tolist()
    [0.0, 0.5, 1.0, 1.5, 2.0, 2.5]
    """
    if np.count_nonzero(time[1:] == time[:-1]) < 0.1 * time.size and np.isfinite(time).all():
        return time  # as almost every log: no need to look closer
    rows = np.flatnonzero(np.isfinite(time))
    if rows.size < 3:
        return time
    first = rows[np.concatenate([[True], np.diff(time[rows]) != 0])]
    if first.size < 3 or first.size > 0.9 * rows.size:
        return time
    starts = time[first]
    # the last stamp lasts as long as the others do
    per_row = float(np.median(np.diff(starts) / np.diff(first)))
    end = first[-1] + 1 + (rows[-1] - first[-1])
    ends = np.append(first, end), np.append(starts, starts[-1] + per_row * (end - first[-1]))
    # the first stamp may have begun before the log did
    ends[1][0] = starts[1] - per_row * (first[1] - first[0])
    even = np.interp(np.arange(time.size), *ends)
    return np.where(np.isfinite(time), even, np.nan)
