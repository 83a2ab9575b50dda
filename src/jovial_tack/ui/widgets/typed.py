"""Lines to type in, and what is typed in them and not taken yet: bound to what it was typed for.

A line commits its text when it is left. What was turned down stays, and is kept for what it belongs to
while the line shows something else. A draft line belongs to no build: its text stands until whoever has
it entered it, and is asked about and kept aside like an edit.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from typing import Any

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QWidget

from jovial_tack.core.value import Value


class Typed(Value, frozen=True):
    """A text that stands typed in a line and in no build.

    field: the line among all of a window; name: what it is called; of: what the text belongs to; why:
    it was not taken, "" where it only waits to be entered.
    """

    field: str
    name: str
    of: object
    text: str
    why: str = ""


#: Of what a line shows: of the same thing as before.
SAME: Any = object()


class _Typing(QObject):
    """changed: a text was typed somewhere, or taken."""

    changed = pyqtSignal()


#: Tells whoever keeps unsaved work aside.
typing = _Typing()


class TypedField(QLineEdit):
    """A line to type in, whose text is committed, and may be turned down by whoever takes it.

    refused: why it is not taken; "" once it is put right. released: Esc with nothing typed, the line
    lets go. draft: what is committed enters no build by that.
    """

    refused = pyqtSignal(str)
    released = pyqtSignal()

    def __init__(self, name: str, parent: QWidget | None = None, *, draft: bool = False) -> None:
        super().__init__(parent)
        self.name, self.draft = name, draft
        self._reason = ""
        self._of: object = None
        #: whether another line takes its place, which has what waited here
        self.is_gone = False
        #: texts that were turned down, or that wait to be entered, by what they belong to
        self._kept: dict[object, str] = {}
        self._why: dict[object, str] = {}
        self.setAccessibleName(name)
        self.returnPressed.connect(self._commit)
        self.editingFinished.connect(self._commit)
        self.textEdited.connect(self._edited)

    @property
    def of(self) -> object:
        """What the text that stands here belongs to."""
        return self._of

    @property
    def reason(self) -> str:
        """Why what stands here was not taken; "" if it was, or was not committed yet."""
        return self._reason

    def rename(self, name: str) -> None:
        """Call it something else."""
        self.name = name
        self.setAccessibleName(name)

    # what stands here and in no build

    def waiting(self) -> list[tuple[object, str, str]]:
        """What is typed and in no build: what it belongs to, the text, and why it was not taken."""
        kept = dict(self._kept)
        if self.isModified():
            kept[self._of] = self.text()
        return [(of, text, self._why.get(of, "")) for of, text in kept.items()]

    def enter(self) -> None:
        """What was typed was entered where it belongs: nothing waits here any more."""
        self._kept.pop(self._of, None)

    def turn_down(self, reason: str) -> None:
        """Say, while it is committed, that what was typed is not taken."""
        self._reason = reason

    def take_typed(self) -> str:
        """Commit what is being typed; returns why it was not taken, "" if it was."""
        self._commit()
        if not self.isModified():
            return ""
        return f"“{self.text()}” was not taken for {self.name.lower()}: {self._reason}"

    def forget_typed(self) -> None:
        """Let go of what was typed of what is shown, and show that."""
        self._kept.pop(self._of, None)
        self._why.pop(self._of, None)
        self._reason = ""
        self._show()
        self.refused.emit("")
        typing.changed.emit()

    def forget_all(self) -> None:
        """Let go of all that was typed here, of whatever it is."""
        self._kept.clear()
        self._why.clear()
        if self.isModified() or self._reason:
            self.forget_typed()

    def type_again(self, of: object, text: str, why: str = "") -> None:
        """Have a text stand here as it was typed for something, shown now or when that is shown."""
        self._kept[of] = text
        if why:
            self._why[of] = why
        if of == self._of:
            self._show()

    def belong(self, of: object) -> None:
        """Show something else: what was typed of the one before is taken, or kept for it."""
        if of is SAME or of == self._of:
            return
        if self.isModified():
            self._commit()
            if self.isModified():
                self._keep()
        had_reason = bool(self._reason)
        self._of = of
        self._reason = ""
        self._show()
        if had_reason and not self._reason:
            self.refused.emit("")

    def _keep(self) -> None:
        self._kept[self._of] = self.text()
        if self._reason:
            self._why[self._of] = self._reason

    def _show_kept(self) -> bool:
        """Show the text that was turned down of what is shown; returns whether there is one."""
        text = self._kept.get(self._of)
        if text is None:
            return False
        self.setText(text)
        self.setModified(True)
        self._reason = self._why.get(self._of, "")
        if self._reason:
            self.refused.emit(self._reason)
        return True

    def _edited(self, _text: str) -> None:
        typing.changed.emit()

    def _turned_down(self, typed: str) -> None:
        """Have what was typed stand, since it was not taken."""
        self.setText(typed)
        self.setModified(True)
        self._keep()

    def _taken(self) -> None:
        self._kept.pop(self._of, None)
        self._why.pop(self._of, None)
        typing.changed.emit()

    def _commit(self) -> None:
        raise NotImplementedError

    def _show(self) -> None:
        """Show what there is, typed or not."""
        raise NotImplementedError

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc takes back what was typed, or lets go."""
        if event is None or event.key() != Qt.Key.Key_Escape:
            super().keyPressEvent(event)
        elif self.isModified():
            self.forget_typed()
        else:
            self.released.emit()


