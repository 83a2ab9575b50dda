"""A tile of evidence: its picture, its words, and a box of three states told by shape."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from functools import cache
from importlib import resources

from PyQt6.QtCore import QByteArray, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPalette
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from jovial_tack.core.words import capital
from jovial_tack.ui.widgets.boxes import Box, paint_box
from jovial_tack.ui.widgets.theme import Theme

HEIGHT = 40
_BOX, _PICTURE, _LEFT = 20.0, 28.0, 76.0
_SPOKEN = {"open": "not looked at", "done": "seen", "absent": "not there"}
_SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 32 32"><path d="{path}" fill="none"'
    ' stroke="{color}" stroke-width="2" stroke-linecap="round" stroke-linejoin="round"/></svg>'
)


@cache
def pictures() -> Mapping[str, str]:
    """The picture of each finding as path data; a finding of one's own has none."""
    entry = resources.files("jovial_tack.data").joinpath("pictures", "findings.toml")
    return tomllib.loads(entry.read_text("utf-8"))


@cache
def _drawn(name: str, color: str) -> QSvgRenderer | None:
    path = pictures().get(name)
    if path is None:
        return None
    return QSvgRenderer(QByteArray(_SVG.format(path=path, color=color).encode()))


class Tile(QPushButton):
    """A finding: not looked at, seen, not there; a press goes on to the next. turned: to which."""

    turned = pyqtSignal(object)

    def __init__(self, name: str, words: str, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._name, self._words = name, words
        self.box: Box = "open"
        self.setMinimumHeight(HEIGHT)
        self.setStyleSheet("font-size: 13px;")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.clicked.connect(lambda _=False: self._turn())

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(260, HEIGHT)

    def show_state(self, *, seen: bool | None) -> None:
        """Show whether it is seen."""
        self.box = "open" if seen is None else "done" if seen else "absent"
        self.setAccessibleName(f"{self._words}: {_SPOKEN[self.box]}")
        self.update()

    def _turn(self) -> None:
        after: dict[Box, bool | None] = {"open": True, "done": False, "absent": None}
        self.turned.emit(after[self.box])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The button, its box and its picture over it."""
        super().paintEvent(event)
        painter = QPainter(self)
        # the words by hand: a button would cut them where they want two lines
        group = QPalette.ColorGroup.Normal if self.isEnabled() else QPalette.ColorGroup.Disabled
        painter.setPen(self.palette().color(group, QPalette.ColorRole.ButtonText))
        room = QRectF(_LEFT, 2.0, self.width() - _LEFT - 6.0, self.height() - 4.0)
        laid = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(room, int(laid), capital(self._words))
        top = (self.height() - _BOX) / 2
        paint_box(painter, QRectF(9.0, top, _BOX, _BOX), self.box, self.theme)
        color = self.theme.color("ink" if self.box == "done" else "faded").name()
        drawn = _drawn(self._name, color)
        if drawn is not None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            if not self.isEnabled() or self.box == "absent":
                painter.setOpacity(0.45)
            drawn.setAspectRatioMode(Qt.AspectRatioMode.KeepAspectRatio)
            drawn.render(painter, QRectF(38.0, (self.height() - _PICTURE) / 2, _PICTURE, _PICTURE))
