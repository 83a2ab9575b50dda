"""Words need not be rewritten at every pointer move: at most so often is soon enough to read."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QElapsedTimer, QObject, QTimer

_PAUSE_MS = 200
_MOST_MS = 600  # still soon enough to read
_SHARE = 30  # of the time may go into it: a thirtieth


class Soon:
    """Calls an action at once if it has rested for a while, otherwise once the pause is over.

    The pause grows with what the action costs, so that what moves meanwhile stays smooth.
    """

    def __init__(
        self, action: Callable[[], None], parent: QObject, pause_ms: int = _PAUSE_MS
    ) -> None:
        self._action, self._least_ms, self._pause_ms = action, pause_ms, pause_ms
        self._since = QElapsedTimer()
        self._timer = QTimer(parent)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._act)

    @property
    def pause_ms(self) -> int:
        """How long it rests between two turns now."""
        return self._pause_ms

    def __call__(self) -> None:
        """Ask for the action."""
        if self._timer.isActive():
            return
        rested = self._since.elapsed() if self._since.isValid() else self._pause_ms
        if rested >= self._pause_ms:
            self._act()
        else:
            self._timer.start(self._pause_ms - int(rested))

    def _act(self) -> None:
        self._since.restart()
        self._action()
        cost = int(self._since.elapsed())
        self._pause_ms = max(self._least_ms, min(_SHARE * cost, _MOST_MS))
