"""What every change of a drive is worth, at the right of the desk: tried on a worker, listed as
found.
"""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from jovial_tack.answers.mending.worth import Worth, ranked, reserve_of, worth_of
from jovial_tack.answers.mending.worth_words import cost_words, nothing_words, won_words
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.model import Build
from jovial_tack.ui.grip.meant import drive_meant
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.blocks import ComparisonPage, act_row
from jovial_tack.ui.widgets.marks import MarkLabel
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.working import WorkingCard

_HINT = (
    "Every change is made and solved over all revs: what it wins in reserve, and what it costs. Doing"
    " one is one step to undo."
)
_Of = tuple[Build, str]
_Answer = tuple[_Of, float | None, tuple[Worth, ...]]


class WorthCard(WorkingCard):
    """The drive of what is selected, else the first that slips, else the first."""

    _one_found = pyqtSignal(object)

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(session, theme, "What it is worth", _HINT, parent)
        self.worths: tuple[Worth, ...] = ()
        self._so_far: list[Worth] = []
        self._factor: float | None = None
        self._of: _Of | None = None
        self._is_done = False
        self.told = heading("plain")
        self._page = ComparisonPage()
        self.again, self.stop = QPushButton("Try anew"), QPushButton("Stop")
        self.again.clicked.connect(self.look)
        self.stop.clicked.connect(self.end)
        row = QHBoxLayout()
        row.addWidget(self.again)
        row.addWidget(self.stop)
        row.addStretch(1)
        self.column.addWidget(self.told)
        self.column.addLayout(row)
        self.column.addWidget(self._page, 1)
        self._worker.done.connect(self._take)
        self._worker.failed.connect(self._fail)
        self._one_found.connect(self._take_one)
        session.build_changed.connect(self._follow)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self._show()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Put away, nothing more is tried: it would take its turns from the window's thread."""
        if self._of is not None and not self._is_done:
            self.end()
        super().hideEvent(event)

    def look(self) -> None:
        """Try every change of the drive that is looked at; what was found before goes."""
        session, build = self._session, self._session.history.build
        drive = drive_meant(self._session)
        self._forget()
        if drive is None or session.is_read_only:
            self._worker.drop()
            self._show()
            return
        catalogue, check = session.catalogue, self._worker.check_cancelled
        of = self._of = (build, drive)

        def work() -> _Answer:
            factor = reserve_of(build, drive, catalogue)
            if factor is None:
                return of, None, ()
            found = worth_of(
                build, drive, catalogue, check, lambda one: self._one_found.emit((of, one))
            )
            return of, factor, found

        self._worker.submit(work)
        self._show()
        self.stop.setFocus()

    def end(self) -> None:
        """Try no more; what was found so far stays."""
        self._worker.drop()
        self._is_done = True
        self._show()

    def _forget(self) -> None:
        self.worths, self._so_far, self._of = (), [], None
        self._factor, self._is_done = None, False

    def _follow(self) -> None:
        """Another build: what was found is of the one before, and is not offered any more."""
        if self._of is not None and self._session.history.build is not self._of[0]:
            self._worker.drop()
            self._forget()
            self._show()

    def _take_one(self, answer: tuple[_Of, Worth]) -> None:
        of, one = answer
        if of is self._of:
            self._so_far.append(one)
            self.worths = ranked(self._so_far)
            self._show()

    def _take(self, answer: _Answer) -> None:
        of, factor, found = answer
        if of is self._of:
            self.worths, self._factor, self._is_done = found, factor, True
            self._show()

    def _fail(self, error: Exception) -> None:
        self._forget()
        self._show()
        self.told.setText(sentence(str(error)))

    def _show(self) -> None:
        """What was found so far, each with what it wins and costs and a button that makes it."""
        build, of = self._session.history.build, self._of
        self.stop.setEnabled(of is not None and not self._is_done)
        self.again.setEnabled(of is None or self._is_done)
        if of is None:
            self.told.setText("Another build: try anew." if build.drives else "No belt yet.")
        elif not self._is_done:
            label = build.drive(of[1]).label
            self.told.setText(f"Trying every change of {label}: {len(self._so_far)} win so far …")
        else:
            factor = self.worths[0].factor[0] if self.worths else self._factor
            said = nothing_words(build, of[1], factor, self.worths)
            self.told.setText(together(sentence(said)))
        self._page.show_blocks([self._block(one) for one in self.worths])

    def _block(self, one: Worth) -> QWidget:
        block = QWidget()
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        line = QHBoxLayout()
        line.setSpacing(8)
        mark: Mark = "stop" if one.level == "stop" else "watch" if one.level else "good"
        line.addWidget(MarkLabel(mark, self._theme), 0, Qt.AlignmentFlag.AlignTop)
        name = heading("subheading")
        name.setText(together(capital(one.words)))
        line.addWidget(name, 1)
        column.addLayout(line)
        for style, words in (
            ("plain", won_words(one)),
            ("faded", cost_words(self._session.history.build, one)),
        ):
            message = heading(style)
            message.setText(together(sentence(words)))
            column.addWidget(message)
        if not self._session.is_read_only:
            column.addLayout(act_row("Do this", capital(one.words), partial(self.do, one)))
        return block

    def do(self, one: Worth) -> None:
        """Make a change, as one step to undo."""
        if self._of is not None and self._session.history.build is self._of[0]:
            self._session.edit(one.words, one.build)
