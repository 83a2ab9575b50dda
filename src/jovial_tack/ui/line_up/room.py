"""Line up: groove planes and spacers from above."""

from __future__ import annotations

from jovial_tack.ui.line_up.plan import PlanView
from jovial_tack.ui.room import Hands, Room, Station


class LineUpRoom(Room):
    """The plan view below."""

    station = Station("line_up", 6, "Line up", "Look down on groove planes and spacers")

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.tray = self.plan = PlanView(hands.session, hands.theme)
