"""Shapes as retained graphics items. One item a key; an item repaints only if its shape changed."""

from __future__ import annotations

from functools import lru_cache
from math import atan2, degrees, hypot

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPainterPathStroker, QPen
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPathItem, QStyleOptionGraphicsItem, QWidget

from jovial_tack.answers.verdicts import Mark
from jovial_tack.document.targets import NOTHING
from jovial_tack.drawing.shapes import (
    ARC_STATES,
    CHOICE,
    Arc,
    BeltLoop,
    Circle,
    Cross,
    Label,
    Line,
    Point,
    Role,
    Shape,
)
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.front_view.words import LabelItem
from jovial_tack.ui.widgets.theme import MARK_COLORS, Theme

_GRAB_MM = 5.0
_ARC_RIM_MM = 4.0
_ARC_RIMS: dict[Mark, float] = {"good": 0.0, "unknown": 0.0, "watch": 2.0, "stop": 3.0}
#: Outlines that are taken hold of anywhere inside.
_WHOLE = ("obstacle", "plate", "cut")
_MOSTLY_STILL = ("pulley", "obstacle")
_TEXTURES = {
    "arc_watch": Qt.BrushStyle.BDiagPattern,
    "arc_stop": Qt.BrushStyle.DiagCrossPattern,
}


def shape_path(shape: Shape) -> QPainterPath:
    """The outline of a shape in scene coordinates."""
    path = QPainterPath()
    if isinstance(shape, Circle):
        path.addEllipse(scene_point(shape.center), shape.radius, shape.radius)
    elif isinstance(shape, Arc):
        box = _circle_box(shape.center, shape.radius)
        path.arcMoveTo(box, shape.start_deg)
        path.arcTo(box, shape.start_deg, shape.sweep_deg)
    elif isinstance(shape, Line):
        path.moveTo(scene_point(shape.points[0]))
        for point in shape.points[1:]:
            path.lineTo(scene_point(point))
        if shape.closed:
            path.closeSubpath()
    elif isinstance(shape, BeltLoop):
        _belt_path(path, shape)
    return path


def _belt_band(belt: BeltLoop) -> QPainterPath:
    """The belt as what lies between its two sides."""
    path = QPainterPath()
    for side in (0.5, -0.5):
        _belt_path(path, belt, side * belt.width)
    return path


def _belt_path(path: QPainterPath, belt: BeltLoop, left: float = 0.0) -> None:
    """A loop a distance to the left of the belt's line: the same with other radii."""
    count = len(belt.spans)
    for place, ((x, y), (to_x, to_y)) in enumerate(belt.spans):
        center, radius, sweep = belt.arcs[(place + 1) % count]
        along = hypot(to_x - x, to_y - y) or 1.0
        off_x, off_y = left * (y - to_y) / along, left * (to_x - x) / along
        if place == 0:
            path.moveTo(x + off_x, -(y + off_y))
        path.lineTo(to_x + off_x, -(to_y + off_y))
        box = _circle_box(center, radius - left if sweep > 0 else radius + left)
        path.arcTo(box, degrees(atan2(to_y - center[1], to_x - center[0])), sweep)
    path.closeSubpath()


def _circle_box(center: Point, radius: float) -> QRectF:
    middle = scene_point(center)
    return QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius)


class ShapeItem(QGraphicsPathItem):
    """A circle, line, arc or belt, drawn by its role."""

    def __init__(self, shape: Shape, theme: Theme) -> None:
        super().__init__()
        self.model = shape
        self._theme = theme
        self._selected = False
        self.hovered = False
        self._dress: tuple[Role, bool, float, Theme, bool, bool] | None = None
        if shape.role in _MOSTLY_STILL:
            # most stand still while one is dragged
            self.setCacheMode(QGraphicsItem.CacheMode.DeviceCoordinateCache)
        self.setZValue(shape.layer)
        self._rebuild()

    def show_shape(self, shape: Shape) -> None:
        """Take over a new shape of the same key."""
        if shape is self.model or shape == self.model:
            return
        self.model = shape
        self.setZValue(shape.layer)
        self._rebuild()

    def set_look(self, theme: Theme, *, selected: bool, hovered: bool) -> None:
        """Draw in a theme, held or pointed at or neither."""
        if (theme, selected, hovered) != (self._theme, self._selected, self.hovered):
            self._theme, self._selected, self.hovered = theme, selected, hovered
            self._style()

    def _rebuild(self) -> None:
        shape = self.model
        if isinstance(shape, BeltLoop) and shape.width > 0:
            self.setPath(_belt_band(shape))  # painted twice as fast as a thick pen
        else:
            self.setPath(shape_path(shape))
        self._style()

    def _style(self) -> None:
        model, now = self.model, (self._theme, self._selected, self.hovered)
        closed = isinstance(model, Line) and model.closed
        dress = (model.role, closed, model.width if isinstance(model, Arc) else 0.0, *now)
        if dress == self._dress:
            return
        self._dress = dress
        pen, brush = _look(*dress)
        if pen != self.pen():
            self.setPen(pen)
        if brush != self.brush():
            self.setBrush(brush)
        # a span that is neither held nor pointed at is there to be grabbed, not seen
        unseen = pen.style() == Qt.PenStyle.NoPen and brush.style() == Qt.BrushStyle.NoBrush
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemHasNoContents, unseen)

    def shape(self) -> QPainterPath:
        """Where the item can be grabbed: discs whole, lines and belts a finger's breadth."""
        if self.model.target == NOTHING:
            return QPainterPath()
        filled = self.model.role in _WHOLE and isinstance(self.model, Line) and self.model.closed
        if isinstance(self.model, Circle) or filled:
            return self.path()
        stroker = QPainterPathStroker()
        stroker.setWidth(2 * _GRAB_MM)
        return stroker.createStroke(shape_path(self.model))


