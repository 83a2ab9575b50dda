"""The readings as a list below the front view, newest first."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
)

from jovial_tack.answers.survey.told import ToldReading, next_words
from jovial_tack.core.units import LENGTH, written_in
from jovial_tack.ui.survey.readings import Readings
from jovial_tack.ui.widgets.desk_part import DeskPart
from jovial_tack.ui.widgets.text import heading, plain
from jovial_tack.ui.widgets.theme import Theme, figures

_COLUMNS = ("", "Reading", "Read", "±", "Off by", "")
_AT_THE_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_PLACE = Qt.ItemDataRole.UserRole


class _Table(QTableWidget):
    """The list; Delete takes the chosen reading away, Space sets it aside."""

    removed = pyqtSignal()
    set_aside = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Keys for what is chosen."""
        key = None if event is None else event.key()
        if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit()
        elif key == Qt.Key.Key_Space:
            self.set_aside.emit()
        else:
            super().keyPressEvent(event)


class ReadingStrip(DeskPart):
    """What was read, how far each is off, and the next one to take at its head.

    next_wanted: the proposed reading is to be taken now; removed, set_aside: what is chosen.
    """

    next_wanted = pyqtSignal()
    removed = pyqtSignal()
    set_aside = pyqtSignal()

    def __init__(self, readings: Readings, theme: Theme) -> None:
        super().__init__()
        self._readings, self._theme = readings, theme
        self.setObjectName("card")
        self.setFixedHeight(226)
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 6, 10, 8)
        column.setSpacing(5)
        row = QHBoxLayout()
        self.next = heading("plain")
        self.next_button = QPushButton("Take it now")
        self.next_button.setObjectName("act")
        self.next_button.clicked.connect(lambda _=False: self.next_wanted.emit())
        row.addWidget(self.next, 1)
        row.addWidget(self.next_button, 0, Qt.AlignmentFlag.AlignTop)
        column.addLayout(row)
        self.table = _Table(0, len(_COLUMNS))
        self.table.setHorizontalHeaderLabels(list(_COLUMNS))
        self.table.setAccessibleName("Readings, newest first")
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setShowGrid(False)
        self.table.setTabKeyNavigation(False)
        self.table.verticalHeader().setVisible(False)  # type: ignore[union-attr]
        self.table.verticalHeader().setDefaultSectionSize(23)  # type: ignore[union-attr]
        header = self.table.horizontalHeader()
        assert header is not None
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        for k, wide in ((0, 26), (2, 96), (3, 76), (4, 92), (5, 96)):
            header.resizeSection(k, wide)
        self.table.itemSelectionChanged.connect(self._choose)
        self.table.removed.connect(self.removed)
        self.table.set_aside.connect(self.set_aside)
        column.addWidget(self.table, 1)
        readings.changed.connect(self.refresh)
        readings.chosen_changed.connect(self._show_chosen)
        self._showing = False

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.refresh()

    def refresh(self) -> None:
        """Show the readings of the present build."""
        if not self.isVisible():
            return
        readings = self._readings
        told, build = readings.told, readings.session.build
        self._show_next()
        listed = [] if told is None else sorted(told.readings, key=lambda r: -r.place)
        self._showing = True
        self.table.setRowCount(len(listed))
        for row, reading in enumerate(listed):
            self._show_row(row, reading, build.display_units)
        self._showing = False
        self._show_chosen()

    def _show_next(self) -> None:
        readings = self._readings
        told = readings.told
        said = "" if told is None else next_words(readings.session.build, told)
        if readings.pending and not said:
            said = "Looking for other arrangements, and what to read next …"
        if told is None and not said:
            said = readings.problem or "No reading yet: choose what was measured at the right."
        self.next.setText(said)
        self.next_button.setVisible(told is not None and told.next is not None)

    def _show_row(self, row: int, reading: ToldReading, unit: str) -> None:
        off = ""
        if reading.residual is not None:
            off = (
                f"{reading.residual:+.2f}°" if reading.is_angle else _signed(reading.residual, unit)
            )
        mark = "!" if reading.doubt is not None else "?" if not reading.checked else ""
        bar = _bar(reading.standardised)
        if reading.problem:
            mark, off = "–", "not used"
        if reading.set_aside:
            mark, off, bar = "–", "set aside", ""
        color = "stop" if reading.doubt is not None else "ink"
        if reading.problem or reading.set_aside:
            color = "faded"
        tip = reading.problem or (
            ""
            if reading.checked or reading.residual is None
            else "No other reading checks this one"
        )
        for column, text in enumerate((mark, reading.words, reading.read, reading.sd, off, bar)):
            item = self.table.item(row, column)
            if item is None:
                item = QTableWidgetItem()
                if column in (2, 3, 4):
                    item.setTextAlignment(_AT_THE_RIGHT)
                    item.setFont(figures(12))
                self.table.setItem(row, column, item)
            item.setData(_PLACE, reading.place)
            if item.text() != text:
                item.setText(text)
            if item.toolTip() != (shown := plain(tip or text)):
                item.setToolTip(shown)
            if item.foreground().color() != (painted := self._theme.color(color)):
                item.setForeground(painted)

    def _choose(self) -> None:
        if self._showing:
            return
        item = self.table.item(self.table.currentRow(), 0) if self.table.selectedItems() else None
        self._readings.choose(None if item is None else int(item.data(_PLACE)))

    def _show_chosen(self) -> None:
        chosen = self._readings.chosen
        self._showing = True
        if chosen is None:
            self.table.clearSelection()
        for row in range(self.table.rowCount()):
            item = self.table.item(row, 0)
            if chosen is not None and item is not None and int(item.data(_PLACE)) == chosen:
                self.table.selectRow(row)
        self._showing = False


def _signed(mm: float, unit: str) -> str:
    text = written_in(abs(mm), LENGTH, unit, 2 if unit == "mm" else 3)
    return f"{'+' if mm >= 0 else '−'}{text}"


def _bar(standardised: float | None) -> str:
    """How far off a reading is for its ±, as strokes to the left or right of the middle."""
    if standardised is None:
        return ""
    strokes = min(round(2 * abs(standardised)), 6)
    left = "•" * strokes if standardised < 0 else ""
    right = "•" * strokes if standardised > 0 else ""
    return f"{left:>6}|{right:<6}"
