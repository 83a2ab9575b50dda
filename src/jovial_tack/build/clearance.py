"""Clearance of every drive to the things in the way, over the whole travel of its adjuster."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from jovial_tack.build.assemble import DriveCase
from jovial_tack.build.freedom import Freedom, freedom_of
from jovial_tack.build.model import Obstacle, SpringArmTensioner
from jovial_tack.build.results import ClearanceResult
from jovial_tack.build.state import SolvedDrive
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.adjuster import pick_path
from jovial_tack.core.drive.path import Path, faults
from jovial_tack.core.fit.clearance import (
    Gap,
    Outline,
    Outlines,
    belt_gaps,
    belt_pieces,
    box_distance,
    disc_gap,
    disc_gaps,
    outline_gap,
)

Ends = tuple[float, float]

_TRAVEL_LANES = 9
_NEAR_MM = 60.0
DRAWN_GAPS = 4.0  # gaps up to so many times what is wanted are drawn
_SWEPT_ROOM_MM = 15.0  # points of swept spans lie closer together than twice this
_USABLE_LANES = 17  # a few millimetres of travel: thinner things are not in the way
_USABLE_HALVINGS = 12
_WRENCH_HALF_WIDTH_MM = 15.0


@dataclass(frozen=True)
class _Thing:
    """An obstacle at a drive's depth and the gap it needs; hung: it moves with the drive's adjuster."""

    obstacle: Obstacle
    outline: Outline
    needed: float
    hung: bool


@dataclass(frozen=True)
class _Near:
    """The least gap to one obstacle, and of what: a belt, a pulley, a body or a wrench."""

    thing: _Thing
    gap: Gap
    of: str
    body: str | None = None

    @property
    def spare(self) -> float:
        """Gap over what is needed, mm."""
        return self.gap.gap_mm - self.thing.needed


@dataclass(frozen=True)
class _Scene:
    """A drive and the obstacles at its depth. stands: where the shaft that moves stands in them."""

    case: DriveCase
    freedom: Freedom | None
    stands: complex
    things: tuple[_Thing, ...]
    back_mm: float
    ribs_mm: float
    flutter: float

    def gaps(self, path: Path, value: float | None, *, live: bool = False) -> list[_Near]:
        """For each obstacle that is near the least gap of belt, pulleys or bodies on one lane.

        value: of the freedom, None at rest; live: only where the gap would be drawn.
        """
        drive = self.case.drive
        assert drive is not None
        sign = drive.layout.driver_sign
        pieces = belt_pieces(path, sign, self.back_mm, self.ribs_mm, self.flutter)
        rims = np.array(
            [p.diameter_mm / 2 + max(p.flange_mm or 0.0, 0.0) for p in self.case.pulleys]
        )
        things = tuple(thing for thing in self.things if not thing.hung)
        found: list[_Near] = []
        if things:
            outlines = outlines_of(tuple(thing.outline for thing in things))
            away = outlines.box_distances(np.concatenate([pieces.start, path.centers]))
            count = pieces.start.size
            longest = float(np.abs(pieces.end - pieces.start).max())
            belts_least = away[:, :count].min(axis=1) - longest - float(pieces.room.max())
            least = np.minimum(belts_least, (away[:, count:] - rims).min(axis=1))
            near = [
                k
                for k, thing in enumerate(things)
                if least[k] <= (DRAWN_GAPS * thing.needed if live else thing.needed + _NEAR_MM)
            ]
            if len(near) < len(things):  # the others are too far off to matter
                things = tuple(things[k] for k in near)
                outlines = outlines_of(tuple(t.outline for t in things)) if things else outlines
        if things:
            belts = belt_gaps(pieces, outlines)
            discs = disc_gaps(path.centers, rims, outlines)
            for thing, belt, disc in zip(things, belts, discs, strict=True):
                by_disc = disc.gap_mm < belt.gap_mm
                found.append(
                    _Near(thing, disc if by_disc else belt, "pulley" if by_disc else "belt")
                )
        return found + self._bodies(value)

    def _bodies(self, value: float | None) -> list[_Near]:
        """Gaps of what hangs on the moving shaft to what does not."""
        freedom, found = self.freedom, []
        for body in self.things if freedom is not None else ():
            if not body.hung:
                continue
            points = body.outline.points
            if value is not None and freedom is not None:
                points = freedom.carry(points, value, self.stands)
            outline = Outline(points, body.outline.closed)
            for thing in self.things:
                if thing.hung or not _same_depth(body.obstacle, thing.obstacle):
                    continue
                if box_distance(points, thing.outline) > _NEAR_MM + thing.needed:
                    continue
                gap = replace(outline_gap(outline, thing.outline), of=self.case.moving[0])
                found.append(_Near(thing, gap, "body", body.obstacle.id))
        return found


@lru_cache(maxsize=64)
def outlines_of(each: tuple[Outline, ...]) -> Outlines:
    """Outlines together; kept, because most of them stand still while something is dragged."""
    return Outlines.of(each)


@lru_cache(maxsize=512)
def _outline(points: tuple[tuple[float, float], ...], closed: bool) -> Outline:
    return Outline(np.array([complex(*point) for point in points]), closed and len(points) > 2)


def _same_depth(one: Obstacle, other: Obstacle) -> bool:
    if one.z_mm is None or other.z_mm is None:
        return True
    return min(one.z_mm) <= max(other.z_mm) and min(other.z_mm) <= max(one.z_mm)


def _scene(case: DriveCase, obstacles: Iterable[Obstacle], catalogue: Catalogue) -> _Scene:
    profile = case.belt.profile
    half = case.belt.ribs * profile.pitch_mm / 2
    planes = case.seats().plane_mm
    low, high = (
        float(np.nanmin(planes, initial=np.inf)) - half,
        float(np.nanmax(planes, initial=-np.inf)) + half,
    )
    known = bool(np.isfinite(planes[[p.side == "ribs" for p in case.pulleys]]).all())
    own = {shaft.id for shaft in case.shafts}
    near = []
    for obstacle in obstacles:
        needed = obstacle.needed_mm
        if needed is None:
            needed = catalogue.obstacles[obstacle.kind].needed_mm
        hung = obstacle.moves_with is not None and obstacle.moves_with == case.locked_shaft
        if not hung:
            if obstacle.moves_with in own and obstacle.z_mm is None:
                continue  # the body behind one of the drive's own pulleys
            if known and obstacle.z_mm is not None:
                behind, before = sorted(obstacle.z_mm)
                if before + needed < low or behind - needed > high:
                    continue  # they pass one behind the other
        outline = _outline(obstacle.outline_mm, obstacle.closed)
        near.append(_Thing(obstacle, outline, needed, hung))
    ribs = profile.thickness_mm - profile.cord_to_back_mm
    flutter = catalogue.limits.flutter_share
    freedom, stands = freedom_of(case), 0j
    if freedom is not None:
        slide = case.slide
        stands = freedom.drawn
        if slide is not None and slide.share is not None:
            stands = freedom.center(slide.share)
    return _Scene(case, freedom, stands, tuple(near), profile.cord_to_back_mm, ribs, flutter)


def clearances(
    state: SolvedDrive, obstacles: Iterable[Obstacle], catalogue: Catalogue, *, live: bool
) -> tuple[ClearanceResult, ...]:
    """The least gap of a drive to every obstacle at its depth.

    live: with the adjuster at rest only; otherwise over the window of an arm as well, and of the wrench
    it is wound back with. A shaft that is moved and then bolted counts where it is bolted.
    """
    if state.rest is None:
        return ()
    scene = _scene(state.case, obstacles, catalogue)
    if not scene.things:
        return ()
    found: list[tuple[_Near, float | None]] = [
        (n, None) for n in scene.gaps(state.rest, None, live=live)
    ]
    arm, freedom = state.case.arm, scene.freedom
    if arm is not None and freedom is not None and not live:
        angles = np.linspace(*arm.window, _TRAVEL_LANES)
        for value, path in _lanes(freedom, angles, state.drive.layout.driver_sign):
            found += [(near, value) for near in scene.gaps(path, value)]
    best: dict[tuple[str, bool], tuple[_Near, float | None]] = {}
    if not live:
        found += _wrench_gaps(state, scene)
    for near, angle in found:
        key = near.thing.obstacle.id, near.of == "wrench"
        if key not in best or near.spare < best[key][0].spare:
            best[key] = near, angle
    return tuple(
        ClearanceResult(
            obstacle=near.thing.obstacle.id, pulley=state.case.model.route[near.gap.of],
            of=near.of, body=near.body, gap_mm=near.gap.gap_mm, needed_mm=near.thing.needed,
            arm_angle_deg=None if angle is None else float(np.degrees(angle)),
            here_mm=(near.gap.here.real, near.gap.here.imag),
            there_mm=(near.gap.there.real, near.gap.there.imag),
        )
        for near, angle in best.values()
    )  # fmt: skip


def _lanes(freedom: Freedom, values: Float, sign: float) -> list[tuple[float, Path]]:
    """The values at which a path exists, each with its path."""
    paths = freedom.paths(values)
    good = np.flatnonzero(~faults(paths, sign).any)
    return [(float(values[k]), _lane(paths, int(k))) for k in good]


def _lane(path: Path, lane: int) -> Path:
    one = pick_path(path, np.array([lane]))
    return Path(one.centers[0], one.signed_radii, one.direction[0], one.length[0], one.wrap[0])


def _wrench_gaps(state: SolvedDrive, scene: _Scene) -> list[tuple[_Near, float | None]]:
    """Gaps of the wrench that winds the arm back, from its place at rest to the wound stop.

    A wrench stands before the belt: what lies wholly behind it is not in its way.
    """
    arm, model, found = state.case.arm, state.case.model.tensioner, []
    if arm is None or not isinstance(model, SpringArmTensioner) or model.wrench_mm is None:
        return []
    if not np.isfinite(state.rest_angle):
        return []
    planes = [pulley.plane_mm for pulley in state.case.pulleys if pulley.plane_mm is not None]
    least = min(planes, default=-np.inf)
    for angle in np.linspace(state.rest_angle, arm.stops[0], _USABLE_LANES):
        outline = Outline(wrench_outline(model, float(angle)), True)
        for thing in scene.things:
            depth = thing.obstacle.z_mm
            if thing.hung or (depth is not None and max(depth) < least):
                continue
            gap = replace(outline_gap(outline, thing.outline), of=arm.index)
            found.append((_Near(thing, gap, "wrench"), float(angle)))
    return [entry for entry in found if entry[0].spare < _NEAR_MM]


def wrench_outline(arm: SpringArmTensioner, angle_rad: float) -> Complex:
    """Corners of the wrench on an arm at an angle, complex mm: a bar from its pivot."""
    assert arm.wrench_mm is not None
    along = np.exp(1j * (angle_rad + np.radians(arm.wrench_deg)))
    half = 1j * _WRENCH_HALF_WIDTH_MM
    bar = np.array([-half, arm.wrench_mm - half, arm.wrench_mm + half, half])
    return np.asarray(complex(*arm.pivot_mm) + bar * along)


def clear_travel(
    case: DriveCase,
    obstacles: Iterable[Obstacle],
    catalogue: Catalogue,
    around: float | None = None,
) -> Ends | None:
    """The stretch of an adjuster's travel that collisions leave, in its own parameter (rad or share).

    around: the value it has at rest; without it the longest stretch is meant. None where nothing
    moves, or where it touches something at rest already. Ends are found to 1/4000 of a step.
    """
    freedom = freedom_of(case)
    if freedom is None or case.drive is None:
        return None
    scene = _scene(case, obstacles, catalogue)
    sign = case.drive.layout.driver_sign

    def clear(value: float) -> bool:
        lanes = _lanes(freedom, np.array([value]), sign)
        # where there is no path the belt decides, not what is in the way
        return not lanes or all(n.gap.gap_mm >= 0 for n in scene.gaps(lanes[0][1], value))

    if around is not None and not clear(around):
        return None
    scene = replace(scene, things=_within_reach(case, freedom, scene))
    if not scene.things:
        return freedom.ends
    start = around
    if start is None:
        start = _middle_of_longest(np.linspace(*freedom.ends, 2 * _USABLE_LANES), clear)
        if start is None:
            return None
    first, second = (_clear_until(start, end, clear) for end in freedom.ends)
    return first, second


def _middle_of_longest(grid: Float, clear: Callable[[float], bool]) -> float | None:
    free = [clear(float(value)) for value in grid]
    best: list[int] = []
    run: list[int] = []
    for place, is_free in enumerate(free):
        run = [*run, place] if is_free else []
        best = run if len(run) > len(best) else best
    return float(grid[best[len(best) // 2]]) if best else None


def _clear_until(start: float, end: float, clear: Callable[[float], bool]) -> float:
    """How far toward an end nothing is touched."""
    grid: Float = np.linspace(start, end, _USABLE_LANES)
    touched = next((k for k, value in enumerate(grid[1:], 1) if not clear(float(value))), None)
    if touched is None:
        return end
    good, bad = float(grid[touched - 1]), float(grid[touched])
    for _ in range(_USABLE_HALVINGS):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if clear(middle) else (good, middle)
    return good


def _within_reach(case: DriveCase, freedom: Freedom, scene: _Scene) -> tuple[_Thing, ...]:
    """What hangs on the shaft, and the obstacles near what moves: pulleys and the spans beside them."""
    path = freedom.paths(np.linspace(*freedom.ends, _USABLE_LANES))
    share = np.linspace(0.0, 1.0, 33)
    count = path.centers.shape[-1]
    beside = {(k - step) % count for k in freedom.moving for step in (0, 1)}
    swept = [
        (path.start[:, k, None] + share * (path.end[:, k] - path.start[:, k])[:, None]).ravel()
        for k in sorted(beside)
    ]
    centers = path.centers[:, list(freedom.moving)].ravel()
    points = np.concatenate(swept)
    points = points[np.isfinite(points)]
    rim = max(case.pulleys[k].diameter_mm / 2 for k in freedom.moving)
    places = np.concatenate([centers, points])
    radii = np.where(np.arange(places.size) < centers.size, rim, 0.0)
    has_body = any(thing.hung for thing in scene.things)
    return tuple(
        thing
        for thing in scene.things
        if has_body or disc_gap(places, radii, thing.outline).gap_mm < _SWEPT_ROOM_MM
    )
