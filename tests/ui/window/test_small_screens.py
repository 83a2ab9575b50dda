"""In a small window trays and card fold away, come back by a key, and nothing is out of reach."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from jovial_tack.document.edits.engine import set_title
from jovial_tack.document.targets import PulleyAt
from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.window.main_window import MainWindow

#: The second is 1920x1080 at 200 %.
SIZES = [(800, 600), (960, 540)]


@pytest.mark.parametrize("size", SIZES)
def test_everything_can_be_brought_into_a_small_window(
    qtbot: QtBot, window: MainWindow, size: tuple[int, int]
) -> None:
    window.resize(*size)
    QApplication.processEvents()
    assert (window.width(), window.height()) == size
    desk = window.desk
    for station in window.station_actions:
        desk.stand_at(station)
        window.session.select(PulleyAt("blower", "blower"))
        parts = [desk.strip, desk.rail, desk.front]
        for part, keys in (("tray", Qt.Key.Key_F11), ("right", Qt.Key.Key_F11)):
            if desk.is_open(part):
                continue
            shift = Qt.KeyboardModifier.ShiftModifier if part == "right" else Qt.KeyboardModifier(0)
            qtbot.keyClick(window, keys, shift)
            assert desk.is_open(part)
        QApplication.processEvents()
        assert (window.width(), window.height()) == size, station
        parts += [desk.right, desk.shown_tray]
        for shown in parts:
            assert shown.isVisible()
            corner = shown.mapTo(window, QPoint(shown.width(), shown.height()))
            assert corner.x() <= size[0] and corner.y() <= size[1], (station, shown)
            assert shown.width() > 60 and shown.height() > 30, (station, shown, shown.size())
        desk.toggle("tray")
        desk.toggle("right")
        QApplication.processEvents()
        assert desk.front.width() > 400 and desk.front.height() > 250, station
    # what is called, or worked at on the right, comes of itself
    desk.stand_at("belt")
    desk.call(desk.room(BeltRoom).bench)
    assert desk.room(BeltRoom).bench.isVisible()
    desk.stand_at("run_check")
    assert desk.room(RunCheckRoom).panel.isVisible() or desk.wanted.get("right") is False


def test_a_notice_lies_over_the_desk_and_pushes_nothing(qtbot: QtBot, window: MainWindow) -> None:
    before = window.desk.front.geometry()
    window.session.edit("title", set_title(window.session.build, "Another"))
    window.files.new()
    QApplication.processEvents()
    notice = window.notice
    assert notice.isVisible() and window.desk.front.geometry() == before
    assert window.desk.rect().contains(notice.geometry())
    assert not notice.geometry().intersects(window.strip.geometry())
    window.resize(800, 600)
    QApplication.processEvents()
    assert window.desk.rect().contains(notice.geometry())
