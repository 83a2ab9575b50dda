"""The trade-off of what was found: grip against one other figure, each point a combination."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QWidget

from jovial_tack.answers.finder.trade import Trade
from jovial_tack.ui.widgets.plots import Plot
from jovial_tack.ui.widgets.theme import Theme

_NEAR_PX = 14.0
_HEIGHT_PX = 176


class TradeOff(Plot):
    """hovered: the place of the point under the pointer, −1 for none; picked: of the one clicked."""

    hovered = pyqtSignal(int)
    picked = pyqtSignal(int)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(theme, "Grip against another figure, a point for each combination", parent)
        self.trade: Trade | None = None
        self._points: list[Any] = []
        self._at = -1
        self.setFixedHeight(_HEIGHT_PX)
        self.left.connect(lambda: self._hover(-1))

    def show_trade(self, trade: Trade | None, chosen: int) -> None:
        """Show points, the front of those nothing beats, and the one that is looked at."""
        self.trade = trade
        while self._points:
            self._item.removeItem(self._points.pop())
        if trade is None or not trade.x.size:
            self.show_lines([])
            return
        self.set_labels(trade.label, "Arc left, %")
        self._fit(trade)
        self._scatter(trade.x, trade.y, 5, self._theme.color("faded"), 110)
        front = trade.front
        self.show_lines([((trade.x[front], trade.y[front]), self.pen("accent", 1.6))])
        self._scatter(trade.x[front], trade.y[front], 7, self._theme.color("accent"), 255)
        held = np.flatnonzero(trade.places == chosen)
        if held.size:
            at = held[:1]
            self._scatter(trade.x[at], trade.y[at], 12, self._theme.color("good"), 255)
        if trade.today is not None:
            x, y = (np.array([figure]) for figure in trade.today)
            self._scatter(x, y, 11, self._theme.color("stop"), 255, symbol="x")

    def _fit(self, trade: Trade) -> None:
        xs, ys = trade.x, trade.y
        if trade.today is not None:
            xs, ys = np.append(xs, trade.today[0]), np.append(ys, trade.today[1])
        self.show_range(_padded(xs), _padded(ys))

    def _scatter(
        self, x: Any, y: Any, size: float, color: QColor, alpha: int, symbol: str = "o"
    ) -> None:
        shade = QColor(color)
        shade.setAlpha(alpha)
        points = self._pg.ScatterPlotItem(
            x=x, y=y, size=size, brush=self._pg.mkBrush(shade), pen=None, symbol=symbol
        )
        self._item.addItem(points)
        self._points.append(points)

    def place_of(self, point: int) -> QPointF:
        """Where a point is shown, in the plot's scene."""
        assert self.trade is not None
        at = QPointF(float(self.trade.x[point]), float(self.trade.y[point]))
        shown: QPointF = self._item.getViewBox().mapViewToScene(at)
        return shown

    def pointer_moved(self, place: QPointF) -> None:
        """The pointer is at a place of the plot's scene."""
        self._hover(self._nearest(place))

    def _moved(self, place: QPointF) -> None:
        super()._moved(place)
        self.pointer_moved(place)

    def _clicked(self, event: Any) -> None:
        super()._clicked(event)
        place = self._nearest(event.scenePos())
        if place >= 0:
            self.picked.emit(place)

    def _hover(self, place: int) -> None:
        if place != self._at:
            self._at = place
            self.hovered.emit(place)

    def _nearest(self, place: QPointF) -> int:
        """The place of the point next to the pointer; −1 if none is near."""
        trade, box = self.trade, self._item.getViewBox()
        if trade is None or not trade.x.size or not box.sceneBoundingRect().contains(place):
            return -1
        here, pixel = box.mapSceneToView(place), box.viewPixelSize()
        away = np.hypot((trade.x - here.x()) / pixel[0], (trade.y - here.y()) / pixel[1])
        nearest = int(np.argmin(away))
        return int(trade.places[nearest]) if away[nearest] <= _NEAR_PX else -1


def _padded(values: Any) -> tuple[float, float]:
    low, high = float(values.min()), float(values.max())
    room = 0.06 * (high - low) or 0.05 * abs(high) or 1.0
    return low - room, high + room
