"""A line of notice with its choices, where a dialog would stand in the way."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from jovial_tack.ui.widgets.text import Label

Choice = tuple[str, Callable[[], object]]


class Notice(QFrame):
    """Shows one message at a time; Esc and every choice close it. asked: it has another message."""

    asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(12, 6, 8, 6)
        self.text = Label()
        self.text.setWordWrap(True)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._row.addWidget(self.text, 1)
        self.buttons: list[QPushButton] = []
        self.hide()

    def ask(self, text: str, choices: Sequence[Choice] = ()) -> None:
        """Show a message; without choices it can only be closed."""
        for button in self.buttons:
            self._row.removeWidget(button)
            button.deleteLater()
        self.buttons = []
        self.text.setText(text)
        self.setAccessibleName(text)
        for label, action in choices or [("Close", lambda: None)]:
            button = QPushButton(label)
            button.clicked.connect(lambda _=False, act=action: self._choose(act))
            self._row.addWidget(button)
            self.buttons.append(button)
        self.show()
        self.asked.emit()
        self.buttons[0].setFocus()

    def _choose(self, action: Callable[[], object]) -> None:
        self.hide()
        action()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc closes without choosing."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.hide()
        else:
            super().keyPressEvent(event)
