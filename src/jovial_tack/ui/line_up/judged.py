"""What the selected bracket plate is judged by, laid over the front view; webs clicked in and out."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from jovial_tack.document.edits.plates import toggle_web
from jovial_tack.document.targets import CutAt, PlateAt
from jovial_tack.drawing.plates import WEB, plate_overlay
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.session import Session


class JudgedPlate(QObject):
    """Goes with the front view it draws on. may_draw: whether nothing else is laid over it just now."""

    def __init__(self, session: Session, front: FrontView, may_draw: Callable[[], bool]) -> None:
        super().__init__(front)
        self._session, self._front, self._may_draw = session, front, may_draw
        self._has_drawn = False
        session.selection_changed.connect(self.draw)
        session.readings_changed.connect(self.draw)
        front.picked.connect(self._pick)

    def draw(self) -> None:
        """Lay it over the front view as it now is."""
        if self._may_draw():
            session = self._session
            shapes = plate_overlay(session.build, session.results, session.selection)
            # what others have laid there is not taken away for nothing
            if shapes or self._has_drawn:
                self._front.show_overlay(shapes)
            self._has_drawn = bool(shapes)

    def _pick(self, key: str) -> None:
        """Put a web in, or take it out, whose disc was clicked."""
        session = self._session
        selected = session.selection
        if not key.startswith(WEB) or session.is_read_only:
            return
        if not isinstance(selected, PlateAt | CutAt):
            return
        a, _, b = key.removeprefix(WEB).partition("\x1f")
        plate = session.build.plate(selected.plate)
        if {a, b} <= {cut.id for cut in plate.features}:
            session.edit(f"web of {plate.label}", toggle_web(session.build, plate.id, a, b))
