"""What cards beside the desk share that are called up and put away: keys, about, variants, shelf."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from jovial_tack.ui.widgets.desk_part import DeskPart
from jovial_tack.ui.widgets.text import heading


class SideCard(DeskPart):
    """A title and a hint, room for more above the button that closes it. closed: put away."""

    closed = pyqtSignal()

    def __init__(self, title: str, hint: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        outer = QVBoxLayout(self)
        outer.setContentsMargins(16, 14, 16, 12)
        outer.setSpacing(9)
        self.title, message = heading(), heading("faded")
        self.title.setText(title)
        message.setText(hint)
        message.setVisible(bool(hint))
        #: where a card puts its own widgets
        self.column = QVBoxLayout()
        self.column.setSpacing(9)
        self.close_button = QPushButton("Close")
        self.close_button.clicked.connect(self.closed)
        outer.addWidget(self.title)
        outer.addWidget(message)
        outer.addLayout(self.column, 1)
        outer.addWidget(self.close_button)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc puts it away."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        else:
            super().keyPressEvent(event)
