"""A net adjusted: the places that fit all readings best, every arrangement that fits as well, and how
well each place is known.

Least squares by steps that are damped (Levenberg–Marquardt), with what is held fixed taken out of the
unknowns. docs/METHOD.md, section 15.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cached_property
from itertools import combinations

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float
from jovial_tack.core.survey.net import Net, Rows, apart_of, is_level
from jovial_tack.core.value import Value

_STEP_MM = 120.0
_MOST_STEPS, _FEW_STEPS, _FIRST_STEPS = 80, 9, 3
_FAR = 30.0  # so far off after the first steps, no few more bring it near
_SETTLED_MM = 1e-8
#: Where nothing holds a place it stays where it is drawn: the damping that is never let go of.
_HELD = 1e-12
_LOOSE_MM = 200.0  # one standard deviation from which a direction is not determined
_TOUCHED = 1e-3
_WEAK_MM = 10.0
_CHI2_95 = 5.991  # of two degrees of freedom
#: Arrangements that count as equal, and those that are also possible (99 %, two degrees of freedom).
_EQUAL, _POSSIBLE = 4.0, 9.21
_SAME_MM = 1.0
_GOOD_PER_ROW = 3.0
_NOISES = (0.1, 0.2, 0.35, 0.6)
_TRIES = 8
_MOST_TURNED = 120
_MOST_EXPLORED = 12
_MOST_WORK = 4500  # steps of a search: a second or two
_HOPELESS_PER_ROW = 30.0  # after a few steps from a mirrored part


class Ellipse(Value, frozen=True):
    """The 95 % ellipse of a place: semi-axes, mm, and the angle of the greater one, rad."""

    major: float
    minor: float
    angle: float


class Adjusted(Value, frozen=True, dict=True):
    """A net with its places. unknowns: all that was solved for; places (P,) mm.

    off (R,): model less reading over its standard deviation, by rows; by (R, U): the derivatives over
    the unknowns that nothing holds; free (unknowns, U): what one of those moves. of (R,): the reading
    of each row. also: other places (P,) the readings allow as well. turn_free: no reading tells how the
    net is turned, so that it stays turned as drawn.
    """

    net: Net
    unknowns: Float
    off: Float
    by: Float
    free: Float
    of: np.ndarray
    turn_free: bool = False
    also: tuple[Complex, ...] = ()

    @property
    def places(self) -> Complex:
        """Where the points are (P,), mm."""
        return self.unknowns[: 2 * self.net.start.size].view(complex)

    @property
    def chi2(self) -> float:
        """The sum of squares that is left."""
        return float(self.off @ self.off)

    @cached_property
    def _parted(self) -> tuple[Float, Float, Float]:
        """Directions of the unknowns that the readings hold, how well (1/mm), and those they do not."""
        if not self.by.shape[1]:
            return np.zeros((0, 0)), np.zeros(0), np.zeros((0, 0))
        _, held, directions = np.linalg.svd(self.by, full_matrices=True)
        held = np.concatenate([held, np.zeros(directions.shape[0] - held.size)])
        known = held > 1.0 / _LOOSE_MM
        return directions[known], held[known], directions[~known]

    @property
    def dof(self) -> int:
        """Figures read beyond those needed for what they determine."""
        return int(self.off.size - self._parted[1].size)

    @cached_property
    def covariance(self) -> Float:
        """Covariance of the places (2P, 2P), mm², of what readings hold; the rest counts as held."""
        directions, held, _ = self._parted
        count = 2 * self.net.start.size
        root = (self.free[:count] @ directions.T) / held
        return np.asarray(root @ root.T)

    @cached_property
    def determined(self) -> Bool:
        """Points the readings hold in both directions (P,)."""
        loose = self._parted[2]
        count = self.net.start.size
        if not loose.size:
            return np.ones(count, dtype=np.bool_)
        moved = self.free[: 2 * count] @ loose.T
        return np.asarray(np.abs(moved).reshape(count, -1).max(axis=1) <= _TOUCHED)

    @cached_property
    def redundancy(self) -> Float:
        """How much of each row the others would tell as well, 0 to 1 (R,)."""
        directions, held, _ = self._parted
        leverage = ((self.by @ directions.T / held) ** 2).sum(axis=1)
        return np.asarray(np.clip(1.0 - leverage, 0.0, 1.0))

    @cached_property
    def standardised(self) -> Float:
        """Each row's reading less its model over what is usual (R,); 0 where nobody checks it."""
        checked = self.redundancy > 1e-6
        usual = np.sqrt(np.where(checked, self.redundancy, 1.0))
        return np.where(checked, -self.off / usual, 0.0)

    @cached_property
    def ellipses(self) -> tuple[Ellipse, ...]:
        """The 95 % ellipse of each point."""
        pairs = range(0, 2 * self.net.start.size, 2)
        return tuple(ellipse_of(self.covariance[k : k + 2, k : k + 2]) for k in pairs)

    @cached_property
    def weak(self) -> Bool:
        """Points that are held, but worse than to a centimetre (P,)."""
        wide = [ellipse.major > _WEAK_MM for ellipse in self.ellipses]
        return np.asarray(self.determined & np.array(wide, dtype=np.bool_))


