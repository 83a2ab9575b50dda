"""Clearance of every drive to the things in the way, over the whole travel of its arm."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from jovial_tack.build.assemble import DriveCase
from jovial_tack.build.model import Obstacle
from jovial_tack.build.results import ClearanceResult
from jovial_tack.build.state import SolvedDrive
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.adjuster import SpringArm, pick_path, place_arm
from jovial_tack.core.drive.path import Path, faults
from jovial_tack.core.fit.clearance import (
    Gap,
    Outline,
    belt_gap,
    belt_pieces,
    box_distance,
    disc_gap,
)

_TRAVEL_LANES = 9
_NEAR_MM = 60.0
_SWEPT_ROOM_MM = 15.0  # points of swept spans lie closer together than twice this
_USABLE_LANES = 17  # a few millimetres of travel: thinner things are not in the way
_USABLE_HALVINGS = 12


@dataclass(frozen=True)
class _Scene:
    """A drive and the obstacles at its depth, with what each needs."""

    case: DriveCase
    obstacles: tuple[tuple[Obstacle, Outline, float], ...]
    back_mm: float
    ribs_mm: float
    flutter: float

    def gaps(self, path: Path) -> list[tuple[float, Obstacle, Gap, float, bool]]:
        """For each obstacle that is near the least gap of belt or pulleys on one lane: gap over what is
        needed, obstacle, gap, needed, whether it is a pulley's.
        """
        drive = self.case.drive
        assert drive is not None
        sign = drive.layout.driver_sign
        pieces = belt_pieces(path, sign, self.back_mm, self.ribs_mm, self.flutter)
        rims = np.array(
            [p.diameter_mm / 2 + max(p.flange_mm or 0.0, 0.0) for p in self.case.pulleys]
        )
        found = []
        reach = float(rims.max()) + _NEAR_MM
        points = np.concatenate([pieces.start, path.centers])
        for obstacle, outline, needed in self.obstacles:
            if box_distance(points, outline) > reach + needed:
                continue  # too far off to matter
            belt, disc = belt_gap(pieces, outline), disc_gap(path.centers, rims, outline)
            gap, is_disc = (disc, True) if disc.gap_mm < belt.gap_mm else (belt, False)
            found.append((gap.gap_mm - needed, obstacle, gap, needed, is_disc))
        return found


def _scene(case: DriveCase, obstacles: Iterable[Obstacle], catalogue: Catalogue) -> _Scene:
    profile = case.belt.profile
    half = case.belt.ribs * profile.pitch_mm / 2
    planes = case.seats().plane_mm
    low, high = (
        float(np.nanmin(planes, initial=np.inf)) - half,
        float(np.nanmax(planes, initial=-np.inf)) + half,
    )
    known = bool(np.isfinite(planes[[p.side == "ribs" for p in case.pulleys]]).all())
    near = []
    for obstacle in obstacles:
        needed = obstacle.needed_mm
        if needed is None:
            needed = catalogue.obstacles[obstacle.kind].needed_mm
        if known and obstacle.z_mm is not None:
            behind, before = sorted(obstacle.z_mm)
            if before + needed < low or behind - needed > high:
                continue  # they pass one behind the other
        points = np.array([complex(*point) for point in obstacle.outline_mm])
        near.append((obstacle, Outline(points, obstacle.closed and len(points) > 2), needed))
    ribs = profile.thickness_mm - profile.cord_to_back_mm
    flutter = catalogue.limits.flutter_share
    return _Scene(case, tuple(near), profile.cord_to_back_mm, ribs, flutter)


def clearances(
    state: SolvedDrive, obstacles: Iterable[Obstacle], catalogue: Catalogue, *, live: bool
) -> tuple[ClearanceResult, ...]:
    """The least gap of a drive to every obstacle at its depth.

    live: with the arm at rest only; otherwise over its window as well.
    """
    if state.rest is None:
        return ()
    scene = _scene(state.case, obstacles, catalogue)
    if not scene.obstacles:
        return ()
    lanes: list[tuple[Path, float | None]] = [(state.rest, None)]
    arm = state.case.arm
    if arm is not None and not live:
        angles = np.linspace(*arm.window, _TRAVEL_LANES)
        geometry = place_arm(state.drive.layout, arm, angles).path
        good = np.flatnonzero(~faults(geometry, state.drive.layout.driver_sign).any)
        lanes += [(_lane(geometry, int(k)), float(np.degrees(angles[int(k)]))) for k in good]
    best: dict[str, tuple[float, ClearanceResult]] = {}
    for path, angle in lanes:
        for spare, obstacle, gap, needed, is_disc in scene.gaps(path):
            if obstacle.id in best and best[obstacle.id][0] <= spare:
                continue
            result = ClearanceResult(
                obstacle=obstacle.id, pulley=state.case.model.route[gap.of], of_pulley=is_disc,
                gap_mm=gap.gap_mm, needed_mm=needed, arm_angle_deg=angle,
                here_mm=(gap.here.real, gap.here.imag), there_mm=(gap.there.real, gap.there.imag),
            )  # fmt: skip
            best[obstacle.id] = spare, result
    return tuple(result for _, result in best.values())


def _lane(path: Path, lane: int) -> Path:
    one = pick_path(path, np.array([lane]))
    return Path(one.centers[0], one.signed_radii, one.direction[0], one.length[0], one.wrap[0])


def usable_travel(
    state: SolvedDrive, obstacles: Iterable[Obstacle], catalogue: Catalogue
) -> tuple[float, float] | None:
    """Arm angles, degrees, from wound to unwound side, that collisions leave about its place at rest.

    None without an arm at rest, or where it touches something at rest already. Found to 0.01°.
    """
    arm = state.case.arm
    if arm is None or state.rest is None or not np.isfinite(state.rest_angle):
        return None
    scene = _scene(state.case, obstacles, catalogue)

    def clear(angle: float) -> bool:
        geometry = place_arm(state.drive.layout, arm, np.array([angle])).path
        if bool(faults(geometry, state.drive.layout.driver_sign).any[0]):
            return True  # no path there: the belt decides, not what is in the way
        return all(gap.gap_mm >= 0 for _, _, gap, _, _ in scene.gaps(_lane(geometry, 0)))

    if not clear(state.rest_angle):
        return None
    scene = replace(scene, obstacles=_within_reach(state, arm, scene))
    ends = []
    for stop in arm.stops if scene.obstacles else ():
        grid: Float = np.linspace(state.rest_angle, stop, _USABLE_LANES)
        touched = next((k for k, angle in enumerate(grid) if not clear(float(angle))), None)
        if touched is None:
            ends.append(stop)
            continue
        good, bad = float(grid[touched - 1]), float(grid[touched])
        for _ in range(_USABLE_HALVINGS):
            middle = (good + bad) / 2
            good, bad = (middle, bad) if clear(middle) else (good, middle)
        ends.append(good)
    wound, unwound = ends or arm.stops
    return float(np.degrees(wound)), float(np.degrees(unwound))


def _within_reach(
    state: SolvedDrive, arm: SpringArm, scene: _Scene
) -> tuple[tuple[Obstacle, Outline, float], ...]:
    """The obstacles near what moves with the arm: its pulley and the two spans beside it."""
    angles = np.linspace(*arm.stops, _USABLE_LANES)
    path = place_arm(state.drive.layout, arm, angles).path
    share = np.linspace(0.0, 1.0, 33)
    before = (arm.index - 1) % state.drive.pulley_count
    swept = [
        (path.start[:, k, None] + share * (path.end[:, k] - path.start[:, k])[:, None]).ravel()
        for k in (before, arm.index)
    ]
    points = np.concatenate(swept)
    points, centers = points[np.isfinite(points)], path.centers[:, arm.index]
    rim = state.case.pulleys[arm.index].diameter_mm / 2
    places = np.concatenate([centers, points])
    radii = np.where(np.arange(places.size) < centers.size, rim, 0.0)
    return tuple(
        entry
        for entry in scene.obstacles
        if disc_gap(places, radii, entry[1]).gap_mm < _SWEPT_ROOM_MM
    )
