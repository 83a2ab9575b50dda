"""Slip from a log: pulls found, shortfall of the blower's speed, onset with its interval.

Boost tells the speed of a centrifugal blower through the fan law. How far that speed falls behind the
engine's is fitted twice, with and without an onset. Without: level (a leak lowers boost everywhere) or
drifting smoothly (another law, warm air). With: a loss that grows from an onset (slip), or one that
comes in a step and stays (a bypass opens). The simplest account that explains the pull wins, and where
two explain it equally well the answer is that the data cannot tell. See docs/METHOD.md, section 17.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from jovial_tack.core.arrays import Bool, Float

KAPPA = (1.4 - 1.0) / 1.4

_LEAST_BOOST_KPA = 4.0
_LEAST_BOOST_SHARE = 0.06
_LEAST_POINTS = 12
_LEAST_GAIN = 1.3
_MOST_POINTS = 120
_ONSETS = 81
_FIRST_ONSET, _LAST_ONSET = 0.10, 0.965
_ONSET_GRID = np.linspace(_FIRST_ONSET, _LAST_ONSET, _ONSETS)
_LEVEL = (("level",),)
_TRENDS = (("level",), ("level", "log"), ("level", "square"), ("level", "log", "square"))
_GROWTHS = (1.0, 1.5, 2.0)
_GROWTH_PENALTIES = (0.0, 3.0, 5.0)
_STEP_WIDTHS = (0.0, 0.025, 0.06)
_STEP_PLATEAU = 0.07
_HUBER = 2.5
_MARGIN = 9.0
_CLEAR_MARGIN = 40.0
_STEP_MARGIN = 3.0
_FROM_THE_START = 0.16
_LEAST_SLIP = 0.015
_LEAST_SLIP_BY_SPEED = 0.01
_TELLING_SLIP = 0.05
_DRIFT = 0.03
_TAIL = 0.025


@dataclass(frozen=True)
class Log:
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


@dataclass(frozen=True)
class Trace:
    """A pull for drawing, over rising rpm, all (B,): boost measured, expected by the fan law and by a
    straight line through the low part, kPa, and the slip it means.
    """

    rpm: Float
    boost_kpa: Float
    expected_kpa: Float
    line_kpa: Float
    slip: Float


@dataclass(frozen=True)
class Pull:
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


@dataclass(frozen=True)
class _Points:
    """Points of a pull over rising speed (P,): y = ln(apparent blower speed / engine speed), its noise.

    boost kPa; weight: samples behind a point.
    """

    rpm: Float
    y: Float
    sigma: Float
    boost: Float

    @property
    def share(self) -> Float:
        """Place along the pull, 0 to 1 (P,)."""
        return np.asarray((self.rpm - self.rpm[0]) / (self.rpm[-1] - self.rpm[0]))


@dataclass(frozen=True)
class _Fit:
    """One account of a pull: criterion (less is better), residuals (P,), level without the loss (P,),
    and of the loss: onset as a share of the pull, with its 95 % interval, and ln-loss at the top.

    criteria (G,): that of every onset tried.
    """

    criterion: float
    residual: Float
    level: Float
    onset: float = float("nan")
    interval: tuple[float, float] = (float("nan"), float("nan"))
    loss: float = 0.0
    criteria: Float | None = None


def judge_pull(log: Log, part: slice, ratio: float | None = None) -> Pull:
    """Say whether one pull shows slip.

    Parameters: the log; the stretch of it that is the pull; ratio of the blower pulley's speed to the
    crank's, if known (it serves logs with a blower speed). METHOD 17.
    """
    whole = log.taken(part)
    kept, closes_at = _until_throttle_closes(whole)
    base = Pull(
        float(whole.time_s[0]), float(whole.time_s[-1]), float(whole.rpm.min()),
        float(whole.rpm.max()), None, "cannot tell", "",
    )  # fmt: skip
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


def _points(log: Log) -> tuple[_Points | None, str]:
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

    return _Points(mean(rpm), mean(y), mean(sigma) / np.sqrt(counts), mean(boost)), ""


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


def _judge(base: Pull, points: _Points, *, by_speed: bool, air_kpa: float) -> Pull:
    without, slipping, stepped = _accounts(points, by_speed)
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
            base, trace=_trace(points, stepped, air_kpa),
            reason=f"boost drops in one step at {at:.0f} rpm and stays down, as when a bypass opens;"
            " slip grows with revs",
        )  # fmt: skip
    drawn = _trace(points, slipping, air_kpa)
    if slipping.onset < _FROM_THE_START and not by_speed:
        return replace(
            base, trace=drawn,
            reason="boost falls behind from the lowest revs on, as with a leak; there is no part of"
            " the pull to calibrate with",
        )  # fmt: skip
    if step_gain > gain - _STEP_MARGIN and not by_speed and stepped.onset < 0.9:
        return replace(
            base, trace=drawn,
            reason=f"boost is lost near {onset:.0f} rpm, but whether in a step (a bypass) or growing"
            " (slip) this log cannot tell",
        )  # fmt: skip
    if by_speed and step_gain > gain:
        slipping, onset, top = stepped, at, 1.0 - float(np.exp(-stepped.loss))
        drawn = _trace(points, slipping, air_kpa)
    lost = float(drawn.expected_kpa[-1] - _slipped(drawn.expected_kpa[-1:], top, air_kpa)[0])
    clear = max(gain, step_gain) > _CLEAR_MARGIN
    shown = "the blower's own speed" if by_speed else "boost"
    return replace(
        base, slip=True, confidence="clear" if clear else "likely",
        reason=f"{shown} falls behind the crank from {onset:.0f} rpm on, more the faster it turns",
        onset_rpm=onset, onset_interval=_interval(points, slipping), boost_lost_kpa=lost,
        worst_slip=top, trace=drawn,
    )  # fmt: skip


def _no_onset(base: Pull, points: _Points, without: _Fit) -> Pull:
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
        base, slip=False, confidence="clear" if blind < _TELLING_SLIP / 2 else "likely",
        reason=f"the blower keeps up to {points.rpm[-1]:.0f} rpm; slip over {100 * blind:.1f} % would"
        " have shown",
    )  # fmt: skip


def _trace(points: _Points, fit: _Fit, air_kpa: float) -> Trace:
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


def _against_ratio(log: Log, points: _Points, ratio: float) -> str:
    """Whether the blower's measured speed fits the build's ratio low in the pull."""
    low = float(np.exp(np.median(points.y[points.share < 0.4])))
    off = low / ratio - 1.0
    if abs(off) < 0.02:
        return ""
    return (
        f"; low in the pull the blower turns {low:.2f} times the crank where the build says"
        f" {ratio:.2f}: check pulley sizes and step-up"
    )


def _accounts(points: _Points, by_speed: bool) -> tuple[_Fit, _Fit, _Fit]:
    """The best account without an onset, with a growing loss, and with a step.

    Fitted twice: the first time tells outliers, how much rougher than its second differences the pull
    is, and how far its samples hang together.
    """
    share = points.share
    turns = points.rpm / points.rpm[-1]
    trends = _LEVEL if by_speed else _TRENDS
    ramps, steps = _losses(share)
    weight, independent = 1.0 / points.sigma, 1.0
    for last in (False, True):
        count = float(np.log(max(points.rpm.size * independent, 8.0)))
        bases = [_Basis.of(points.y, weight, turns, trend) for trend in trends]
        fit = _Fitter(points.y, weight, independent, count)
        without = min((fit.level(basis) for basis in bases), key=lambda f: f.criterion)
        simple = bases[:3]  # a loss beside two drifts at once could imitate anything
        tried = 3 if last else 1  # which way a loss grows matters little for its residuals
        slipping = _averaged(
            [
                found
                for ramp, extra in zip(ramps[:tried], _GROWTH_PENALTIES, strict=False)
                for found in fit.with_loss(simple, _ONSET_GRID, ramp, extra)
            ]
        )
        stepped = min(
            (found for step in steps[:tried] for found in fit.with_loss(simple, *step, 0.0)),
            key=lambda f: f.criterion,
        )
        if not last:
            best = min((without, slipping, stepped), key=lambda f: f.criterion)
            weight, independent = _reweighed(points, best.residual)
    return without, slipping, stepped


def _losses(share: Float) -> tuple[list[Float], list[tuple[Float, Float]]]:
    """Shapes of a loss over the pull, 1 at its top (G, P): growing ones, and steps with onsets."""
    ramp = np.maximum(share - _ONSET_GRID[:, None], 0.0) / (1.0 - _ONSET_GRID[:, None])
    steps = []
    for width in _STEP_WIDTHS:
        onsets = _ONSET_GRID[_ONSET_GRID + width < 1.0 - _STEP_PLATEAU]
        past = share - onsets[:, None]
        steps.append((onsets, (past > 0) * np.clip(past / width, 0, 1) if width else past > 0))
    return [ramp**growth for growth in _GROWTHS], [
        (at, np.asarray(shape, dtype=float)) for at, shape in steps
    ]


def _averaged(fits: list[_Fit]) -> _Fit:
    """The best of several accounts, its onset weighed over all of them and all onsets.

    Every onset of every account weighs exp(−criterion/2), so that an onset that depends on how the loss
    is taken to grow gets the wider interval it deserves. Source: Schwarz's approximation of evidence.
    """
    best = min(fits, key=lambda f: f.criterion)
    every = np.stack([f.criteria for f in fits if f.criteria is not None])
    weight = np.exp(-0.5 * (every - every.min())).sum(axis=0)
    below = np.cumsum(weight) / weight.sum()
    low = float(_ONSET_GRID[int(np.argmax(below >= _TAIL))])
    high = float(_ONSET_GRID[int(np.argmax(below >= 1.0 - _TAIL))])
    onset = float((weight * _ONSET_GRID).sum() / weight.sum())
    return replace(best, onset=onset, interval=(low, high))


def _reweighed(points: _Points, residual: Float) -> tuple[Float, float]:
    """Weights (P,) with outliers held down, and the share of points that count by themselves."""
    spread = max(1.0, 1.4826 * float(np.median(np.abs(residual))))
    scaled = residual / spread
    huber = np.sqrt(np.minimum(1.0, _HUBER / np.maximum(np.abs(scaled), 1e-9)))
    ends = np.clip(scaled, -_HUBER, _HUBER)
    alike = float((ends[1:] * ends[:-1]).sum() / max(float((ends**2).sum()), 1e-9))
    alike = min(max(alike, 0.0), 0.9)
    return huber / (points.sigma * spread), (1.0 - alike) / (1.0 + alike)


@dataclass(frozen=True)
class _Basis:
    """Weighed trends made orthonormal (P, t), and what they leave of y (P,)."""

    vectors: Float
    residual: Float

    @staticmethod
    def of(y: Float, weight: Float, turns: Float, trend: tuple[str, ...]) -> _Basis:
        """Level, drift with the logarithm of speed and drift with its square, as far as wanted."""
        columns = {"level": np.ones_like(turns), "log": np.log(turns), "square": turns**2}
        vectors: list[Float] = []
        for name in trend:
            column = columns[name] * weight
            for vector in vectors:
                column = column - (vector @ column) * vector
            vectors.append(column / np.sqrt(column @ column))
        basis, weighed = np.stack(vectors, axis=1), y * weight
        return _Basis(basis, weighed - basis @ (basis.T @ weighed))


@dataclass(frozen=True)
class _Fitter:
    """Weighted least squares of y on a few trends, with or without a loss of one of many onsets."""

    y: Float
    weight: Float
    independent: float
    penalty: float

    def level(self, basis: _Basis) -> _Fit:
        """Trends only."""
        chi = self.independent * float(basis.residual @ basis.residual)
        level = self.y - basis.residual / self.weight
        return _Fit(chi + basis.vectors.shape[1] * self.penalty, basis.residual, level)

    def with_loss(
        self, bases: list[_Basis], onsets: Float, shapes: Float, extra: float
    ) -> list[_Fit]:
        """For each basis its trends less a loss k·shape, k ≥ 0, at the best of the onsets (G,).

        shapes (G, P) reach 1 at the top. What a basis leaves of y is at right angles to it, so that
        only sizes and products are needed, not the shapes without their share of the basis.
        """
        weighed = shapes * self.weight
        squares = np.einsum("gp,gp->g", weighed, weighed)
        return [self._with_loss(basis, onsets, weighed, squares, extra) for basis in bases]

    def _with_loss(
        self, basis: _Basis, onsets: Float, weighed: Float, squares: Float, extra: float
    ) -> _Fit:
        residual, vectors = basis.residual, basis.vectors
        along = weighed @ vectors
        size = np.maximum(squares - (along**2).sum(axis=-1), 1e-9 * squares + 1e-30)
        loss = np.maximum(-(weighed @ residual) / size, 0.0)
        chi = self.independent * (float(residual @ residual) - loss**2 * size)
        criteria = chi + (vectors.shape[1] + 2) * self.penalty + extra
        best = int(np.argmin(criteria))
        most = float(loss[best])
        left = residual + most * (weighed[best] - vectors @ along[best])
        level = self.y + (most * weighed[best] - left) / self.weight
        onset = float(onsets[best])
        return _Fit(float(criteria[best]), left, level, onset, (onset, onset), most, criteria)


def _interval(points: _Points, fit: _Fit) -> tuple[float, float]:
    """The 95 % interval of the onset, rpm; no finer than the points and the onsets tried stand."""
    low, span = float(points.rpm[0]), float(points.rpm[-1] - points.rpm[0])
    tried = (_LAST_ONSET - _FIRST_ONSET) / (_ONSETS - 1)
    half = max(float(np.median(np.diff(points.rpm))), tried * span) / 2
    return low + fit.interval[0] * span - half, low + fit.interval[1] * span + half


def running_mean(values: Float, width: int) -> Float:
    """Centred mean over `width` samples (N,), the ends held.

    >>> running_mean(np.array([0.0, 0.0, 3.0, 3.0, 3.0]), 3).tolist()
    [0.0, 1.0, 2.0, 3.0, 3.0]
    """
    padded = np.pad(values, (width // 2, width - 1 - width // 2), mode="edge")
    summed = np.cumsum(np.concatenate([[0.0], padded]))
    return np.asarray((summed[width:] - summed[:-width]) / width)