def ellipse_of(covariance: Float) -> Ellipse:
    """The 95 % ellipse of a covariance (2, 2), mm²."""
    squares, axes = np.linalg.eigh(covariance)
    minor, major = np.sqrt(_CHI2_95 * np.maximum(squares, 0.0))
    along = axes[:, 1]
    return Ellipse(float(major), float(minor), float(np.arctan2(along[1], along[0])))


def adjust(
    net: Net, begin: Complex | None = None, *, search: bool = True, effort: float = 1.0
) -> Adjusted:
    """The places that fit a net's readings best.

    Parameters: the net; places (P,) to begin from, as those of the last adjustment, instead of where
    the points are drawn; search: look for every arrangement, which takes far longer than one solve;
    effort: the share of the usual most steps that may take.
    Without a reading everything stays where it is drawn. METHOD 15.
    """
    problem = _Problem(net, effort)
    begun = net.start if begin is None else begin
    found = problem.solved(begun)
    if not search:
        return problem.told(found.x)
    best = problem.searched(found)
    minima = problem.turned_over(best)
    least = min(each.cost for each in minima)
    equal = [each for each in minima if each.cost <= least + _EQUAL]
    taken = min(equal, key=lambda each: problem.away(each.x))
    also = [
        problem.places(each.x)
        for each in sorted(minima, key=lambda each: each.cost)
        if each is not taken and each.cost <= least + _POSSIBLE
    ]
    return problem.told(problem.solved(problem.places(taken.x)).x, tuple(also))


class _Found(Value, frozen=True, eq=False):
    """Unknowns at which the steps came to rest, and the sum of squares there."""

    x: Float
    cost: float


