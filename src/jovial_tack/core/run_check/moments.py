"""Moments of a log in which the blower's own speed leaves the crank's: in gear changes, in jerks.

docs/METHOD.md, section 17.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.run_check.points import Log, running_mean, shifts
from jovial_tack.core.value import Value

_IDLE_RPM = 500.0
#: Two channels of a logger may be this far apart in time; what that explains is no slip.
_APART_S = 0.06
_LEAST, _NOISES = 0.012, 5.0
_LEAST_S, _LEAST_SAMPLES = 0.05, 3
_JOINED_S = 0.25
#: A gear change: so much engine speed is lost within so much time.
_DROP_RPM, _DROP_S, _BESIDE_S = 700.0, 0.5, 0.4
_JERKS = 4


class Moment(Value, frozen=True):
    """A stretch in which the belt slips, by the blower's own speed.

    engine rpm in its middle; worst: the greatest share of its speed by which the blower falls behind,
    or below 0 runs on; in_gear_change: the engine's speed drops beside it; in_jerks: it grips and slips
    in turn.
    """

    from_s: float
    to_s: float
    rpm: float
    worst: float
    in_gear_change: bool
    in_jerks: bool


def moment_words(moment: Moment) -> tuple[str, str]:
    """A moment and by how much: (“Gear change at 6.3 s, 4808 rpm”, “7.8 % ahead”)."""
    what = "Gear change" if moment.in_gear_change else "In jerks" if moment.in_jerks else "Slip"
    way = "behind" if moment.worst > 0 else "ahead"
    where = f"{what} at {moment.from_s:.1f} s, {moment.rpm:.0f} rpm"
    return where, f"{100 * abs(moment.worst):.1f} % {way}"


def slipping_moments(log: Log) -> tuple[Moment, ...]:
    """Where the blower's logged speed leaves that of the crank, beyond noise and what the logger's own
    delay explains. Empty without a blower speed. METHOD 17.
    """
    if log.blower_rpm is None or log.time_s.size < 20:
        return ()
    turns = (log.rpm > _IDLE_RPM) & (log.blower_rpm > 0)
    if turns.sum() < 20:
        return ()
    log = log.taken(turns)
    assert log.blower_rpm is not None
    ratio = np.log(log.blower_rpm / log.rpm)
    # for most of a log the belt holds; a loss that never ends shows against the build's ratio only
    away = ratio - float(np.median(ratio))
    rough = np.abs(np.diff(ratio, n=2)) / np.sqrt(6.0)
    noise = 1.4826 * float(np.median(rough))
    bound = _LEAST + _NOISES * noise + _delayed(log)
    found = []
    for start, stop in _stretches(np.abs(away) > bound, log.time_s):
        part = slice(start, stop)
        # a few samples together: one alone may be a tooth of the sensor missed
        worst = running_mean(away[part], min(3, stop - start))
        deepest = int(np.argmax(np.abs(worst)))
        beyond = np.sign(worst[deepest]) * (abs(worst[deepest]) - _delayed(log)[part][deepest])
        found.append(
            Moment(
                float(log.time_s[start]),
                float(log.time_s[stop - 1]),
                float(np.median(log.rpm[part])),
                float(-np.expm1(beyond)),
                _is_gear_change(log, start, stop),
                _is_jerky(np.abs(away[part]) > bound[part]),
            )
        )
    return tuple(found)


def _delayed(log: Log) -> Float:
    """By how much the ratio seems to be away because one channel is behind the other (N,)."""
    step = _step(log)
    change = np.abs(np.gradient(log.rpm)) / step
    width = max(3, round(2 * _APART_S / step))
    # the change may be over in one channel before it is in the other
    spread = np.maximum.reduce([np.roll(change, k) for k in range(-(width // 2), width // 2 + 1)])
    return np.asarray(_APART_S * spread / log.rpm)


def _step(log: Log) -> float:
    gaps = np.diff(log.time_s)
    return float(np.median(gaps[gaps > 0])) if (gaps > 0).any() else 1.0


def _stretches(flags: Bool, time_s: Float) -> list[tuple[int, int]]:
    """Stretches of True that last, with those that lie close together joined."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]]).astype(np.int8)))
    joined: list[tuple[int, int]] = []
    for start, stop in edges.reshape(-1, 2).tolist():
        if joined and time_s[start] - time_s[joined[-1][1] - 1] <= _JOINED_S:
            joined[-1] = (joined[-1][0], stop)
        else:
            joined.append((start, stop))
    return [
        (start, stop)
        for start, stop in joined
        if flags[start:stop].sum() >= _LEAST_SAMPLES
        and time_s[stop - 1] - time_s[start] >= _LEAST_S
    ]


def _is_gear_change(log: Log, start: int, stop: int) -> bool:
    by_gear = log.gear is not None or log.road_speed is not None
    near = (log.time_s > log.time_s[start] - _BESIDE_S - _DROP_S) & (
        log.time_s < log.time_s[stop - 1] + _BESIDE_S + _DROP_S
    )
    if by_gear and shifts(log)[near].any():
        return True
    time, rpm = log.time_s[near], log.rpm[near]
    later = np.interp(time + _DROP_S, time, rpm)
    return bool((rpm - later).max() > _DROP_RPM)


def _is_jerky(beyond: Bool) -> bool:
    """Whether a stretch goes in and out of grip several times."""
    return int((np.diff(beyond.astype(np.int8)) == 1).sum()) + bool(beyond[0]) >= _JERKS
