"""Lay out: shafts placed, the belt threaded, rival layouts side by side."""

from __future__ import annotations

from jovial_tack.ui.lay_out.placing import Placing
from jovial_tack.ui.lay_out.variants import VariantsCard
from jovial_tack.ui.room import Action, Aside, Break, Hands, Room, Station


class LayOutRoom(Room):
    """Shafts are put by one another; what is in the way is traced and measured."""

    station = Station("lay_out", 2, "Lay out", "Place shafts and see the belt follow")

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        front = hands.front
        self.variants = VariantsCard(hands.session, hands.theme)
        self.placing = placing = Placing(hands.session, front, hands.show_text)
        self.asides = (Aside("&Variants", "F7", self.variants),)
        self.entries = (
            Action("&Place", "&Level with the part before", "F8", placing.level),
            Action("&Place", "&Plumb with the part before", "Shift+F8", placing.plumb),
            Action("&Place", "&Rims level with the part before", "F9", placing.rims),
            Action("&Place", "&Equal gaps to its neighbours", "Shift+F9", placing.gaps),
            Action("&Place", "M&irror the part", "Ctrl+F9", placing.mirror),
            Action("&Place", "Mirror the &whole layout", "Ctrl+Shift+F9", placing.mirror_all),
            Break("&Place"),
            Action("&Place", "&Measure", "F4", self.measure),
            Action("&Place", "&Trace something in the way", "Shift+F4", front.trace),
            Action("&Place", "Pin a &note", "Ctrl+T", placing.note),
        )

    def measure(self) -> None:
        """Begin to measure between two places, or tell what was measured."""
        front = self.hands.front
        front.measure()
        if front.measured:
            self.hands.show_text(front.measured)
