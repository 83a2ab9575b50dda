"""Every situation, driven: solved when called, a row chosen by keys, rings that go with the card."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from driving import action
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.targets import BeltAt
from jovial_tack.ui.grip.room import GripRoom
from jovial_tack.ui.window.main_window import MainWindow


def rings(window: MainWindow) -> set[str]:
    return {key for key in window.desk.front.drawn if key.startswith("ring/")}


def test_situations_are_chosen_and_follow_the_build(qtbot: QtBot, window: MainWindow) -> None:
    session, card = window.session, window.desk.room(GripRoom).situations
    session.select(BeltAt("blower"))
    action(window, "In every situation").trigger()
    qtbot.waitUntil(lambda: card.told is not None and not card.is_busy, timeout=20_000)
    told = card.told
    assert told is not None and "Worst oily" in card.said.text()
    held = card.strip.held
    assert told.each[held].key == "oily"
    worst = rings(window)
    assert any(key.startswith("ring/blower/blower/") for key in worst)
    qtbot.keyClick(card.strip, Qt.Key.Key_Up)
    assert card.strip.held == held - 1 and card.of_one.text().startswith("As it is")
    assert rings(window) != worst
    session.edit("spring", set_arm(session.build, "blower", torque_nm=60.0))
    qtbot.waitUntil(lambda: card.told is not told and not card.is_busy, timeout=20_000)
    session.select(BeltAt("accessory"))
    qtbot.waitUntil(lambda: not card.is_busy and "Accessory" in card.title.text(), timeout=20_000)
    assert all(key.startswith("ring/accessory/") for key in rings(window))
    card.closed.emit()
    assert not rings(window)
