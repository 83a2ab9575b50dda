"""A field for a figure: shows it in its unit, takes any unit, says why it refuses."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QWheelEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QWidget

from jovial_tack.core.errors import UnitError
from jovial_tack.core.units import (
    ANGLE,
    FORCE,
    LENGTH,
    MM_PER_INCH,
    PERCENT,
    RATIO,
    SPEED,
    TORQUE,
    TORQUE_RATE,
    Quantity,
    parse,
    written,
)
from jovial_tack.ui.widgets.text import plain

_STEPS = {
    LENGTH.word: 1.0,
    ANGLE.word: 1.0,
    TORQUE.word: 1.0,
    TORQUE_RATE.word: 0.05,
    FORCE.word: 10.0,
    SPEED.word: 50.0,
    PERCENT.word: 1.0,
    RATIO.word: 1.0,
}
_INCH_STEP = MM_PER_INCH / 32


class TypedField(QLineEdit):
    """A line to type in, whose text is committed, and may be turned down by whoever takes it."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._name, self._reason = name, ""
        self.setAccessibleName(name)
        self.returnPressed.connect(self._commit)
        self.editingFinished.connect(self._commit)

    def turn_down(self, reason: str) -> None:
        """Say, while it is committed, that what was typed is not taken."""
        self._reason = reason

    def take_typed(self) -> str:
        """Commit what is being typed; returns why it was not taken, "" if it was."""
        self._commit()
        if not self.isModified():
            return ""
        return f"“{self.text()}” was not taken for {self._name.lower()}: {self._reason}"

    def _commit(self) -> None:
        raise NotImplementedError


class QuantityField(TypedField):
    """A figure that can be typed over, or nudged with the arrow keys and the wheel.

    committed: a new value, in the unit of the mechanics; whoever listens may turn it down, and what was
    typed then stays. refused: why it is not taken; "" once it is put right. released: Esc with nothing
    typed, the field lets go.
    """

    committed = pyqtSignal(float)
    refused = pyqtSignal(str)
    released = pyqtSignal()

    def __init__(self, name: str, quantity: Quantity, parent: QWidget | None = None) -> None:
        super().__init__(name, parent)
        self._quantity = quantity
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self._value: float | None = None
        self._unit = quantity.unit
        self._digits: int | None = None

    @property
    def quantity(self) -> Quantity:
        """What is measured by it."""
        return self._quantity

    @property
    def value(self) -> float | None:
        """The figure shown, in the unit of the mechanics; None if there is none."""
        return self._value

    def show_value(
        self, value: float | None, unit: str, digits: int | None = None, other: str = ""
    ) -> None:
        """Show a figure; what is being typed is left alone. other: the figure in its other unit."""
        changed = (value, unit, digits) != (self._value, self._unit, self._digits)
        self._value, self._unit, self._digits = value, unit, digits
        if changed and not (self.hasFocus() and self.isModified()):
            self._show()
        also = f"\n{other}" if other else ""
        tip = f"{self._name}: type {self._quantity.example}; arrows and wheel nudge{also}"
        if tip != self.toolTip():
            self.setToolTip(plain(tip))

    def change_value(self, value: float | None) -> None:
        """Show another figure, written as the one before."""
        self.show_value(value, self._unit, self._digits)

    def forget_typed(self) -> None:
        """Let go of what was typed and not taken."""
        self._show()
        self._reason = ""
        self.refused.emit("")

    def _show(self) -> None:
        text = ""
        if self._value is not None:
            text = written(self._value, self._quantity, self._unit, digits=self._digits)
        self.setText(text)
        self.setModified(False)

    def _commit(self) -> None:
        if not self.isModified():
            return
        try:
            value = parse(self.text(), self._quantity, self._unit)
        except UnitError as error:
            self._reason = str(error)
            self.refused.emit(self._reason)
            return
        typed = self.text()
        if not self._take(value):
            self.setText(typed)
            self.setModified(True)

    def _take(self, value: float) -> bool:
        """Commit a value; returns whether it was taken."""
        self.setModified(False)
        self._reason = ""
        self.refused.emit("")
        if value != self._value:
            self.committed.emit(value)
        self._show()
        return not self._reason

    def _nudge(self, steps: float) -> None:
        if self._value is not None and not self.isReadOnly():
            size = _step(self._quantity, self._unit)
            self._take(round(self._value + steps * size, 6))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge by a step, with Shift a tenth, with Ctrl ten; Esc takes back what was typed."""
        if event is None:
            return
        steps = {Qt.Key.Key_Up: 1.0, Qt.Key.Key_Down: -1.0}.get(Qt.Key(event.key()))
        if steps is not None:
            self._nudge(steps * _fineness(event.modifiers()))
        elif event.key() == Qt.Key.Key_Escape:
            if self.isModified():
                self.forget_typed()
            else:
                self.released.emit()
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel nudges the field that has the focus and scrolls otherwise."""
        if event is None or not self.hasFocus():
            if event is not None:
                event.ignore()
            return
        turn = 1.0 if event.angleDelta().y() > 0 else -1.0
        self._nudge(turn * _fineness(event.modifiers()))
        event.accept()


def _step(quantity: Quantity, unit: str) -> float:
    """How far one nudge goes, in the unit of the mechanics."""
    if unit == "in":
        return _INCH_STEP
    if unit != quantity.unit:
        return quantity.factor(unit)
    return _STEPS.get(quantity.word, 1.0)


class TextField(TypedField):
    """Words that can be typed over. committed: other words."""

    committed = pyqtSignal(str)
    released = pyqtSignal()

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(name, parent)
        self.setToolTip(plain(name))
        self.setMaxLength(120)
        self._shown = ""

    def show_text(self, text: str) -> None:
        """Show words; what is being typed is left alone."""
        changed = text != self._shown
        self._shown = text
        if changed and not (self.hasFocus() and self.isModified()):
            self.forget_typed()

    def forget_typed(self) -> None:
        """Let go of what was typed and not taken."""
        self.setText(self._shown)
        self.setCursorPosition(0)
        self.setModified(False)

    def _commit(self) -> None:
        if not self.isModified():
            return
        self.setModified(False)
        self._reason = ""
        typed = self.text()
        if typed.strip() != self._shown:
            self.committed.emit(typed.strip())
        self.forget_typed()
        if self._reason:
            self.setText(typed)
            self.setModified(True)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc takes back what was typed, or lets go."""
        if event is None or event.key() != Qt.Key.Key_Escape:
            super().keyPressEvent(event)
        elif self.isModified():
            self.forget_typed()
        else:
            self.released.emit()


def _fineness(modifiers: Qt.KeyboardModifier) -> float:
    if modifiers & Qt.KeyboardModifier.ShiftModifier:
        return 0.1
    return 10.0 if modifiers & Qt.KeyboardModifier.ControlModifier else 1.0


def take_typed() -> str:
    """Commit what is being typed anywhere, before something else happens to what it belongs to.

    Only the field that has the focus can hold such text: all others gave it when they lost it. Returns
    why it was not taken, "" if it was or nothing was being typed.
    """
    field = QApplication.focusWidget()
    return field.take_typed() if isinstance(field, TypedField) else ""
