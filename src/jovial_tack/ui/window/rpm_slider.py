"""The engine speed shown: a slider from idle to redline, with slip and limit ranges marked."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QSlider, QWidget

from jovial_tack.drawing.revs import RevRange, rev_ranges
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.theme import Theme, figures, words

_LEFT, _RIGHT, _TRACK_Y, _HEIGHT = 118.0, 26.0, 17.0, 44

#: How the ranges of each kind are drawn; what hangs on a guess is no alarm.
_COLORS = {"stop": "stop", "limit": "watch", "open": "faded"}


class RpmSlider(QSlider):
    """Chooses one of the session's speeds; arrows, Page keys, Home and End work."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self._session, self._theme = session, theme
        self.ranges: tuple[RevRange, ...] = ()
        self.setAccessibleName("Engine speed shown")
        self.setToolTip("Engine speed: drag, or arrow and Page keys; Home is idle, End redline")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setPageStep(5)
        self.valueChanged.connect(self._chosen)
        session.settled.connect(self.refresh)
        session.replaced.connect(self.refresh)
        session.rpm_changed.connect(self.refresh)
        self.refresh()

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(400, _HEIGHT)

    def minimumSizeHint(self) -> QSize:
        """Room for the words."""
        return QSize(260, _HEIGHT)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def refresh(self) -> None:
        """Show the session's speed and what happens along the revs."""
        session = self._session
        speeds = session.speeds
        self.blockSignals(True)
        self.setRange(0, len(speeds) - 1)
        self.setValue(speeds.index(session.rpm) if session.rpm in speeds else len(speeds) - 1)
        self.blockSignals(False)
        self.ranges = rev_ranges(session.build, session.results)
        message = "; ".join(f"{r.what} from {r.low_rpm:.0f} rpm" for r in self.ranges)
        self.setAccessibleDescription(f"{session.rpm:.0f} rpm. {message}")
        self.update()

    def _chosen(self, place: int) -> None:
        self._session.show_rpm(self._session.speeds[place])

    def _x(self, rpm: float) -> float:
        engine = self._session.build.engine
        share = (rpm - engine.idle_rpm) / max(engine.redline_rpm - engine.idle_rpm, 1.0)
        return _LEFT + share * (self.width() - _LEFT - _RIGHT)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Go to where the pointer is."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self._go(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Follow the pointer."""
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._go(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Nothing more to do than the press did."""

    def _go(self, x: float) -> None:
        engine = self._session.build.engine
        share = (x - _LEFT) / (self.width() - _LEFT - _RIGHT)
        self._session.show_rpm(engine.idle_rpm + share * (engine.redline_rpm - engine.idle_rpm))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Track, marked ranges, the names of the speeds, the handle and the figure."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t, engine = self._theme, self._session.build.engine
        self._bar(painter, engine.idle_rpm, engine.redline_rpm, "rule", 5)
        for found in self.ranges:
            texture = (
                Qt.BrushStyle.SolidPattern if found.kind == "stop" else Qt.BrushStyle.Dense4Pattern
            )
            name = _COLORS[found.kind]
            self._bar(
                painter, found.low_rpm, max(found.high_rpm, found.low_rpm + 40), name, 9, texture
            )
        painter.setPen(t.color("ink"))
        painter.setFont(figures(17, bold=True))
        figure = f"{self._session.rpm:.0f}"
        painter.drawText(QPointF(14, _TRACK_Y + 7), figure)
        width = painter.fontMetrics().horizontalAdvance(figure)
        painter.setFont(words(13))
        painter.drawText(QPointF(20 + width, _TRACK_Y + 7), "rpm")
        self._names(painter)
        at = QPointF(self._x(self._session.rpm), _TRACK_Y)
        painter.setPen(QPen(t.color("ink" if self.hasFocus() else "paper"), 2))
        painter.setBrush(t.color("accent"))
        painter.drawEllipse(at, 8, 8)

    def _bar(
        self,
        painter: QPainter,
        low: float,
        high: float,
        color: str,
        thick: float,
        texture: Qt.BrushStyle = Qt.BrushStyle.SolidPattern,
    ) -> None:
        x, end = self._x(low), self._x(high)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QBrush(self._theme.color(color), texture))
        painter.drawRoundedRect(QRectF(x, _TRACK_Y - thick / 2, end - x, thick), 2, 2)

    def _names(self, painter: QPainter) -> None:
        engine, t = self._session.build.engine, self._theme
        marks = [
            (engine.idle_rpm, f"{engine.idle_rpm:.0f} idle", "faded"),
            (engine.cruise_rpm, f"{engine.cruise_rpm:.0f} cruise", "faded"),
            (engine.redline_rpm, f"{engine.redline_rpm:.0f}", "faded"),
        ]
        first = min((r for r in self.ranges), key=lambda r: r.low_rpm, default=None)
        if first is not None:
            color = _COLORS[first.kind]
            marks.insert(0, (first.low_rpm, f"{first.what} from {first.low_rpm:.0f}", color))
        painter.setFont(words(12))
        taken: list[tuple[float, float]] = []
        for rpm, text, color in marks:
            width = painter.fontMetrics().horizontalAdvance(text)
            x = min(max(self._x(rpm) - width / 2, _LEFT - 10), self.width() - width - 6.0)
            if any(x < end + 8 and x + width > start - 8 for start, end in taken):
                continue
            taken.append((x, x + width))
            painter.setPen(t.color(color))
            painter.drawText(QPointF(x, _HEIGHT - 5.0), text)
