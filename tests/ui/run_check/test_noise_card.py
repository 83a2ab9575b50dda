"""The noise finder, driven: tiles turned, a ranking that moves, the next look answered, all kept."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from driving import action, now
from jovial_tack.document.targets import BeltAt, PulleyAt
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.window.main_window import MainWindow


def test_tiles_move_the_ranking_light_the_place_and_are_kept(
    qtbot: QtBot, window: MainWindow
) -> None:
    session = window.session
    session.select(BeltAt("blower"))
    card = window.desk.room(RunCheckRoom).noise
    action(window, "Noise finder").trigger()
    assert card.drive.currentData() == "blower" and "no weight" in card.causes.text()
    tile = card.tiles["squeal"]
    assert tile.height() >= 40
    qtbot.mouseClick(tile, Qt.MouseButton.LeftButton)
    assert tile.box == "done" and session.build.symptoms["blower"].findings == {"squeal": True}
    assert "too little grip" in card.causes.text() and "at Corvane 61" in card.causes.text()
    assert session.selection == PulleyAt("blower", "blower")
    qtbot.waitUntil(lambda: "Solved: fit 10PK1180" in card.causes.text(), timeout=20_000)
    before = now(card.told).causes[0].probability
    # what is not there is told by another press, and by keys; one more forgets it
    card.tiles["boost_falls_off"].setFocus()
    qtbot.keyClick(card.tiles["boost_falls_off"], Qt.Key.Key_Space)
    assert now(card.told).causes[0].probability > before
    qtbot.keyClick(card.tiles["boost_falls_off"], Qt.Key.Key_Space)
    assert card.tiles["boost_falls_off"].box == "absent"
    assert now(card.told).causes[0].probability < before
    qtbot.keyClick(card.tiles["boost_falls_off"], Qt.Key.Key_Space)
    assert "boost_falls_off" not in session.build.symptoms["blower"].findings
    # the next look is answered where it is asked, and another is asked
    look = now(card.next_look)
    assert card.asked.isVisible() and look.finding not in session.build.symptoms["blower"].findings
    card.absent.click()
    assert session.build.symptoms["blower"].findings[look.finding] is False
    assert card.next_look is None or now(card.next_look).finding != look.finding
    session.undo()
    qtbot.waitUntil(lambda: card.tiles[look.finding].box == "open")
    # cracks tell nothing on the newer rubber
    card.rubber.setCurrentIndex(card.rubber.findData("epdm"))
    card.rubber.activated.emit(card.rubber.currentIndex())
    assert (
        not card.tiles["cracks"].isEnabled() and "hardly cracks" in card.tiles["cracks"].toolTip()
    )
    card.anew.click()
    assert not session.build.symptoms and now(tile.box) == "open"
