"""Words in the front view: labels with their leaders, and slips of paper beside a place."""

from __future__ import annotations

from math import hypot

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen
from PyQt6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from jovial_tack.drawing.shapes import Label, Shape
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.widgets.theme import Theme, figures, words

_LABEL_PAD = 3.0
_LEADER_PX = 16.0


class LabelItem(QGraphicsItem):
    """A label of two lines; sits at an offset in px from its anchor."""

    def __init__(self, label: Label, theme: Theme) -> None:
        super().__init__()
        self.model: Shape = label
        self._theme = theme
        self._offset = QPointF(0, 0)
        self._box = QRectF()
        self._leader: tuple[QPointF, QPointF] | None = None
        self._brief = False
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setCacheMode(QGraphicsItem.CacheMode.DeviceCoordinateCache)
        self.setZValue(label.layer)
        self._measure()

    @property
    def size(self) -> tuple[float, float]:
        """Width and height, px."""
        return self._box.width(), self._box.height()

    def show_shape(self, shape: Shape) -> None:
        """Take over new words or a new place."""
        if shape is self.model or shape == self.model or not isinstance(shape, Label):
            return
        assert isinstance(self.model, Label)
        reworded = (shape.text, shape.detail) != (self.model.text, self.model.detail)
        self.model = shape
        self.setPos(scene_point(shape.anchor))
        if reworded:
            self.prepareGeometryChange()
            self._measure()
            self.update()

    def set_look(self, theme: Theme, *, selected: bool, hovered: bool) -> None:
        """Draw in a theme."""
        if theme is not self._theme:
            self._theme = theme
            self.update()

    def be_brief(self, brief: bool) -> None:
        """Leave the sizes out, where there is little room."""
        if brief != self._brief:
            self.prepareGeometryChange()
            self._brief = brief
            self._measure()
            self.update()

    @property
    def _detail(self) -> str:
        assert isinstance(self.model, Label)
        return "" if self._brief else self.model.detail

    def put(self, offset: QPointF, radius_px: float) -> None:
        """Set the top left corner relative to the anchor, px; far off, a line leads to the rim."""
        box = self._box.translated(offset)
        near = QPointF(
            min(max(0.0, box.left()), box.right()), min(max(0.0, box.top()), box.bottom())
        )
        away = hypot(near.x(), near.y())
        leader = None
        if away > radius_px + _LEADER_PX:
            leader = near, near * (radius_px / away)
        if (offset, leader) != (self._offset, self._leader):
            self.prepareGeometryChange()
            self._offset, self._leader = offset, leader
            self.update()

    def _measure(self) -> None:
        assert isinstance(self.model, Label)
        self.setPos(scene_point(self.model.anchor))
        upper, lower = QFontMetricsF(words(14)), QFontMetricsF(figures(12))
        width = max(upper.horizontalAdvance(self.model.text), lower.horizontalAdvance(self._detail))
        height = upper.height() + (lower.height() if self._detail else 0)
        self._box = QRectF(0, 0, min(width, 200.0) + 2 * _LABEL_PAD, height)

    def boundingRect(self) -> QRectF:
        """Room of the words and of the line that leads to what they name, px."""
        box = self.words_box()
        return box if self._leader is None else box.united(_span_box(*self._leader))

    def words_box(self) -> QRectF:
        """The box round its words, in the scene."""
        return self._box.translated(self._offset)

    def shape(self) -> QPainterPath:
        """Labels are not grabbed."""
        return QPainterPath()

    def paint(
        self,
        painter: QPainter | None,
        option: QStyleOptionGraphicsItem | None,
        widget: QWidget | None = None,
    ) -> None:
        """Name above, sizes below; long names end in an ellipsis."""
        assert painter is not None
        assert isinstance(self.model, Label)
        box = self.words_box().adjusted(_LABEL_PAD, 0, -_LABEL_PAD, 0)
        if self._leader is not None:
            painter.setPen(QPen(self._theme.color("faded"), 1.0))
            painter.drawLine(*self._leader)
        font = words(14)
        painter.setFont(font)
        painter.setPen(self._theme.color("ink"))
        metrics = QFontMetricsF(font)
        text = metrics.elidedText(self.model.text, Qt.TextElideMode.ElideRight, box.width() + 1)
        center = Qt.AlignmentFlag.AlignHCenter
        painter.drawText(box, center | Qt.AlignmentFlag.AlignTop, text)
        if self._detail:
            painter.setFont(figures(12))
            painter.setPen(self._theme.color("faded"))
            painter.drawText(box, center | Qt.AlignmentFlag.AlignBottom, self._detail)


class Tag(QGraphicsItem):
    """A word on a slip of paper beside a place, over whatever lies there."""

    def __init__(self, text: str, at: QPointF, theme: Theme) -> None:
        super().__init__()
        self._text, self._theme = text, theme
        size = QFontMetricsF(words(13)).size(0, text)
        self._box = QRectF(8, -size.height() - 10, size.width() + 12, size.height() + 4)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setPos(at)
        self.setZValue(320.0)

    def boundingRect(self) -> QRectF:
        """Room of the slip, px."""
        return self._box.adjusted(-1, -1, 1, 1)

    def paint(
        self,
        painter: QPainter | None,
        option: QStyleOptionGraphicsItem | None,
        widget: QWidget | None = None,
    ) -> None:
        """The slip and its words."""
        assert painter is not None
        painter.setPen(QPen(self._theme.color("accent"), 1.0))
        painter.setBrush(self._theme.color("paper"))
        painter.drawRoundedRect(self._box, 3, 3)
        painter.setFont(words(13))
        painter.setPen(self._theme.color("accent_text"))
        painter.drawText(self._box, Qt.AlignmentFlag.AlignCenter, self._text)


def _span_box(a: QPointF, b: QPointF) -> QRectF:
    return QRectF(a, b).normalized().adjusted(-1, -1, 1, 1)
