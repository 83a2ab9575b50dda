"""Gaps between a belt and its pulleys and what is in the way (docs/METHOD.md, section 5).

Everything is cut into straight pieces, short enough that an arc lies within a few hundredths of a
millimetre of them; the gap is then the least distance between two sets of pieces, less what the
belt itself needs.
"""

from __future__ import annotations

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


@dataclass(frozen=True)
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
    pieces = _nearest_pieces(pieces, outline)
    start, end = outline.edges
    away, here, there = _between(pieces.start[:, None], pieces.end[:, None], start, end)
    left = cross((pieces.end - pieces.start)[:, None], there - here) > 0
    gap = away - np.where(left, pieces.room[:, :1], pieces.room[:, 1:])
    if outline.closed:
        inside = is_inside(pieces.start, outline)
        deep = np.where(inside, away.min(axis=1), -np.inf)
        if inside.any():
            k = int(np.argmax(deep))
            gap[k] = -float(deep[k]) - float(pieces.room[k].max())
            gap[k] += away[k] - away[k].min()
    k, j = divmod(int(np.argmin(gap)), gap.shape[1])
    return Gap(float(gap[k, j]), complex(here[k, j]), complex(there[k, j]), int(pieces.of[k]))


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


def disc_gap(centers: Complex, radii_mm: Float, outline: Outline) -> Gap:
    """The least gap between pulleys (N,) and an outline."""
    start, end = outline.edges
    there = _onto(centers[:, None], start, end - start)
    away = np.abs(there - centers[:, None])
    sign = np.ones(centers.shape)
    if outline.closed:
        sign = np.where(is_inside(centers, outline), -1.0, 1.0)
    nearest = np.argmin(away, axis=1)
    lane = np.arange(centers.size)
    gap = sign * away[lane, nearest] - radii_mm
    k = int(np.argmin(gap))
    to = complex(there[k, nearest[k]])
    line = to - complex(centers[k])
    rim = complex(centers[k]) + float(radii_mm[k]) * (line / abs(line) if line else 0)
    return Gap(float(gap[k]), rim, to, k)


def box_distance(points: Complex, outline: Outline) -> float:
    """A cheap lower bound: the least distance of points (M,) from the box round an outline, mm.

    >>> box_distance(np.array([0j, 7 + 0j]), Outline(np.array([10 - 1j, 12 + 1j]), False))
    3.0
    """
    return float(_box_distances(points, outline).min())


def _box_distances(points: Complex, outline: Outline) -> Float:
    x, y = outline.points.real, outline.points.imag
    across = np.maximum(np.maximum(x.min() - points.real, points.real - x.max()), 0.0)
    up = np.maximum(np.maximum(y.min() - points.imag, points.imag - y.max()), 0.0)
    return np.asarray(np.hypot(across, up))


def _nearest_pieces(pieces: Pieces, outline: Outline) -> Pieces:
    """The pieces that may hold the least gap: none nearer than the best can be farther than this."""
    to_box = _box_distances(pieces.start, outline)
    x, y = outline.points.real, outline.points.imag
    slack = float(np.hypot(np.ptp(x), np.ptp(y))) + float(np.abs(pieces.end - pieces.start).max())
    kept = to_box <= to_box.min() + slack + float(pieces.room.max())
    return Pieces(pieces.start[kept], pieces.end[kept], pieces.room[kept], pieces.of[kept])


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
