"""The page of the belt bench on tension by feel: a push at mid span, and what it means."""

from __future__ import annotations

from datetime import date

from PyQt6.QtWidgets import QComboBox, QSizePolicy

from jovial_tack.answers.belt.feel import Felt, from_feel, longest_span
from jovial_tack.answers.results import ArmResult, DriveResult
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import FORCE, LENGTH
from jovial_tack.document.edits.logbook import add_event
from jovial_tack.document.model import Build
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.kept import Kept
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.session import Session

_CAUTION = "Push with the engine off and the key out only."


class FeelPage(Page):
    """A play under a push is a tension; beside it how the band of tensions feels at that span."""

    name = "Feel"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.found: Felt | None = None
        self.span = QComboBox()
        self.span.setAccessibleName("Span that is pushed")
        self.span.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.span.activated.connect(lambda _k: self._choose_span())
        self.column.insertWidget(0, self.span)
        self.play = self.add_field("Play", "How far the middle gave", LENGTH, 5.0)
        self.push = self.add_field("Push", "Force of the push", FORCE, 30.0, 1)
        self._shown_for: tuple[str, tuple[str, ...]] | None = None
        self.kept = Kept(session, "tension_check", "Keep this check")
        self.kept.wanted.connect(self.keep)
        self.kept.changed.connect(self.refresh)
        self.column.insertWidget(2, self.kept)

    @property
    def read_of(self) -> tuple[str, ...]:
        """The drive and the span that is pushed."""
        return self._along.drive, str(self.span.currentData())

    def keep(self) -> None:
        """Enter the push in the logbook, with today's date: one step to undo."""
        session, felt = self._session, self.found
        if session.is_read_only or felt is None:
            return
        build, _ = add_event(
            session.build,
            "tension_check",
            date.today().isoformat(),
            drive=self._along.drive,
            span=felt.span,
            push_n=round(felt.push_n, 2),
            play_mm=round(felt.play_mm, 3),
            tension_n=round(felt.tension_n, 1),
        )
        session.edit("keep a tension check", build)
        self.refresh()

    def refresh(self) -> None:
        """Tell the tension for the drive of the shop."""
        build, drive = self._session.build, self._along.drive
        self.found = None
        self.kept.show_of(drive)
        if self.drive_shown("there is no belt drive to feel") is None:
            return
        result = self._session.results.drive(drive)
        shown_for = (drive, build.drive(drive).route)
        if self._shown_for != shown_for and result.spans:
            self._shown_for = shown_for
            self._offer_spans(build, result)
        self.play.show_value(self.play.value, build.display_units)
        self.push.show_value(self.push.value, FORCE.shown(build.display_units), 1)
        sprung = isinstance(result.tensioner, ArmResult)
        self.span.setVisible(not sprung)
        for field in (self.play, self.push):
            self.show_line(field, shown=not sprung)
        try:
            self.found = from_feel(
                build,
                result,
                self._session.catalogue,
                push_n=self.push.value or 0.0,
                play_mm=self.play.value or 0.0,
                span=self.span.currentData(),
            )
        except GeometryError as error:
            self.found = None
            self.tell_not(str(error))
            return
        self.show_text(*self.found.lines(build.display_units), caution=_CAUTION)
        self.kept.button.show()

    def _offer_spans(self, build: Build, result: DriveResult) -> None:
        """Every span, the longest first looked at: it is felt best."""
        labels = {p.id: build.shaft(p.shaft).label for p in build.drive(result.id).pulleys}
        self.span.clear()
        for span in result.spans:
            self.span.addItem(f"{labels[span.from_id]} to {labels[span.to_id]}", span.from_id)
        self.span.setCurrentIndex(self.span.findData(longest_span(result).from_id))
        self._begin(result, build.display_units)

    def _begin(self, result: DriveResult, unit: str) -> None:
        """The feel of the layout as it is: what is felt on the engine goes over it."""
        span = next((s for s in result.spans if s.from_id == self.span.currentData()), None)
        if span is None:  # the belt has lost its path since the spans were offered
            return
        self.play.show_value(span.length_mm / 64, unit)
        push = None if span.push_n is None else round(span.push_n, 2)
        self.push.show_value(push, FORCE.shown(unit), 1)
        self.bring_back()

    def _choose_span(self) -> None:
        build = self._session.build
        if build.find_drive(self._along.drive) is None:
            return  # there is no belt to feel
        self._begin(self._session.results.drive(self._along.drive), build.display_units)
        self.refresh()
