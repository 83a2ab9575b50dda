"""Driving the window in tests."""

from __future__ import annotations

from pytestqt.qtbot import QtBot

from jovial_tack.ui.main_window import MainWindow


def settle(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: window.session.is_settled, timeout=10_000)
