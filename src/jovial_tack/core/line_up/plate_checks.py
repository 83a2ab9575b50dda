"""Whether a bracket plate can be made and holds: edges, webs, what it meets.

docs/METHOD.md, section 16. mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points

from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.line_up.plate_cuts import Cut, KeptOut
from jovial_tack.core.line_up.plate_shape import Shape, area_out, grown_out, spine_of
from jovial_tack.core.value import Value

#: The widest disc is found to this, mm, on an outline that is no further off than the next.
_WEB_MM, _COARSE_MM = 0.01, 0.002
#: A disc this much wider than the widest no longer gets through: what it leaves apart is the neck.
_PAST_MM = 0.05
_ERODED_QUARTER = 12
#: How near a band is drawn to what it stands for.
_BAND_MM = 0.05
_TOUCHES_MM = 1e-6


class Edge(Value, frozen=True):
    """From the spine of a cut to the edge of the plate, mm, and where on the edge."""

    away_mm: float
    at: complex


class Web(Value, frozen=True):
    """The widest disc that gets from every cut to every other, mm, and where it only just does; at:
    None where it is never narrower than at the cuts themselves.
    """

    width_mm: float
    at: complex | None


class Met(Value, frozen=True):
    """Something kept out that a plate meets. which: its place; gap_mm: to it without the gap it keeps,
    less than 0 by how deep the plate stands in it; at: the place.
    """

    which: int
    gap_mm: float
    at: complex


def edges(cuts: Sequence[Cut], shape: Shape) -> tuple[Edge, ...]:
    """How far each cut's spine is from the edge of the plate, inner edges too."""
    boundary = shape.metal.boundary
    found = []
    for cut in cuts:
        here, there = nearest_points(spine_of(cut), boundary)
        found.append(Edge(float(here.distance(there)), complex(there.x, there.y)))
    return tuple(found)


def gaps_between(cuts: Sequence[Cut]) -> Float:
    """Metal between each two cuts (N, N), less than 0 where they run into one another."""
    spines = np.array([spine_of(cut) for cut in cuts], dtype=object)
    half = np.array([cut.width_mm / 2 for cut in cuts])
    away = shapely.distance(spines[:, None], spines[None, :])
    return np.asarray(away - half[:, None] - half[None, :])


def least_web(cuts: Sequence[Cut], shape: Shape) -> Web | None:
    """The least web of a plate; None with fewer than two cuts, 0 where it is in pieces.

    Found by halving: the outline shrunk by half a width must still hold all spines in one piece.
    """
    if len(cuts) < 2:
        return None
    metal = shape.metal.simplify(_COARSE_MM)
    spines = [spine_of(cut) for cut in cuts]
    low, high = 0.0, 2.0 * min(edge.away_mm for edge in edges(cuts, shape)) + _WEB_MM
    if not _holds_all(metal, spines):
        return Web(0.0, None)
    while high - low > _WEB_MM:
        middle = (low + high) / 2
        if _holds_all(_shrunk(metal, middle), spines):
            low = middle
        else:
            high = middle
    width = (low + high) / 2
    return Web(width, _neck(_shrunk(metal, width + _PAST_MM), spines))


def _shrunk(metal: BaseGeometry, width_mm: float) -> BaseGeometry:
    return metal.buffer(-width_mm / 2, quad_segs=_ERODED_QUARTER)


def _holds_all(metal: BaseGeometry, spines: Sequence[BaseGeometry]) -> bool:
    """Whether one piece meets all spines."""
    return any(
        not piece.is_empty and all(piece.intersects(spine) for spine in spines)
        for piece in shapely.get_parts(metal)
    )


def _neck(metal: BaseGeometry, spines: Sequence[BaseGeometry]) -> complex | None:
    """Where a plate that was shrunk too far came apart: between the pieces that still hold cuts."""
    pieces = [
        piece
        for piece in shapely.get_parts(metal)
        if not piece.is_empty and any(piece.intersects(spine) for spine in spines)
    ]
    if len(pieces) < 2:
        return None
    first, rest = pieces[0], shapely.union_all(pieces[1:])
    here, there = nearest_points(first, rest)
    return complex(here.x + there.x, here.y + there.y) / 2


def meets(shape: Shape, keep_outs: Sequence[KeptOut], slack_mm: float) -> tuple[Met, ...]:
    """What of that which is kept out a plate comes nearer than it may, by more than some slack."""
    found = []
    for k, one in enumerate(keep_outs):
        area = area_out(one)
        if shape.metal.distance(area) > one.clear_mm:
            continue
        inside = shape.metal.intersection(grown_out(one))
        if inside.is_empty:
            continue
        gap, at = _depth(shape.metal, area)
        if gap < one.clear_mm - slack_mm:
            found.append(Met(k, gap, at))
    return tuple(found)


