"""Directs the program from outside, so that what is pictured and tested is what a user starts.

Python runs this file by itself, before the program, when its folder is on PYTHONPATH: `tools/staged.py`
puts it there. The command, its arguments and the shipped code stay as they are; only where the
program enters its event loop does the direction in STAGE_DIRECTION begin: a scene is arranged, the
window pictured, what was found is written down, and the window closed.
"""

from __future__ import annotations

import json
import os
import sys
import traceback
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QFontDatabase, QFontInfo, QGuiApplication, QPixmap
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMainWindow

_enter_event_loop = QApplication.exec


def _directed() -> int:
    direction = json.loads(os.environ["STAGE_DIRECTION"])
    QTimer.singleShot(0, lambda: _play(direction))
    return _enter_event_loop()


def _play(direction: dict[str, Any]) -> None:
    try:
        # whatever its class is: what starts the program is not to load its modules first
        window: Any = next(w for w in QApplication.topLevelWidgets() if isinstance(w, QMainWindow))
        if direction["only_paint"]:
            window.grab()
            os._exit(0)  # how long it takes to leave is not what is timed
        _settle(window)
        if direction["size"] is not None:
            window.resize(*direction["size"])
            QTest.qWait(100)
        if direction["scene"] is not None:
            sys.path.insert(0, str(Path(__file__).parents[1]))
            import scenes

            scenes.SCENES[direction["scene"]].arrange(window)
            QTest.qWait(200)
            _settle(window)
        _picture(window).save(direction["picture"])
        Path(direction["found"]).write_text(json.dumps(_found(window)), "utf-8")
        window.leave()
    except BaseException:  # whatever it is, the one who started this must read of it
        traceback.print_exc()
        QApplication.exit(3)


def _settle(window: Any) -> None:
    while not window.session.is_settled:
        QTest.qWait(20)
    QTest.qWait(300)  # words and plots are written at the pace of reading


def _picture(window: QMainWindow) -> QPixmap:
    """What the screen shows of the window; offscreen there is no screen to look at."""
    screen = window.screen()
    if QGuiApplication.platformName() == "offscreen" or screen is None:
        return window.grab()
    return screen.grabWindow(window.winId())


def _found(window: QMainWindow) -> dict[str, Any]:
    style = QApplication.style()
    return {
        "families": [f for f in ("Cabin", "B612") if f in QFontDatabase.families()],
        "family": QFontInfo(QApplication.font()).family(),
        "icon": not QApplication.windowIcon().isNull(),
        "style": "" if style is None else style.name(),
        "size": [window.width(), window.height()],
    }


if "STAGE_DIRECTION" in os.environ:
    QApplication.exec = staticmethod(_directed)  # type: ignore[method-assign]
