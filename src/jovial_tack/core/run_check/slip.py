"""Slip from a log: pulls found, shortfall of the blower's speed, onset with its interval.

Boost tells the speed of a centrifugal blower through the fan law. How far that speed falls behind the
engine's is fitted twice, with and without an onset. Without: level (a leak lowers boost everywhere) or
drifting smoothly (another law, warm air). With: a loss that grows from an onset (slip), or one that
comes in a step and stays (a bypass opens). The simplest account that explains the pull wins, and where
two explain it equally well the answer is that the data cannot tell. See docs/METHOD.md, section 17.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.run_check.accounts import Fit, Points, accounts, onset_interval
from jovial_tack.core.value import Value, replace

KAPPA = (1.4 - 1.0) / 1.4

_LEAST_BOOST_KPA = 4.0
_LEAST_BOOST_SHARE = 0.06
_LEAST_POINTS = 12
_LEAST_GAIN = 1.3
_MOST_POINTS = 120
_MARGIN = 9.0
_CLEAR_MARGIN = 40.0
_STEP_MARGIN = 3.0
_FROM_THE_START = 0.16
_LEAST_SLIP = 0.015
_LEAST_SLIP_BY_SPEED = 0.01
_TELLING_SLIP = 0.05
_DRIFT = 0.03


class Log(Value, frozen=True):
    """Channels of a log, all (N,): time s rising, engine rpm, boost above the air's pressure kPa.

    blower_rpm, throttle (any unit, rising with opening) or None; air_kpa: ambient pressure.
    """

    time_s: Float
    rpm: Float
    boost_kpa: Float
    blower_rpm: Float | None = None
    throttle: Float | None = None
    air_kpa: float = 101.325

    def taken(self, which: slice | Bool) -> Log:
        """Some of the samples."""
        return Log(
            self.time_s[which],
            self.rpm[which],
            self.boost_kpa[which],
            None if self.blower_rpm is None else self.blower_rpm[which],
            None if self.throttle is None else self.throttle[which],
            self.air_kpa,
        )


class Trace(Value, frozen=True):
    """A pull for drawing, over rising rpm, all (B,): boost measured, expected by the fan law and by a
    straight line through the low part, kPa, and the slip it means.
    """

    rpm: Float
    boost_kpa: Float
    expected_kpa: Float
    line_kpa: Float
    slip: Float


class Pull(Value, frozen=True):
    """What one full-throttle pull shows.

    slip: True, False, or None where the data cannot tell; reason says why. onset_rpm with the interval
    that holds it with 95 %; boost_lost_kpa and worst_slip at the top of the pull. confidence: "clear",
    "likely" or "cannot tell".
    """

    from_s: float
    to_s: float
    low_rpm: float
    high_rpm: float
    slip: bool | None
    confidence: str
    reason: str
    onset_rpm: float | None = None
    onset_interval: tuple[float, float] | None = None
    boost_lost_kpa: float | None = None
    worst_slip: float | None = None
    trace: Trace | None = None


def fan_head(boost_kpa: Float, air_kpa: float) -> Float:
    """Head of a centrifugal blower in units of cp·T1: PR^κ − 1, which grows with speed squared.

    Parameters: boost above the air's pressure, kPa; the air's pressure, kPa. Source: affinity laws.
    METHOD 11 and 17.

    >>> round(float(fan_head(np.array(70.0), 101.325)), 4)
    0.1619
    """
    ratio = np.maximum(1.0 + boost_kpa / air_kpa, 1e-6)
    return np.asarray(ratio**KAPPA - 1.0)


def fan_boost(head: Float, air_kpa: float) -> Float:
    """Boost of a head, kPa: the inverse of `fan_head`. METHOD 17.

    >>> round(float(fan_boost(fan_head(np.array(70.0), 101.325), 101.325)), 6)
    70.0
    """
    return np.asarray(air_kpa * ((1.0 + head) ** (1.0 / KAPPA) - 1.0))


def judge_pull(log: Log, part: slice, ratio: float | None = None) -> Pull:
    """Say whether one pull shows slip.

    Parameters: the log; the stretch of it that is the pull; ratio of the blower pulley's speed to the
    crank's, if known (it serves logs with a blower speed). METHOD 17.
    """
    whole = log.taken(part)
    kept, closes_at = _until_throttle_closes(whole)
    base = Pull(
        float(whole.time_s[0]),
        float(whole.time_s[-1]),
        float(whole.rpm.min()),
        float(whole.rpm.max()),
        None,
        "cannot tell",
        "",
    )
    points, problem = _points(kept)
    if points is None:
        return replace(base, reason=problem)
    pull = _judge(base, points, by_speed=kept.blower_rpm is not None, air_kpa=log.air_kpa)
    reason = pull.reason
    if closes_at is not None and pull.slip is not True:
        reason += f"; above {closes_at:.0f} rpm the throttle closes"
    if kept.blower_rpm is not None and ratio is not None:
        reason += _against_ratio(kept, points, ratio)
    return replace(pull, reason=reason)


def _until_throttle_closes(log: Log) -> tuple[Log, float | None]:
    """The pull up to where the throttle begins to close (a tune that tapers is not slip), and where."""
    if log.throttle is None or log.throttle.size < 8:
        return log, None
    opened = running_mean(log.throttle, max(3, log.throttle.size // 40))
    most = float(np.median(opened[: max(4, opened.size // 3)]))
    spread = float(np.median(np.abs(np.diff(log.throttle)))) / max(most, 1e-9)
    closing = opened < (0.985 - min(spread, 0.02)) * most
    closing[: opened.size // 4] = False
    if not closing.any():
        return log, None
    first = int(np.argmax(closing))
    # the mean smears the first of the closing over its own width
    first = max(first - max(3, log.throttle.size // 40), 1)
    return log.taken(slice(0, first)), float(log.rpm[first])


def _points(log: Log) -> tuple[Points | None, str]:
    """The points to fit, or why there are too few."""
    by_speed = log.blower_rpm is not None
    least = max(_LEAST_BOOST_KPA, _LEAST_BOOST_SHARE * float(np.max(log.boost_kpa, initial=0.0)))
    if by_speed:
        assert log.blower_rpm is not None
        known = log.blower_rpm > 0
    else:
        known = log.boost_kpa > least
    if known.sum() < _LEAST_POINTS:
        return None, "too little of the pull has boost to compare with"
    log = log.taken(known)
    if log.blower_rpm is not None:
        y = np.log(log.blower_rpm / log.rpm)
        lever = np.zeros_like(y)
    else:
        head = fan_head(log.boost_kpa, log.air_kpa)
        y = 0.5 * np.log(head / log.rpm**2)
        lever = KAPPA * (1.0 + head) / (2.0 * (log.boost_kpa + log.air_kpa) * head)
    first = _once_boost_stands(y)
    y, lever, rpm, boost = (v[first:] for v in (y, lever, log.rpm, log.boost_kpa))
    if rpm.size < _LEAST_POINTS or rpm.max() < _LEAST_GAIN * rpm.min():
        return None, "the pull covers too few revs with boost to calibrate low in it"
    sigma = _noise(y, lever)
    order = np.argsort(rpm, kind="stable")
    rpm, y, sigma, boost = rpm[order], y[order], sigma[order], boost[order]
    groups = min(rpm.size, _MOST_POINTS)
    starts = (np.arange(groups) * rpm.size) // groups
    counts = np.diff(np.append(starts, rpm.size)).astype(float)

    def mean(values: Float) -> Float:
        return np.asarray(np.add.reduceat(values, starts) / counts)

    return Points(mean(rpm), mean(y), mean(sigma) / np.sqrt(counts), mean(boost)), ""


def _once_boost_stands(y: Float) -> int:
    """Where the boost has built up after the throttle opened: within the first quarter of the pull."""
    quarter = y.size // 4
    usual = float(np.median(y[quarter : max(2 * quarter, quarter + 4)]))
    low = np.flatnonzero(y[:quarter] < usual - 0.12)
    return int(low[-1]) + 1 if low.size else 0


def _noise(y: Float, lever: Float) -> Float:
    """Noise of y per sample (N,): a share of the boost, and a part that is the same for all boosts.

    Taken from second differences, which the smooth pull itself hardly touches; lever (N,): change of y
    per kPa.
    """
    rough = (y[2:] - 2 * y[1:-1] + y[:-2]) ** 2 / 6.0
    rough = np.minimum(rough, 12.0 * np.median(rough) + 1e-12)
    squared = lever[1:-1] ** 2
    design = np.stack([np.ones_like(squared), squared], axis=1)
    if float(np.ptp(squared)) > 0:
        scaled = design / (rough.mean() + squared[:, None] * 0 + 1e-12)
        even, by_lever = np.linalg.lstsq(scaled, rough / (rough.mean() + 1e-12), rcond=None)[0]
    else:
        even, by_lever = float(rough.mean()), 0.0
    if even < 0 or by_lever < 0:
        even = max(float(rough.mean()), 0.0) if by_lever <= 0 else 0.0
        by_lever = 0.0 if even else float(rough.sum() / squared.sum())
    return np.asarray(np.sqrt(even + by_lever * lever**2 + 1e-8))


def _judge(base: Pull, points: Points, *, by_speed: bool, air_kpa: float) -> Pull:
    without, slipping, stepped = accounts(points, by_speed)
    gain = without.criterion - slipping.criterion
    top = 1.0 - float(np.exp(-slipping.loss))
    rpm = points.rpm
    onset = float(rpm[0] + slipping.onset * (rpm[-1] - rpm[0]))
    drawn = _trace(points, without, air_kpa)
    step_gain = without.criterion - stepped.criterion
    least = _LEAST_SLIP_BY_SPEED if by_speed else _LEAST_SLIP
    if max(gain, step_gain) < _MARGIN or max(top, 1 - np.exp(-stepped.loss)) < least:
        return _no_onset(replace(base, trace=drawn), points, without)
    at = float(rpm[0] + stepped.onset * (rpm[-1] - rpm[0]))
    if step_gain > gain + _STEP_MARGIN and not by_speed:
        return replace(
            base,
            trace=_trace(points, stepped, air_kpa),
            reason=f"boost drops in one step at {at:.0f} rpm and stays down, as when a bypass opens;"
            " slip grows with revs",
        )
    drawn = _trace(points, slipping, air_kpa)
    if slipping.onset < _FROM_THE_START and not by_speed:
        return replace(
            base,
            trace=drawn,
            reason="boost falls behind from the lowest revs on, as with a leak; there is no part of"
            " the pull to calibrate with",
        )
    if step_gain > gain - _STEP_MARGIN and not by_speed and stepped.onset < 0.9:
        return replace(
            base,
            trace=drawn,
            reason=f"boost is lost near {onset:.0f} rpm, but whether in a step (a bypass) or growing"
            " (slip) this log cannot tell",
        )
    if by_speed and step_gain > gain:
        slipping, onset, top = stepped, at, 1.0 - float(np.exp(-stepped.loss))
        drawn = _trace(points, slipping, air_kpa)
    lost = float(drawn.expected_kpa[-1] - _slipped(drawn.expected_kpa[-1:], top, air_kpa)[0])
    clear = max(gain, step_gain) > _CLEAR_MARGIN
    shown = "the blower's own speed" if by_speed else "boost"
    return replace(
        base,
        slip=True,
        confidence="clear" if clear else "likely",
        reason=f"{shown} falls behind the crank from {onset:.0f} rpm on, more the faster it turns",
        onset_rpm=onset,
        onset_interval=onset_interval(points, slipping),
        boost_lost_kpa=lost,
        worst_slip=top,
        trace=drawn,
    )


def _no_onset(base: Pull, points: Points, without: Fit) -> Pull:
    """No loss that sets in: held, drifting, or hidden by noise."""
    rms = float(np.sqrt(np.mean(without.residual**2)))
    blind = 4.0 * rms * float(np.median(points.sigma)) * np.sqrt(2.0 / (0.2 * points.rpm.size))
    if blind > _TELLING_SLIP:
        said = f"too noisy: slip below {100 * blind:.0f} % would not show"
        return replace(base, reason=said)
    drift = 1.0 - float(np.exp(without.level[-1] - without.level[: points.rpm.size // 5].mean()))
    if drift > _DRIFT:
        said = (
            f"boost falls {100 * drift:.0f} % of blower speed behind the fan law evenly over the"
            " whole pull, with no onset: another law, warm air or a leak, or slip from the start"
        )
        return replace(base, reason=said)
    return replace(
        base,
        slip=False,
        confidence="clear" if blind < _TELLING_SLIP / 2 else "likely",
        reason=f"the blower keeps up to {points.rpm[-1]:.0f} rpm; slip over {100 * blind:.1f} % would"
        " have shown",
    )


def _trace(points: Points, fit: Fit, air_kpa: float) -> Trace:
    head = np.exp(2.0 * fit.level) * points.rpm**2
    expected = fan_boost(head, air_kpa)
    low = points.share <= 0.4
    if points.boost.max() > _LEAST_BOOST_KPA:
        # by blower speed the level is a ratio of speeds; calibrate the head with the boost low down
        scale = np.median(fan_head(points.boost[low], air_kpa) / head[low])
        expected = fan_boost(np.maximum(scale, 1e-9) * head, air_kpa)
    line = np.polynomial.Polynomial.fit(points.rpm[low], points.boost[low], 1)(points.rpm)
    return Trace(points.rpm, points.boost, expected, line, 1.0 - np.exp(points.y - fit.level))


def _slipped(expected_kpa: Float, slip: float, air_kpa: float) -> Float:
    return fan_boost(fan_head(expected_kpa, air_kpa) * (1.0 - slip) ** 2, air_kpa)


def _against_ratio(log: Log, points: Points, ratio: float) -> str:
    """Whether the blower's measured speed fits the build's ratio low in the pull."""
    low = float(np.exp(np.median(points.y[points.share < 0.4])))
    off = low / ratio - 1.0
    if abs(off) < 0.02:
        return ""
    return (
        f"; low in the pull the blower turns {low:.2f} times the crank where the build says"
        f" {ratio:.2f}: check pulley sizes and step-up"
    )


def running_mean(values: Float, width: int) -> Float:
    """Centred mean over `width` samples (N,), the ends held.

    >>> running_mean(np.array([0.0, 0.0, 3.0, 3.0, 3.0]), 3).tolist()
    [0.0, 1.0, 2.0, 3.0, 3.0]
    """
    padded = np.pad(values, (width // 2, width - 1 - width // 2), mode="edge")
    summed = np.cumsum(np.concatenate([[0.0], padded]))
    return np.asarray((summed[width:] - summed[:-width]) / width)
