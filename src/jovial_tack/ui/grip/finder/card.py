"""The finder, at the right of the desk: what may change, all tried on a worker, the best first."""

from __future__ import annotations

import time
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from jovial_tack.answers.drive.solve import Solution, solve_again
from jovial_tack.answers.finder.offers import with_choices
from jovial_tack.answers.finder.space import space_of
from jovial_tack.answers.finder.trade import AGAINST, trade_of
from jovial_tack.answers.finder.trying import Answer, find, path_of
from jovial_tack.answers.finder.vetting import Vetted, vetted
from jovial_tack.answers.finder.words import (
    best_words,
    costs_words,
    counted_words,
    figure_words,
)
from jovial_tack.answers.results import DriveResult
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.model import Build
from jovial_tack.drawing.found import found_shapes
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.grip.finder.form import FinderForm
from jovial_tack.ui.grip.finder.trade_off import TradeOff
from jovial_tack.ui.grip.meant import drive_meant
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.blocks import ComparisonPage, act_row
from jovial_tack.ui.widgets.desk_part import scrolled
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.working import WorkingCard

_HINT = "All combinations tried; the best solved over all revs. Taking one is one step to undo."
#: How many are solved whole before more are asked for, and how often progress is told, s.
_AT_ONCE, _TOLD_EVERY = 6, 0.1


