"""Driving the window in tests."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from jovial_tack.ui.app import make_application, make_window
from jovial_tack.ui.window.main_window import MainWindow


def settle(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: window.session.is_settled, timeout=30_000)


def type_into(qtbot: QtBot, field: QWidget, text: str) -> None:
    field.setFocus()
    qtbot.keyClick(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def figure_text(window: MainWindow, name: str) -> str:
    label = window.cards.card.row(name).label
    assert label is not None
    return label.text()


def action(window: MainWindow, text: str) -> QAction:
    """The menu entry of that text."""
    return next(a for a in window.findChildren(QAction) if a.text().replace("&", "") == text)


def started(qtbot: QtBot) -> MainWindow:
    """The window as a user starts it, without a file."""
    make_application(["test"])
    window = make_window()
    qtbot.addWidget(window)
    window.show()
    window.activateWindow()
    qtbot.waitExposed(window)
    settle(qtbot, window)
    return window


def now(value: object) -> Any:
    """What a property says now: a checker believes that what was asserted of it before is still so."""
    return value


def memory_mb(what: str) -> float:
    """A figure of the kernel on this process: VmRSS held now, VmHWM the most that was held, MB."""
    status = Path("/proc/self/status").read_text()
    line = next(line for line in status.splitlines() if line.startswith(what))
    return int(line.split()[1]) / 1024
