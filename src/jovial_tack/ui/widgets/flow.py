"""A layout that sets widgets side by side and goes on in the next line when there is no room."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget


class FlowLayout(QLayout):
    """Widgets at their own size, line by line."""

    def __init__(self, parent: QWidget, gap: int) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._gap = gap
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        """Take over an item."""
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        """How many items there are."""
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        """The item at a place."""
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        """Give an item away."""
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        """It takes no more room than it needs."""
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        """The height follows from the width."""
        return True

    def heightForWidth(self, width: int) -> int:
        """How high the lines are at a width."""
        return self._arrange(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        """Lay the items out."""
        super().setGeometry(rect)
        self._arrange(rect, move=True)

    def sizeHint(self) -> QSize:
        """The size of the largest item."""
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        """The size of the largest item."""
        size = QSize()
        for item in self._items:
            size = size.expandedTo(item.minimumSize())
        return size

    def _arrange(self, rect: QRect, *, move: bool) -> int:
        x, y, line = rect.x(), rect.y(), 0
        for item in self._items:
            size = item.sizeHint()
            if x + size.width() > rect.right() + 1 and x > rect.x():
                x, y, line = rect.x(), y + line + self._gap, 0
            if move:
                item.setGeometry(QRect(x, y, size.width(), size.height()))
            x += size.width() + self._gap
            line = max(line, size.height())
        return y + line - rect.y()
