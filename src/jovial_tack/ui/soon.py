"""Words need not be rewritten at every pointer move: at most so often is soon enough to read."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QElapsedTimer, QObject, QTimer

_PAUSE_MS = 200


class Soon:
    """Calls an action at once if it has rested for a while, otherwise once the pause is over."""

    def __init__(self, action: Callable[[], None], parent: QObject) -> None:
        self._action = action
        self._since = QElapsedTimer()
        self._timer = QTimer(parent)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._act)

    def __call__(self) -> None:
        """Ask for the action."""
        if self._timer.isActive():
            return
        rested = self._since.elapsed() if self._since.isValid() else _PAUSE_MS
        if rested >= _PAUSE_MS:
            self._act()
        else:
            self._timer.start(_PAUSE_MS - int(rested))

    def _act(self) -> None:
        self._since.restart()
        self._action()
