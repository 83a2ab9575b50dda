"""Line up: groove planes and spacers from above."""

from __future__ import annotations

from jovial_tack.answers.verdicts import Mark
from jovial_tack.document.edits.plates import add_boss
from jovial_tack.document.targets import BossAt, PlateAt
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.line_up.judged import JudgedPlate
from jovial_tack.ui.line_up.paper import PaperCard
from jovial_tack.ui.line_up.plan import PlanView
from jovial_tack.ui.line_up.readings import ReadingsCard
from jovial_tack.ui.line_up.stacks import StackCard
from jovial_tack.ui.room import Action, Aside, Hands, Room, Station

_GRAVITY: dict[Mark, int] = {"good": 0, "unknown": 1, "watch": 2, "stop": 3}


class LineUpRoom(Room):
    """The plan view below; the stacks of a unit at the right."""

    station = Station("line_up", 6, "Line up", "Look down on groove planes and spacers")

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.tray = self.plan = PlanView(hands.session, hands.theme)
        self.paper = PaperCard(hands.session, hands.theme)
        self.stacks = StackCard(hands.session, hands.theme)
        self.read = ReadingsCard(hands.session, hands.theme)
        self.asides = (
            Aside("Stac&ks of the unit", "Ctrl+G", self.stacks, opened=self.stacks.open),
            Aside("Readin&gs of planes", "Ctrl+Shift+G", self.read, opened=self.read.open),
            Aside(
                "Plate on pa&per and for the cutter",
                "Ctrl+P",
                self.paper,
                opened=self.paper.open,
                may_open=self._has_plate,
            ),
        )
        self.entries = (
            Action("&Place", "&Boss of the engine", "Ctrl+H", self.put_boss),
            Action("&Tools", "Propose a bracket p&late", "Ctrl+Shift+H", self.propose_plate),
        )
        self.judged = JudgedPlate(hands.session, hands.front, lambda: hands.station() != "survey")

    @property
    def mark(self) -> Mark | None:
        """That of the verdict read here, or that of the plates where it is graver."""
        session = self.hands.session
        lines_up = next(v.mark for v in session.verdicts if v.title == "Lines up")
        levels = {f.level for plate in session.results.plates for f in plate.findings}
        plates: Mark = "stop" if "stop" in levels else "watch" if "watch" in levels else "good"
        return max(lines_up, plates, key=_GRAVITY.__getitem__)

    def entered(self) -> None:
        """Draw what plates are judged by."""
        self.judged.draw()

    def put_boss(self) -> None:
        """Put a boss of the engine where the pointer is, or to the left of the crank."""
        session = self.hands.session
        if session.is_read_only:
            return
        place = self.hands.front.pointer_place()
        if place is None:
            # each further one beside the last, so that none hides another
            place = -150.0 + 30.0 * (len(session.build.bosses) % 8), -60.0
        build, name = add_boss(session.build, place)
        session.edit("boss of the engine", build)
        session.select(BossAt(name))
        session.asked.emit("Right")

    def propose_plate(self) -> None:
        """Propose a plate for the unit that is selected, from the bosses nothing sits on yet."""
        session = self.hands.session
        build = session.build
        shaft = shaft_of(build, session.selection)
        if session.is_read_only:
            return
        if shaft is None or build.shaft(shaft).kind == "crank":
            self.hands.show_text("Select the accessory or idler that the plate is to carry first.")
            return
        from jovial_tack.answers.line_up.plate_proposed import proposed_plate

        made, plate, guessed = proposed_plate(build, shaft, session.catalogue)
        session.edit(f"bracket plate of {build.shaft(shaft).label}", made)
        session.select(PlateAt(plate))
        bosses = sum(
            cut.meant is not None and cut.meant.boss is not None
            for cut in made.plate(plate).features
        )
        count = {0: "no boss", 1: "one boss"}.get(bosses, f"{bosses} bosses")
        self.hands.show_text(
            f"Proposed from {count}" + (f"; {guessed}." if guessed else ". Drag what is cut in it.")
        )

    def _has_plate(self) -> bool:
        if not self.hands.session.build.plates:
            self.hands.show_text(
                "There is no bracket plate yet: select an accessory, then Ctrl+Shift+H."
            )
            return False
        return True
