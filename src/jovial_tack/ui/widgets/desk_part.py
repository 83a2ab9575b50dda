"""What stands around the front view: trays below it, cards and plots at its right."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget

from jovial_tack.ui.widgets.theme import Theme


class DeskPart(QFrame):
    """A part of the desk. The desk calls these on every one; a part has them where it needs them."""

    def refresh(self) -> None:
        """Show the session as it is now; called when the part comes in sight."""

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""

    def close_work(self) -> None:
        """Let running work end, before the window goes."""


def scrolled(inside: QWidget) -> QScrollArea:
    """An area that scrolls up and down over a widget of its own width."""
    area = QScrollArea()
    area.setWidget(inside)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    return area
