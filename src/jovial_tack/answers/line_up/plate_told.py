"""A bracket plate worked out: its outline, what is wrong with it, its mass, and what the pull does.

docs/METHOD.md, section 16.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from math import degrees

import numpy as np

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import Case
from jovial_tack.answers.drive.pull import plate_pulled
from jovial_tack.answers.line_up import plate_findings as found
from jovial_tack.answers.line_up.kept_out import kept_out
from jovial_tack.answers.line_up.plate_parts import cuts_of, webs_of
from jovial_tack.answers.line_up.tool_room import tools_blocked
from jovial_tack.answers.results import (
    CutEdge,
    Finding,
    PlateBent,
    PlateResult,
    Results,
    Spacer,
)
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.line_up.plate_checks import edges, least_web, meets, widths
from jovial_tack.core.line_up.plate_cuts import Cut
from jovial_tack.core.line_up.plate_shape import Shape, shape_plate
from jovial_tack.document import model as doc
from jovial_tack.document.meant import boss_of, carried_by, shaft_of_cut
from jovial_tack.document.model import make

#: Within this a hole of a plate stands over one of another, mm.
_SAME_PLACE_MM = 0.5
#: How far into a gap that is kept a plate may come before it is told, mm.
_MEETS_MM = 0.05
_MATERIALS = ("aluminium", "steel", "iron")


def told_plates(
    build: doc.Build,
    results: Results,
    catalogue: Catalogue,
    check_cancelled: Callable[[], None] = lambda: None,
) -> tuple[PlateResult, ...]:
    """Every plate of a build worked out. check_cancelled: what it raises ends the work."""
    if not build.plates:
        return ()
    cases = assemble(build, catalogue) if build.drives else ()
    told = []
    for plate in build.plates:
        check_cancelled()
        told.append(tell_plate(build, cases, results, catalogue, plate))
    return tuple(told)


def plate_shape(
    plate: doc.Plate, keep_outs: Sequence[found.KeptOut], *, live: bool = False
) -> Shape:
    """The shape of a plate round what is kept out. live: coarser, for what follows the pointer."""
    return shape_plate(
        cuts_of(plate),
        webs_of(plate),
        web_mm=plate.web_mm,
        fillet_mm=plate.fillet_mm,
        keep_outs=keep_outs,
        live=live,
    )


def tell_plate(
    build: doc.Build,
    cases: Sequence[Case],
    results: Results,
    catalogue: Catalogue,
    plate: doc.Plate,
) -> PlateResult:
    """One plate worked out."""
    rules, cuts = catalogue.plates, cuts_of(plate)
    away = kept_out(build, cases, results, catalogue, plate)
    shape = plate_shape(plate, away)
    wanted = wanted_web_mm(plate, catalogue)
    told_edges = _edges(plate, cuts, shape, catalogue)
    web = least_web(cuts, shape)
    spacers = tuple(_spacers(build, plate))
    area, cut_out = float(shape.metal.area), sum(cut.area_mm2 for cut in cuts)
    metal = max(area - cut_out, 0.0)
    density = plate.density_kg_m3 or rules.density_kg_m3(plate.material)
    bounds = shape.metal.bounds if cuts else None
    blocked = tuple((a, b, away[k].tells) for a, b, k in shape.blocked)
    say = found.Speaker(build, plate)
    said: list[Finding] = [
        *found.of_pieces(say, shape, cuts),
        *found.of_what_it_meets(say, away, meets(shape, away, _MEETS_MM) if cuts else ()),
        *found.of_edges(say, told_edges),
        *found.of_gaps(say, cuts),
        *found.of_webs(say, web, wanted, blocked),
        *found.of_tools(
            say, tools_blocked(build, cases, results, catalogue, plate), rules.spanner_deg
        ),
        *found.of_slots(say, plate, shape, catalogue),
        *found.of_places(say, plate, catalogue),
        *found.of_bends(say, plate, cuts),
    ]
    levels = ("stop", "watch", "unknown", "note")
    return PlateResult(
        id=plate.id,
        rings=shape.rings,
        cuts=tuple((cut.id, cut.ring) for cut in cuts),
        pieces=len(shape.pieces),
        area_mm2=area,
        cut_mm2=cut_out,
        mass_kg=None if density is None else metal * plate.thickness_mm * density * 1e-9,
        bounds_mm=None if bounds is None else (bounds[0], bounds[1], bounds[2], bounds[3]),
        web_mm=None if web is None else web.width_mm,
        web_at_mm=None if web is None or web.at is None else (web.at.real, web.at.imag),
        wanted_web_mm=wanted,
        edges=told_edges,
        kept_out=away,
        blocked=blocked,
        spacers=spacers,
        bent=_bent(build, cases, results, catalogue, plate, shape),
        loose=tuple(found.of_play(say, plate, catalogue)),
        findings=tuple(sorted(said, key=lambda finding: levels.index(finding.level))),
    )


def wanted_web_mm(plate: doc.Plate, catalogue: Catalogue) -> float:
    """The least web a plate should have, mm: its own, or the usual one."""
    rules = catalogue.plates
    usual = max(rules.least_web_mm, rules.least_web_times * plate.thickness_mm)
    return usual if plate.least_web_mm is None else plate.least_web_mm


def _edges(
    plate: doc.Plate, cuts: Sequence[Cut], shape: Shape, catalogue: Catalogue
) -> tuple[CutEdge, ...]:
    if not cuts:
        return ()
    times = catalogue.plates.edge_times
    return tuple(
        CutEdge(cut.id, edge.away_mm, times * cut.width_mm, (edge.at.real, edge.at.imag))
        for cut, edge in zip(cuts, edges(cuts, shape), strict=True)
    )


def _spacers(build: doc.Build, plate: doc.Plate) -> Iterator[Spacer]:
    """What stands behind a plate at its bolts: spacers to the bosses, or to a plate behind it."""
    if plate.stands_on is not None:
        return
    for cut in plate.features:
        if not isinstance(cut, doc.HoleCut):
            continue
        at = complex(*cut.at_mm)
        behind = [
            (other.front_mm, other.label)
            for other in build.plates
            if other.id != plate.id
            and other.stands_on is None
            and other.z_mm < plate.z_mm
            and any(
                isinstance(hole, doc.HoleCut) and abs(complex(*hole.at_mm) - at) < _SAME_PLACE_MM
                for hole in other.features
            )
        ]
        boss = boss_of(build, cut)
        if boss is not None and boss.on is None and boss.z_mm <= plate.front_mm:
            behind.append((boss.z_mm, boss.label))
        if not behind:
            continue
        depth, name = max(behind)
        if abs(plate.z_mm - depth) > 1e-9:
            yield Spacer(cut.id, plate.z_mm - depth, name)


def _bent(
    build: doc.Build,
    cases: Sequence[Case],
    results: Results,
    catalogue: Catalogue,
    plate: doc.Plate,
    shape: Shape,
) -> PlateBent | None:
    """What the pull of the belts does to a plate, as a bar from the line of its bosses' bolts to what
    it carries; None where that is not told.
    """
    shafts = carried_by(build, plate)
    if not shafts or not cases or plate.stands_on is not None or len(shape.pieces) != 1:
        return None
    posts: list[complex] = []
    feet: list[complex] = []
    for cut, core in zip(plate.features, cuts_of(plate), strict=True):
        if shaft_of_cut(build, cut) is not None:
            posts.append(core.middle)
        elif boss_of(build, cut) is not None:
            feet.append(core.middle)
    if len(feet) < 2 or not posts:
        return None
    at = complex(np.mean(posts))
    foot = _nearest_line(at, feet)
    length = abs(at - foot)
    material = plate.material.strip().casefold()
    if length < 1.0 or (material not in _MATERIALS and plate.young_gpa is None):
        return None
    width = widths(shape.metal, foot, at)
    if width <= 0:
        return None
    bar = make(
        doc.PlateOf,
        {
            "length_mm": length,
            "width_mm": width,
            "thickness_mm": plate.thickness_mm,
            "direction_deg": degrees(float(np.angle(at - foot))),
            "z_mm": plate.z_mm + plate.thickness_mm / 2,
            "material": material if material in _MATERIALS else "aluminium",
        },
    )
    elastic = None if plate.young_gpa is None else 1000.0 * plate.young_gpa
    try:
        bent = plate_pulled(build, cases, results, catalogue, bar, set(shafts), elastic)
    except GeometryError:
        return None
    if bent is None:
        return None
    return PlateBent(
        bent.rpm,
        bent.pull_n,
        length,
        width,
        (bent.low_deg, bent.high_deg),
        bent.angles_deg,
        bent.good_deg,
        bent.is_bound,
    )


def _nearest_line(at: complex, feet: Sequence[complex]) -> complex:
    """The point nearest to a place on the lines between pairs of bolts, as far as they reach."""
    best = feet[0]
    for k, a in enumerate(feet):
        for b in feet[k + 1 :]:
            along = b - a
            if abs(along) < 1e-6:
                continue
            share = ((at - a) * along.conjugate()).real / abs(along) ** 2
            foot = a + min(max(share, 0.0), 1.0) * along
            if abs(at - foot) < abs(at - best):
                best = foot
    return best
