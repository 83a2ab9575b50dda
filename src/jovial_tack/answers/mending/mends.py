"""Which changes mend a finding: applied, solved over all revs, and told only if they do.

A mend is told only if the finding is gone and no verdict is worse; the sentence is made from what was
solved, with what it leaves (docs/METHOD.md, section 8).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from jovial_tack.answers.drive.solve import Solution, solve_again
from jovial_tack.answers.drive.words import percent
from jovial_tack.answers.kinds import (
    ARM_AT_STOP,
    ARM_OUTSIDE_WINDOW,
    BELT_FLOATS,
    BELT_SPEED,
    BELT_TOO_LONG,
    BELT_TOO_SHORT,
    HUB_LOAD,
    LOW_RESERVE,
    PROUD_OF_RIM,
    RIB_MISMATCH,
    SLIP,
    SMALL_PULLEY,
    TEETH,
    TOO_TIGHT,
)
from jovial_tack.answers.mending.changes import Change, changes
from jovial_tack.answers.results import DriveResult, Edit, Finding, Level, Mend, Readings, Results
from jovial_tack.answers.verdicts import Mark, Verdict, verdicts
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Build, dump

_MOST_TOLD = 3
_GRAVITY: Mapping[Mark, int] = {"good": 0, "unknown": 0, "watch": 1, "stop": 2}

#: Kinds that no change of this list mends; they need another crank pulley, or another part.
_NOT_SO = {BELT_SPEED, PROUD_OF_RIM, RIB_MISMATCH, SMALL_PULLEY, TEETH}
#: Findings that more tension mends, or less.
_OF_TENSION = {SLIP, TOO_TIGHT, HUB_LOAD}
#: Findings that grow into one another.
_FAMILIES: tuple[set[str], ...] = (
    {LOW_RESERVE.code, SLIP.code, BELT_FLOATS.code},
    {ARM_OUTSIDE_WINDOW.code, ARM_AT_STOP.code, BELT_TOO_LONG.code, BELT_TOO_SHORT.code},
)

#: What a mend belongs to: drive, code and place of a finding.
Key = tuple[str, str, str]


class _Tried(Value, frozen=True, eq=False):
    """A change with what it makes of the build."""

    change: Change
    results: Results
    verdicts: tuple[Verdict, Verdict, Verdict, Verdict]

    def has(self, key: Key, level: Level, before: Results) -> bool:
        """Whether a finding is still there, or another of its family that is no less grave.

        At its place, or stopped anywhere it did not stop before: slip that becomes a floating belt
        elsewhere is not mended.
        """
        drive_id, code, where = key
        codes = next((family for family in _FAMILIES if code in family), {code})
        stopped = {f.where for f in _findings(before, drive_id, codes) if f.level == "stop"}
        now = _findings(self.results, drive_id, codes)
        here = [f for f in now if f.where == where]
        spread = [f for f in now if f.level == "stop" and f.where not in {where, *stopped}]
        return bool(spread) or any(f.kind.code == code or f.level in ("stop", level) for f in here)


def _findings(results: Results, drive_id: str, codes: set[str]) -> list[Finding]:
    found = (d.findings for d in results.drives if d.id == drive_id)
    return [f for findings in found for f in findings if f.kind.code in codes]


def key_of(drive: DriveResult, finding: Finding) -> Key:
    """What a finding's mends are kept under."""
    return drive.id, finding.kind.code, finding.where


def mends_of(
    build: Build,
    catalogue: Catalogue,
    before: Solution,
    check_cancelled: Callable[[], None] = lambda: None,
) -> dict[Key, tuple[Mend, ...]]:
    """For every finding that counts in a verdict, up to three changes that mend it, best first."""
    started = solve_again(build, None, catalogue, before, reserve=False)
    now = verdicts(build, started.results, {}, catalogue.limits)
    found: dict[Key, tuple[Mend, ...]] = {}
    for drive in started.results.drives:
        wrong = [
            f for f in drive.findings
            if f.kind.verdict is not None and f.level != "note" and f.kind not in _NOT_SO
        ]  # fmt: skip
        if not wrong or build.drive(drive.id).tensioner is None:
            continue
        check_cancelled()
        levels = {key_of(drive, finding): finding.level for finding in wrong}
        told = before.results.drive(drive.id) if _has(before.results, drive.id) else drive
        mending: dict[Key, list[_Tried]] = {key: [] for key in levels}
        at_a_cost: dict[Key, list[_Tried]] = {key: [] for key in levels}
        wanted = {f.kind.verdict for f in wrong if f.kind.verdict is not None}
        for place, change in enumerate(changes(build, told, wanted, catalogue)):
            if place >= _MOST_TOLD and all(mending.values()):
                break
            check_cancelled()
            tried = _try(change, catalogue, started)
            if not _no_graver(now, tried.verdicts) or not _stands_as(started.results, tried):
                continue
            clean = _no_more(started.results, now, tried)
            for key, tries in (mending if clean else at_a_cost).items():
                if len(tries) < _MOST_TOLD and not tried.has(key, levels[key], started.results):
                    tries.append(tried)
        for key, level in levels.items():
            # what costs something elsewhere is told only where nothing better is there
            tries = mending[key] or [t for t in at_a_cost[key] if level == "stop"]
            if tries:
                found[key] = tuple(_told(build, key, tried, started.results) for tried in tries)
    return found


def _has(results: Results, drive_id: str) -> bool:
    return any(drive.id == drive_id for drive in results.drives)


