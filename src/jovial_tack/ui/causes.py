"""What is wrong if not: likely causes of what is seen, and the check that tells most, one by one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from jovial_tack.answers.fit_up.explaining import Check, Dialogue, dialogue_of, likely_words
from jovial_tack.answers.fit_up.hypotheses import Reads
from jovial_tack.core.words import capital, sentence
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.blocks import ComparisonPage
from jovial_tack.ui.widgets.text import heading, on_button, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.working import WorkingCard

_HINT = (
    "Each cause is put into the layout and solved; what is looked at next is what tells most for its"
    " minutes. Engine off, key out."
)
_TOUCHED = 40
#: From which weight on a cause may be taken for what the engine is.
_SURE_ENOUGH = 0.5


@dataclass(frozen=True)
class Read:
    """What is read of a drive: its mark, and the tone of a span, by the pulley it leaves."""

    drive: str
    span: str
    reads: Reads


class CausesCard(WorkingCard):
    """What is seen of a drive, weighed, and one check after the other.

    read: gives what is seen now; None while nothing is. nothing: what is said then.
    """

    def __init__(
        self,
        session: Session,
        theme: Theme,
        read: Callable[[], Read | None],
        nothing: str,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(session, theme, "What is wrong if not", _HINT, parent)
        self._read, self._nothing = read, nothing
        self._worker.done.connect(self._take)
        self._worker.failed.connect(self._fail)
        #: the dialogues so far, the last of them that of now
        self.so_far: tuple[Dialogue, ...] = ()
        self.told = heading("plain")
        self.asked = heading("subheading")
        self.answers = ComparisonPage()
        self.back, self.adopt = QPushButton("Answer back"), QPushButton("Lay it out so")
        self.back.clicked.connect(lambda _=False: self._go_back())
        self.adopt.clicked.connect(lambda _=False: self._adopt())
        row = QHBoxLayout()
        for button in (self.back, self.adopt):
            button.setMinimumHeight(_TOUCHED)
            row.addWidget(button)
        self.column.addWidget(self.told)
        self.column.addWidget(self.asked)
        self.column.addWidget(self.answers, 1)
        self.column.addLayout(row)
        session.build_changed.connect(self._follow)

    @property
    def dialogue(self) -> Dialogue | None:
        """As far as it has come."""
        return self.so_far[-1] if self.so_far else None

    def look(self) -> None:
        """Weigh what is seen now."""
        self.so_far = ()
        read, session = self._read(), self._session
        if read is None:
            self._worker.drop()
            self._show(self._nothing)
            return
        build, catalogue = session.build, session.catalogue
        self._show("Solving what may be wrong …")
        self._worker.submit(
            lambda: dialogue_of(build, read.drive, read.span, read.reads, catalogue)
        )

    def _take(self, dialogue: Dialogue) -> None:
        self.so_far = (dialogue,)
        self._show()

    def _fail(self, error: Exception) -> None:
        self.so_far = ()
        self._show(sentence(str(error)))

    def _follow(self) -> None:
        """Another build: what was solved is of the one before."""
        if self.so_far or self._worker.busy:
            self._worker.drop()
            self.so_far = ()
            self._show("The build was changed: open this again.")

    def _show(self, instead: str = "") -> None:
        dialogue = self.dialogue
        self.back.setEnabled(len(self.so_far) > 1)
        best = None if dialogue is None else dialogue.hypotheses[dialogue.order[0]]
        sure = dialogue is not None and float(dialogue.weights.max()) >= _SURE_ENOUGH
        is_fault = best is not None and best.kind != "right"
        self.adopt.setEnabled(sure and is_fault and not self._session.is_read_only)
        if dialogue is None:
            self.told.setText(together(instead))
            self.asked.setText("")
            self.answers.show_blocks([])
            return
        lines = [f"• {sentence(words)}" for words in likely_words(dialogue)]
        self.told.setText(together("\n".join(lines)))
        check = None if dialogue.stands_out else dialogue.next
        if check is None:
            done = "It stands out." if dialogue.stands_out else "Nothing more to look at tells it."
            self.asked.setText(done)
            self.answers.show_blocks([])
            return
        minutes = "1 minute" if check.minutes == 1 else f"{check.minutes:.0f} minutes"
        self.asked.setText(together(f"{check.words} ({minutes})."))
        self.answers.show_blocks([self._answers_to(check)])

    def _answers_to(self, check: Check) -> QWidget:
        """A button for each thing that may be found."""
        block = QWidget()
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        for place, (words, _) in enumerate(check.answers):
            button = QPushButton(on_button(capital(words)))
            button.setMinimumHeight(_TOUCHED)
            button.clicked.connect(lambda _=False, k=place: self.answer(check, k))
            column.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
        return block

    def answer(self, check: Check, place: int) -> None:
        """Take what was found by a check."""
        if self.dialogue is not None:
            self.so_far = (*self.so_far, self.dialogue.answer(check, place))
            self._show()

    def _go_back(self) -> None:
        if len(self.so_far) > 1:
            self.so_far = self.so_far[:-1]
            self._show()

    def _adopt(self) -> None:
        """Have the layout as the engine is: one step to undo."""
        dialogue, session = self.dialogue, self._session
        if dialogue is None or session.is_read_only:
            return
        best = dialogue.hypotheses[dialogue.order[0]]
        session.edit(f"as it is on the engine: {best.words}", best.build)
