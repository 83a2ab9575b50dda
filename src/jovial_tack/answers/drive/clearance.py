"""Clearance of every drive to the things in the way, over the whole travel of its adjuster."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

import numpy as np

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.freedom import Freedom, freedom_of, standing_obstacles
from jovial_tack.answers.drive.scene import (
    NEAR_MM,
    Near,
    Scene,
    Thing,
    drawn,
    gaps_together,
    nearby,
    scene_of,
)
from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.spread import Gapped, Spread, gap_sigma
from jovial_tack.answers.places import Place
from jovial_tack.answers.results import ClearanceResult
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.path import Path, faults
from jovial_tack.core.lay_out.clearance import disc_gap
from jovial_tack.core.lay_out.outlines import Outline, outline_gap
from jovial_tack.core.value import replace
from jovial_tack.document.model import Build, Obstacle, SpringArmTensioner

Ends = tuple[float, float]

_TRAVEL_LANES = 9
_SWEPT_ROOM_MM = 15.0  # points of swept spans lie closer together than twice this
_USABLE_LANES = 17  # a few millimetres of travel: thinner things are not in the way
_USABLE_HALVINGS = 12


def clearances(
    states: Sequence[Solved],
    obstacles: Sequence[Obstacle],
    catalogue: Catalogue,
    *,
    live: bool,
    window: bool = True,
    spread: Spread | None = None,
) -> list[tuple[ClearanceResult, ...]]:
    """The least gaps of each drive to the obstacles at its depth that are near.

    live: with the adjuster at rest only, and only where the gap would be drawn; otherwise over the
    window of an arm as well (unless window is False), and of the wrench it is wound back with. A shaft
    that is moved and then bolted counts where it is bolted. spread: how well the shafts are known,
    from which a gap's ± is told.
    """
    if not obstacles:
        return [()] * len(states)
    scenes = {
        place: (scene_of(solved.case, obstacles, catalogue), solved.rest)
        for place, solved in enumerate(states)
        if solved.rest is not None
    }
    near = gaps_together(list(scenes.values()), drawn if live else nearby)
    at_rest = dict(zip(scenes, near, strict=True))
    wrench = catalogue.parts.wrench_half_width_mm
    return [
        _least(
            solved,
            scenes[place][0],
            at_rest[place],
            wrench if window and not live else None,
            None if live else spread,
        )
        if place in scenes
        else ()
        for place, solved in enumerate(states)
    ]


def _least(
    solved: Solved,
    scene: Scene,
    at_rest: list[Near],
    wrench_half_mm: float | None,
    spread: Spread | None,
) -> tuple[ClearanceResult, ...]:
    """The least gaps of one drive. wrench_half_mm: half the width of a wrench; None: at rest only."""
    found: list[tuple[Near, float | None]] = [
        (near, None) for near in at_rest + scene.bodies(_slid_to(solved))
    ]
    if wrench_half_mm is not None:
        found += _window_gaps(solved, scene)
        found += _wrench_gaps(solved, scene, wrench_half_mm)
    best: dict[tuple[str, bool], tuple[Near, float | None]] = {}
    for near, angle in found:
        key = near.thing.obstacle.id, near.of == "wrench"
        if key not in best or near.spare < best[key][0].spare:
            best[key] = near, angle
    return tuple(_told(solved, near, angle, spread) for near, angle in best.values())


def _slid_to(solved: Solved) -> float | None:
    """Where a sprung slide stands at rest, a share of its travel; None where its place is as drawn."""
    arm = solved.case.arm
    slid = arm is not None and arm.slides and np.isfinite(solved.rest_angle)
    return solved.rest_angle if slid else None


def _told(
    solved: Solved, near: Near, angle_rad: float | None, spread: Spread | None
) -> ClearanceResult:
    """A gap as a result. angle_rad: of the arm; None at rest."""
    here, there, arm = near.gap.here, near.gap.there, solved.case.arm
    known = None if spread is None else _known_to(solved, near, angle_rad, spread)
    return ClearanceResult(
        obstacle=near.thing.obstacle.id,
        pulley=solved.case.model.route[near.gap.of],
        of=near.of,
        body=near.body,
        gap_mm=near.gap.gap_mm,
        needed_mm=near.thing.needed,
        place=None if angle_rad is None or arm is None else Place.of(arm, angle_rad),
        here_mm=(here.real, here.imag),
        there_mm=(there.real, there.imag),
        gap_sd_mm=known,
        surveyed=spread is not None and spread.surveyed,
    )


def _known_to(solved: Solved, near: Near, angle_rad: float | None, spread: Spread) -> float | None:
    """One standard deviation of a gap by where the shafts are, mm."""
    case, path, value = solved.case, solved.rest, None
    freedom = freedom_of(case)
    if angle_rad is not None and freedom is not None and near.of != "wrench":
        path = freedom.paths(np.array([angle_rad])).lanes(0)
    elif case.slide is not None:
        value = case.slide.share
    elif np.isfinite(solved.rest_angle):
        value = solved.rest_angle
    if path is None:
        return None
    gap = near.gap
    hung_on = near.thing.obstacle.moves_with
    held = Gapped(gap.here, gap.there, gap.of, near.of, hung_on, angle_rad is None)
    return gap_sigma(case, path, value, held, spread)


def _window_gaps(solved: Solved, scene: Scene) -> list[tuple[Near, float | None]]:
    """Gaps with the arm anywhere in its window, each with its angle."""
    arm, freedom = solved.case.arm, scene.freedom
    if arm is None or freedom is None:
        return []
    lanes = _lanes(
        freedom, np.linspace(*arm.window, _TRAVEL_LANES), solved.drive.layout.driver_sign
    )
    return [(near, value) for value, path in lanes for near in scene.gaps(path, value)]


def _lanes(freedom: Freedom, values: Float, sign: float) -> list[tuple[float, Path]]:
    """The values at which a path exists, each with its path."""
    paths = freedom.paths(values)
    good = np.flatnonzero(~faults(paths, sign).any)
    return [(float(values[k]), paths.lanes(int(k))) for k in good]


def _wrench_gaps(
    solved: Solved, scene: Scene, half_width_mm: float
) -> list[tuple[Near, float | None]]:
    """Gaps of the wrench that winds the arm back, from its place at rest to the wound stop.

    A wrench stands before the belt: what lies wholly behind it is not in its way.
    """
    arm, model, found = solved.case.arm, solved.case.model.tensioner, []
    if arm is None or not isinstance(model, SpringArmTensioner) or model.wrench_mm is None:
        return []
    if not np.isfinite(solved.rest_angle):
        return []
    planes = [pulley.plane_mm for pulley in solved.case.pulleys if pulley.plane_mm is not None]
    least = min(planes, default=-np.inf)
    for angle in np.linspace(solved.rest_angle, arm.stops[0], _USABLE_LANES):
        outline = Outline(wrench_outline(model, float(angle), half_width_mm), True)
        for thing in scene.things:
            depth = thing.obstacle.z_mm
            if thing.hung or (depth is not None and max(depth) < least):
                continue
            gap = replace(outline_gap(outline, thing.outline), of=arm.index)
            found.append((Near(thing, gap, "wrench"), float(angle)))
    return [entry for entry in found if entry[0].spare < NEAR_MM]


def wrench_outline(arm: SpringArmTensioner, angle_rad: float, half_width_mm: float) -> Complex:
    """Corners of the wrench on an arm at an angle, complex mm: a bar from its pivot."""
    assert arm.wrench_mm is not None
    along = np.exp(1j * (angle_rad + np.radians(arm.wrench_deg)))
    half = 1j * half_width_mm
    bar = np.array([-half, arm.wrench_mm - half, arm.wrench_mm + half, half])
    return np.asarray(complex(*arm.pivot_mm) + bar * along)


def clear_travel(
    case: SolvableCase,
    obstacles: Iterable[Obstacle],
    catalogue: Catalogue,
    around: float | None = None,
) -> Ends | None:
    """The stretch of an adjuster's travel that collisions leave, in its own parameter (rad or share).

    around: the value it has at rest; without it the longest stretch is meant. None where nothing
    moves, or where it touches something at rest already. Ends are found to 1/4000 of a step.
    """
    freedom = freedom_of(case)
    if freedom is None or not isinstance(case, SolvableCase):
        return None
    scene = scene_of(case, obstacles, catalogue)
    sign = case.drive.layout.driver_sign

    def clear(value: float) -> bool:
        lanes = _lanes(freedom, np.array([value]), sign)
        # where there is no path the belt decides, not what is in the way
        return not lanes or not scene.is_touched(lanes[0][1], value)

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


def usable_travel(build: Build, drive_id: str, catalogue: Catalogue) -> Ends | None:
    """The stretch of a drive's travel that what is in the way leaves; None where nothing limits it."""
    cases = assemble(build, catalogue)
    stand = standing_obstacles(build, cases)
    case = next(case for case in cases if case.model.id == drive_id)
    return (
        clear_travel(case, stand, catalogue) if stand and isinstance(case, SolvableCase) else None
    )


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


def _within_reach(case: SolvableCase, freedom: Freedom, scene: Scene) -> tuple[Thing, ...]:
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
