"""Pages of the belt bench that ask no build: belt numbers, and toothed drives of two pulleys."""

from __future__ import annotations

from typing import cast

from PyQt6.QtWidgets import QComboBox, QPushButton, QSizePolicy

from jovial_tack.answers.belt.counter import (
    CounterWay,
    at_the_counter,
    counter_lines,
    from_belts_tried,
    is_of_belts_tried,
    profiles_of,
    worn_number,
)
from jovial_tack.answers.belt.measured import WAYS
from jovial_tack.answers.belt.numbers import number_table
from jovial_tack.answers.belt.toothed import (
    Allowed,
    judged,
    other_belts,
    stiffness_of,
    toothed_answer,
    toothed_table,
    usual_play,
)
from jovial_tack.catalogue import Profile
from jovial_tack.core.belt.numbers import read_number, why_not
from jovial_tack.core.belt.toothed import ToothedDrive
from jovial_tack.core.errors import BuildFileError, GeometryError
from jovial_tack.core.units import LENGTH, RATIO, format_length
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.routes import fit_number
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.typed import TextField

_TIMING = (
    "A belt that jumps a tooth can wreck an engine whose valves stand in the pistons' way. The maker's"
    " procedure and a qualified engine builder's word come first."
)


class NumberPage(Page):
    """At the counter: a number read as it is typed, “?” for a digit worn off, or one reading of a belt
    or of pulleys; what to ask for, in every scheme. It needs no layout.
    """

    name = "Number"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.way = _choice("What is known of the belt")
        self.way.addItem("a belt number", "number")
        self.way.addItem("its length as sold", "length")
        for key, way in WAYS.items():
            self.way.addItem(way.title, key)
        self.way.activated.connect(lambda _k: self.refresh())
        self.text = TextField("Belt number", draft=True, most=2000)
        self.text.setPlaceholderText("7PK1835, 6PK18?5, or: 6PK1610 short, 6PK1625 long")
        self.text.textChanged.connect(lambda _t: self.refresh())
        self.fit_button = QPushButton("Fit it on the belt shown")
        self.fit_button.setObjectName("act")
        self.fit_button.clicked.connect(lambda _=False: self.fit())
        self.column.insertWidget(0, self.way)
        self.column.insertWidget(1, self.text)
        self.column.insertWidget(2, self.fit_button)
        self.profile = _choice("Kind of belt")
        self.profile.addItem("by its ribs", "ribs")
        self.profile.addItem("by its top width", "width")
        for name in session.catalogue.profiles:
            self.profile.addItem(name, name)
        self.profile.activated.connect(lambda _k: self.refresh())
        self.add_line("Kind", self.profile)
        self.reading = self.add_field("Reading", "What was read", LENGTH, 1435.0)
        self.teeth = self.add_field("Teeth", "Teeth counted", RATIO, 130.0, 0)
        self.ribs = self.add_field("Ribs", "Ribs counted", RATIO, 6.0, 0)
        self.top_width = self.add_field(
            "Width", "Top width, or that of a toothed belt", LENGTH, 10.0
        )
        self.thick = self.add_field("Thickness", "Thickness of the tape or string", LENGTH, 0.2)
        self.back = self.add_field("On the back", "Pulleys on the belt's back", RATIO, 0.0, 0)
        self._unit = session.build.display_units
        session.build_changed.connect(self._follow_units)

    def _follow_units(self) -> None:
        """Tell it in the build's units, also where there is no belt that would have changed."""
        unit = self._session.build.display_units
        if unit != self._unit:
            self._unit = unit
            if self.isVisible():
                self.refresh()

    def refresh(self) -> None:
        """Read what is typed."""
        way = str(self.way.currentData())
        self._show_lines(way)
        if way == "number":
            self._read_number()
            return
        self.fit_button.hide()
        unit = self._session.build.display_units
        for field in (self.reading, self.top_width, self.thick):
            field.show_in(unit)
        reading = self.teeth.value if way == "teeth" else self.reading.value
        try:
            found = [
                at_the_counter(
                    self._session.catalogue,
                    kind,
                    cast(CounterWay, way),
                    reading or 0.0,
                    thick_mm=self.thick.value or 0.0,
                    on_the_back=_whole(self.back),
                    unit=unit,
                )
                for kind in self._kinds()
            ]
        except GeometryError as error:
            self.tell_not(str(error))
            return
        lines: list[str] = []
        for each in found:
            lines += [each.profile] if len(found) > 1 else []
            lines += counter_lines(each, unit)
        self.show_text(*lines)

    def _show_lines(self, way: str) -> None:
        """Only what a way of reading asks for."""
        typed, kind = way == "number", str(self.profile.currentData())
        profile = self._session.catalogue.profiles.get(kind)
        section = profile.section if profile is not None else ""
        self.text.setVisible(typed)
        self.show_line(self.profile, shown=not typed)
        self.show_line(self.reading, shown=not typed and way != "teeth")
        self.show_line(self.teeth, shown=way == "teeth")
        self.show_line(self.ribs, shown=not typed and (kind == "ribs" or section == "ribbed"))
        self.show_line(
            self.top_width, shown=not typed and (kind == "width" or section == "toothed")
        )
        self.show_line(self.thick, shown=way in _TAPES)
        self.show_line(self.back, shown=way in _TAPES)

    def _kinds(self) -> tuple[tuple[Profile, int], ...]:
        kind, width = str(self.profile.currentData()), self.top_width.value
        if kind == "width":
            return profiles_of(self._session.catalogue, None, width, None)
        named = None if kind == "ribs" else kind
        return profiles_of(self._session.catalogue, _whole(self.ribs), width, named)

    def _read_number(self) -> None:
        text, unit = self.text.text(), self._session.build.display_units
        if "?" in text:
            self.fit_button.hide()
            try:
                belts = worn_number(self._session.catalogue, text)
            except GeometryError as error:
                self.tell_not(str(error))
                return
            told = [f"{b.number}: {format_length(b.effective_length_mm, unit)}" for b in belts]
            self.show_text("It may have been one of these, by their effective lengths.", *told)
            return
        if is_of_belts_tried(text):
            self.fit_button.hide()
            try:
                found = from_belts_tried(self._session.catalogue, text, unit)
            except GeometryError as error:
                self.tell_not(str(error))
                return
            self.show_text(found.width, *counter_lines(found, unit))
            return
        readings = read_number(text)
        self.fit_button.setVisible(bool(readings) and bool(self._along.drive))
        if not readings:
            self.show_text(sentence(why_not(text)))
            return
        self.show_text(*number_table(readings).splitlines())

    def fit(self) -> None:
        """Fit the belt of the number on the drive that is looked at."""
        session, drive = self._session, self._along.drive
        if session.is_read_only or session.build.find_drive(drive) is None:
            return
        try:
            build = fit_number(session.build, drive, self.text.text(), session.catalogue)
        except BuildFileError as error:
            self.refuse(f"This needs {error.expected}.")
            return
        session.edit(f"fit {self.text.text().strip()}", build)


