"""Nothing lost: unsaved work written aside every few seconds, off the window's thread."""

from __future__ import annotations

import logging

from PyQt6.QtCore import QObject, QTimer

from jovial_tack.files.recovery import Keeper
from jovial_tack.ui.session import Session
from jovial_tack.ui.worker import NewestOnly

_DELAY_MS = 1500

log = logging.getLogger(__name__)


class Safekeeping(QObject):
    """Keeps the session's unsaved work aside, at most a few seconds old."""

    def __init__(self, session: Session, keeper: Keeper, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session, self.keeper = session, keeper
        self._worker = NewestOnly(self)
        self._worker.failed.connect(lambda error: log.warning("not kept aside: %s", error))
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_DELAY_MS)
        self._timer.timeout.connect(self._keep)
        session.build_changed.connect(self._changed)

    def _changed(self) -> None:
        # not restarted by further edits: the first unsaved one sets the age of what is kept
        if not self._timer.isActive():
            self._timer.start()

    def _keep(self) -> None:
        session, keeper = self._session, self.keeper
        if session.is_modified:
            build, path = session.history.build, session.path
            self._worker.submit(lambda: keeper.keep(build, path))
        else:
            self._worker.submit(keeper.drop)

    def keep_now(self) -> None:
        """Write aside at once, as when something has gone wrong."""
        if self._session.is_modified:
            try:
                self.keeper.keep(self._session.history.build, self._session.path)
            except OSError as error:
                log.warning("not kept aside: %s", error)

    def close(self) -> None:
        """The window closes properly: nothing is left to recover."""
        self._timer.stop()
        self._worker.finish()
        self.keeper.drop()
