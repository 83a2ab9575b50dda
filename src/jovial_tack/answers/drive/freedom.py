"""How a drive's adjuster moves: a spring arm by its angle, a slot or swing by a share of its travel."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from jovial_tack.answers.drive.case import Case, SolvableCase
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.arm import Layout, SpringArm, place_arm
from jovial_tack.core.drive.path import Path, trace
from jovial_tack.core.drive.sliding import Swing, Track
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Obstacle, Point, SwingMount, replaced


class Freedom(Value, frozen=True):
    """One parameter from a first to a second end: an arm's angle (rad; of a slide its share) from its
    wound to its unwound stop, or the share of a travel from 0 to 1.

    moving: the places on the route that move; drawn: complex mm, where the file draws their shaft.
    """

    layout: Layout
    by: SpringArm | Track
    ends: tuple[float, float]
    moving: tuple[int, ...]
    drawn: complex

    def paths(self, values: Float) -> Path:
        """The paths at values (K,), with (K, N) members."""
        if isinstance(self.by, SpringArm):
            return place_arm(self.layout, self.by, values).path
        centers = np.tile(self.layout.centers, (values.size, 1))
        centers[:, list(self.moving)] = self.by.center(values)[:, None]
        return trace(centers, self.layout.signed_radii)

    def center(self, value: float) -> complex:
        """Where the moving shaft stands, complex mm."""
        return complex(self.by.center(np.asarray(value)))

    def carry(self, points: Complex, value: float, placed: complex) -> Complex:
        """Where points come that move with the shaft and are drawn with it standing at a place.

        On a slot they are shifted, on a swing they turn about its pivot, with an arm about its own.
        """
        center = self.center(value)
        turns = not self.by.slides if isinstance(self.by, SpringArm) else isinstance(self.by, Swing)
        if turns:
            assert isinstance(self.by, SpringArm | Swing)
            turn = (center - self.by.pivot) / (placed - self.by.pivot or 1.0)
            return np.asarray(self.by.pivot + (points - self.by.pivot) * (turn / abs(turn)))
        return np.asarray(points + (center - placed))


def freedom_of(case: SolvableCase) -> Freedom | None:
    """The freedom of a drive's adjuster; None where nothing moves."""
    if case.arm is not None:
        index = case.arm.index
        drawn = complex(*case.shafts[index].center_mm)
        return Freedom(case.drive.layout, case.arm, case.arm.stops, (index,), drawn)
    track = case.track
    if track is None:
        return None
    moving = case.moving
    drawn = complex(*case.shafts[moving[0]].center_mm)
    return Freedom(case.drive.layout, track, (0.0, 1.0), moving, drawn)


def rest_pull(case: SolvableCase, at: float) -> float:
    """The tension at rest with the adjuster at some place (rad of an arm, share of a travel), N.

    Raises GeometryError where the arm has no lever. METHOD 5.
    """
    if case.arm is None:
        pull = getattr(case.model.tensioner, "installed_tension_n", None)
        return case.belt.reference_tension_n if pull is None else float(pull)
    angle = np.array(at)
    grown = float(place_arm(case.drive.layout, case.arm, angle).grown)
    torque = 1000.0 * float(case.arm.spring_torque(angle))
    pull = case.arm.push * torque / grown if grown else np.nan
    if not np.isfinite(pull) or pull <= 0:
        raise GeometryError("the arm has no lever there")
    return float(pull)


def length_slope(freedom: Freedom | None, at: float) -> float:
    """By how much the path grows per rad of an arm, or over a whole travel, mm; 0 where nothing moves
    and where there is no path.
    """
    if freedom is None:
        return 0.0
    near = 1e-3
    totals = freedom.paths(np.array([at - near, at + near])).total
    slope = abs(float(totals[1] - totals[0])) / (2 * near)
    return slope if np.isfinite(slope) else 0.0


def standing_obstacles(build: Build, cases: Iterable[Case]) -> tuple[Obstacle, ...]:
    """The build's obstacles, those that hang on a shaft moved to where its belt puts it."""
    if not any(obstacle.moves_with for obstacle in build.obstacles):
        return build.obstacles
    centers = {shaft.id: shaft.center_mm for shaft in build.shafts}
    for case in cases:
        slide = case.slide if isinstance(case, SolvableCase) else None
        if case.locked_shaft and slide is not None and slide.share is not None:
            at = complex(slide.track.center(np.asarray(slide.share)))
            centers[case.locked_shaft] = at.real, at.imag
    return tuple(
        replaced(obstacle, outline_mm=hung_outline(build, obstacle, centers))
        if obstacle.moves_with
        else obstacle
        for obstacle in build.obstacles
    )


def hung_outline(
    build: Build, obstacle: Obstacle, centers: Mapping[str, Point]
) -> tuple[Point, ...]:
    """The outline of an obstacle, moved with its shaft to where that stands."""
    if obstacle.moves_with is None:
        return obstacle.outline_mm
    shaft = build.shaft(obstacle.moves_with)
    drawn, placed = complex(*shaft.center_mm), complex(*centers[shaft.id])
    if placed == drawn:
        return obstacle.outline_mm
    points = np.array([complex(*point) for point in obstacle.outline_mm])
    if isinstance(shaft.mount, SwingMount):
        pivot = complex(*shaft.mount.pivot_mm)
        turn = (placed - pivot) / (drawn - pivot or 1.0)
        points = pivot + (points - pivot) * (turn / abs(turn))
    else:
        points = points + (placed - drawn)
    return tuple((float(p.real), float(p.imag)) for p in points)
