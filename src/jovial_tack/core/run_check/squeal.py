"""Who squeals: which turning thing the noise of a belt beats with (METHOD 18).

A place on a belt, or a pulley that is bent, dirty or out of line, is heard once at each of its turns.
The layout gives how often each turns; the recording gives how often the noise swells.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.errors import SoundError
from jovial_tack.core.value import Value

#: Where a belt squeals, Hz, and how finely the noise is followed, s.
_BAND_HZ = (1500.0, 8000.0)
_WINDOW_S, _STEP_S = 0.005, 0.002
#: The loudest bins make the squeal, which moves in pitch; its slow swells are left out, s.
_LOUDEST, _SLOW_S = 0.05, 2.0
#: So many multiples of a rate are listened to, up to here, Hz; how far one counts at most.
_MULTIPLES, _UP_TO_HZ, _MOST, _SILENT = 8, 180.0, 4.5, 2.3
#: How many rates that are nobody's each is held against, from which share of it to which; what all but
#: a few of them reach, and by how much that is to be passed.
_NOBODYS, _BESIDE = 80, (0.65, 1.5)
_QUANTILE, _OVER, _AHEAD = 0.97, 0.4, 0.5
#: How far the engine's own firing is looked for beside the revs that are told, and how sure a rate is
#: with it and without, as shares.
_FIRING_WITHIN, _FOUND_WITHIN, _TOLD_WITHIN = 0.06, 0.004, 0.015
#: Rates nearer than this cannot be told apart, as a share.
ALIKE = 0.015
_LEAST_S, _MOST_S = 3.0, 30.0


class Squeal(Value, frozen=True):
    """What a recording beats with. named: what turns so, the likeliest first: one, or several that
    cannot be told apart; none where nothing stands out. beats_hz: how often the noise swells;
    scores: of each, over what nobody's rate reaches; crank_rpm: as heard by the firing, else as told.
    """

    named: tuple[str, ...]
    beats_hz: float | None
    scores: Mapping[str, float]
    crank_rpm: float
    firing_heard: bool


def who_squeals(
    samples: Float, rate_hz: float, crank_rpm: float, turns: Mapping[str, float], firings: float
) -> Squeal:
    """Say which of some turning things a noise at steady revs beats with.

    samples (N,): of one channel; crank_rpm: as told; turns: turns of each thing for one of the crank;
    firings: of the engine for one turn of its crank. Raises SoundError for what cannot be judged.
    """
    seconds = samples.size / rate_hz
    if seconds < _LEAST_S:
        raise SoundError(f"a recording of {_LEAST_S:.0f} seconds or more, at steady revs")
    if rate_hz < 2 * _BAND_HZ[0] * 1.5:
        raise SoundError("a recording with at least 4,500 samples a second")
    if not 100.0 <= crank_rpm <= 20_000.0:
        raise SoundError("engine revs from 100 to 20,000 rpm")
    heard = samples[: int(_MOST_S * rate_hz)]
    if not np.ptp(heard) > 0:
        raise SoundError("a recording with sound in it; this one is silent")
    firing = _firing(heard, rate_hz, crank_rpm, firings)
    rpm, within = (firing, _FOUND_WITHIN) if firing is not None else (crank_rpm, _TOLD_WITHIN)
    spectrum, per_hz = _standing_out(_swell(heard, rate_hz))
    rates = {name: rpm / 60.0 * each for name, each in turns.items()}
    scored = {name: _comb(spectrum, per_hz, rate, within) for name, rate in rates.items()}
    over = {
        name: one.score - _chance(spectrum, per_hz, rates[name], within) - _OVER
        for name, one in scored.items()
    }
    named = _named(over, scored)
    beats = scored[named[0]].rate_hz if named else None
    return Squeal(named, beats, over, rpm, firing is not None)


class _Heard(Value, frozen=True):
    """A rate as it fits best, Hz, its score, and which of its first four multiples are heard."""

    rate_hz: float
    score: float
    multiples: tuple[bool, ...]


def _named(over: Mapping[str, float], scored: Mapping[str, _Heard]) -> tuple[str, ...]:
    """What stands out: what is over chance, with two of its first four multiples, ahead of the next;
    with it what turns too nearly alike.
    """
    fits = [
        name
        for name, each in over.items()
        if each > 0 and sum(scored[name].multiples) >= min(2, len(scored[name].multiples))
    ]
    if not fits:
        return ()
    fits.sort(key=lambda name: -over[name])
    best = fits[0]
    alike = [name for name in scored if _are_alike(scored[best].rate_hz, scored[name].rate_hz)]
    ahead = [name for name in fits[1:] if over[best] - over[name] < _AHEAD and name not in alike]
    return (best, *(name for name in alike if name != best), *ahead)


def _are_alike(rate: float, other: float) -> bool:
    return abs(other / rate - 1.0) < ALIKE


def _firing(samples: Float, rate_hz: float, crank_rpm: float, firings: float) -> float | None:
    """The revs at which the engine's firing and its multiples are loudest; None where none are."""
    power = np.abs(np.fft.rfft(samples * np.hanning(samples.size))) ** 2
    per_hz = samples.size / rate_hz
    low = np.log(power[: int(1000.0 * per_hz)] + 1e-30)
    over = low - _running_median(low, int(12.0 * per_hz))
    fired = crank_rpm / 60.0 * firings
    scales = np.arange(1.0 - _FIRING_WITHIN, 1.0 + _FIRING_WITHIN, 0.0005)
    # a whole turn's firing, and the multiples of it that are below the belt's own noise
    places = np.rint(fired * scales[:, None] * np.arange(1, 5) * per_hz).astype(int)
    places = np.clip(places, 1, over.size - 2)
    peaks = np.maximum(np.maximum(over[places - 1], over[places]), over[places + 1])
    score = np.minimum(peaks, 8.0).sum(axis=1)
    best = int(np.argmax(score))
    if score[best] < np.median(score) + 8.0:
        return None
    return float(crank_rpm * scales[best])


