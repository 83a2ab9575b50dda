"""Survey: what is on the shelf, and which accessories stay or go."""

from __future__ import annotations

from jovial_tack.document.targets import PartAt
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.room import Aside, Hands, Room
from jovial_tack.ui.survey.keeping import KeepCard
from jovial_tack.ui.survey.shelf import ShelfCard


class SurveyRoom(Room):
    """Not a station to stand at yet; its cards can be called up anywhere."""

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.shelf = ShelfCard(hands.session)
        self.keeping = KeepCard(hands.session, hands.theme)
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
        )
        self.shelf.opened.connect(self._open_part)

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
