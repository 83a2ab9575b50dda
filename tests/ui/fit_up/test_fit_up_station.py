"""Fitting up, driven: by pointer and by keys; a wrong mark found; what a change turns to again."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QPushButton, QTableWidget
from pytestqt.qtbot import QtBot

from driving import action, now, settle, type_into
from jovial_tack.document.edits.pulleys import set_plane
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.model import SpringArmTensioner
from jovial_tack.document.targets import ArmAt
from jovial_tack.ui.fit_up.room import FitUpRoom
from jovial_tack.ui.widgets.boxes import STATE
from jovial_tack.ui.window.main_window import MainWindow
from support import built, read_case


def at_step(window: MainWindow, step_id: str) -> FitUpRoom:
    """The station, with all steps ticked that come before one."""
    window.desk.stand_at("fit_up")
    room = window.desk.room(FitUpRoom)
    while now(room.following.step).id != step_id:
        room.following.toggle()
    return room


def row_of(table: QTableWidget, step_id: str) -> int:
    rows = (table.item(row, 0) for row in range(table.rowCount()))
    names = [item.data(Qt.ItemDataRole.UserRole) for item in rows if item is not None]
    return names.index(step_id)


def box_of(table: QTableWidget, step_id: str) -> str:
    return str(now(table.item(row_of(table, step_id), 0)).data(STATE))


def test_steps_are_ticked_by_pointer_and_by_keys_and_kept(qtbot: QtBot, window: MainWindow) -> None:
    session = window.session
    window.desk.stand_at("fit_up")
    room = window.desk.room(FitUpRoom)
    page, table = room.step, room.thread.table
    assert now(room.following.step).id == "safe" and "fan" in page.caution.text()
    assert page.tick.height() >= 40
    qtbot.mouseClick(page.tick, Qt.MouseButton.LeftButton)
    assert session.build.fit_up.done.keys() == {"safe"} and box_of(table, "safe") == "done"
    second = now(room.following.step).id
    assert second != "safe"
    # a click on the box of another step ticks that one
    third = row_of(table, second) + 1
    item = table.item(third, 0)
    assert item is not None and table.rowHeight(third) >= 40
    place = table.visualItemRect(item).center()
    viewport = table.viewport()
    qtbot.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=QPoint(place))
    assert item.data(Qt.ItemDataRole.UserRole) in session.build.fit_up.done
    # by keys: Space in the thread, and the key of the menu from anywhere
    table.setFocus()
    table.selectRow(row_of(table, second))
    qtbot.keyClick(table, Qt.Key.Key_Space)
    assert second in session.build.fit_up.done
    step = now(room.following.step).id
    action(window, "Tick the step of fitting up").trigger()
    assert step in session.build.fit_up.done
    session.undo()
    assert step not in session.build.fit_up.done
    qtbot.waitUntil(lambda: box_of(table, step) == "open")
    # a tick that holds is taken back by the same box
    room.following.choose("safe")
    assert "take it back" in page.tick.text()
    qtbot.mouseClick(page.tick, Qt.MouseButton.LeftButton)
    assert "safe" not in session.build.fit_up.done
    qtbot.mouseClick(page.anew, Qt.MouseButton.LeftButton)
    assert not session.build.fit_up.done
    session.undo()
    assert session.build.fit_up.done


def test_a_wrong_mark_is_found_and_mended_and_the_step_lights_its_arm(
    qtbot: QtBot, window: MainWindow
) -> None:
    session = window.session
    room = at_step(window, "tension:accessory")
    page = room.step
    assert session.selection == ArmAt("accessory")
    figures = now(room.following.step).figures
    assert f"Arm at {figures.arm_angle_deg:.1f}°" in page.figures.text()
    type_into(qtbot, page.arm, f"{figures.arm_angle_deg + 0.4:.1f}")
    # the mark alone is no green light: a weak spring hardly moves it
    assert "mark is as it should be" in page.likely.text() and "listen too" in page.likely.text()
    assert not page.why.isVisible()
    # it was bolted in its next notch: the mark hardly moves, the tone tells
    session.edit("as it is on the engine", set_arm(session.build, "accessory", notch=1))
    settle(qtbot, window)
    qtbot.waitUntil(lambda: now(room.following.step).figures != figures)
    seen = now(room.following.step).figures
    session.undo()
    settle(qtbot, window)
    qtbot.waitUntil(lambda: now(room.following.step).figures.tone_hz == figures.tone_hz)
    type_into(qtbot, page.arm, f"{seen.arm_angle_deg:.1f}")
    type_into(qtbot, page.tone, f"{seen.tone_hz:.1f}")
    assert "of the tension" in page.likely.text()
    kept = session.build.fit_up.read["tension:accessory"]
    assert kept.tone_hz is not None and kept.arm_angle_deg is not None
    page.tick.click()
    room.following.choose("tension:accessory")
    # what is wrong is asked for; one look at the notch settles it
    page.why.click()
    card = room.causes
    qtbot.waitUntil(lambda: card.dialogue is not None)
    assert "notch" in card.told.text() and "notch" in card.asked.text()
    answers = card.answers.findChildren(QPushButton)
    assert all(button.height() >= 40 for button in answers)
    next(button for button in answers if button.text() == "In notch 2").click()
    assert card.asked.text() == "It stands out." and "Very likely" in card.told.text()
    card.back.click()
    assert "notch" in card.asked.text()
    next(b for b in card.answers.findChildren(QPushButton) if b.text() == "In notch 2").click()
    # the layout as the engine is: what is seen is what it says; the tick there turns to again
    card.adopt.click()
    settle(qtbot, window)
    arm = session.build.drive("accessory").tensioner
    assert isinstance(arm, SpringArmTensioner) and arm.notch == 1
    table = room.thread.table
    qtbot.waitUntil(lambda: box_of(table, "tension:accessory") == "again")
    assert box_of(table, "belt:accessory") == "done"
    action(window, "What is wrong if not").trigger()
    qtbot.waitUntil(lambda: card.dialogue is not None)
    dialogue = now(card.dialogue)
    assert dialogue.hypotheses[dialogue.order[0]].kind == "right"
    card.closed.emit()
    assert page.likely.text() == "Mark and tone are as they should be."
    assert "before the build was changed" in page.again.text() and page.again_mark.isVisible()


def test_a_pulley_put_forward_turns_its_steps_to_again_plainly(
    qtbot: QtBot, window: MainWindow
) -> None:
    session = window.session
    room = at_step(window, "turn")
    session.edit("plane", set_plane(session.build, "accessory", "alternator", 41.5))
    settle(qtbot, window)
    qtbot.waitUntil(lambda: "2 to do again" in room.thread.said.text())
    table = room.thread.table
    assert box_of(table, "pulley:accessory:alternator") == "again"
    assert box_of(table, "align:accessory") == "again"
    belt = now(table.item(row_of(table, "belt:accessory"), 2)).text()
    assert "look again" in belt and box_of(table, "belt:accessory") == "done"
    assert now(room.mark) == "watch"
    # the rail follows from any station, and another build has nothing of this one
    window.desk.stand_at("lay_out")
    session.undo()
    qtbot.waitUntil(lambda: now(room.mark) == "unknown")
    session.redo()
    qtbot.waitUntil(lambda: now(room.mark) == "watch")
    session.new(built(read_case("two_pulleys_locked")["build"]))
    qtbot.waitUntil(lambda: not room.following.steps.steps)
    assert now(room.mark) == "unknown"


def test_torque_is_the_builders_own_in_either_unit(qtbot: QtBot, window: MainWindow) -> None:
    session = window.session
    room = at_step(window, "mount:idler")
    page = room.step
    type_into(qtbot, page.torque, "30 lb ft")
    note = now(session.build.notes_torque)[0]
    assert note.step == "mount:idler" and abs(note.nm - 40.67) < 0.01
    page.left_hand.click()
    assert now(session.build.notes_torque)[0].left_hand
    type_into(qtbot, page.torque, "much")
    assert page.refusal.isVisible() and now(session.build.notes_torque)[0].nm == note.nm
    type_into(qtbot, page.lock, "medium")
    assert now(session.build.notes_torque)[0].lock == "medium"
    # a step of one's own comes after the one that is worked on, and is taken out again
    type_into(qtbot, page.own, "mark the bolts with paint")
    assert now(room.following.step).words == "mark the bolts with paint" and page.own.text() == ""
    ids = [step.id for step in room.following.steps.steps]
    assert ids.index("own:step") > ids.index("mount:idler")
    page.take_out.click()
    assert not session.build.fit_up.own
    room.following.choose("mount:idler")
    page.on.click()
    assert now(room.following.step).id != "mount:idler"
    page.back.click()
    assert now(room.following.step).id == "mount:idler" and page.torque.isVisible()


def test_the_routing_is_drawn_to_a_file_or_it_is_said_why_not(
    window: MainWindow, tmp_path: Path
) -> None:
    room = window.desk.room(FitUpRoom)
    room.draw_picture(tmp_path / "bay.svg")
    assert "Corvane 61" in (tmp_path / "bay.svg").read_text("utf-8")
    room.draw_picture(tmp_path / "bay.png")
    assert not (tmp_path / "bay.png").exists()
    assert ".svg or .pdf" in window.desk.notice.text.text()
