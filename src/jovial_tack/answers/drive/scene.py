"""What stands in the way of each drive, and the least gaps of its belt, pulleys and bodies to it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import lru_cache

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase, seat_offset
from jovial_tack.answers.drive.freedom import Freedom, freedom_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.path import Path
from jovial_tack.core.lay_out.clearance import (
    Bounds,
    Room,
    at_a_glance,
    belt_gaps,
    belt_pieces,
    disc_gaps,
)
from jovial_tack.core.lay_out.outlines import (
    Gap,
    Outline,
    Outlines,
    box_distance,
    outline_gap,
    simplified,
)
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Obstacle

NEAR_MM = 60.0
_MANY_CORNERS, _WITHIN_MM = 60, 0.05
DRAWN_GAPS = 4.0  # gaps up to so many times what is wanted are drawn


class Thing(Value, frozen=True):
    """An obstacle at a drive's depth and the gap it needs; hung: it moves with the drive's adjuster."""

    obstacle: Obstacle
    outline: Outline
    needed: float
    hung: bool


class Near(Value, frozen=True):
    """The least gap to one obstacle, and of what: a belt, a pulley, a body or a wrench."""

    thing: Thing
    gap: Gap
    of: str
    body: str | None = None

    @property
    def spare(self) -> float:
        """Gap over what is needed, mm."""
        return self.gap.gap_mm - self.thing.needed


class Scene(Value, frozen=True):
    """A drive and the obstacles at its depth. stands: where the shaft that moves stands in them;
    rims: radii of the pulleys with their lips (N,), mm.
    """

    case: SolvableCase
    freedom: Freedom | None
    placed: complex
    things: tuple[Thing, ...]
    room: Room
    rims: Float

    def gaps(self, path: Path, value: float | None) -> list[Near]:
        """For each obstacle that is near the least gap of belt, pulleys or bodies on one lane.

        value: of the freedom, None at rest.
        """
        return gaps_together([(self, path)], nearby)[0] + self.bodies(value)

    def is_touched(self, path: Path, value: float) -> bool:
        """Whether belt, pulleys or bodies touch anything on one lane, at a value of the freedom."""
        found = gaps_together([(self, path)], touching)[0] + self.bodies(value)
        return any(near.gap.gap_mm < 0 for near in found)

    def bodies(self, value: float | None) -> list[Near]:
        """Gaps of what hangs on the moving shaft to what does not."""
        freedom, found = self.freedom, []
        for body in self.things if freedom is not None else ():
            if not body.hung:
                continue
            points = body.outline.points
            if value is not None and freedom is not None:
                points = freedom.carry(points, value, self.placed)
            outline = Outline(points, body.outline.closed)
            for thing in self.things:
                if thing.hung or not _same_depth(body.obstacle, thing.obstacle):
                    continue
                if box_distance(points, thing.outline) > NEAR_MM + thing.needed:
                    continue
                assert freedom is not None
                gap = replace(outline_gap(outline, thing.outline), of=freedom.moving[0])
                found.append(Near(thing, gap, "body", body.obstacle.id))
        return found


def nearby(thing: Thing) -> float:
    """Up to where a gap is of interest at all, mm."""
    return thing.needed + NEAR_MM


def drawn(thing: Thing) -> float:
    """Up to where a gap is drawn, mm."""
    return DRAWN_GAPS * thing.needed


def touching(_thing: Thing) -> float:
    """Where only what is touched is of interest."""
    return 0.0


def gaps_together(
    each: Sequence[tuple[Scene, Path]], most_mm: Callable[[Thing], float]
) -> list[list[Near]]:
    """For each of several drives, on one lane, the least gap of belt or pulleys to what is near it.

    most_mm: up to which gap to a thing is of interest.
    """
    near: list[list[Near]] = [[] for _ in each]
    things = [
        (place, thing)
        for place, (scene, _) in enumerate(each)
        for thing in scene.things
        if not thing.hung
    ]
    if not things:
        return near
    path = each[0][1] if len(each) == 1 else Path.beside([path for _, path in each])
    room = Room.beside([scene.room for scene, _ in each], path.ring)
    rims = np.concatenate([scene.rims for scene, _ in each])
    glance = at_a_glance(path, rims, room, _together(things))
    things = [of for of, gap in zip(things, glance, strict=True) if gap <= most_mm(of[1])]
    if not things:
        return near
    discs = disc_gaps(path.centers, rims, _together(things), path.ring)
    at_most = [
        min(disc.gap_mm, most_mm(thing)) for (_, thing), disc in zip(things, discs, strict=True)
    ]
    belts = _belts(path, room, things, at_most)
    for (place, thing), disc, belt in zip(things, discs, belts, strict=True):
        gap = belt or disc
        if gap.gap_mm <= most_mm(thing):
            gap = replace(gap, of=gap.of - int(path.ring.first[place]))
            near[place].append(Near(thing, gap, "belt" if belt else "pulley"))
    return near


def _belts(
    path: Path, room: Room, things: list[tuple[int, Thing]], at_most_mm: list[float]
) -> list[Gap | None]:
    """The least gap of the belt to each thing; None where it is more than it may be to count."""
    bounds = Bounds.of(path, room, _together(things))
    gaps: list[Gap | None] = [None] * len(things)
    closer = np.flatnonzero(bounds.at_least.min(axis=1) <= at_most_mm)
    if closer.size:
        pieces = belt_pieces(path, room, bounds.parts(closer))
        found = belt_gaps(pieces, _together([things[k] for k in closer]), bounds.at_most[closer])
        for k, gap in zip(closer, found, strict=True):
            gaps[k] = gap if gap.gap_mm <= at_most_mm[k] else None
    return gaps


def _together(things: list[tuple[int, Thing]]) -> Outlines:
    return _outlines_of(
        tuple(thing.outline for _, thing in things), tuple(place for place, _ in things)
    )


@lru_cache(maxsize=64)
def _outlines_of(each: tuple[Outline, ...], route: tuple[int, ...]) -> Outlines:
    """Outlines together; kept, because most of them stand still while something is dragged."""
    return Outlines.of(each, route)


@lru_cache(maxsize=512)
def _outline(points: tuple[tuple[float, float], ...], closed: bool) -> Outline:
    corners = np.array([complex(*point) for point in points])
    if corners.size > _MANY_CORNERS:  # traced from a scan: no gap is known to that
        corners = simplified(corners, _WITHIN_MM)
    return Outline(corners, closed and corners.size > 2)


def _same_depth(one: Obstacle, other: Obstacle) -> bool:
    if one.z_mm is None or other.z_mm is None:
        return True
    return min(one.z_mm) <= max(other.z_mm) and min(other.z_mm) <= max(one.z_mm)


def scene_of(case: SolvableCase, obstacles: Iterable[Obstacle], catalogue: Catalogue) -> Scene:
    """The scene of a drive that can be solved."""
    drive, profile = case.drive, case.belt.profile
    assert drive is not None
    half = case.belt.ribs * profile.pitch_mm / 2
    planes = [
        pulley.plane_mm + seat_offset(pulley, case.belt.ribs, profile.pitch_mm)
        for pulley in case.pulleys
        if pulley.plane_mm is not None
    ]
    low, high = min(planes, default=np.inf) - half, max(planes, default=-np.inf) + half
    known = all(p.plane_mm is not None for p in case.pulleys if p.side == "ribs")
    own = {shaft.id for shaft in case.shafts}
    near = []
    for obstacle in obstacles:
        needed = obstacle.needed_mm
        if needed is None:
            needed = catalogue.obstacles[obstacle.kind].needed_mm
        hung = obstacle.moves_with is not None and obstacle.moves_with == case.travelling_shaft
        if not hung:
            if obstacle.moves_with in own and obstacle.z_mm is None:
                continue  # the body behind one of the drive's own pulleys
            if known and obstacle.z_mm is not None:
                behind, before = sorted(obstacle.z_mm)
                if before + needed < low or behind - needed > high:
                    continue  # they pass one behind the other
        outline = _outline(obstacle.outline_mm, obstacle.closed)
        near.append(Thing(obstacle, outline, needed, hung))
    freedom, placed = freedom_of(case), 0j
    if freedom is not None:
        slide = case.slide
        placed = freedom.drawn
        if slide is not None and slide.share is not None:
            placed = freedom.center(slide.share)
    ribs_mm, flutter = (
        profile.thickness_mm - profile.cord_to_back_mm,
        catalogue.limits.flutter_share,
    )
    room = Room.of(drive.layout.driver_sign, profile.cord_to_back_mm, ribs_mm, flutter)
    rims = np.array([p.diameter_mm / 2 + max(p.flange_mm or 0.0, 0.0) for p in case.pulleys])
    return Scene(case, freedom, placed, tuple(near), room, rims)
