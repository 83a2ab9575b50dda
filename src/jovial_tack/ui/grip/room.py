"""Grip: arc used, tension and arm over the revs; every situation; what every change is worth; the
finder.
"""

from __future__ import annotations

from typing import Literal

from jovial_tack.ui.grip.finder.card import FinderCard
from jovial_tack.ui.grip.loads import LoadsCard
from jovial_tack.ui.grip.situations import SituationsCard
from jovial_tack.ui.grip.worth import WorthCard
from jovial_tack.ui.room import Aside, Hands, Room, Station


class GripRoom(Room):
    """The belt ribbon below, the plot over the revs below the card; both are the desk's own."""

    station = Station("grip", 5, "Grip", "Arc used, tension and arm over the revs")

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.worth = WorthCard(hands.session, hands.theme)
        self.finder = FinderCard(hands.session, hands.theme, hands.front)
        self.situations = SituationsCard(hands.session, hands.theme, hands.front)
        self.loads = LoadsCard(hands.session, hands.theme, hands.front)
        self.asides = (
            Aside("&Loads on the parts", "Ctrl+Shift+O", self.loads),
            Aside(
                "In every &situation",
                "Ctrl+Shift+V",
                self.situations,
                opened=self.situations.look,
            ),
            Aside("What it is &worth", "Ctrl+Shift+W", self.worth, opened=self.worth.look),
            Aside("Find the &best …", "Ctrl+Shift+X", self.finder, opened=self.finder.ask),
        )

    @property
    def over(self) -> Literal["as before"]:
        """Whatever was looked at last."""
        return "as before"
