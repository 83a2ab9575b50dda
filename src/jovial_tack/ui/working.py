"""A card whose answer takes a worker: nothing is worked out once it is put away."""

from __future__ import annotations

from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QWidget

from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.worker import NewestOnly


class WorkingCard(SideCard):
    """A card with a session, a theme and a worker of its own; what it takes and fails by is its own."""

    def __init__(
        self,
        session: Session,
        theme: Theme,
        title: str,
        hint: str,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(title, hint, parent)
        self._session, self._theme = session, theme
        self._worker = NewestOnly(self)

    @property
    def is_busy(self) -> bool:
        """Whether something is still worked out."""
        return self._worker.busy

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Put away, it takes no more turns from the window's thread."""
        self._worker.drop()
        super().hideEvent(event)