class SpanItem(ShapeItem):
    """A span, which is grabbed a finger's breadth off even while nothing of it is painted.

    While it is not seen its path is only brought up to date when something is grabbed or pointed at.
    """

    _behind = False

    def show_shape(self, shape: Shape) -> None:
        """Take over a new shape of the same key."""
        if self._selected or self.hovered or shape.layer != self.model.layer:
            super().show_shape(shape)
        else:
            self.model, self._behind = shape, True

    def set_look(self, theme: Theme, *, selected: bool, hovered: bool) -> None:
        """Draw held or pointed at, or do not."""
        self._catch_up()
        super().set_look(theme, selected=selected, hovered=hovered)

    def shape(self) -> QPainterPath:
        """A finger's breadth to either side."""
        self._catch_up()
        return super().shape()

    def _catch_up(self) -> None:
        if self._behind:
            self._behind = False
            self._rebuild()

    def boundingRect(self) -> QRectF:
        """Room of the span."""
        self._catch_up()
        return super().boundingRect().adjusted(-_GRAB_MM, -_GRAB_MM, _GRAB_MM, _GRAB_MM)


class ChoiceItem(ShapeItem):
    """Something laid over the view that can be clicked, though it is no part of the build."""

    def shape(self) -> QPainterPath:
        """The whole disc."""
        return self.path()


class ArcItem(ShapeItem):
    """An arc used: wider than its belt, with a texture over its colour, so that it does not rest on
    colour alone. Apart from other shapes because a paint in Python is dear.
    """

    def boundingRect(self) -> QRectF:
        """Room of the arc; it is painted wider than its pen."""
        return super().boundingRect().adjusted(-_ARC_RIM_MM, -_ARC_RIM_MM, _ARC_RIM_MM, _ARC_RIM_MM)

    def paint(
        self,
        painter: QPainter | None,
        option: QStyleOptionGraphicsItem | None,
        widget: QWidget | None = None,
    ) -> None:
        """The arc, and its texture."""
        super().paint(painter, option, widget)
        texture = _TEXTURES.get(self.model.role)
        if painter is not None and texture is not None:
            over = QPen(QBrush(self._theme.color("paper"), texture), self.pen().widthF())
            over.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(over)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)  # half the cost
            painter.drawPath(self.path())
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)


#: Colour and width of the line of a role that has no look of its own.
_LINES: dict[str, tuple[str, float]] = {
    "pulley": ("ink", 1.6),
    "pivot": ("ink", 1.4),
    "window": ("ink", 1.2),
    "stop": ("ink", 1.2),
    "ghost": ("stop", 2.0),
    "freedom": ("faded", 1.2),
    "note": ("accent_text", 1.6),
    "baseline": ("faded", 1.4),
    "obstacle": ("faded", 1.4),
    "corner": ("faded", 1.0),
    "gap": ("good", 2.0),
    "gap_stop": ("stop", 3.0),
    "reading": ("good", 1.2),
    "guide": ("accent", 2.6),
    "boss": ("ink", 1.4),
    "plate": ("ink", 1.4),
    "leg": ("ink", 3.4),
    "cut": ("ink", 1.4),
    "cut_end": ("faded", 1.0),
    "keep_out": ("stop", 1.0),
    "edge": ("good", 1.0),
    "edge_watch": ("watch", 1.8),
    "edge_stop": ("stop", 3.0),
    "web": ("good", 1.0),
    "web_watch": ("watch", 2.0),
    "web_there": ("ink", 1.2),
    "web_could": ("faded", 1.2),
    "found": ("accent", 2.0),
}
_DASHED = ("window", "ghost", "freedom", "baseline", "keep_out", "edge_watch", "web_could", "found")
_THIN_WHEN_HELD = ("freedom", "note")
#: Roles filled with a colour that what lies behind shows through, and how much of it there is.
_THROUGH = {"plate": ("metal", 60), "web": ("good", 40), "web_watch": ("watch", 70)}
#: What is kept clear of is hatched.
_HATCHED = {"keep_out": ("stop", 70)}
#: What a role is filled with; the others are lines.
_FILLS = {
    "pulley": "pulley_fill",
    "pivot": "paper",
    "corner": "paper",
    "note": "paper",
    "boss": "pulley_fill",
    "cut": "paper",
    "cut_end": "paper",
    "web_there": "accent",
    "web_could": "paper",
}


