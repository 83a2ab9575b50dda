"""Fit up: one step large at the right, the thread of all of them below."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from jovial_tack.answers.fit_up.steps import steps_of
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.symptoms import set_finding
from jovial_tack.document.targets import NOTHING, BeltAt
from jovial_tack.drawing.routing import routing_picture
from jovial_tack.files.paper.fitup_sheet import write_fitup
from jovial_tack.files.routing import write_routing
from jovial_tack.sheets import exists
from jovial_tack.ui.causes import CausesCard
from jovial_tack.ui.fit_up.following import Following
from jovial_tack.ui.fit_up.page import StepPage
from jovial_tack.ui.fit_up.thread import StepThread
from jovial_tack.ui.room import Action, Aside, Hands, Room, Station, ToEnter

_PICTURES = "Sticker, full size (*.pdf);;Drawing (*.svg)"


class FitUpRoom(Room):
    """What the step is about is selected, so that front view and ribbon show it."""

    station = Station("fit_up", 7, "Fit up", "The order of work on the engine, step by step")
    has_slider = False

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.following = Following(hands.session)
        self.page = self.step = StepPage(self.following, hands.theme)
        self.tray = self.thread = StepThread(self.following, hands.theme)
        self.entries = (
            Action("&Tools", "&Tick the step of fitting up", "Ctrl+Shift+T", self.tick),
            Action("&Tools", "Next step of &fitting up", "Ctrl+Shift+I", lambda: self._go(1)),
            Action("&Tools", "Step of fitting up be&fore", "Ctrl+Shift+Q", lambda: self._go(-1)),
            Action("&File", "S&teps of fitting up on paper …", "Ctrl+F5", self.ask_paper),
            Action("&File", "Picture of the ro&uting …", "Ctrl+Shift+R", self.ask_picture),
        )
        nothing = "Type what is seen at a step that compares figures: the mark, or the tone."
        self.causes = CausesCard(hands.session, hands.theme, self.following.read, nothing)
        self.asides = (
            Aside(
                "What is wron&g if not",
                "Ctrl+Shift+C",
                self.causes,
                opened=self.causes.look,
                may_open=self._may_ask,
                stays=True,
            ),
        )
        self.step.noise_wanted.connect(self._find_noise)
        self.step.why_wanted.connect(lambda: hands.call(self.causes))
        self.following.changed.connect(hands.marks_changed)
        self.following.chosen_changed.connect(self._light)

    @property
    def mark(self) -> Mark | None:
        """Good once all is done, watch where something is to be done again."""
        steps = self.following.steps.steps
        if any(step.state == "again" or step.look_again for step in steps):
            return "watch"
        return "good" if steps and all(step.state == "done" for step in steps) else "unknown"

    def to_enter(self) -> ToEnter | None:
        """What is seen at the step, as a check of the tension; else the step as a note."""
        step, build = self.following.step, self.hands.session.build
        if step is None:
            return None
        seen, figures = step.seen, step.figures
        if seen is None or figures is None:
            drive = step.of[0] if step.of and build.find_drive(step.of[0]) else None
            return ToEnter("note", {"note": step.words, "drive": drive})
        earlier = any(e.kind == "tension_check" for e in build.logbook.events)
        read = {
            "drive": step.of[0],
            "span": figures.span,
            "tone_hz": seen.tone_hz,
            "arm_angle_deg": seen.arm_angle_deg,
            "travel_share": seen.travel_share,
            "after": "first" if step.kind == "first" else "again" if earlier else None,
        }
        return ToEnter("tension_check", read)

    def entered(self) -> None:
        """Tell the steps, and light what the one that is worked on is about."""
        self.following.look(on=True)
        self.thread.refresh()
        self.step.refresh()
        self._light()

    def left(self) -> None:
        """Follow the build no more."""
        self.following.look(on=False)

    def _find_noise(self, drive: str, finding: str) -> None:
        """Open the noise finder with what is not as it should be: one step to undo."""
        session = self.hands.session
        if finding and not session.is_read_only:
            words = session.catalogue.faults.findings[finding].words
            session.edit(f"noise finder: {words}", set_finding(session.build, drive, finding, True))
        session.select(BeltAt(drive))
        self.hands.call_up("&Noise finder")

    def ask_paper(self) -> None:
        """Ask where to, and write the steps for paper there."""
        chosen, _ = QFileDialog.getSaveFileName(
            self.step, "The steps on paper", "fitting-up.pdf", "Sheets of paper (*.pdf)"
        )
        if chosen:
            self.write_paper(Path(chosen if Path(chosen).suffix else f"{chosen}.pdf"))

    def write_paper(self, path: Path) -> None:
        """Write the steps for paper; why that cannot be is said."""
        session = self.hands.session
        steps = steps_of(session.build, session.results, session.catalogue)
        paper = "letter" if session.build.display_units == "in" else "a4"
        saved_as = None if session.is_modified else session.path
        try:
            write_fitup(
                session.build, steps, session.results, session.catalogue, path, saved_as, paper
            )
        except JovialTackError as error:
            self.hands.ask(sentence(str(error)))
            return
        self.hands.show_text(f"The steps are written to {path.name}.")

    def tick(self) -> None:
        """Tick the step that is worked on."""
        if self._is_here():
            self.following.toggle()

    def ask_picture(self) -> None:
        """Ask where to, and draw the routing there."""
        chosen, kind = QFileDialog.getSaveFileName(
            self.step, "Picture of the routing", "routing.pdf", _PICTURES
        )
        if chosen:
            ending = ".svg" if "svg" in kind else ".pdf"
            self.draw_picture(Path(chosen if Path(chosen).suffix else chosen + ending))

    def draw_picture(self, path: Path) -> None:
        """Draw the routing to a file; why that cannot be is said."""
        session = self.hands.session
        try:
            picture = routing_picture(session.build, session.results, session.catalogue)
            write_routing(picture, path)
        except JovialTackError as error:
            self.hands.ask(sentence(str(error)))
            return
        self.hands.show_text(f"The routing is drawn in {path.name}, 90 x 70 mm in full size.")

    def _go(self, way: int) -> None:
        if self._is_here():
            self.following.go(way)

    def _may_ask(self) -> bool:
        """The causes are those of a step: the station is stood at."""
        if self.hands.station() != "fit_up":
            self.hands.stand_at("fit_up")
        return True

    def _is_here(self) -> bool:
        """Whether its station is stood at; goes there first if not."""
        if self.hands.station() == "fit_up":
            return True
        self.hands.stand_at("fit_up")
        return False

    def _light(self) -> None:
        """Select what the step is about, where that is one thing."""
        step, session = self.following.step, self.hands.session
        if step is None or self.hands.station() != "fit_up":
            return
        about = step.about[0] if len(step.about) == 1 else NOTHING
        session.select(about if exists(session.build, about) else NOTHING)
