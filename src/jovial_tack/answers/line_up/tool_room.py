"""Whether a socket gets onto the bolts of a plate from the front (docs/METHOD.md, section 16)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import shapely
import shapely.affinity
from shapely.geometry.base import BaseGeometry

from jovial_tack.answers.drive.case import Case, SolvableCase, seat_offset
from jovial_tack.answers.drive.freedom import standing_obstacles
from jovial_tack.answers.line_up.plate_parts import bolt_mm_of, cuts_of, webs_of
from jovial_tack.answers.results import Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.line_up.plate_shape import shape_plate, spine_of
from jovial_tack.core.value import Value
from jovial_tack.document import model as doc

#: A spanner beside its bolt: how long and how wide it is, and how high the bolt's head and it stand
#: before the plate, in diameters of the bolt (rep.).
_SPANNER_LONG, _SPANNER_WIDE, _SPANNER_HIGH = 9.0, 2.2, 1.0
_STEP_DEG = 5


class NoRoom(Value, frozen=True):
    """A bolt that a socket does not get onto: what is in its way, and how far that is from the bolt's
    middle, mm; spanner_deg: the widest swing a spanner has there, flat before the plate.
    """

    cut: str
    socket_mm: float
    by: str
    gap_mm: float
    spanner_deg: float


class _Thing(Value, frozen=True, eq=False):
    """What stands before a plate: its name, the shaft it is on, where, and how far forward it
    begins.
    """

    name: str
    of: str
    area: BaseGeometry
    rear_mm: float


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
        bolt = rules.bolt_through_mm(cut.width) if bolt is None else bolt
        socket = rules.socket_mm(bolt)
        spine = spine_of(core)
        # what a stud carries goes on after it was tightened
        own = "" if cut.meant.ear is not None else cut.meant.shaft or ""
        things = [thing for thing in before if thing.of != own]
        near = [(float(spine.distance(thing.area)), thing.name) for thing in things]
        gap, name = min(near, default=(socket, ""))
        if gap < socket / 2 - 1e-6:
            low = [t.area for t in things if t.rear_mm < plate.front_mm + _SPANNER_HIGH * bolt]
            swing = _swing_deg(core.middle, bolt, low)
            found.append(NoRoom(cut.id, socket, name, gap, swing))
    return tuple(found)


def _swing_deg(at: complex, bolt_mm: float, areas: Sequence[BaseGeometry]) -> float:
    """The widest swing a spanner has round a bolt between what stands low before a plate, degrees."""
    length, half = _SPANNER_LONG * bolt_mm, _SPANNER_WIDE * bolt_mm / 2
    blocked = shapely.union_all(list(areas))
    bar = shapely.box(0.0, -half, length, half)
    free = []
    for turn in range(0, 360, _STEP_DEG):
        there = shapely.affinity.translate(
            shapely.affinity.rotate(bar, turn, origin=(0, 0)), at.real, at.imag
        )
        free.append(not there.intersects(blocked))
    if all(free):
        return 360.0
    # the longest run of free directions, round the turn
    longest = run = 0
    for is_free in (*free, *free):
        run = run + 1 if is_free else 0
        longest = max(longest, run)
    return float(max(longest - 1, 0) * _STEP_DEG)


def _before(
    build: doc.Build,
    cases: Sequence[Case],
    results: Results,
    catalogue: Catalogue,
    plate: doc.Plate,
) -> Iterator[_Thing]:
    """What stands before the front face of a plate; what has no depth told is left out."""
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
            plane = pulley.plane_mm + seat_offset(pulley, case.belt.ribs, pitch)
            if plane + half <= face:
                continue
            radius = pulley.diameter_mm / 2 + max(pulley.flange_mm or 0.0, 0.0)
            middle = path.centers[k]
            disc = shapely.Point(middle.real, middle.imag).buffer(radius)
            label, of = case.shafts[k].label, case.shafts[k].id
            yield _Thing(f"the pulley of {label}", of, disc, plane - half)
    for obstacle in standing_obstacles(build, cases):
        closed = obstacle.closed and len(obstacle.outline_mm) > 2
        if obstacle.z_mm is not None and max(obstacle.z_mm) > face and closed:
            area = shapely.make_valid(shapely.Polygon(obstacle.outline_mm))
            rear = min(obstacle.z_mm)
            yield _Thing(obstacle.label, obstacle.moves_with or "-", area, rear)
    for other in build.plates:
        if other.id != plate.id and other.stands_on is None and other.z_mm >= face - 1e-6:
            shape = shape_plate(
                cuts_of(other), webs_of(other), web_mm=other.web_mm, fillet_mm=other.fillet_mm
            )
            holes = [spine_of(cut).buffer(cut.width_mm / 2) for cut in cuts_of(other)]
            metal = shape.metal.difference(shapely.union_all(holes))
            yield _Thing(other.label, "-", metal, other.z_mm)
