"""One event, edited in place: which figures it has depends on its kind."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.logbook.words import KINDS, REASONS, USES
from jovial_tack.core.logbook.due import read_day
from jovial_tack.core.units import (
    ANGLE,
    COUNT,
    LENGTH,
    MONEY,
    TONE,
    Quantity,
)
from jovial_tack.core.words import capital
from jovial_tack.document.model import Build, Event
from jovial_tack.ui.logbook.book import Book
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.text import heading, plain
from jovial_tack.ui.widgets.typed import TextField, TypedField

_VERDICTS = (("fits", "it fits"), ("long", "too long"), ("short", "too short"), ("off", "came off"))
_RUBBERS = (("epdm", "newer rubber (EPDM)"), ("old", "older rubber"), ("unknown", "not known"))
_GAUGES = (("proud", "ribs proud of it"), ("level", "level with the ribs"), ("below", "below them"))
_AFTER = (("first", "after the first distance"), ("again", "once more"))
_MADE = (
    ("standard", "standard"), ("soft_grip", "soft grip"), ("low_stretch", "low stretch"),
    ("stretch", "stretch"),
)  # fmt: skip
_LOOKS = {
    "glaze": "Shiny", "black_dust": "Dust", "edge_frayed": "Frayed", "rib_torn": "Rib torn",
    "fluid_seen": "Fluid", "soft_or_swollen": "Soft",
}  # fmt: skip
#: The figures of each kind, in the order in which they are typed.
_OF_KIND: dict[str, tuple[str, ...]] = {
    "belt_tried": ("number", "effective_length_mm", "arm_angle_deg", "verdict", "cost", "currency"),
    "fitted": ("number", "construction", "cost", "currency"),
    "removed": ("reason",),
    "tension_check": ("span", "tone_hz", "arm_angle_deg", "after"),
    "inspection": ("material", "gauge", "rib_depth_mm", "cracks_in_75mm"),
    "cost": ("what", "cost", "currency"),
    "bearing": ("shaft", "cost", "currency"),
    "tensioner": ("cost", "currency"),
    "run": ("log", "onset_rpm"),
    "reading": ("value_mm",),
}


class EventForm(QWidget):
    """The event that is looked at; what is typed is taken at once."""

    def __init__(self, book: Book) -> None:
        super().__init__()
        self._book = book
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.title = heading("subheading")
        self.lines = FieldLines()
        self.refusal = heading("badfigure")
        self.refusal.hide()
        column.addWidget(self.title)
        column.addLayout(self.lines)
        self.seen = QWidget()
        grid = QGridLayout(self.seen)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        #: what is seen of a belt by looking at it, as findings of the noise finder
        self.looks: dict[str, QPushButton] = {}
        for place, (name, short) in enumerate(_LOOKS.items()):
            button = QPushButton(short)
            whole = capital(book.session.catalogue.faults.findings[name].words)
            button.setAccessibleName(whole)
            button.setToolTip(plain(whole))
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            button.setObjectName("choice")
            button.setCheckable(True)
            button.clicked.connect(lambda on, key=name: self._look(key, on))
            self.looks[name] = button
            grid.addWidget(button, place // 3, place % 3)
        column.addWidget(self.seen)
        column.addWidget(self.refusal)
        self._shows: list[Callable[[Event, Build], None]] = []
        self.fields: dict[str, QWidget] = {}
        self._use()
        self._text("note", "Note")
        self._text("at", "Day")
        self._choice("drive", "Drive", self._drives)
        self._text("number", "Number")
        self._quantity("effective_length_mm", "Effective", LENGTH)
        self._choice("construction", "Construction", lambda _b: _MADE)
        self._quantity("arm_angle_deg", "Arm at", ANGLE)
        self._choice("verdict", "It", lambda _b: _VERDICTS)
        self._choice("reason", "Because", lambda _b: tuple(REASONS.items()))
        self._choice("span", "Span from", self._spans)
        self._quantity("tone_hz", "Tone", TONE, 1)
        self._choice("after", "Checked", lambda _b: _AFTER)
        self._choice("material", "Rubber", lambda _b: _RUBBERS)
        self._choice("gauge", "Wear gauge", lambda _b: _GAUGES)
        self._quantity("rib_depth_mm", "Ribs deep", LENGTH, 2)
        self._quantity("cracks_in_75mm", "Cracks in 75 mm", COUNT, 0)
        self._text("what", "What")
        self._choice("shaft", "Bearing of", self._shafts, figure="what")
        self._quantity("cost", "Cost", MONEY)
        self._text("currency", "Currency")
        self._text("log", "Log")
        self._quantity("onset_rpm", "Slip from, rpm", COUNT, 0)
        self._quantity("value_mm", "Read", LENGTH)
        book.changed.connect(self.refresh)
        book.chosen_changed.connect(self.refresh)

    # what is offered

    def _drives(self, build: Build) -> Sequence[tuple[str, str]]:
        return [(drive.id, drive.label) for drive in build.drives]

    def _shafts(self, build: Build) -> Sequence[tuple[str, str]]:
        return [(shaft.id, shaft.label) for shaft in build.shafts]

    def _spans(self, build: Build) -> Sequence[tuple[str, str]]:
        event = self._book.chosen
        drive = None if event is None else build.find_drive(event.drive or "")
        if drive is None:
            return ()
        return [(p.id, build.shaft(p.shaft).label) for p in drive.pulleys if p.id in drive.route]

    # the fields

    def _add(self, name: str, word: str, widget: QWidget) -> None:
        widget.setAccessibleName(word)
        self.fields[name] = widget
        self.lines.add_line(word, widget)

    def _use(self) -> None:
        """The use it happened at, in the unit lives are counted in."""
        for unit, quantity in USES.items():
            self._quantity(unit, "At", quantity)

    def _quantity(
        self, name: str, word: str, quantity: Quantity, digits: int | None = None
    ) -> None:
        field = QuantityField(word, quantity)
        field.setMaximumWidth(150)
        whole = quantity is COUNT and name == "cracks_in_75mm"
        field.committed.connect(
            lambda value: self._change(field.of, **{name: round(value) if whole else value})
        )
        field.refused.connect(self.refuse)
        self._add(name, word, field)

        def show(event: Event, build: Build) -> None:
            unit = quantity.shown(build.display_units)
            more = None if digits is None else digits + (unit == "in")
            field.show_value(getattr(event, name), unit, more, of=event.id)

        self._shows.append(show)

    def _text(self, name: str, word: str) -> None:
        field = TextField(word, most=2000)
        field.committed.connect(lambda text: self._take_text(name, field, text))
        field.refused.connect(self.refuse)
        self._add(name, word, field)

        def show(event: Event, _build: Build) -> None:
            field.show_text(getattr(event, name) or "", of=event.id)

        self._shows.append(show)

    def _choice(
        self,
        name: str,
        word: str,
        offered: Callable[[Build], Sequence[tuple[str, str]]],
        figure: str = "",
    ) -> None:
        figure = figure or name
        box = QComboBox()
        box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        box.activated.connect(
            lambda _k: self._change(self._event_id, **{figure: box.currentData() or None})
        )
        self._add(name, word, box)

        def show(event: Event, build: Build) -> None:
            now = getattr(event, figure) or ""
            items = [("", "not told"), *offered(build)]
            if now not in [key for key, _ in items]:
                items.append((now, now))  # such as a drive that is gone
            if items != [(box.itemData(k), box.itemText(k)) for k in range(box.count())]:
                box.clear()
                for key, text in items:
                    box.addItem(text, key)
            box.setCurrentIndex(box.findData(now))

        self._shows.append(show)

    # what is shown and taken

    def refresh(self) -> None:
        """Show the event that is looked at."""
        event, build = self._book.chosen, self._book.session.build
        self.setVisible(event is not None)
        if event is None:
            return
        self.title.setText(capital(KINDS[event.kind]))
        self.seen.setVisible(event.kind == "inspection")
        for name, button in self.looks.items():
            button.setChecked(event.findings.get(name, False))
            button.setEnabled(not self._book.session.is_read_only)
        # every event has a day, a use, a drive if it is of one, and room for a note
        own = {*_OF_KIND.get(event.kind, ()), "note", "at", "drive", self._book.told.unit}
        editable = not self._book.session.is_read_only
        for name, widget in self.fields.items():
            self.lines.show_line(widget, shown=name in own)
            widget.setEnabled(editable)
        for show in self._shows:
            show(event, build)
        reasons = [f.reason for f in self.fields.values() if isinstance(f, TypedField) and f.reason]
        self.refuse(reasons[0] if reasons else "")

    def begin(self) -> None:
        """Have the use ready to be typed over; Return goes on to the note."""
        use = self.fields[self._book.told.unit]
        assert isinstance(use, QuantityField)
        use.setFocus()
        use.selectAll()

    @property
    def _event_id(self) -> str:
        """The event that is looked at; "" for none."""
        event = self._book.chosen
        return "" if event is None else event.id

    def _change(self, event_id: object, **figures: Any) -> None:
        """Change an event: the one that something was typed for, whichever is looked at by now."""
        refused = self._book.change(str(event_id), **figures)
        if event_id != self._event_id:
            return
        self.refuse(refused)
        if refused:
            for name in figures:
                field = self.fields.get(name)
                if isinstance(field, TypedField):
                    field.turn_down(refused)
        elif self._book.told.unit in figures:
            self.fields["note"].setFocus()

    def _look(self, finding: str, on: bool) -> None:
        """Say whether something is seen of the belt; what is not pressed was not looked at."""
        event = self._book.chosen
        if event is None:
            return
        findings = {name: seen for name, seen in event.findings.items() if name != finding}
        if on:
            findings[finding] = True
        self._change(event.id, findings=findings or None)

    def _take_text(self, name: str, field: TextField, text: str) -> None:
        if name == "at" and read_day(text) is None:
            field.turn_down(f"“{text}” is no day; a day is written as 2026-11-27.")
            self.refuse(field.reason)
            return
        self.refuse("")
        self._change(field.of, **{name: text or None})

    def refuse(self, text: str) -> None:
        """Say why something is not taken; nothing once it is put right."""
        self.refusal.setText(text)
        self.refusal.setVisible(bool(text))
