"""From what is seen and what is not to what is likely so: causes that each show findings now and then.

P(finding | set of causes) = 1 − (1 − leak)·Π(1 − p) over the set: any of its causes may show it, or
something else. Sets of at most three causes are weighed. METHOD 18.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from itertools import combinations

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.value import Value

#: So many causes are looked at together; how much a further finding of a group still tells.
_TOGETHER, _FURTHER = 3, 0.6
_LEAST = 1e-9


class Table(Value, frozen=True, eq=False, dict=True):
    """C causes and F findings: prior (C,) how likely each cause is; leak (F,); shows (F, C) how often a
    cause alone shows a finding; group (F,) of which findings tell partly the same.
    """

    prior: Float
    leak: Float
    shows: Float
    group: tuple[str, ...]

    @cached_property
    def sets(self) -> Float:
        """Which causes (M, C) are in each set of at most three: 1 where one is, else 0."""
        count = self.prior.size
        some = [set_ for size in range(_TOGETHER + 1) for set_ in combinations(range(count), size)]
        held = np.zeros((len(some), count))
        for row, set_ in enumerate(some):
            held[row, list(set_)] = 1.0
        return held

    @cached_property
    def shown(self) -> Float:
        """How likely each finding is with each set (M, F)."""
        hidden = np.log1p(-np.clip(self.shows, 0.0, 1.0 - _LEAST))
        missed: Float = np.exp(self.sets @ hidden.T) * (1.0 - self.leak)
        return np.asarray(np.clip(1.0 - missed, _LEAST, 1.0 - _LEAST))

    @cached_property
    def log_before(self) -> Float:
        """The logarithm of how likely each set is before anything is seen (M,)."""
        odds = np.log(self.prior) - np.log1p(-self.prior)
        return np.asarray(self.sets @ odds + np.log1p(-self.prior).sum())

    @cached_property
    def log_shown(self) -> tuple[Float, Float]:
        """The logarithms of how likely each finding is absent, and seen, with each set (F, M)."""
        shown = np.ascontiguousarray(self.shown.T)
        return np.log1p(-shown), np.log(shown)

    @cached_property
    def tells(self) -> tuple[Float, Float]:
        """How far each finding (F,), absent and seen, parts one cause alone from none."""
        leak = self.leak[:, None]
        alone = np.clip(1.0 - (1.0 - leak) * (1.0 - self.shows), _LEAST, 1.0 - _LEAST)
        absent = np.abs(np.log((1.0 - alone) / (1.0 - leak))).max(axis=1)
        return absent, np.abs(np.log(alone / leak)).max(axis=1)


class Weighed(Value, frozen=True, eq=False):
    """How likely each set (M,) is, and each cause (C,)."""

    sets: Float
    causes: Float
    something_else: float


def weighed(table: Table, told: dict[int, bool]) -> Weighed:
    """Weigh what is told of findings, by their places: seen or not there. What was not looked at is not
    among them and has no weight.
    """
    log = table.log_before
    for place, power in _powers(table, told).items():
        log = log + power * table.log_shown[told[place]][place]
    sets = np.exp(log - log.max())
    sets = sets / sets.sum()
    return Weighed(sets, sets @ table.sets, float(sets[0]))


def _powers(table: Table, told: dict[int, bool]) -> dict[int, float]:
    """How much each finding counts: of a group the one that tells most in full, further ones less."""
    powers = dict.fromkeys(told, _FURTHER)
    most: dict[str, tuple[float, int]] = {}
    for place, seen in told.items():
        tells = (float(table.tells[seen][place]), -place)
        most[table.group[place]] = max(most.get(table.group[place], tells), tells)
    for _, place in most.values():
        powers[-place] = 1.0
    return powers


def bits_of(table: Table, told: dict[int, bool], places: Sequence[int]) -> Float:
    """By how much looking at each of some findings (P,) is expected to lessen what is unknown of the
    causes, bits.
    """
    now = weighed(table, told)
    likely = now.sets @ table.shown
    bits = []
    for place in places:
        seen = _unknown(weighed(table, {**told, place: True}).causes)
        absent = _unknown(weighed(table, {**told, place: False}).causes)
        after = likely[place] * seen + (1.0 - likely[place]) * absent
        bits.append(max(_unknown(now.causes) - float(after), 0.0))
    return np.array(bits)


def _unknown(causes: Float) -> float:
    """Bits that are unknown of all causes, each for itself."""
    held = np.clip(causes, _LEAST, 1.0 - _LEAST)
    return float(-(held * np.log2(held) + (1.0 - held) * np.log2(1.0 - held)).sum())


def speaks(table: Table, place: int, cause: int, *, seen: bool) -> float:
    """How far a finding speaks for one cause against none, tenths of a ban: 10·log₁₀ of the ratio."""
    leak = float(table.leak[place])
    alone = 1.0 - (1.0 - leak) * (1.0 - float(table.shows[place, cause]))
    ratio = alone / leak if seen else max(1.0 - alone, _LEAST) / (1.0 - leak)
    return float(10.0 * np.log10(ratio))
