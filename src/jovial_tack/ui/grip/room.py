"""Grip: arc used, tension and arm over the revs."""

from __future__ import annotations

from typing import Literal

from jovial_tack.ui.room import Room, Station


class GripRoom(Room):
    """The belt ribbon below, the plot over the revs below the card; both are the desk's own."""

    station = Station("grip", 5, "Grip", "Arc used, tension and arm over the revs")

    @property
    def over(self) -> Literal["as before"]:
        """Whatever was looked at last."""
        return "as before"
