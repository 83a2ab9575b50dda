"""The parts cards are laid out from: rows of figures, findings and cautions."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from jovial_tack.build.results import Finding
from jovial_tack.build.verdicts import State
from jovial_tack.ui.fields import LengthField
from jovial_tack.ui.marks import WORDS, paint_mark
from jovial_tack.ui.theme import Theme


def heading(name: str = "heading") -> QLabel:
    """A line of words in one of the style sheet's sizes; wraps."""
    label = QLabel()
    label.setObjectName(name)
    label.setWordWrap(True)
    return label


class Mark(QWidget):
    """A state's mark by itself."""

    def __init__(self, state: State, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._state, self._theme = state, theme
        self.setFixedSize(QSize(16, 18))
        self.setAccessibleName(WORDS[state])

    def show_state(self, state: State) -> None:
        """Show another state."""
        if state != self._state:
            self._state = state
            self.setAccessibleName(WORDS[state])
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the mark."""
        paint_mark(QPainter(self), QRectF(1, 2, 14, 14), self._state, self._theme)


class Figures(QWidget):
    """Rows of a word, a figure and what it is measured against. Editable figures are fields."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(5)
        self._grid.setColumnStretch(0, 1)
        self._rows: dict[str, tuple[QLabel, QLabel]] = {}

    def add_field(self, name: str, spoken: str) -> LengthField:
        """A row with a length field; the reason of a refusal appears below it."""
        row = self._grid.rowCount()
        word = QLabel(name)
        field = LengthField(spoken)
        field.setFixedWidth(104)
        word.setBuddy(field)
        other = QLabel()
        other.setObjectName("faded")
        reason = QLabel()
        reason.setObjectName("badfigure")
        reason.setWordWrap(True)
        reason.hide()
        self._grid.addWidget(word, row, 0)
        self._grid.addWidget(field, row, 1)
        self._grid.addWidget(other, row, 2)
        self._grid.addWidget(reason, row + 1, 0, 1, 3)

        def refuse(text: str) -> None:
            reason.setText(text)
            reason.setVisible(bool(text))

        field.refused.connect(refuse)
        self._rows[name] = (other, reason)
        return field

    def add_row(self, name: str) -> None:
        """A row with a figure that is computed."""
        row = self._grid.rowCount()
        word, figure, aside = QLabel(name), QLabel(), QLabel()
        figure.setObjectName("figure")
        figure.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        aside.setObjectName("faded")
        self._grid.addWidget(word, row, 0)
        self._grid.addWidget(figure, row, 1)
        self._grid.addWidget(aside, row, 2)
        self._rows[name] = (figure, aside)

    def show_row(self, name: str, figure: str, aside: str = "") -> None:
        """Fill a computed row."""
        shown, beside = self._rows[name]
        shown.setText(figure)
        beside.setText(aside)

    def show_other(self, name: str, text: str) -> None:
        """What stands beside a field: the same length in the other unit."""
        self._rows[name][0].setText(text)

    def show_reason(self, name: str, text: str) -> None:
        """Why a field's figure was refused."""
        reason = self._rows[name][1]
        reason.setText(text)
        reason.setVisible(bool(text))


class FindingList(QWidget):
    """Findings, each with its mark; its rows are kept and only rewritten."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(8)
        self._rows: list[tuple[QWidget, Mark, QLabel]] = []

    def show_findings(self, findings: Sequence[Finding]) -> None:
        """Show findings."""
        states: dict[str, State] = {"stop": "stop", "watch": "watch", "note": "unknown"}
        while len(self._rows) < len(findings):
            self._rows.append(self._new_row())
        for place, (row, mark, text) in enumerate(self._rows):
            row.setVisible(place < len(findings))
            if place < len(findings):
                message = findings[place].message
                mark.show_state(states[findings[place].level])
                text.setText(message[:1].upper() + message[1:] + ".")

    def _new_row(self) -> tuple[QWidget, Mark, QLabel]:
        row = QWidget()
        across = QHBoxLayout(row)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(8)
        mark = Mark("unknown", self._theme)
        across.addWidget(mark, 0, Qt.AlignmentFlag.AlignTop)
        text = QLabel()
        text.setWordWrap(True)
        across.addWidget(text, 1)
        self._column.addWidget(row)
        return row, mark, text