class FinderCard(WorkingCard):
    """The drive of what is selected, else the first that slips, else the first."""

    _told = pyqtSignal(object)

    def __init__(
        self, session: Session, theme: Theme, front: FrontView, parent: QWidget | None = None
    ) -> None:
        super().__init__(session, theme, "Find the best", _HINT, parent)
        self._front = front
        self.answer: Answer | None = None
        self.kept: list[Vetted] = []
        self._today: Solution | None = None
        self._drive = ""
        self._looked = 0
        self._of: Build | None = None
        self.form = FinderForm()
        self.form.asked.connect(self.look)
        self.said = heading("plain")
        self.against = ElidedChoice("What grip is traded for")
        for key, words, _ in AGAINST:
            self.against.addItem(f"Grip against: {words.lower()}", key)
        self.against.currentIndexChanged.connect(lambda _: self._plot())
        self.trade_off: TradeOff | None = None
        self._page = ComparisonPage()
        self.begin, self.stop = QPushButton("Find"), QPushButton("Stop")
        self.change, self.more = QPushButton("What may change …"), QPushButton("More")
        self.begin.clicked.connect(self.look)
        self.stop.clicked.connect(self.end)
        self.change.clicked.connect(self.ask)
        self.more.clicked.connect(self.look_on)
        self._pages = QStackedWidget()
        self._pages.addWidget(scrolled(self.form))
        self._found = QWidget()
        found = QVBoxLayout(self._found)
        found.setContentsMargins(0, 0, 0, 0)
        found.addWidget(self.said)
        found.addWidget(self.against)
        found.addWidget(self._page, 1)
        self._pages.addWidget(self._found)
        row = QHBoxLayout()
        for button in (self.begin, self.stop, self.change, self.more):
            row.addWidget(button)
        row.addStretch(1)
        self.column.addWidget(self._pages, 1)
        self.column.addLayout(row)
        self._worker.done.connect(self._end_work)
        self._worker.failed.connect(self._fail)
        self._told.connect(self._take)
        session.build_changed.connect(self._follow)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        if self.trade_off is not None:
            self.trade_off.set_theme(theme)
        self._plot()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Put away, nothing more is tried, and no ghost stays."""
        self.show_ghost(-1)
        super().hideEvent(event)

    def ask(self) -> None:
        """Ask what may change of the drive that is looked at."""
        self._worker.drop()
        self._forget()
        session = self._session
        build, drive = session.history.build, drive_meant(self._session)
        self._pages.setCurrentIndex(0)
        self._drive = drive or ""
        if drive is None:
            self.form.told.setText("No belt yet.")
        else:
            self.title.setText(f"Find the best: {build.drive(drive).label}")
            self.form.show_drive(build, drive, session.catalogue, self._ratio(drive))
        self._show_buttons()
        self.begin.setFocus()

    def _ratio(self, drive: str) -> tuple[str, float] | None:
        """The pulley whose ratio counts, and what it is today: the blower's."""
        build = self._session.history.build
        for pulley in self._session.results.drive(drive).pulleys:
            shaft = build.shaft(build.drive(drive).pulley(pulley.id).shaft)
            if shaft.kind == "supercharger":
                return pulley.id, pulley.speed_ratio
        return None

    def look(self) -> None:
        """Try every combination of what is ticked; the choices are kept in the build."""
        choices = self.form.choices() if self._drive else None
        if choices is None:
            return
        session = self._session
        self._forget()
        if not session.is_read_only:
            self.form.enter_typed()
        if not session.is_read_only and session.history.build.choices != choices:
            kept = with_choices(session.history.build, choices)
            self._of = kept
            session.edit("what may change", kept)
        build = self._of = session.history.build
        catalogue, check = session.catalogue, self._worker.check_cancelled
        engine = build.engine
        rpm = (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
        said = [0.0]

        def progress(count: int) -> None:
            check()
            if time.monotonic() - said[0] >= _TOLD_EVERY:
                said[0] = time.monotonic()
                self._told.emit((build, count))

        def work() -> object:
            answer = find(space_of(build, choices, catalogue), rpm, progress)
            self._told.emit((build, answer))
            today = solve_again(build, None, catalogue, None)
            self._told.emit((build, today))
            for one in vetted(answer, _AT_ONCE, today, check):
                self._told.emit((build, one))
            return build

        self._pages.setCurrentIndex(1)
        self.said.setText("Trying …")
        self._page.show_blocks([])
        self._worker.submit(work)
        self._show_buttons()
        self.stop.setFocus()

    def look_on(self) -> None:
        """Solve more of what fits whole."""
        answer, today, build, first = self.answer, self._today, self._of, self._looked
        if answer is None or today is None or self.is_busy:
            return
        check = self._worker.check_cancelled

        def work() -> object:
            for one in vetted(answer, _AT_ONCE, today, check, first):
                self._told.emit((build, one))
            return build

        self._worker.submit(work)
        self._show_buttons()

    def end(self) -> None:
        """Try no more; what was found so far stays."""
        self._worker.drop()
        self._show_buttons()
        self._say()

    def take(self, one: Vetted) -> None:
        """Bolt a combination on, as one step to undo."""
        answer = self.answer
        if answer is not None and self._session.history.build is self._of:
            words = answer.space.words_of(int(answer.fitting.combination[one.place]))
            self._session.edit(words, one.build)
            self.said.setText(together(sentence(f"Taken: {words}. Look again for another")))

    def pick(self, place: int) -> None:
        """Take a look at a point of the plot: solved whole, it stands first in the list."""
        answer, today, build = self.answer, self._today, self._of
        if answer is None or today is None or any(one.place == place for one in self.kept):
            return
        check = self._worker.check_cancelled

        def work() -> object:
            for one in vetted(answer, 1, today, check, place):
                self._told.emit((build, one))
            return build

        self._worker.submit(work)

    def _forget(self) -> None:
        self.answer, self.kept, self._today, self._of = None, [], None, None
        self._looked = 0
        self.show_ghost(-1)
        self._plot()

    def _follow(self) -> None:
        """Another build: what was found is of the one before, and is not offered any more."""
        build = self._session.history.build
        if self._of is not None and build is not self._of:
            self._worker.drop()
            self._forget()
            self._page.show_blocks([])
            self.said.setText("Another build: find anew.")
            self._show_buttons()

    def _take(self, told: tuple[Build, object]) -> None:
        build, what = told
        if build is not self._of:
            return
        if isinstance(what, int):
            self.said.setText(f"{what:,} combinations tried …")
        elif isinstance(what, Answer):
            self.answer = what
            self._say()
            self._plot()
        elif isinstance(what, Solution):
            self._today = what
            self._plot()
        elif isinstance(what, Vetted):
            self.kept.append(what)
            self._looked = max(self._looked, what.place + 1)
            self._say()
            self._list()
            if len(self.kept) == 1:
                self._plot()

    def _end_work(self, _build: object) -> None:
        self._say()
        self._show_buttons()

    def _fail(self, error: Exception) -> None:
        self._pages.setCurrentIndex(0)
        known = isinstance(error, JovialTackError)
        self.form.told.setText(
            together(sentence(str(error) if known else "That could not be tried"))
        )
        self._show_buttons()

    def _result_today(self) -> DriveResult | None:
        return None if self._today is None else self._today.results.drive(self._drive)

    def _say(self) -> None:
        """How many were tried, and why the best beats today."""
        answer, today = self.answer, self._result_today()
        if answer is None:
            return
        said = [sentence(counted_words(answer))]
        if self.kept and today is not None:
            said.append(sentence(capital(best_words(answer, self.kept[0], today))))
        elif not self.is_busy:
            said.append(
                "None of the best keeps all that is asked for: ask for less, or let more change."
            )
        self.said.setText(together(" ".join(said)))

    def _list(self) -> None:
        self._page.show_blocks([self._block(one) for one in self.kept])

    def _block(self, one: Vetted) -> QWidget:
        answer = self.answer
        assert answer is not None
        block = _Hovered(one.place)
        block.hovered.connect(self.show_ghost)
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        words = capital(answer.space.words_of(int(answer.fitting.combination[one.place])))
        name = heading("subheading")
        name.setText(together(words))
        column.addWidget(name)
        for style, text in (
            ("plain", figure_words(answer, one)),
            ("faded", costs_words(answer, one)),
        ):
            if text:
                message = heading(style)
                message.setText(together(sentence(text)))
                column.addWidget(message)
        if not self._session.is_read_only:
            column.addLayout(act_row("Take this", words, partial(self.take, one)))
        return block

    def _plot(self) -> None:
        """The trade-off; plotting is loaded when it is first shown."""
        answer = self.answer
        if answer is None:
            if self.trade_off is not None:
                self.trade_off.show_trade(None, -1)
            return
        if self.trade_off is None:
            self.trade_off = TradeOff(self._theme)
            self.trade_off.hovered.connect(self.show_ghost)
            self.trade_off.picked.connect(self.pick)
            layout = self._found.layout()
            assert isinstance(layout, QVBoxLayout)
            layout.insertWidget(2, self.trade_off)
        trade = trade_of(answer, self.against.currentData(), self._result_today())
        self.trade_off.show_trade(trade, self.kept[0].place if self.kept else -1)

    def show_ghost(self, place: int) -> None:
        """Show a layout that was found over the one there is; none for −1."""
        answer = self.answer
        shapes = found_shapes(path_of(answer, place)) if answer is not None and place >= 0 else ()
        self._front.show_overlay(shapes)

    def _show_buttons(self) -> None:
        asks = self._pages.currentIndex() == 0
        self.begin.setVisible(asks)
        self.begin.setEnabled(bool(self._drive))
        self.stop.setVisible(not asks and self.is_busy)
        self.change.setVisible(not asks)
        self.more.setVisible(not asks and not self.is_busy and bool(self.kept))


class _Hovered(QWidget):
    """A block that tells when the pointer or the keys are on it. hovered: its place, −1 left."""

    hovered = pyqtSignal(int)

    def __init__(self, place: int) -> None:
        super().__init__()
        self._place = place
        self.setAttribute(Qt.WidgetAttribute.WA_Hover)

    def enterEvent(self, event: object) -> None:
        """The pointer is on it."""
        self.hovered.emit(self._place)

    def leaveEvent(self, event: object) -> None:
        """The pointer has left it."""
        self.hovered.emit(-1)