def _swell(samples: Float, rate_hz: float) -> Float:
    """How the squeal swells, in steps of 2 ms, without what is slow."""
    wide, step = round(_WINDOW_S * rate_hz), rate_hz * _STEP_S
    starts = np.arange(0, samples.size - wide, step).astype(int)
    frames = np.lib.stride_tricks.sliding_window_view(samples, wide)[starts]
    power = np.abs(np.fft.rfft(frames * np.hanning(wide), axis=1)) ** 2
    hz = np.arange(power.shape[1]) * rate_hz / wide
    band = power[:, (hz >= _BAND_HZ[0]) & (hz <= min(_BAND_HZ[1], 0.45 * rate_hz))]
    usual = np.median(band, axis=0) + 1e-30
    over = np.log1p(band / usual)
    loudest = max(2, round(_LOUDEST * over.shape[1]))
    level = np.partition(over, -loudest, axis=1)[:, -loudest:].mean(axis=1)
    slow = max(1, round(_SLOW_S / _STEP_S))
    padded = np.pad(level, (slow // 2, slow - slow // 2 - 1), mode="reflect")
    return np.asarray(level - np.convolve(padded, np.ones(slow) / slow, mode="valid"))


def _standing_out(swell: Float) -> tuple[Float, float]:
    """The spectrum of a swell over its running median, as logarithms; and its places for a hertz."""
    power = np.abs(np.fft.rfft(swell * np.hanning(swell.size))) ** 2
    per_hz = swell.size * _STEP_S
    usual = _running_median(power, int(6.0 * per_hz)) + 1e-30
    return np.log(power / usual + 1e-30), per_hz


def _comb(spectrum: Float, per_hz: float, rate: float, within: float) -> _Heard:
    """How far a rate and its multiples stand out, at best within a share of it."""
    count = int(min(_MULTIPLES, max(_UP_TO_HZ // rate, 1)))
    orders = np.arange(1, count + 1)
    # finely enough that the last multiple moves by half a place
    step = 0.5 / (rate * count * per_hz)
    scales = 1.0 + np.arange(-within, within + step, step)
    places = np.rint(rate * scales[:, None] * orders * per_hz).astype(int)
    places = np.clip(places, 0, spectrum.size - 1)
    told = np.minimum(spectrum[places], _MOST) - _SILENT
    score = told.sum(axis=1) / np.sqrt(count)
    best = int(np.argmax(score))
    heard = tuple(bool(each) for each in (told[best] > 0)[:4])
    return _Heard(float(rate * scales[best]), float(score[best]), heard)


def _chance(spectrum: Float, per_hz: float, rate: float, within: float) -> float:
    """What all but a few rates reach that are nobody's, near one and sought as widely."""
    beside = rate * np.geomspace(*_BESIDE, _NOBODYS)
    others = beside[np.abs(beside / rate - 1.0) > 3 * within]
    reached = [_comb(spectrum, per_hz, each, within).score for each in others]
    return float(np.quantile(reached, _QUANTILE))


def _running_median(values: Float, wide: int) -> Float:
    """The median of what lies around each value, taken in blocks and drawn between them."""
    wide = max(min(wide, values.size), 1)
    ends = np.arange(0, values.size, wide)
    medians = np.array([np.median(values[end : end + wide]) for end in ends])
    middles = ends + wide / 2
    return np.asarray(np.interp(np.arange(values.size), middles, medians))
