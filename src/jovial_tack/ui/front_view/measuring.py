"""Measuring in the front view: between two points, centres or rims; and what is traced by clicks."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainterPath, QPen
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPathItem, QGraphicsScene

from jovial_tack.core.units import format_length
from jovial_tack.document.snapping import Placed, distances, radius_on
from jovial_tack.drawing.front import shaft_centers
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.front_view.words import Tag
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.theme import Theme

_CATCH_PX = 12.0


class Measuring:
    """A line between two places that stays until it is let go of; said: what it measures, in words."""

    def __init__(self, session: Session, canvas: QGraphicsScene) -> None:
        self._session, self._canvas = session, canvas
        self._start: Placed | None = None
        self._drawn: list[QGraphicsItem] = []
        self.message = ""

    @property
    def pulling(self) -> bool:
        """Whether a first place is chosen."""
        return self._start is not None

    def begin(self, at: QPointF, px_per_mm: float) -> None:
        """Measure from a scene point, or from the shaft whose centre is near."""
        self._start = self._caught(at, px_per_mm)

    def move(self, at: QPointF, px_per_mm: float, theme: Theme) -> None:
        """Measure to a scene point, or to the shaft whose centre is near."""
        if self._start is not None:
            self._show(self._start, self._caught(at, px_per_mm), theme)

    def between(self, one: str, other: str, theme: Theme) -> None:
        """Measure from one shaft to another."""
        self._show(self._stands(one), self._stands(other), theme)

    def release(self) -> None:
        """The measure stays in sight; the next one starts anew."""
        self._start = None

    def clear(self) -> None:
        """Take the measure away."""
        for item in self._drawn:
            self._canvas.removeItem(item)
        self._drawn, self._start, self.message = [], None, ""

    def _stands(self, shaft: str) -> Placed:
        session = self._session
        center = shaft_centers(session.build, session.results)[shaft]
        return Placed(shaft, *center, radius_on(session.build, shaft, session.catalogue))

    def _caught(self, at: QPointF, px_per_mm: float) -> Placed:
        point = complex(at.x(), -at.y())
        reach = _CATCH_PX / px_per_mm
        session = self._session
        centers = shaft_centers(session.build, session.results)
        near = [(abs(complex(*place) - point), name) for name, place in centers.items()]
        away, name = min(near, default=(reach + 1.0, ""))
        return self._stands(name) if away <= reach else Placed("", point.real, point.imag, 0.0)

    def _show(self, one: Placed, other: Placed, theme: Theme) -> None:
        start, message = self._start, self._in_words(one, other)
        self.clear()
        self._start, self.message = start, message
        a, b = scene_point((one.x, one.y)), scene_point((other.x, other.y))
        path = QPainterPath(a)
        path.lineTo(b)
        line = QGraphicsPathItem(path)
        pen = QPen(theme.color("accent"), 1.8)
        pen.setCosmetic(True)
        line.setPen(pen)
        line.setZValue(210.0)
        unit = self._session.build.display_units
        text = Tag(format_length(distances(one, other)[0], unit), (a + b) / 2, theme)
        for item in (line, text):
            self._canvas.addItem(item)
            self._drawn.append(item)

    def _in_words(self, one: Placed, other: Placed) -> str:
        build = self._session.build
        unit = build.display_units
        apart, across, up, gap = (format_length(v, unit) for v in distances(one, other))
        names = [build.shaft(s.shaft).label if s.shaft else "point" for s in (one, other)]
        message = f"{names[0]} to {names[1]}: {apart}, across {across}, up {up}"
        return f"{message}, rim to rim {gap}" if one.shaft and other.shaft else message


class Tracing:
    """An outline clicked corner by corner."""

    def __init__(self, canvas: QGraphicsScene) -> None:
        self._canvas = canvas
        self._points: list[QPointF] = []
        self._line: QGraphicsPathItem | None = None
        self.on = False

    @property
    def outline(self) -> tuple[tuple[float, float], ...]:
        """The corners so far, mm."""
        return tuple((round(p.x(), 1), round(-p.y(), 1)) for p in self._points)

    def add(self, at: QPointF, theme: Theme) -> None:
        """Another corner at a scene point."""
        self._points.append(at)
        self.move(at, theme)

    def move(self, at: QPointF, theme: Theme) -> None:
        """Show the outline as it would be with its next corner here."""
        if not self._points:
            return
        path = QPainterPath(self._points[0])
        for point in (*self._points[1:], at):
            path.lineTo(point)
        if self._line is None:
            self._line = QGraphicsPathItem()
            self._line.setZValue(220.0)
            self._canvas.addItem(self._line)
        pen = QPen(theme.color("accent"), 2.0, Qt.PenStyle.DashLine)
        pen.setCosmetic(True)
        self._line.setPen(pen)
        self._line.setPath(path)

    def clear(self) -> None:
        """Let go of what was traced."""
        if self._line is not None:
            self._canvas.removeItem(self._line)
        self._points, self._line, self.on = [], None, False
