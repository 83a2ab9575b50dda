"""The belt ribbon: the belt of a drive unrolled, linked with the front view both ways."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QBrush,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QWidget

from jovial_tack.core.units import FORCE
from jovial_tack.document.targets import NOTHING, BeltAt, PulleyAt, SpanAt, Target
from jovial_tack.drawing.ribbon import Block, Ribbon, ribbon
from jovial_tack.drawing.shapes import ARC_STATES
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.framed_view import BeltView
from jovial_tack.ui.widgets.text import plain
from jovial_tack.ui.widgets.theme import MARK_COLORS, Theme, figures, words

_LEFT, _RIGHT, _TOP = 58.0, 18.0, 30.0
_BLOCK_TOP, _BLOCK_HEIGHT = 118.0, 18.0
_TEXTURES = {
    "arc_watch": Qt.BrushStyle.BDiagPattern,
    "arc_stop": Qt.BrushStyle.DiagCrossPattern,
}


class BeltRibbon(BeltView):
    """Arcs as blocks, spans as lines, tension as height, arc used shaded, groove plane dotted."""

    title = "Belt ribbon"
    height_px = 168
    first_drive = -1

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(session, theme, parent)
        self._ribbon: Ribbon | None = None
        self.setObjectName("ribbon")
        self.setAccessibleName("Belt ribbon")
        self.setToolTip(
            plain("The belt unrolled; click a block or a span to select it, ← → go along the belt")
        )
        session.readings_changed.connect(self.refresh)
        session.rpm_changed.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        session.replaced.connect(self.refresh)
        self.refresh()

    @property
    def shown(self) -> Ribbon | None:
        """The ribbon shown."""
        return self._ribbon

    def refresh(self) -> None:
        """Unroll the belt of the selected part, or go on showing the last one."""
        session, drive = self._session, self._take_drive()
        self._ribbon = None
        if drive is not None:
            watch = session.catalogue.limits.low_reserve_arc_used
            self._ribbon = ribbon(drive, session.results.drive(drive.id), session.rpm, watch)
        self.update()

    # the pointer and the keys

    def _place(self, x: float) -> float:
        assert self._ribbon is not None
        return (x - _LEFT) / (self.width() - _LEFT - _RIGHT) * self._ribbon.length

    def x_of(self, place: float) -> float:
        """Where a place along the belt is, in pixels."""
        assert self._ribbon is not None
        return _LEFT + place / self._ribbon.length * (self.width() - _LEFT - _RIGHT)

    def target_at(self, x: float) -> Target:
        """What lies at a place across the widget: a pulley, or the belt."""
        if self._ribbon is None or not 0 <= self._place(x) <= self._ribbon.length:
            return NOTHING
        return self._ribbon.target_at(self._place(x))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Light the same spot on the engine."""
        if event is not None:
            self._session.hover(self.target_at(event.position().x()))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Select what is pointed at."""
        if event is not None:
            self.setFocus()
            self.refresh()
            self._session.select(self.target_at(event.position().x()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right go along the belt, from pulley to span to pulley."""
        step = (
            {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key())) if event else None
        )
        if step is None or self._ribbon is None:
            super().keyPressEvent(event)
            return
        every = self._ribbon.targets
        selection = self._session.selection
        here = every.index(selection) if selection in every else -step
        self._session.select(every[(here + step) % len(every)])

    # painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the ribbon."""
        painter = QPainter(self)
        self._paint_frame(painter, self._subtitle())
        if self._ribbon is not None:
            self._paint_tension(painter, self._ribbon)
            self._paint_planes(painter, self._ribbon)
            self._paint_belt(painter, self._ribbon)

    def _subtitle(self) -> str:
        name = self._belt_name()
        if not name:
            return "no belt yet"
        if self._ribbon is None:
            return f"{name} has no path to unroll"
        return f"{name}, unrolled from the crank in belt travel, tension at {self._session.rpm:.0f} rpm"

    def _paint_tension(self, painter: QPainter, shown: Ribbon) -> None:
        if not shown.tension:
            return
        t = self._theme
        unit = FORCE.shown(self._session.build.display_units)
        size = FORCE.factor(unit)
        most = max(pull for _, pull in shown.tension) / size
        top = _nice(max(most, 1.0))
        bottom, height = _BLOCK_TOP - 12, _BLOCK_TOP - 12 - _TOP
        painter.setFont(figures(11))
        for share in (0.0, 0.5, 1.0):
            y = bottom - share * height
            painter.setPen(QPen(t.color("rule"), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(_LEFT, y), QPointF(self.width() - _RIGHT, y))
            painter.setPen(t.color("faded"))
            text = f"{top * share:.0f}" + (f" {unit}" if share == 1.0 else "")
            box = QRectF(0, y - 8, _LEFT - 6, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
        line = QPolygonF(
            [
                QPointF(self.x_of(s), bottom - max(pull, 0) / size / top * height)
                for s, pull in shown.tension
            ]
        )
        painter.setPen(QPen(t.color("ink"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(line)

    def _paint_planes(self, painter: QPainter, shown: Ribbon) -> None:
        """Groove planes as a dotted trace, each millimetre off their middle drawn six pixels high."""
        if len(shown.plane) < 4:
            return
        middle = sorted(z for _, z in shown.plane)[len(shown.plane) // 2]
        base = _BLOCK_TOP + _BLOCK_HEIGHT / 2
        line = QPolygonF(
            [
                QPointF(self.x_of(s), base - max(min(6 * (z - middle), 20.0), -20.0))
                for s, z in shown.plane
            ]
        )
        painter.setPen(QPen(self._theme.color("accent"), 1.4, Qt.PenStyle.DotLine))
        painter.drawPolyline(line)

    def _paint_belt(self, painter: QPainter, shown: Ribbon) -> None:
        t, middle = self._theme, _BLOCK_TOP + _BLOCK_HEIGHT / 2
        selection, hovered = self._session.selection, self._session.hovered
        whole = BeltAt(self._drive)
        lit = selection == whole or hovered == whole
        start = 0.0
        for leaves, block in zip(shown.leaves, shown.blocks, strict=True):
            span = SpanAt(self._drive, leaves)
            marked = lit or selection == span or hovered == span
            painter.setPen(QPen(t.color("accent" if marked else "belt"), 5 if marked else 3))
            painter.drawLine(
                QPointF(self.x_of(start), middle), QPointF(self.x_of(block.start), middle)
            )
            start = block.end
        taken = 0.0
        for block in shown.blocks:
            target = PulleyAt(self._drive, block.pulley)
            self._paint_block(painter, block, selection == target, hovered == target)
            taken = self._paint_name(painter, block, taken)

    def _paint_block(self, painter: QPainter, block: Block, held: bool, lit: bool) -> None:
        t = self._theme
        box = QRectF(
            self.x_of(block.start),
            _BLOCK_TOP,
            self.x_of(block.end) - self.x_of(block.start),
            _BLOCK_HEIGHT,
        )
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.color("pulley_fill"))
        painter.drawRect(box)
        used = QRectF(box)
        used.setLeft(self.x_of(block.used_from))
        color = t.color(MARK_COLORS[ARC_STATES[block.role]])
        painter.setBrush(color)
        painter.drawRect(used)
        if block.role in _TEXTURES:
            painter.setBrush(QBrush(t.color("paper"), _TEXTURES[block.role]))
            painter.drawRect(used)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        name, width = ("accent", 2.6) if held else ("accent", 1.6) if lit else ("ink", 1.2)
        painter.setPen(QPen(t.color(name), width))
        painter.drawRect(box)

    def _paint_name(self, painter: QPainter, block: Block, taken: float) -> float:
        text = self._name(block.pulley)
        font = words(12)
        painter.setFont(font)
        painter.setPen(self._theme.color("ink"))
        middle = (self.x_of(block.start) + self.x_of(block.end)) / 2
        metrics = QFontMetricsF(font)
        room = 2 * min(middle - taken, self.width() - 8 - middle)
        if room < 24:
            return taken
        text = metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)
        width = metrics.horizontalAdvance(text)
        painter.drawText(QPointF(middle - width / 2, _BLOCK_TOP + _BLOCK_HEIGHT + 17), text)
        return middle + width / 2 + 6


def _nice(value: float) -> float:
    """The next round figure above a value: 1, 2, 2.5 or 5 times a power of ten."""
    size = 1.0
    while size * 10 < value:
        size *= 10
    return next(size * step for step in (1, 2, 2.5, 5, 10) if size * step >= value)
