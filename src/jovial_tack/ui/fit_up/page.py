"""One step of fitting up, large: what to do, what to beware of, what to compare, and its box."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.fit_up.seen import seen_words
from jovial_tack.answers.fit_up.steps import Step
from jovial_tack.answers.fit_up.telling import figure_lines
from jovial_tack.core.units import ANGLE, PERCENT, TONE, TORQUE, Quantity
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.edits.fit_up import (
    add_own_step,
    remove_own_step,
    set_note,
    set_seen,
    set_torque,
)
from jovial_tack.ui.fit_up.following import Following
from jovial_tack.ui.widgets.desk_part import DeskPart, empty, scrolled
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.marks import MarkLabel
from jovial_tack.ui.widgets.text import heading, on_button, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.widgets.typed import TextField

_FASTENED = ("mount", "mount_adjuster", "last", "fixing")
_SEEN_AT = ("tension", "recheck", "first")
_BIG = 48
_GREASED = (("", "not told"), ("dry", "dry"), ("oiled", "oiled"), ("greased", "greased"))


class StepPage(DeskPart):
    """The step that is worked on. why_wanted: what is seen is to be explained."""

    why_wanted = pyqtSignal()
    #: something is not as it should be: a finding, "" a noise of any kind, and of which drive
    noise_wanted = pyqtSignal(str, str)

    def __init__(self, following: Following, theme: Theme) -> None:
        super().__init__()
        self._following, self._session = following, following.session
        self.setObjectName("card")
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 14, 16, 10)
        column.setSpacing(8)
        self.place, self.title = heading("faded"), heading()
        self.again_mark, self.again = MarkLabel("watch", theme), heading("plain")
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.again_mark)
        row.addWidget(self.again, 1)
        self.looks, self.figures = heading("plain"), heading("plain")
        self.seen_word = heading("subheading")
        self.seen_word.setText("Seen on the engine")
        self.lines = FieldLines()
        self.arm = self._field("Arm at", "Angle the arm is seen at", ANGLE, "arm_angle_deg")
        self.share = self._field(
            "On its travel", "Share of its travel it is seen at", PERCENT, "travel_share", 0.01
        )
        self.tone = self._field("Tone", "Tone that is heard", TONE, "tone_hz")
        self.likely = heading("plain")
        self.why = QPushButton("What is wrong? …")
        self.why.setMinimumHeight(_BIG)
        self.why.clicked.connect(lambda _=False: self.why_wanted.emit())
        self.torque_word = heading("subheading")
        self.torque_word.setText("Your own figures for its bolts")
        self.torque = QuantityField("Torque of its bolts", TORQUE)
        self.torque.committed.connect(lambda value: self._note(self.torque.of, nm=value))
        self.torque.refused.connect(self._refuse)
        self.greased = QComboBox()
        self.greased.setAccessibleName("How the thread is")
        self.greased.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        for key, words in _GREASED:
            self.greased.addItem(words, key)
        self.greased.activated.connect(
            lambda _k: self._note(self._step_id, lubricant=self.greased.currentData() or None)
        )
        self.lock = TextField("What locks the thread", most=60)
        self.lock.committed.connect(lambda text: self._note(self.lock.of, lock=text or None))
        self.left_hand = QCheckBox("Left-hand thread")
        self.left_hand.clicked.connect(lambda on: self._note(self._step_id, left_hand=on or None))
        self.bolts = FieldLines()
        self.bolts.add_line("Torque", self.torque)
        self.bolts.add_line("Thread", self.greased)
        self.bolts.add_line("Locked by", self.lock)
        self.bolts.add_line("", self.left_hand)
        self.note = TextField("A note on what was done", most=2000)
        self.note.setPlaceholderText("a note on what was done")
        self.note.committed.connect(self._take_note)
        self.asked = heading("subheading")
        self.asked.setText("Not as it should be?")
        self.asks = QWidget()
        self._asks = QVBoxLayout(self.asks)
        self._asks.setContentsMargins(0, 0, 0, 0)
        self._asks.setSpacing(6)
        self._asked: tuple[object, ...] = ()
        self.own = TextField("A step of your own, after this one", draft=True, most=500)
        self.own.setPlaceholderText("a step of your own, after this one")
        self.own.returnPressed.connect(self._add_own)
        self.take_out = self._button("Take this step out", self._take_out)
        self.refusal = heading("badfigure")
        self.refusal.hide()
        self.loops = heading("badfigure")
        for widget in (self.place, self.title):
            column.addWidget(widget)
        column.addLayout(row)
        for widget in (self.looks, self.figures, self.seen_word):
            column.addWidget(widget)
        column.addLayout(self.lines)
        column.addWidget(self.likely)
        column.addWidget(self.torque_word)
        column.addLayout(self.bolts)
        column.addWidget(self.asked)
        column.addWidget(self.asks)
        column.addWidget(self.note)
        column.addWidget(self.refusal)
        column.addWidget(self.loops)
        column.addWidget(self.take_out)
        column.addStretch(1)
        column.addWidget(self.own)
        outer.addWidget(scrolled(inside), 1)
        outer.addLayout(self._buttons())
        self.caution = heading("caution")
        outer.addWidget(self.caution)
        following.changed.connect(self.refresh)
        following.chosen_changed.connect(self.refresh)

    def _field(
        self, word: str, spoken: str, quantity: Quantity, key: str, factor: float = 1.0
    ) -> QuantityField:
        field = QuantityField(spoken, quantity)
        field.setMaximumWidth(132)
        field.committed.connect(lambda value: self._see(field.of, **{key: value * factor}))
        field.refused.connect(self._refuse)
        self.lines.add_line(word, field)
        return field

    def _buttons(self) -> QVBoxLayout:
        """The box for a thumb, and the ways to the steps beside."""
        column = QVBoxLayout()
        column.setContentsMargins(16, 6, 16, 8)
        column.setSpacing(6)
        self.tick = QPushButton("Done")
        self.tick.setMinimumHeight(_BIG)
        self.tick.clicked.connect(lambda _=False: self._following.toggle())
        row = QHBoxLayout()
        self.back = self._button("Back", lambda: self._following.go(-1))
        self.on = self._button("On", lambda: self._following.go(1))
        self.anew = self._button("Begin anew", self._following.begin_anew)
        for button in (self.back, self.on, self.anew):
            row.addWidget(button)
        column.addWidget(self.why)
        column.addWidget(self.tick)
        column.addLayout(row)
        return column

    def _button(self, text: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setMinimumHeight(40)
        button.clicked.connect(lambda _=False: act())
        return button

    def showEvent(self, event: QShowEvent | None) -> None:
        """In sight again, once a card is put away: as it is now."""
        super().showEvent(event)
        self.refresh()

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.again_mark.set_theme(theme)

    def refresh(self) -> None:
        """Show the step."""
        if not self.isVisible():
            return
        steps, step = self._following.steps, self._following.step
        for widget in (self.tick, self.back, self.on, self.anew):
            widget.setEnabled(step is not None and not self._session.is_read_only)
        self.loops.setText(
            "" if not steps.loops else f"These wait for one another: {', '.join(steps.loops[0])}."
        )
        self.loops.setVisible(bool(steps.loops))
        if step is None:
            self.place.setText("")
            self.title.setText("Nothing to fit up yet: lay a belt first.")
            return
        number = [each.id for each in steps.steps].index(step.id) + 1
        self.place.setText(f"Step {number} of {len(steps.steps)}")
        self.title.setText(together(sentence(step.words)))
        self._show_state(step)
        self.take_out.setVisible(step.kind == "own")
        self.own.setEnabled(not self._session.is_read_only)
        # what is asked for below need not be said twice
        looks = "\n".join(f"• {capital(look)}" for look in (() if step.asks else step.looks))
        self.looks.setText(looks)
        self.looks.setVisible(bool(looks))
        lines = figure_lines(self._session.build, step)
        self.figures.setText(together("\n".join(capital(line) for line in lines)))
        self.figures.setVisible(bool(lines))
        self._show_seen(step)
        self._show_bolts(step)
        self._show_asks(step)
        self.note.setVisible(step.done is not None)
        self.note.show_text("" if step.done is None else step.done.note, of=step.id)
        self.own.show_text("", of=step.id)
        self.caution.setText("\n".join(step.cautions))
        self.caution.setVisible(bool(step.cautions))

    def _show_state(self, step: Step) -> None:
        said = ""
        if step.state == "again" and step.done is not None:
            said = f"Done on {step.done.at}, before the build was changed: do it again."
        elif step.look_again:
            said = "Done, but something of this drive was changed since: look again."
        self.again.setText(said)
        for widget in (self.again, self.again_mark):
            widget.setVisible(bool(said))
        done = step.state == "done"
        at = "" if step.done is None else f" on {step.done.at}"
        self.tick.setText(f"Done{at} – take it back" if done else "Done")
        self.tick.setAccessibleName("Take the tick back" if done else "Tick the step as done")

    def _show_seen(self, step: Step) -> None:
        figures, seen = step.figures, step.seen
        compares = step.kind in _SEEN_AT and figures is not None
        self.seen_word.setVisible(compares)
        arm = compares and figures is not None and figures.arm_angle_deg is not None
        share = compares and figures is not None and figures.travel_share is not None
        self.lines.show_line(self.arm, shown=bool(arm))
        self.lines.show_line(self.share, shown=bool(share))
        self.lines.show_line(self.tone, shown=compares)
        along = None if seen is None or seen.travel_share is None else 100 * seen.travel_share
        arm_deg = None if seen is None else seen.arm_angle_deg
        tone_hz = None if seen is None else seen.tone_hz
        self.arm.show_value(arm_deg, ANGLE.unit, of=step.id)
        self.share.show_value(along, PERCENT.unit, of=step.id)
        self.tone.show_value(tone_hz, TONE.unit, 1, of=step.id)
        said, right = seen_words(step) if compares else ("", True)
        self.likely.setText(together(said))
        self.likely.setVisible(bool(said))
        self.why.setVisible(not right)

    def _show_bolts(self, step: Step) -> None:
        fastened, note = step.kind in _FASTENED, step.torque
        self.torque_word.setVisible(fastened)
        for widget in (self.torque, self.greased, self.lock, self.left_hand):
            self.bolts.show_line(widget, shown=fastened)
        unit = TORQUE.shown(self._session.build.display_units)
        self.torque.show_value(None if note is None else note.nm, unit, of=step.id)
        kept = "" if note is None or note.lubricant is None else note.lubricant
        self.greased.setCurrentIndex(self.greased.findData(kept))
        self.lock.show_text("" if note is None else note.lock, of=step.id)
        self.left_hand.setChecked(note is not None and note.left_hand)

    def _show_asks(self, step: Step) -> None:
        """A button for each thing that may not be as it should: it opens the noise finder with that."""
        self.asked.setVisible(bool(step.asks))
        self.asks.setVisible(bool(step.asks))
        drives = [(drive.id, drive.label) for drive in self._session.build.drives]
        if step.kind == "first":
            drives = [each for each in drives if each[0] == step.of[0]]
        asked = (step.asks, tuple(drives))
        if asked != self._asked:
            self._asked = asked
            empty(self._asks)
            for finding in step.asks:
                self._asks.addWidget(self._ask(finding, drives))

    def _ask(self, finding: str, drives: Sequence[tuple[str, str]]) -> QPushButton:
        findings = self._session.catalogue.faults.findings
        words = findings[finding].words if finding else "a noise"
        button = QPushButton(on_button(f"{capital(words)} …"))
        button.setMinimumHeight(40)
        if len(drives) == 1:
            button.clicked.connect(lambda _=False: self.noise_wanted.emit(drives[0][0], finding))
            return button
        menu = QMenu(button)
        for drive, label in drives:
            act = menu.addAction(on_button(label))
            if act is not None:
                act.triggered.connect(
                    lambda _=False, name=drive: self.noise_wanted.emit(name, finding)
                )
        button.setMenu(menu)
        return button

    @property
    def _step_id(self) -> str:
        """The step that is worked on; "" for none."""
        step = self._following.step
        return "" if step is None else step.id

    def _step_of(self, name: object) -> Step | None:
        """The step that something was typed for, if it can be changed."""
        if self._session.is_read_only:
            return None
        return next((step for step in self._following.steps.steps if step.id == name), None)

    def _take_note(self, text: str) -> None:
        """Take the note on a step that is done."""
        step, session = self._step_of(self.note.of), self._session
        if step is None or step.done is None:
            self.note.turn_down("the step is not ticked any more")
            return
        session.edit(f"note: {step.words}", set_note(session.build, step.id, text))
        self._following.tell()

    def _see(self, step_id: object, **figures: Any) -> None:
        step, session = self._step_of(step_id), self._session
        if step is not None:
            session.edit(f"seen: {step.words}", set_seen(session.build, step.id, **figures))
            self._following.tell()

    def _note(self, step_id: object, **figures: Any) -> None:
        step, session = self._step_of(step_id), self._session
        if step is not None:
            made = set_torque(session.build, step.id, **figures)
            session.edit(f"bolts: {step.words}", made)
            self._following.tell()

    def _add_own(self) -> None:
        """Put a step of one's own in, after the one that is worked on, and go to it."""
        step, session, words = self._following.step, self._session, self.own.text().strip()
        if step is None or session.is_read_only or not words:
            return
        made, name = add_own_step(session.build, words, after=(step.id,))
        session.edit(f"own step: {words}", made)
        self.own.change_text("")
        self._following.tell()
        self._following.choose(name)

    def _take_out(self) -> None:
        step, session = self._following.step, self._session
        if step is not None and step.kind == "own" and not session.is_read_only:
            session.edit(f"take out: {step.words}", remove_own_step(session.build, step.of[0]))
            self._following.tell()

    def _refuse(self, text: str) -> None:
        self.refusal.setText(text)
        self.refusal.setVisible(bool(text))
