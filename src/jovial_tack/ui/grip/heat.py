"""A heat strip: rows over the revs, each cell as dark as much of a wrap is used there."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jovial_tack.core.arrays import Float
from jovial_tack.ui.widgets.theme import Theme, figures, words

_ROW_PX, _FOOT_PX, _LABEL_SHARE = 22, 18, 0.36


class HeatStrip(QWidget):
    """Rows of shares over revs. chosen: a row, by pointer or arrow keys."""

    chosen = pyqtSignal(int)

    def __init__(self, theme: Theme, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._labels: tuple[str, ...] = ()
        self._shares: Float | None = None
        self._rpm: tuple[float, float] = (0.0, 1.0)
        self._watch = 0.75
        self._held = -1
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def show_rows(
        self,
        labels: Sequence[str],
        shares: Float | None,
        rpm: tuple[float, float],
        watch: float,
        held: int = -1,
    ) -> None:
        """Show shares (K, C) over a range of revs; held: the row that is marked, −1 for none that can
        be chosen.
        """
        self._labels, self._shares = tuple(labels), shares
        self._rpm, self._watch, self._held = rpm, watch, held
        can = held >= 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if can else Qt.FocusPolicy.NoFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor if can else Qt.CursorShape.ArrowCursor)
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    @property
    def held(self) -> int:
        """The row that is marked."""
        return self._held

    def sizeHint(self) -> QSize:
        """A line for every row, and one for the revs."""
        return QSize(280, len(self._labels) * _ROW_PX + (_FOOT_PX if self._labels else 0))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint words at the left, cells at the right, the revs below."""
        if self._shares is None or not self._labels:
            return
        painter, theme = QPainter(self), self._theme
        left = self.width() * _LABEL_SHARE
        columns = self._shares.shape[1]
        # whole pixels: cells that shine through would be seen twice where they overlap
        edges = [round(left + k * (self.width() - left) / columns) for k in range(columns + 1)]
        for row, label in enumerate(self._labels):
            top = row * _ROW_PX
            if row == self._held:
                marked = QColor(theme.color("accent"))
                painter.fillRect(QRectF(0, top + 3, 3, _ROW_PX - 6), marked)
            painter.setFont(words(12))
            painter.setPen(theme.color("ink"))
            box = QRectF(7, top, left - 12, _ROW_PX)
            text = painter.fontMetrics().elidedText(
                label, Qt.TextElideMode.ElideRight, int(box.width())
            )
            flags = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
            painter.drawText(box, int(flags), text)
            for column in range(columns):
                wide = edges[column + 1] - edges[column]
                cell = QRectF(edges[column], top + 2, wide, _ROW_PX - 4)
                self._paint_cell(painter, cell, float(self._shares[row, column]))
        painter.setFont(figures(11))
        painter.setPen(theme.color("faded"))
        foot = QRectF(left, len(self._labels) * _ROW_PX, self.width() - left, _FOOT_PX)
        low, high = (f"{rpm:.0f}" for rpm in self._rpm)
        middle = int(Qt.AlignmentFlag.AlignVCenter)
        painter.drawText(foot, middle | int(Qt.AlignmentFlag.AlignLeft), low)
        painter.drawText(foot, middle | int(Qt.AlignmentFlag.AlignRight), f"{high} rpm")

    def _paint_cell(self, painter: QPainter, cell: QRectF, share: float) -> None:
        """Good grows darker, watch and stop have colours and textures of their own, as arcs have."""
        theme = self._theme
        if share >= 1.0:
            painter.fillRect(cell, theme.color("stop"))
            painter.fillRect(cell, QBrush(theme.color("paper"), Qt.BrushStyle.DiagCrossPattern))
        elif share > self._watch:
            painter.fillRect(cell, theme.color("watch"))
            painter.fillRect(cell, QBrush(theme.color("paper"), Qt.BrushStyle.BDiagPattern))
        else:
            shade = QColor(theme.color("good"))
            shade.setAlphaF(min(1.0, 0.1 + 0.9 * share / self._watch))
            painter.fillRect(cell, shade)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose the row under the pointer."""
        if event is not None:
            self._choose(self._row_at(event.position()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose the row beside."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(event.key()) if event else None  # type: ignore[call-overload]
        if step is None:
            super().keyPressEvent(event)
        else:
            self._choose(self._held + step)

    def _row_at(self, place: QPointF) -> int:
        return int(place.y() // _ROW_PX)

    def _choose(self, row: int) -> None:
        if self._held >= 0 and 0 <= row < len(self._labels) and row != self._held:
            self._held = row
            self.update()
            self.chosen.emit(row)
