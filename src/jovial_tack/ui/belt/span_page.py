"""What the pages of the belt bench on one span share: which span, what is read of it, checks kept."""

from __future__ import annotations

from datetime import date

from PyQt6.QtWidgets import QComboBox, QSizePolicy

from jovial_tack.answers.belt.feel import longest_span
from jovial_tack.answers.results import DriveResult, SpanResult
from jovial_tack.document.edits.logbook import add_event
from jovial_tack.document.model import Build
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.kept import Kept
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.session import Session


class SpanPage(Page):
    """A span is chosen, the longest at first; what is read of it can be kept as a tension check."""

    #: What is done to the span, as its choice is spoken.
    done_to_it = ""

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.span = QComboBox()
        self.span.setAccessibleName(f"Span that is {self.done_to_it}")
        self.span.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.span.activated.connect(lambda _k: self._choose_span())
        self.column.insertWidget(0, self.span)
        self._shown_for: tuple[str, tuple[str, ...]] | None = None
        self.kept = Kept(session, "tension_check", "Keep this check")
        self.kept.wanted.connect(self.keep)
        self.kept.changed.connect(self.refresh)
        self.column.insertWidget(2, self.kept)

    @property
    def read_of(self) -> tuple[str, ...]:
        """The drive and the span."""
        return self._along.drive, str(self.span.currentData())

    def what_was_read(self) -> dict[str, str | float] | None:
        """The keys of an event that say what was read; None while nothing is."""
        raise NotImplementedError

    def begin_with(self, span: SpanResult, unit: str) -> None:
        """Show what the layout as it is would read: what is read on the engine goes over it."""
        raise NotImplementedError

    def keep(self) -> None:
        """Enter what was read in the logbook, with today's date: one step to undo."""
        session, read = self._session, self.what_was_read()
        if session.is_read_only or read is None:
            return
        today, drive = date.today().isoformat(), self._along.drive
        build, _ = add_event(session.build, "tension_check", today, drive=drive, **read)
        session.edit("keep a tension check", build)
        self.refresh()

    def follow_route(self, build: Build, result: DriveResult) -> None:
        """Offer the spans anew where the drive, or its route, is another than before."""
        shown_for = (result.id, build.drive(result.id).route)
        if self._shown_for == shown_for or not result.spans:
            return
        self._shown_for = shown_for
        labels = {p.id: build.shaft(p.shaft).label for p in build.drive(result.id).pulleys}
        self.span.clear()
        for span in result.spans:
            self.span.addItem(f"{labels[span.from_id]} to {labels[span.to_id]}", span.from_id)
        self.span.setCurrentIndex(self.span.findData(longest_span(result).from_id))
        self._begin(result, build.display_units)

    def _begin(self, result: DriveResult, unit: str) -> None:
        span = next((s for s in result.spans if s.from_id == self.span.currentData()), None)
        if span is None:  # the belt has lost its path since the spans were offered
            return
        self.look_at()
        self.begin_with(span, unit)

    def _choose_span(self) -> None:
        build = self._session.build
        if build.find_drive(self._along.drive) is None:
            return  # there is no belt to read anything of
        self._begin(self._session.results.drive(self._along.drive), build.display_units)
        self.refresh()
