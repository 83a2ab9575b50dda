"""A field for a length: shows it in the unit chosen, takes any unit, says why it refuses."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from jovial_tack.core.errors import UnitError
from jovial_tack.core.units import MM_PER_INCH, format_length, parse_length


class LengthField(QLineEdit):
    """A length that can be typed over, or nudged with the arrow keys and the wheel.

    committed: a new length, mm. refused: why what was typed is not taken; "" once it is put right.
    """

    committed = pyqtSignal(float)
    refused = pyqtSignal(str)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setToolTip(f'{name}: type 130, 130.5 mm, 5.125 in or 5 1/8"; arrows and wheel nudge')
        self._value: float | None = None
        self._unit = "mm"
        self.returnPressed.connect(self._commit)
        self.editingFinished.connect(self._commit)

    @property
    def value(self) -> float | None:
        """The length shown, mm; None if there is none."""
        return self._value

    def show_length(self, value_mm: float | None, unit: str) -> None:
        """Show a length; what is being typed is left alone."""
        self._value, self._unit = value_mm, unit
        if not (self.hasFocus() and self.isModified()):
            self._show()

    def _show(self) -> None:
        self.setText("" if self._value is None else format_length(self._value, self._unit))
        self.setModified(False)

    def _commit(self) -> None:
        if not self.isModified():
            return
        try:
            value = parse_length(self.text(), self._unit)
        except UnitError as error:
            self.refused.emit(str(error))
            return
        self.setModified(False)
        self.refused.emit("")
        self._take(value)

    def _take(self, value: float) -> None:
        if value != self._value:
            self.committed.emit(value)
        self._show()

    def _nudge(self, steps: float) -> None:
        if self._value is not None:
            size = 1.0 if self._unit == "mm" else MM_PER_INCH / 32
            self._take(round(self._value + steps * size, 6))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge by 1 mm or 1/32 in, with Shift a tenth of it; Esc takes back what was typed."""
        if event is None:
            return
        steps = {Qt.Key.Key_Up: 1.0, Qt.Key.Key_Down: -1.0}.get(Qt.Key(event.key()))
        if steps is not None:
            fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._nudge(steps * (0.1 if fine else 1.0))
        elif event.key() == Qt.Key.Key_Escape and self.isModified():
            self._show()
            self.refused.emit("")
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel nudges the field that has the focus and scrolls otherwise."""
        if event is None or not self.hasFocus():
            super().wheelEvent(event)
            return
        self._nudge(1.0 if event.angleDelta().y() > 0 else -1.0)
        event.accept()