class _Problem:
    """A net's rows with what is held fixed taken out: x = base + free·y."""

    def __init__(self, net: Net, effort: float = 1.0) -> None:
        self._net = net
        self._left = round(effort * _MOST_WORK)  # steps that a search may still take
        self._rows = Rows(net)
        self.turn_free = not self._is_turned()
        fixed, known = self._held()
        self._base = np.zeros(self._rows.unknowns)
        self._free = np.eye(self._rows.unknowns)
        if fixed.size:
            _, held, directions = np.linalg.svd(fixed, full_matrices=True)
            count = int((held > 1e-9 * held[0]).sum())
            self._base = np.asarray(np.linalg.lstsq(fixed, known, rcond=None)[0], dtype=float)
            self._free = directions[count:].T

    def _is_turned(self) -> bool:
        """Whether anything tells how the net is turned: a direction, a level, or two known places."""
        net = self._net
        if net.direction is not None or any(map(is_level, net.readings)):
            return True
        known = {r.points[0] for r in net.readings if r.kind == "at"} | {net.fixed}
        return len(known - {None}) > 1

    def _held(self) -> tuple[Float, Float]:
        """What does not move, as rows over the unknowns and what they come to."""
        net = self._net
        rows, known = [], []
        if net.fixed is not None:
            for axis in (0, 1):
                row = np.zeros(self._rows.unknowns)
                row[2 * net.fixed + axis] = 1.0
                rows.append(row)
            known += [net.start[net.fixed].real, net.start[net.fixed].imag]
        direction = net.direction
        if direction is None and self.turn_free:
            direction = self._as_drawn()
        if direction is not None:
            first, second, angle = direction
            square = 1j * np.exp(1j * angle)
            row = np.zeros(self._rows.unknowns)
            for point, sign in ((second, 1.0), (first, -1.0)):
                row[2 * point] += sign * square.real
                row[2 * point + 1] += sign * square.imag
            rows.append(row)
            known.append(0.0)
        return np.array(rows).reshape(len(rows), self._rows.unknowns), np.array(known)

    def _as_drawn(self) -> tuple[int, int, float] | None:
        """The direction from the fixed point to the farthest one that is measured, as drawn."""
        net = self._net
        if net.fixed is None:
            return None
        measured = {point for reading in net.readings for point in reading.points} - {net.fixed}
        if not measured:
            return None
        start, fixed = net.start, net.fixed
        far = max(measured, key=lambda point: abs(start[point] - start[fixed]))
        return fixed, far, float(np.angle(start[far] - start[fixed]))

    def places(self, x: Float) -> Complex:
        return np.array(x[: 2 * self._net.start.size]).view(complex)

    def away(self, x: Float) -> float:
        """How far a solution is from the drawing."""
        return float(np.abs(self.places(x) - self._net.start).sum())

    def is_backward(self, x: Float) -> bool:
        """Whether the known direction is the opposite one there."""
        if self._net.direction is None:
            return False
        first, second, angle = self._net.direction
        places = self.places(x)
        along = (places[second] - places[first]) * np.exp(-1j * angle)
        return bool(along.real < 0)

    def told(self, x: Float, also: tuple[Complex, ...] = ()) -> Adjusted:
        off, by = self._rows.compute(x)
        return Adjusted(
            self._net, x, off, by @ self._free, self._free, self._rows.of, self.turn_free, also
        )

    def solved(
        self, places: Complex, steps: int = _MOST_STEPS, hopeless: float | None = None
    ) -> _Found:
        """From some places downhill to where no step helps any more; hopeless: the sum of squares at
        which to give up after a few steps.
        """
        x = self._rows.begin(places)
        y = self._free.T @ (x - self._base)
        x = self._base + self._free @ y
        off, by = self._rows.compute(x)
        cost, damping = float(off @ off), 1e-4
        for taken in range(steps):
            self._left -= 1
            if hopeless is not None and taken == _FIRST_STEPS and cost > hopeless:
                break
            reduced = by @ self._free
            square, slope = reduced.T @ reduced, reduced.T @ off
            along = square.diagonal()
            scale = np.maximum(along, _HELD * max(float(along.max(initial=0.0)), 1e-12))
            square.flat[:: slope.size + 1] = along + damping * scale + _HELD
            step = -np.linalg.solve(square, slope)
            most = float(np.abs(step).max(initial=0.0))
            if most > _STEP_MM:
                step *= _STEP_MM / most
            tried = x + self._free @ step
            tried_off, tried_by = self._rows.compute(tried)
            tried_cost = float(tried_off @ tried_off)
            if tried_cost <= cost:
                small = most < _SETTLED_MM or cost - tried_cost <= 1e-14 * (cost + 1e-12)
                x, off, by, cost = tried, tried_off, tried_by, tried_cost
                damping = max(damping * 0.1, 1e-14)
                if small and damping < 1e-6:
                    break
            else:
                if most < _SETTLED_MM:
                    break
                damping = max(damping * 8.0, 1e-10)
                if damping > 1e8:
                    break
        return _Found(x, cost)

    def searched(self, found: _Found) -> _Found:
        """The best of many beginnings, until two agree on one that is good."""
        spare = max(self._rows.of.size - self._free.shape[1], 0)
        good = spare + 2.0 * (2.0 * spare) ** 0.5 + 1e-6  # about as well as noise lets it
        results = [] if self.is_backward(found.x) else [found]
        if results and found.cost <= good:
            return found
        for places in self._beginnings():
            if self._left < 0:
                break
            tried = self.solved(places)
            if self.is_backward(tried.x):
                continue
            agree = any(self._is_same(tried, other) for other in results)
            results.append(tried)
            if agree and tried.cost <= good:
                break
        return min(results, key=lambda each: each.cost, default=found)

    def _is_same(self, one: _Found, other: _Found, sure: Bool | None = None) -> bool:
        apart = np.abs(self.places(one.x) - self.places(other.x))
        return bool((apart if sure is None else apart[sure]).max(initial=0.0) < _SAME_MM)

    def _beginnings(self) -> Iterator[Complex]:
        """Places to begin from beside those drawn."""
        start = self._net.start
        built = _constructed(self._net)
        yield built
        distances = [d for d in map(apart_of, self._net.readings) if d is not None]
        size = max([*distances, float(np.abs(start - start.mean()).max()), 50.0])
        dice = np.random.default_rng(1)
        for share in _NOISES:
            for places in [start, built] * (_TRIES // 4):
                noise = dice.normal(size=start.size) + 1j * dice.normal(size=start.size)
                yield places + share * size * noise

    def turned_over(self, best: _Found) -> list[_Found]:
        """The arrangements a net allows: parts of it mirrored in the line of two points that hold them,
        as long as that finds something better, or as good and elsewhere.
        """
        minima, waiting, explored = [best], [best], 0
        # what no reading holds may lie anywhere: that makes no other arrangement
        sure = self.told(best.x).determined
        if sure.sum() < 3:
            return minima
        hopeless = _HOPELESS_PER_ROW * self._rows.of.size + best.cost
        while waiting and explored < _MOST_EXPLORED and self._left > 0:
            # from the best one on: what is possible beside it may be turned over in turn
            base = min(waiting, key=lambda each: each.cost)
            waiting.remove(base)
            least = min(each.cost for each in minima)
            if base.cost > least + _POSSIBLE:
                break
            explored += 1
            for places in _mirrored(self._net, self.places(base.x), sure):
                if self._left < 0:
                    break
                tried = self.solved(places, _FEW_STEPS, _FAR * hopeless)
                if tried.cost > least + hopeless or self.is_backward(tried.x):
                    continue
                tried = self.solved(self.places(tried.x))
                if not any(self._is_same(tried, other, sure) for other in minima):
                    minima.append(tried)
                    waiting.append(tried)
        least = min(each.cost for each in minima)
        return [each for each in minima if each.cost <= least + _POSSIBLE]


def _neighbours(net: Net) -> list[set[int]]:
    """Which points each point has readings with."""
    beside: list[set[int]] = [set() for _ in range(net.start.size)]
    for reading in net.readings:
        for one, other in combinations(set(reading.points), 2):
            beside[one].add(other)
            beside[other].add(one)
    return beside


def _mirrored(net: Net, places: Complex, sure: Bool) -> Iterator[Complex]:
    """Places with a part that hangs on two points only, or a neighbour of both, turned over."""
    beside = _neighbours(net)
    held = {net.fixed} if net.fixed is not None else set()
    done: set[tuple[int, int, frozenset[int]]] = set()
    for p, q in combinations(np.flatnonzero(sure).tolist(), 2):
        if abs(places[p] - places[q]) < 1.0:
            continue
        parts = _parts_without(beside, {p, q})
        alone = [frozenset({k}) for k in beside[p] & beside[q]]
        hung = [part for part in parts if len(parts) > 1 or not part & held]
        for part in dict.fromkeys([*hung, *alone]):
            if part & held or (p, q, part) in done or not sure[list(part)].any():
                continue
            done.add((p, q, part))
            if len(done) > _MOST_TURNED:
                return
            moved = places.copy()
            which = sorted(part)
            axis = (places[q] - places[p]) / abs(places[q] - places[p])
            moved[which] = places[p] + axis**2 * (places[which] - places[p]).conj()
            if np.abs(moved - places).max() > 1.0:
                yield moved


def _parts_without(beside: Sequence[set[int]], gone: set[int]) -> list[frozenset[int]]:
    """The parts a net falls into without some points."""
    left, parts = set(range(len(beside))) - gone, []
    while left:
        part, edge = set(), {next(iter(left))}
        while edge:
            part |= edge
            edge = set().union(*(beside[k] for k in edge)) - gone - part
        left -= part
        parts.append(frozenset(part))
    return parts


def _constructed(net: Net) -> Complex:
    """Places found one after another: along a direction, by level readings, where two circles meet."""
    places = net.start.copy()
    distances: dict[tuple[int, int], float] = {}
    along: dict[tuple[int, int], complex] = {}
    levels: dict[tuple[int, int], dict[str, float]] = {}
    for reading in net.readings:
        apart = apart_of(reading)
        if apart is not None:
            pair = reading.points[0], reading.points[1]
            distances[pair] = distances[pair[::-1]] = apart
        elif reading.kind in ("dx", "dy"):
            pair = reading.points[0], reading.points[1]
            levels.setdefault(pair, {})[reading.kind] = reading.value - reading.rims_mm
        elif reading.kind == "angle":
            along[reading.points[0], reading.points[1]] = complex(np.exp(1j * reading.value))
        elif reading.kind == "at":
            places[reading.points[0]] = reading.at[0]
    if net.direction is not None:
        along[net.direction[0], net.direction[1]] = complex(np.exp(1j * net.direction[2]))
    for pair, parts in levels.items():
        if len(parts) == 2:
            along[pair] = complex(parts["dx"], parts["dy"])
            distances.setdefault(pair, abs(along[pair]))
    placed = {r.points[0] for r in net.readings if r.kind == "at"}
    placed.add(net.fixed if net.fixed is not None else 0)
    for _ in range(places.size):
        added = _place_one(places, placed, distances, along, net.start)
        if added is None:
            break
        placed.add(added)
    return places


def _place_one(
    places: Complex,
    placed: set[int],
    distances: dict[tuple[int, int], float],
    along: dict[tuple[int, int], complex],
    drawn: Complex,
) -> int | None:
    """Place one more point, the surest way first; which it was, None if none can be."""
    waiting = [k for k in range(places.size) if k not in placed]
    for new in waiting:
        for old in placed:
            way = along.get((old, new)) or -along.get((new, old), 0j)
            apart = distances.get((old, new))
            if way and apart:
                places[new] = places[old] + way / abs(way) * apart
                return new
    for new in waiting:
        near = [old for old in placed if (old, new) in distances]
        if len(near) >= 2:
            places[new] = _two_circles(
                places[near[:3]], [distances[old, new] for old in near[:3]], drawn[new]
            )
            return new
    for new in waiting:
        for old in placed:
            if (old, new) in distances:
                away = drawn[new] - drawn[old]
                way = away / abs(away) if abs(away) > 1.0 else 1.0 + 0j
                places[new] = places[old] + way * distances[old, new]
                return new
    return None


def _two_circles(centers: Complex, radii: Sequence[float], drawn: complex) -> complex:
    """Where two circles meet: nearer to a third one if there is one, else to the drawing."""
    a, b = complex(centers[0]), complex(centers[1])
    apart = max(abs(b - a), 1e-6)
    along = (b - a) / apart if abs(b - a) > 1e-6 else 1.0 + 0j
    reach = (apart**2 + radii[0] ** 2 - radii[1] ** 2) / (2 * apart)
    square = max(radii[0] ** 2 - reach**2, 0.0) ** 0.5
    either = [complex(a + along * (reach + side * 1j * square)) for side in (1, -1)]
    if len(radii) > 2:
        third, radius = complex(centers[2]), radii[2]
        return min(either, key=lambda p: abs(abs(p - third) - radius))
    return min(either, key=lambda p: abs(p - drawn))
