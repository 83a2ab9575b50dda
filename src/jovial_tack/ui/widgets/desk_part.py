"""What stands around the front view: trays below it, cards and plots at its right."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QBoxLayout,
    QFrame,
    QLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

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


def scrolled_column(into: QBoxLayout, spacing: int = 6) -> QVBoxLayout:
    """A column that scrolls up and down, put into a layout with all the room there is."""
    inside = QWidget()
    column = QVBoxLayout(inside)
    column.setContentsMargins(0, 0, 8, 0)
    column.setSpacing(spacing)
    into.addWidget(scrolled(inside), 1)
    return column


def empty(layout: QLayout) -> None:
    """Take out all widgets that lie in a layout, for others in their place."""
    while (item := layout.takeAt(0)) is not None:
        if (widget := item.widget()) is not None:
            widget.deleteLater()
