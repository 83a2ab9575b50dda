"""Which pulleys a belt joins: one closed route, or several side by side in one array (METHOD 3).

Pulleys stand along the last axis. Routes of unlike length lie one after another on it, so that several
drives are solved by the same array code as one, without filling up. A figure of the route (its length,
its arm's angle) has shape (...) for one route and (..., R) for R of them.
"""

from __future__ import annotations

from functools import cached_property, lru_cache
from typing import Any

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.value import Value


class Pairs(Value, frozen=True):
    """Pairs (Q,) of pulleys or spans of the same route; of (Q, R): which route each belongs to."""

    first: Int
    second: Int
    of: Bool

    def any(self, found: Bool) -> Bool:
        """Whether something was found (..., Q), per route."""
        # of one route anything counts; of several the matrix product is the any of each
        return np.asarray(found.any(axis=-1) if self.of.shape[1] == 1 else found @ self.of)


class Ring(Value, frozen=True, dict=True):
    """Closed routes of given sizes, N pulleys in all; from `ring_of`, which keeps them."""

    sizes: tuple[int, ...]

    @property
    def is_one(self) -> bool:
        """Whether this is a single route, whose figures have no axis of routes."""
        return len(self.sizes) == 1

    @cached_property
    def first(self) -> Int:
        """Place of the first pulley of every route (R,)."""
        return np.asarray(np.cumsum(self.sizes) - np.array(self.sizes), dtype=np.int64)

    @cached_property
    def of(self) -> Int:
        """The route of every pulley (N,)."""
        return np.repeat(np.arange(len(self.sizes)), self.sizes)

    @cached_property
    def before(self) -> Int:
        """Place of the pulley before each one (N,)."""
        return self._turned(-1)

    @cached_property
    def after(self) -> Int:
        """Place of the pulley after each one (N,)."""
        return self._turned(1)

    def _turned(self, by: int) -> Int:
        sizes, first = np.array(self.sizes)[self.of], self.first[self.of]
        return np.asarray(first + (np.arange(self.of.size) - first + by) % sizes)

    def entering(self, spans: Float) -> Float:
        """Figures of the spans (..., N), known by the pulley they leave, by the one they enter."""
        if self.is_one:
            return np.concatenate([spans[..., -1:], spans[..., :-1]], axis=-1)
        return spans[..., self.before]

    def sum(self, values: Float) -> Float:
        """Sums over the pulleys (..., N) of each route."""
        return np.asarray(self._folded(np.add, values))

    def least(self, values: Float) -> Float:
        """Least of the pulleys (..., N) of each route."""
        return np.asarray(self._folded(np.minimum, values))

    def most(self, values: Float) -> Float:
        """Most of the pulleys (..., N) of each route."""
        return np.asarray(self._folded(np.maximum, values))

    def any(self, found: Bool) -> Bool:
        """Whether something was found at a pulley (..., N), per route."""
        return np.asarray(self._folded(np.logical_or, found))

    def _folded(self, fold: np.ufunc, values: Float | Bool) -> Any:
        # the same fold for one as for several: a sum must not change in its last digit
        folded = fold.reduceat(values, self.first, axis=-1)
        return folded[..., 0] if self.is_one else folded

    def spread(self, figure: Float) -> Float:
        """A figure of each route at its pulleys: (..., N), or (..., 1) of a single route."""
        return figure[..., None] if self.is_one else figure[..., self.of]

    @cached_property
    def pulley_pairs(self) -> Pairs:
        """Every pair of pulleys."""
        return self._joined([np.triu_indices(size, 1) for size in self.sizes])

    @cached_property
    def span_pairs(self) -> Pairs:
        """Every pair of spans that share no pulley; of two pulleys the two spans."""
        return self._joined([_apart(size) for size in self.sizes])

    @cached_property
    def bystanders(self) -> Pairs:
        """Every span with every pulley of its route that is not one of its ends."""
        return self._joined([_beside(size) for size in self.sizes])

    def _joined(self, each: list[tuple[Int, Int]]) -> Pairs:
        counts = [first.size for first, _ in each]
        places = np.repeat(self.first, counts)
        route = np.repeat(np.arange(len(each)), counts)
        first, second = (np.concatenate(side) for side in zip(*each, strict=True))
        return Pairs(places + first, places + second, route[:, None] == np.arange(len(each)))


@lru_cache(maxsize=256)
def ring_of(*sizes: int) -> Ring:
    """Closed routes of so many pulleys.

    >>> ring_of(3, 2).after.tolist(), ring_of(3, 2).before.tolist()
    ([1, 2, 0, 4, 3], [2, 0, 1, 4, 3])
    >>> ring_of(3, 2).sum(np.array([1.0, 2.0, 3.0, 10.0, 20.0])).tolist()
    [6.0, 30.0]
    """
    return Ring(sizes)


def _apart(count: int) -> tuple[Int, Int]:
    if count == 2:
        return np.array([0]), np.array([1])
    first, second = np.triu_indices(count, 2)
    keep = ~((first == 0) & (second == count - 1))
    return first[keep], second[keep]


def _beside(count: int) -> tuple[Int, Int]:
    span, pulley = np.indices((count, count)).reshape(2, -1)
    keep = (pulley != span) & (pulley != (span + 1) % count)
    return span[keep], pulley[keep]
