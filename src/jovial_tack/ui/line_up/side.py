"""A unit on its ears from the side: one line each from the engine forward, drawn to scale."""

from __future__ import annotations

from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jovial_tack.drawing.stack import Block, BoltDrawn, EarDrawn, StackDrawn
from jovial_tack.ui.widgets.theme import Theme, figures, words

_LEFT, _RIGHT, _TOP, _FOOT = 8.0, 12.0, 20.0, 46.0
_ROW, _BAR = 62.0, 22.0
_DRAWN_TIMES, _LEANS_DEG = 10.0, 0.02


class SideView(QWidget):
    """picked: the ear that was clicked."""

    picked = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._drawn: StackDrawn | None = None
        self._says = ""
        self._chosen = ""
        self._figures = ("", "")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The unit on its ears, from the side")

    def sizeHint(self) -> QSize:
        """As wide as there is room, a line for each ear."""
        count = 1 if self._drawn is None else len(self._drawn.ears)
        return QSize(280, round(_TOP + _ROW * count + (0 if self._drawn is None else _FOOT)))

    @property
    def says(self) -> str:
        """What is said in place of a picture."""
        return self._says

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def show_stack(
        self, drawn: StackDrawn | None, says: str, chosen: str, planes: tuple[str, str]
    ) -> None:
        """Draw another unit. says: why there is none; chosen: the ear that is changed; planes: the
        wanted one and the one it stands in, in words.
        """
        self._drawn, self._says, self._chosen, self._figures = drawn, says, chosen, planes
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose the ear that is clicked."""
        if event is None or self._drawn is None:
            return
        row = int((event.position().y() - _TOP) // _ROW)
        if 0 <= row < len(self._drawn.ears):
            self.picked.emit(self._drawn.ears[row].ear)

    def _x(self, z: float) -> float:
        assert self._drawn is not None
        low, high = self._drawn.z_range
        return _LEFT + (z - low) / max(high - low, 1.0) * (self.width() - _LEFT - _RIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint all ears, and where the groove should be and is."""
        painter, t = QPainter(self), self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._drawn is None:
            painter.setFont(words(13))
            painter.setPen(t.color("faded"))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(QRectF(self.rect()), int(flags), self._says)
            return
        for k, ear in enumerate(self._drawn.ears):
            self._paint_ear(painter, ear, _TOP + k * _ROW)
        self._paint_planes(painter, self._drawn)

    def _paint_ear(self, painter: QPainter, ear: EarDrawn, top: float) -> None:
        t = self._theme
        chosen = ear.ear == self._chosen
        painter.setFont(words(12, bold=chosen))
        painter.setPen(t.color("ink" if chosen else "faded"))
        metrics = QFontMetricsF(painter.font())
        text = metrics.elidedText(ear.name, Qt.TextElideMode.ElideRight, self.width() - 16)
        painter.drawText(QPointF(_LEFT, top + 13), text)
        bar = QRectF(0, top + 20, 0, _BAR)
        for block in ear.blocks:
            self._paint_block(painter, block, bar)
        if ear.bolt is not None:
            self._paint_bolt(painter, ear.bolt, bar)
            is_free = not any(block.role in ("missing", "over") for block in ear.blocks)
            if is_free and ear.bolt.free:  # else what is missing stands there
                painter.setFont(figures(11))
                painter.setPen(t.color("faded"))
                painter.drawText(QPointF(_LEFT, bar.bottom() + 13), ear.bolt.free)
        y = bar.center().y()
        painter.setPen(QPen(t.color("ink"), 1.0, Qt.PenStyle.DotLine))
        last = max(block.high for block in ear.blocks)
        painter.drawLine(QPointF(self._x(last), y), QPointF(self._x(ear.groove), y))

    def _paint_block(self, painter: QPainter, block: Block, bar: QRectF) -> None:
        t = self._theme
        box = QRectF(self._x(block.low), bar.top(), self._x(block.high) - self._x(block.low), _BAR)
        fill = {
            "boss": t.color("metal"),
            "stay": t.color("rule"),
            "piece": t.color("accent"),
            "ear": t.color("pulley_fill"),
        }.get(block.role)
        if block.role in ("missing", "over"):
            color = t.color("watch" if block.role == "missing" else "stop")
            painter.setPen(QPen(color, 1.2))
            painter.setBrush(QBrush(color, Qt.BrushStyle.BDiagPattern))
            painter.drawRect(box)
            self._write(painter, block.label, box, color)
            return
        painter.setPen(QPen(t.color("ink"), 1.0))
        painter.setBrush(fill or t.color("paper"))
        painter.drawRect(box)

    def _write(self, painter: QPainter, text: str, box: QRectF, color: QColor) -> None:
        """What is missing, below the bar, where it stays within the picture."""
        painter.setFont(figures(11))
        width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 4
        left = min(max(box.center().x() - width / 2, 2.0), self.width() - width - 2)
        painter.setPen(color)
        below = QRectF(left, box.bottom() + 1, width, 15)
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_bolt(self, painter: QPainter, bolt: BoltDrawn, bar: QRectF) -> None:
        t, y = self._theme, bar.center().y()
        half = 4.0
        if bolt.bottom is not None:
            hole = QRectF(self._x(bolt.bottom), y - half - 1, 0, 2 * half + 2)
            hole.setRight(max(self._x(bolt.end), hole.left()))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(t.color("paper"))
            painter.drawRect(hole)
        shank = QRectF(QPointF(self._x(bolt.end), y - half), QPointF(self._x(bolt.head), y + half))
        painter.setPen(QPen(t.color("belt"), 1.0))
        painter.setBrush(t.color("belt_behind"))
        painter.drawRect(shank)
        painter.drawRect(
            QRectF(
                self._x(bolt.head), y - 7, max(self._x(bolt.head + 6) - self._x(bolt.head), 5), 14
            )
        )
        painter.setPen(QPen(t.color("paper"), 1.0))
        x = self._x(bolt.end) + 2
        while x < self._x(bolt.threaded_from) - 1:
            painter.drawLine(QPointF(x, y - half + 1), QPointF(x + 2, y + half - 1))
            x += 4

    def _paint_planes(self, painter: QPainter, drawn: StackDrawn) -> None:
        t = self._theme
        foot = _TOP + _ROW * len(drawn.ears)
        bottom = foot + 22
        wanted = self._x(drawn.wanted)
        painter.setPen(QPen(t.color("good"), 1.6, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(wanted, 4), QPointF(wanted, bottom))
        middle = QPointF(self._x(drawn.stands), (_TOP + foot) / 2)
        leans = radians(_DRAWN_TIMES * drawn.tilt_deg)
        half = (bottom - 8) / 2
        along = QPointF(half * sin(leans), half * cos(leans))
        painter.setPen(QPen(t.color("ink"), 2.0))
        painter.drawLine(middle - along, middle + along)
        painter.setFont(figures(11))
        for k, (text, color) in enumerate(zip(self._figures, ("good", "ink"), strict=True)):
            width = QFontMetricsF(painter.font()).horizontalAdvance(text)
            painter.setPen(t.color(color))
            painter.drawText(QPointF(self.width() - width - 4, bottom + 8 + 14 * k), text)
        if abs(drawn.tilt_deg) >= _LEANS_DEG:
            painter.setFont(words(11))
            painter.setPen(t.color("faded"))
            painter.drawText(QPointF(_LEFT, bottom + 22), "leaning, drawn 10 times")
