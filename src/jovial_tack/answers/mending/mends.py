"""Which changes mend a finding: applied, solved over all revs, and told only if they do.

A mend is told only if the finding is gone and no verdict is worse; the sentence is made from what was
solved, with what it leaves (docs/METHOD.md, section 8).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from jovial_tack.answers.belt.buying import ENOUGH
from jovial_tack.answers.belt.order import OrderedBelt, belts_to_order
from jovial_tack.answers.drive.solve import Solution, solve_again
from jovial_tack.answers.drive.words import percent
from jovial_tack.answers.kinds import (
    ARM_AT_STOP,
    ARM_OUTSIDE_WINDOW,
    BELT_FLOATS,
    BELT_TOO_LONG,
    BELT_TOO_SHORT,
    HUB_LOAD,
    LOW_RESERVE,
    SLIP,
    TOO_TIGHT,
)
from jovial_tack.answers.mending.changes import Change, changes
from jovial_tack.answers.results import DriveResult, Edit, Finding, Level, Mend, Readings, Results
from jovial_tack.answers.verdicts import Mark, order_verdict, verdicts
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import FORCE, written_in
from jovial_tack.core.value import Value, replace
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.model import Build, dump

_MOST_TOLD = 3
_GRAVITY: Mapping[Mark, int] = {"good": 0, "unknown": 0, "watch": 1, "stop": 2}
_WEIGHT: Mapping[Level, int] = {"note": 0, "unknown": 1, "watch": 2, "stop": 3}

#: What a change is looked for; what is not known yet is mended by typing what is missing.
_ALARMS = ("watch", "stop")

#: Findings that more tension mends, or less.
_OF_TENSION = {SLIP, TOO_TIGHT, HUB_LOAD}
#: Findings that grow into one another.
_FAMILIES: tuple[set[str], ...] = (
    {LOW_RESERVE.code, SLIP.code, BELT_FLOATS.code},
    {ARM_OUTSIDE_WINDOW.code, ARM_AT_STOP.code, BELT_TOO_LONG.code, BELT_TOO_SHORT.code},
)

#: Findings of what a pulley holds, of which nothing is known where the belt floats.
_OF_GRIP = {SLIP.code, LOW_RESERVE.code}

#: What a mend belongs to: drive, code and place of a finding.
Key = tuple[str, str, str]
#: For every drive the belt to order; None where no stocked belt fits and goes on.
Orders = Mapping[str, OrderedBelt | None]


class _Judged:
    """A build with all that is concluded of it but *Order*."""

    def __init__(self, build: Build, results: Results, catalogue: Catalogue) -> None:
        self.build, self.results, self.catalogue = build, results, catalogue
        self.marks = [v.mark for v in verdicts(build, results, {}, catalogue)]


class _Tried(Value, frozen=True, eq=False):
    """A change with what it makes of the build."""

    change: Change
    results: Results

    def has(self, key: Key, level: Level, before: Results) -> bool:
        """Whether a finding is still there, or another of its family that is no less grave.

        At its place, or stopped anywhere it did not stop before: slip that becomes a floating belt
        elsewhere is not mended, and where the belt floats no pulley's grip is.
        """
        drive_id, code, where = key
        codes = _family(code)
        if code in _OF_GRIP and _findings(self.results, drive_id, {BELT_FLOATS.code}):
            return True
        stopped = {f.where for f in _findings(before, drive_id, codes) if f.level == "stop"}
        for finding in _findings(self.results, drive_id, codes):
            if finding.where == where:
                if finding.code == code or finding.level in ("stop", level):
                    return True
            elif finding.level == "stop" and finding.where not in stopped:
                return True  # it has spread
        return False


def _family(code: str) -> set[str]:
    """The codes of findings that grow into one another, with a code that is given."""
    return next((family for family in _FAMILIES if code in family), {code})


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
    orders: Orders,
    check_cancelled: Callable[[], None] = lambda: None,
) -> dict[Key, tuple[Mend, ...]]:
    """For every finding that counts in a verdict, up to three changes that mend it, best first.

    orders: the belts to order as the build stands.
    """
    started = solve_again(build, None, catalogue, before, reserve=False)
    now = _Judged(build, started.results, catalogue)
    found: dict[Key, tuple[Mend, ...]] = {}
    for drive in started.results.drives:
        wrong = [f for f in drive.findings if f.kind.verdict is not None and f.level in _ALARMS]
        if not wrong or build.drive(drive.id).tensioner is None:
            continue
        told = before.results.drive(drive.id) if _has(before.results, drive.id) else drive
        search = _Search(now, orders, {key_of(drive, f): f for f in wrong})
        kinds = {f.kind for f in wrong}
        for change in changes(build, told, kinds, catalogue, started.results):
            if search.is_over(change):
                continue
            check_cancelled()
            results = solve_again(change.build, None, catalogue, started, reserve=False).results
            search.offer(change, _Judged(change.build, results, catalogue))
        for key, tries in search.chosen().items():
            found[key] = tuple(_told(build, key, tried, started.results) for tried in tries)
    return found


class _Search:
    """The changes found so far for every finding of one drive.

    What makes a stop elsewhere is no mend. What mends a thing to be watched by making another one is
    kept apart, and told only where nothing better is there.
    """

    def __init__(self, now: _Judged, orders: Orders, wrong: Mapping[Key, Finding]) -> None:
        self.now, self.before, self.orders = now, now.results, orders
        self.wrong = wrong
        self.tried = 0
        self.clean: dict[Key, list[_Tried]] = {key: [] for key in wrong}
        self.costly: dict[Key, list[_Tried]] = {key: [] for key in wrong}

    def is_over(self, change: Change) -> bool:
        """Whether all that a change may mend is mended, after the first few."""
        if self.tried < _MOST_TOLD:
            return False
        return not any(
            change.may_mend(finding.kind)
            for key, finding in self.wrong.items()
            if not self.clean[key] and (finding.level == "stop" or not self.costly[key])
        )

    def offer(self, change: Change, then: _Judged) -> None:
        """Keep a change for the findings it mends, if it makes no verdict graver."""
        self.tried += 1
        if not _no_graver(self.now, then) or not _stands_as(self.before, then.results):
            return
        tried = _Tried(change, then.results)
        cost = max((_WEIGHT[f.level] for f in costs_of(self.before, then.results)), default=0)
        if cost == _WEIGHT["stop"]:
            return
        open_still = {k: f for k, f in self.wrong.items() if len(self.clean[k]) < _MOST_TOLD}
        mended = [k for k, f in open_still.items() if not tried.has(k, f.level, self.before)]
        if not mended or not _orders_no_worse(self.now, then, self.orders):
            return
        for key in mended:
            is_clean = cost < _WEIGHT[self.wrong[key].level]
            (self.clean if is_clean else self.costly)[key].append(tried)

    def chosen(self) -> dict[Key, list[_Tried]]:
        """Up to three for every finding that has any, those first that cost the least."""
        chosen = {}
        for key, clean in self.clean.items():
            costly = sorted(self.costly[key], key=lambda t: len(costs_of(self.before, t.results)))
            if tries := (clean or costly)[:_MOST_TOLD]:
                chosen[key] = tries
        return chosen


def _has(results: Results, drive_id: str) -> bool:
    return any(drive.id == drive_id for drive in results.drives)


def _no_graver(now: _Judged, then: _Judged) -> bool:
    """Whether no verdict that follows from findings is graver."""
    return all(_GRAVITY[b] <= _GRAVITY[a] for a, b in zip(now.marks, then.marks, strict=True))


def _orders_no_worse(now: _Judged, then: _Judged, orders: Orders) -> bool:
    """Whether *Order* is no graver; only drives that a change can have touched are asked again."""
    mark = order_verdict(now.build, orders).mark
    if mark not in ("good", "watch"):
        return True
    for drive_id in orders:
        if _takes_the_same(now.build, then.build, drive_id):
            if mark == "good" and then.build.drive(drive_id) != now.build.drive(drive_id):
                return False  # another belt than the one to order
            continue
        enough = ENOUGH if mark == "good" else 1
        order = belts_to_order(then.build, then.catalogue, drive_id, enough).get(drive_id)
        if order is None or (mark == "good" and not order.is_fitted):
            return False
    return True


def _takes_the_same(before: Build, after: Build, drive_id: str) -> bool:
    """Whether a change leaves a drive all but the length of its belt."""
    was = before.drive(drive_id)
    now = set_belt_length(after, drive_id, was.belt.effective_length_mm).drive(drive_id)
    return now == was and (before.shafts, before.brackets) == (after.shafts, after.brackets)


def _stands_as(before: Results, after: Results) -> bool:
    """Whether every drive that ran still does: of one without a belt nothing is found any more."""
    ran = {drive.id for drive in before.drives if _runs(drive)}
    return all(_runs(drive) for drive in after.drives if drive.id in ran)


def _runs(drive: DriveResult) -> bool:
    lost = {finding.kind for finding in drive.findings} & {BELT_TOO_LONG, BELT_TOO_SHORT}
    return drive.tensioner is not None and not lost


def _told(build: Build, key: Key, tried: _Tried, before: Results) -> Mend:
    """The mend in words: what is changed, what that leaves, and what it costs elsewhere."""
    costs = costs_of(before, tried.results)
    left = [_left(tried, key)]
    if costs:
        left.append(f"{len(costs)} more to watch")
    edits = _edits(dump(build), dump(tried.change.build))
    worse = tuple(dict.fromkeys(finding.kind.code for finding in costs))
    told = ", ".join(words for words in left if words)
    return Mend(tried.change.words, told, edits, tried.change.build, worse)


def costs_of(before: Results, after: Results) -> list[Finding]:
    """Findings that count and are new or graver.

    One that has grown out of a graver one of its family is what is left of that.
    """
    was: dict[tuple[str, str, str], int] = {}
    for drive in before.drives:
        for finding in drive.findings:
            weight = _WEIGHT[finding.level]
            for code in _family(finding.kind.code):
                key = drive.id, code, finding.where
                was[key] = max(weight, was.get(key, 0))
    return [
        finding
        for drive in after.drives
        for finding in drive.findings
        if finding.kind.verdict is not None
        and _WEIGHT[finding.level] > was.get(key_of(drive, finding), 0)
    ]


def _left(tried: _Tried, key: Key) -> str:
    """What is left of the matter: the share of the wrap that is used then, or the verdict."""
    drive_id, code, where = key
    drive = tried.results.drive(drive_id)
    pulley = drive.pulley(where)
    used = None if pulley is None else pulley.worst_arc_used
    if used is not None and code in (SLIP.code, LOW_RESERVE.code):
        return f"{percent(used)} of its wrap"
    return ""


def _edits_of_object(before: dict[str, Any], after: dict[str, Any], path: str) -> tuple[Edit, ...]:
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


def _edits(before: Any, after: Any, path: str = "") -> tuple[Edit, ...]:
    """What makes one JSON value into another, as JSON Pointers into it."""
    if isinstance(before, dict) and isinstance(after, dict):
        return _edits_of_object(before, after, path)
    if isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        return tuple(
            edit
            for place, (a, b) in enumerate(zip(before, after, strict=True))
            for edit in _edits(a, b, f"{path}/{place}")
        )
    return () if before == after else (Edit(path, after, "replace"),)


def mended(results: Results, mends: Mapping[Key, tuple[Mend, ...]], unit: str) -> Results:
    """The results with every finding's mends on it, the first of them in its sentence.

    A stop of tension without a mend says so where no tension would do.
    """

    def told(drive: DriveResult) -> Readings:
        readings = drive.readings
        findings = tuple(
            _with(f, mends.get(key_of(drive, f), ()), drive, unit) for f in readings.findings
        )
        return replace(readings, findings=findings)

    return Results(tuple(replace(drive, read=_later(told, drive)) for drive in results.drives))


def _later(told: Callable[[DriveResult], Readings], drive: DriveResult) -> Callable[[], Readings]:
    return lambda: told(drive)


def _with(finding: Finding, mends: tuple[Mend, ...], drive: DriveResult, unit: str) -> Finding:
    if not mends:
        return _without_a_band(finding, drive, unit)
    what = finding.message.partition(";")[0]
    return replace(finding, message=f"{what}; {mends[0].sentence}", mends=mends)


def _without_a_band(finding: Finding, drive: DriveResult, unit: str) -> Finding:
    """A stop of tension that no tension mends, because less is allowed than holds, in those words."""
    grip = drive.grip
    if finding.level != "stop" or finding.kind not in _OF_TENSION or grip is None:
        return finding
    least, most = grip.least_tension_n, grip.most_tension_n
    if least is None or most is None or least <= most:
        return finding
    what = finding.message.partition(";")[0]
    holds, bears = (written_in(value, FORCE, unit) for value in (least, most))
    borne = f"{bears} the most that belt and bearings bear"
    if most <= 0:
        borne = "and hot the block alone pulls more than belt and bearings bear"
    words = (
        f"no tension will do: {holds} at rest is the least that holds, {borne};"
        " belt, wrap, pulleys or loads must change"
    )
    return replace(finding, message=f"{what}; {words}")
