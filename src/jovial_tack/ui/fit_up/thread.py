"""The thread of steps below the front view: what is done, what is to be done again, what comes."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
)

from jovial_tack.answers.fit_up.steps import Step
from jovial_tack.ui.fit_up.following import Following
from jovial_tack.ui.widgets.boxes import STATE, BoxDelegate
from jovial_tack.ui.widgets.desk_part import DeskPart
from jovial_tack.ui.widgets.text import heading, plain
from jovial_tack.ui.widgets.theme import Theme, figures

_SPOKEN = {"open": "to do", "done": "done", "again": "to do again"}
_BOX_WIDTH, _ROW_HEIGHT = 44, 40


class _Table(QTableWidget):
    """The list; Space, or a click on a box, ticks the step."""

    ticked = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space ticks what is chosen."""
        if event is not None and event.key() == Qt.Key.Key_Space:
            self.ticked.emit()
        else:
            super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A click on a box ticks it, once its step is chosen."""
        super().mouseReleaseEvent(event)
        if event is not None and self.columnAt(int(event.position().x())) == 0:
            self.ticked.emit()


class StepThread(DeskPart):
    """All steps in order."""

    def __init__(self, following: Following, theme: Theme) -> None:
        super().__init__()
        self._following, self._theme, self._showing = following, theme, False
        self.setObjectName("card")
        self.setFixedHeight(226)
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 6, 10, 8)
        column.setSpacing(5)
        self.said = heading("plain")
        column.addWidget(self.said)
        self.table = _Table(0, 3)
        self.table.setAccessibleName("Steps in their order")
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setShowGrid(False)
        self.table.setTabKeyNavigation(False)
        self.table.horizontalHeader().setVisible(False)  # type: ignore[union-attr]
        self.table.verticalHeader().setVisible(False)  # type: ignore[union-attr]
        self.table.verticalHeader().setDefaultSectionSize(_ROW_HEIGHT)  # type: ignore[union-attr]
        header = self.table.horizontalHeader()
        assert header is not None
        header.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        header.resizeSection(0, _BOX_WIDTH)
        header.resizeSection(1, _BOX_WIDTH)
        self.table.itemSelectionChanged.connect(self._choose)
        self.table.ticked.connect(following.toggle)
        self._boxes = BoxDelegate(theme)
        self.table.setItemDelegateForColumn(0, self._boxes)
        column.addWidget(self.table, 1)
        following.changed.connect(self.refresh)
        following.chosen_changed.connect(self._show_chosen)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = self._boxes.theme = theme
        self.refresh()

    def refresh(self) -> None:
        """Show the steps of the present build."""
        if not self.isVisible():
            return
        steps = self._following.steps
        self.said.setText(_in_words(steps.steps, steps.loops))
        self._showing = True
        self.table.setRowCount(len(steps.steps))
        for row, step in enumerate(steps.steps):
            self._show_row(row, step)
        self._showing = False
        self._show_chosen()

    def _show_row(self, row: int, step: Step) -> None:
        tail = ""
        color = "faded" if step.state == "done" else "ink"
        if step.state == "again":
            tail, color = " — again: the build was changed since", "watch"
        elif step.look_again:
            tail, color = " — look again: something there was changed", "watch"
        for column, text in enumerate(("", str(row + 1), f"{step.words}{tail}")):
            item = self.table.item(row, column)
            if item is None:
                item = QTableWidgetItem()
                if column < 2:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
                    item.setFont(figures(12))
                self.table.setItem(row, column, item)
            item.setData(Qt.ItemDataRole.UserRole, step.id)
            if column == 0:
                item.setData(STATE, step.state)
                item.setData(Qt.ItemDataRole.AccessibleTextRole, _SPOKEN[step.state])
            if item.text() != text:
                item.setText(text)
                item.setToolTip(plain(text) if column == 2 else "")
            item.setForeground(self._theme.color(color))

    def _choose(self) -> None:
        if self._showing or not self.table.selectedItems():
            return
        item = self.table.item(self.table.currentRow(), 0)
        if item is not None:
            self._following.choose(str(item.data(Qt.ItemDataRole.UserRole)))

    def _show_chosen(self) -> None:
        step = self._following.step
        self._showing = True
        for row in range(self.table.rowCount()):
            item = self.table.item(row, 0)
            if (
                step is not None
                and item is not None
                and item.data(Qt.ItemDataRole.UserRole) == step.id
            ):
                self.table.selectRow(row)
                self.table.scrollToItem(item)
        self._showing = False


def _in_words(steps: tuple[Step, ...], loops: tuple[tuple[str, ...], ...]) -> str:
    if not steps:
        return "Nothing to fit up yet."
    done = sum(step.state == "done" for step in steps)
    again = sum(step.state == "again" for step in steps)
    said = f"{done} of {len(steps)} steps done"
    if again:
        said += f", {again} to do again since the build was changed"
    if loops:
        said += f"; these wait for one another: {', '.join(loops[0])}"
    return f"{said}."
