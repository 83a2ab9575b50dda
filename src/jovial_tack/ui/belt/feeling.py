"""The page of the belt bench on tension by feel: a push at mid span, and what it means."""

from __future__ import annotations

from jovial_tack.answers.belt.feel import Felt, from_feel
from jovial_tack.answers.results import ArmResult, SpanResult
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import FORCE, LENGTH
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.span_page import SpanPage
from jovial_tack.ui.session import Session

_CAUTION = "Push with the engine off and the key out only."


class FeelPage(SpanPage):
    """A play under a push is a tension; beside it how the band of tensions feels at that span."""

    name = "Feel"
    done_to_it = "pushed"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.found: Felt | None = None
        self.play = self.add_field("Play", "How far the middle gave", LENGTH, 5.0)
        self.push = self.add_field("Push", "Force of the push", FORCE, 30.0, 1)

    def what_was_read(self) -> dict[str, str | float] | None:
        """Push and play, and the tension they mean."""
        felt = self.found
        if felt is None:
            return None
        read = {"push_n": round(felt.push_n, 2), "play_mm": round(felt.play_mm, 3)}
        return {"span": felt.span, **read, "tension_n": round(felt.tension_n, 1)}

    def begin_with(self, span: SpanResult, unit: str) -> None:
        """The feel of the layout as it is."""
        self.play.show_value(span.length_mm / 64, unit)
        push = None if span.push_n is None else round(span.push_n, 2)
        self.push.show_value(push, FORCE.shown(unit), 1)

    def refresh(self) -> None:
        """Tell the tension for the drive of the shop."""
        build, drive = self._session.build, self._along.drive
        self.found = None
        self.kept.show_of(drive)
        if self.drive_shown("there is no belt drive to feel") is None:
            return
        result = self._session.results.drive(drive)
        self.follow_route(build, result)
        self.play.show_in(build.display_units)
        self.push.show_in(FORCE.shown(build.display_units), 1)
        sprung = isinstance(result.tensioner, ArmResult)
        self.span.setVisible(not sprung)
        for field in (self.play, self.push):
            self.show_line(field, shown=not sprung)
        try:
            self.found = from_feel(
                build,
                result,
                self._session.catalogue,
                push_n=self.push.value or 0.0,
                play_mm=self.play.value or 0.0,
                span=self.span.currentData(),
            )
        except GeometryError as error:
            self.found = None
            self.tell_not(str(error))
            return
        self.show_text(*self.found.lines(build.display_units), caution=_CAUTION)
        self.kept.button.show()
