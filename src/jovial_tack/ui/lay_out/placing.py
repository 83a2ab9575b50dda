"""What the menu Place does: one shaft put by another, mirrors, notes."""

from __future__ import annotations

from collections.abc import Callable

from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.notes import add_note
from jovial_tack.document.edits.placing import (
    level_with,
    mirror_build,
    mirror_shaft,
    rim_level_with,
    with_equal_gaps,
)
from jovial_tack.document.model import Build
from jovial_tack.document.targets import NoteAt
from jovial_tack.drawing.front import shaft_centers
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.session import Session

_NEEDS_TWO = "Select one part, then the one to move: it is put by the first."
_NEEDS_ONE = "Select the part to move first."


class Placing:
    """Edits of the selected shaft. say: tells what is missing."""

    def __init__(
        self, session: Session, front: FrontView, show_text: Callable[[str], object]
    ) -> None:
        self._session, self._front, self._show_text = session, front, show_text

    def level(self) -> None:
        """Level with the part selected before."""
        self._by_other("level", level_with)

    def plumb(self) -> None:
        """Plumb with the part selected before."""
        self._by_other(
            "plumb", lambda build, shaft, other: level_with(build, shaft, other, plumb=True)
        )

    def rims(self) -> None:
        """With its rim level with that of the part selected before."""
        catalogue = self._session.catalogue
        self._by_other(
            "rim level", lambda b, shaft, other: rim_level_with(b, shaft, other, catalogue)
        )

    def gaps(self) -> None:
        """With equal gaps to its two nearest neighbours."""
        session = self._session
        centers = shaft_centers(session.build, session.results)
        self._one("equal gaps of", lambda b, s: with_equal_gaps(b, s, centers, session.catalogue))

    def mirror(self) -> None:
        """On the other side of the crank."""
        self._one("mirror", mirror_shaft)

    def mirror_all(self) -> None:
        """The whole layout mirrored; the crank goes on turning as it did."""
        self._edit("mirror the layout", mirror_build)

    def note(self) -> None:
        """Pin a note where the pointer is, or to a free place."""
        session = self._session
        if session.is_read_only:
            return
        build, name = add_note(session.build, self._front.pointer_place())
        session.edit("pin a note", build)
        session.select(NoteAt(name))

    def _by_other(self, word: str, make: Callable[[Build, str, str], Build]) -> None:
        session = self._session
        build = session.build
        shaft, other = (shaft_of(build, t) for t in (session.selection, session.selected_before))
        if shaft is None or other is None or shaft == other:
            self._show_text(_NEEDS_TWO)
            return
        label = f"{build.shaft(shaft).label} {word} with {build.shaft(other).label}"
        self._edit(label, lambda b: make(b, shaft, other))

    def _one(self, word: str, make: Callable[[Build, str], Build]) -> None:
        build = self._session.build
        shaft = shaft_of(build, self._session.selection)
        if shaft is None:
            self._show_text(_NEEDS_ONE)
            return
        self._edit(f"{word} {build.shaft(shaft).label}", lambda b: make(b, shaft))

    def _edit(self, label: str, make: Callable[[Build], Build]) -> None:
        session = self._session
        try:
            made = make(session.build)
        except BuildFileError as error:
            self._show_text(f"That needs {error.expected}.")
            return
        if made == session.build:
            self._show_text("It stands there already.")
        else:
            session.edit(label, made)
            self._show_text(label[0].upper() + label[1:] + ".")
