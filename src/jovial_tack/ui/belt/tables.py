"""Pages of the belt bench that ask no build: belt numbers, and toothed drives of two pulleys."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit, QPushButton

from jovial_tack.answers.belt.numbers import number_table
from jovial_tack.answers.belt.toothed import (
    Allowed,
    judged,
    other_belts,
    stiffness_of,
    toothed_json,
    toothed_table,
)
from jovial_tack.core.belt.numbers import read_number, why_not
from jovial_tack.core.belt.toothed import ToothedDrive
from jovial_tack.core.errors import BuildFileError, GeometryError
from jovial_tack.core.units import LENGTH, RATIO
from jovial_tack.document.edits.routes import fit_number
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.fields import QuantityField

_TIMING = (
    "A belt that jumps a tooth can wreck an engine whose valves stand in the pistons' way. The maker's"
    " procedure and a qualified engine builder's word come first."
)


class NumberPage(Page):
    """A belt number read as it is typed, and the same belt in other schemes."""

    name = "Number"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.text = QLineEdit()
        self.text.setAccessibleName("Belt number")
        self.text.setPlaceholderText("7PK1835, 5K683, 13425 …")
        self.text.textChanged.connect(lambda _t: self.refresh())
        self.fit_button = QPushButton("Fit it on the belt shown")
        self.fit_button.setObjectName("act")
        self.fit_button.clicked.connect(lambda _=False: self.fit())
        self.column.insertWidget(0, self.text)
        self.column.insertWidget(1, self.fit_button)

    def refresh(self) -> None:
        """Read what is typed."""
        text = self.text.text()
        readings = read_number(text)
        self.fit_button.setVisible(bool(readings) and bool(self._along.drive))
        if not readings:
            self.show_text(f"{why_not(text)[:1].upper()}{why_not(text)[1:]}.")
            return
        lines = number_table(readings).splitlines()
        self.show_text(*lines)

    def fit(self) -> None:
        """Fit the belt of the number on the drive that is looked at."""
        session, drive = self._session, self._along.drive
        if session.is_read_only or drive not in [d.id for d in session.build.drives]:
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
        for key, word, spoken, quantity, value, digits in (
            ("pitch", "Pitch", "Tooth pitch", LENGTH, 8.0, 2),
            ("driver", "Driver teeth", "Teeth of the driver", RATIO, 22.0, 0),
            ("driven", "Driven teeth", "Teeth of the driven pulley", RATIO, 44.0, 0),
            ("belt", "Belt teeth", "Teeth of the belt", RATIO, 100.0, 0),
            ("width", "Belt width", "Width of the belt", LENGTH, 30.0, 1),
            ("closer", "Centres closer by", "Line bore, or wear", LENGTH, 0.0, 2),
            ("clearance", "Tooth clearance", "Clearance of the teeth", LENGTH, 0.0, 2),
            ("allowed", "Play allowed, °", "Play allowed at the driven pulley", RATIO, 1.0, 2),
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
            values = toothed_json(drive, closer, None, _RISE_K, stiffness)
        except GeometryError as error:
            self.tell_not(str(error))
            return
        lines = [f"{line[:1].upper()}{line[1:]}." for line in toothed_table(values).splitlines()]
        allowed = Allowed(*(self._value(key) for key in _ALLOWED))
        lines += [f"{line[:1].upper()}{line[1:]}." for line in judged(drive, closer, allowed)]
        others = other_belts(drive)
        if others:
            lines.append(f"Over- and undersize belts: {', '.join(others)}.")
        self.show_text(*lines, caution=_TIMING)


_RISE_K = 70.0
_ALLOWED = ("allowed", "clearance", "end_play", "end_allowed")
