"""A line of notice with its choices, where a dialog would stand in the way.

Notices wait for one another. None takes the focus, or a key that is typed: their key goes to them.
One that answers what was just asked for by keys may be gone on to with Tab.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from jovial_tack.core.value import Value
from jovial_tack.ui.widgets.text import Label, on_button

Choice = tuple[str, Callable[[], object]]

#: The key that goes to the choices of a notice.
KEY = "Ctrl+Return"


class Said(Value, frozen=True, eq=False):
    """A notice. topic: what it is about: another of the same takes its place; of_build: it says
    something of the build that is open, and goes with that.
    """

    text: str
    choices: tuple[Choice, ...]
    topic: str = ""
    of_build: bool = False


class Notice(QFrame):
    """Shows one message at a time, the others wait; Esc and every choice close it. asked: it has
    another message.
    """

    asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(12, 6, 8, 6)
        self.text = Label()
        self.text.setWordWrap(True)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._row.addWidget(self.text, 1)
        self.more = Label()
        self.more.setObjectName("faded")
        self._row.addWidget(self.more)
        self.buttons: list[QPushButton] = []
        self._shown: Said | None = None
        self._waiting: list[Said] = []
        self._came_from: QWidget | None = None
        self.hide()

    @property
    def all_said(self) -> list[str]:
        """The texts of the notice that is shown and of those that wait."""
        shown = [self._shown] if self._shown is not None and not self.isHidden() else []
        return [each.text for each in (*shown, *self._waiting)]

    def ask(
        self,
        text: str,
        choices: Sequence[Choice] = (),
        *,
        topic: str = "",
        of_build: bool = False,
    ) -> None:
        """Show a message, or have it wait its turn; without choices it can only be closed."""
        said = Said(text, tuple(choices) or (("Close", lambda: None),), topic, of_build)
        free = self.isHidden() or self._shown is None
        if topic:
            self._waiting = [each for each in self._waiting if each.topic != topic]
        if free or (topic and self._shown is not None and self._shown.topic == topic):
            self._show(said)
        else:
            self._waiting.append(said)
            self._count()

    def answer(self, text: str, choices: Sequence[Choice] = (), *, topic: str = "") -> None:
        """Show at once what answers something that was just asked for; what was shown waits."""
        if self._shown is not None and not self.isHidden() and self._shown.topic != topic:
            self._waiting.insert(0, self._shown)
        self._shown = None
        self.ask(text, choices, topic=topic, of_build=True)

    def forget(self, topic: str) -> None:
        """What it said of something is so no more."""
        self._leave_out(lambda said: said.topic == topic)

    def forget_build(self) -> None:
        """Another build is open: what was said of the one before is so no more."""
        self._leave_out(lambda said: said.of_build)

    def go_to(self) -> None:
        """Go to its choices by keys, or back to where one came from."""
        window = self.window()
        if self.isHidden() or not self.buttons or window is None:
            return
        if any(button.hasFocus() for button in self.buttons):
            self._go_back()
            return
        self._came_from = window.focusWidget()
        self.buttons[0].setFocus()

    def _go_back(self) -> None:
        came_from, self._came_from = self._came_from, None
        if came_from is not None and came_from.isVisible():
            came_from.setFocus()

    def _leave_out(self, is_out: Callable[[Said], bool]) -> None:
        self._waiting = [each for each in self._waiting if not is_out(each)]
        if self._shown is not None and is_out(self._shown):
            self._next()
        else:
            self._count()

    def _show(self, said: Said) -> None:
        for button in self.buttons:
            self._row.removeWidget(button)
            button.deleteLater()
        self.buttons = []
        self._shown = said
        self.text.setText(said.text)
        self.setAccessibleName(said.text)
        for label, action in said.choices:
            button = QPushButton(on_button(label))
            button.setToolTip(f"{KEY} goes to these by keys")
            button.clicked.connect(lambda _=False, act=action: self._choose(act))
            self._row.addWidget(button)
            button.show()  # at once, also where the notice is in sight already
            self.buttons.append(button)
        self._count()
        self.show()
        self.asked.emit()

    def _count(self) -> None:
        waiting = len(self._waiting)
        self.more.setText(f"{waiting} more" if waiting else "")
        self.more.setVisible(bool(waiting))

    def _choose(self, action: Callable[[], object]) -> None:
        had_focus = any(button.hasFocus() for button in self.buttons)
        self.hide()
        self._shown = None
        if had_focus:
            self._go_back()
        action()
        if self.isHidden():
            self._next()

    def _next(self) -> None:
        self.hide()
        self._shown = None
        if self._waiting:
            self._show(self._waiting.pop(0))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc closes without choosing; arrows go from choice to choice."""
        if event is None:
            return
        if event.key() == Qt.Key.Key_Escape:
            self._go_back()
            self._next()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.focusNextPrevChild(event.key() == Qt.Key.Key_Right)
        else:
            super().keyPressEvent(event)
