"""Loads on the parts, at the right of the desk; arrows and their trails over the revs at the shafts."""

from __future__ import annotations

from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jovial_tack.answers.grip.loads import belt_uses, pulls_mark, pulls_of
from jovial_tack.answers.grip.loads_words import pulls_words, use_words
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.words import sentence
from jovial_tack.drawing.front import shaft_centers
from jovial_tack.drawing.pulls import pull_shapes
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.blocks import ComparisonPage
from jovial_tack.ui.widgets.marks import MarkLabel
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme

_HINT = (
    "What all belts pull at each shaft with springs at their own torque: the arrow at the slider's"
    " speed, its trail over the revs, a dashed circle for the bearing's limit."
)


class LoadsCard(SideCard):
    """Every shaft that is pulled at, those nearest to their limits first; then every belt."""

    def __init__(
        self, session: Session, theme: Theme, front: FrontView, parent: QWidget | None = None
    ) -> None:
        super().__init__("Loads on the parts", _HINT, parent)
        self._session, self._theme, self._front = session, theme, front
        self.page = ComparisonPage()
        self.column.addWidget(self.page, 1)
        session.results_changed.connect(self._follow)
        session.rpm_changed.connect(self._follow)
        session.baseline_changed.connect(self._follow)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self._follow()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Put away, no arrow stays."""
        self._front.show_overlay(())
        super().hideEvent(event)

    def _follow(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the session as it is now."""
        session = self._session
        build, results = session.build, session.results
        pulls = pulls_of(build, results)
        pinned = session.baseline
        before = None if pinned is None else (pinned.build, pinned.results)
        blocks = []
        for one in pulls:
            mark = pulls_mark(build, results, one)
            blocks.append(self._block(mark, build.shaft(one.shaft).label, pulls_words(build, one)))
        for use in belt_uses(build, results, session.catalogue, before):
            label = build.drive(use.drive).label
            blocks.append(self._block(None, label, use_words(build, use)))
        if not blocks:
            blocks.append(self._block(None, "Nothing pulls yet", "no belt is taut"))
        self.page.show_blocks(blocks)
        centers = shaft_centers(build, results)
        self._front.show_overlay(pull_shapes(pulls, session.rpm, centers))

    def _block(self, mark: Mark | None, name: str, text: str) -> QWidget:
        block = QWidget()
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        title = heading("subheading")
        title.setText(name)
        if mark is None:
            column.addWidget(title)
        else:
            line = QHBoxLayout()
            line.setSpacing(8)
            line.addWidget(MarkLabel(mark, self._theme))
            line.addWidget(title, 1)
            column.addLayout(line)
        message = heading("plain")
        message.setText(together(sentence(text)))
        column.addWidget(message)
        return block