def _try(change: Change, catalogue: Catalogue, before: Solution) -> _Tried:
    results = solve_again(change.build, None, catalogue, before, reserve=False).results
    return _Tried(change, results, verdicts(change.build, results, {}, catalogue.limits))


def _no_graver(now: tuple[Verdict, ...], then: tuple[Verdict, ...]) -> bool:
    """Whether no verdict is graver."""
    return all(_GRAVITY[b.mark] <= _GRAVITY[a.mark] for a, b in zip(now, then, strict=True))


def _stands_as(before: Results, tried: _Tried) -> bool:
    """Whether every drive that ran still does: of one without a belt nothing is found any more."""
    ran = {drive.id for drive in before.drives if _runs(drive)}
    return all(_runs(drive) for drive in tried.results.drives if drive.id in ran)


def _runs(drive: DriveResult) -> bool:
    lost = {finding.kind for finding in drive.findings} & {BELT_TOO_LONG, BELT_TOO_SHORT}
    return drive.tensioner is not None and not lost


def _no_more(before: Results, now: tuple[Verdict, ...], tried: _Tried) -> bool:
    """Whether no verdict of equal mark speaks of more or graver things."""
    return all(
        b.mark != a.mark or _counted(tried.results, b) <= _counted(before, a)
        for a, b in zip(now, tried.verdicts, strict=True)
    )


def _counted(results: Results, verdict: Verdict) -> tuple[int, int]:
    """How many things a verdict stops at, and how many it watches."""
    levels = [f.level for f in results.findings if f.kind.verdict == verdict.title]
    return levels.count("stop"), levels.count("watch")


def _told(build: Build, key: Key, tried: _Tried, before: Results) -> Mend:
    """The mend in words: what is changed, what that leaves, and what it costs elsewhere."""
    costs = _costs(before, tried.results)
    left = _left(tried, key)
    if costs:
        left = f"{left}, but {costs[0].message.partition('; ')[0]}".removeprefix(", ")
    edits = _edits(dump(build), dump(tried.change.build))
    worse = tuple(dict.fromkeys(finding.kind.code for finding in costs))
    return Mend(tried.change.words, left, edits, tried.change.build, worse)


def _costs(before: Results, after: Results) -> list[Finding]:
    """Findings that stop and did not before, the gravest first."""
    was = {key_of(d, f): f.level for d in before.drives for f in d.findings}
    return [
        finding
        for drive in after.drives
        for finding in drive.findings
        if finding.level == "stop" and was.get(key_of(drive, finding)) != "stop"
    ]


def _left(tried: _Tried, key: Key) -> str:
    """What is left of the matter: the share of the wrap that is used then, or the verdict."""
    drive_id, code, where = key
    drive = tried.results.drive(drive_id)
    pulley = drive.pulley(where)
    used = None if pulley is None else pulley.worst_arc_used
    if used is not None and code in (SLIP.code, LOW_RESERVE.code):
        return f"{percent(used)} of its wrap then"
    return ""


def _edits(before: Any, after: Any, path: str = "") -> tuple[Edit, ...]:
    """What makes one JSON value into another, as JSON Pointers into it."""
    if isinstance(before, dict) and isinstance(after, dict):
        found: list[Edit] = []
        for key in {**before, **after}:
            inner = f"{path}/{str(key).replace('~', '~0').replace('/', '~1')}"
            if key not in after:
                found.append(Edit(inner, None, "remove"))
            elif key not in before:
                found.append(Edit(inner, after[key], "add"))
            else:
                found += _edits(before[key], after[key], inner)
        return tuple(found)
    if isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        return tuple(
            edit
            for place, (a, b) in enumerate(zip(before, after, strict=True))
            for edit in _edits(a, b, f"{path}/{place}")
        )
    return () if before == after else (Edit(path, after, "replace"),)


def mended(results: Results, mends: Mapping[Key, tuple[Mend, ...]]) -> Results:
    """The results with every finding's mends on it, the first of them in its sentence.

    A stop of tension without a mend says so where no tension would do.
    """

    def told(drive: DriveResult) -> Readings:
        readings = drive.readings
        findings = tuple(
            _with(f, mends.get(key_of(drive, f), ()), drive) for f in readings.findings
        )
        return replace(readings, findings=findings)

    return Results(tuple(replace(drive, read=_later(told, drive)) for drive in results.drives))


def _later(told: Callable[[DriveResult], Readings], drive: DriveResult) -> Callable[[], Readings]:
    return lambda: told(drive)


def _with(finding: Finding, mends: tuple[Mend, ...], drive: DriveResult) -> Finding:
    if not mends:
        return _without_a_band(finding, drive)
    what = finding.message.partition(";")[0]
    return replace(finding, message=f"{what}; {mends[0].sentence}", mends=mends)


def _without_a_band(finding: Finding, drive: DriveResult) -> Finding:
    """A stop of tension that no tension mends, because less is allowed than holds, in those words."""
    grip = drive.grip
    if finding.level != "stop" or finding.kind not in _OF_TENSION or grip is None:
        return finding
    least, most = grip.least_tension_n, grip.most_tension_n
    if least is None or most is None or least <= most:
        return finding
    what = finding.message.partition(";")[0]
    words = (
        f"no tension will do: {least:.0f} N at rest is the least that holds, {most:.0f} N the most"
        " that belt and bearings bear; belt, wrap, pulleys or loads must change"
    )
    return replace(finding, message=f"{what}; {words}")
