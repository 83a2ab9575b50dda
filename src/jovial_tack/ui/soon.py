"""Words need not be rewritten at every pointer move: at most so often is soon enough to read."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QElapsedTimer, QObject, QTimer

_PAUSE_MS = 200


class Soon:
    """Calls an action at once if it has rested for a while, otherwise once the pause is over."""

    def __init__(
        self, action: Callable[[], None], parent: QObject, pause_ms: int = _PAUSE_MS
    ) -> None:
        self._action, self._pause_ms = action, pause_ms
        self._since = QElapsedTimer()
        self._timer = QTimer(parent)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._act)

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
