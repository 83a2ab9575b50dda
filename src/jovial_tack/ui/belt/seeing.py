"""The page of the belt bench that leads from where the adjuster is seen to what that means."""

from __future__ import annotations

from datetime import date

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QPushButton, QSizePolicy

from jovial_tack.answers.belt.as_seen import AsFitted, Seen, as_fitted, seen_verdict, slid_to
from jovial_tack.answers.fit_up.compare import span_to_hear
from jovial_tack.answers.fit_up.hypotheses import Reads
from jovial_tack.answers.results import ArmResult, FixedResult
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import ANGLE, LENGTH, PERCENT, TONE, format_length
from jovial_tack.document.edits.logbook import add_event
from jovial_tack.document.model import (
    SpringArmTensioner,
    Tensioner,
)
from jovial_tack.document.travel import stands_by_share
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.kept import Kept
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.causes import Read
from jovial_tack.ui.session import Session

_WAYS = (
    ("share", "pointer: share of the way between its marks"),
    ("apart", "pointer: so far past the mark, marks so far apart"),
    ("angle", "angle of the arm"),
)


class SeenPage(Page):
    """The belt, or the survey, that an arm or a shaft seen somewhere implies."""

    name = "As seen"
    why_wanted = pyqtSignal()

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.found: AsFitted | None = None
        self.way = QComboBox()
        self.way.setAccessibleName("How the arm is seen")
        self.way.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        for key, words in _WAYS:
            self.way.addItem(words, key)
        self.way.activated.connect(lambda _k: self.refresh())
        self.column.insertWidget(0, self.way)
        self.between = self.add_field(
            "Between marks", "From the wound mark, where a short belt rests it", PERCENT, 50.0
        )
        self.past = self.add_field("Past the mark", "How far past the wound mark", LENGTH, 10.0)
        self.apart = self.add_field("Marks apart", "How far the marks are apart", LENGTH, 20.0)
        self.arm = self.add_field("Arm seen at", "Angle the arm is seen at", ANGLE, 0.0)
        self.share = self.add_field("Seen at", "Share of its travel it is seen at", PERCENT, 50.0)
        spoken = "Tone of the longest span, where it was heard; 0 where it was not"
        self.tone = self.add_field("Tone, if heard", spoken, TONE, None)
        self.why = QPushButton("What is wrong if not? …")
        self.why.clicked.connect(lambda _=False: self.why_wanted.emit())
        self._shown_for = ""
        self.kept = Kept(session, "belt_tried", "Keep as tried: this belt, seen there")
        self.kept.wanted.connect(self.keep)
        self.kept.changed.connect(self.refresh)
        self.column.insertWidget(2, self.kept)
        self.column.insertWidget(3, self.why)

    def _seen(self, tensioner: object) -> Seen:
        """Where the adjuster is seen, by the way that is chosen."""
        if not isinstance(tensioner, SpringArmTensioner):
            return Seen(share=None if self.share.value is None else self.share.value / 100)
        way = self.way.currentData()
        if way == "angle":
            return Seen(arm_deg=self.arm.value)
        if way == "share":
            return Seen(share=None if self.between.value is None else self.between.value / 100)
        if self.past.value is None or not self.apart.value:
            raise GeometryError("how far past the wound mark, and how far the marks are apart")
        return Seen(share=self.past.value / self.apart.value)

    def read(self) -> Read | None:
        """What is seen, for its causes; None while nothing can be made of it."""
        self.refresh()
        drive, found = self._along.drive, self.found
        if found is None:
            return None
        build, result = self._session.build, self._session.results.drive(drive)
        if not result.spans:
            return None
        sprung = isinstance(build.drive(drive).tensioner, SpringArmTensioner)
        share = None if self.share.value is None else self.share.value / 100
        mark = found.arm_deg if sprung else share
        return Read(
            drive, span_to_hear(build, result).from_id, Reads(mark, self.tone.value or None)
        )

    def keep(self) -> None:
        """Enter the fitted belt as tried, with where the adjuster came to stand: one step to undo."""
        session, drive = self._session, self._along.drive
        model, found = session.build.find_drive(drive), self.found
        if session.is_read_only or model is None or found is None or model.tensioner is None:
            return
        length = model.belt.effective_length_mm
        if length is None:
            return
        profile, unit = session.catalogue.profiles[model.belt.profile], session.build.display_units
        sprung = isinstance(model.tensioner, SpringArmTensioner)
        share = None if self.share.value is None else min(max(self.share.value / 100, 0.0), 1.0)
        arm_deg = None if found.arm_deg is None else round(found.arm_deg, 2)
        build, _ = add_event(
            session.build,
            "belt_tried",
            date.today().isoformat(),
            drive=drive,
            number=profile.number(model.belt.ribs, length, unit),
            effective_length_mm=length,
            construction=model.belt.construction,
            arm_angle_deg=arm_deg,
            travel_share=None if sprung else share,
            verdict=seen_verdict(model.tensioner, arm_deg, slid_to(session.build, model, share)),
        )
        session.edit("keep a belt as tried", build)
        self.refresh()

    def refresh(self) -> None:
        """Explain where the adjuster is seen."""
        build, drive = self._session.build, self._along.drive
        self.kept.show_of(drive)
        self.found = None
        self.why.hide()
        model = self.drive_shown("there is no belt drive to look at")
        if model is None:
            return
        tensioner = model.tensioner
        if self._shown_for != drive:
            self._shown_for = drive
            self._begin()
        self._show_lines(tensioner)
        unit = build.display_units
        for field in (self.past, self.apart):
            field.show_in(unit)
        try:
            found = as_fitted(build, drive, self._session.catalogue, self._seen(tensioner))
        except GeometryError as error:
            self.tell_not(str(error))
            return
        self.found = found
        way = "longer" if found.off_mm > 0 else "shorter"
        message = (
            f"With the adjuster there the belt seems {format_length(found.implied_mm, unit)} effective,"
            f" {format_length(abs(found.off_mm), unit)} {way} than the one in the build; uncertain by"
            f" {format_length(found.sigma_mm, unit)}."
        )
        small = abs(found.off_mm) <= found.sigma_mm
        self.show_text(message, *(["That is no more than is uncertain."] if small else []))
        self.kept.button.show()
        self.why.show()

    def _begin(self) -> None:
        """Where the layout puts the adjuster: what is seen on the engine goes over it."""
        self.look_at()
        self.tone.show_value(None, TONE.unit)
        result = self._session.results.drive(self._along.drive).tensioner
        if isinstance(result, ArmResult):
            if result.arm_angle_deg is not None:
                self.arm.show_value(round(result.arm_angle_deg, 1), "°")
            if result.window_fraction is not None:
                share = result.window_fraction
                self.between.show_value(round(100 * share), "%")
                self.past.show_value(round(share * (self.apart.value or 0.0), 1), "mm")
        if isinstance(result, ArmResult) and result.travel_share is not None:
            self.share.show_value(round(100 * result.travel_share, 1), "%")
        if isinstance(result, FixedResult) and result.travel is not None:
            self.share.show_value(round(100 * result.travel.travel_fraction, 1), "%")

    def _show_lines(self, tensioner: Tensioner | None) -> None:
        sprung, way = isinstance(tensioner, SpringArmTensioner), self.way.currentData()
        self.way.setVisible(sprung)
        self.show_line(self.between, shown=sprung and way == "share")
        for field in (self.past, self.apart):
            self.show_line(field, shown=sprung and way == "apart")
        self.show_line(self.arm, shown=sprung and way == "angle")
        self.show_line(self.share, shown=stands_by_share(tensioner))
