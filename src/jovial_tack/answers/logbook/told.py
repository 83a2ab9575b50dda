"""The logbook read through: due things, lives, wear, tension kept, costs, and what is wrong in it.

Nothing here changes what is solved, and nothing due makes a check fail (METHOD 19).
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from datetime import date
from functools import cached_property

from jovial_tack.answers.kinds import CHANGE_DUE, RETENSION_DUE, WEAR_LIMIT
from jovial_tack.answers.results import Finding
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.logbook.due import (
    NOTHING,
    UNITS,
    Due,
    due,
    due_by_event,
    read_day,
)
from jovial_tack.core.logbook.lives import Life, Record, record
from jovial_tack.core.logbook.wear import CHANGE_LOSS, WATCH_LOSS, Wear, change_by_cracks, wear
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Event, Interval

#: Under this share of its tension a belt is set again (rep.).
KEPT_LEAST = 0.8
_FAILED = frozenset({"worn", "slipped", "torn", "came_off"})


class DueThing(Value, frozen=True):
    """What an interval is about, and how far it is. label: what it is, in words; done: it was seen to
    once and is not due again until another belt is fitted.
    """

    id: str
    what: str
    label: str
    due: Due
    done: bool = False


class KindOfLife(Value, frozen=True):
    """What belts of a construction tell, in a unit of use."""

    construction: str
    unit: str
    record: Record


class BeltLife(Value, frozen=True):
    """A belt from when it was fitted until it was removed, or now. use: None where it is not known."""

    drive: str
    number: str
    construction: str
    fitted: Event
    removed: Event | None
    use: float | None

    @property
    def failed(self) -> bool:
        """Whether it ended by wear, slip, tear or coming off."""
        return self.removed is not None and self.removed.reason in _FAILED


class WearTold(Value, frozen=True):
    """The ribs of a drive's present belt; change: why they say it is to be changed, "" if not."""

    drive: str
    wear: Wear | None
    change: str


class Kept(Value, frozen=True):
    """What a tension check found of the tension that was there at the check before it."""

    drive: str
    span: str
    event: str
    at: str
    share: float


class Costs(Value, frozen=True):
    """By currency: all together, what each kind of event cost, belts that did not fit, and what a unit
    of use cost, None where that is not known.
    """

    total: Mapping[str, float]
    by_kind: Mapping[str, Mapping[str, float]]
    wrong_belts: Mapping[str, float]
    per_use: Mapping[str, float]


class LogbookTold(Value, frozen=True):
    """All of it. unit: of use that lives are counted in."""

    unit: str
    now: Mapping[str, float | None]
    due: tuple[DueThing, ...]
    belts: tuple[BeltLife, ...]
    lives: tuple[KindOfLife, ...]
    wear: tuple[WearTold, ...]
    kept: tuple[Kept, ...]
    costs: Costs
    problems: tuple[str, ...]
    findings: tuple[Finding, ...]


def logbook_told(build: Build, catalogue: Catalogue, today: date | None) -> LogbookTold:
    """Read a build's logbook on a day; None where the day is not known."""
    return _Reading(build, catalogue, today).told()


