"""Slip from a log: shortfall of the blower's speed, its onset with its interval, and what would show.

Boost tells the speed of a centrifugal blower through the fan law. Whether that speed falls behind the
engine's more and more from an onset is weighed against what a sound engine does to boost (flow, heat,
lag), against a valve that opens, and against air whose pressure nobody logged. What the log cannot bear
is not said. See docs/METHOD.md, section 17.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import exp

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.run_check.accounts import (
    Account,
    Belief,
    Losses,
    account_of,
    growing,
    stepping,
)
from jovial_tack.core.run_check.moments import Moment, slipping_moments
from jovial_tack.core.run_check.points import (
    AIR_UNKNOWN_KPA,
    KAPPA,
    Log,
    Points,
    density_slope,
    fan_boost,
    fan_head,
    law_of,
    likely_air,
    points_of,
    without_closing,
)
from jovial_tack.core.run_check.pull import Judged, Pull, Trace
from jovial_tack.core.run_check.twins import (
    alike_words,
    alongside,
    bypass_opens,
    displacement_words,
    elsewhere,
    twins_of,
)
from jovial_tack.core.value import Value, replace

#: ln of how many times likelier slip must be than none, by boost and by the blower's own speed.
_CLAIM, _CLAIM_BY_SPEED = 3.0, 4.0
_CLEAR = 12.0
_CLEAR_MOMENT = 0.04
_CLAIM_STEP, _LEAST_STEP = 4.5, 0.025  # less comes of how boost builds up
_DOUBT = 1.5  # from here on something is seen, though too little to claim
_STEP_MARGIN = 1.5
_FROM_THE_START = 0.14
_LEAST_SLIP, _LEAST_SLIP_BY_SPEED = 0.015, 0.008
_TELLING_SLIP = 0.08
_DRIFT = 0.12
#: The volume between blower and sensor, and the sensor, are behind by this, s, evenly spread.
_LAGS_S = (0.0, 0.04, 0.08, 0.12, 0.16)
#: Slip lowers the flow too, at which the head is higher: so much more is lost than boost shows.
_SHOWN_SHORT = {"fan": (0.97, 1.08, 1.2), "displacement": (0.97, 1.5, 2.2)}
_TAIL = 0.025
_ONSET_TAIL = 0.06  # drifts have more freedom than engines take: so it holds 95 % (METHOD)
#: ln of how many losses are tried, about: a claim must be so much likelier; and by how many deviations
#: a loss must be further away for noise seldom to hide it.
_GRID, _SURELY = 3.0, 1.2
_AIR_LEAST = 1e-4  # airs less likely than this are not looked at


class _Read(Value, frozen=True):
    """A pull made ready to be judged: its points in every air it may have been driven in."""

    base: Pull
    log: Log
    points: dict[float, Points]
    closes_at: float | None


class _Believed(Value, frozen=True):
    """Pulls judged together: what growing losses and steps are worth, whatever the air was; and the
    pull that goes highest in the likeliest air, with its level without a loss, to be drawn.
    """

    slipping: Belief
    stepped: Belief
    shown: _Read
    air_kpa: float
    points: Points
    account: Account
    place: slice

    def level(self, loss: Belief | None) -> Float:
        """y of the pull shown without the likeliest loss of a belief, or without any (P,)."""
        lost = np.zeros_like(self.account.y)
        if loss is not None:
            lost = loss.losses.of(self.account.rpm, *loss.best)
        return self.account.level(lost)[self.place]


def judge_pulls(
    log: Log,
    parts: Sequence[slice],
    ratio: float | None = None,
    progress: Callable[[int], None] = lambda _place: None,
) -> Judged:
    """Say whether pulls show slip, each by itself and all together.

    Parameters: the log; the stretches of it that are pulls; ratio of the blower pulley's speed to the
    crank's, if known (it serves logs with a blower speed); progress is told the pull that is looked at,
    and may raise to cancel. METHOD 17.
    """
    pulls, read = [], []
    for place, part in enumerate(parts):
        progress(place)
        found = _read(log, part)
        if isinstance(found, Pull):
            pulls.append(found)
            continue
        read.append(found)
        pulls.append(_told([found], found.base, ratio))
    moments = slipping_moments(log)
    if not pulls and not moments:
        return Judged(None, ())
    if not pulls:
        return Judged(_of_moments(_nothing_said(log), moments), (), moments)
    base = _spanning(pulls)
    if len(pulls) == 1:
        answer = pulls[0]
    elif not read:
        answer = replace(base, reason=pulls[0].reason)
    else:
        answer = _agreed(_told(read, base, ratio), pulls)
    if moments and answer.slip is not True:
        answer = _of_moments(answer, moments)
    return Judged(answer, tuple(pulls), moments)


def _nothing_said(log: Log) -> Pull:
    """A stretch of a log of which nothing is told yet."""
    return Pull(
        float(log.time_s[0]),
        float(log.time_s[-1]),
        float(log.rpm.min()),
        float(log.rpm.max()),
        None,
        "cannot tell",
        "",
    )


def _of_moments(answer: Pull, moments: Sequence[Moment]) -> Pull:
    """An answer by the moments of a log in which the blower's own speed leaves the crank's."""
    worst = max(moments, key=lambda moment: abs(moment.worst))
    shifts = sum(moment.in_gear_change for moment in moments)
    where = "in gear changes" if shifts == len(moments) else "outside full-throttle pulls"
    if any(moment.in_jerks for moment in moments):
        where += ", in jerks"
    times = "once" if len(moments) == 1 else f"{len(moments)} times"
    way = "falls behind the crank" if worst.worst > 0 else "runs on past the crank"
    return replace(
        answer,
        slip=True,
        confidence="clear" if abs(worst.worst) > _CLEAR_MOMENT else "likely",
        would_show=None,
        worst_slip=abs(worst.worst),
        reason=f"the blower's own speed leaves the crank's {where}, {times}; at most it {way} by"
        f" {100 * abs(worst.worst):.0f} %, at {worst.from_s:.1f} s and {worst.rpm:.0f} rpm",
    )


def judge_pull(log: Log, part: slice, ratio: float | None = None) -> Pull:
    """Say whether one pull shows slip: `judge_pulls` for a single one."""
    return judge_pulls(log, [part], ratio).pulls[0]


def _spanning(pulls: Sequence[Pull]) -> Pull:
    return Pull(
        min(pull.from_s for pull in pulls),
        max(pull.to_s for pull in pulls),
        min(pull.low_rpm for pull in pulls),
        max(pull.high_rpm for pull in pulls),
        None,
        "cannot tell",
        "",
    )


def _agreed(answer: Pull, pulls: Sequence[Pull]) -> Pull:
    """The answer of all pulls, which no pull of its own may contradict unsaid."""
    slips = sum(pull.slip is True for pull in pulls)
    count = f"{len(pulls)} pulls together"
    if answer.slip is False and slips:
        # one pull that slips and others that hold: a belt may slip wet, cold or in one gear only
        return replace(
            answer,
            slip=None,
            confidence="cannot tell",
            would_show=None,
            reason=f"{slips} of {len(pulls)} pulls slip by themselves and the others do not: look at"
            " them one by one",
        )
    return replace(answer, reason=f"{count}: {answer.reason}")


def _read(log: Log, part: slice) -> _Read | Pull:
    """A pull made ready; where it cannot be, the pull that says why."""
    whole = log.taken(part)
    kept, closes_at = without_closing(whole)
    base = _nothing_said(whole)
    points: dict[float, Points] = {}
    problem = ""
    law = kept.law or (law_of(kept) if kept.blower_rpm is None else "fan")
    for air, _ in likely_air(kept):
        found, problem = points_of(replace(kept.in_air(air), law=law))
        if found is not None:
            points[air] = found
    if not points:
        return replace(base, reason=problem)
    return _Read(base, kept, points, closes_at)


def _believe(read: Sequence[_Read]) -> _Believed:
    """What losses are worth after all pulls, whatever the air was."""
    weights = dict(likely_air(read[0].log))
    # pulls of one log were driven in one air: only what all of them can be in counts
    airs = [air for air in weights if all(air in each.points for each in read)]
    airs = airs or [next(iter(read[0].points))]
    at = {
        air: [each.points.get(air) or next(iter(each.points.values())) for each in read]
        for air in airs
    }
    accounts = {air: account_of(points) for air, points in at.items()}
    likely = np.array([np.log(weights.get(air, 1.0)) + accounts[air].likely for air in airs])
    every = [points for pulls in at.values() for points in pulls]
    # sizes are told at the top of the pull, a little of which may not have been looked at
    low, top = min(p.rpm[0] for p in every), max(float(each.log.rpm.max()) for each in read)
    best = airs[int(np.argmax(likely))]
    tops = [float(points.rpm[-1]) for points in at[best]]
    highest = tops.index(max(tops))
    ends = np.cumsum([0, *(points.y.size for points in at[best])])
    worth = np.exp(likely - np.logaddexp.reduce(likely))
    seen = [k for k in range(len(airs)) if worth[k] > _AIR_LEAST]

    def believed(losses: Losses) -> Belief:
        gains = [accounts[airs[k]].gain(losses) + np.log(worth[k]) for k in seen]
        return Belief(losses, np.logaddexp.reduce(np.stack(gains), axis=0))

    return _Believed(
        believed(growing(float(low), float(top))),
        believed(stepping(float(low), float(top))),
        read[highest],
        best,
        at[best][highest],
        accounts[best],
        slice(int(ends[highest]), int(ends[highest + 1])),
    )


def _in_air(each: _Read, air: float) -> Points:
    return each.points.get(air) or next(iter(each.points.values()))


def _told(read: Sequence[_Read], base: Pull, ratio: float | None) -> Pull:
    """What pulls say together; the one that goes highest is drawn."""
    found = _believe(read)
    pull = _judge(found, base)
    reason = pull.reason
    if found.shown.closes_at is not None and pull.slip is not True:
        reason += f"; above {found.shown.closes_at:.0f} rpm the throttle closes"
    if found.points.by_speed and ratio is not None:
        reason += _against_ratio(found.points, ratio)
    reason += alongside(found.shown.log)
    return replace(pull, reason=reason)


def _judge(found: _Believed, base: Pull) -> Pull:
    points, slipping, stepped = found.points, found.slipping, found.stepped
    by_speed, log = points.by_speed, found.shown.log
    claim = _CLAIM_BY_SPEED if by_speed else _CLAIM
    least = _LEAST_SLIP_BY_SPEED if by_speed else _LEAST_SLIP
    is_step = stepped.evidence > max(slipping.evidence + _STEP_MARGIN, _CLAIM_STEP)
    is_step &= by_speed or stepped.size_at_top(0.5)[0] > _LEAST_STEP
    base = replace(base, trace=_trace(points, found.level(None), found.air_kpa))
    if not is_step and (slipping.evidence < claim or slipping.size_at_top(0.5)[0] < least):
        return _no_claim(found, base)
    onset, interval = _onset(slipping, points)
    if by_speed:
        drawn = stepped if is_step else slipping
        base = replace(base, trace=_trace(points, found.level(drawn), found.air_kpa))
        return _slips(found, base, onset, interval)
    if points.law == "displacement" and (log.bypass is None or is_step):
        return replace(base, reason=displacement_words(log, onset))
    if is_step:
        at = float(stepped.losses.onset[stepped.best[0]])
        return replace(
            base,
            trace=_trace(points, found.level(stepped), found.air_kpa),
            reason=f"boost drops in one step at {at:.0f} rpm and stays down, as when a bypass opens;"
            " slip grows with revs",
        )
    base = replace(base, trace=_trace(points, found.level(slipping), found.air_kpa))
    low, span = points.rpm[0], np.ptp(points.rpm)
    if slipping.onset_rpm(0.5)[0] < low + _FROM_THE_START * span:
        return replace(
            base,
            reason="boost falls behind from the lowest revs on, as with a leak or in other air; there"
            " is no part of the pull to calibrate with",
        )
    if stepped.evidence > max(slipping.evidence - _STEP_MARGIN, claim):
        return replace(
            base,
            reason=f"boost is lost near {onset:.0f} rpm, but whether in a step (a bypass) or growing"
            " (slip) this log cannot tell",
        )
    opened = bypass_opens(log, onset)
    if opened:
        return replace(base, reason=opened)
    return _slips(found, base, onset, interval)


def _slips(found: _Believed, base: Pull, onset: float, interval: tuple[float, float]) -> Pull:
    points, drawn = found.points, base.trace
    assert drawn is not None
    low, median, high = found.slipping.size_at_top(_TAIL, 0.5, 1.0 - _TAIL)
    lost_kpa = _lost_kpa(drawn, points, median, found.air_kpa)
    twins = () if points.by_speed else twins_of(found.shown.log, onset, median, points.law)
    if there := elsewhere(twins, onset):
        return replace(base, reason=there, twins=twins)
    if not points.by_speed:
        short = _SHOWN_SHORT[points.law]
        low, median, high = low * short[0], median * short[1], high * short[2]
    what = "the blower's own speed" if points.by_speed else "boost"
    alike = alike_words(twins)
    reason = f"{what} falls behind the crank from {onset:.0f} rpm on, more the faster it turns"
    if alike:
        reason += f"; {alike} would look alike: log the blower's speed to tell"
    clear = points.by_speed and max(found.slipping.evidence, found.stepped.evidence) > _CLEAR
    return replace(
        base,
        slip=True,
        confidence="clear" if clear else "likely",
        reason=reason,
        onset_rpm=onset,
        onset_interval=interval,
        boost_lost_kpa=lost_kpa,
        worst_slip=median,
        worst_interval=(low, high),
        twins=twins,
    )


def _no_claim(found: _Believed, base: Pull) -> Pull:
    """No loss that can be claimed: held, too little seen of it, or hidden by noise, drift or air."""
    points, slipping, log = found.points, found.slipping, found.shown.log
    short = 1.0 if points.by_speed else _SHOWN_SHORT[points.law][1]
    # no less than the log leaves open, and than is claimed in all but one of twenty logs like it
    claim = _CLAIM_BY_SPEED if points.by_speed else _CLAIM
    away = float(np.sqrt(2.0 * (claim + _GRID))) + _SURELY
    bound = short * max(slipping.size_at_top(1.0 - 2 * _TAIL)[0], found.account.findable(away))
    if log.is_absolute and log.air_sd_kpa >= AIR_UNKNOWN_KPA and not points.by_speed:
        return replace(
            base,
            reason="no slip is seen, but the air's pressure is not in the log, and in other air this"
            " pull would look otherwise: give the air's pressure or the elevation",
        )
    if points.law == "displacement" and not points.by_speed:
        return replace(base, reason=displacement_words(log, None))
    if slipping.evidence > _DOUBT:
        onset, _ = _onset(slipping, points)
        return replace(
            base,
            reason=f"a loss of some {100 * short * slipping.size_at_top(0.5)[0]:.0f} % from about"
            f" {onset:.0f} rpm may be there, too little to part it from what a sound engine does",
        )
    if bound > _TELLING_SLIP:
        said = f"too noisy or too short: slip below {100 * bound:.0f} % would not show"
        return replace(base, reason=said)
    level = found.level(None)
    drift = 1.0 - exp(float(level[-1] - level[: max(points.rpm.size // 5, 1)].mean()))
    if drift > _DRIFT:
        return replace(
            base,
            reason=f"boost falls {100 * drift:.0f} % of blower speed behind the fan law evenly over the"
            " whole pull, with no onset: another law, warm air or a leak, or slip from the start",
        )
    return replace(
        base,
        slip=False,
        confidence="clear" if points.by_speed else "likely",
        would_show=bound,
        reason=f"the blower keeps up to {points.rpm[-1]:.0f} rpm; slip over {100 * bound:.1f} % at the"
        " top would have shown",
    )


def _onset(slipping: Belief, points: Points) -> tuple[float, tuple[float, float]]:
    """Where it sets in, rpm, with the 95 % interval; what boost is behind the engine taken off."""
    losses = slipping.losses
    weight, onset = slipping.weights.sum(axis=1), losses.onset
    if not points.by_speed:
        rate = np.interp(onset, points.rpm, points.climb * points.rpm)
        lags = np.array(_LAGS_S)
        onset = (onset[:, None] - rate[:, None] * lags).ravel()
        weight = np.repeat(weight / lags.size, lags.size)
    order = np.argsort(onset, kind="stable")
    below = np.cumsum(weight[order])
    ends = _ONSET_TAIL, 0.5, 1.0 - _ONSET_TAIL
    low, middle, high = np.interp(ends, below, onset[order]).tolist()
    # no finer than the points stand
    half = float(np.median(np.diff(points.rpm))) / 2
    return middle, (low - half, high + half)


def _lost_kpa(drawn: Trace, points: Points, shown: float, air_kpa: float) -> float:
    """Boost lost at the top of a pull by the loss that shows there, kPa."""
    expected = drawn.expected_kpa[-1:]
    if points.law == "displacement" and not points.by_speed:
        return float(-np.log1p(-shown) / density_slope(expected, air_kpa)[0])
    left = fan_boost(fan_head(expected, air_kpa) * (1.0 - shown) ** 2, air_kpa)
    return float((expected - left)[0])


def _expected_kpa(points: Points, level: Float, air_kpa: float) -> Float:
    """Boost without a loss at a pull's points (P,), kPa: y at its level turned back."""
    if points.law == "displacement" and not points.by_speed:
        # the density hardly bends over so little: along its slope from what was measured
        return points.boost + (level - points.y) / density_slope(points.boost, air_kpa)
    head = np.exp(2.0 * np.minimum(level, 20.0)) * points.rpm**2
    low = points.share <= 0.4
    # by blower speed the level is a ratio of speeds; the head is calibrated with the boost low down
    known = fan_head(points.boost[low], air_kpa) / head[low]
    scale = float(np.median(known)) if points.by_speed else 1.0
    return fan_boost(np.maximum(max(scale, 1e-9) * head, 0.0), air_kpa)


