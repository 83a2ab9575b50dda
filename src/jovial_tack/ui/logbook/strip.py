"""Below the front view: the line of time, and all events under it, the newest first."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QVBoxLayout

from jovial_tack.answers.logbook.words import amount, event_words
from jovial_tack.document.model import Event
from jovial_tack.ui.logbook.book import Book
from jovial_tack.ui.logbook.line import LifeLine
from jovial_tack.ui.widgets.desk_part import DeskPart
from jovial_tack.ui.widgets.text import plain
from jovial_tack.ui.widgets.theme import Theme, figures

_COLUMNS = ("Day", "Use", "What")


class _Events(QAbstractTableModel):
    """The events as rows; words are made for those in sight alone, however many there are."""

    def __init__(self, book: Book) -> None:
        super().__init__()
        self._book = book
        self.events: list[Event] = []

    def take(self) -> None:
        """Take the present events."""
        self.beginResetModel()
        self.events = self._book.listed
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """As many as there are events."""
        return 0 if parent is not None and parent.isValid() else len(self.events)

    def columnCount(self, _parent: QModelIndex | None = None) -> int:
        """Day, use, and what."""
        return len(_COLUMNS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """The words above."""
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return _COLUMNS[section]
        return None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """The words of a cell."""
        event, build = self.events[index.row()], self._book.session.build
        if role == Qt.ItemDataRole.FontRole and index.column() < 2:
            return figures(12)
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() == 1:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain(event_words(build, event))
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        if index.column() == 0:
            return event.at
        if index.column() == 1:
            unit = self._book.told.unit
            use = getattr(event, unit)
            return "" if use is None else amount(use, unit, build.display_units)
        return event_words(build, event)


class _Table(QTableView):
    """The list; Delete takes the chosen event out."""

    removed = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Keys for what is chosen."""
        if event is not None and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit()
        else:
            super().keyPressEvent(event)


class LogbookStrip(DeskPart):
    """The line of time above the list."""

    def __init__(self, book: Book, theme: Theme) -> None:
        super().__init__()
        self._book = book
        self.setObjectName("card")
        self.setFixedHeight(262)
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 6, 6, 8)
        column.setSpacing(4)
        self.line = LifeLine(book, theme)
        self.events = _Events(book)
        self.table = _Table()
        self.table.setModel(self.events)
        self.table.setAccessibleName("Events of the logbook, newest first")
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setShowGrid(False)
        self.table.setTabKeyNavigation(False)
        self.table.setWordWrap(False)
        down, across = self.table.verticalHeader(), self.table.horizontalHeader()
        assert down is not None and across is not None
        down.setVisible(False)
        down.setDefaultSectionSize(24)
        down.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        across.resizeSection(0, 92)
        across.resizeSection(1, 92)
        across.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        column.addWidget(self.line)
        column.addWidget(self.table, 1)
        chooser = self.table.selectionModel()
        assert chooser is not None
        chooser.currentRowChanged.connect(lambda now, _before: self._choose(now.row()))
        self.table.removed.connect(book.remove)
        book.changed.connect(self.refresh)
        book.chosen_changed.connect(self._show_chosen)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.line.theme = theme
        self.line.update()

    def refresh(self) -> None:
        """Show the present logbook."""
        if not self.isVisible():
            return
        self.line.refresh()
        if self.events.events != self._book.listed:
            self.events.take()
        self._show_chosen()

    def _choose(self, row: int) -> None:
        if 0 <= row < len(self.events.events):
            self._book.choose(self.events.events[row].id)

    def _show_chosen(self) -> None:
        chosen = self._book.chosen
        rows = [k for k, event in enumerate(self.events.events) if event == chosen]
        if not rows:
            self.table.clearSelection()
        elif self.table.currentIndex().row() != rows[0]:
            self.table.setCurrentIndex(self.events.index(rows[0], 0))
