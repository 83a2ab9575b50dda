"""The page of the belt bench on tension by ear and by hand: the tone of a plucked span, or the torque
that twists it, and what that means.
"""

from __future__ import annotations

from contextlib import suppress

from PyQt6.QtWidgets import QComboBox, QSizePolicy

from jovial_tack.answers.belt.tone import Heard, from_tone, from_twist
from jovial_tack.answers.results import SpanResult
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import TONE, TORQUE
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.span_page import SpanPage
from jovial_tack.ui.session import Session

_CAUTION = "Engine off, key out, before the belt is plucked or twisted; fingers out of the pulleys."


class TonePage(SpanPage):
    """A tone is a tension, and so is a twist; beside it those of the least that holds and the most
    allowed.
    """

    name = "Tone"
    done_to_it = "plucked"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.found: Heard | None = None
        self.way = QComboBox()
        self.way.setAccessibleName("How the span is read")
        self.way.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.way.addItem("plucked, its tone", "tone")
        self.way.addItem("twisted a quarter turn, its torque", "twist")
        self.way.activated.connect(lambda _k: self.refresh())
        self.column.insertWidget(1, self.way)
        spoken = "The lowest tone of the span when plucked"
        self.tone = self.add_field("Tone", spoken, TONE, 80.0, 1)
        spoken = "The torque that twists the middle of the span by a quarter turn"
        self.twist = self.add_field("Torque", spoken, TORQUE, 1.0, 2)

    def what_was_read(self) -> dict[str, str | float] | None:
        """The tone or the twist, and the tension it means."""
        heard = self.found
        if heard is None:
            return None
        read = {"tension_n": round(heard.tension_n, 1)}
        if heard.twist_nm is None:
            read["tone_hz"] = round(heard.tone_hz, 2)
        else:
            read["twist_nm"] = round(heard.twist_nm, 4)
        return {"span": heard.span, **read}

    def begin_with(self, span: SpanResult, unit: str) -> None:
        """The tone and the twist of the layout as it is."""
        tone = None if span.tone_hz is None else round(span.tone_hz, 1)
        self.tone.show_value(tone, TONE.unit, 1)
        if tone is None:
            return
        build, catalogue = self._session.build, self._session.catalogue
        result = self._session.results.drive(self._along.drive)
        with suppress(GeometryError):
            found = from_tone(build, result, catalogue, tone_hz=tone, span=span.from_id)
            twist = None if found.set_to is None else found.set_to.twist_nm
            if twist is not None:
                self.twist.show_value(twist, TORQUE.shown(unit), 2)

    def refresh(self) -> None:
        """Tell the tension for the drive of the shop."""
        build, drive = self._session.build, self._along.drive
        self.found = None
        self.kept.show_of(drive)
        if self.drive_shown("there is no belt drive to listen to") is None:
            return
        result = self._session.results.drive(drive)
        self.follow_route(build, result)
        twisted, unit = self.way.currentData() == "twist", build.display_units
        self.show_line(self.tone, shown=not twisted)
        self.show_line(self.twist, shown=twisted)
        self.tone.show_in(TONE.unit, 1)
        self.twist.show_in(TORQUE.shown(unit), 2)
        span, catalogue = self.span.currentData(), self._session.catalogue
        try:
            if twisted:
                torque = self.twist.value or 0.0
                self.found = from_twist(build, result, catalogue, twist_nm=torque, span=span)
            else:
                tone = self.tone.value or 0.0
                self.found = from_tone(build, result, catalogue, tone_hz=tone, span=span)
        except GeometryError as error:
            self.tell_not(str(error))
            return
        self.show_text(*self.found.lines(build.display_units), caution=_CAUTION)
        self.kept.button.show()
