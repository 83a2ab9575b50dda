"""Lines and choices that end in an ellipsis where there is no room; their tip holds the whole."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPalette, QResizeEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QPushButton,
    QSizePolicy,
    QStyle,
    QStyleOptionComboBox,
    QStylePainter,
    QWidget,
)

from jovial_tack.ui.widgets.text import Label, on_button, plain

_BUTTON_EDGES = 22


class ElidedLabel(Label):
    """One line, never wider than its place."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent=parent)
        self.setObjectName(name)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def setText(self, text: str | None) -> None:
        """Show another line."""
        super().setText(text)
        self.setToolTip(plain(text or ""))

    def minimumSizeHint(self) -> QSize:
        """It can be as narrow as it must."""
        return QSize(0, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint as much of the line as fits."""
        painter = QPainter(self)
        painter.setPen(self.palette().color(self.foregroundRole()))
        text = self.fontMetrics().elidedText(
            self.text(), Qt.TextElideMode.ElideRight, self.width() - 2
        )
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, text)


class ElidedButton(QPushButton):
    """A button whose words end in an ellipsis where it is narrow; its name and tip hold them whole."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._words = ""
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)

    def show_words(self, words: str, tip: str) -> None:
        """Show words on it."""
        self._words = words
        self.setAccessibleName(words)
        self.setToolTip(plain(tip))
        self.setText(on_button(words))
        self._shorten()

    def minimumSizeHint(self) -> QSize:
        """It can be as narrow as it must."""
        return QSize(40, super().minimumSizeHint().height())

    def sizeHint(self) -> QSize:
        """As wide as all its words."""
        words = self.fontMetrics().horizontalAdvance(self._words)
        return QSize(words + _BUTTON_EDGES, super().sizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """As many of its words as fit."""
        super().resizeEvent(event)
        self._shorten()

    def _shorten(self) -> None:
        room = self.width() - _BUTTON_EDGES + 2
        shown = self.fontMetrics().elidedText(self._words, Qt.TextElideMode.ElideRight, room)
        self.setText(on_button(shown))


class ElidedChoice(QComboBox):
    """A choice whose words are shortened, not cut, where it is narrow."""

    def __init__(self, name: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.currentTextChanged.connect(lambda text: self.setToolTip(plain(text)))
        if name:  # one that takes the width there is, and is spoken by its name
            self.setAccessibleName(name)
            self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint as much of the chosen words as fits."""
        painter, option = QStylePainter(self), QStyleOptionComboBox()
        painter.setPen(self.palette().color(QPalette.ColorRole.Text))
        self.initStyleOption(option)
        style = self.style()
        assert style is not None
        room = style.subControlRect(
            QStyle.ComplexControl.CC_ComboBox,
            option,
            QStyle.SubControl.SC_ComboBoxEditField,
            self,
        ).width()
        option.currentText = self.fontMetrics().elidedText(
            option.currentText, Qt.TextElideMode.ElideRight, room - 4
        )
        painter.drawComplexControl(QStyle.ComplexControl.CC_ComboBox, option)
        painter.drawControl(QStyle.ControlElement.CE_ComboBoxLabel, option)
