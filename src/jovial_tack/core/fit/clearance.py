"""Gaps between a belt and its pulleys and what is in the way (docs/METHOD.md, section 5).

Everything is cut into straight pieces, short enough that an arc lies within a few hundredths of a
millimetre of them; the gap is then the least distance between two sets of pieces, less what the
belt itself needs.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float, Int, cross, dot
from jovial_tack.core.drive.path import Path

_SPAN_PIECES = 16
_ARC_PIECES = 72
_SHARES = np.linspace(0.0, 1.0, _SPAN_PIECES + 1)
_MIDDLES = (_SHARES[1:] + _SHARES[:-1]) / 2
_TURNS = np.linspace(0.0, 1.0, _ARC_PIECES + 1)


@dataclass(frozen=True)
class Pieces:
    """Straight pieces: start and end (M,) complex mm; room (M, 2) mm they need to their left and right;
    of (M,) the place on the route they belong to (spans by the pulley they leave).
    """

    start: Complex
    end: Complex
    room: Float
    of: Int


@dataclass(frozen=True, eq=False)
class Outline:
    """Something in the way: points (K,) complex mm; closed: it has an inside."""

    points: Complex
    closed: bool

    @property
    def edges(self) -> tuple[Complex, Complex]:
        """Starts and ends of its sides."""
        if self.closed:
            return self.points, np.roll(self.points, -1)
        return self.points[:-1], self.points[1:]


@dataclass(frozen=True)
class Outlines:
    """O outlines to be looked at together: all sides (E,), the first side and the number of sides of
    each (O,), and the corners of the box round each (O,), complex mm.
    """

    each: tuple[Outline, ...]
    start: Complex
    end: Complex
    first: Int
    sides: Int
    low: Complex
    high: Complex

    @staticmethod
    def of(each: Sequence[Outline]) -> Outlines:
        """At least one outline."""
        starts, ends = zip(*(outline.edges for outline in each), strict=True)
        sides = np.array([start.size for start in starts])
        points = [outline.points for outline in each]
        low = np.array([complex(p.real.min(), p.imag.min()) for p in points])
        high = np.array([complex(p.real.max(), p.imag.max()) for p in points])
        return Outlines(
            tuple(each), np.concatenate(starts), np.concatenate(ends),
            np.cumsum(sides) - sides, sides, low, high,
        )  # fmt: skip

    def box_distances(self, points: Complex) -> Float:
        """A cheap lower bound: distances (O, M) of points (M,) from the boxes, mm."""
        low, high = self.low[:, None], self.high[:, None]
        across = np.maximum(np.maximum(low.real - points.real, points.real - high.real), 0.0)
        up = np.maximum(np.maximum(low.imag - points.imag, points.imag - high.imag), 0.0)
        return np.asarray(np.hypot(across, up))


@dataclass(frozen=True)
class Gap:
    """The least gap, mm (negative: how deep one stands in the other), the two points it lies between,
    and the place on the route it belongs to.
    """

    gap_mm: float
    here: complex
    there: complex
    of: int


def belt_pieces(
    path: Path, driver_sign: float, cord_to_back_mm: float, rib_depth_mm: float, flutter: float
) -> Pieces:
    """A belt's cord line in pieces, with the room its back and its ribs need.

    Parameters: one lane of a path; +1 if the driver turns ccw (the ribs are then on the left of the
    travel); cord to back and cord to the tips of the ribs, mm; flutter: how far a span may swing at its
    middle, as a share of its length. Spans swing as a parabola, 4·f·ℓ·s(1 − s).
    """
    count = path.signed_radii.size
    begin, finish = path.start, path.end
    spans = begin[:, None] + _SHARES * (finish - begin)[:, None]
    swing = 4.0 * flutter * path.length[:, None] * (_MIDDLES * (1.0 - _MIDDLES))
    # the arc on pulley k begins where the span before it ends
    turn = (np.sign(path.signed_radii) * path.wrap)[:, None] * _TURNS
    onto = (np.roll(finish, 1) - path.centers)[:, None]
    arcs = path.centers[:, None] + onto * np.exp(1j * turn)
    room = np.concatenate([swing.ravel(), np.zeros(count * _ARC_PIECES)])
    ribs, back = room + rib_depth_mm, room + cord_to_back_mm
    index = np.arange(count)
    return Pieces(
        np.concatenate([spans[:, :-1].ravel(), arcs[:, :-1].ravel()]),
        np.concatenate([spans[:, 1:].ravel(), arcs[:, 1:].ravel()]),
        np.stack([ribs, back] if driver_sign > 0 else [back, ribs], axis=1),
        np.concatenate([np.repeat(index, _SPAN_PIECES), np.repeat(index, _ARC_PIECES)]),
    )


def belt_gap(pieces: Pieces, outline: Outline) -> Gap:
    """The least gap between a belt and an outline, less the room the belt needs on that side."""
    return belt_gaps(pieces, Outlines.of([outline]))[0]


def belt_gaps(pieces: Pieces, outlines: Outlines) -> list[Gap]:
    """The least gap between a belt and each outline, less the room the belt needs on that side.

    Pieces are only looked at where they can be nearest to an outline: the one nearest to its box is no
    further from it than the box is wide.
    """
    to_box = outlines.box_distances(pieces.start)
    longest = float(np.abs(pieces.end - pieces.start).max())
    slack = np.abs(outlines.high - outlines.low) + longest + float(pieces.room.max())
    outline, piece = np.nonzero(to_box <= (to_box.min(axis=1) + slack)[:, None])
    times = outlines.sides[outline]
    ends = np.cumsum(times)
    side = np.arange(ends[-1]) + np.repeat(outlines.first[outline] - ends + times, times)
    outline, piece = np.repeat(outline, times), np.repeat(piece, times)
    a, b = pieces.start[piece], pieces.end[piece]
    away, here, there = _between(a, b, outlines.start[side], outlines.end[side])
    left = cross(b - a, there - here) > 0
    gap = away - np.where(left, pieces.room[piece, 0], pieces.room[piece, 1])
    bounds = np.searchsorted(outline, np.arange(len(outlines.each) + 1))
    inside = to_box.min(axis=1) == 0
    found = []
    for k, one in enumerate(outlines.each):
        low, high = int(bounds[k]), int(bounds[k + 1])
        own = slice(low, high)
        if inside[k] and one.closed:
            gap[own] = _inner_gaps(one, pieces, piece[own], away[own], gap[own])
        best = low + int(np.argmin(gap[own]))
        found.append(
            Gap(
                float(gap[best]),
                complex(here[best]),
                complex(there[best]),
                int(pieces.of[piece[best]]),
            )
        )
    return found


def _inner_gaps(outline: Outline, pieces: Pieces, piece: Int, away: Float, gap: Float) -> Float:
    """Gaps to a closed outline into which the belt may run: the deepest piece counts, from its side."""
    inside = is_inside(pieces.start[piece], outline)
    if not inside.any():
        return gap
    nearest = np.full(pieces.start.size, np.inf)
    np.minimum.at(nearest, piece, away)
    deep = np.where(inside, nearest[piece], -np.inf)
    k = int(np.argmax(deep))
    own = piece == piece[k]
    gap = gap.copy()
    gap[own] = -float(deep[k]) - float(pieces.room[piece[k]].max()) + away[own] - float(deep[k])
    return gap


def disc_gap(centers: Complex, radii_mm: Float, outline: Outline) -> Gap:
    """The least gap between pulleys (N,) and an outline."""
    return disc_gaps(centers, radii_mm, Outlines.of([outline]))[0]


def disc_gaps(centers: Complex, radii_mm: Float, outlines: Outlines) -> list[Gap]:
    """The least gap between pulleys (N,) and each outline."""
    feet = _onto(centers[:, None], outlines.start, outlines.end - outlines.start)
    away = np.abs(feet - centers[:, None])
    nearest = np.minimum.reduceat(away, outlines.first, axis=1)
    inside = outlines.box_distances(centers) == 0
    found = []
    for k, one in enumerate(outlines.each):
        sign: Float = np.ones(1)
        if one.closed and inside[k].any():
            sign = np.where(is_inside(centers, one), -1.0, 1.0)
        gap = sign * nearest[:, k] - radii_mm
        disc, low = int(np.argmin(gap)), int(outlines.first[k])
        center = complex(centers[disc])
        to = complex(feet[disc, low + int(np.argmin(away[disc, low : low + outlines.sides[k]]))])
        line = to - center
        rim = center + float(radii_mm[disc]) * (line / abs(line) if line else 0)
        found.append(Gap(float(gap[disc]), rim, to, disc))
    return found


def outline_gap(one: Outline, other: Outline) -> Gap:
    """The least gap between two outlines, mm; negative: how deep a corner of one lies in the other."""
    start, end = one.edges
    a, b = other.edges
    away, here, there = _between(start[:, None], end[:, None], a, b)
    k, j = divmod(int(np.argmin(away)), away.shape[1])
    deepest = 0.0
    for inner, outer in ((one, other), (other, one)):
        inside = is_inside(inner.points, outer) if outer.closed else np.zeros(1, dtype=np.bool_)
        if inside.any():
            c, d = outer.edges
            corners = inner.points[inside][:, None]
            depth = np.abs(_onto(corners, c, d - c) - corners).min(axis=1)
            deepest = max(deepest, float(depth.max()))
    gap = -deepest if deepest else float(away[k, j])
    return Gap(gap, complex(here[k, j]), complex(there[k, j]), 0)


def box_distance(points: Complex, outline: Outline) -> float:
    """A cheap lower bound: the least distance of points (M,) from the box round an outline, mm.

    >>> box_distance(np.array([0j, 7 + 0j]), Outline(np.array([10 - 1j, 12 + 1j]), False))
    3.0
    """
    return float(Outlines.of([outline]).box_distances(points).min())


def _between(a: Complex, b: Complex, c: Complex, d: Complex) -> tuple[Float, Complex, Complex]:
    """Distance of segments ab and cd (broadcast), and the nearest points of each.

    Zero where they cross; otherwise the nearest points include an end of one of them.
    """
    # four tries at once: each end of one segment against the whole of the other
    shape = (3, 4, *np.broadcast_shapes(np.shape(a), np.shape(c)))
    point, start, along = np.empty(shape, dtype=np.complex128)
    point[0], point[1], point[2], point[3] = a, b, c, d
    start[:2], start[2:] = c, a
    along[:2], along[2:] = d - c, b - a
    foot = _onto(point, start, along)
    away = np.abs(foot - point)
    best = np.argmin(away, axis=0)
    at = (best, *np.indices(best.shape, sparse=True))
    own, other = point[at], foot[at]
    here, there = np.where(best < 2, own, other), np.where(best < 2, other, own)
    side = cross(along, point - start)
    meets = (side[0] * side[1] < 0) & (side[2] * side[3] < 0)
    return np.where(meets, 0.0, away[at]), here, there


def _onto(point: Complex, start: Complex, along: Complex) -> Complex:
    """The point of the segment from start along a vector that is nearest to a point (broadcast)."""
    square = np.maximum(dot(along, along), 1e-30)
    share = np.minimum(np.maximum(dot(point - start, along) / square, 0.0), 1.0)
    return np.asarray(start + share * along)


def is_inside(points: Complex, outline: Outline) -> Bool:
    """Whether points (M,) lie inside a closed outline: an odd number of sides above each.

    >>> square = Outline(np.array([0, 10, 10 + 10j, 10j]), True)
    >>> is_inside(np.array([5 + 5j, 15 + 5j]), square).tolist()
    [True, False]
    """
    start, end = outline.edges
    x, y = points.real[:, None], points.imag[:, None]
    spans = (start.real <= x) != (end.real <= x)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = start.imag + (x - start.real) / (end.real - start.real) * (end.imag - start.imag)
    return np.asarray((spans & (at > y)).sum(axis=1) % 2 == 1)
