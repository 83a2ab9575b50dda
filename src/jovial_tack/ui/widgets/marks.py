"""The marks of a state: filled disc good, hollow triangle watch, solid bar stop, ring unknown."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from jovial_tack.answers.verdicts import Mark
from jovial_tack.ui.widgets.theme import MARK_COLORS, Theme

WORDS: dict[Mark, str] = {
    "good": "good",
    "watch": "watch",
    "stop": "stop",
    "unknown": "not known yet",
}


def paint_mark(painter: QPainter, box: QRectF, state: Mark, theme: Theme) -> None:
    """Paint a state's mark into a square box; told apart by shape as well as colour."""
    color = theme.color(MARK_COLORS[state])
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(color))
    if state == "good":
        painter.drawEllipse(box.adjusted(1, 1, -1, -1))
    elif state == "stop":
        height = box.height() * 0.42
        painter.drawRect(QRectF(box.left(), box.center().y() - height / 2, box.width(), height))
    elif state == "watch":
        _outline(painter, color)
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(box.center().x(), box.top() + 1.5),
                    QPointF(box.right() - 1, box.bottom() - 2),
                    QPointF(box.left() + 1, box.bottom() - 2),
                ]
            )
        )
    else:
        _outline(painter, color)
        painter.drawEllipse(box.adjusted(3, 3, -3, -3))
    painter.restore()


def _outline(painter: QPainter, color: QColor) -> None:
    painter.setBrush(Qt.BrushStyle.NoBrush)
    pen = QPen(color, 2.2)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    painter.setPen(pen)


class MarkLabel(QWidget):
    """A state's mark by itself."""

    def __init__(self, state: Mark, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._state, self._theme = state, theme
        self.setFixedSize(QSize(16, 18))
        self.setAccessibleName(WORDS[state])

    @property
    def state(self) -> Mark:
        """The state shown."""
        return self._state

    def show_state(self, state: Mark) -> None:
        """Show another state."""
        if state != self._state:
            self._state = state
            self.setAccessibleName(WORDS[state])
            self.update()

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the mark."""
        paint_mark(QPainter(self), QRectF(1, 2, 14, 14), self._state, self._theme)
