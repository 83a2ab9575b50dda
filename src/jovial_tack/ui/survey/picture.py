"""What to hold where: the pulleys of a reading as they stand, and the tape, rule or level on them."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jovial_tack.core.value import Value
from jovial_tack.drawing.reading import reading_lines
from jovial_tack.ui.widgets.theme import Theme, words

_LEAST_MM = 26.0


class Held(Value, frozen=True, eq=False):
    """A reading to be drawn: its kind, where its shafts stand, mm, their rims and their names; turns:
    which way round a belt runs over each.
    """

    kind: str
    places: tuple[complex, ...]
    radii: tuple[float, ...]
    labels: tuple[str, ...]
    turns: tuple[int, ...] = ()


class Picture(QWidget):
    """Drawn to scale on the user's own pulleys."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._held: Held | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("What to hold where")

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(280, 122)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def show_held(self, held: Held | None) -> None:
        """Draw another reading."""
        self._held = held
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Rims, centres, names and the line of the reading."""
        held = self._held
        if held is None or not held.places:
            return
        painter, t = QPainter(self), self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if held.kind in ("depth", "step"):
            _paint_side(painter, QRectF(self.rect()), held, t)
            return
        rims = [max(radius, _LEAST_MM) for radius in held.radii]
        lines = reading_lines(held.kind, held.places, held.radii, held.turns)
        at = _laid_in(self.width(), self.height(), held.places, rims, lines)
        for place, rim, name in zip(held.places, rims, held.labels, strict=True):
            painter.setPen(QPen(t.color("ink"), 1.4))
            painter.setBrush(t.color("pulley_fill"))
            middle, edge = at(place), at(place + rim)
            size = edge.x() - middle.x()
            painter.drawEllipse(middle, size, size)
            painter.drawLine(middle - QPointF(4, 0), middle + QPointF(4, 0))
            painter.drawLine(middle - QPointF(0, 4), middle + QPointF(0, 4))
            painter.setFont(words(12))
            painter.setPen(t.color("faded"))
            box = QRectF(middle.x() - 70, middle.y() + 6, 140, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, name)
        for k, line in enumerate(lines):
            second = k > 0
            pen = QPen(t.color("faded" if second else "accent"), 1.2 if second else 2.4)
            if second:
                pen.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(QPolygonF([at(point) for point in line.tolist()]))


def _laid_in(
    width: int,
    height: int,
    places: Sequence[complex],
    rims: Sequence[float],
    lines: Sequence[np.ndarray],
) -> Callable[[complex], QPointF]:
    """Where places of the engine are painted."""
    corners = [p + r * d for p, r in zip(places, rims, strict=True) for d in (1, -1, 1j, -1j)]
    corners += [complex(p) for line in lines for p in line]
    every = np.array(corners)
    left, right = float(every.real.min()), float(every.real.max())
    low, high = float(every.imag.min()), float(every.imag.max())
    scale = min((width - 12) / max(right - left, 1.0), (height - 22) / max(high - low, 1.0))
    middle = (left + right) / 2, (low + high) / 2

    def at(point: complex) -> QPointF:
        return QPointF(
            width / 2 + scale * (point.real - middle[0]),
            (height - 10) / 2 - scale * (point.imag - middle[1]),
        )

    return at


def _paint_side(painter: QPainter, box: QRectF, held: Held, t: Theme) -> None:
    """From the side: the face at the left, rims before it, and what is measured."""
    face, top, bottom = box.left() + 40, box.top() + 12, box.bottom() - 24
    painter.setPen(QPen(t.color("ink"), 2.0))
    painter.drawLine(QPointF(face, top), QPointF(face, bottom))
    fronts = [face + 90.0, face + 118.0][: max(len(held.labels), 1)]
    half = (bottom - top) / 2
    for k, front in enumerate(fronts):
        y = top + k * half
        painter.setPen(QPen(t.color("ink"), 1.4))
        painter.setBrush(t.color("pulley_fill"))
        painter.drawRect(QRectF(front - 30, y + 4, 30, half * 0.75))
        painter.setFont(words(12))
        painter.setPen(t.color("faded"))
        painter.drawText(QPointF(front + 34, y + half * 0.5), held.labels[k])
    painter.setPen(QPen(t.color("accent"), 2.4))
    if held.kind == "depth":
        y = top + half * 0.4
        painter.drawLine(QPointF(face, y), QPointF(fronts[0], y))
    elif len(fronts) > 1:
        painter.drawLine(QPointF(fronts[1], top), QPointF(fronts[1], bottom))
        y = top + half * 0.4
        painter.drawLine(QPointF(fronts[0], y), QPointF(fronts[1], y))
    painter.setFont(words(12))
    painter.setPen(t.color("faded"))
    painter.drawText(QPointF(face - 30, bottom + 16), "face")
