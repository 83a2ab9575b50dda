"""A field for a figure: shows it in its unit, takes any unit, says why it refuses."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QHideEvent, QKeyEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from jovial_tack.core.errors import EitherFigureError, UnitError
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
from jovial_tack.ui.widgets.question import Question
from jovial_tack.ui.widgets.text import plain
from jovial_tack.ui.widgets.typed import SAME, TypedField, typing

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


class QuantityField(TypedField):
    """A figure that can be typed over, or nudged with the arrow keys and the wheel.

    committed: a new value, in the unit of the mechanics; whoever listens may turn it down, and what was
    typed then stays. A draft holds its value itself, until it is entered or another is shown. Where a
    text may mean either of two figures, both are offered below it and none is taken.
    """

    committed = pyqtSignal(float)

    def __init__(
        self, name: str, quantity: Quantity, parent: QWidget | None = None, *, draft: bool = False
    ) -> None:
        super().__init__(name, parent, draft=draft)
        self._quantity = quantity
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self._value: float | None = None
        self._unit = quantity.unit
        self._digits: int | None = None
        #: of a draft: the values typed and not entered, by what they belong to
        self._drafts: dict[object, float] = {}
        self._question: Question | None = None

    @property
    def question(self) -> Question:
        """What is asked below it where a text may mean either of two figures."""
        if self._question is None:  # there are hundreds of fields, and hardly one asks
            self._question = Question(self)
            self._question.answered.connect(self._answer)
        return self._question

    @property
    def quantity(self) -> Quantity:
        """What is measured by it."""
        return self._quantity

    @property
    def value(self) -> float | None:
        """The figure shown, in the unit of the mechanics; None if there is none."""
        return self._drafts.get(self._of, self._value)

    @property
    def is_typed(self) -> bool:
        """Of a draft: whether the figure shown was typed."""
        return self._of in self._drafts

    def show_value(
        self,
        value: float | None,
        unit: str,
        digits: int | None = None,
        other: str = "",
        of: object = SAME,
    ) -> None:
        """Show a figure; what is being typed of the same thing, and a draft, are left alone.

        other: the figure in its other unit; of: what the figure belongs to.
        """
        self.belong(of)
        changed = (value, unit, digits) != (self._value, self._unit, self._digits)
        self._value, self._unit, self._digits = value, unit, digits
        if changed and not self.isModified():
            self._show()
        also = f"\n{other}" if other else ""
        tip = f"{self.name}: type {self._quantity.example}; arrows and wheel nudge{also}"
        if tip != self.toolTip():
            self.setToolTip(plain(tip))

    def change_value(self, value: float | None) -> None:
        """Show another figure, written as the one before, in place of a draft."""
        self._drafts.pop(self._of, None)
        self.show_value(value, self._unit, self._digits)
        if not self.isModified():
            self._show()

    def show_in(self, unit: str, digits: int | None = None) -> None:
        """Show the same figure in a unit."""
        self.show_value(self._value, unit, digits)

    def show_figure(self, value: float | None) -> None:
        """Show another figure, written as the one before; a draft stands."""
        self.show_value(value, self._unit, self._digits)

    def carry(self, of: object) -> None:
        """Show something else, and have what is typed here belong to that."""
        if self.isModified():
            self._commit()
        drafted = self._drafts.pop(self._of, None)
        kept, why = self._kept.pop(self._of, None), self._why.pop(self._of, "")
        if drafted is not None:
            self._drafts[of] = drafted
        if kept is not None:
            self._kept[of], self._why[of] = kept, why
            self.setModified(False)
        self.belong(of)

    def enter(self) -> None:
        """What was typed was entered where it belongs: nothing waits here any more."""
        self._value = self.value
        self._drafts.pop(self._of, None)

    def forget_typed(self) -> None:
        """Let go of what was typed and not taken; a draft that was taken stays."""
        super().forget_typed()
        self._ask_nothing()

    def forget_all(self) -> None:
        """Let go of all that was typed here."""
        had_draft = bool(self._drafts)
        self._drafts.clear()
        super().forget_all()
        if had_draft:
            self._show()

    def waiting(self) -> list[tuple[object, str, str]]:
        """What is typed and in no build."""
        waits = super().waiting()
        typed = {of for of, _, _ in waits}
        return waits + [
            (of, self._in_full(value), "") for of, value in self._drafts.items() if of not in typed
        ]

    def _in_full(self, value: float) -> str:
        """A figure with all the decimals it has, as it can be typed back."""
        figure, gap, unit = written(value, self._quantity, self._unit, digits=6).partition(" ")
        bare = figure.rstrip("°")
        short = bare.rstrip("0").removesuffix(".") if "." in bare else bare
        if len(short.partition(".")[2]) == 3:
            short += "0"  # or a point could be taken for a mark of thousands
        return f"{short}{figure[len(bare) :]}{gap}{unit}"

    def type_again(self, of: object, text: str, why: str = "") -> None:
        """Have a text stand here as it was typed for something; a draft's figure is read from it."""
        try:
            value = parse(text, self._quantity, self._unit, self._digits or 0)
        except UnitError:
            value = None
        if not self.draft or value is None:
            super().type_again(of, text, why)
            return
        self._drafts[of] = value
        if of == self._of:
            self._show()
            self.committed.emit(value)

    def _show(self) -> None:
        if self._show_kept():
            return
        text, value = "", self.value
        if value is not None:
            text = written(value, self._quantity, self._unit, digits=self._digits)
        self.setText(text)
        self.setModified(False)

    def _commit(self) -> None:
        if not self.isModified():
            return
        if self.draft and not self.text().strip():
            self._take_nothing()
            return
        try:
            value = parse(self.text(), self._quantity, self._unit, self._digits or 0)
        except UnitError as error:
            self._refuse(error)
            return
        self._ask_nothing()
        typed = self.text()
        if not self._take(value):
            self._turned_down(typed)

    def _take_nothing(self) -> None:
        """A draft that was emptied holds no figure."""
        self._taken()
        self._drafts.pop(self._of, None)
        self._value = None
        self._reason = ""
        self._show()
        self.refused.emit("")

    def _refuse(self, error: UnitError) -> None:
        self._reason = str(error)
        self._keep()
        if isinstance(error, EitherFigureError):
            self.question.ask(error.readings)
        self.refused.emit(self._reason)

    def _take(self, value: float) -> bool:
        """Commit a value; returns whether it was taken."""
        self.setModified(False)
        self._reason = ""
        self._taken()
        self.refused.emit("")
        if self.draft:
            if value != self.value:
                self._draft(value)
        elif value != self._value:
            self.committed.emit(value)
        if not self._reason:
            self._show()
        return not self._reason

    def _ask_nothing(self) -> None:
        if self._question is not None:
            self._question.hide()

    def _draft(self, value: float) -> None:
        """Hold a figure, unless whoever listens turns it down."""
        before = dict(self._drafts)
        self._drafts[self._of] = value
        self.committed.emit(value)
        if self._reason:
            self._drafts = before
        typing.changed.emit()

    def _answer(self, typed: str) -> None:
        """One of the two figures a text may mean was chosen."""
        self.setText(typed)
        self.setModified(True)
        self.setFocus()
        self._commit()

    def _edited(self, text: str) -> None:
        self._ask_nothing()
        super()._edited(text)

    def _nudge(self, steps: float) -> None:
        value = self.value
        if value is not None and not self.isReadOnly():
            size = _step(self._quantity, self._unit)
            self._take(round(value + steps * size, 6))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge by a step, with Shift a tenth, with Ctrl ten; Down goes to what is asked."""
        if event is None:
            return
        steps = {Qt.Key.Key_Up: 1.0, Qt.Key.Key_Down: -1.0}.get(Qt.Key(event.key()))
        if steps is None:
            super().keyPressEvent(event)
        elif self._question is not None and self._question.isVisible():
            self._question.begin()
        else:
            self._nudge(steps * _fineness(event.modifiers()))

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """What is asked goes with the pointer elsewhere; the text stands, and why it is not taken."""
        super().focusOutEvent(event)
        if self._question is not None:
            self._question.let_go_soon()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """What is asked goes with the field."""
        super().hideEvent(event)
        self._ask_nothing()

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


def _fineness(modifiers: Qt.KeyboardModifier) -> float:
    if modifiers & Qt.KeyboardModifier.ShiftModifier:
        return 0.1
    return 10.0 if modifiers & Qt.KeyboardModifier.ControlModifier else 1.0
