"""The station rail: the stations built so far, each with its state; the others in one line."""

from __future__ import annotations

from collections.abc import Sequence
from typing import get_args

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QButtonGroup, QSizePolicy, QVBoxLayout, QWidget

from jovial_tack.answers import kinds
from jovial_tack.answers.verdicts import Mark
from jovial_tack.ui.room import Station
from jovial_tack.ui.widgets.marks import WORDS, paint_mark
from jovial_tack.ui.widgets.text import Label, plain
from jovial_tack.ui.widgets.theme import Theme, figures, words

_WIDTH, _HEIGHT = 124, 40


class StationButton(QAbstractButton):
    """One station: number, name and mark; the chosen one has a bar at its left."""

    def __init__(self, station: Station, theme: Theme) -> None:
        super().__init__()
        self.station, self._theme = station, theme
        self._mark: Mark = "unknown"
        self.setCheckable(True)
        self.setFixedSize(QSize(_WIDTH, _HEIGHT))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip(plain(f"{station.what} (Ctrl+{station.number})"))
        self.show_mark("unknown")

    @property
    def mark(self) -> Mark:
        """The mark shown."""
        return self._mark

    def show_mark(self, mark: Mark) -> None:
        """Show a mark."""
        self._mark = mark
        self.setAccessibleName(f"Station {self.station.number}, {self.station.name}: {WORDS[mark]}")
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the station."""
        painter, t = QPainter(self), self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        if self.hasFocus():
            painter.setPen(QPen(t.color("accent"), 2))
            painter.drawRoundedRect(frame, 6, 6)
        painter.setPen(Qt.PenStyle.NoPen)
        if self.isChecked() or self.underMouse():
            painter.setBrush(t.color("raised"))
            painter.drawRoundedRect(frame.adjusted(1, 1, -1, -1), 5, 5)
        if self.isChecked():
            painter.setBrush(t.color("accent"))
            painter.drawRect(QRectF(2, 6, 4, self.height() - 12))
        painter.setFont(figures(12))
        painter.setPen(t.color("faded"))
        line = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(13, 0, 14, self.height()), line, str(self.station.number))
        painter.setFont(words(15, bold=self.isChecked()))
        painter.setPen(t.color("ink"))
        painter.drawText(QRectF(29, 0, 76, self.height()), line, self.station.name)
        paint_mark(painter, QRectF(self.width() - 21, self.height() / 2 - 7, 14, 14), self._mark, t)


class StationRail(QWidget):
    """All stations. chosen: the key of the one that was clicked."""

    chosen = pyqtSignal(str)

    def __init__(
        self, stations: Sequence[Station], theme: Theme, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.setFixedWidth(_WIDTH)
        self.setAccessibleName("Stations")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(4)
        self._group = QButtonGroup(self)
        self.buttons: dict[str, StationButton] = {}
        for station in stations:
            button = StationButton(station, theme)
            button.clicked.connect(lambda _=False, key=station.key: self.chosen.emit(key))
            self._group.addButton(button)
            column.addWidget(button)
            self.buttons[station.key] = button
        column.addStretch(1)
        later = Label(_to_come(stations))
        later.setObjectName("small")
        later.setWordWrap(True)
        column.addWidget(later)

    def show_chosen(self, key: str) -> None:
        """Mark a station as the one stood at."""
        self.buttons[key].setChecked(True)

    def show_mark(self, key: str, mark: Mark) -> None:
        """Show the mark of a station."""
        button = self.buttons[key]
        if button.mark != mark:
            button.show_mark(mark)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        for button in self.buttons.values():
            button.set_theme(theme)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down go from station to station."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key())) if event else None
        every = list(self.buttons.values())
        here = next((k for k, button in enumerate(every) if button.hasFocus()), None)
        if step is None or here is None:
            super().keyPressEvent(event)
            return
        button = every[(here + step) % len(every)]
        button.setFocus()
        button.click()


def _to_come(built: Sequence[Station]) -> str:
    """The stations that are not built yet, in a sentence; "" if all are."""
    here = {station.key for station in built}
    names = [key.replace("_", " ") for key in get_args(kinds.Station) if key not in here]
    return f"Not built yet: {', '.join(names)}." if names else ""
