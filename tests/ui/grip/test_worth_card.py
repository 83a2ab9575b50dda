"""What it is worth, driven: changes tried while one waits, one made by a press, another build told."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from driving import action, now
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.targets import NOTHING
from jovial_tack.ui.grip.room import GripRoom
from jovial_tack.ui.window.main_window import MainWindow


def test_what_is_tried_is_listed_made_by_a_press_and_of_one_build(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, card = window.session, window.desk.room(GripRoom).worth
    session.select(NOTHING)
    action(window, "What it is worth").trigger()
    # with nothing selected the drive that slips is meant
    assert card.isVisible() and "Trying every change of Blower drive" in card.told.text()
    qtbot.waitUntil(lambda: len(card.worths) >= 2, timeout=20_000)
    assert card.stop.isEnabled() and card.is_busy
    qtbot.keyClick(card.stop, Qt.Key.Key_Space)
    assert "−9" in card.told.text() and not card.stop.isEnabled()
    kept = now(card.worths)
    best = kept[0]
    buttons = [b for b in card.findChildren(QPushButton) if b.text() == "Do this"]
    assert len(buttons) == len(kept) and buttons[0].accessibleName().lower() == best.words.lower()
    qtbot.keyClick(buttons[0], Qt.Key.Key_Space)
    assert now(session.build) == best.build and session.history.undo_label == best.words
    # what was found is of the build before
    assert not now(card.worths) and "try anew" in card.told.text()
    session.undo()
    qtbot.mouseClick(card.again, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(card.worths), timeout=20_000)
    session.edit("spring", set_arm(session.build, "blower", torque_nm=39.0))
    assert not now(card.worths) and "try anew" in card.told.text()
