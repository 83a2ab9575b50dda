"""Outlines of what is in the way, and distances to them (docs/METHOD.md, section 5)."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float, Int, cross, dot
from jovial_tack.core.drive.ring import Ring
from jovial_tack.core.value import Value


class Outline(Value, frozen=True, eq=False, dict=True):
    """Something in the way: points (K,) complex mm; closed: it has an inside."""

    points: Complex
    closed: bool

    @cached_property
    def edges(self) -> tuple[Complex, Complex]:
        """Starts and ends of its sides."""
        if self.closed:
            return self.points, np.roll(self.points, -1)
        return self.points[:-1], self.points[1:]

    @cached_property
    def box(self) -> tuple[complex, complex]:
        """Lower left and upper right corner of the box round it, mm."""
        across, up = self.points.real, self.points.imag
        return complex(across.min(), up.min()), complex(across.max(), up.max())

    def box_holds(self, points: Complex) -> Bool:
        """Which of some points (M,) lie in the box round it."""
        low, high = self.box
        across = (points.real >= low.real) & (points.real <= high.real)
        return np.asarray(across & (points.imag >= low.imag) & (points.imag <= high.imag))


class Outlines(Value, frozen=True, dict=True):
    """O outlines to be looked at together: all sides (E,), the first side and the number of sides of
    each (O,), the corners of the box round each (O,), complex mm, and the route each is in the way of.
    """

    each: tuple[Outline, ...]
    start: Complex
    end: Complex
    first: Int
    sides: Int
    low: Complex
    high: Complex
    route: Int

    @staticmethod
    def of(each: Sequence[Outline], route: Sequence[int] | None = None) -> Outlines:
        """At least one outline; route: the place of the belt each is held against, of several."""
        starts, ends = zip(*(outline.edges for outline in each), strict=True)
        sides = np.array([start.size for start in starts])
        low, high = np.array([outline.box for outline in each]).T
        return Outlines(
            tuple(each),
            np.concatenate(starts),
            np.concatenate(ends),
            np.cumsum(sides) - sides,
            sides,
            low,
            high,
            np.zeros(sides.size, dtype=np.int64) if route is None else np.array(route),
        )

    def strangers(self, ring: Ring) -> Bool:
        """(O, N): the pulley is on another route than that the outline is held against."""
        return np.asarray(ring.of != self.route[:, None])

    @cached_property
    def along(self) -> Complex:
        """From the start to the end of every side (E,), complex mm."""
        return self.end - self.start

    @cached_property
    def balls(self) -> tuple[Complex, Float]:
        """Middle, complex mm, and radius, mm, of a circle round the box of each (O,)."""
        return (self.low + self.high) / 2, np.abs(self.high - self.low) / 2

    def box_distances(self, points: Complex) -> Float:
        """A cheap lower bound: distances (O, M) of points (M,) from the boxes, mm."""
        low, high = self.low[:, None], self.high[:, None]
        across = np.maximum(np.maximum(low.real - points.real, points.real - high.real), 0.0)
        up = np.maximum(np.maximum(low.imag - points.imag, points.imag - high.imag), 0.0)
        return np.asarray(np.hypot(across, up))


class Gap(Value, frozen=True):
    """The least gap, mm (negative: how deep one stands in the other), the two points it lies between,
    and the place on the route it belongs to.
    """

    gap_mm: float
    here: complex
    there: complex
    of: int


def outline_gap(one: Outline, other: Outline) -> Gap:
    """The least gap between two outlines, mm; negative: how deep a corner of one lies in the other."""
    start, end = one.edges
    a, b = other.edges
    away, here, there = between(start[:, None], end[:, None], a, b)
    k, j = divmod(int(np.argmin(away)), away.shape[1])
    deepest = 0.0
    for inner, outer in ((one, other), (other, one)):
        inside = is_inside(inner.points, outer) if outer.closed else np.zeros(1, dtype=np.bool_)
        if inside.any():
            c, d = outer.edges
            corners = inner.points[inside][:, None]
            depth = np.abs(onto(corners, c, d - c) - corners).min(axis=1)
            deepest = max(deepest, float(depth.max()))
    # outlines that cross without a corner inside touch: 0 is told, not how deep
    gap = -deepest if deepest else float(away[k, j])
    return Gap(gap, complex(here[k, j]), complex(there[k, j]), 0)


def box_distance(points: Complex, outline: Outline) -> float:
    """A cheap lower bound: the least distance of points (M,) from the box round an outline, mm.

    >>> box_distance(np.array([0j, 7 + 0j]), Outline(np.array([10 - 1j, 12 + 1j]), False))
    3.0
    """
    return float(Outlines.of([outline]).box_distances(points).min())


def between(a: Complex, b: Complex, c: Complex, d: Complex) -> tuple[Float, Complex, Complex]:
    """Distance of segments ab and cd (broadcast), and the nearest points of each.

    Zero where they cross; otherwise the nearest points include an end of one of them.
    """
    # four tries at once: each end of one segment against the whole of the other
    shape = (3, 4, *np.broadcast_shapes(np.shape(a), np.shape(c)))
    point, start, along = np.empty(shape, dtype=np.complex128)
    point[0], point[1], point[2], point[3] = a, b, c, d
    start[:2], start[2:] = c, a
    along[:2], along[2:] = d - c, b - a
    foot = onto(point, start, along)
    away = np.abs(foot - point)
    best = np.argmin(away, axis=0)
    at = (best, *np.indices(best.shape, sparse=True))
    own, other = point[at], foot[at]
    # the first two tries run from ab to cd, the other two the other way round
    here, there = np.where(best < 2, own, other), np.where(best < 2, other, own)
    side = cross(along, point - start)
    meets = (side[0] * side[1] < 0) & (side[2] * side[3] < 0)
    return np.where(meets, 0.0, away[at]), here, there


def onto(point: Complex, start: Complex, along: Complex) -> Complex:
    """The point of the segment from start along a vector that is nearest to a point (broadcast)."""
    # a segment of no length is its start: the share is 0 over anything that is not 0
    square = np.maximum(dot(along, along), 1e-30)
    share = np.minimum(np.maximum(dot(point - start, along) / square, 0.0), 1.0)
    return np.asarray(start + share * along)


def is_inside(points: Complex, outline: Outline) -> Bool:
    """Whether points (M,) lie inside a closed outline: an odd number of sides above each.

    >>> square = Outline(np.array([0, 10, 10 + 10j, 10j]), True)
    >>> is_inside(np.array([5 + 5j, 15 + 5j]), square).tolist()
    [True, False]
    """
    inside = outline.box_holds(points)
    held = np.flatnonzero(inside)
    if held.size:
        inside[held] = _is_between_sides(points[held], outline)
    return inside


def _is_between_sides(points: Complex, outline: Outline) -> Bool:
    """Whether points (M,) have an odd number of sides above each."""
    start, end = outline.edges
    x, y = points.real[:, None], points.imag[:, None]
    spans = (start.real <= x) != (end.real <= x)
    # upright sides divide by zero; they span no x, so that their value is never used
    with np.errstate(divide="ignore", invalid="ignore"):
        at = start.imag + (x - start.real) / (end.real - start.real) * (end.imag - start.imag)
    return np.asarray((spans & (at > y)).sum(axis=1) % 2 == 1)


def simplified(points: Complex, within_mm: float) -> Complex:
    """A line through points (K,) with those left out that lie within a distance of what is kept, mm.

    Ends stay. Source: U. Ramer (1972), D. Douglas and T. Peucker (1973).

    >>> simplified(np.array([0j, 1 + 0.01j, 2 + 0j, 2 + 5j]), 0.05).tolist()
    [0j, (2+0j), (2+5j)]
    """
    kept = np.zeros(points.size, dtype=np.bool_)
    kept[[0, -1]] = True
    waiting = [(0, points.size - 1)]
    while waiting:
        first, last = waiting.pop()
        if last - first < 2:
            continue
        inner, start = points[first + 1 : last], points[first]
        along = np.full(inner.size, points[last] - start)
        away = np.abs(onto(inner, np.full(inner.size, start), along) - inner)
        far = int(np.argmax(away))
        if away[far] > within_mm:
            kept[first + 1 + far] = True
            waiting += [(first, first + 1 + far), (first + 1 + far, last)]
    return points[kept]
