"""Survey: centres from a tape and belts tried, what is on the shelf, which accessories stay or go."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from jovial_tack.answers.survey.taking import arrangement
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.errors import JovialTackError
from jovial_tack.document.targets import PartAt
from jovial_tack.drawing.survey import survey_shapes
from jovial_tack.files.patterns import pattern_from
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.room import Action, Aside, Hands, Room, Station
from jovial_tack.ui.survey.keeping import KeepCard
from jovial_tack.ui.survey.needs import NeedsCard
from jovial_tack.ui.survey.page import SurveyPage
from jovial_tack.ui.survey.readings import Readings
from jovial_tack.ui.survey.shelf import ShelfCard
from jovial_tack.ui.survey.strip import ReadingStrip
from jovial_tack.ui.survey.taking import TakeCard


class SurveyRoom(Room):
    """Readings are typed at the right, listed below, and drawn over the front view."""

    station = Station("survey", 1, "Survey", "Where the shafts are, from tape and belts tried")
    has_slider = False

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        session = hands.session
        self.readings = Readings(session)
        self.page = self.survey = SurveyPage(session, self.readings, hands.theme)
        self.tray = self.strip = ReadingStrip(self.readings, hands.theme)
        self.taking = TakeCard(session, self.readings, hands.theme)
        self.shelf = ShelfCard(session)
        self.needs = NeedsCard(session)
        self.keeping = KeepCard(session, hands.theme)
        self.asides = (
            Aside("S&helf", "F3", self.shelf, opened=self._look_over),
            Aside(
                "&Keep or delete the accessory",
                "Shift+F7",
                self.keeping,
                opened=self._compare,
                may_open=self._has_accessory,
                stays=True,
            ),
            Aside("What is &still needed", "Shift+F3", self.needs, opened=self._look_at_needs),
            Aside(
                "&Move the shafts where the survey puts them",
                "Ctrl+Shift+K",
                self.taking,
                opened=self._ask_to_take,
                stays=True,
            ),
        )
        self.entries = (
            Action("&Tools", "&Next reading of the survey", "Ctrl+J", self.take_next),
            Action("&Tools", "Read a bolt &pattern …", "Ctrl+Shift+J", self.ask_pattern),
        )
        self.shelf.opened.connect(self._open_part)
        self.needs.opened.connect(hands.show_card)
        self.survey.needs_wanted.connect(lambda: hands.call(self.needs))
        self.survey.shelf_wanted.connect(lambda: hands.call(self.shelf))
        self.strip.next_wanted.connect(self.survey.take_next)
        self.strip.removed.connect(self.survey.remove)
        self.strip.set_aside.connect(self.survey.set_aside)
        self.survey.take_wanted.connect(lambda: hands.call(self.taking))
        self.survey.pattern_wanted.connect(self.ask_pattern)
        self.readings.changed.connect(self._draw)
        self.readings.changed.connect(hands.marks_changed)
        self.readings.chosen_changed.connect(self._draw)
        hands.front.picked.connect(self._pick)

    @property
    def mark(self) -> Mark | None:
        """Stop for what does not fit, watch for what is open; nothing without a reading."""
        told = self.readings.told
        if told is None or not self.readings.is_current or not told.readings:
            return "unknown"
        if told.suspects or any(reading.problem for reading in told.readings):
            return "stop"
        read = [shaft for shaft in told.shafts if shaft.read]
        open_ = any(shaft.also or not shaft.determined or shaft.weak for shaft in read)
        return "watch" if open_ or told.disagree else "good"

    def entered(self) -> None:
        """Work out and draw what was read, while the station is stood at."""
        self.readings.look(on=True)
        self.survey.refresh()
        self._draw()

    def take_next(self) -> None:
        """Have the reading that would help most ready to be typed."""
        if self.hands.station() != "survey":
            self.hands.stand_at("survey")
        self.survey.take_next()

    def ask_pattern(self) -> None:
        """Ask for a list of holes, and lay it on the engine."""
        session = self.hands.session
        if session.is_read_only:
            return
        name, _ = QFileDialog.getOpenFileName(
            self.survey, "Read a bolt pattern", str(_PATTERNS), "Lists of holes (*.csv)"
        )
        if name:
            self.lay_pattern(Path(name))

    def lay_pattern(self, path: Path) -> None:
        """Lay a bolt pattern out of a file on the engine: its holes are points of the survey."""
        session = self.hands.session
        try:
            made = pattern_from(session.build, path)
        except JovialTackError as error:
            self.survey.refuse(str(error))
            return
        self.survey.refuse("")
        session.edit(f"bolt pattern {path.stem}", made)

    def _pick(self, key: str) -> None:
        """Draw the engine in the arrangement that was clicked."""
        if self.hands.station() != "survey":
            return
        number, found = int(key.partition("/")[0]), self.readings.found
        session = self.hands.session
        if found is None or session.is_read_only:
            return
        session.edit("another arrangement of the survey", arrangement(session.build, found, number))
        self.hands.show_text("Drawn in the arrangement that was clicked; undo goes back.")

    def _draw(self) -> None:
        """Lay the survey over the front view while its station is stood at."""
        if self.hands.station() != "survey":
            return
        readings, front = self.readings, self.hands.front
        build = self.hands.session.build
        if readings.found is None or readings.told is None or not build.survey.readings:
            front.show_overlay(())
            return
        front.show_overlay(survey_shapes(build, readings.found, readings.told, readings.chosen))

    def left(self) -> None:
        """Take what was drawn off the front view, and work nothing out any more."""
        self.readings.look(on=False)
        self.hands.front.show_overlay(())

    def _ask_to_take(self) -> None:
        self.readings.look(on=True)
        self.taking.open()

    def _look_at_needs(self) -> None:
        self.needs.refresh()
        self.needs.list.setFocus()

    def _look_over(self) -> None:
        self.shelf.refresh()
        self.shelf.list.setFocus()

    def _open_part(self, part: str) -> None:
        """The card of a part, in the shelf's place."""
        self.hands.show_card()
        self.hands.session.select(PartAt(part))

    def _accessory(self) -> str | None:
        session = self.hands.session
        shaft = shaft_of(session.build, session.selection)
        if shaft is None or session.build.shaft(shaft).kind == "crank" or session.is_read_only:
            return None
        return shaft

    def _has_accessory(self) -> bool:
        if self._accessory() is None:
            self.hands.show_text("Select the accessory to keep or delete first.")
            return False
        return True

    def _compare(self) -> None:
        shaft = self._accessory()
        assert shaft is not None
        self.keeping.compare_without(shaft)


_PATTERNS = Path(__file__).parents[2] / "data/patterns"
