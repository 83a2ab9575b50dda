"""Belt: those that can be bought along the window, and the bench beside them."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QApplication, QFileDialog

from jovial_tack.answers.belt.counter_card import counter_card
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.words import sentence
from jovial_tack.document.targets import BeltAt, drive_of
from jovial_tack.files.counter_card import write_card
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.bench import BeltBench
from jovial_tack.ui.causes import CausesCard
from jovial_tack.ui.room import Action, Aside, Hands, Room, Station, ToEnter

_CARDS = "Pictures (*.png);;Text (*.txt)"


class BeltRoom(Room):
    """A belt is always looked at here; the bench goes with the belts below."""

    station = Station("belt", 4, "Belt", "Its length, and which one to order")

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.tray = self.along = BeltsAlongWindow(hands.session, hands.theme)
        self.bench = BeltBench(hands.session, self.along, hands.theme)
        nothing = "Say on the bench where the adjuster is seen: it is weighed here."
        self.causes = CausesCard(hands.session, hands.theme, self.bench.seen.read, nothing)
        self.asides = (
            Aside("Belt b&ench", "Ctrl+K", self.bench, may_open=self._at_the_belt),
            Aside(
                "What is wrong &with the belt",
                "F2",
                self.causes,
                opened=self.causes.look,
                may_open=self._at_the_belt,
                stays=True,
            ),
        )
        self.entries = (Action("&File", "C&ard for the counter …", "Ctrl+F6", self.ask_card),)
        self.bench.seen.why_wanted.connect(lambda: hands.call(self.causes))
        self.along.bench_wanted.connect(lambda: hands.call(self.bench))
        self.along.overlay_wanted.connect(hands.front.show_overlay)

    def _at_the_belt(self) -> bool:
        if self.hands.station() != "belt":
            self.hands.stand_at("belt")
        return True

    def ask_card(self) -> None:
        """Ask where to, and write the card of the belt that is looked at; its text can be pasted."""
        if not self._at_the_belt() or self.hands.session.build.find_drive(self.along.drive) is None:
            return
        chosen, _ = QFileDialog.getSaveFileName(
            self.along, "Card for the counter", "counter.png", _CARDS
        )
        if chosen:
            self.write_card(Path(chosen if Path(chosen).suffix else f"{chosen}.png"))

    def write_card(self, path: Path) -> None:
        """Write the card of the belt that is looked at; why there is none is said."""
        session = self.hands.session
        try:
            card = counter_card(session.build, self.along.drive, session.catalogue)
            write_card(card, path)
        except JovialTackError as error:
            self.hands.ask(sentence(str(error)))
            return
        board = QApplication.clipboard()
        if board is not None:
            board.setText(card.text)
        self.hands.show_text(f"The card is in {path.name}; its text can be pasted.")

    def to_enter(self) -> ToEnter | None:
        """What the page of the bench in sight has to keep; else the belt that is on, as tried."""
        drive = self.hands.session.build.find_drive(self.along.drive)
        if drive is None or drive.belt.effective_length_mm is None:
            return None
        for page in (self.bench.measure, self.bench.seen, self.bench.feel, self.bench.tone):
            if page.isVisible() and page.kept.button.isVisible():
                return ToEnter(page.kept.kind, act=page.keep)
        profile = self.hands.session.catalogue.profiles[drive.belt.profile]
        length = drive.belt.effective_length_mm
        unit = self.hands.session.build.display_units
        figures = {
            "drive": drive.id,
            "number": profile.number(drive.belt.ribs, length, unit),
            "effective_length_mm": length,
            "construction": drive.belt.construction,
        }
        return ToEnter("belt_tried", figures)

    def entered(self) -> None:
        """Select a belt: that of what is selected, else that of the ribbon."""
        session = self.hands.session
        drives = session.build.drives
        if isinstance(session.selection, BeltAt) or not drives:
            return
        session.select(BeltAt(drive_of(session.selection) or drives[-1].id))
