"""Where pulleys may stand along z, and the fewest bodies to move so that every belt runs in line.

Every angle of a belt against its grooves is linear in the planes of two pulleys, so that *in line* is a
set of bounds on differences: it can be met exactly where no cycle of bounds is negative. R. Bellman,
*On a routing problem* (1958); R. W. Floyd, *Shortest path* (1962). docs/METHOD.md, section 12.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import combinations

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.drive.path import Path
from jovial_tack.core.line_up.alignment import Seats, climbs, groove_slope
from jovial_tack.core.value import Value

#: Sets of bodies that are looked at before all that can be moved are moved together.
_MOST_SETS = 4000
_HALVINGS = 44
#: A hair of room: what is moved exactly to the limit is in line.
_HAIR = 1e-9
_SETTLED_MM = 1e-4
#: Of what is good, left over the least share, so that rounding closes no door.
_SLACK = 1e-6
_ALIKE = 1e-6


class Slopes(Value, frozen=True, eq=False):
    """Slopes of belts against their grooves, each of the planes of two pulleys: slope (R,) now, growing
    by 1/run (R,) mm with the plane of `there` (R,) and shrinking with that of `here` (R,); good (R,)
    the greatest slope that counts as in line.
    """

    here: Int
    there: Int
    run: Float
    slope: Float
    good: Float

    @staticmethod
    def joined(each: Sequence[Slopes]) -> Slopes:
        """Those of several drives; their pulleys are numbered through."""
        return Slopes(
            *(
                np.concatenate([getattr(one, name) for one in each])
                for name in ("here", "there", "run", "slope", "good")
            )
        )

    def of(self, which: Bool) -> Slopes:
        """Some of them."""
        return Slopes(
            self.here[which],
            self.there[which],
            self.run[which],
            self.slope[which],
            self.good[which],
        )

    def moved(self, by_mm: Float) -> Float:
        """The slopes with each pulley moved along z (N,), mm."""
        return np.asarray(self.slope + (by_mm[self.there] - by_mm[self.here]) / self.run)


def slopes_of(path: Path, seats: Seats, good_rad: float, first: int = 0) -> Slopes:
    """The slopes of one drive, at both ends of all spans whose planes are known.

    Parameters: one lane of a path; the seats; the greatest angle that is good; the number of the
    drive's first pulley. Over flat pulleys the belt climbs on, and a span between two of them counts by
    what it climbs. METHOD 12.
    """
    rows: list[tuple[int, int, float, float]] = []
    for spans, here, there, run, slope in climbs(path, seats):
        if not np.isfinite(slope):
            continue
        leaves = slope - float(groove_slope(seats.tilt[here], path.direction[here]))
        meets = slope - float(groove_slope(seats.tilt[there], path.direction[spans[-1]]))
        rows += [(here, there, run, leaves), (here, there, run, meets)]
        if len(spans) > 2:
            rows.append((here, there, run, slope))
    table = np.array(rows, dtype=float).reshape(len(rows), 4)
    ends = table[:, :2].astype(np.int64) + first
    good = np.full(len(rows), np.tan(good_rad))
    return Slopes(ends[:, 0], ends[:, 1], table[:, 2], table[:, 3], good)


class Body(Value, frozen=True):
    """What moves along z as one: the numbers of its pulleys; how far it can, mm; last: only moved where
    nothing else mends it.
    """

    pulleys: tuple[int, ...]
    low_mm: float = -np.inf
    high_mm: float = np.inf
    last: bool = False


def window(slopes: Slopes, body: Body) -> tuple[float, float] | None:
    """How far a body may move, all else as it is, for every slope it has a part in to be good, mm.

    None where there is no such place; infinite where nothing holds it.

    >>> one = np.array([0]), np.array([1]), np.array([100.0]), np.array([0.02]), np.array([0.01])
    >>> [round(end, 6) for end in window(Slopes(*one), Body((1,)))]
    [-3.0, -1.0]
    """
    low, high = body.low_mm, body.high_mm
    own = np.isin(slopes.there, body.pulleys), np.isin(slopes.here, body.pulleys)
    for sign, which in ((1.0, own[0] & ~own[1]), (-1.0, own[1] & ~own[0])):
        run, slope, good = slopes.run[which], slopes.slope[which], slopes.good[which]
        ends = sign * run * (-good - slope), sign * run * (good - slope)
        low = max(low, float(np.minimum(*ends).max(initial=-np.inf)))
        high = min(high, float(np.maximum(*ends).min(initial=np.inf)))
    return None if low > high else (low, high)


def straightest(slopes: Slopes, body: Body, pulleys: int) -> float | None:
    """How far a body must be moved for its belts to run as straight as they can, mm; None where they
    cannot all be good.
    """
    moves = _placed(slopes, [body], pulleys)
    return None if moves is None else float(moves[0])


class Remedy(Value, frozen=True):
    """The bodies to move and how far, mm, + toward the viewer. fewest: whether it is sure that no
    smaller set would do.
    """

    moves: tuple[tuple[int, float], ...]
    fewest: bool = True


def remedy(slopes: Slopes, bodies: Sequence[Body], pulleys: int) -> Remedy | None:
    """The fewest bodies to move for every slope to be good; None where moving does not mend it.

    Of sets of one size the one that leaves the belts straightest wins, then the one that moves least.
    Within a set the worst slope is made as small as can be, then the next. Bodies that share a pulley
    are not moved together. METHOD 12.
    """
    bad = np.abs(slopes.slope) > slopes.good * (1.0 + _HAIR)
    if not bad.any():
        return Remedy(())
    first = [k for k, body in enumerate(bodies) if not body.last]
    looked = 0
    for choice in (first, range(len(bodies))):
        for size in range(1, len(choice) + 1):
            best: tuple[float, float, tuple[tuple[int, float], ...]] | None = None
            for chosen in _touching(slopes, bodies, bad, choice, size):
                looked += 1
                if looked > _MOST_SETS:
                    return _all_together(slopes, bodies, pulleys, bad)
                moves = _placed(slopes, [bodies[k] for k in chosen], pulleys)
                if moves is None:
                    continue
                told = _told(slopes, bodies, chosen, moves, pulleys)
                if best is None or _is_better(told, best):
                    best = told
            if best is not None:
                return Remedy(best[2])
    return None


def _told(
    slopes: Slopes, bodies: Sequence[Body], chosen: tuple[int, ...], moves: Float, pulleys: int
) -> tuple[float, float, tuple[tuple[int, float], ...]]:
    """The worst slope as a share of what is good, how far all is moved, and what."""
    by = np.zeros(pulleys)
    for k, move in zip(chosen, moves.tolist(), strict=True):
        by[list(bodies[k].pulleys)] = move
    worst = float((np.abs(slopes.moved(by)) / slopes.good).max())
    pairs = tuple((k, float(move)) for k, move in zip(chosen, moves.tolist(), strict=True))
    return worst, float(np.abs(moves).sum()), pairs


def _is_better(one: tuple[float, float, object], other: tuple[float, float, object]) -> bool:
    if abs(one[0] - other[0]) > _ALIKE:
        return one[0] < other[0]
    return one[1] < other[1] - _SETTLED_MM


def _all_together(slopes: Slopes, bodies: Sequence[Body], pulleys: int, bad: Bool) -> Remedy | None:
    """Where there are too many sets to look at each: all bodies that share no pulley."""
    taken: set[int] = set()
    chosen = []
    for k, body in enumerate(bodies):
        if not body.last and not taken & set(body.pulleys):
            chosen.append(k)
            taken |= set(body.pulleys)
    moves = _placed(slopes, [bodies[k] for k in chosen], pulleys)
    if moves is None:
        return None
    pairs = zip(chosen, moves.tolist(), strict=True)
    moved = tuple((k, float(move)) for k, move in pairs if abs(move) > _SETTLED_MM)
    return Remedy(moved, fewest=False)


def _touching(
    slopes: Slopes, bodies: Sequence[Body], bad: Bool, choice: Sequence[int], size: int
) -> Iterator[tuple[int, ...]]:
    """Sets of bodies that have a part in every bad slope and share no pulley."""
    touches = {}
    for k in choice:
        own = bodies[k].pulleys
        inside = np.isin(slopes.there, own) != np.isin(slopes.here, own)
        touches[k] = inside[bad]
    for chosen in combinations(choice, size):
        together = [pulley for k in chosen for pulley in bodies[k].pulleys]
        if len(set(together)) < len(together):
            continue
        if np.logical_or.reduce([touches[k] for k in chosen]).all():
            yield chosen


class _Bounds:
    """Bounds on differences between bodies and the ground (0), by the share of what is good that every
    slope may take.
    """

    def __init__(self, slopes: Slopes, bodies: Sequence[Body], pulleys: int) -> None:
        node = np.zeros(pulleys, dtype=np.int64)
        for k, body in enumerate(bodies, 1):
            node[list(body.pulleys)] = k
        here, there = node[slopes.here], node[slopes.there]
        which = here != there
        self.here, self.there = here[which], there[which]
        self.run, self.slope, self.good = (
            slopes.run[which],
            slopes.slope[which],
            slopes.good[which],
        )
        self.count = len(bodies) + 1
        self.ends = [(body.low_mm, body.high_mm) for body in bodies]
        self.fixed: dict[int, float] = {}

    def closed(self, shares: Float) -> Float | None:
        """The tightest bounds (K, K) on x_j − x_i with each slope within its share of good, None where
        they contradict one another.
        """
        bounds = np.full((self.count, self.count), np.inf)
        np.fill_diagonal(bounds, 0.0)
        room = self.good * shares * (1.0 + _HAIR)
        np.minimum.at(bounds, (self.here, self.there), self.run * (room - self.slope))
        np.minimum.at(bounds, (self.there, self.here), self.run * (room + self.slope))
        for k, (low, high) in enumerate(self.ends, 1):
            low, high = (self.fixed[k],) * 2 if k in self.fixed else (low, high)
            bounds[0, k], bounds[k, 0] = min(bounds[0, k], high), min(bounds[k, 0], -low)
        for k in range(self.count):
            bounds = np.minimum(bounds, bounds[:, k, None] + bounds[k])
        return None if (bounds.diagonal() < -1e-9).any() else bounds


def _placed(slopes: Slopes, bodies: Sequence[Body], pulleys: int) -> Float | None:
    """How far to move bodies for every slope they have a part in to be as small as can be, the worst
    first (K,), mm; None where they cannot all be good. What they have no part in is not looked at.
    """
    bounds = _Bounds(slopes, bodies, pulleys)
    shares = np.ones(bounds.run.size)
    if bounds.closed(shares) is None:
        return None
    open_rows = np.ones(bounds.run.size, dtype=bool)
    for _ in bodies:
        least = _least_share(bounds, shares, open_rows)
        shares = np.where(open_rows, least, shares)
        closed = bounds.closed(shares)
        if closed is None:
            return None
        loose = [k for k in range(1, bounds.count) if k not in bounds.fixed]
        if not loose:
            break
        settled = [k for k in loose if closed[0, k] + closed[k, 0] < _SETTLED_MM]
        # only their distance is settled: the first goes no farther than it must
        for k in settled or loose[:1]:
            low, high = -closed[k, 0], closed[0, k]
            middle = (low + high) / 2 if k in settled else min(max(0.0, low), high)
            bounds.fixed[k] = float(middle)
            # one after another: what the bounds leave of one depends on where the others are
            again = bounds.closed(shares)
            if again is None:  # good by no more than rounding: nobody sets a pulley so
                return None
            closed = again
        ends = [k in bounds.fixed or k == 0 for k in range(bounds.count)]
        held = np.array(ends)[bounds.here] & np.array(ends)[bounds.there]
        open_rows &= ~held
        # what has been placed has its hair of room
        shares = np.where(held, np.minimum(1.0, shares + 1e-6), shares)
    return np.array([bounds.fixed[k] for k in range(1, bounds.count)])


def _least_share(bounds: _Bounds, shares: Float, open_rows: Bool) -> float:
    """The least share of good that all open slopes can keep to."""
    low, high = 0.0, float(shares[open_rows].max(initial=0.0))
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        if bounds.closed(np.where(open_rows, middle, shares)) is None:
            low = middle
        else:
            high = middle
    return min(1.0, high + _SLACK)
