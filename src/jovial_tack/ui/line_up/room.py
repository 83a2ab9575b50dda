"""Line up: groove planes and spacers from above."""

from __future__ import annotations

from jovial_tack.ui.line_up.plan import PlanView
from jovial_tack.ui.line_up.readings import ReadingsCard
from jovial_tack.ui.line_up.stacks import StackCard
from jovial_tack.ui.room import Aside, Hands, Room, Station


class LineUpRoom(Room):
    """The plan view below; the stacks of a unit at the right."""

    station = Station("line_up", 6, "Line up", "Look down on groove planes and spacers")

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.tray = self.plan = PlanView(hands.session, hands.theme)
        self.stacks = StackCard(hands.session, hands.theme)
        self.read = ReadingsCard(hands.session, hands.theme)
        self.asides = (
            Aside("Stac&ks of the unit", "Ctrl+G", self.stacks, opened=self.stacks.open),
            Aside("Readin&gs of planes", "Ctrl+Shift+G", self.read, opened=self.read.open),
        )