@lru_cache(maxsize=512)
def _look(
    role: Role, closed: bool, arc_width: float, t: Theme, selected: bool, hovered: bool
) -> tuple[QPen, QBrush]:
    """Pen and brush of a role. closed: an outline with an inside; arc_width: of an arc used, px."""
    nothing, unseen = QBrush(Qt.BrushStyle.NoBrush), QPen(Qt.PenStyle.NoPen)
    lit = selected or hovered
    if role in ("belt", "belt_behind"):
        pen = QPen(t.color("accent"), 1.5) if lit else unseen
        pen.setCosmetic(True)
        return pen, QBrush(t.color("accent" if selected else role))
    if role.startswith("arc_"):
        return _used_arc_pen(role, arc_width, t), nothing
    if role in ("corner", "cut_end", "span") and not lit:
        # there to be grabbed: seen when it, or its outline, is held or pointed at
        return unseen, nothing
    if role == "span":
        return _capped(t.color("accent"), 4.6 if selected else 2.4, Qt.PenCapStyle.FlatCap), nothing
    if role == "arm":
        color = t.color("accent" if lit else "metal")
        return _capped(color, 9.0, Qt.PenCapStyle.RoundCap), nothing
    pen = _line_pen(role, t, selected, hovered)
    if role in _THROUGH or role in _HATCHED:
        name, alpha = {**_THROUGH, **_HATCHED}[role]
        color = t.color(name)
        color.setAlpha(alpha)
        pattern = Qt.BrushStyle.BDiagPattern if role in _HATCHED else Qt.BrushStyle.SolidPattern
        return pen, QBrush(color, pattern)
    fill = "raised" if role == "obstacle" and closed else _FILLS.get(role)
    return pen, nothing if fill is None else QBrush(t.color(fill))


def _capped(color: QColor, width: float, cap: Qt.PenCapStyle) -> QPen:
    pen = QPen(color, width)
    pen.setCapStyle(cap)
    return pen


def _line_pen(role: Role, t: Theme, selected: bool, hovered: bool) -> QPen:
    """A line as wide at every zoom; held or pointed at it is wider and in the accent."""
    color, width = _LINES.get(role, ("ink", 1.0))
    if selected or hovered:
        wider = 0.8 if (hovered and not selected) or role in _THIN_WHEN_HELD else 1.6
        color, width = "accent", width + wider
    pen = QPen(t.color(color), width)
    pen.setCosmetic(True)
    if role in _DASHED:
        pen.setStyle(Qt.PenStyle.DashLine)
    return pen


def _used_arc_pen(role: Role, width: float, t: Theme) -> QPen:
    """The arc used in its state's colour; wider the graver it is."""
    mark = ARC_STATES[role]
    narrow = 1.0 if mark in ("watch", "stop") else 0.6
    pen = QPen(t.color(MARK_COLORS[mark]), width * narrow + _ARC_RIMS[mark])
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    return pen


class CrossItem(QGraphicsItem):
    """A shaft's centre mark, of one size at every zoom."""

    def __init__(self, cross: Cross, theme: Theme) -> None:
        super().__init__()
        self.model: Shape = cross
        self._theme = theme
        self._held = False
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setCacheMode(QGraphicsItem.CacheMode.DeviceCoordinateCache)
        self.setZValue(cross.layer)
        self.setPos(scene_point(cross.center))

    def show_shape(self, shape: Shape) -> None:
        """Move to where the shaft now is."""
        if shape != self.model and isinstance(shape, Cross):
            self.model = shape
            self.setPos(scene_point(shape.center))

    def set_look(self, theme: Theme, *, selected: bool, hovered: bool) -> None:
        """Draw in a theme, held or not."""
        if (theme, selected) != (self._theme, self._held):
            self._theme, self._held = theme, selected
            self.update()

    def boundingRect(self) -> QRectF:
        """Room of the mark, px."""
        return QRectF(-9, -9, 18, 18)

    def shape(self) -> QPainterPath:
        """The mark itself is not grabbed; its pulley is."""
        return QPainterPath()

    def paint(
        self,
        painter: QPainter | None,
        option: QStyleOptionGraphicsItem | None,
        widget: QWidget | None = None,
    ) -> None:
        """A plus sign with a dot."""
        assert painter is not None
        color = self._theme.color("accent" if self._held else "ink")
        painter.setPen(QPen(color, 1.4))
        painter.drawLine(QPointF(-7, 0), QPointF(7, 0))
        painter.drawLine(QPointF(0, -7), QPointF(0, 7))
        painter.setBrush(color)
        painter.drawEllipse(QPointF(0, 0), 1.8, 1.8)


Item = ShapeItem | CrossItem | LabelItem


def new_item(shape: Shape, theme: Theme) -> Item:
    """An item for a shape."""
    if isinstance(shape, Cross):
        return CrossItem(shape, theme)
    if isinstance(shape, Label):
        return LabelItem(shape, theme)
    if isinstance(shape, Arc) and shape.role.startswith("arc_"):
        return ArcItem(shape, theme)
    if shape.key.startswith(CHOICE):
        return ChoiceItem(shape, theme)
    return SpanItem(shape, theme) if shape.role == "span" else ShapeItem(shape, theme)
