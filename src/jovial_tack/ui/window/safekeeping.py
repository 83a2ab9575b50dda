"""Nothing lost: unsaved work and what is typed, written aside every second on a worker."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jovial_tack.core.errors import SaveError
from jovial_tack.document.model import Build
from jovial_tack.files.recovery import Keeper, KeptText
from jovial_tack.files.whole import reason
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.typed import typing
from jovial_tack.ui.worker import NewestOnly

_DELAY_MS = 1000

log = logging.getLogger(__name__)


class Safekeeping(QObject):
    """Keeps the session's unsaved work aside, at most a second old. told: that it cannot be, once,
    and that it is again. typed: what stands typed in the window and in no build.
    """

    told = pyqtSignal(str)

    def __init__(
        self,
        session: Session,
        keeper: Keeper,
        typed: Callable[[], Sequence[KeptText]],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._session, self.keeper, self._typed = session, keeper, typed
        self.worker = NewestOnly(self)
        self.worker.failed.connect(self._failed)
        self.worker.done.connect(lambda _done: self._worked())
        self.fails = False
        self._left: Build | None = None  # what was left behind already
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_DELAY_MS)
        self._timer.timeout.connect(self.keep_aside)
        session.build_changed.connect(self._changed)
        session.saved.connect(self._saved)
        session.letting_go.connect(self.let_go)
        typing.changed.connect(self._changed)

    def _changed(self) -> None:
        # not restarted by further edits: the first unsaved one sets the age of what is kept
        if not self._timer.isActive():
            self._timer.start()

    def keep_aside(self) -> None:
        """Keep the work aside as it is now."""
        session, keeper, typed = self._session, self.keeper, tuple(self._typed())
        if session.is_modified or typed:
            build, path, mark = session.history.build, session.path, session.fingerprint
            self.worker.submit(lambda: keeper.keep(build, path, mark, typed))
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

    def keep_now(self, *, let_go: bool = False) -> None:
        """Write aside at once, as when something has gone wrong. let_go: it is thrown away."""
        session, typed = self._session, tuple(self._typed())
        if session.is_modified or typed:
            try:
                self.keeper.keep(
                    session.history.build,
                    session.path,
                    session.fingerprint,
                    typed,
                    let_go=let_go,
                )
            except (OSError, SaveError) as error:
                self._failed(error)

    def _saved(self) -> None:
        """It is in its file: what was kept of it goes at once, before anything can happen."""
        self.worker.finish()
        if not self._typed():
            self.keeper.drop()

    def let_go(self) -> None:
        """Another build takes its place: what was not saved can be had for a while among lost work."""
        build = self._session.history.build
        if build is self._left:
            return
        self._left = build
        self.worker.finish()
        if self._session.is_modified or self._typed():
            self.keep_now(let_go=True)
            self.keeper.leave_behind()
        else:
            self.keeper.drop()

    def close(self) -> None:
        """The window closes properly: what it held was saved, or is thrown away."""
        self._timer.stop()
        self.worker.finish()
        self._left = None
        self.let_go()
