"""Boxes, painted: open, ticked, to be done again, or barred for what is not there; told by shape."""

from __future__ import annotations

from typing import Literal

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from jovial_tack.ui.widgets.marks import paint_mark
from jovial_tack.ui.widgets.theme import Theme

Box = Literal["open", "done", "again", "absent"]
#: What an item says of its box.
STATE = Qt.ItemDataRole.UserRole + 1
_SIDE = 22.0
_COLORS = {"open": "faded", "done": "good", "again": "watch", "absent": "ink"}


class BoxDelegate(QStyledItemDelegate):
    """Paints the box of each step in the middle of its cell."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        """Paint what the cell says, and its box over it."""
        super().paint(painter, option, index)
        state = index.data(STATE)
        if painter is None or state is None:
            return
        middle = QRectF(option.rect).center()
        box = QRectF(middle.x() - _SIDE / 2, middle.y() - _SIDE / 2, _SIDE, _SIDE)
        paint_box(painter, box, state, self.theme)


def paint_box(painter: QPainter, box: QRectF, state: Box, theme: Theme) -> None:
    """A hollow square; with a tick where it is done, the mark of watch where it is to be done again, a
    bar where something is not there.
    """
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    color = theme.color(_COLORS[state])
    painter.setPen(QPen(color, 2.0))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 3, 3)
    if state == "done":
        painter.setPen(QPen(color, 3.0))
        across, down = box.width(), box.height()
        corners = [(0.24, 0.52), (0.43, 0.72), (0.78, 0.30)]
        painter.drawPolyline(
            QPolygonF([QPointF(box.left() + x * across, box.top() + y * down) for x, y in corners])
        )
    elif state == "absent":
        painter.setPen(QPen(color, 3.0))
        level = box.center().y()
        ends = (box.left() + 0.28 * box.width(), box.left() + 0.72 * box.width())
        painter.drawLine(QPointF(ends[0], level), QPointF(ends[1], level))
    elif state == "again":
        paint_mark(painter, box.adjusted(4, 4, -4, -4), "watch", theme)
    painter.restore()
