"""Every situation of a drive over the revs, at the right of the desk: a heat strip of situations, and
of the pulleys in the one that is held, which stands round the pulleys in the front view too.
"""

from __future__ import annotations

import numpy as np
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from jovial_tack.answers.grip.situation_words import situation_words, worst_words
from jovial_tack.answers.grip.situations import Situations, situations_of
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.model import Build
from jovial_tack.document.targets import drive_of
from jovial_tack.drawing.front import shaft_centers
from jovial_tack.drawing.rings import rings_of
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.grip.heat import HeatStrip
from jovial_tack.ui.grip.meant import drive_meant
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import scrolled
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.working import WorkingCard

_HINT = (
    "How much of its wrap each pulley uses, from idle to redline, on the low side of the damping."
)


class SituationsCard(WorkingCard):
    """The drive of what is selected, else the first that slips, else the first."""

    def __init__(
        self, session: Session, theme: Theme, front: FrontView, parent: QWidget | None = None
    ) -> None:
        super().__init__(session, theme, "In every situation", _HINT, parent)
        self._front = front
        self.told: Situations | None = None
        self._of: tuple[Build, str] | None = None
        self.said, self.of_one = heading("plain"), heading("plain")
        self.strip = HeatStrip(theme, "Situations over the revs")
        self.pulleys = HeatStrip(theme, "Pulleys over the revs in the situation that is held")
        self.strip.chosen.connect(lambda _row: self._show_one())
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(8)
        for widget in (self.said, self.strip, self.of_one, self.pulleys):
            column.addWidget(widget)
        column.addStretch(1)
        self.column.addWidget(scrolled(inside), 1)
        self._worker.done.connect(self._take)
        self._worker.failed.connect(self._fail)
        session.results_changed.connect(self._follow)
        session.selection_changed.connect(self._follow)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.strip.set_theme(theme)
        self.pulleys.set_theme(theme)

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Put away, nothing is solved any more and no ring stays."""
        self._of = None
        self._front.show_overlay(())
        super().hideEvent(event)

    def look(self) -> None:
        """Solve every situation of the drive that is looked at."""
        session, drive = self._session, drive_meant(self._session)
        build = session.history.build
        if drive is None or session.is_read_only:
            self.said.setText("No belt yet.")
            return
        of = self._of = (build, drive)
        catalogue, check = session.catalogue, self._worker.check_cancelled
        self.title.setText(f"In every situation: {build.drive(drive).label}")
        if self.told is None or self.told.drive != drive:
            self.said.setText("Solving …")
        self._worker.submit(lambda: (of, situations_of(build, drive, catalogue, check)))
        self.strip.setFocus()

    def _follow(self) -> None:
        """Another build, or another drive selected: solved anew while the card is in sight."""
        if self.isVisible() and self._of is not None:
            build, drive = self._of
            own = drive_of(self._session.selection)
            if self._session.history.build is not build or own not in (None, drive):
                self.look()

    def _take(self, answer: tuple[tuple[Build, str], Situations | None]) -> None:
        of, told = answer
        if of != self._of:
            return
        build, drive = of
        self.told = told
        if told is None:
            label = build.drive(drive).label
            self._clear(f"{label} is not decided yet, or nothing turns it.")
            return
        self.said.setText(together(sentence(capital(worst_words(build, told)))))
        labels = [capital(one.label) for one in told.each]
        held = [one.key for one in told.each].index(told.worst.key)
        worst = told.over.max(axis=2)
        watch = self._session.catalogue.limits.low_reserve_arc_used
        self.strip.show_rows(labels, worst, self._revs(told), watch, held)
        self._show_one()

    def _show_one(self) -> None:
        """The pulleys in the situation that is held, and round them in the front view."""
        told, of = self.told, self._of
        if told is None or of is None:
            return
        build, drive = of
        k = self.strip.held
        one, used = told.each[k], told.over[k]
        guess = " By usual figures." if one.usual else ""
        said = sentence(f"{capital(one.label)}: {situation_words(build, drive, one)}")
        self.of_one.setText(together(said + guess))
        route = build.drive(drive).route
        grips = [place for place in range(len(route)) if used[:, place].any()]
        labels = [build.shaft(build.drive(drive).pulley(route[p]).shaft).label for p in grips]
        watch = self._session.catalogue.limits.low_reserve_arc_used
        shares = np.ascontiguousarray(used[:, grips].T)
        self.pulleys.show_rows(labels, shares, self._revs(told), watch)
        centers = shaft_centers(build, self._session.results)
        self._front.show_overlay(rings_of(build, drive, used, watch, centers))

    def _revs(self, told: Situations) -> tuple[float, float]:
        return float(told.grid[0]), float(told.grid[-1])

    def _fail(self, error: Exception) -> None:
        self._clear(sentence(str(error)))

    def _clear(self, text: str) -> None:
        self.said.setText(together(text))
        self.of_one.setText("")
        for strip in (self.strip, self.pulleys):
            strip.show_rows((), None, (0.0, 1.0), 1.0)
        self._front.show_overlay(())
