"""Whether a socket gets onto the bolts of a plate from the front (docs/METHOD.md, section 16)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import shapely
from shapely.geometry.base import BaseGeometry

from jovial_tack.answers.drive.case import Case, SolvableCase, seat_offset
from jovial_tack.answers.drive.freedom import standing_obstacles
from jovial_tack.answers.line_up.plate_parts import bolt_mm_of, cuts_of, webs_of
from jovial_tack.answers.results import Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.line_up.plate_shape import shape_plate, spine_of
from jovial_tack.core.value import Value
from jovial_tack.document import model as doc


class NoRoom(Value, frozen=True):
    """A bolt that a socket does not get onto: what is in its way, and how far that is from the bolt's
    middle, mm.
    """

    cut: str
    socket_mm: float
    by: str
    gap_mm: float


def tools_blocked(
    build: doc.Build,
    cases: Sequence[Case],
    results: Results,
    catalogue: Catalogue,
    plate: doc.Plate,
) -> tuple[NoRoom, ...]:
    """The bolts of a plate that no socket gets onto from the front, each with the nearest thing."""
    if plate.stands_on is not None:
        return ()
    before = list(_before(build, cases, results, catalogue, plate))
    found, rules = [], catalogue.plates
    for cut, core in zip(plate.features, cuts_of(plate), strict=True):
        bolt = bolt_mm_of(build, cut)
        if cut.meant is None:
            continue  # what is bolted there is not told
        socket = rules.socket_mm(rules.bolt_through_mm(cut.width) if bolt is None else bolt)
        spine = spine_of(core)
        # what a stud carries goes on after it was tightened
        own = "" if cut.meant.ear is not None else cut.meant.shaft or ""
        near = [(float(spine.distance(area)), name) for name, of, area in before if of != own]
        gap, name = min(near, default=(socket, ""))
        if gap < socket / 2 - 1e-6:
            found.append(NoRoom(cut.id, socket, name, gap))
    return tuple(found)


def _before(
    build: doc.Build,
    cases: Sequence[Case],
    results: Results,
    catalogue: Catalogue,
    plate: doc.Plate,
) -> Iterator[tuple[str, str, BaseGeometry]]:
    """What stands before the front face of a plate: its name, the shaft it is on, and where; what has
    no depth told is left out.
    """
    face = plate.front_mm
    for case in cases:
        path = results.drive(case.model.id).rest_path
        if not isinstance(case, SolvableCase) or path is None:
            continue
        pitch = case.belt.profile.pitch_mm
        half = case.belt.ribs * pitch / 2
        for k, pulley in enumerate(case.pulleys):
            if pulley.plane_mm is None:
                continue
            if pulley.plane_mm + seat_offset(pulley, case.belt.ribs, pitch) + half <= face:
                continue
            radius = pulley.diameter_mm / 2 + max(pulley.flange_mm or 0.0, 0.0)
            middle = path.centers[k]
            yield (
                f"the pulley of {case.shafts[k].label}",
                case.shafts[k].id,
                shapely.Point(middle.real, middle.imag).buffer(radius),
            )
    for obstacle in standing_obstacles(build, cases):
        closed = obstacle.closed and len(obstacle.outline_mm) > 2
        if obstacle.z_mm is not None and max(obstacle.z_mm) > face and closed:
            area = shapely.make_valid(shapely.Polygon(obstacle.outline_mm))
            yield obstacle.label, obstacle.moves_with or "-", area
    for other in build.plates:
        if other.id != plate.id and other.stands_on is None and other.z_mm >= face - 1e-6:
            shape = shape_plate(
                cuts_of(other), webs_of(other), web_mm=other.web_mm, fillet_mm=other.fillet_mm
            )
            holes = [spine_of(cut).buffer(cut.width_mm / 2) for cut in cuts_of(other)]
            yield other.label, "-", shape.metal.difference(shapely.union_all(holes))
