"""About: version, licence, and the licences of everything shipped with it, at the right of the desk."""

from __future__ import annotations

from importlib import resources

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox, QFrame, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from jovial_tack import __version__
from jovial_tack.ui.cards.rows import heading

_TEXT = (
    "Belt drives for engine swaps: does it fit, which belt, will it hold, does it line up.\n\n"
    "Free software under the GNU General Public License, version 3 or later, without any warranty."
    " Its figures are estimates from the data entered; makers' limits, local rules and qualified"
    " people come first."
)
LICENCES = {
    "Libraries": "libraries.txt",
    "Typeface Cabin": "fonts/Cabin-OFL.txt",
    "Typeface B612": "fonts/B612-OFL.txt",
}


class AboutCard(QFrame):
    """What this is. closed: put away by Esc or its button."""

    closed = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 12)
        column.setSpacing(9)
        title, text = heading(), heading("plain")
        title.setText(f"Jovial Tack {__version__}")
        text.setText(_TEXT)
        self.choice = QComboBox()
        self.choice.addItems(list(LICENCES))
        self.choice.setAccessibleName("Licence shown")
        self.page = QPlainTextEdit()
        self.page.setReadOnly(True)
        self.page.setTabChangesFocus(True)
        self.page.setAccessibleName("Licence")
        self.close_button = QPushButton("Close")
        for widget in (title, text, self.choice):
            column.addWidget(widget)
        column.addWidget(self.page, 1)
        column.addWidget(self.close_button)
        self.choice.currentTextChanged.connect(self._show_licence)
        self.close_button.clicked.connect(self.closed)
        self._show_licence(self.choice.currentText())

    def _show_licence(self, name: str) -> None:
        text = resources.files("jovial_tack.data").joinpath(LICENCES[name]).read_text("utf-8")
        self.page.setPlainText(text)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc puts it away."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        else:
            super().keyPressEvent(event)
