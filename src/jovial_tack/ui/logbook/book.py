"""What the logbook of the present build tells, and which of its events is looked at."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from jovial_tack.answers.logbook.told import LogbookTold, logbook_told
from jovial_tack.answers.results import Finding
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.logbook.due import UNITS
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.logbook import add_event, remove_event, set_event
from jovial_tack.document.model import Build, Event, EventKind
from jovial_tack.document.targets import drive_of
from jovial_tack.files.attachments import attachment_findings
from jovial_tack.ui.session import Session
from jovial_tack.ui.worker import NewestOnly


class Book(QObject):
    """The logbook, read through anew where it is another. changed: it is; chosen_changed: another
    event.
    """

    changed = pyqtSignal()
    chosen_changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._of: tuple[object, ...] = ()
        self._files_of: tuple[object, ...] = ()
        #: attachments that are missing, or are not what they were, as far as was looked
        self.files: tuple[Finding, ...] = ()
        self.worker = NewestOnly(self)
        self.worker.done.connect(self._take_files)
        self._chosen = ""
        self.told = self._read()
        session.readings_changed.connect(self.tell)
        session.replaced.connect(self._begin)

    def _read(self) -> LogbookTold:
        return logbook_told(self.session.build, self.session.catalogue, date.today())

    def tell(self) -> None:
        """Read it through, where it, or what its drives are called, is another."""
        build = self.session.build
        of = build.logbook, build.drives, build.shafts, build.display_units, date.today()
        if len(of) == len(self._of) and all(
            now is before or now == before for now, before in zip(of, self._of, strict=True)
        ):
            return
        self._of = of
        self.told = self._read()
        self.look_at_files()
        self.changed.emit()

    def _begin(self) -> None:
        self._chosen = ""
        self._of = ()
        self.tell()
        self.chosen_changed.emit()

    def look_at_files(self, *, anew: bool = False) -> None:
        """Look whether attachments are there and as they were; they may be many and large."""
        build, path = self.session.build, self.session.path
        of = build.logbook.attachments, path
        if of == self._files_of and not anew:
            return
        self._files_of = of
        if build.logbook.attachments:
            self.worker.submit(lambda: tuple(attachment_findings(build, path)))
        else:
            self.worker.drop()
            self._take_files(())

    def _take_files(self, files: tuple[Finding, ...]) -> None:
        if files != self.files:
            self.files = files
            self.changed.emit()

    @property
    def listed(self) -> list[Event]:
        """All events, the newest first; of one day the one entered last."""
        events = list(enumerate(self.session.build.logbook.events))
        events.sort(key=lambda each: (each[1].at, each[0]), reverse=True)
        return [event for _, event in events]

    @property
    def chosen(self) -> Event | None:
        """The event that is looked at."""
        events = self.session.build.logbook.events
        return next((event for event in events if event.id == self._chosen), None)

    def choose(self, event_id: str) -> None:
        """Look at an event, or ("") at none; what is typed of the one before is taken first."""
        if event_id != self._chosen:
            self.session.leaving.emit()
            self._chosen = event_id
            self.chosen_changed.emit()

    @property
    def drive(self) -> str | None:
        """The drive of what is selected, else the only one there is."""
        build = self.session.build
        meant = drive_of(self.session.selection)
        if meant is None and len(build.drives) == 1:
            meant = build.drives[0].id
        return meant

    def enter(self, kind: EventKind, **figures: Any) -> str | None:
        """Enter an event of today at the last use that is known, and look at it: one step to undo."""
        session = self.session
        if session.is_read_only:
            return None
        use = {unit: self.told.now[unit] for unit in UNITS if self.told.now[unit] is not None}
        figures = {"drive": self.drive, **use, **figures}
        build, name = add_event(session.build, kind, date.today().isoformat(), **figures)
        session.edit(f"logbook: {kind.replace('_', ' ')}", build)
        self.tell()
        self.choose(name)
        return name

    def edit(self, label: str, make: Callable[[Build], Build]) -> str:
        """Make an edit: one step to undo. Returns why it is not taken, "" if it is."""
        session = self.session
        if session.is_read_only:
            return ""
        try:
            made = make(session.build)
        except JovialTackError as error:
            return sentence(str(error))
        session.edit(label, made)
        self.tell()
        return ""

    def change(self, event_id: str, **figures: Any) -> str:
        """Change an event: one step to undo. Returns why it is not taken, or ""."""
        if all(event.id != event_id for event in self.session.build.logbook.events):
            return "It was taken out of the logbook meanwhile."
        label = f"logbook: {event_id}"
        return self.edit(label, lambda build: set_event(build, event_id, **figures))

    def remove(self) -> None:
        """Take the event that is looked at out, and look at the one after it."""
        event, session = self.chosen, self.session
        if event is None or session.is_read_only:
            return
        ids = [each.id for each in self.listed]
        place = ids.index(event.id)
        left = [name for name in ids if name != event.id]
        session.edit(f"take out {event.id}", remove_event(session.build, event.id))
        self.tell()
        self.choose(left[min(place, len(left) - 1)] if left else "")
