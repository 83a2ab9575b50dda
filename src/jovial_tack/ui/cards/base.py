"""What all cards share: they read the session, hand it edits, and show why one is refused."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from jovial_tack.build.model import Build
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import format_length
from jovial_tack.ui.cards.rows import Figures, FindingList, heading
from jovial_tack.ui.session import Session
from jovial_tack.ui.theme import Theme


class Card(QWidget):
    """A column: title, subtitle, figures, findings, caution."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session = session
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(16, 14, 16, 14)
        self.column.setSpacing(10)
        self.title = heading()
        self.subtitle = heading("faded")
        self.figures = Figures()
        self.findings = FindingList(theme)
        self.caution: QLabel = heading("caution")
        for widget in (self.title, self.subtitle, self.figures, self.findings):
            self.column.addWidget(widget)
        self.column.addStretch(1)  # the caution stands below the part that scrolls

    def refresh(self) -> None:
        """Show the session's state."""
        raise NotImplementedError

    def edit(self, row: str, label: str, make: Callable[[Build], Build]) -> None:
        """Try an edit; a refusal is told below its field."""
        try:
            build = make(self._session.build)
        except BuildFileError as error:
            self.figures.show_reason(row, f"This needs {error.expected}.")
            self.refresh()
            return
        self.figures.show_reason(row, "")
        self._session.edit(label, build)

    def other_unit(self, mm: float | None) -> str:
        """A length in the unit that is not shown."""
        if mm is None:
            return ""
        return format_length(mm, "in" if self._session.build.display_units == "mm" else "mm")


def listed(value: float | None, form: str, unit: str) -> str:
    """A figure with its unit, or a dash where it has no value."""
    return "–" if value is None else f"{value:{form}} {unit}"
