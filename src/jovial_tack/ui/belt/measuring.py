"""The page of the belt bench that leads from a measurement to a belt."""

from __future__ import annotations

from contextlib import suppress
from datetime import date
from typing import cast

from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QComboBox, QSizePolicy

from jovial_tack.answers.belt.counter import asked_for
from jovial_tack.answers.belt.measured import (
    WAYS,
    Measured,
    Way,
    against_layout,
    from_measurement,
    reading_path,
)
from jovial_tack.answers.drive.judging import solvable_case
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import ANGLE, LENGTH, PERCENT, RATIO, format_length
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.logbook import add_event
from jovial_tack.document.model import Build, SpringArmTensioner, Tensioner
from jovial_tack.document.travel import notch_offset_deg, stands_by_share
from jovial_tack.drawing.measuring import measuring_line
from jovial_tack.drawing.shapes import Shape
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.kept import Kept
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.session import Session

_THICK = {"tape": 0.2, "string": 2.5, "rims": 2.5}


class MeasurePage(Page):
    """Any way of measuring leads to the belt to order, and beside it the trade's rule."""

    name = "Measure"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        limits = session.catalogue.limits
        self.found: Measured | None = None
        self.way = QComboBox()
        self.way.setAccessibleName("Way of measuring")
        self.way.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        for key, way in WAYS.items():
            self.way.addItem(way.title, key)
        self.way.activated.connect(lambda _k: self.choose_way())
        self.column.insertWidget(0, self.way)
        self.reading = self.add_field("Reading", "What was read", LENGTH, 1600.0)
        self.teeth = self.add_field("Teeth", "Teeth counted", RATIO, 120.0, 0)
        self.thick = self.add_field("Thickness", "Thickness of the tape or string", LENGTH, 0.2)
        self.arm = self.add_field("Arm held at", "Angle the arm was held at", ANGLE, 0.0)
        self.share = self.add_field("Held at", "Share of its travel it was held at", PERCENT, 50.0)
        self.allowance = self.add_field(
            "Trade allows",
            "The trade's allowance for a slack arm",
            LENGTH,
            limits.slack_arm_allowance_mm,
        )
        self._shown_for = ""
        self.kept = Kept(session, "reading", "Keep this reading")
        self.kept.wanted.connect(self.keep)
        self.kept.changed.connect(self.refresh)
        self.column.insertWidget(2, self.kept)

    @property
    def read_of(self) -> tuple[str, ...]:
        """The drive and the way of measuring."""
        return self._along.drive, str(self.way.currentData())

    def choose_way(self) -> None:
        """Begin with the way that is chosen."""
        way = str(self.way.currentData())
        unit = self._session.build.display_units
        self.look_at()
        self.thick.show_value(_THICK.get(way, 0.0), unit)
        self._begin(way)
        self.refresh()

    def _begin(self, way: str) -> None:
        """The reading the layout as drawn would give: what is read off the engine goes over it."""
        build, drive = self._session.build, self._along.drive
        if build.find_drive(drive) is None:
            return  # there is no belt to measure for
        result = self._session.results.drive(drive)
        reading = {
            "flat": result.cord_length_mm,
            "outside": result.back_length_mm,
            "fixture": build.drive(drive).belt.effective_length_mm,
        }.get(way)
        if way in _THICK:
            try:
                reading = from_measurement(
                    build,
                    drive,
                    self._session.catalogue,
                    cast(Way, way),
                    1000.0,
                    thick_mm=self.thick.value or 0.0,
                    held_at=self._held_at(build, drive),
                ).expected_mm
            except GeometryError:
                reading = None
        self.reading.show_value(None if reading is None else round(reading, 1), build.display_units)

    def _held_at(self, build: Build, drive: str) -> float | None:
        """Where the adjuster was held: degrees of an arm, a share of a travel."""
        tensioner = build.drive(drive).tensioner
        if isinstance(tensioner, SpringArmTensioner):
            return self.arm.value
        if stands_by_share(tensioner) and self.share.value is not None:
            return self.share.value / 100
        return None

    def refresh(self) -> None:
        """Convert the reading for the drive of the shop."""
        build, drive, way = self._session.build, self._along.drive, str(self.way.currentData())
        self.found = None
        self._along.show_reading(None)
        self.kept.show_of(drive)
        if self.drive_shown("there is no belt drive to measure for") is None:
            return
        if self._shown_for != drive:
            self._start_from(build, drive)
        held = way not in ("fixture", "teeth")
        self._show_lines(build.drive(drive).tensioner, way, held=held)
        self._draw(build, drive, way)
        reading = self.teeth.value if way == "teeth" else self.reading.value
        try:
            self.found = from_measurement(
                build,
                drive,
                self._session.catalogue,
                cast(Way, way),
                reading or 0.0,
                thick_mm=(self.thick.value or 0.0) if way in _THICK else 0.0,
                held_at=self._held_at(build, drive) if held else None,
                allowance_mm=self.allowance.value,
            )
        except GeometryError as error:
            self.found = None
            self.show_text(f"{WAYS[cast(Way, way)].how.capitalize()}.")
            self.refuse(sentence(str(error)))
            return
        self._show_reading(self.found, build.display_units)
        self.kept.button.show()

    def _show_lines(self, tensioner: Tensioner | None, way: str, *, held: bool) -> None:
        """The lines that a way of measuring asks for; held: the place of the adjuster matters to it."""
        sprung = isinstance(tensioner, SpringArmTensioner)
        locked = stands_by_share(tensioner)
        self.show_line(self.reading, shown=way != "teeth")
        self.show_line(self.teeth, shown=way == "teeth")
        self.show_line(self.thick, shown=way in _THICK)
        self.show_line(self.arm, shown=sprung and held)
        self.show_line(self.share, shown=locked and held)
        self.show_line(self.allowance, shown=sprung and way in _THICK)

    def _start_from(self, build: Build, drive: str) -> None:
        """Begin with the reading and the place of the layout as it is."""
        self._shown_for = drive
        unit = build.display_units
        for field in (self.thick, self.allowance):
            field.show_in(unit)
        arm = build.drive(drive).tensioner
        if isinstance(arm, SpringArmTensioner):
            window = arm.window_deg or arm.stops_deg
            middle = sum(window) / 2 + notch_offset_deg(arm)
            self.arm.show_value(round(middle, 1), "°")
        self._begin(str(self.way.currentData()))

    def hideEvent(self, event: QHideEvent | None) -> None:
        """The line drawn over the layout goes with the page."""
        self._along.overlay_wanted.emit(())
        self._along.show_reading(None)

    def _draw(self, build: Build, drive: str, way: str) -> None:
        """Draw over the layout what the tape or string is laid on, the adjuster as it is held."""
        line: tuple[Shape, ...] = ()
        if way in _THICK and self.isVisible():
            with suppress(GeometryError):
                case = solvable_case(build, drive, self._session.catalogue)
                thick, held = self.thick.value or 0.0, self._held_at(build, drive)
                line = measuring_line(reading_path(case, cast(Way, way), thick, held))
        self._along.overlay_wanted.emit(line)

    def _show_reading(self, found: Measured, unit: str) -> None:
        build, choice = self._session.build, self._along.choice
        drive = build.drive(self._along.drive)
        lines = [f"{WAYS[found.way].how.capitalize()}.", ""]
        lines += [sentence(step) for step in found.steps]
        order, sigma = format_length(found.order_mm, unit), format_length(found.sigma_mm, unit)
        lines += ["", f"Belt to order: {order} effective, uncertain by {sigma}."]
        if choice is not None and choice.drive == drive.id:
            asked = asked_for(choice, drive, self._session.catalogue, found.order_mm, unit)
            fitted = drive.belt.effective_length_mm
            against = against_layout(found, fitted, choice.uncertain_mm, unit)
            # what contradicts the build is not to be bought by: it says which is nearest, no more
            lines += [f"{'Nearest stocked' if against else 'Ask for'}: {asked}."] if asked else []
            lines += ["", sentence(against)] if against else []
        if found.trade_mm is not None:
            trade = format_length(found.trade_mm, unit)
            verdict = "it fits too" if found.trade_fits else "outside the window: it costs a belt"
            lines += ["", f"The trade's rule would take {trade}: {verdict}."]
        self.show_text(*lines)
        self._along.show_reading(found.order_mm, found.sigma_mm)

    def keep(self) -> None:
        """Enter the reading in the logbook, with today's date: one step to undo."""
        session, found = self._session, self.found
        if found is None or session.is_read_only:
            return
        teeth = round(found.reading_mm) if found.way == "teeth" else None
        build, _ = add_event(
            session.build,
            "reading",
            date.today().isoformat(),
            drive=self._along.drive,
            way=found.way,
            value_mm=None if teeth else round(found.reading_mm, 3),
            teeth=teeth,
            thick_mm=self.thick.value if found.way in _THICK else None,
            sd_mm=round(found.sigma_mm, 3),
        )
        session.edit("keep a reading", build)
        self.refresh()
