"""Nothing lost: unsaved work written aside every few seconds, off the window's thread."""

from __future__ import annotations

import logging

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jovial_tack.core.errors import SaveError
from jovial_tack.files.recovery import Keeper
from jovial_tack.files.whole import reason
from jovial_tack.ui.session import Session
from jovial_tack.ui.worker import NewestOnly

_DELAY_MS = 1000

log = logging.getLogger(__name__)


class Safekeeping(QObject):
    """Keeps the session's unsaved work aside, at most a few seconds old. told: that it cannot be, once,
    and that it is again.
    """

    told = pyqtSignal(str)

    def __init__(self, session: Session, keeper: Keeper, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session, self.keeper = session, keeper
        self.worker = NewestOnly(self)
        self.worker.failed.connect(self._failed)
        self.worker.done.connect(lambda _done: self._worked())
        self.fails = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_DELAY_MS)
        self._timer.timeout.connect(self.keep_aside)
        session.build_changed.connect(self._changed)

    def _changed(self) -> None:
        # not restarted by further edits: the first unsaved one sets the age of what is kept
        if not self._timer.isActive():
            self._timer.start()

    def keep_aside(self) -> None:
        """Keep the work aside as it is now."""
        session, keeper = self._session, self.keeper
        if session.is_modified:
            build, path, mark = session.history.build, session.path, session.fingerprint
            self.worker.submit(lambda: keeper.keep(build, path, mark))
        else:
            self.worker.submit(keeper.drop)

    def _failed(self, error: Exception) -> None:
        log.warning("not kept aside: %s", error)
        if not self.fails:
            self.fails = True
            why = reason(error.__cause__) if isinstance(error.__cause__, OSError) else reason(error)
            self.told.emit(
                f"Unsaved work cannot be kept aside ({why}): a crash would lose it. Save more often."
            )

    def _worked(self) -> None:
        if self.fails:
            self.fails = False
            self.told.emit("Unsaved work is kept aside again.")

    def keep_now(self) -> None:
        """Write aside at once, as when something has gone wrong."""
        if self._session.is_modified:
            try:
                session = self._session
                self.keeper.keep(session.history.build, session.path, session.fingerprint)
            except (OSError, SaveError) as error:
                self._failed(error)

    def close(self) -> None:
        """The window closes properly: nothing is left to recover."""
        self._timer.stop()
        self.worker.finish()
        self.keeper.drop()
