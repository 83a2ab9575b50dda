"""solve(build, rpm, catalogue) → Results: same input, same output (docs/ARCHITECTURE.md, "Solve")."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import partial
from typing import Any

import msgspec

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import Case, SolvableCase, UnsolvableCase
from jovial_tack.answers.drive.clearance import clearances
from jovial_tack.answers.drive.findings import unsolvable_findings
from jovial_tack.answers.drive.findings.lining_up import lining_up_findings
from jovial_tack.answers.drive.findings.stacking import (
    plate_finding,
    pull_findings,
    stacking_findings,
    tolerance_finding,
)
from jovial_tack.answers.drive.freedom import standing_obstacles
from jovial_tack.answers.drive.lining_up import LinedUp, lined_up
from jovial_tack.answers.drive.pull import Pulled, plates_pulled, pulled, stood
from jovial_tack.answers.drive.solved import solve_states
from jovial_tack.answers.drive.spread import spread_of
from jovial_tack.answers.drive.stack import stack_findings
from jovial_tack.answers.drive.stacks import stacks_of
from jovial_tack.answers.drive.telling import _Asked, _result_of
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.results import DriveResult, Finding, Readings, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.drive.path import Path
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Build


class Solution(Value, frozen=True):
    """Results with what they were computed from, so that a next solve can reuse unchanged drives.

    own: the drives by themselves, without what is found of several drives together.
    """

    results: Results
    keys: Mapping[str, Any] = msgspec.field(default_factory=dict)
    own: Results = Results(())


def solve(build: Build, rpm: Sequence[float] | None, catalogue: Catalogue) -> Results:
    """Solve all drives of a build at engine speeds.

    Parameters: rpm, rev/min, default idle, cruise and redline; the catalogue to take absent figures
    from. Raises CatalogueError for an unknown profile or construction.
    """
    return solve_again(build, rpm, catalogue, None).results


def solve_again(
    build: Build,
    rpm: Sequence[float] | None,
    catalogue: Catalogue,
    before: Solution | None,
    *,
    live: bool = False,
    reserve: bool = True,
    check_cancelled: Callable[[], None] = lambda: None,
) -> Solution:
    """Solve a build, taking over the drives whose inputs are those of an earlier solution.

    live: leave out the searches for reserve and mends, for use while the pointer moves; an unchanged
    drive is then taken over if its list of speeds holds those asked for, and may hold more. reserve:
    False leaves out what a drive has in hand, for whatever tries many builds; findings are the same.
    check_cancelled: called between the pieces of long work; what it raises ends it.
    """
    engine = build.engine
    listed = tuple(rpm or (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm))
    done: dict[str, DriveResult] = {}
    keys: dict[str, Any] = {}
    cases = assemble(build, catalogue)
    stand = standing_obstacles(build, cases)
    spread = None if live else spread_of(build, catalogue)
    known = None if spread is None else spread.key
    for case in cases:
        name = case.model.id
        key = (case.key, build.display_units, catalogue.version, stand, reserve, known)
        keys[name] = (key, listed, live)
        if before is not None and _reusable(before.keys.get(name), key, listed, live):
            done[name] = before.own.drive(name)
            keys[name] = before.keys[name]
    anew = [case for case in cases if case.model.id not in done]
    for result in _solve_cases(
        _Asked(build, stand, listed, catalogue, live, reserve, check_cancelled, spread), anew
    ):
        if not live:
            check_cancelled()
            _ = result.readings
        done[result.id] = result
    own = Results(tuple(done[case.model.id] for case in cases))
    results = _with_stacks(build, _with_lining_up(build, cases, own, catalogue))
    if not live:
        for drive in results.drives:
            _ = drive.readings  # here, not when the window first asks
    return Solution(results, keys, own)


def _with_lining_up(
    build: Build, cases: Sequence[Case], own: Results, catalogue: Catalogue
) -> Results:
    """The results with how the belts of all drives line up together, worked out when first asked
    for.
    """
    lined: list[LinedUp] = []
    stacked: list[tuple[str, Finding]] = []

    def look() -> LinedUp:
        if not lined:
            lined.append(lined_up(build, cases, own, catalogue))
            stacked.extend(_of_stacks(build, cases, own, lined[0], catalogue))
        return lined[0]

    def read(drive: DriveResult, case: SolvableCase, path: Path) -> Readings:
        found = look()
        stacks = [finding for name, finding in stacked if name == drive.id]
        names = [(drive.id, pulley) for pulley in case.model.route]
        own_drives = {other for move in found.moves for other, _ in move.pulleys}
        return replace(
            drive.readings,
            findings=(
                *drive.readings.findings,
                *lining_up_findings(build, case, path, found),
                *stacks,
            ),
            spacers_mm=tuple(found.move_of(name) for name in names),
            windows_mm=tuple(found.windows.get(name) for name in names),
            moves=found.moves if drive.id in own_drives else (),
        )

    drives = []
    for case, drive in zip(cases, own.drives, strict=True):
        if isinstance(case, SolvableCase) and drive.rest_path is not None:
            drive = replace(drive, read=partial(read, drive, case, drive.rest_path))
        drives.append(drive)
    return Results(tuple(drives))


def _of_stacks(
    build: Build, cases: Sequence[Case], own: Results, lined: LinedUp, catalogue: Catalogue
) -> Iterator[tuple[str, Finding]]:
    """What is found of units on their ears, and of brackets under the pull, by the drive it is said
    of.
    """
    units = stacks_of(build, lined.planes, catalogue) if build.stacks else ()
    for unit in units:
        if unit.problem or unit.pulley is None:
            continue
        found = stacking_findings(build, unit, catalogue)
        pull = pulled(build, cases, own, unit, catalogue)
        # what is only proposed is bolted nowhere
        if isinstance(pull, Pulled) and not any(ear.proposed for ear in unit.ears):
            found += pull_findings(build, pull, unit)
        stands = stood(build, cases, own, unit)
        settled = stands is not None and not unit.is_elsewhere
        open_ = tolerance_finding(build, stands, unit) if settled and stands is not None else None
        found += () if open_ is None else (open_,)
        yield from ((unit.pulley[0], finding) for finding in found)
    if all(bracket.plate is None for bracket in build.brackets):
        return
    for plate in plates_pulled(build, cases, own, catalogue):
        carried = build.bracket(plate.bracket).shafts
        drive, pulley = next(
            (d.id, p.id) for d in build.drives for p in d.pulleys if p.shaft in carried
        )
        finding = plate_finding(build, plate, pulley)
        if finding is not None:
            yield drive, finding


def _with_stacks(build: Build, own: Results) -> Results:
    """The results with what is found of stacks on shafts, told beside the findings of the drives."""
    if all(shaft.hub_moment_limit_nm is None for shaft in build.shafts):
        return own

    def read(drive: DriveResult) -> Readings:
        more = stack_findings(build, own).get(drive.id, ())
        return replace(drive.readings, findings=(*drive.readings.findings, *more))

    return Results(tuple(replace(drive, read=partial(read, drive)) for drive in own.drives))


def _reusable(earlier: Any, key: Any, listed: tuple[float, ...], live: bool) -> bool:
    if earlier is None or earlier[0] != key:
        return False
    return set(listed) <= set(earlier[1]) if live else earlier[1:] == (listed, False)


def _solve_cases(asked: _Asked, cases: Sequence[Case]) -> Iterator[DriveResult]:
    solvable = [case for case in cases if isinstance(case, SolvableCase)]
    for case in cases:
        if isinstance(case, UnsolvableCase):
            found = unsolvable_findings(case, Speech(case, asked.build.display_units))
            yield DriveResult(case.model.id, asked.rpm, read=partial(Readings, found))
    live, catalogue = asked.live, asked.catalogue
    states = solve_states(solvable, asked.rpm, catalogue.limits, live=live)
    for group in [states] if live else [[solved] for solved in states]:
        asked.check_cancelled()
        gaps = clearances(group, asked.obstacles, catalogue, live=live, spread=asked.spread)
        for solved, near in zip(group, gaps, strict=True):
            yield _result_of(asked, solved, near)
