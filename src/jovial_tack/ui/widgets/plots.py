"""Plots in the theme's colours, read by the pointer and written to files. pyqtgraph is loaded when the
first plot is shown, since it takes longer to load than the window.
"""

from __future__ import annotations

import html
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QBuffer, QByteArray, QObject, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtSvg import QSvgGenerator
from PyQt6.QtWidgets import QFileDialog, QVBoxLayout, QWidget

from jovial_tack.core.errors import SaveError
from jovial_tack.core.words import capital, sentence
from jovial_tack.files.needed import missing_in
from jovial_tack.files.whole import replace_file
from jovial_tack.ui.widgets.text import heading
from jovial_tack.ui.widgets.theme import Theme, figures, words

Points = tuple[Any, Any]  # x and y, sequences of floats

_EXPORTS = "Figures (*.csv);;Vector drawing (*.svg);;Picture (*.png)"


class _NoPlot:
    """Stands in where the library of plots is not installed: takes everything, and draws nothing."""

    def __getattr__(self, _name: str) -> Any:
        return self

    def __call__(self, *_given: object, **_named: object) -> Any:
        return self

    def __getitem__(self, _place: object) -> Any:
        return self

    def __iter__(self) -> Any:
        return iter((0.0, 1.0))

    def __float__(self) -> float:
        return 0.0


class Plot(QWidget):
    """One plot. pointed: x under the pointer; left: the pointer has gone; clicked: x clicked."""

    pointed = pyqtSignal(float)
    left = pyqtSignal()
    clicked = pyqtSignal(float)

    def __init__(self, theme: Theme, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._lines: list[Any] = []
        self._marks: list[Any] = []
        self._band: Any = None
        self.labels = ("", "")
        self._pg: Any
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        try:
            import pyqtgraph as pg
        except ImportError as error:
            nothing: Any = _NoPlot()
            self._pg = self._widget = self._item = nothing
            said = heading("faded")
            said.setText(sentence(capital(missing_in(error) or str(error))))
            column.addWidget(said)
            return
        self._pg = pg
        self._widget = pg.PlotWidget()
        self._widget.setAccessibleName(name)
        self._widget.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._item = self._widget.getPlotItem()
        self._item.setMenuEnabled(False)
        self._item.hideButtons()
        self._item.setMouseEnabled(x=False, y=False)
        self._item.getViewBox().setDefaultPadding(0.0)
        column.addWidget(self._widget)
        self._widget.scene().sigMouseMoved.connect(self._moved)
        self._widget.scene().sigMouseClicked.connect(self._clicked)
        self._watch = _LeaveWatch(self._widget, self.left)
        self.set_theme(theme)

    def set_theme(self, theme: Theme) -> None:
        """Take another theme's colours; curves take theirs when they are shown next."""
        self._theme = theme
        self._widget.setBackground(theme.color("paper"))
        for side in ("left", "bottom"):
            axis = self._item.getAxis(side)
            axis.setPen(self._pg.mkPen(theme.color("faded"), width=1))
            axis.setTextPen(self._pg.mkPen(theme.color("ink")))
            axis.setTickFont(figures(11))
            axis.enableAutoSIPrefix(False)
            axis.label.setFont(words(12))
        self.set_labels(*self.labels)

    def set_labels(self, x: str, y: str) -> None:
        """Name the axes."""
        self.labels = (x, y)
        for side, text in (("bottom", x), ("left", y)):
            self._item.getAxis(side).setLabel(
                html.escape(text), color=self._theme.color("faded").name()
            )

    def show_range(self, x: tuple[float, float], y: tuple[float, float]) -> None:
        """Show a range of both axes."""
        self._item.setRange(xRange=x, yRange=y, padding=0.0)

    def show_lines(self, lines: list[tuple[Points, QPen]]) -> None:
        """Show curves; earlier ones are taken over and the rest dropped."""
        while len(self._lines) > len(lines):
            self._item.removeItem(self._lines.pop())
        while len(self._lines) < len(lines):
            self._lines.append(self._item.plot())
        for line, ((x, y), pen) in zip(self._lines, lines, strict=True):
            line.setData(x, y, connect="finite")
            line.setPen(pen)

    def show_marks(self, marks: list[tuple[str, float, str, QPen]]) -> None:
        """Show straight lines across: ("h" or "v", place, words, pen); the range is shown first."""
        low, high = self._item.getViewBox().viewRange()[1]
        kept, self._marks = self._marks, []
        for way, place, text, pen in marks:
            key = way, text, pen.color().name(), way == "h" and place < (low + high) / 2
            mark = next((m for m in kept if m.key == key), None)
            if mark is None:
                mark = self._new_mark(way, text, pen, below=key[3])
                mark.key = key
            else:
                kept.remove(mark)
            mark.setPos(place)
            self._marks.append(mark)
        for mark in kept:
            self._item.removeItem(mark)

    def _new_mark(self, way: str, text: str, pen: QPen, *, below: bool) -> Any:
        # words of a level stand on its inner side, so that the frame does not cut them
        across = [(1, 0.5)] * 2 if way == "v" else [(0, int(below))] * 2
        place = {"color": pen.color(), "position": 0.06 if way == "h" else 0.9, "anchors": across}
        angle = 90 if way == "v" else 0
        mark = self._pg.InfiniteLine(angle=angle, pen=pen, label=text or None, labelOpts=place)
        if text:
            mark.label.textItem.setFont(words(12))
        self._item.addItem(mark)
        return mark

    def show_band(self, low: float, high: float, color: str) -> None:
        """Shade a stretch of the x axis; nothing if low is not below high."""
        if self._band is None:
            self._band = self._pg.LinearRegionItem((low, high), movable=False)
            self._item.addItem(self._band)
        shade = self._theme.color(color)
        shade.setAlpha(46)
        self._band.setVisible(low < high)
        self._band.setRegion((low, high))
        self._band.setBrush(shade)
        for line in self._band.lines:
            line.setPen(shade)

    def pen(
        self, color: str, width: float = 1.0, style: Qt.PenStyle = Qt.PenStyle.SolidLine
    ) -> QPen:
        """A pen in a colour of the theme."""
        pen = QPen(self._theme.color(color), width, style)
        pen.setCosmetic(True)
        return pen

    def _moved(self, place: QPointF) -> None:
        box = self._item.getViewBox()
        if box.sceneBoundingRect().contains(place):
            self.pointed.emit(float(box.mapSceneToView(place).x()))

    def _clicked(self, event: Any) -> None:
        box = self._item.getViewBox()
        if box.sceneBoundingRect().contains(event.scenePos()):
            self.clicked.emit(float(box.mapSceneToView(event.scenePos()).x()))

    def write(self, path: Path, csv_text: str) -> None:
        """Write what is shown: .csv the figures, .svg or .png the picture. Raises SaveError."""
        if path.suffix == ".csv":
            replace_file(path, csv_text.encode())
            return
        from pyqtgraph.exporters import ImageExporter, SVGExporter

        if path.suffix == ".svg":
            replace_file(path, SVGExporter(self._item).export(toBytes=True))
            return
        content = QByteArray()
        buffer = QBuffer(content)
        buffer.open(QBuffer.OpenModeFlag.WriteOnly)
        ImageExporter(self._item).export(toBytes=True).save(buffer, "PNG")
        replace_file(path, content.data())


class _LeaveWatch(QObject):
    """Tells when the pointer leaves a widget."""

    def __init__(self, widget: QWidget, left: Any) -> None:
        super().__init__(widget)
        self._left = left
        widget.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: Any) -> bool:
        """Pass everything on; say when the pointer leaves."""
        if event.type() == event.Type.Leave:
            self._left.emit()
        return False


