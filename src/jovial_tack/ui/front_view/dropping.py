"""Parts dragged from the shelf: over a shaft they show as they would be there."""

from __future__ import annotations

import contextlib

from PyQt6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent

from jovial_tack.answers.survey.putting_on import put_on
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.targets import ShaftAt
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.dragged import PART_MIME


class Dropping:
    """What hovers, and over which shaft."""

    def __init__(self, session: Session) -> None:
        self._session, self._shaft = session, ""

    def enter(self, event: QDragEnterEvent) -> None:
        """Take parts; all else is left to the window."""
        if self._part(event):
            event.acceptProposedAction()
        else:
            event.ignore()

    def move(self, event: QDragMoveEvent, shaft: str) -> None:
        """Hover over a shaft, or over none ("")."""
        part = self._part(event)
        if not part:
            return
        event.acceptProposedAction()
        if shaft == self._shaft:
            return
        session, self._shaft = self._session, shaft
        session.drop_preview()
        if shaft:
            with contextlib.suppress(BuildFileError):
                session.preview(put_on(session.build, shaft, part, session.catalogue))

    def leave(self) -> None:
        """Put nothing anywhere."""
        self._shaft = ""
        self._session.drop_preview()

    def drop(self, event: QDropEvent) -> None:
        """Put the part on the shaft it hovers over."""
        part, shaft, session = self._part(event), self._shaft, self._session
        self._shaft = ""
        if part and shaft:
            event.acceptProposedAction()
            build = session.build
            session.commit_preview(f"{build.part(part).label} on {build.shaft(shaft).label}")
            session.select(ShaftAt(shaft))

    def _part(self, event: QDropEvent) -> str:
        data = event.mimeData()
        if data is None or not data.hasFormat(PART_MIME) or self._session.is_read_only:
            return ""
        return bytes(data.data(PART_MIME).data()).decode()
