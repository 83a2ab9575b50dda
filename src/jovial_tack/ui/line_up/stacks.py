"""The card of a unit on its ears: its stacks from the side, what each ear needs, its bolt."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from jovial_tack.answers.drive.stacks import (
    UnitStack,
    bolt_thread,
    fits_bolt,
    pieces_on,
    thread_problem,
)
from jovial_tack.answers.line_up.told import ToldLineUp, tell_line_up, with_pieces
from jovial_tack.answers.line_up.words import (
    bolt_words,
    ear_words,
    length,
    pull_words,
    stood_words,
    unit_words,
)
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.units import LENGTH, TORQUE, Quantity
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.stacks import (
    add_ear,
    put_piece,
    remove_ear,
    set_boss,
    set_ear,
    set_stack,
    set_stays,
)
from jovial_tack.document.model import Boss, Build, Ear, Stack
from jovial_tack.drawing.stack import stack_view
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.line_up.side import SideView
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import scrolled
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.widgets.typed import TextField, TypedField

_HINT = (
    "What stands between the engine and the unit that is selected, from the side. Face and depths from"
    " the face all planes are measured from."
)
_CAUTION = (
    "Torques are the maker's. Turn the engine twice by hand before the first start, and look at the"
    " belt's edges again after it."
)
_MATERIALS = (("Aluminium", "aluminium"), ("Iron", "iron"), ("Steel", "steel"))
_SIDES = (("before its boss", "front"), ("behind its bracket", "rear"))
_FIRST_EAR_MM = 30.0

Take = Callable[[Build, float], Build]


class StackCard(SideCard):
    """The stacks of the shaft that is selected, else of the first unit there is."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Stacks", _HINT, parent)
        self._session = session
        self._shaft, self._ear = "", ""
        #: whether the pieces shown are chosen anew, to be fitted
        self.anew = False
        self.unit: UnitStack | None = None
        self.side = SideView(theme)
        self.side.picked.connect(self._choose_ear)
        self.stands, self.needs = heading("plain"), heading("plain")
        self.bolt, self.pull, self.refusal = heading("faded"), heading("faded"), heading("stop")
        self._fields: list[tuple[QuantityField, Callable[[Boss, Ear, Stack], float | None]]] = []
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(8)
        for widget in (self.side, self.stands, self.needs):
            column.addWidget(widget)
        column.addLayout(self._buttons())
        column.addWidget(self.bolt)
        column.addWidget(self.pull)
        column.addWidget(self.refusal)
        self._form = QWidget()
        self._lines = FieldLines(self._form)
        column.addWidget(self._form)
        self._make_form()
        caution = heading("faded")
        caution.setText(_CAUTION)
        column.addWidget(caution)
        column.addStretch(1)
        self.column.addWidget(scrolled(inside), 1)
        session.readings_changed.connect(self.refresh)
        session.selection_changed.connect(self._begin)
        session.replaced.connect(self._begin)

    # what it is made of

    def _buttons(self) -> QVBoxLayout:
        column = QVBoxLayout()
        self.propose = self._button("Choose from the shelf", self._choose_anew)
        self.fit = self._button("Fit these pieces", self.fit_pieces)
        self.add = self._button("Add an ear", self._add_ear)
        self.remove = self._button("Take this ear away", self._remove_ear)
        for pair in ((self.propose, self.fit), (self.add, self.remove)):
            row = QHBoxLayout()
            for button in pair:
                row.addWidget(button)
            row.addStretch(1)
            column.addLayout(row)
        return column

    def _button(self, text: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("act")
        button.clicked.connect(lambda _=False: act())
        return button

    def _make_form(self) -> None:
        self.ear = ElidedChoice("Ear")
        self.ear.activated.connect(lambda _k: self._choose_ear(str(self.ear.currentData())))
        self._lines.add_line("Ear", self.ear)
        self.piece = ElidedChoice("Piece of the shelf")
        row = QHBoxLayout()
        row.addWidget(self.piece, 1)
        self.put = self._button("Put in", lambda: self._put(1))
        self.take = self._button("Take out", lambda: self._put(-1))
        row.addWidget(self.put)
        row.addWidget(self.take)
        self._lines.add_line("Piece", self.piece, row)
        self._boss_line("Boss face", "z_mm", "How far forward the boss's face stands")
        self._stays_line()
        self._ear_line("To groove", "to_groove_mm", "From the ear's face to the groove, forward")
        self._ear_line("Ear", "ear_mm", "How thick the ear is")
        self.sits = self._choice("Sits", _SIDES, lambda b, key: self._with_ear(b, side=key))
        for axis in (0, 1):
            self._place_line(axis)
        self.thread_name = TextField("Thread of the boss, as M10x1.5 or 3/8-16")
        self.thread_name.committed.connect(self._thread_typed)
        self.thread_name.refused.connect(self._refuse)
        self._lines.add_line("Thread", self.thread_name)
        self._boss_line("Depth", "thread_depth_mm", "Depth of full thread")
        self.material = self._choice(
            "In", _MATERIALS, lambda b, key: set_boss(b, self._boss(b).id, material=key)
        )
        self.of_shelf = ElidedChoice("Bolt of the shelf")
        self.of_shelf.activated.connect(
            lambda _k: self._take(
                "bolt",
                lambda b: self._with_ear(b, bolt=str(self.of_shelf.currentData() or "") or None),
            )
        )
        self._lines.add_line("Bolt", self.of_shelf)
        self._ear_line("Torque", "torque_nm", "The torque it is tightened with, your own", TORQUE)
        self._number(
            "Wanted plane",
            LENGTH,
            "Plane the groove should stand in; empty for in line with its neighbours",
            lambda _b, _e, stack: stack.wanted_plane_mm,
            lambda b, mm: set_stack(b, self._shaft, wanted_plane_mm=mm),
        )

    def _choice(
        self, word: str, options: tuple[tuple[str, str], ...], put: Callable[[Build, str], Build]
    ) -> ElidedChoice:
        choice = ElidedChoice(word)
        for text, key in options:
            choice.addItem(text, key)
        choice.activated.connect(
            lambda _k: self._take(word.lower(), lambda b: put(b, str(choice.currentData())))
        )
        self._lines.add_line(word, choice)
        return choice

    def _number(
        self,
        word: str,
        quantity: Quantity,
        spoken: str,
        value: Callable[[Boss, Ear, Stack], float | None],
        put: Take,
    ) -> None:
        field = QuantityField(spoken, quantity)
        field.refused.connect(self._refuse)
        field.committed.connect(
            lambda mm: self._take_for(field, word.lower(), lambda b: put(b, mm))
        )
        self._lines.add_line(word, field)
        self._fields.append((field, value))

    def _boss_line(self, word: str, key: str, spoken: str) -> None:
        self._number(
            word, LENGTH, spoken,
            lambda boss, _e, _s: getattr(boss, key),
            lambda b, mm: set_boss(b, self._boss(b).id, **{key: mm}),
        )  # fmt: skip

    def _ear_line(self, word: str, key: str, spoken: str, quantity: Quantity = LENGTH) -> None:
        self._number(
            word, quantity, spoken,
            lambda _b, ear, _s: getattr(ear, key),
            lambda b, value: self._with_ear(b, **{key: value}),
        )  # fmt: skip

    def _place_line(self, axis: int) -> None:
        word = ("Boss right", "Boss up")[axis]

        def put(build: Build, mm: float) -> Build:
            at = list(self._boss(build).at_mm)
            at[axis] = mm
            return set_boss(build, self._boss(build).id, at_mm=tuple(at))

        spoken = f"Place of the boss {('to the right', 'upwards')[axis]}, in the front view"
        self._number(word, LENGTH, spoken, lambda boss, _e, _s: boss.at_mm[axis], put)

    def _stays_line(self) -> None:
        self._number(
            "Bracket", LENGTH, "What stays between boss and ear, as a bracket",
            lambda _b, ear, _s: sum(stay.thickness_mm for stay in ear.stays),
            lambda b, mm: set_stays(b, self._shaft, self._ear, max(mm, 0.0)),
        )  # fmt: skip

    # what it shows

    @property
    def _stack(self) -> Stack | None:
        return self._session.build.find_stack(self._shaft)

    def _boss(self, build: Build) -> Boss:
        stack = build.find_stack(self._shaft)
        assert stack is not None
        boss = build.find_boss(stack.ear(self._ear).boss)
        assert boss is not None
        return boss

    def _with_ear(self, build: Build, **changes: object) -> Build:
        return set_ear(build, self._shaft, self._ear, **changes)

    def _begin(self) -> None:
        """Another part is selected: look at its stacks, with the pieces it has."""
        self.anew = False
        self.refresh()

    def open(self) -> None:
        """Begin with what is selected; called once the card is in sight."""
        self._begin()
        (self.propose if self.propose.isEnabled() else self.add).setFocus()

    def refresh(self) -> None:
        """Show the unit of the present build, if the card is in sight."""
        if not self.isVisible():
            return
        build = self._session.build
        shaft = shaft_of(build, self._session.selection)
        if shaft is None or (
            build.find_stack(shaft) is None and build.shaft(shaft).kind == "crank"
        ):
            shaft = build.stacks[0].shaft if build.stacks else None
        self._shaft = shaft or ""
        stack = self._stack
        ears = [] if stack is None else [ear.id for ear in stack.ears]
        if self._ear not in ears:
            self._ear = ears[0] if ears else ""
        label = "" if shaft is None else build.shaft(shaft).label if self._has(shaft) else shaft
        self.title.setText(f"Stacks of {label}" if label else "Stacks")
        told = None
        if stack is not None and not self._session.is_read_only:
            anew = {self._shaft} if self.anew else ()
            told = tell_line_up(build, self._session.results, self._session.catalogue, anew)
        self._show_told(told)
        self._show_form(build, stack)
        editable = bool(shaft) and self._has(shaft or "") and not self._session.is_read_only
        self.add.setEnabled(editable)
        self.remove.setEnabled(editable and bool(self._ear))
        self.propose.setEnabled(self.unit is not None and bool(ears) and not self.anew)
        proposed = self.unit is not None and any(ear.proposed for ear in self.unit.ears)
        elsewhere = self.unit is not None and self.unit.is_elsewhere
        self.fit.setText("Fit these pieces" if proposed or not elsewhere else "Move it there")
        made = self.unit is not None and all(ear.pieces is not None for ear in self.unit.ears)
        self.fit.setEnabled((proposed or elsewhere) and made and editable)

    def _has(self, shaft: str) -> bool:
        return any(one.id == shaft for one in self._session.build.shafts)

    def _show_told(self, told: ToldLineUp | None) -> None:
        build = self._session.build
        units = () if told is None else told.stacks
        self.unit = next((unit for unit in units if unit.stack.shaft == self._shaft), None)
        unit = self.unit
        lines = (self.stands, self.needs, self.bolt, self.pull)
        if unit is None or told is None:
            says = "Select an accessory, then add its ears one after another."
            self.side.show_stack(None, says, "", ("", ""))
            for line in lines:
                line.setText("")
            return
        bolts = {ear.ear.id: b for shaft, ear, b in told.bolts if shaft == self._shaft}
        drawn = stack_view(build, unit, bolts)
        planes = ("", "")
        if unit.wanted_mm is not None and unit.plane_mm is not None:
            planes = (
                f"wanted {length(build, unit.wanted_mm)}",
                f"stands {length(build, unit.plane_mm)}",
            )
        self.side.show_stack(drawn, sentence(unit.problem), self._ear, planes)
        said = unit_words(build, unit)
        if self._shaft in dict(told.stood):
            said = f"{said}; {stood_words(dict(told.stood)[self._shaft])}"
        self.stands.setText(together(sentence(said)))
        ears = [together(sentence(ear_words(build, ear))) for ear in unit.ears]
        self.needs.setText("\n".join(ears))
        own = bolts.get(self._ear)
        chosen = next((ear for ear in unit.ears if ear.ear.id == self._ear), None)
        bolt = "" if own is None or chosen is None else bolt_words(build, own)
        self.bolt.setText(together(f"{chosen.boss.label}: {bolt}.") if bolt and chosen else "")
        pull = "" if unit.problem else pull_words(build, self._shaft, dict(told.pull)[self._shaft])
        self.pull.setText(together(sentence(pull)) if pull else "")

    def _show_form(self, build: Build, stack: Stack | None) -> None:
        ears = () if stack is None else stack.ears
        self._form.setVisible(bool(ears))
        if stack is None or not ears:
            return
        ear = stack.ear(self._ear)
        boss = build.find_boss(ear.boss)
        self.ear.clear()
        for one in ears:
            own = build.find_boss(one.boss)
            self.ear.addItem(one.id if own is None else own.label, one.id)
        self.ear.setCurrentIndex([one.id for one in ears].index(self._ear))
        if boss is None:
            return
        for field, value in self._fields:
            quantity = field.quantity
            unit = quantity.shown(build.display_units)
            field.show_value(value(boss, ear, stack), unit, 2, of=(self._shaft, self._ear))
        self.thread_name.show_text(boss.thread, of=(self._shaft, self._ear))
        self.sits.setCurrentIndex(self.sits.findData(ear.side))
        self.material.setCurrentIndex(self.material.findData(boss.material))
        self._offer(build, ear)

    def _offer(self, build: Build, ear: Ear) -> None:
        """The pieces and bolts of the shelf that go with this ear."""
        rules, thread = self._session.catalogue.stacks, bolt_thread(build, ear)
        before = self.piece.currentData()
        self.piece.clear()
        for part in pieces_on(build):
            if fits_bolt(part, thread, rules):
                self.piece.addItem(part.label, part.id)
        self.piece.setCurrentIndex(max(self.piece.findData(before), 0))
        for button in (self.put, self.take):
            button.setEnabled(self.piece.count() > 0)
        self.of_shelf.clear()
        self.of_shelf.addItem("–", "")
        for part in build.shelf:
            if part.kind == "bolt":
                self.of_shelf.addItem(part.label, part.id)
        self.of_shelf.setCurrentIndex(max(self.of_shelf.findData(ear.bolt or ""), 0))

    # what it does

    def _take(self, what: str, change: Callable[[Build], Build]) -> str:
        """Take over a change of the build; returns why it is refused, which it says, or ""."""
        try:
            build = change(self._session.build)
        except JovialTackError as error:
            self.refusal.setText(sentence(str(error)))
            return str(error)
        self.refusal.setText("")
        self._session.edit(f"{what} of a stack", build)
        return ""

    def _take_for(self, field: TypedField, what: str, change: Callable[[Build], Build]) -> None:
        """Take over what was typed in a field for an ear, whichever is looked at by now."""
        shown, typed_for = (self._shaft, self._ear), field.of
        if not isinstance(typed_for, tuple) or not self._is_there(*typed_for):
            return
        self._shaft, self._ear = typed_for
        refused = self._take(what, change)
        if typed_for != shown:
            self._shaft, self._ear = shown
        if refused:
            field.turn_down(refused)

    def _is_there(self, shaft: str, ear: str) -> bool:
        stack = self._session.build.find_stack(shaft)
        return stack is not None and any(one.id == ear for one in stack.ears)

    def _thread_typed(self, text: str) -> None:
        """Take over the name of a thread, if it is one."""
        why = thread_problem(text)
        if why:
            self.refusal.setText(sentence(why))
            self.thread_name.turn_down(why)
            return
        self._take_for(
            self.thread_name,
            "thread",
            lambda b: set_boss(b, self._boss(b).id, thread=text or None),
        )

    def _refuse(self, text: str) -> None:
        """Say why something typed is not taken; nothing once it is put right."""
        self.refusal.setText(sentence(text) if text else "")

    def _choose_ear(self, ear: str) -> None:
        self._ear = ear
        self.refresh()

    def _choose_anew(self) -> None:
        self.anew = True
        self.refresh()
        self.fit.setFocus(Qt.FocusReason.OtherFocusReason)

    def fit_pieces(self) -> None:
        """Put the pieces that were chosen into the stacks, and the unit where they put it."""
        unit = self.unit
        if unit is None:
            return
        self.anew = False
        self.propose.setEnabled(True)
        self.propose.setFocus(
            Qt.FocusReason.OtherFocusReason
        )  # not the next button, which adds an ear
        self._take("pieces", lambda build: with_pieces(build, unit))

    def _put(self, more: int) -> None:
        part = str(self.piece.currentData() or "")
        if part:
            self.anew = False
            self._take("pieces", lambda b: put_piece(b, self._shaft, self._ear, part, more))

    def _add_ear(self) -> None:
        build, shaft = self._session.build, self._shaft
        plane = self._plane(build, shaft)
        x, y = build.shaft(shaft).center_mm
        stack = self._stack
        count = 0 if stack is None else len(stack.ears)
        aside, up = ((-40.0, -40.0), (40.0, -40.0), (0.0, 55.0))[count % 3]
        at = round(x + aside, 3), round(y + up, 3)
        like = None if stack is None or not stack.ears else stack.ears[-1]
        to_groove = _FIRST_EAR_MM if like is None else like.to_groove_mm
        try:
            build, ear = add_ear(build, shaft, at, round(plane - to_groove, 2), to_groove)
        except JovialTackError as error:
            self.refusal.setText(sentence(str(error)))
            return
        self._ear = ear
        self._session.edit("ear of a stack", build)

    def _plane(self, build: Build, shaft: str) -> float:
        planes = [
            pulley.plane_mm
            for drive in build.drives
            for pulley in drive.pulleys
            if pulley.shaft == shaft and pulley.plane_mm is not None
        ]
        return planes[0] if planes else _FIRST_EAR_MM

    def _remove_ear(self) -> None:
        self._take("ear", lambda b: remove_ear(b, self._shaft, self._ear))

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.side.set_theme(theme)
