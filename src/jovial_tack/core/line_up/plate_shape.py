"""The outline of a bracket plate round what is cut through it (docs/METHOD.md, section 16).

Pads round the cuts, webs or a hull between them, inner corners rounded, and what must be kept out of
cut away. Unions and offsets are shapely's (GEOS); what is made of them is ours. mm.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from jovial_tack.core.arrays import Complex
from jovial_tack.core.line_up.plate_cuts import QUARTER, Cut, KeptOut, Ring
from jovial_tack.core.line_up.rings import flat, ring_of
from jovial_tack.core.value import Value

#: An area below which two things only touch, mm²; a depth that counts for nothing, mm.
_TOUCH_MM2, _TOUCH_MM = 1e-3, 0.02
#: Pieces of a quarter while something moves: what is drawn is looked at, not made.
_LIVE_QUARTER = 12


class Shape(Value, frozen=True, eq=False):
    """A plate. metal: all of it without what is cut through; blocked: pairs of cuts whose web would
    meet something, and the place of that among what is kept out.
    """

    metal: BaseGeometry
    blocked: tuple[tuple[str, str, int], ...] = ()

    @property
    def pieces(self) -> tuple[shapely.Polygon, ...]:
        """What it hangs together in, the largest first."""
        each = [
            part
            for part in shapely.get_parts(self.metal)
            if isinstance(part, shapely.Polygon) and not part.is_empty
        ]
        return tuple(sorted(each, key=lambda part: -part.area))

    @property
    def rings(self) -> tuple[Ring, ...]:
        """The outlines with their arcs, each piece's outer one before its inner ones."""
        return tuple(
            ring_of(_complex(ring))
            for piece in self.pieces
            for ring in (piece.exterior, *piece.interiors)
        )

    @property
    def lines(self) -> tuple[Complex, ...]:
        """The same as corners only, as for a picture."""
        return tuple(
            _complex(ring) for piece in self.pieces for ring in (piece.exterior, *piece.interiors)
        )


def shape_plate(
    cuts: Sequence[Cut],
    webs: Sequence[tuple[str, str]] | None,
    *,
    web_mm: float | None,
    fillet_mm: float,
    keep_outs: Sequence[KeptOut] = (),
    live: bool = False,
) -> Shape:
    """The shape of a plate.

    Parameters: webs: the pairs that are joined, None for the hull round all; web_mm: how wide a web is
    at most, None for as wide as the pads; fillet_mm: the least radius of inner corners; live: coarser,
    for what follows the pointer.
    """
    quarter = _LIVE_QUARTER if live else QUARTER
    pads = [spine_of(cut).buffer(cut.pad_mm, quad_segs=quarter) for cut in cuts]
    if not pads:
        return Shape(shapely.Polygon())
    grown = [grown_out(one, quarter) for one in keep_outs]
    blocked: list[tuple[str, str, int]] = []
    if webs is None:
        joined = shapely.union_all(pads).convex_hull
        near = [one for one in grown if one.intersects(joined)]
        metal = _cut_out(joined, pads, near, fillet_mm, quarter)
    else:
        by_id = {cut.id: cut for cut in cuts}
        parts: list[BaseGeometry] = list(pads)
        for a, b in webs:
            web = _web(by_id[a], by_id[b], web_mm, quarter)
            meets = [k for k, one in enumerate(grown) if one.intersection(web).area > _TOUCH_MM2]
            blocked += [(a, b, k) for k in meets]
            if not meets:
                parts.append(web)
        metal = closed(shapely.union_all(parts), fillet_mm, quarter)
    return Shape(shapely.normalize(metal), tuple(blocked))


def _cut_out(
    joined: BaseGeometry,
    pads: Sequence[BaseGeometry],
    away: Sequence[BaseGeometry],
    fillet_mm: float,
    quarter: int,
) -> BaseGeometry:
    """A hull with what is kept out cut away, pads left whole, inner corners rounded."""
    if not away:
        return joined  # a hull has no inner corner
    out = shapely.union_all(away)
    metal = closed(shapely.union_all([joined.difference(out), *pads]), fillet_mm, quarter)
    own = shapely.union_all(list(pads)).buffer(_TOUCH_MM)
    if metal.intersection(out).difference(own).area > _TOUCH_MM:
        # rounding a corner has filled it: so much more is cut that the round one stays out
        wide = out.buffer(fillet_mm, quad_segs=quarter)
        metal = closed(shapely.union_all([joined.difference(wide), *pads]), fillet_mm, quarter)
    return metal


def _web(a: Cut, b: Cut, web_mm: float | None, quarter: int) -> BaseGeometry:
    """The web between the middles of two cuts: the hull of two discs."""
    discs = [
        shapely.Point(cut.middle.real, cut.middle.imag).buffer(
            cut.pad_mm if web_mm is None else min(cut.pad_mm, web_mm / 2), quad_segs=quarter
        )
        for cut in (a, b)
    ]
    return shapely.union_all(discs).convex_hull


def closed(metal: BaseGeometry, radius_mm: float, quarter: int = QUARTER) -> BaseGeometry:
    """A shape with inner corners of a radius at least: grown by it, and shrunk again."""
    if radius_mm <= 0:
        return metal
    return metal.buffer(radius_mm, quad_segs=quarter).buffer(-radius_mm, quad_segs=quarter)


def spine_of(cut: Cut) -> BaseGeometry:
    """The spine of a cut."""
    points = [(p.real, p.imag) for p in cut.spine.tolist()]
    return shapely.LineString(points) if len(points) > 1 else shapely.Point(points[0])


def area_out(one: KeptOut) -> BaseGeometry:
    """What is kept out, without its gap."""
    outline = shapely.Polygon([(p.real, p.imag) for p in one.outline.tolist()])
    return outline if outline.is_valid else shapely.make_valid(outline)


def grown_out(one: KeptOut, quarter: int = QUARTER) -> BaseGeometry:
    """What is kept out with the gap that is kept from it."""
    area = area_out(one)
    return area.buffer(one.clear_mm, quad_segs=quarter) if one.clear_mm > 0 else area


def _complex(ring: shapely.LinearRing) -> Complex:
    """The corners of a ring, the first not told twice."""
    across, up = np.asarray(ring.coords)[:-1].T
    return np.asarray(across + 1j * up)


def grown_rings(rings: Sequence[Ring], by_mm: float) -> tuple[Ring, ...]:
    """Rings, outer ones and what they enclose, grown by some mm (shrunk for less than 0)."""
    areas = [shapely.Polygon([(p.real, p.imag) for p in flat(ring).tolist()]) for ring in rings]
    metal: BaseGeometry = shapely.Polygon()
    for area in sorted(areas, key=lambda area: -area.area):
        # a ring inside of what there is so far is an opening in it
        inside = metal.contains(area.representative_point())
        metal = metal.difference(area) if inside else metal.union(area)
    return Shape(shapely.normalize(metal.buffer(by_mm, quad_segs=QUARTER))).rings