class _Reading:
    def __init__(self, build: Build, catalogue: Catalogue, today: date | None) -> None:
        self._build, self._catalogue, self._today = build, catalogue, today
        self._book = build.logbook
        self._problems: list[str] = []
        order = {event.id: place for place, event in enumerate(self._book.events)}
        #: in the order of their days; of one day, as they were entered
        self._events = sorted(self._book.events, key=lambda event: (event.at, order[event.id]))

    @cached_property
    def _now(self) -> dict[str, float | None]:
        """The use so far: as told, or as the last event has it."""
        found: dict[str, float | None] = {}
        for unit in UNITS:
            told = [getattr(self._book.use, unit), *(getattr(e, unit) for e in self._events)]
            known = [value for value in told if value is not None]
            found[unit] = max(known) if known else None
        return found

    def told(self) -> LogbookTold:
        self._check()
        belts = tuple(self._belts())
        things = tuple(self._thing(interval) for interval in self._book.intervals)
        kept = tuple(self._kept())
        worn = tuple(self._worn(belts))
        findings = (*self._due_findings(things), *_wear_findings(worn), *_kept_findings(kept))
        return LogbookTold(
            self._book.use.unit,
            self._now,
            things,
            belts,
            self._lives(belts),
            worn,
            kept,
            self._costs(),
            tuple(self._problems),
            findings,
        )

    def _check(self) -> None:
        """What is written in the logbook and cannot be so."""
        days = [day for event in self._events if (day := read_day(event.at)) is not None]
        if self._today is not None and days and max(days) > self._today:
            self._problems.append(
                f"the clock says {self._today.isoformat()}, before the last event of"
                f" {max(days).isoformat()}: what is due by time is told for the day the clock says"
            )
        for event in self._events:
            if read_day(event.at) is None:
                self._problems.append(f"{event.id}: there is no day {event.at}")
        for unit in UNITS:
            most, whose = 0.0, ""
            for event in self._events:
                value = getattr(event, unit)
                if value is None:
                    continue
                if value < most:
                    said = (
                        f"{event.id}: {value:g} {unit} on {event.at}, though {whose} has {most:g}"
                    )
                    self._problems.append(said)
                else:
                    most, whose = value, event.id

    # belts, one after another on a drive

    def _belts(self) -> Iterator[BeltLife]:
        on: dict[str, Event] = {}
        for event in self._events:
            drive = event.drive or ""
            if event.kind == "fitted":
                if drive in on:
                    yield self._life(on[drive], event)
                on[drive] = event
            elif event.kind == "removed":
                if drive in on:
                    yield self._life(on.pop(drive), event)
                else:
                    self._problems.append(f"{event.id}: a belt taken off that was not fitted here")
        for fitted in on.values():
            yield self._life(fitted, None)

    def _life(self, fitted: Event, removed: Event | None) -> BeltLife:
        unit = self._book.use.unit
        begun = getattr(fitted, unit)
        ended = self._now[unit] if removed is None else getattr(removed, unit)
        use = None if begun is None or ended is None or ended < begun else ended - begun
        if use is None:
            self._problems.append(f"{fitted.id}: how long that belt ran is not known in {unit}")
        return BeltLife(
            fitted.drive or "",
            fitted.number,
            fitted.construction or "not told",
            fitted,
            # another fitted over it is no removal with a reason
            removed if removed is not None and removed.kind == "removed" else None,
            use,
        )

    def _lives(self, belts: tuple[BeltLife, ...]) -> tuple[KindOfLife, ...]:
        by: dict[str, list[BeltLife]] = defaultdict(list)
        for belt in belts:
            if belt.use is not None:
                by[belt.construction].append(belt)
        present = set(self._present(belts).values())
        return tuple(
            KindOfLife(
                name,
                self._book.use.unit,
                record(
                    [Life(belt.use or 0.0, belt.failed) for belt in each],
                    sum(belt.fitted.id in present for belt in each),
                ),
            )
            for name, each in sorted(by.items())
        )

    def _present(self, belts: tuple[BeltLife, ...]) -> dict[str, str]:
        """Of each drive the event that fitted the belt that is on now."""
        on: dict[str, str] = {}
        for event in self._events:
            if event.kind == "fitted":
                on[event.drive or ""] = event.id
            elif event.kind == "removed":
                on.pop(event.drive or "", None)
        return on

    # intervals

    def _thing(self, interval: Interval) -> DueThing:
        kind, _, of = interval.what.partition(":")
        label = f"{_WORDS[kind]} {self._name(kind, of)}"
        begun = self._begun(kind, of)
        if begun is None:
            return DueThing(interval.id, interval.what, label, NOTHING)
        after = self._events[self._events.index(begun) + 1 :]
        if kind == "tension" and any(self._checks(event, of) for event in after):
            return DueThing(interval.id, interval.what, label, NOTHING, done=True)
        if interval.after_event and any(event.kind == interval.after_event for event in after):
            return DueThing(interval.id, interval.what, label, due_by_event())
        limits = {unit: limit for unit in UNITS if (limit := getattr(interval, unit)) is not None}
        pace = {unit: getattr(self._book.use.per_month, unit) for unit in UNITS}
        found = due(
            limits,
            interval.months,
            {unit: getattr(begun, unit) for unit in UNITS},
            self._now,
            read_day(begun.at),
            self._today,
            pace,
        )
        if not limits and interval.months is None and interval.after_event:
            found = Due(0.0, None, {}, None, "good")  # due only if that happens, which it did not
        return DueThing(interval.id, interval.what, label, found)

    def _begun(self, kind: str, of: str) -> Event | None:
        """The event an interval counts from: the last that restarts it, else the first belt fitted."""
        events = self._events
        if kind in ("belt", "toothed", "tension"):
            gone = [e for e in events if e.kind in ("fitted", "removed") and e.drive == of]
            return gone[-1] if gone and gone[-1].kind == "fitted" else None
        if kind == "tensioner":
            changed = [e for e in events if e.kind == "tensioner" and e.drive == of]
        else:
            changed = [e for e in events if e.kind == "bearing" and e.what == of]
        first = [e for e in events if e.kind == "fitted"]
        return changed[-1] if changed else next(iter(first), None)

    @staticmethod
    def _checks(event: Event, drive: str) -> bool:
        return event.kind == "tension_check" and event.drive == drive

    def _name(self, kind: str, of: str) -> str:
        if kind == "bearing":
            return next((s.label for s in self._build.shafts if s.id == of), of)
        found = self._build.find_drive(of)
        return of if found is None else found.label

    # wear, tension, costs

    def _worn(self, belts: tuple[BeltLife, ...]) -> Iterator[WearTold]:
        unit = self._book.use.unit
        for drive, fitted_id in self._present(belts).items():
            place = next(k for k, e in enumerate(self._events) if e.id == fitted_id)
            fitted = self._events[place]
            looked = [
                e for e in self._events[place:] if e.kind == "inspection" and e.drive == drive
            ]
            if not looked:
                continue
            begun = getattr(fitted, unit)
            read = [
                (getattr(e, unit) - begun, e.rib_depth_mm)
                for e in looked
                if e.rib_depth_mm is not None and begun is not None and getattr(e, unit) is not None
            ]
            new_mm = self._new_depth(drive, looked)
            found = None
            if new_mm is not None:
                found = wear([use for use, _ in read], [depth for _, depth in read], new_mm)
            yield WearTold(drive, found, _change_by_look(looked[-1], found))

    def _new_depth(self, drive: str, looked: list[Event]) -> float | None:
        """How deep the ribs were: as the profile has them, else as they were first read."""
        found = self._build.find_drive(drive)
        profile = None
        if found is not None:
            profile = self._catalogue.profiles.get(found.belt.profile)
        if profile is not None and profile.rib_depth_mm is not None:
            return profile.rib_depth_mm
        return next((e.rib_depth_mm for e in looked if e.rib_depth_mm), None)

    def _kept(self) -> Iterator[Kept]:
        before: dict[tuple[str, str], Event] = {}
        for event in self._events:
            if event.kind in ("fitted", "removed"):
                # another belt is no tension kept
                before = {at: e for at, e in before.items() if at[0] != (event.drive or "")}
            if event.kind != "tension_check" or not event.drive or not event.span:
                continue
            at = event.drive, event.span
            earlier = before.get(at)
            if earlier is not None and (share := _share_kept(earlier, event)) is not None:
                yield Kept(event.drive, event.span, event.id, event.at, share)
            before[at] = event

    def _costs(self) -> Costs:
        total: dict[str, float] = defaultdict(float)
        by_kind: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
        wrong: dict[str, float] = defaultdict(float)
        for event in self._events:
            if event.cost is None:
                continue
            total[event.currency] += event.cost
            by_kind[event.kind][event.currency] += event.cost
            if event.kind == "belt_tried" and event.verdict not in (None, "fits"):
                wrong[event.currency] += event.cost
        unit = self._book.use.unit
        known = [value for e in self._events if (value := getattr(e, unit)) is not None]
        now = self._now[unit]
        used = now - min(known) if known and now is not None else 0.0
        per_use = {name: cost / used for name, cost in total.items()} if used > 0 else {}
        return Costs(
            dict(total), {kind: dict(each) for kind, each in by_kind.items()}, dict(wrong), per_use
        )

    def _due_findings(self, things: tuple[DueThing, ...]) -> Iterator[Finding]:
        for thing in things:
            if thing.due.state not in ("watch", "stop"):
                continue
            kind, _, of = thing.what.partition(":")
            share = thing.due.share or 0.0
            said = "is due" if thing.due.state == "stop" else f"{100 * share:.0f} % of its interval"
            if thing.due.first == "event":
                said = "is due: the engine locked up"
            yield Finding(
                RETENSION_DUE if kind == "tension" else CHANGE_DUE,
                "watch",
                of,
                f"{thing.label}: {said}",
                share,
                1.0,
            )


