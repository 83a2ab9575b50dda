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

#: Sets of bodies that are looked at, and worked out, before all that can be moved are moved together;
# so  many at once, and of those that are as good so many are placed.
_MOST_LOOKED_AT, _MOST_SETS, _AT_ONCE, _AS_GOOD = 40_000, 4000, 256, 12
_ROUGH_HALVINGS = 26
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
    are not moved together. Where there are too many sets to look at each, all that moves is moved.
    METHOD 12.
    """
    bad = np.abs(slopes.slope) > slopes.good * (1.0 + _HAIR)
    if not bad.any():
        return Remedy(())
    looked = worked = 0
    free = [k for k, body in enumerate(bodies) if not body.last]
    for choice in (free, list(range(len(bodies)))):
        every = _finest(bodies, choice)
        if not every or not np.isfinite(_worst_of(slopes, bodies, [every], pulleys, 0)[0]):
            continue  # not even all of them together mend it
        for size in range(_at_least(slopes, bodies, bad, choice), len(every) + 1):
            sets: list[tuple[int, ...]] = []
            for chosen in _touching(slopes, bodies, bad, choice, size):
                looked += 1
                worked += bool(chosen)
                if looked > _MOST_LOOKED_AT or worked > _MOST_SETS:
                    return _all_together(slopes, bodies, every, pulleys)
                if chosen:
                    sets.append(chosen)
            best = _best_of(slopes, bodies, sets, pulleys)
            if best is not None:
                return best
    return None


def _finest(bodies: Sequence[Body], choice: Sequence[int]) -> tuple[int, ...]:
    """The smallest bodies that share no pulley: what they cannot mend together, nothing can."""
    taken: set[int] = set()
    found = []
    for k in sorted(choice, key=lambda k: len(bodies[k].pulleys)):
        if not taken & set(bodies[k].pulleys):
            found.append(k)
            taken |= set(bodies[k].pulleys)
    return tuple(sorted(found))


def _at_least(slopes: Slopes, bodies: Sequence[Body], bad: Bool, choice: Sequence[int]) -> int:
    """How many bodies must be moved at least: bad slopes between ever other bodies need one each."""
    group = {pulley: pulley for k in choice for pulley in bodies[k].pulleys}
    for k in choice:
        # what shares a body may be moved by it
        joined = {group[pulley] for pulley in bodies[k].pulleys}
        first = min(joined)
        group = {pulley: first if of in joined else of for pulley, of in group.items()}
    used: set[int] = set()
    count = 0
    for here, there in zip(slopes.here[bad].tolist(), slopes.there[bad].tolist(), strict=True):
        ends = {group[pulley] for pulley in (here, there) if pulley in group}
        if ends and not ends & used:
            used |= ends
            count += 1
    return max(count, 1)


def _best_of(
    slopes: Slopes, bodies: Sequence[Body], sets: Sequence[tuple[int, ...]], pulleys: int
) -> Remedy | None:
    """Of sets of one size the one that leaves the belts straightest, then moves least; None if none
    do.
    """
    if not sets:
        return None
    # first only which of them mend it at all: of a single one nothing needs to be compared
    will_do = np.isfinite(_by_parts(slopes, bodies, sets, pulleys, 0))
    sets = [one for one, does in zip(sets, will_do.tolist(), strict=True) if does]
    if not sets:
        return None
    halvings = _ROUGH_HALVINGS if len(sets) > 1 else 0
    worst = _by_parts(slopes, bodies, sets, pulleys, halvings)
    least = float(worst.min())
    best: tuple[float, Remedy] | None = None
    for k in np.flatnonzero(worst <= least + _ALIKE)[:_AS_GOOD].tolist():
        moves = _placed(slopes, [bodies[one] for one in sets[k]], pulleys)
        if moves is None:
            continue
        moved = float(np.abs(moves).sum())
        if best is None or moved < best[0] - _SETTLED_MM:
            best = moved, Remedy(tuple(zip(sets[k], moves.tolist(), strict=True)))
    return None if best is None else best[1]


def _by_parts(
    slopes: Slopes,
    bodies: Sequence[Body],
    sets: Sequence[tuple[int, ...]],
    pulleys: int,
    halvings: int,
) -> Float:
    """As `_worst_of`, so many sets at once as memory is not felt."""
    parts = [sets[k : k + _AT_ONCE] for k in range(0, len(sets), _AT_ONCE)]
    return np.concatenate([_worst_of(slopes, bodies, part, pulleys, halvings) for part in parts])


def _worst_of(
    slopes: Slopes,
    bodies: Sequence[Body],
    sets: Sequence[tuple[int, ...]],
    pulleys: int,
    halvings: int,
) -> Float:
    """For each of several sets of one size the least that its worst slope can be, as a share of what is
    good, slopes it has no part in included; infinite where they cannot all be good (S,). halvings: how
    closely that is looked for; 0 tells only which will do.
    """
    chosen = np.array(sets)
    count, size = chosen.shape
    member = np.zeros((len(bodies), pulleys), dtype=np.int64)
    for k, body in enumerate(bodies):
        member[k, list(body.pulleys)] = 1
    node = np.sum(member[chosen] * np.arange(1, size + 1)[:, None], axis=1)
    here, there = node[:, slopes.here], node[:, slopes.there]
    inside = here != there
    ends = np.array([[(bodies[k].low_mm, bodies[k].high_mm) for k in one] for one in sets])
    rest = np.where(inside, 0.0, np.abs(slopes.slope) / slopes.good).max(axis=1)
    nodes = size + 1
    forth, back, diagonal = here * nodes + there, there * nodes + here, np.arange(nodes)

    def stands(which: Int, shares: Float) -> Bool:
        """Whether the bounds of some sets, at shares of what is good, contradict one another
        nowhere.
        """
        bounds = np.full((which.size, nodes, nodes), np.inf)
        bounds[:, diagonal, diagonal] = 0.0
        bounds[:, 0, 1:], bounds[:, 1:, 0] = ends[which, :, 1], -ends[which, :, 0]
        room = slopes.good * shares[:, None] * (1.0 + _HAIR)
        up = np.where(inside[which], slopes.run * (room - slopes.slope), np.inf)
        down = np.where(inside[which], slopes.run * (room + slopes.slope), np.inf)
        first = np.arange(which.size)[:, None] * nodes * nodes
        flat = bounds.reshape(-1)
        np.minimum.at(flat, (forth[which] + first).ravel(), up.ravel())
        np.minimum.at(flat, (back[which] + first).ravel(), down.ravel())
        for k in range(nodes):
            np.minimum(bounds, bounds[:, :, k, None] + bounds[:, k, None, :], out=bounds)
        return np.asarray((bounds[:, diagonal, diagonal] >= -1e-9).all(axis=1))

    worst = np.full(count, np.inf)
    good = np.flatnonzero(rest <= 1.0 + _HAIR)
    good = good[stands(good, np.ones(good.size))]
    low, high = np.zeros(good.size), np.ones(good.size)
    for _ in range(halvings if good.size else 0):
        middle = (low + high) / 2
        fine = stands(good, middle)
        low, high = np.where(fine, low, middle), np.where(fine, middle, high)
    worst[good] = np.maximum(high, rest[good])
    return worst


def _all_together(
    slopes: Slopes, bodies: Sequence[Body], every: tuple[int, ...], pulleys: int
) -> Remedy | None:
    """Where there are too many sets to look at each: all that moves."""
    moves = _placed(slopes, [bodies[k] for k in every], pulleys)
    if moves is None:
        return None
    pairs = zip(every, moves.tolist(), strict=True)
    moved = tuple((k, move) for k, move in pairs if abs(move) > _SETTLED_MM)
    return Remedy(moved, fewest=False)


def _touching(
    slopes: Slopes, bodies: Sequence[Body], bad: Bool, choice: Sequence[int], size: int
) -> Iterator[tuple[int, ...]]:
    """Sets of bodies; () in place of one that has no part in some bad slope, or shares a pulley."""
    touches, pulleys = {}, {}
    whole = (1 << int(bad.sum())) - 1
    for k in choice:
        own = bodies[k].pulleys
        inside = (np.isin(slopes.there, own) != np.isin(slopes.here, own))[bad]
        touches[k] = sum(1 << place for place in np.flatnonzero(inside).tolist())
        pulleys[k] = sum(1 << pulley for pulley in own)
    for chosen in combinations(choice, size):
        met = taken = 0
        for k in chosen:
            if taken & pulleys[k]:
                met = 0
                break
            taken |= pulleys[k]
            met |= touches[k]
        yield chosen if met == whole else ()


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
