"""The card that shows what a survey changes before its places are taken."""

from __future__ import annotations

from PyQt6.QtWidgets import QPushButton, QWidget

from jovial_tack.answers.comparing import Compared
from jovial_tack.answers.survey.taking import before_and_after, moved_words, taken
from jovial_tack.core.words import sentence
from jovial_tack.document.model import Build
from jovial_tack.ui.session import Session
from jovial_tack.ui.survey.readings import Readings
from jovial_tack.ui.widgets.blocks import ComparisonPage, compared_block
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.worker import NewestOnly

_HINT = (
    "How the build stands as drawn, and with its shafts where the readings put them. Taking it is one"
    " step to undo."
)


class TakeCard(SideCard):
    """As drawn against as surveyed."""

    def __init__(
        self, session: Session, readings: Readings, theme: Theme, parent: QWidget | None = None
    ) -> None:
        super().__init__("Move the shafts there?", _HINT, parent)
        self._session, self._readings, self._theme = session, readings, theme
        self.compared: tuple[Compared, Compared] | None = None
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self._worker.failed.connect(lambda error: self.moved.setText(sentence(str(error))))
        self.moved = heading("plain")
        self.take_button = QPushButton("Move them")
        self.take_button.clicked.connect(lambda _=False: self.take())
        self._page = ComparisonPage()
        self.column.addWidget(self.moved)
        self.column.addWidget(self.take_button)
        self.column.addWidget(self._page, 1)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self._show()

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    def open(self) -> None:
        """Compare what is there with what would be."""
        build, found = self._session.build, self._readings.found
        self.compared = None
        if found is None:
            self.moved.setText("There is no reading yet.")
            self.take_button.setEnabled(False)
            self._show()
            return
        self.moved.setText("\n".join(moved_words(build, found)))
        self.take_button.setEnabled(True)
        catalogue = self._session.catalogue
        self._show()
        if build.drives:
            self._worker.submit(lambda: before_and_after(build, found, catalogue))
        self.take_button.setFocus()

    def take(self) -> None:
        """Move the shafts: one step to undo."""
        found, session = self._readings.found, self._session
        if found is not None:
            made: Build = taken(session.build, found)
            session.edit("move the shafts where the survey puts them", made)
        self.closed.emit()

    def _take(self, compared: tuple[Compared, Compared]) -> None:
        self.compared = compared
        self._show()

    def _show(self) -> None:
        blocks = [] if self.compared is None else list(self.compared)
        self._page.show_blocks([compared_block(each, self._theme, ()) for each in blocks])
