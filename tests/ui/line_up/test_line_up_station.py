"""The station Line up, driven: pieces of the shelf fitted, ears added, planes read, in inches too."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from driving import action, now, settle, type_into
from jovial_tack.document.targets import PulleyAt, ShaftAt
from jovial_tack.ui.line_up.room import LineUpRoom
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.window.main_window import MainWindow

LEFT = Qt.MouseButton.LeftButton


def room_of(window: MainWindow) -> LineUpRoom:
    window.desk.stand_at("line_up")
    return window.desk.room(LineUpRoom)


def field(window: MainWindow, name: str) -> QuantityField:
    card = room_of(window).stacks
    return next(
        one for one in card.findChildren(QuantityField) if one.accessibleName().startswith(name)
    )


def click(qtbot: QtBot, button: QPushButton) -> None:
    assert button.isEnabled()
    qtbot.mouseClick(button, LEFT)


def test_the_demo_is_put_in_line_with_what_is_on_the_shelf(
    qtbot: QtBot, window: MainWindow
) -> None:
    """The alternator is out of line; its window; pieces of the shelf; done, and back by one undo."""
    room, session = room_of(window), window.session
    session.select(PulleyAt("accessory", "alternator"))
    plan = now(room.plan.shown)
    bar = next(one for one in plan.pulleys if one.pulley == "alternator")
    assert bar.window is not None and bar.spacer_mm == pytest.approx(-1.63, abs=0.01)
    before = session.build
    action(window, "Stacks of the unit").trigger()
    card = room.stacks
    assert card.isVisible() and "Alternator" in card.title.text()
    assert card.propose.hasFocus() and not card.fit.isEnabled()
    qtbot.keyClick(card.propose, Qt.Key.Key_Space)
    assert card.fit.hasFocus() and "take Spacer, 4.8" in card.needs.text().replace("\xa0", " ")
    assert session.build is before  # what is proposed is not there yet
    qtbot.keyClick(card.fit, Qt.Key.Key_Space)
    settle(qtbot, window)
    assert not card.add.hasFocus()  # a further press of Space adds no ear
    assert session.build.drive("accessory").pulley("alternator").plane_mm == 43.3
    assert not [f for f in session.results.findings if f.code == "misaligned"]
    session.undo()
    assert now(session.build) == before


def test_ears_are_added_typed_and_taken_away_in_inches(qtbot: QtBot, window: MainWindow) -> None:
    room, session = room_of(window), window.session
    action(window, "Inches").trigger()
    session.select(ShaftAt("steering"))
    action(window, "Stacks of the unit").trigger()
    card = room.stacks
    assert "add its ears" in card.side._says
    for _ in range(2):
        click(qtbot, card.add)
    settle(qtbot, window)
    stack = session.build.find_stack("steering")
    assert stack is not None and len(stack.ears) == 2
    type_into(qtbot, field(window, "How far forward the boss"), "0.1")
    boss = session.build.find_boss(stack.ears[-1].boss)
    assert boss is not None and boss.z_mm == pytest.approx(2.54)
    type_into(qtbot, field(window, "Depth of full thread"), "-3")
    assert "above 0" in card.refusal.text()
    type_into(qtbot, field(window, "Depth of full thread"), "1 in")
    boss = session.build.find_boss(stack.ears[-1].boss)
    assert (
        boss is not None and boss.thread_depth_mm == pytest.approx(25.4) and not card.refusal.text()
    )
    type_into(qtbot, card.thread_name, "M11")
    assert "needs its pitch" in card.refusal.text() and card.thread_name.text() == "M11"
    type_into(qtbot, card.thread_name, "3/8-16")
    assert now(session.build).find_boss(stack.ears[-1].boss).thread == "3/8-16"
    click(qtbot, card.put)
    ear = now(session.build).find_stack("steering").ears[-1]
    assert ear.pieces and ear.pieces[0].count == 1
    click(qtbot, card.take)
    assert now(session.build).find_stack("steering").ears[-1].pieces == ()
    click(qtbot, card.remove)
    assert len(now(session.build).find_stack("steering").ears) == 1


def test_planes_are_read_and_taken_over(qtbot: QtBot, window: MainWindow) -> None:
    room, session = room_of(window), window.session
    session.select(PulleyAt("accessory", "alternator"))
    action(window, "Readings of planes").trigger()
    card = room.read
    assert card.near.hasFocus() and card.at.currentText() == "Alternator"
    qtbot.keyClick(card.near, Qt.Key.Key_Return)
    assert "Type what was read" in card.refusal.text()
    place = card.kind.findData("depth")
    card.kind.setCurrentIndex(place)
    card.kind.activated.emit(place)
    for typed in ("43.0", "43.2"):
        type_into(qtbot, card.near, typed)  # Enter adds it
    qtbot.waitUntil(lambda: card.list.count() == 2)
    assert "43.10 mm ± 0.35 mm" in card.told.text().replace("\xa0", " ")
    assert session.build.drive("accessory").pulley("alternator").plane_mm == 44.9
    card.list.setCurrentRow(1)
    qtbot.keyClick(card.list, Qt.Key.Key_Delete)
    assert len(session.build.alignment.readings) == 1
    settle(qtbot, window)
    qtbot.waitUntil(lambda: card.list.count() == 1)
    click(qtbot, card.take)
    assert now(session.build).drive("accessory").pulley("alternator").plane_mm == 43.0


def test_a_unit_whose_pieces_were_changed_by_hand_is_moved_to_where_they_put_it(
    qtbot: QtBot, window: MainWindow
) -> None:
    """One ear gets a thinner piece: the unit leans, and the build follows when asked to."""
    room, session = room_of(window), window.session
    session.select(PulleyAt("accessory", "alternator"))
    action(window, "Stacks of the unit").trigger()
    card = room.stacks
    assert not card.fit.isEnabled()
    card.side.picked.emit("ear 3")
    for words, button in (("8.0", card.take), ("4.8", card.put)):
        place = next(k for k in range(card.piece.count()) if words in card.piece.itemText(k))
        card.piece.setCurrentIndex(place)
        click(qtbot, button)
    qtbot.waitUntil(lambda: "has Spacer, 4.8" in card.needs.text())
    assert "leaning" in card.stands.text()
    assert "the build has it at 44.90" in card.stands.text().replace("\xa0", " ")
    assert "short of the others" in card.needs.text()
    assert card.fit.text() == "Move it there"
    click(qtbot, card.fit)
    pulley = now(session.build).drive("accessory").pulley("alternator")
    assert pulley.plane_mm == pytest.approx(44.12, abs=0.01) and max(pulley.tilt_deg, key=abs)
    qtbot.waitUntil(lambda: not card.fit.isEnabled())
