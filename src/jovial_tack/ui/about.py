"""About: version, licence, and the licences of everything shipped with it."""

from __future__ import annotations

from importlib import resources

from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QLabel,
    QPlainTextEdit,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from jovial_tack import __version__

_TEXT = f"""<b>Jovial Tack {__version__}</b><br>
Belt drives for engine swaps: does it fit, which belt, will it hold, does it line up.<br><br>
Free software under the GNU General Public License, version 3 or later, without any warranty. Its
figures are estimates from the data entered; makers' limits, local rules and qualified people come
first."""
_LICENCES = (
    ("Libraries", "libraries.txt"),
    ("Typeface Cabin", "fonts/Cabin-OFL.txt"),
    ("Typeface B612", "fonts/B612-OFL.txt"),
)


def about_dialog(parent: QWidget) -> QDialog:
    """The dialog, ready to be shown."""
    dialog = QDialog(parent)
    dialog.setWindowTitle("About Jovial Tack")
    dialog.resize(620, 460)
    column = QVBoxLayout(dialog)
    text = QLabel(_TEXT)
    text.setWordWrap(True)
    column.addWidget(text)
    tabs = QTabWidget()
    data = resources.files("jovial_tack.data")
    for name, file in _LICENCES:
        page = QPlainTextEdit(data.joinpath(file).read_text("utf-8"))
        page.setReadOnly(True)
        page.setTabChangesFocus(True)
        page.setAccessibleName(f"Licence: {name}")
        tabs.addTab(page, name)
    column.addWidget(tabs, 1)
    buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
    buttons.rejected.connect(dialog.close)
    column.addWidget(buttons)
    return dialog


def show_about(parent: QWidget) -> None:
    """Show the dialog beside the window; nothing waits for it."""
    dialog = about_dialog(parent)
    dialog.setModal(False)
    dialog.show()