def _trace(points: Points, level: Float, air_kpa: float) -> Trace:
    low = points.share <= 0.4
    expected = _expected_kpa(points, level, air_kpa)
    line = np.polynomial.Polynomial.fit(points.rpm[low], points.boost[low], 1)(points.rpm)
    slip = 1.0 - np.exp(points.y - level)
    is_known = points.air_sd_kpa < AIR_UNKNOWN_KPA and not points.air_is_guessed
    spread = _boost_sd(points, air_kpa, is_known)
    return Trace(points.rpm, points.boost, expected, line, slip, air_kpa, is_known, spread)


def _boost_sd(points: Points, air_kpa: float, air_is_known: bool) -> Float:
    """One standard deviation of the boost at a pull's points (P,), kPa."""
    if points.by_speed:
        return np.full_like(points.boost, float(np.median(np.abs(np.diff(points.boost)))))
    head = np.maximum(fan_head(points.boost, air_kpa), 1e-9)
    # d boost / d y, the inverse of what made y of the boost
    if points.law == "displacement":
        slope = 1.0 / density_slope(points.boost, air_kpa)
    else:
        slope = 2.0 * head * air_kpa / KAPPA * (1.0 + head) ** (1.0 / KAPPA - 1.0)
    by_air = points.lever * points.air_sd_kpa * air_is_known
    return np.asarray(slope * np.hypot(points.sigma, by_air))


def _against_ratio(points: Points, ratio: float) -> str:
    """Whether the blower's measured speed fits the build's ratio low in the pull."""
    low = float(np.exp(np.median(points.y[points.share < 0.4])))
    off = low / ratio - 1.0
    if abs(off) < 0.02:
        return ""
    return (
        f"; low in the pull the blower turns {low:.2f} times the crank where the build says"
        f" {ratio:.2f}: check pulley sizes and step-up"
    )
