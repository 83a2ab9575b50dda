"""Shows the card that belongs to the selection."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from jovial_tack.ui.cards.base import Card
from jovial_tack.ui.cards.belt import BeltCard
from jovial_tack.ui.cards.overview import OverviewCard
from jovial_tack.ui.cards.pulley import PulleyCard
from jovial_tack.ui.session import Session
from jovial_tack.ui.soon import Soon
from jovial_tack.ui.theme import Theme

_WIDTH = 330


class CardHolder(QFrame):
    """The right side of the desk."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self.setFixedWidth(_WIDTH)
        self._session = session
        self._stack = QStackedWidget()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(1, 1, 1, 1)
        self._column.addWidget(self._stack)
        self._build_cards(theme)
        session.selection_changed.connect(self._show_selected)
        self._soon = Soon(self._refresh, self)
        session.results_changed.connect(self._soon)
        session.rpm_changed.connect(self._soon)

    def _build_cards(self, theme: Theme) -> None:
        session = self._session
        self.overview = OverviewCard(session, theme)
        self.pulley = PulleyCard(session, theme)
        self.belt = BeltCard(session, theme)
        for card in (self.overview, self.pulley, self.belt):
            area = QScrollArea()
            area.setWidget(card)
            area.setWidgetResizable(True)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            area.setFrameShape(QFrame.Shape.NoFrame)
            area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            page = QWidget()
            column = QVBoxLayout(page)
            column.setContentsMargins(0, 0, 0, 0)
            column.setSpacing(0)
            column.addWidget(area, 1)
            column.addWidget(card.caution)
            self._stack.addWidget(page)
        self._show_selected()

    @property
    def current(self) -> Card:
        """The card shown."""
        return (self.overview, self.pulley, self.belt)[self._stack.currentIndex()]

    def _refresh(self) -> None:
        self.current.refresh()

    def _show_selected(self) -> None:
        selection = self._session.selection
        kind = selection[:1]
        if kind == ("pulley",):
            self._stack.setCurrentIndex(1)
            self.pulley.show_pulley(selection[1], selection[2])
        elif kind == ("belt",):
            self._stack.setCurrentIndex(2)
            self.belt.show_belt(selection[1])
        else:
            self._stack.setCurrentIndex(0)
            self.overview.refresh()

    def set_theme(self, theme: Theme) -> None:
        """Make the cards anew in another theme."""
        while (widget := self._stack.widget(0)) is not None:
            self._stack.removeWidget(widget)
            widget.deleteLater()
        self._build_cards(theme)
