"""The best of what fits looked at as closely as any build: over all revs, with all that is found of it.

A combination is ranked by the listed speeds alone; what is offered is solved whole first.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from jovial_tack.answers.belt.putting_on import FittingRoom
from jovial_tack.answers.drive.solve import Solution, solve_again
from jovial_tack.answers.finder.figures import case_of
from jovial_tack.answers.finder.sure import Sure, how_sure
from jovial_tack.answers.finder.trying import Answer
from jovial_tack.answers.kinds import BELT_FLOATS, CLEARANCE, HUB_LOAD, SLIP, TOO_TIGHT
from jovial_tack.answers.mending.changes import Change
from jovial_tack.answers.mending.mends import costs_of
from jovial_tack.answers.mending.worth import Worth, worth_between
from jovial_tack.answers.results import DriveResult, Results
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Need

#: What a drive may not have found of it for a need to be met.
_BREAKS = {
    "holds": {SLIP, BELT_FLOATS},
    "not_tight": {TOO_TIGHT, HUB_LOAD},
    "clear": {CLEARANCE},
}
#: So many combinations are looked at for one that is kept, before it is given up.
_LOOKS = 40


class Vetted(Value, frozen=True, eq=False):
    """A combination that was solved whole: its place among what fits, its build, the drive then, what
    it wins and costs (None where nothing slips), and whether the belt can be put on.
    """

    place: int
    build: Build
    result: DriveResult
    worth: Worth | None
    goes_on: bool | None
    sure: Sure | None


def can_be_put_on(answer: Answer, build: Build) -> bool | None:
    """Whether the belt of a build goes on, if need be with an idler left off; None where that cannot be
    told.
    """
    space = answer.space
    case = case_of(build, space)
    length = case.model.belt.effective_length_mm
    if length is None:
        return None
    try:
        fitting = FittingRoom(case, space.catalogue).judge(length)
    except (GeometryError, IndexError):
        return None
    return fitting.can or bool(fitting.leave_off)


def vetted(
    answer: Answer,
    count: int,
    before: Solution | None = None,
    check_cancelled: Callable[[], None] = lambda: None,
    first: int = 0,
) -> Iterator[Vetted]:
    """The best combinations that meet every need, as many as are wanted, in their order; first: the
    place from which on they are looked at.
    """
    space = answer.space
    drive, needs = space.choices.drive, space.choices.needs
    before = before or solve_again(space.build, None, space.catalogue, None)
    kept = 0
    most = min(answer.fitting.combination.size, first + count * _LOOKS)
    for place in range(first, most):
        check_cancelled()
        build = space.build_of(int(answer.fitting.combination[place]))
        goes_on = can_be_put_on(answer, build)
        if "goes_on" in needs and goes_on is False:
            continue
        after = solve_again(build, None, space.catalogue, before).results
        result = after.drive(drive)
        if _broken(needs, result) or ("no_stop" in needs and _stops(before.results, after)):
            continue
        words = space.words_of(int(answer.fitting.combination[place]))
        change = Change(words, build)
        worth = worth_between(space.build, drive, change, before.results, after)
        sure = how_sure(build, drive, space.catalogue)
        yield Vetted(place, build, result, worth, goes_on, sure)
        kept += 1
        if kept == count:
            return


def _broken(needs: tuple[Need, ...], result: DriveResult) -> bool:
    kinds = {finding.kind for finding in result.findings}
    return any(kinds & _BREAKS.get(need, set()) for need in needs)


def _stops(before: Results, after: Results) -> bool:
    """Whether anything on the engine becomes a stop that was none."""
    return any(finding.level == "stop" for finding in costs_of(before, after))
