"""What the front view is drawn on: paper with a grid, and along its lower edge the scale."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from jovial_tack.core.units import MM_PER_INCH
from jovial_tack.document.model import Build
from jovial_tack.ui.widgets.theme import Theme, figures, words

FOOT_PX = 32
_BAR_PX = 140.0
_SCALE_PX, _TURNS_PX = 230, 290
_BARS = {
    "mm": (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000),
    "in": (0.1, 0.25, 0.5, 1, 2, 4, 8, 20, 40),
}


def draw_grid(painter: QPainter, rect: QRectF, build: Build, theme: Theme, scale: float) -> None:
    """Paper with a grid of 50 mm or 2 in, wider when it would be too fine. scale: px per mm."""
    painter.fillRect(rect, theme.color("paper"))
    step = 50.0 if build.display_units == "mm" else 2 * MM_PER_INCH
    while step * scale < 24:
        step *= 2
    pen = QPen(theme.color("grid"), 1)
    pen.setCosmetic(True)
    painter.setPen(pen)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    first, last = int(rect.left() // step), int(rect.right() // step) + 1
    for k in range(first, last + 1):
        painter.drawLine(QPointF(k * step, rect.top()), QPointF(k * step, rect.bottom()))
    first, last = int(rect.top() // step), int(rect.bottom() // step) + 1
    for k in range(first, last + 1):
        painter.drawLine(QPointF(rect.left(), k * step), QPointF(rect.right(), k * step))


def foot_boxes(size: tuple[int, int]) -> tuple[QRect, QRect]:
    """Where the words at the foot of a view may stand, px."""
    width, top = size[0], size[1] - FOOT_PX
    left, right = min(_SCALE_PX, width // 2), min(_TURNS_PX, width // 2)
    return QRect(0, top, left, FOOT_PX), QRect(width - right, top, right, FOOT_PX)


def draw_foot(
    painter: QPainter, size: tuple[int, int], build: Build, theme: Theme, scale: float, doing: str
) -> None:
    """The scale, what the pointer is doing if not the usual, and the crank's sense of rotation.

    The painter draws in pixels of a view of that size.
    """
    unit = build.display_units
    per_unit = (MM_PER_INCH if unit == "in" else 1.0) * scale
    fitting = [length for length in _BARS[unit] if length * per_unit <= _BAR_PX]
    length = max(fitting, default=_BARS[unit][0])
    y, bar, message = size[1] - 16.0, length * per_unit, f"{length:g} {unit}"
    painter.setPen(QPen(theme.color("faded"), 1.2))
    painter.setFont(figures(12))
    painter.drawText(QPointF(14, y + 4), message)
    for a, b in (
        ((76, y), (76 + bar, y)),
        ((76, y - 4), (76, y + 4)),
        ((76 + bar, y - 4), (76 + bar, y + 4)),
    ):
        painter.drawLine(QPointF(*a), QPointF(*b))
    turns = "clockwise" if build.engine.crank_rotation == "cw" else "counter-clockwise"
    text = f"front of engine, crank turns {turns}"
    painter.setFont(words(13))
    if doing:
        painter.setPen(theme.color("accent_text"))
        text = doing
    room = size[0] - 76.0 - bar - 36.0
    text = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(room))
    width = painter.fontMetrics().horizontalAdvance(text)
    if doing:
        slip = QRectF(size[0] - width - 20.0, y - 12.0, width + 12.0, 22.0)
        painter.fillRect(slip, theme.color("paper"))
    painter.drawText(QPointF(size[0] - width - 14, y + 4), text)
