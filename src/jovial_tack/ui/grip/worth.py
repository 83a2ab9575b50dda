"""What every change of a drive is worth, at the right of the desk: tried on a worker, listed as
found.
"""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QWidget

from jovial_tack.answers.mending.worth import Worth, ranked, reserve_of, worth_of
from jovial_tack.answers.mending.worth_words import cost_words, nothing_words, won_words
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.model import Build
from jovial_tack.document.targets import drive_of
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, plain, together
from jovial_tack.ui.worker import NewestOnly

_HINT = (
    "Every change is made and solved over all revs: what it wins in reserve, and what it costs. Enter or"
    " Do this makes it, as one step to undo."
)
_Of = tuple[Build, str]
_Answer = tuple[_Of, float | None, tuple[Worth, ...]]


class WorthCard(SideCard):
    """The drive of what is selected, else the first that slips, else the first."""

    _one_found = pyqtSignal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__("What it is worth", _HINT, parent)
        self._session = session
        self.worths: tuple[Worth, ...] = ()
        self._so_far: list[Worth] = []
        self._of: _Of | None = None
        self.told = heading("plain")
        self.list = QListWidget()
        self.list.setAccessibleName("Changes, the most won first")
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemActivated.connect(lambda _item: self.do_it())
        self.act = QPushButton("Do this")
        self.act.clicked.connect(self.do_it)
        self.again = QPushButton("Try anew")
        self.again.clicked.connect(self.look)
        row = QHBoxLayout()
        row.addWidget(self.act)
        row.addWidget(self.again)
        row.addStretch(1)
        self.column.addWidget(self.told)
        self.column.addWidget(self.list, 1)
        self.column.addLayout(row)
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self._worker.failed.connect(self._fail)
        self._one_found.connect(self._take_one)
        session.build_changed.connect(self._follow)
        session.units_changed.connect(self._show)

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    @property
    def is_busy(self) -> bool:
        """Whether changes are still tried."""
        return self._worker.busy

    def look(self) -> None:
        """Try every change of the drive that is looked at; what was found before goes."""
        session, build = self._session, self._session.history.build
        drive = self._drive()
        self.worths, self._so_far = (), []
        if drive is None or session.is_read_only:
            self._of = None
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
        self.list.setFocus()

    def _drive(self) -> str | None:
        """The drive that is meant: of what is selected, else one that slips, else the first."""
        session = self._session
        build = session.history.build
        own = drive_of(session.selection)
        if own is not None:
            return own
        shaft = shaft_of(build, session.selection)
        for drive in build.drives:
            if shaft is not None and any(pulley.shaft == shaft for pulley in drive.pulleys):
                return drive.id
        slips = [d.id for d in session.results.drives if any(f.code == "slip" for f in d.findings)]
        here = [drive.id for drive in build.drives]
        return next((name for name in slips if name in here), here[0] if here else None)

    def _follow(self) -> None:
        """Another build: what was found is of the one before, and is not offered any more."""
        if self._of is not None and self._session.history.build is not self._of[0]:
            self._worker.drop()
            self.worths, self._so_far, self._of = (), [], None
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
            self.worths = found
            self._show(factor, done=True)

    def _fail(self, error: Exception) -> None:
        self.worths = ()
        self._show()
        self.told.setText(sentence(str(error)))

    def _show(self, factor: float | None = None, *, done: bool = False) -> None:
        """List what was found so far; what is chosen stays chosen."""
        build = self._session.history.build
        if self._of is None:
            self.told.setText(
                "The build has changed: try anew." if build.drives else "No belt yet."
            )
        elif done:
            self.told.setText(
                together(sentence(nothing_words(build, self._of[1], factor, self.worths)))
            )
        elif self._worker.busy:
            label = build.drive(self._of[1]).label
            self.told.setText(f"Trying every change of {label}: {len(self._so_far)} win so far …")
        chosen = self._chosen()
        self.list.clear()
        for one in self.worths:
            said = f"{capital(one.words)}\n{won_words(one)}\n{cost_words(build, one)}"
            item = QListWidgetItem(together(said))
            item.setToolTip(plain(said))
            self.list.addItem(item)
        words = [one.words for one in self.worths]
        row = words.index(chosen.words) if chosen is not None and chosen.words in words else 0
        self.list.setCurrentRow(row if words else -1)
        self.act.setEnabled(bool(words) and not self._session.is_read_only)

    def _chosen(self) -> Worth | None:
        row = self.list.currentRow()
        return self.worths[row] if 0 <= row < len(self.worths) else None

    def do_it(self) -> None:
        """Make the chosen change, as one step to undo."""
        one = self._chosen()
        if one is None or self._of is None:
            return
        if self._session.history.build is self._of[0]:
            self._session.edit(one.words, one.build)