class TextField(TypedField):
    """Words that can be typed over. committed: other words."""

    committed = pyqtSignal(str)

    def __init__(
        self, name: str, parent: QWidget | None = None, *, draft: bool = False, most: int = 120
    ) -> None:
        super().__init__(name, parent, draft=draft)
        self.setMaxLength(most)
        self._shown = ""

    def show_text(self, text: str, of: object = SAME) -> None:
        """Show words; what is being typed of the same thing is left alone. of: what they belong to."""
        self.belong(of)
        changed = text != self._shown
        self._shown = text
        if changed and not self.isModified():
            self._show()

    @property
    def is_typed(self) -> bool:
        """Of a draft: whether the text shown was typed."""
        return self._of in self._kept

    def enter(self) -> None:
        """What was typed was entered where it belongs: nothing waits here any more."""
        super().enter()
        self._shown = self.text()

    def change_text(self, text: str) -> None:
        """Show other words in place of what was typed."""
        self._kept.pop(self._of, None)
        self._shown = text
        self._show()

    def _show(self) -> None:
        if self.draft:
            self.setText(self._kept.get(self._of, self._shown))
        elif not self._show_kept():
            self.setText(self._shown)
            self.setModified(False)
        self.setCursorPosition(0)

    def _edited(self, text: str) -> None:
        if self.draft:
            self._kept[self._of] = text
            if text == self._shown:
                del self._kept[self._of]
        super()._edited(text)

    def waiting(self) -> list[tuple[object, str, str]]:
        """What is typed and in no build."""
        if self.draft:
            return [(of, text, self._why.get(of, "")) for of, text in self._kept.items()]
        return super().waiting()

    def _commit(self) -> None:
        if not self.isModified():
            return
        self.setModified(False)
        self._reason = ""
        typed = self.text()
        if typed.strip() != self._shown:
            self.committed.emit(typed.strip())
        if self._reason:
            self._why[self._of] = self._reason
            self._turned_down(typed)
        elif self.draft:
            self._why.pop(self._of, None)
        else:
            self._taken()
            self._show()


class Parked(QObject):
    """What waits in lines that are taken away, until they are made again: held by their part."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._waits: dict[str, list[Typed]] = {}
        self._typed_in: tuple[Any, int] | None = None

    def put_away(self, fields: Mapping[Any, TypedField]) -> None:
        """Hold what waits in lines before they go. fields: by what they are found again by."""
        self._typed_in = None
        for key, field in fields.items():
            if field.hasFocus():
                self._typed_in = key, field.cursorPosition()
            waits = [Typed("", field.name, *each) for each in field.waiting()]
            if waits:
                self._waits[str(key)] = waits
            field.blockSignals(True)  # it goes out of sight, which is no reason to take it
            field.is_gone = True

    def bring_back(self, fields: Mapping[Any, TypedField]) -> None:
        """Have it stand in the lines made anew, and the one that was typed in typed in still."""
        for key, field in fields.items():
            for each in self._waits.pop(str(key), ()):
                field.type_again(each.of, each.text, each.why)
        if self._typed_in is not None and self._typed_in[0] in fields:
            field = fields[self._typed_in[0]]
            field.setFocus()
            if field.isModified():
                field.setCursorPosition(self._typed_in[1])
            else:
                field.selectAll()

    def forget_all(self) -> None:
        """Let go of it."""
        self._waits.clear()

    def waiting(self) -> list[Typed]:
        """All that waits."""
        return [each for waits in self._waits.values() for each in waits]


def fields_of(window: QWidget) -> Iterator[tuple[str, TypedField]]:
    """All lines to type in of a window, each by a name that is the same at the next start."""
    count: Counter[str] = Counter()
    for field in window.findChildren(TypedField):
        if field.is_gone:
            continue
        name = f"{_whose(field)}/{field.name}"
        count[name] += 1
        yield (name if count[name] == 1 else f"{name}/{count[name]}"), field


def _whose(field: QWidget) -> str:
    """The part of the window a line stands in: the innermost that is a class of this program's."""
    above = field.parentWidget()
    while above is not None and not type(above).__module__.startswith("jovial_tack."):
        above = above.parentWidget()
    return "" if above is None else type(above).__name__


def all_waiting(window: QWidget) -> list[Typed]:
    """All that is typed in a window and in no build."""
    found = [
        Typed(name, field.name, of, text, why)
        for name, field in fields_of(window)
        for of, text, why in field.waiting()
    ]
    for parked in window.findChildren(Parked):
        owner = type(parked.parent()).__name__
        found += [
            Typed(f"{owner}/{each.name}", each.name, each.of, each.text, each.why)
            for each in parked.waiting()
        ]
    return [each for each in found if each.text.strip() or each.why]


def forget_all(window: QWidget) -> None:
    """Let go of all that is typed in a window and in no build."""
    for field in window.findChildren(TypedField):
        field.forget_all()
    for parked in window.findChildren(Parked):
        parked.forget_all()


def take_typed() -> str:
    """Commit what is being typed anywhere, before something else happens to what it belongs to.

    Only the field that has the focus can hold such text: all others gave it when they lost it. Returns
    why it was not taken, "" if it was or nothing was being typed.
    """
    field: Any = QApplication.focusWidget()
    return field.take_typed() if isinstance(field, TypedField) else ""