def _depth(metal: BaseGeometry, area: BaseGeometry) -> tuple[float, complex]:
    """The gap between a plate and an area, or how deep one stands in the other (less than 0)."""
    metal, area = metal.simplify(_COARSE_MM), area.simplify(_COARSE_MM)
    both = metal.intersection(area)
    if both.is_empty or both.area == 0:
        here, there = nearest_points(metal, area)
        return float(here.distance(there)), complex(here.x, here.y)
    # on the edge of one of the two each corner lies as deep as it is from the edge of the other
    corners = shapely.get_coordinates(both)
    points = shapely.points(corners)
    edges_of = (metal.boundary, area.boundary)
    depths = np.max([shapely.distance(points, edge) for edge in edges_of], axis=0)
    worst = int(np.argmax(depths))
    return -float(depths[worst]), complex(*corners[worst])


def swept(outlines: Sequence[Complex]) -> tuple[Complex, ...]:
    """What something covers that moves from outline to outline (each (K,), equally many corners): the
    hulls from each to the next, as one or several closed lines.
    """
    if len(outlines) == 1:
        area: BaseGeometry = shapely.Polygon([(p.real, p.imag) for p in outlines[0].tolist()])
    else:
        area = shapely.union_all(
            [
                shapely.MultiPoint([(p.real, p.imag) for p in (*one.tolist(), *other.tolist())])
                .convex_hull.buffer(0)
                for one, other in pairwise(outlines)
            ]
        )  # fmt: skip
    return tuple(
        _line(part) for part in shapely.get_parts(area) if isinstance(part, shapely.Polygon)
    )


def bands(parts: Sequence[Complex]) -> tuple[Complex, ...]:
    """Closed outlines (each (K,)) as those of their union; what they enclose is not filled.

    A ring round something open is cut in two, since an outline has no inner one.
    """
    area = shapely.union_all(
        [shapely.Polygon([(p.real, p.imag) for p in part.tolist()]).buffer(0) for part in parts]
    )
    found: list[Complex] = []
    for part in shapely.get_parts(area.simplify(_BAND_MM)):
        if isinstance(part, shapely.Polygon):
            found += [_line(piece) for piece in _without_holes(part)]
    return tuple(found)


def _without_holes(part: shapely.Polygon) -> list[shapely.Polygon]:
    """A polygon in pieces that enclose nothing: split along an upright line through each inner ring."""
    if not part.interiors:
        return [part]
    x = shapely.Polygon(part.interiors[0]).representative_point().x
    low, bottom, high, top = part.bounds
    halves = [
        part.intersection(shapely.box(low - 1, bottom - 1, x, top + 1)),
        part.intersection(shapely.box(x, bottom - 1, high + 1, top + 1)),
    ]
    pieces: list[shapely.Polygon] = []
    for half in halves:
        for piece in shapely.get_parts(half):
            if isinstance(piece, shapely.Polygon):
                pieces += _without_holes(piece)
    return pieces


def barrier(points: Complex, half_mm: float) -> tuple[Complex, ...]:
    """An open line (K,) as the closed outlines of a band round it."""
    line = shapely.LineString([(p.real, p.imag) for p in points.tolist()])
    return bands([_line(line.buffer(half_mm, quad_segs=4))])


def _line(part: shapely.Polygon) -> Complex:
    across, up = np.asarray(part.exterior.coords)[:-1].T
    return np.asarray(across + 1j * up)


def widths(metal: BaseGeometry, start: complex, end: complex, sections: int = 9) -> float:
    """How wide a plate is across the way between two places: the one width that bends as much, mm.

    What bends is 1/width summed along the way, so that the narrow places count most; round an opening
    both its sides count. 0 where the way leaves the plate.
    """
    way = (end - start) / abs(end - start)
    reach = 1e4 * 1j * way
    middle = [start + (end - start) * (k + 0.5) / sections for k in range(sections)]
    found = []
    for place in middle:
        a, b = place - reach, place + reach
        line = shapely.LineString([(a.real, a.imag), (b.real, b.imag)])
        inside = metal.intersection(line)
        # the piece the way itself runs through; in an opening those to either side of it
        beside = {-1: 0.0, 0: 0.0, 1: 0.0}
        nearest = {-1: np.inf, 0: np.inf, 1: np.inf}
        for part in shapely.get_parts(inside):
            if part.length == 0:
                continue
            middle_of = part.interpolate(0.5, normalized=True)
            along = ((complex(middle_of.x, middle_of.y) - place) * (1j * way).conjugate()).real
            away = float(part.distance(shapely.Point(place.real, place.imag)))
            side = 0 if away < _TOUCHES_MM else int(np.sign(along))
            if away < nearest[side]:
                nearest[side], beside[side] = away, float(part.length)
        found.append(beside[0] or (beside[-1] + beside[1] if beside[-1] and beside[1] else 0.0))
    return sections / sum(1.0 / width for width in found) if all(found) else 0.0
