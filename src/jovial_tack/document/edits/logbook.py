"""Edits of the logbook: what was read and tried."""

from __future__ import annotations

from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.model import Build, Event, EventKind, make


def add_event(build: Build, kind: EventKind, at: str, **figures: Any) -> tuple[Build, str]:
    """Enter an event of a day (such as 2026-11-27) with its figures; returns its id too."""
    events = build.logbook.events
    name = free_name(kind.replace("_", " "), (event.id for event in events))
    given = {key: value for key, value in figures.items() if value is not None}
    new = make(Event, {"id": name, "at": at, "kind": kind, **given})
    return _with(build, (*events, new)), name


def remove_event(build: Build, event_id: str) -> Build:
    """Take an event out."""
    return _with(build, tuple(e for e in build.logbook.events if e.id != event_id))


def _with(build: Build, events: tuple[Event, ...]) -> Build:
    if not events and not build.logbook.unknown:
        return changed(build, logbook=None)
    return changed(build, logbook=changed(build.logbook, events=events))


def events_of(build: Build, drive_id: str, kind: EventKind) -> tuple[Event, ...]:
    """The events of one kind that name a drive, in the order in which they were entered."""
    return tuple(e for e in build.logbook.events if (e.kind, e.drive) == (kind, drive_id))
