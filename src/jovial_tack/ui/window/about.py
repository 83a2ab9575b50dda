"""About: version, licence, and the licences of everything shipped with it, at the right of the desk."""

from __future__ import annotations

from importlib import resources

from PyQt6.QtWidgets import QComboBox, QPlainTextEdit, QWidget

from jovial_tack import __version__
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading

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


class AboutCard(SideCard):
    """What this is."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(f"Jovial Tack {__version__}", parent=parent)
        text = heading("plain")
        text.setText(_TEXT)
        self.choice = QComboBox()
        self.choice.addItems(list(LICENCES))
        self.choice.setAccessibleName("Licence shown")
        self.page = QPlainTextEdit()
        self.page.setReadOnly(True)
        self.page.setTabChangesFocus(True)
        self.page.setAccessibleName("Licence")
        for widget in (text, self.choice, self.page):
            self.column.addWidget(widget, 1 if widget is self.page else 0)
        self.choice.currentTextChanged.connect(self._show_licence)
        self._show_licence(self.choice.currentText())

    def _show_licence(self, name: str) -> None:
        text = resources.files("jovial_tack.data").joinpath(LICENCES[name]).read_text("utf-8")
        self.page.setPlainText(text)
