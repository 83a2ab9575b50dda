"""Gaps between belts and their pulleys and what is in the way (docs/METHOD.md, section 5).

Everything is cut into straight pieces, short enough that an arc lies within a few hundredths of a
millimetre of them; the gap is then the least distance between two sets of pieces, less what the
belt itself needs. Only the spans and arcs that can hold the least gap are cut at all. Several belts are
looked at together as several routes of one path, each outline against the one it is in the way of.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float, Int, cross
from jovial_tack.core.drive.path import Path
from jovial_tack.core.drive.ring import Ring, ring_of
from jovial_tack.core.lay_out.outlines import Gap, Outline, Outlines, between, is_inside, onto
from jovial_tack.core.value import Value

_SPAN_PIECES = 16
_ARC_PIECES = 72
_SHARES = np.linspace(0.0, 1.0, _SPAN_PIECES + 1)
_MIDDLES = (_SHARES[1:] + _SHARES[:-1]) / 2
_TURNS = np.linspace(0.0, 1.0, _ARC_PIECES + 1)


class Room(Value, frozen=True):
    """What a belt needs beside its cord line: mm to the left and right of its travel, and flutter,
    how far a span may swing at its middle as a share of its length. Each once, or at each pulley (N,).
    """

    left_mm: float | Float
    right_mm: float | Float
    flutter: float | Float

    @staticmethod
    def of(driver_sign: float, back_mm: float, ribs_mm: float, flutter: float) -> Room:
        """From cord to back and cord to the tips of the ribs, mm; the ribs are on the left of the
        travel if the driver turns ccw (+1).
        """
        sides = (ribs_mm, back_mm) if driver_sign > 0 else (back_mm, ribs_mm)
        return Room(*sides, flutter)

    @staticmethod
    def beside(each: list[Room], ring: Ring) -> Room:
        """That of several belts, one a route."""

        def spread(figures: list[float | Float]) -> Float:
            return np.repeat(np.array(figures), ring.sizes)

        return Room(
            spread([room.left_mm for room in each]),
            spread([room.right_mm for room in each]),
            spread([room.flutter for room in each]),
        )

    @property
    def most_mm(self) -> Float:
        """The greater of both sides, mm."""
        return np.maximum(self.left_mm, self.right_mm)


class Pieces(Value, frozen=True):
    """Straight pieces: start and end (M,) complex mm; left, right (M,) mm they need beside them;
    of (M,) the pulley they belong to (spans the one they leave), route (M,) its route.
    """

    start: Complex
    end: Complex
    left: Float
    right: Float
    of: Int
    route: Int


def at_a_glance(path: Path, rims_mm: Float, room: Room, outlines: Outlines) -> Float:
    """How far a belt and its pulleys are at least from each outline (O,), mm.

    Parameters: one lane of a path; radii of the pulleys (N,).
    """
    middle, radius = outlines.balls[0][:, None], outlines.balls[1][:, None]
    spans = np.abs(onto(middle, path.start, path.direction * path.length) - middle)
    discs = np.abs(path.centers - middle)
    swing = room.flutter * path.length + room.most_mm
    rims = np.maximum(rims_mm, np.abs(path.signed_radii) + room.most_mm)
    nearest = np.minimum(spans - swing, discs - rims) - radius
    nearest[outlines.strangers(path.ring)] = np.inf
    return np.asarray(nearest.min(axis=1))


class Bounds(Value, frozen=True):
    """How far the parts of a belt can be from outlines: at_least (O, 2N) mm for each span and then each
    arc of contact, at_most (O,) for the whole belt; −∞ for a part that may lie in a closed outline.
    """

    at_least: Float
    at_most: Float

    @staticmethod
    def of(path: Path, room: Room, outlines: Outlines) -> Bounds:
        """For one lane of a path."""
        start, end, along = outlines.start[:, None], outlines.end[:, None], outlines.along[:, None]
        spans, _, _ = between(path.start, path.end, start, end)
        discs = np.abs(onto(path.centers, start, along) - path.centers)
        away = np.minimum.reduceat(np.concatenate([spans, discs], axis=1), outlines.first)
        away[np.tile(outlines.strangers(path.ring), 2)] = np.inf
        swing, radii = room.flutter * path.length, np.abs(path.signed_radii)
        most = room.most_mm
        least = away - np.concatenate([swing + most, radii + most])
        ends, before = np.concatenate([path.start, path.end]), path.ring.before
        # of another route the distance was set to infinite above: such pieces never count
        own = np.isfinite(away[:, : radii.size])
        near = (outlines.box_distances(ends) == 0) & np.tile(own, 2)
        for k in np.flatnonzero(near.any(axis=1)):
            if outlines.each[k].closed:
                leaves, meets = is_inside(ends, outlines.each[k]).reshape(2, -1)
                within = np.concatenate([leaves | meets, leaves | meets[before]])
                least[k, within & np.tile(own[k], 2)] = -np.inf
        closed = np.array([outline.closed for outline in outlines.each])
        # a closed outline may hold the piece: any depth is possible then, so that it is looked at whole
        least[closed[:, None] & (least <= 0)] = -np.inf
        return Bounds(least, away[:, : radii.size].min(axis=1))

    def parts(self, which: Int) -> Bool:
        """Spans and arcs (2N,) that may hold the least gap to one of the chosen outlines."""
        return np.asarray((self.at_least[which] <= self.at_most[which, None]).any(axis=0))


def belt_pieces(path: Path, room: Room, parts: Bool | None = None) -> Pieces:
    """A belt's cord line in pieces, with the room its back and its ribs need.

    Parameters: one lane of a path; parts (2N,): the spans and then the arcs that are wanted. Spans
    swing as a parabola, 4·f·ℓ·s(1 − s).
    """
    count = path.signed_radii.size
    index = np.arange(count)
    runs, rims = (index, index) if parts is None else map(np.flatnonzero, parts.reshape(2, count))
    begin, finish = path.start[runs], path.end[runs]
    spans = begin[:, None] + _SHARES * (finish - begin)[:, None]
    swing = 4.0 * (room.flutter * path.length)[runs, None] * (_MIDDLES * (1.0 - _MIDDLES))
    # the arc on a pulley begins where the span before it ends
    turn = (np.sign(path.signed_radii[rims]) * path.wrap[rims])[:, None] * _TURNS
    center = path.centers[rims, None]
    arcs = center + (path.end[path.ring.before[rims], None] - center) * np.exp(1j * turn)
    of = np.concatenate([np.repeat(runs, _SPAN_PIECES), np.repeat(rims, _ARC_PIECES)])
    swings = np.concatenate([swing.ravel(), np.zeros(rims.size * _ARC_PIECES)])
    left, right = (np.broadcast_to(side, count)[of] for side in (room.left_mm, room.right_mm))
    return Pieces(
        np.concatenate([spans[:, :-1].ravel(), arcs[:, :-1].ravel()]),
        np.concatenate([spans[:, 1:].ravel(), arcs[:, 1:].ravel()]),
        swings + left,
        swings + right,
        of,
        path.ring.of[of],
    )


def belt_gap(pieces: Pieces, outline: Outline) -> Gap:
    """The least gap between a belt and an outline, less the room the belt needs on that side."""
    return belt_gaps(pieces, Outlines.of([outline]))[0]


def belt_gaps(pieces: Pieces, outlines: Outlines, at_most: Float | None = None) -> list[Gap]:
    """The least gap between each outline and its belt, less the room the belt needs on that side.

    Pieces are only looked at where they can be nearest to an outline. at_most (O,): how far it is from
    the belt at most, mm; without it the piece nearest to its box, which is no further than the box is
    wide, tells.
    """
    to_box = outlines.box_distances(pieces.start)
    to_box[pieces.route != outlines.route[:, None]] = np.inf
    nearest = to_box.min(axis=1)
    reach = np.abs(pieces.end - pieces.start) + np.maximum(pieces.left, pieces.right)
    at_most = nearest + 2 * outlines.balls[1] if at_most is None else at_most
    outline, piece = np.nonzero(to_box - reach <= at_most[:, None])
    pair, side = _sides_near(pieces, outlines, outline, piece)
    outline, piece = outline[pair], piece[pair]
    a, b = pieces.start[piece], pieces.end[piece]
    away, here, there = between(a, b, outlines.start[side], outlines.end[side])
    # the room the belt needs differs by side: ribs one way, back and flutter the other
    on_left = cross(b - a, there - here) > 0
    gap = away - np.where(on_left, pieces.left[piece], pieces.right[piece])
    bounds = np.searchsorted(outline, np.arange(len(outlines.each) + 1))
    found = []
    for k, one in enumerate(outlines.each):
        low, high = int(bounds[k]), int(bounds[k + 1])
        own = slice(low, high)
        if nearest[k] == 0 and one.closed:
            gap[own] = _inner_gaps(one, pieces, piece[own], away[own], gap[own])
        best = low + int(np.argmin(gap[own]))
        place = int(pieces.of[piece[best]])
        found.append(Gap(float(gap[best]), complex(here[best]), complex(there[best]), place))
    return found


def _sides_near(pieces: Pieces, outlines: Outlines, outline: Int, piece: Int) -> tuple[Int, Int]:
    """Which sides of an outline (M,) can hold the least gap to a piece (M,): the pair of the two, and
    the side, one after another. Every pair keeps one at least.
    """
    times = outlines.sides[outline]
    ends = np.cumsum(times)
    begins = ends - times
    pair = np.repeat(np.arange(outline.size), times)
    side = np.arange(ends[-1]) + np.repeat(outlines.first[outline] - begins, times)
    middles = (pieces.start + pieces.end) / 2, (outlines.start + outlines.end) / 2
    halves = np.abs(pieces.end - pieces.start) / 2, np.abs(outlines.along) / 2
    apart = np.abs(middles[0][piece][pair] - middles[1][side])
    # no side is nearer than its middle less both halves, and the nearest no further than a middle;
    # a side on the other hand may count although it is further, as the belt may need more room there
    uneven = np.abs(pieces.left - pieces.right)[piece]
    at_most = np.minimum.reduceat(apart, begins) + uneven
    at_least = apart - halves[0][piece][pair] - halves[1][side]
    near = at_least <= at_most[pair]
    return pair[near], side[near]


def _inner_gaps(outline: Outline, pieces: Pieces, piece: Int, away: Float, gap: Float) -> Float:
    """Gaps to a closed outline into which the belt may run: the deepest piece counts, from its side.

    Every piece stands here once for each side of the outline near it, one after another.
    """
    # one entry a piece, where its number changes
    first = np.flatnonzero(np.diff(piece, prepend=-1))
    own = piece[first]
    inside = is_inside(pieces.start[own], outline)
    if not inside.any():
        return gap
    # outside pieces must not win: minus infinity is less deep than any
    deep = np.where(inside, np.minimum.reduceat(away, first), -np.inf)
    k = int(np.argmax(deep))
    room = max(pieces.left[own[k]], pieces.right[own[k]])
    gap, of_deepest = gap.copy(), slice(first[k], first[k + 1] if k + 1 < first.size else None)
    gap[of_deepest] = away[of_deepest] - 2 * float(deep[k]) - float(room)
    return gap


def disc_gap(centers: Complex, radii_mm: Float, outline: Outline) -> Gap:
    """The least gap between pulleys (N,) and an outline."""
    return disc_gaps(centers, radii_mm, Outlines.of([outline]))[0]


def disc_gaps(
    centers: Complex, radii_mm: Float, outlines: Outlines, ring: Ring | None = None
) -> list[Gap]:
    """The least gap between each outline and the pulleys (N,) of its route, if there are several."""
    feet = onto(centers[:, None], outlines.start, outlines.along)
    away = np.abs(feet - centers[:, None])
    nearest = np.minimum.reduceat(away, outlines.first, axis=1).T
    strangers = outlines.strangers(ring or ring_of(centers.size))
    inside = (outlines.box_distances(centers) == 0) & ~strangers
    found = []
    for k, one in enumerate(outlines.each):
        sign: Float = np.ones(1)
        if one.closed and inside[k].any():
            # with its centre inside a pulley is as deep as its nearest side is away, and its radius
            sign = np.where(is_inside(centers, one), -1.0, 1.0)
        gap = np.where(strangers[k], np.inf, sign * nearest[k] - radii_mm)
        disc, low = int(np.argmin(gap)), int(outlines.first[k])
        center = complex(centers[disc])
        to = complex(feet[disc, low + int(np.argmin(away[disc, low : low + outlines.sides[k]]))])
        line = to - center
        rim = center + float(radii_mm[disc]) * (line / abs(line) if line else 0)
        found.append(Gap(float(gap[disc]), rim, to, disc))
    return found