class ToothedPage(Page):
    """Centre distance, mesh, play and heat of a toothed drive of two pulleys."""

    name = "Toothed"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.fields: dict[str, QuantityField] = {}
        most = session.catalogue.limits.cam_play_high_deg
        for key, word, spoken, quantity, value, digits in (
            ("pitch", "Pitch", "Tooth pitch", LENGTH, 8.0, 2),
            ("driver", "Driver teeth", "Teeth of the driver", RATIO, 22.0, 0),
            ("driven", "Driven teeth", "Teeth of the driven pulley", RATIO, 44.0, 0),
            ("belt", "Belt teeth", "Teeth of the belt", RATIO, 100.0, 0),
            ("width", "Belt width", "Width of the belt", LENGTH, 30.0, 1),
            ("closer", "Centres closer by", "Line bore, or wear", LENGTH, 0.0, 2),
            ("clearance", "Tooth clearance", "Clearance of the teeth", LENGTH, 0.0, 2),
            ("allowed", "Play allowed, °", "Play allowed at the driven pulley", RATIO, most, 2),
            ("end_play", "End play", "End play of the shaft, measured", LENGTH, 0.15, 2),
            ("end_allowed", "End play allowed", "Most end play allowed", LENGTH, 0.3, 2),
        ):
            self.fields[key] = self.add_field(word, spoken, quantity, value, digits)

    def _value(self, key: str) -> float:
        return self.fields[key].value or 0.0

    def refresh(self) -> None:
        """Work the drive out."""
        pitch, closer = self._value("pitch"), self._value("closer")
        counts = [self._value(key) for key in ("driver", "driven", "belt")]
        try:
            if any(count != round(count) for count in counts):
                raise GeometryError("counts of teeth are whole")
            drive = ToothedDrive(pitch, *(round(count) for count in counts))
            stiffness = stiffness_of(self._session.catalogue, pitch, self._value("width"))
            answer = toothed_answer(drive, closer, None, _RISE_K, stiffness)
        except GeometryError as error:
            self.tell_not(str(error))
            return
        lines = [sentence(line) for line in toothed_table(answer).splitlines()]
        allowed = Allowed(*(self._value(key) for key in _ALLOWED))
        lines += [sentence(line) for line in judged(drive, closer, allowed)]
        usual = usual_play(self._session.catalogue.limits)
        lines.append(sentence(usual))
        others = other_belts(drive)
        if others:
            lines.append(f"Over- and undersize belts: {', '.join(others)}.")
        self.show_text(*lines, caution=_TIMING)


_RISE_K = 70.0
_ALLOWED = ("allowed", "clearance", "end_play", "end_allowed")


#: Ways in which something is laid round the pulleys.
_TAPES = ("tape", "string", "rims")


def _choice(spoken: str) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(spoken)
    box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
    return box


def _whole(field: QuantityField) -> int:
    value = field.value or 0.0
    if value != round(value) or not 0 <= value <= 30:
        raise GeometryError("counts are whole, from 0 to 30")
    return round(value)