def export(
    parent: QWidget, plot: Plot, csv_text: str, name: str, show_text: Callable[[str], object]
) -> None:
    """Ask for a file and write a plot to it; what happened is told."""
    _export(parent, lambda path: plot.write(path, csv_text), name, show_text)


def export_painted(
    view: QWidget,
    paint: Callable[[QPainter], None],
    csv_text: str,
    name: str,
    show_text: Callable[[str], object],
) -> None:
    """Ask for a file and write a painted view to it; what happened is told."""

    def write(path: Path) -> None:
        if path.suffix == ".csv":
            replace_file(path, csv_text.encode())
            return
        content = QByteArray()
        buffer = QBuffer(content)
        buffer.open(QBuffer.OpenModeFlag.WriteOnly)
        if path.suffix == ".svg":
            drawing = QSvgGenerator()
            drawing.setOutputDevice(buffer)
            drawing.setSize(view.size())
            drawing.setViewBox(view.rect())
            drawing.setTitle(name)
            painter = QPainter(drawing)
            paint(painter)
            painter.end()
        else:
            view.grab().save(buffer, "PNG")
        replace_file(path, content.data())

    _export(view, write, name, show_text)


def _export(
    parent: QWidget, write: Callable[[Path], None], name: str, show_text: Callable[[str], object]
) -> None:
    chosen, kind = QFileDialog.getSaveFileName(parent, "Export", f"{name}.csv", _EXPORTS)
    if not chosen:
        return
    path = Path(chosen)
    if path.suffix not in (".csv", ".svg", ".png"):
        path = Path(f"{chosen}{kind[kind.rfind('.') : -1] if kind else '.csv'}")
    try:
        write(path)
    except SaveError as error:
        show_text(f"{error}.")
    else:
        show_text(f"Wrote {path.name}.")
