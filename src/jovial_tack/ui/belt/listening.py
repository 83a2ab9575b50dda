"""The page of the belt bench on tension by ear: the tone of a plucked span, and what it means."""

from __future__ import annotations

from jovial_tack.answers.belt.tone import Heard, from_tone
from jovial_tack.answers.results import SpanResult
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import TONE
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.span_page import SpanPage
from jovial_tack.ui.session import Session

_CAUTION = "Pluck with the engine off and the key out only; fingers out of the pulleys."


class TonePage(SpanPage):
    """A tone is a tension; beside it the tones of the least that holds and the most allowed."""

    name = "Tone"
    done_to_it = "plucked"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.found: Heard | None = None
        spoken = "The lowest tone of the span when plucked"
        self.tone = self.add_field("Tone", spoken, TONE, 80.0, 1)

    def what_was_read(self) -> dict[str, str | float] | None:
        """The tone, and the tension it means."""
        heard = self.found
        if heard is None:
            return None
        read = {"tone_hz": round(heard.tone_hz, 2), "tension_n": round(heard.tension_n, 1)}
        return {"span": heard.span, **read}

    def begin_with(self, span: SpanResult, unit: str) -> None:
        """The tone of the layout as it is."""
        tone = None if span.tone_hz is None else round(span.tone_hz, 1)
        self.tone.show_value(tone, TONE.unit, 1)

    def refresh(self) -> None:
        """Tell the tension for the drive of the shop."""
        build, drive = self._session.build, self._along.drive
        self.found = None
        self.kept.show_of(drive)
        if self.drive_shown("there is no belt drive to listen to") is None:
            return
        result = self._session.results.drive(drive)
        self.follow_route(build, result)
        self.show_line(self.tone, shown=True)
        self.tone.show_value(self.tone.value, TONE.unit, 1)
        try:
            self.found = from_tone(
                build,
                result,
                self._session.catalogue,
                tone_hz=self.tone.value or 0.0,
                span=self.span.currentData(),
            )
        except GeometryError as error:
            self.tell_not(str(error))
            return
        self.show_text(*self.found.lines(build.display_units), caution=_CAUTION)
        self.kept.button.show()
