"""The card that weighs keeping an accessory against deleting it."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from jovial_tack.answers.survey.keeping import Way, ways_without
from jovial_tack.document.edits.variants import of_all
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.blocks import ComparisonPage, compared_block
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.worker import NewestOnly

_HINT = "Each way solved with the stocked belts that suit it. Choosing one is one step to undo."


class KeepCard(SideCard):
    """Keep or delete one accessory; put away by a choice made as well."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Keep or delete?", _HINT, parent)
        self._session, self._theme, self._shaft = session, theme, ""
        self.ways: tuple[Way, ...] = ()
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self._page = ComparisonPage()
        self.column.addWidget(self._page, 1)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self._show()

    def compare_without(self, shaft: str) -> None:
        """Compare the ways for a shaft, off the window's thread."""
        session, self._shaft = self._session, shaft
        build, catalogue = session.build, session.catalogue
        self.title.setText(f"{build.shaft(shaft).label}: comparing …")
        self.ways = ()
        self._show()
        self._worker.submit(lambda: ways_without(build, shaft, catalogue))

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    def _take(self, ways: tuple[Way, ...]) -> None:
        self.ways = ways
        self.title.setText("Keep or delete?")
        self._show()

    def _show(self) -> None:
        blocks = []
        for way in self.ways:
            act = ("Do this", lambda w=way: self._do(w))
            buttons = () if way.stands.is_present else (act,)
            blocks.append(compared_block(way.stands, self._theme, buttons, way.changes))
        self._page.show_blocks(blocks)

    def _do(self, way: Way) -> None:
        session = self._session
        made = of_all(way.build, session.build)
        session.edit(way.stands.name[0].lower() + way.stands.name[1:], made)
        self.closed.emit()
