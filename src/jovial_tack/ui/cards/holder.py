"""The right side of the desk: the card of what is selected, refreshed no oftener than can be read."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QVBoxLayout

from jovial_tack.ui.cards.card import Card
from jovial_tack.ui.session import Session
from jovial_tack.ui.soon import Soon
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.theme import Theme


class CardHolder(QFrame):
    """Frames the card. released: Esc in one of its fields."""

    released = pyqtSignal()
    demo_wanted = pyqtSignal()
    open_wanted = pyqtSignal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self._session = session
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(1, 1, 1, 1)
        self.card = Card(session, theme)
        self.card.released.connect(self.released)
        self.card.demo_wanted.connect(self.demo_wanted)
        self.card.open_wanted.connect(self.open_wanted)
        self._column.addWidget(self.card)
        self.card.refresh()
        for changed in (
            session.selection_changed,
            session.baseline_changed,
            session.units_changed,
            session.settled,
            session.readings_changed,
        ):
            changed.connect(self._refresh)
        session.asked.connect(self.card.ask_for)
        session.rpm_changed.connect(Soon(self._refresh, self))

    def _refresh(self) -> None:
        self.card.refresh()

    def field(self, name: str) -> QuantityField:
        """The field of a figure by its name."""
        field = self.card.row(name).field
        assert field is not None
        return field

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.card.set_theme(theme)
