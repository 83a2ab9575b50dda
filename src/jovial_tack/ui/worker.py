"""Work off the window's thread. Only the newest request counts: older ones are dropped."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal


class _Signals(QObject):
    finished = pyqtSignal(int, object)


class _Task(QRunnable):
    def __init__(self, ticket: int, work: Callable[[], Any], signals: _Signals) -> None:
        super().__init__()
        self._ticket, self._work, self._signals = ticket, work, signals

    def run(self) -> None:
        try:
            result = self._work()
        except BaseException as error:  # a library in another language panics with one that is none
            result = _Failure(error if isinstance(error, Exception) else _told(error))
        with contextlib.suppress(RuntimeError):  # the window has gone meanwhile
            self._signals.finished.emit(self._ticket, result)


class _Failure:
    """What work ended in that came to nothing."""

    def __init__(self, error: Exception) -> None:
        self.error = error


def _told(error: BaseException) -> Exception:
    """An error that is no exception, in one line."""
    first = (str(error).splitlines() or [""])[0][:200]
    return RuntimeError(f"{type(error).__name__}: {first}")


class DroppedError(Exception):
    """Nobody waits for this work any more."""


class NewestOnly(QObject):
    """Runs one piece of work at a time; of those that wait, only the newest is run.

    done: result of the newest request. failed: the exception it raised.
    """

    done = pyqtSignal(object)
    failed = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._signals = _Signals(self)
        self._signals.finished.connect(self._finished)
        self._ticket = 0
        self._running = False
        self._started = 0
        self._waiting: Callable[[], Any] | None = None

    @property
    def busy(self) -> bool:
        """Whether a result is still to come."""
        return self._running or self._waiting is not None

    def submit(self, work: Callable[[], Any]) -> None:
        """Ask for work that touches no widget."""
        self._ticket += 1
        self._waiting = work
        if not self._running:
            self._start()

    def check_cancelled(self) -> None:
        """For long work to call now and then: raises ForgottenError if it was forgotten meanwhile.

        Work that runs on takes its share of the interpreter from the window's thread.
        """
        if self._started != self._ticket:
            raise DroppedError

    def drop(self) -> None:
        """Drop what waits and ignore what runs."""
        self._ticket += 1
        self._waiting = None

    def finish(self) -> None:
        """Wait for the running work to end, before the window goes."""
        self.drop()
        self._pool.waitForDone()

    def _start(self) -> None:
        work, self._waiting = self._waiting, None
        if work is not None:
            self._running, self._started = True, self._ticket
            self._pool.start(_Task(self._ticket, work, self._signals))

    def _finished(self, ticket: int, result: Any) -> None:
        self._running = False
        if self._waiting is not None:
            self._start()
        elif ticket == self._ticket:
            if isinstance(result, _Failure):
                self.failed.emit(result.error)
            else:
                self.done.emit(result)
