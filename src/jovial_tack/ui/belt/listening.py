"""The page of the belt bench on tension by ear: the tone of a plucked span, and what it means."""

from __future__ import annotations

from datetime import date

from PyQt6.QtWidgets import QComboBox, QSizePolicy

from jovial_tack.answers.belt.feel import longest_span
from jovial_tack.answers.belt.tone import Heard, from_tone
from jovial_tack.answers.results import DriveResult
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import TONE
from jovial_tack.document.edits.logbook import add_event
from jovial_tack.document.model import Build
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.kept import Kept
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.session import Session

_CAUTION = "Pluck with the engine off and the key out only; fingers out of the pulleys."


class TonePage(Page):
    """A tone is a tension; beside it the tones of the least that holds and the most allowed."""

    name = "Tone"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.found: Heard | None = None
        self.span = QComboBox()
        self.span.setAccessibleName("Span that is plucked")
        self.span.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.span.activated.connect(lambda _k: self._choose_span())
        self.column.insertWidget(0, self.span)
        self.tone = self.add_field(
            "Tone", "The lowest tone of the span when plucked", TONE, 80.0, 1
        )
        self._shown_for: tuple[str, tuple[str, ...]] | None = None
        self.kept = Kept(session, "tension_check", "Keep this check")
        self.kept.wanted.connect(self.keep)
        self.kept.changed.connect(self.refresh)
        self.column.insertWidget(2, self.kept)

    @property
    def read_of(self) -> tuple[str, ...]:
        """The drive and the span that is plucked."""
        return self._along.drive, str(self.span.currentData())

    def keep(self) -> None:
        """Enter the tone in the logbook, with today's date: one step to undo."""
        session, heard = self._session, self.found
        if session.is_read_only or heard is None:
            return
        build, _ = add_event(
            session.build,
            "tension_check",
            date.today().isoformat(),
            drive=self._along.drive,
            span=heard.span,
            tone_hz=round(heard.tone_hz, 2),
            tension_n=round(heard.tension_n, 1),
        )
        session.edit("keep a tension check", build)
        self.refresh()

    def refresh(self) -> None:
        """Tell the tension for the drive of the shop."""
        build, drive = self._session.build, self._along.drive
        self.found = None
        self.kept.show_of(drive)
        if self.drive_shown("there is no belt drive to listen to") is None:
            return
        result = self._session.results.drive(drive)
        shown_for = (drive, build.drive(drive).route)
        if self._shown_for != shown_for and result.spans:
            self._shown_for = shown_for
            self._offer_spans(build, result)
        self.show_line(self.tone, shown=True)
        self.tone.show_value(self.tone.value, TONE.unit, 1)
        try:
            self.found = from_tone(
                build,
                result,
                self._session.catalogue,
                tone_hz=self.tone.value or 0.0,
                span=self.span.currentData(),
            )
        except GeometryError as error:
            self.tell_not(str(error))
            return
        self.show_text(*self.found.lines(build.display_units), caution=_CAUTION)
        self.kept.button.show()

    def _offer_spans(self, build: Build, result: DriveResult) -> None:
        """Every span, the longest first looked at: it is heard best."""
        labels = {p.id: build.shaft(p.shaft).label for p in build.drive(result.id).pulleys}
        self.span.clear()
        for span in result.spans:
            self.span.addItem(f"{labels[span.from_id]} to {labels[span.to_id]}", span.from_id)
        self.span.setCurrentIndex(self.span.findData(longest_span(result).from_id))
        self._begin(result)

    def _begin(self, result: DriveResult) -> None:
        """The tone of the layout as it is: what is heard on the engine goes over it."""
        span = next((s for s in result.spans if s.from_id == self.span.currentData()), None)
        if span is None:  # the belt has lost its path since the spans were offered
            return
        tone = None if span.tone_hz is None else round(span.tone_hz, 1)
        self.tone.show_value(tone, TONE.unit, 1)
        self.bring_back()

    def _choose_span(self) -> None:
        build = self._session.build
        if build.find_drive(self._along.drive) is None:
            return  # there is no belt to listen to
        self._begin(self._session.results.drive(self._along.drive))
        self.refresh()
