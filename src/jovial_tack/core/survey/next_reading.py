"""Which reading would help most next (docs/METHOD.md, section 15)."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import combinations

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.survey.adjusting import Adjusted
from jovial_tack.core.survey.doubting import arrangements_apart
from jovial_tack.core.survey.net import Kind, Net, Reading, Rows, is_level
from jovial_tack.core.value import Value, replace

_LENGTH_MM, _PLACE_MM = 2.0, 30.0  # what is wanted of a belt's length (half a step), of a place
_UNKNOWN_MM = 300.0  # how far anything may be from where it is drawn
_PARTS = 6.0
_LEAST_GAIN = 0.05  # of a length's spread
_PARTING = 100.0  # to tell two arrangements apart comes before all else
_ENOUGH = 0.05  # of what is wanted: a reading that tells less is not worth taking


class NextReading(Value, frozen=True):
    """A reading to take. length_sd_mm: of each drive's belt, one standard deviation now and then;
    parts: whether it tells which of several arrangements is right.
    """

    kind: Kind
    points: tuple[int, ...]
    sd: float
    length_sd_mm: tuple[tuple[float, ...], tuple[float, ...]]
    parts: bool = False


def length_sd(adjusted: Adjusted, by_place: Float) -> float:
    """One standard deviation of a belt's length by that of the places, mm.

    Parameters: a net adjusted; by how much the length grows with x and y of each point (2P,). What no
    reading holds counts as unknown to 300 mm. METHOD 15.
    """
    spread, along = _spread(adjusted), adjusted.free[: by_place.size].T @ by_place
    return float(np.sqrt(max(float(along @ spread @ along), 0.0)))


def next_reading(
    adjusted: Adjusted,
    lengths: Sequence[Float],
    tapes: Mapping[Kind, float],
    points: Sequence[int] | None = None,
) -> NextReading | None:
    """The reading between two points that would help most; None where nothing is worth reading.

    Parameters: a net adjusted; by how much the belt length of each drive grows with x and y of each
    point (2P,); the kinds that may be read between two points, each with its standard deviation, mm;
    the points between which one can be taken (all). METHOD 15.
    """
    net = adjusted.net
    spread, free = _spread(adjusted), adjusted.free
    count = 2 * net.start.size
    along = [free[:count].T @ by_place for by_place in lengths]
    leveled = net.level_sd is not None or any(map(is_level, net.readings))
    best: tuple[float, NextReading] | None = None
    now = tuple(float(np.sqrt(max(float(g @ spread @ g), 0.0))) for g in along)
    taken = {(r.kind, frozenset(r.points)) for r in net.readings}
    for reading in _candidates(net, tapes, leveled=leveled, points=points):
        row = _row(adjusted, reading) @ free
        told = spread @ row
        certain = reading.sd**2 + float(row @ told)
        gains = [float(g @ told) ** 2 / certain for g in along]
        worth = sum(gains) / _LENGTH_MM**2
        worth += float(((free[:count] @ told) ** 2).sum()) / certain / _PLACE_MM**2
        apart = arrangements_apart(reading, adjusted.places, adjusted.also)
        worth += _PARTING * min(apart / _PARTS, 1.0) ** 2
        if (reading.kind, frozenset(reading.points)) in taken:
            worth *= 0.5  # another one tells the same again, with the same hand
        if not adjusted.determined[list(reading.points)].any():
            worth *= 0.3  # from what is known to what is not: so one goes round an engine
        if best is None or worth > best[0]:
            then = tuple(
                float(np.sqrt(max(sd**2 - gain, 0.0))) for sd, gain in zip(now, gains, strict=True)
            )
            parts = apart >= _PARTS
            best = worth, NextReading(reading.kind, reading.points, reading.sd, (now, then), parts)
    if best is None or best[0] < _ENOUGH or _is_idle(adjusted, best[1]):
        return None
    return best[1]


def _is_idle(adjusted: Adjusted, found: NextReading) -> bool:
    """Whether a reading would only tell again what is known: no place, no arrangement, no length."""
    now, then = found.length_sd_mm
    if found.parts or not now or not adjusted.determined.all():
        return False
    return all(
        after > (1.0 - _LEAST_GAIN) * before for before, after in zip(now, then, strict=True)
    )


def _spread(adjusted: Adjusted) -> Float:
    """Covariance of what nothing holds fixed (U, U), with everything unknown to 300 mm beforehand."""
    by = adjusted.by
    return np.asarray(np.linalg.inv(by.T @ by + np.eye(by.shape[1]) / _UNKNOWN_MM**2), dtype=float)


def _candidates(
    net: Net, tapes: Mapping[Kind, float], *, leveled: bool, points: Sequence[int] | None
) -> Iterator[Reading]:
    among = range(net.start.size) if points is None else points
    for one, other in combinations(among, 2):
        for kind, sd in tapes.items():
            if kind in ("dx", "dy") and not leveled:
                continue
            yield Reading(kind, (one, other), 0.0, sd)


def _row(adjusted: Adjusted, reading: Reading) -> Float:
    """How a reading changes with all unknowns (unknowns,)."""
    net = replace(adjusted.net, readings=(reading,))
    alone = Rows(replace(net, zeros=(), level_sd=None))
    _, by = alone.compute(alone.begin(adjusted.places))
    whole = np.zeros(adjusted.unknowns.size)
    whole[: 2 * net.start.size] = by[0, : 2 * net.start.size] * reading.sd
    return whole
