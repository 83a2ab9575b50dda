"""Readings that do not fit: which one it is most likely, what it would have to read, and why.

W. Baarda, *A testing procedure for use in geodetic networks* (1968). docs/METHOD.md, section 15.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from statistics import NormalDist

import numpy as np

from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.survey.adjusting import Adjusted, adjust
from jovial_tack.core.survey.net import Net, Reading, Rows
from jovial_tack.core.value import Value, replace

#: Below this share of redundancy nobody checks a reading.
UNCHECKED = 0.05
_ALARM = 0.01  # chance that a list without a blunder has one named
_LOOKED_AT = 6
_ALIKE = 4.0
_TURNED_OVER = 8.0
_MOST_DOUBTED = 6  # readings, one after another: with more the list itself is wrong
_BRIEF = 0.05  # of the steps of a search, when a reading is left out
_REASON_SD = 3.0
_LEAST_SEEN = 4.13  # deviations: alarm of 0.1 %, seen in 80 of 100


class Doubt(Value, frozen=True):
    """A reading that does not fit. would_read, sd: what the others make of it, mm or rad; reasons: what
    may have happened; alike: readings whose absence would mend it as well.
    """

    reading: int
    would_read: float
    sd: float
    reasons: tuple[str, ...] = ()
    alike: tuple[int, ...] = ()


class Doubted(Value, frozen=True):
    """A net adjusted without what does not fit. used: the readings of the net it was adjusted with, in
    their order; what is doubted beside others stays in.
    """

    adjusted: Adjusted
    used: tuple[int, ...]
    doubts: tuple[Doubt, ...] = ()

    @property
    def is_sound(self) -> bool:
        """Whether nothing is doubted."""
        return not self.doubts


def without(net: Net, places: Sequence[int]) -> tuple[Net, tuple[int, ...]]:
    """A net without some readings, and which of the old ones the new ones are."""
    kept = tuple(k for k in range(len(net.readings)) if k not in set(places))
    return replace(net, readings=tuple(net.readings[k] for k in kept)), kept


def unfit_at(net: Net, places: Complex) -> tuple[int, ...]:
    """The readings that contradict points standing at places (P,), mm; none where they are so many that
    the list itself is wrong. What is no place – level, zeros, patterns – goes where it fits best.
    """
    count = len(net.readings)
    rows = Rows(net)
    off, by = rows.compute(rows.begin(places))
    others = by[:, 2 * net.start.size :]
    if others.size:
        off = off - others @ np.linalg.lstsq(others, off, rcond=None)[0]
    limit = _limit(count)
    out = sorted({int(k) for k in rows.of[np.abs(off) > limit] if k >= 0})
    return tuple(out) if len(out) <= _most_doubted(count) else ()


def _limit(count: int) -> float:
    """The standardised residual beyond which one of so many readings does not fit."""
    return NormalDist().inv_cdf(1.0 - _ALARM / (2 * count)) if count else np.inf


def _most_doubted(count: int) -> int:
    return min(count // 4, _MOST_DOUBTED)


def standardised_of(adjusted: Adjusted) -> Float:
    """The greatest standardised residual of each reading (N,), with its sign; 0 where unchecked."""
    worst = np.zeros(len(adjusted.net.readings))
    for row, reading in enumerate(adjusted.of):
        value = adjusted.standardised[row]
        checked = adjusted.redundancy[row] >= UNCHECKED
        if reading >= 0 and checked and abs(value) > abs(worst[reading]):
            worst[reading] = value
    return worst


def redundancy_of(adjusted: Adjusted) -> Float:
    """The least redundancy of the rows of each reading (N,)."""
    least = np.ones(len(adjusted.net.readings))
    for row, reading in enumerate(adjusted.of):
        if reading >= 0:
            least[reading] = min(least[reading], adjusted.redundancy[row])
    return least


def least_blunder_seen(reading: Reading, redundancy: float) -> float | None:
    """The least blunder of a reading that would be seen, mm or rad; None where none would."""
    if redundancy < UNCHECKED:
        return None
    return float(_LEAST_SEEN * reading.sd / np.sqrt(redundancy))


def doubt(adjusted: Adjusted, rims: Mapping[int, float] | None = None) -> Doubted:
    """Name the readings of an adjusted net that do not fit, one after another.

    Parameters: the net, adjusted with all its readings; the diameters, mm, of points that are pulleys.
    The six least fitting are each left out in turn and the rest solved anew: the one whose absence
    mends most is named, those that mend as well are told beside it. METHOD 15.
    """
    net = adjusted.net
    count = len(net.readings)
    if not count:
        return Doubted(adjusted, ())
    limit = _limit(count)
    now, used, out = adjusted, tuple(range(count)), []
    alike_of: dict[int, tuple[int, ...]] = {}
    for _ in range(_most_doubted(count)):
        worst = standardised_of(now)
        if np.abs(worst).max(initial=0.0) < limit:
            break
        tried = _each_left_out(now, worst, limit)
        if not tried:
            break
        least = min(each.chi2 for _, each in tried)
        (taken, now_without), *others = sorted(tried, key=lambda pair: pair[1].chi2)
        alike = [k for k, each in others if each.chi2 <= least + _ALIKE]
        alike_of[used[taken]] = tuple(used[k] for k in alike)
        out.append(used[taken])
        used = tuple(k for place, k in enumerate(used) if place != taken)
        now = now_without
    if not out:
        return Doubted(adjusted, used)
    now, used, out = _put_back(net, now, used, out, limit)
    doubts = [_doubt(net, now, k, alike_of[k], rims or {}) for k in out]
    found = _with_what_is_not_sure(adjusted, now, used, doubts)
    # what was left out may have been all that told two arrangements apart
    whole = adjust(found.adjusted.net, found.adjusted.places)
    return replace(found, adjusted=whole)


def _with_what_is_not_sure(
    adjusted: Adjusted, now: Adjusted, used: tuple[int, ...], doubts: list[Doubt]
) -> Doubted:
    """Readings that are only one of several to blame stay in what the places are made of."""
    unsure = {each.reading for each in doubts if each.alike}
    if not unsure:
        return Doubted(now, used, tuple(doubts))
    gone = [each.reading for each in doubts if each.reading not in unsure]
    net, kept = without(adjusted.net, gone)
    begun = adjust(net, adjusted.places, search=False) if gone else adjusted
    return Doubted(begun, kept, tuple(doubts))


def _each_left_out(now: Adjusted, worst: Float, limit: float) -> list[tuple[int, Adjusted]]:
    """The net without each of its least fitting readings."""
    tried = []
    for place in np.argsort(-np.abs(worst), kind="stable")[:_LOOKED_AT].tolist():
        if abs(worst[place]) < min(limit, 2.5):
            break
        net, _ = without(now.net, [place])
        far = abs(worst[place]) > _TURNED_OVER
        tried.append((place, adjust(net, now.places, search=far, effort=_BRIEF)))
    return tried


def _put_back(
    net: Net, now: Adjusted, used: tuple[int, ...], out: list[int], limit: float
) -> tuple[Adjusted, tuple[int, ...], list[int]]:
    """Take readings in again that fit after all, now that others are gone."""
    for place in list(out):
        if len(out) < 2:
            break
        away, spread = _against(net.readings[place], now)
        if abs(away) > limit * spread:
            continue
        out.remove(place)
        used = tuple(sorted([*used, place]))
        whole, _ = without(net, out)
        now = adjust(whole, now.places, search=False)
    return now, used, out


def _against(reading: Reading, now: Adjusted) -> tuple[float, float]:
    """By how much a reading that was left out is off, and one standard deviation of that."""
    away, own = predicted(reading, now)
    return away, float(np.hypot(own, reading.sd))


def predicted(reading: Reading, now: Adjusted) -> tuple[float, float]:
    """A reading less what the others make of it, and one standard deviation of the latter, mm or rad.

    Of a reading of several figures, the one that is farthest off.
    """
    alone = replace(reading, zero=None, sd=1.0)
    rows = Rows(replace(now.net, readings=(alone,), zeros=(), level_sd=None))
    off, by = rows.compute(rows.begin(now.places))
    count = 2 * now.net.start.size
    spread = by[:, :count] @ now.covariance @ by[:, :count].T
    row = int(np.argmax(np.abs(off)))
    return -float(off[row]), float(np.sqrt(max(float(spread[row, row]), 0.0)))


def _doubt(
    net: Net, now: Adjusted, place: int, alike: tuple[int, ...], rims: Mapping[int, float]
) -> Doubt:
    reading = net.readings[place]
    away, sd = predicted(reading, now)
    reasons = _reasons(reading, away, float(np.hypot(sd, reading.sd)), rims)
    return Doubt(place, float(reading.value - away), float(sd), reasons, alike)


def _reasons(
    reading: Reading, away: float, sd: float, rims: Mapping[int, float]
) -> tuple[str, ...]:
    """What may have happened, by the difference it would make."""
    if reading.kind in ("angle", "at", "pattern"):
        return ()
    near = _REASON_SD * sd
    found = []
    radii = {point: rims[point] / 2 for point in reading.points if point in rims}
    if any(abs(abs(away) - radius) <= near for radius in radii.values()):
        found.append("to a rim where a centre is meant, or the other way about")
    if len(radii) == 2 and abs(abs(away) - sum(radii.values())) <= near:
        found.append("over the rims where centres are meant, or the other way about")
    for marks, words in (
        (25.4, "an inch more or less on the tape"),
        (10.0, "a centimetre more or less on the tape"),
        (100.0, "ten centimetres more or less on the tape"),
    ):
        if abs(abs(away) - marks) <= min(near, marks / 4):
            found.append(words)
    would = reading.value - away
    if would < 0 < reading.value and abs(would + reading.value) <= near:
        found.append("the other way round")
    if _digits_exchanged(reading.value, would, near):
        found.append("two digits exchanged")
    return tuple(found)


def _digits_exchanged(value: float, would: float, near: float) -> bool:
    """Whether two neighbouring digits of a reading in mm exchanged make what is expected."""
    digits = list(f"{abs(value):.0f}")
    for k in range(len(digits) - 1):
        if digits[k] == digits[k + 1]:
            continue
        swapped = [*digits[:k], digits[k + 1], digits[k], *digits[k + 2 :]]
        if abs(float("".join(swapped)) - abs(would)) <= near:
            return True
    return False


def arrangements_apart(reading: Reading, places: Complex, others: Sequence[Complex]) -> float:
    """By how many standard deviations a reading would differ between places and any others."""
    alone = replace(reading, zero=None)

    def model(of: Complex) -> Float:
        rows = Rows(Net(of, (alone,)))
        return rows.compute(rows.begin(of))[0]

    here = model(places)
    return max((float(np.abs(model(each) - here).max()) for each in others), default=0.0)
