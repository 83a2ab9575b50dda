"""What all readings of a survey share: what stays, which way it lies, the stand, and the tools."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QPushButton, QWidget

from jovial_tack.answers.drive.surveyed import drawn_angle_deg, fixed_of, label_of
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import ANGLE, LENGTH
from jovial_tack.document.edits.survey import set_zero, with_survey
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField

_TOOLS = ("tape", "steel rule", "beam caliper", "level and rule", "plumb line")


class StandForm(QWidget):
    """Folded away until it is asked for. refuse: says why a figure is not taken."""

    def __init__(self, session: Session, refuse: Callable[[str], object]) -> None:
        super().__init__()
        self._session, self._refuse = session, refuse
        self._lines = FieldLines(self)
        self.fold = QPushButton("Stand and tools")
        self.fold.setObjectName("act")
        self.fold.setCheckable(True)
        self.fold.toggled.connect(lambda _on: self.refresh())
        self._lines.add_whole(self.fold)
        self.fixed = self._choice("Stays where it is drawn", "Stays")
        self.fixed.activated.connect(lambda k: self._set(fixed=self.fixed.itemData(k)))
        self.toward = self._choice("The direction is from it to", "Lies toward")
        self.toward.activated.connect(lambda _k: self._set_direction())
        self.angle = self._field("Angle of that direction from level", ANGLE, "at")
        self.angle.committed.connect(self._set_direction)
        self.level = self._field("How far the stand may be out of level", ANGLE, "Out of level ±")
        self.level.committed.connect(lambda v: self._set(level_sd_deg=v or None))
        self.tool = self._choice("Tool with a zero of its own", "Tool")
        for name in _TOOLS:
            self.tool.addItem(name, name)
        self.tool.activated.connect(lambda _k: self.refresh())
        self.zero = self._field(
            "What a worn hook or end may add, the same each time", LENGTH, "Hook ±"
        )
        self.zero.committed.connect(self._set_zero)

    def _choice(self, name: str, word: str) -> QComboBox:
        choice = ElidedChoice(name)
        self._lines.add_line(word, choice)
        return choice

    def _field(self, name: str, quantity: object, word: str) -> QuantityField:
        field = QuantityField(name, quantity)  # type: ignore[arg-type]
        field.refused.connect(self._refuse)
        self._lines.add_line(word, field)
        return field

    def refresh(self) -> None:
        """Show what the present survey shares."""
        build = self._session.build
        survey, fixed = build.survey, fixed_of(build) or ""
        for widget in self._lines.labels:
            self._lines.show_line(widget, shown=self.fold.isChecked())
        if not self.fold.isChecked():
            return
        names = [shaft.id for shaft in build.shafts] + [point.id for point in survey.points]
        direction = survey.direction
        toward = "" if direction is None else direction.shafts[1]
        _offer(self.fixed, [(label_of(build, name), name) for name in names], fixed)
        others = [(label_of(build, name), name) for name in names if name != fixed]
        _offer(self.toward, [("as drawn, or by the level", ""), *others], toward)
        self.angle.setEnabled(bool(toward))
        self.angle.show_value(None if direction is None else direction.angle_deg, "°")
        self.level.show_value(survey.level_sd_deg or 0.0, "°")
        tool = survey.instruments.get(str(self.tool.currentData()))
        zero = 0.0 if tool is None else tool.zero_sd_mm or 0.0
        self.zero.show_value(zero, LENGTH.shown(build.display_units))

    def _set(self, **changes: object) -> None:
        session = self._session
        try:
            session.edit("stand of the survey", with_survey(session.build, **changes))
        except BuildFileError as error:
            self._refuse(f"This needs {error.expected}.")

    def _set_direction(self, angle: float | None = None) -> None:
        toward, build = str(self.toward.currentData() or ""), self._session.build
        fixed = fixed_of(build)
        if not toward or fixed is None:
            self._set(direction=None)
            return
        if angle is None:  # as it is drawn, until it is typed
            angle = round(drawn_angle_deg(build, fixed, toward), 2)
        self._set(direction={"shafts": (fixed, toward), "angle_deg": angle})

    def _set_zero(self, value: float) -> None:
        session, tool = self._session, str(self.tool.currentData())
        try:
            session.edit(f"zero of the {tool}", set_zero(session.build, tool, value or None))
        except BuildFileError as error:
            self._refuse(f"This needs {error.expected}.")


def _offer(choice: QComboBox, offered: list[tuple[str, str]], chosen: str) -> None:
    choice.blockSignals(True)
    choice.clear()
    for label, name in offered:
        choice.addItem(label, name)
    choice.setCurrentIndex(max(choice.findData(chosen), 0))
    choice.blockSignals(False)