_WORDS = {
    "belt": "belt of",
    "toothed": "toothed belt of",
    "tensioner": "tensioner of",
    "bearing": "bearing of",
    "tension": "tension after the first distance of",
}


def _share_kept(before: Event, event: Event) -> float | None:
    """The share of the tension that is left: by tones T = m·(2·L·f)², else by the tensions noted."""
    if before.tone_hz and event.tone_hz:
        return float((event.tone_hz / before.tone_hz) ** 2)
    if before.tension_n and event.tension_n:
        return float(event.tension_n / before.tension_n)
    return None


def _change_by_look(looked: Event, found: Wear | None) -> str:
    """Why an inspection says that a belt is to be changed; "" where it does not."""
    if looked.gauge in ("level", "below"):
        return f"the wear gauge is {looked.gauge} with the ribs, however new it looks"
    by_cracks, why = change_by_cracks(looked.material, looked.cracks_in_75mm, looked.through_cracks)
    if by_cracks:
        return why
    if found is not None and found.loss >= CHANGE_LOSS:
        return f"{100 * found.loss:.0f} % of the ribs' depth is gone"
    return ""


def _wear_findings(worn: tuple[WearTold, ...]) -> Iterator[Finding]:
    for each in worn:
        loss = None if each.wear is None else each.wear.loss
        if each.change:
            words = f"change the belt: {each.change}"
        elif loss is not None and loss >= WATCH_LOSS:
            words = f"{100 * loss:.0f} % of the ribs' depth is gone"
        else:
            continue
        yield Finding(WEAR_LIMIT, "watch", each.drive, words, loss, CHANGE_LOSS)


def _kept_findings(kept: tuple[Kept, ...]) -> Iterator[Finding]:
    last = {(each.drive, each.span): each for each in kept}
    for each in last.values():
        if each.share < KEPT_LEAST:
            words = (
                f"{100 * each.share:.0f} % of the tension at the check before is left: set it again"
            )
            yield Finding(RETENSION_DUE, "watch", each.drive, words, each.share, KEPT_LEAST)
