"""Full-throttle pulls in a log, and two of them at equal revs (docs/METHOD.md, section 17)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.run_check.points import (
    STANDARD_AIR_KPA,
    Log,
    fan_boost,
    fan_head,
    running_mean,
    shifts,
)
from jovial_tack.core.run_check.pull import Pull, Trace
from jovial_tack.core.value import Value

_SMOOTH_S = 0.5
_LEAST_RISE_RPM_S = 40.0
_LEAST_PULL_S = 1.2
_LEAST_GAIN = 1.3
_CLOSED_GAP_S = 0.4
_BREAK_S = 1.0
_OPEN_THROTTLE = 0.65
_LEAST_BOOST_SHARE = 0.35  # of the most in the log
_LIFT_PER_S = 0.6
_LIFT_S = 0.15


def find_pulls(log: Log) -> list[slice]:
    """Stretches of full throttle in which the engine speed rises steadily, as slices of the log.

    Throttle, where logged, must stay near its most (a taper at the top still belongs to the pull).
    Pulls end where the boost collapses because the foot comes off.
    """
    time, count = log.time_s, log.time_s.size
    if count < 8:
        return []
    gaps = np.diff(time)
    step = float(np.median(gaps[gaps > 0])) if (gaps > 0).any() else 0.0
    if not step > 0:
        return []
    width = max(3, round(_SMOOTH_S / step))
    if width >= count:
        return []  # shorter than what is smoothed over, and than any pull
    smooth = running_mean(log.rpm, width)
    rising = np.gradient(smooth, step) > _LEAST_RISE_RPM_S
    if log.throttle is not None:
        # the highest half second, not a share of all samples: in hours of driving pulls are seconds
        rising &= log.throttle >= _OPEN_THROTTLE * float(running_mean(log.throttle, width).max())
    breaks = np.concatenate([[False], (gaps <= 0) | (gaps > max(_BREAK_S, 5 * step))])
    breaks |= shifts(log)  # the next gear is another pull, quick as its change may be
    rising[breaks] = False
    boosted = _LEAST_BOOST_SHARE * float(running_mean(log.boost_kpa, width).max())
    found: list[slice] = []
    for start, stop in _runs(rising, max(1, round(_CLOSED_GAP_S / step)), breaks):
        start, stop = _to_the_top(log, start, stop, width, step)
        if stop - start < 8 or float(log.boost_kpa[start:stop].max()) < boosted:
            continue  # too short, or a rise without boost: free revving, the foot half down
        # a few samples at each end: the whole width could hide a short pull's rise
        few = max(1, min(width, (stop - start) // 8))
        low, high = log.rpm[start : start + few].mean(), log.rpm[stop - few : stop].mean()
        if time[stop - 1] - time[start] >= _LEAST_PULL_S and high > low * _LEAST_GAIN:
            found.append(slice(start, stop))
    return found


def _runs(flags: Bool, gap: int, breaks: Bool) -> list[tuple[int, int]]:
    """Stretches of True, with gaps of up to `gap` samples closed unless time breaks there."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]]).astype(np.int8)))
    broken = np.cumsum(breaks)
    runs: list[tuple[int, int]] = []
    for start, stop in edges.reshape(-1, 2).tolist():
        near = bool(runs) and start - runs[-1][1] <= gap
        if near and broken[start] == broken[runs[-1][1] - 1]:
            runs[-1] = (runs[-1][0], stop)
        else:
            runs.append((start, stop))
    return runs


def _to_the_top(log: Log, start: int, stop: int, width: int, step: float) -> tuple[int, int]:
    """Let the pull end at its highest speed, and before the boost collapses with the throttle."""
    until = min(stop + width // 2, log.rpm.size)
    tail = max(start, stop - width)
    stop = tail + int(np.argmax(log.rpm[tail:until])) + 1
    most = float(np.max(log.boost_kpa[start:stop], initial=0.0))
    back = max(1, round(_LIFT_S / step))
    last = max(start + back, stop - 3 * width)
    if last >= stop:
        return start, max(stop, start + 1)  # too short to look back in
    fall = log.boost_kpa[last:stop] - log.boost_kpa[last - back : stop - back]
    lifted = np.flatnonzero(fall < -_LIFT_PER_S * most * back * step - 0.08 * most)
    if most > 0 and lifted.size:
        stop = last + int(lifted[0]) - back + 1
    return start, max(stop, start + 1)


class Compared(Value, frozen=True):
    """Boost of two pulls at the engine speeds both cover, all (points,).

    in_same_air: laid on one standard air, since that of both is known; otherwise as they were logged.
    more_kpa: of the second over the first; sd_kpa: one standard deviation of that.
    """

    in_same_air: bool

    rpm: Float
    first_kpa: Float
    second_kpa: Float
    sd_kpa: Float

    @property
    def more_kpa(self) -> Float:
        """By how much the second makes more."""
        return self.second_kpa - self.first_kpa


def at_equal_revs(one: Pull, other: Pull, points: int = 60) -> Compared | None:
    """Two pulls at equal engine speeds and, where it is known, in the same air: 101.325 kPa.

    None if they share no speeds, or one has no trace. METHOD 17.
    """
    if one.trace is None or other.trace is None:
        return None
    low = max(one.trace.rpm[0], other.trace.rpm[0])
    high = min(one.trace.rpm[-1], other.trace.rpm[-1])
    if not high > low:
        return None
    rpm = np.linspace(low, high, points)
    traces = one.trace, other.trace
    same = all(trace.air_is_known for trace in traces)
    first, second = (_boost_at(trace, rpm, in_standard_air=same) for trace in traces)
    spreads = [np.interp(rpm, trace.rpm, trace.sd_kpa) for trace in traces]
    return Compared(same, rpm, first, second, np.hypot(*spreads))


def _boost_at(trace: Trace, rpm: Float, *, in_standard_air: bool) -> Float:
    """Boost at engine speeds, kPa; of standard air: what a blower with the same head makes of it."""
    boost = np.interp(rpm, trace.rpm, trace.boost_kpa)
    if not in_standard_air:
        return boost
    return fan_boost(fan_head(boost, trace.air_kpa), STANDARD_AIR_KPA)
