"""What is asked beside a field: either of two, by a press or by keys; nothing is taken until then."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QPushButton, QWidget

from jovial_tack.ui.widgets.text import Label, on_button


class Question(QFrame):
    """Lies over the window, below the field it belongs to. answered: what was chosen."""

    answered = pyqtSignal(str)

    def __init__(self, field: QWidget) -> None:
        super().__init__(field)
        self._field = field
        self.setObjectName("notice")
        self.setAutoFillBackground(True)
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(8, 4, 8, 4)
        self._row.setSpacing(6)
        self.buttons: list[QPushButton] = []
        self._answers: list[str] = []
        self.hide()

    def ask(self, answers: Sequence[str]) -> None:
        """Offer answers below the field, if that is in sight; those that are offered stay."""
        if self.isVisible() and list(answers) == self._answers:
            return  # it is left for one of them by keys
        self._answers = list(answers)
        for button in self.buttons:
            self._row.removeWidget(button)
            button.deleteLater()
        while (item := self._row.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        self.buttons = []
        for place, answer in enumerate(answers):
            if place:
                self._row.addWidget(Label("or"))
            button = QPushButton(on_button(answer))
            button.setObjectName("act")
            button.setAccessibleName(f"It is {answer}")
            button.clicked.connect(lambda _=False, said=answer: self._choose(said))
            self._row.addWidget(button)
            self.buttons.append(button)
        self._row.addWidget(Label("?"))
        window = self._field.window()
        if window is None or not self._field.isVisible():
            return
        if self.parentWidget() is not window:
            self.setParent(window)
        self.setStyleSheet(_worn_above(self._field))
        self.adjustSize()
        self.move(self._place(window))
        self.show()
        self.raise_()

    def begin(self) -> None:
        """Go to the first answer by keys."""
        if self.buttons:
            self.buttons[0].setFocus()

    def let_go_soon(self) -> None:
        """Go, unless the focus has gone to one of the answers."""
        QTimer.singleShot(0, self._let_go)

    def _let_go(self) -> None:
        if QApplication.focusWidget() not in (self._field, *self.buttons):
            self.hide()

    def _place(self, window: QWidget) -> QPoint:
        """Below the field, within the window."""
        below = self._field.mapTo(window, QPoint(0, self._field.height() + 2))
        left = min(below.x(), window.width() - self.width() - 4)
        top = min(below.y(), window.height() - self.height() - 4)
        return QPoint(max(left, 4), max(top, 4))

    def _choose(self, answer: str) -> None:
        self.hide()
        self.answered.emit(answer)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows go from answer to answer, Esc back to the field."""
        if event is None:
            return
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
            self._field.setFocus()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.focusNextPrevChild(event.key() == Qt.Key.Key_Right)
        else:
            super().keyPressEvent(event)


def _worn_above(field: QWidget) -> str:
    """The style that a field wears, which ends at the part of the window it lies in."""
    above: QWidget | None = field
    while above is not None and not above.styleSheet():
        above = above.parentWidget()
    return "" if above is None else above.styleSheet()
