"""Edits of the logbook: what was read, tried, fitted and paid, what is due, offers and pictures."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.model import (
    Attachment,
    Build,
    Event,
    EventKind,
    Interval,
    Offer,
    Use,
    make,
)


def add_event(build: Build, kind: EventKind, at: str, **figures: Any) -> tuple[Build, str]:
    """Enter an event of a day (such as 2026-11-27) with its figures; returns its id too."""
    events = build.logbook.events
    name = free_name(kind.replace("_", " "), (event.id for event in events))
    given = {key: value for key, value in figures.items() if value is not None}
    new = make(Event, {"id": name, "at": at, "kind": kind, **given})
    return _with(build, (*events, new)), name


def set_event(build: Build, event_id: str, **figures: Any) -> Build:
    """Change an event; a figure None is taken away. KeyError for an event that is not there."""
    events = build.logbook.events
    old = next((event for event in events if event.id == event_id), None)
    if old is None:
        raise KeyError(event_id)
    new = changed(old, **figures)
    return _with(build, tuple(new if event is old else event for event in events))


def remove_event(build: Build, event_id: str) -> Build:
    """Take an event out; what was attached to it stays, attached to nothing."""
    left = _with(build, tuple(e for e in build.logbook.events if e.id != event_id))
    loose = [
        changed(each, of=None) if each.of == event_id else each for each in left.logbook.attachments
    ]
    return _kept(left, attachments=tuple(loose)) if loose else left


def put_events(build: Build, rows: Iterable[Mapping[str, Any]]) -> Build:
    """Enter many events at once, by their keys: one whose id is there is changed by what its row says
    (None takes a figure away), one without an id is new.
    """
    every = {event.id: event for event in build.logbook.events}
    for row in rows:
        name = row.get("id") or free_name(str(row["kind"]).replace("_", " "), every)
        given = {key: value for key, value in row.items() if key != "id"}
        old = every.get(name)
        if old is not None:
            every[name] = changed(old, **given)
        else:
            told = {key: value for key, value in given.items() if value is not None}
            every[name] = make(Event, {"id": name, **told})
    return _with(build, tuple(every.values()))


def set_use(build: Build, **figures: Any) -> Build:
    """Change how much it was used; a figure None is taken away."""
    return _kept(build, use=changed(build.logbook.use, **figures))


def set_pace(build: Build, unit: str, amount: float | None) -> Build:
    """Change how much it is used in a month, in a unit of use."""
    pace = changed(build.logbook.use.per_month, **{unit: amount})
    return set_use(build, per_month=pace if pace.given or pace.unknown else None)


def add_interval(build: Build, what: str, **limits: Any) -> tuple[Build, str]:
    """Have something changed or looked at again after so much; returns the interval's id too."""
    intervals = build.logbook.intervals
    name = free_name(what.replace(":", " "), (each.id for each in intervals))
    given = {key: value for key, value in limits.items() if value is not None}
    new = make(Interval, {"id": name, "what": what, **given})
    return _kept(build, intervals=(*intervals, new)), name


def set_interval(build: Build, interval_id: str, **limits: Any) -> Build:
    """Change an interval; a limit None is taken away."""
    every = tuple(
        changed(each, **limits) if each.id == interval_id else each
        for each in build.logbook.intervals
    )
    return _kept(build, intervals=every)


def remove_interval(build: Build, interval_id: str) -> Build:
    """Take an interval out."""
    left = tuple(each for each in build.logbook.intervals if each.id != interval_id)
    return _kept(build, intervals=left)


def add_offer(build: Build, drive_id: str, number: str, **figures: Any) -> Build:
    """Note what a seller asks for a belt of a drive."""
    given = {key: value for key, value in figures.items() if value is not None}
    new = make(Offer, {"for": drive_id, "number": number, **given})
    return _kept(build, offers=(*build.logbook.offers, new))


def set_offer(build: Build, place: int, **figures: Any) -> Build:
    """Change the offer at a place of the list; a figure None is taken away."""
    offers = list(build.logbook.offers)
    offers[place] = changed(offers[place], **figures)
    return _kept(build, offers=tuple(offers))


def remove_offer(build: Build, place: int) -> Build:
    """Take the offer at a place of the list out."""
    offers = list(build.logbook.offers)
    del offers[place]
    return _kept(build, offers=tuple(offers))


def add_attachment(
    build: Build, path: str, sha256: str, size: int, **figures: Any
) -> tuple[Build, str]:
    """Note a file that lies beside the build; returns the attachment's id too."""
    attachments = build.logbook.attachments
    name = free_name("picture", (each.id for each in attachments))
    given = {key: value for key, value in figures.items() if value is not None}
    data = {"id": name, "path": path, "sha256": sha256, "bytes": size, **given}
    return _kept(build, attachments=(*attachments, make(Attachment, data))), name


def set_caption(build: Build, attachment_id: str, caption: str) -> Build:
    """Change what is said of an attachment."""
    every = tuple(
        changed(each, caption=caption.strip() or None) if each.id == attachment_id else each
        for each in build.logbook.attachments
    )
    return _kept(build, attachments=every)


def remove_attachment(build: Build, attachment_id: str) -> Build:
    """Take an attachment out; its file stays where it is."""
    left = tuple(each for each in build.logbook.attachments if each.id != attachment_id)
    return _kept(build, attachments=left)


def _with(build: Build, events: tuple[Event, ...]) -> Build:
    return _kept(build, events=events)


def _kept(build: Build, **changes: Any) -> Build:
    """The build with parts of its logbook changed; an empty part goes, an empty logbook too."""
    usual: dict[str, Any] = {"use": make(Use, {})}
    told = {
        key: None if value == () or (value == usual.get(key) and not value.unknown) else value
        for key, value in changes.items()
    }
    book = changed(build.logbook, **told)
    return changed(build, logbook=book if book.given or book.unknown else None)


def events_of(build: Build, drive_id: str, kind: EventKind) -> tuple[Event, ...]:
    """The events of one kind that name a drive, in the order in which they were entered."""
    return tuple(e for e in build.logbook.events if (e.kind, e.drive) == (kind, drive_id))
