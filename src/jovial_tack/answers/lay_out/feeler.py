"""A gap as a feeler finds it, beside what becomes of it: hot, over the travel, with the next belts.

What is typed of a gap corrects the outline that was traced: the side that is nearest moves until the
gap at rest is the one that was felt (docs/METHOD.md, 12). At rest a belt does not swing; running it
does.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from jovial_tack.answers.belt.stock import stock_for
from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.clearance import clearances
from jovial_tack.answers.drive.freedom import standing_obstacles
from jovial_tack.answers.drive.hot import warmed
from jovial_tack.answers.drive.solved import solve_states
from jovial_tack.answers.results import ClearanceResult
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.value import Value, replace
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.obstacles import set_obstacle
from jovial_tack.document.model import Build, Obstacle

#: How near the gap of a corrected outline comes to what was felt, mm.
_WITHIN_MM = 0.005
_MOST_STEPS = 12
#: A point this near to the end of a side is its corner, as a share of the side.
_CORNER = 1e-6


class FeltGap(Value, frozen=True):
    """The least gap of any drive to one thing in the way, mm: at rest and cold, as a feeler finds it;
    running hot, over the travel of an arm, with the next shorter or longer stocked belt; None where
    nothing comes near. needed_mm: what is wanted.
    """

    rest_mm: float | None
    hot_mm: float | None
    travel_mm: float | None
    next_belts_mm: float | None
    needed_mm: float

    @property
    def least_mm(self) -> float | None:
        """The least of all."""
        every = (self.rest_mm, self.hot_mm, self.travel_mm, self.next_belts_mm)
        return min((gap for gap in every if gap is not None), default=None)

    @property
    def to_grind_mm(self) -> float | None:
        """How much must go for the wanted gap to be kept always; None where nothing must."""
        least = self.least_mm
        return None if least is None or least >= self.needed_mm else self.needed_mm - least


def felt_gap(
    build: Build, obstacle_id: str, catalogue: Catalogue, *, only_at_rest: bool = False
) -> FeltGap:
    """The gaps to one thing in the way; the last are kept, since a card asks for each by itself.

    only_at_rest: leave out the others, for use while something is dragged.
    """
    of = build, obstacle_id, catalogue.version, only_at_rest
    if _last.get("of") != of:
        work_out = _at_rest if only_at_rest else _worked_out
        _last.update(of=of, gaps=work_out(build, obstacle_id, catalogue))
    gaps: FeltGap = _last["gaps"]
    return gaps


_last: dict[str, Any] = {}


def _at_rest(build: Build, obstacle_id: str, catalogue: Catalogue) -> FeltGap:
    needed = build.obstacle(obstacle_id).needed_mm
    if needed is None:
        needed = catalogue.obstacles[build.obstacle(obstacle_id).kind].needed_mm
    rest = _nearest(build, obstacle_id, _still(catalogue))
    return FeltGap(_mm(rest), None, None, None, needed)


def _worked_out(build: Build, obstacle_id: str, catalogue: Catalogue) -> FeltGap:
    over = _nearest(build, obstacle_id, catalogue, window=True)
    hot = _nearest(build, obstacle_id, catalogue, hot=True)
    others = [
        gap.gap_mm
        for other in _with_next_belts(build, catalogue)
        if (gap := _nearest(other, obstacle_id, catalogue)) is not None
    ]
    return replace(
        _at_rest(build, obstacle_id, catalogue),
        hot_mm=_mm(hot),
        travel_mm=_mm(over),
        next_belts_mm=min(others, default=None),
    )


def _still(catalogue: Catalogue) -> Catalogue:
    """The catalogue for a belt that stands still and does not swing."""
    return replace(catalogue, limits=replace(catalogue.limits, flutter_share=0.0))


def _mm(found: ClearanceResult | None) -> float | None:
    return None if found is None else found.gap_mm


def _nearest(
    build: Build, obstacle_id: str, catalogue: Catalogue, *, window: bool = False, hot: bool = False
) -> ClearanceResult | None:
    """The least gap of all drives to one thing; window: over the window of an arm as well."""
    cases = assemble(build, catalogue)
    stand = [o for o in standing_obstacles(build, cases) if _counts(o, obstacle_id)]
    solvable = [
        _hot(case, catalogue) if hot else case for case in cases if isinstance(case, SolvableCase)
    ]
    states = solve_states(solvable, (), catalogue.limits, live=True)
    found = [
        gap
        for gaps in clearances(states, stand, catalogue, live=False, window=window)
        for gap in gaps
        if gap.obstacle == obstacle_id and gap.of != "wrench"
    ]
    return min(found, key=lambda gap: gap.gap_mm, default=None)


def _counts(obstacle: Obstacle, obstacle_id: str) -> bool:
    """The thing itself, and bodies that hang on moving shafts: these come near it too."""
    return obstacle.id == obstacle_id or obstacle.moves_with is not None


def _hot(case: SolvableCase, catalogue: Catalogue) -> SolvableCase:
    return replace(case, drive=warmed(case.drive, catalogue.limits))


def _with_next_belts(build: Build, catalogue: Catalogue) -> Iterator[Build]:
    """The build with the next shorter and the next longer stocked belt on each drive."""
    for case in assemble(build, catalogue):
        fitted = case.model.belt.effective_length_mm
        if fitted is None:
            continue
        lengths = [b.effective_length_mm for b in stock_for(build, case.belt, catalogue)]
        shorter = [mm for mm in lengths if mm < fitted - 0.5]
        longer = [mm for mm in lengths if mm > fitted + 0.5]
        for mm in (*shorter[-1:], *longer[:1]):
            yield set_belt_length(build, case.model.id, mm)


def with_felt_gap(build: Build, obstacle_id: str, gap_mm: float, catalogue: Catalogue) -> Build:
    """The build with the nearest side (or corner) of an outline moved until its gap at rest is gap_mm.

    Raises BuildFileError where nothing comes near it, where it is touched as it is drawn, or where
    another part stays nearer.
    """
    for _ in range(_MOST_STEPS):
        near = _nearest(build, obstacle_id, _still(catalogue))
        if near is None:
            raise BuildFileError("gap", "an outline that something comes near to; nothing does")
        if abs(near.gap_mm - gap_mm) <= _WITHIN_MM:
            return build
        away = complex(*near.there_mm) - complex(*near.here_mm)
        if near.gap_mm <= 0 or abs(away) == 0:
            raise BuildFileError(
                "gap", "an outline that is not touched as it is drawn: move it off first"
            )
        build = _moved(build, obstacle_id, near, away / abs(away) * (gap_mm - near.gap_mm))
    raise BuildFileError("gap", "a gap this outline can have: another part of it stays nearer")


def _moved(build: Build, obstacle_id: str, near: ClearanceResult, by: complex) -> Build:
    """The outline with the side (or corner) that is nearest moved by a vector, mm."""
    obstacle = build.obstacle(obstacle_id)
    points = np.array([complex(*point) for point in obstacle.outline_mm])
    there = complex(*near.there_mm)
    ends = np.roll(points, -1) if obstacle.closed and points.size > 2 else points[1:]
    starts = points[: ends.size]
    along = ends - starts
    share = np.clip(((there - starts) / along).real, 0.0, 1.0)
    side = int(np.argmin(np.abs(starts + share * along - there)))
    first, second = side, (side + 1) % points.size
    moved = {first, second}
    if share[side] < _CORNER:
        moved = {first}
    elif share[side] > 1 - _CORNER:
        moved = {second}
    outline = tuple(
        (float(point.real), float(point.imag))
        for point in (p + by if k in moved else p for k, p in enumerate(points))
    )
    return set_obstacle(build, obstacle_id, outline_mm=outline)
