"""The finder, driven: what may change ticked and typed, the best found, a ghost, one taken, undone."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from driving import action, now, type_into
from jovial_tack.answers.drive.solve import solve
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.targets import BeltAt
from jovial_tack.ui.grip.finder.card import FinderCard
from jovial_tack.ui.grip.room import GripRoom
from jovial_tack.ui.window.main_window import MainWindow


def called(window: MainWindow, drive: str) -> FinderCard:
    window.session.select(BeltAt(drive))
    action(window, "Find the best …").trigger()
    return window.desk.room(GripRoom).finder


def test_the_slipping_drive_is_mended_with_what_lies_at_hand(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, card = window.session, called(window, "blower")
    form = card.form
    rows = {offer.words: (box, field) for offer, box, field in form.rows}
    assert rows["Belts"][0].isChecked() and rows["All 3 notches"][0].isChecked()
    arm_box, _ = rows["Pulley of Blower arm"]
    arm_box.setChecked(False)
    box, field = rows["Pulley of Corvane 61"]
    assert field is not None and box.isChecked() and field.text() == "72, 76, 80"
    field.selectAll()
    qtbot.keyClicks(field, "seventy")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    # what is not understood is told, and nothing is tried
    assert "seventy" in form.told.text() and not card.is_busy
    field.selectAll()
    qtbot.keyClicks(field, "72, 76")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: bool(card.kept) and not card.is_busy, timeout=30_000)
    choices = session.build.choices
    assert choices is not None and choices.diameters_mm["blower"] == (72.0, 76.0)
    assert choices.target is not None and choices.target.pulley == "blower"
    best = card.kept[0]
    assert "slips no more" in card.said.text() and "since" in card.said.text()
    codes = {
        f.kind.code for f in solve(best.build, None, session.catalogue).drive("blower").findings
    }
    assert not codes & {"slip", "too_tight", "hub_load", "overspeed"}
    card.show_ghost(best.place)
    assert "found" in window.desk.front.drawn
    card.show_ghost(-1)
    assert "found" not in window.desk.front.drawn
    take = next(b for b in card.findChildren(QPushButton) if b.text() == "Take this")
    before = session.build
    qtbot.keyClick(take, Qt.Key.Key_Space)
    assert now(session.build) == best.build
    session.undo()
    assert now(session.build) == before


def test_points_are_hovered_and_another_build_ends_it(qtbot: QtBot, window: MainWindow) -> None:
    session, card = window.session, called(window, "blower")
    qtbot.mouseClick(card.begin, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(card.kept) and not card.is_busy, timeout=30_000)
    plot = card.trade_off
    assert plot is not None and plot.trade is not None
    trade = plot.trade
    at = plot.place_of(int(trade.front[0]))
    with qtbot.waitSignal(plot.hovered) as hovered:
        plot.pointer_moved(at)
    assert hovered.args == [int(trade.places[trade.front[0]])]
    assert "found" in window.desk.front.drawn
    plot.pointer_moved(QPointF(-10, -10))
    assert "found" not in window.desk.front.drawn
    shown = plot.labels
    card.against.setCurrentIndex(1)
    assert plot.labels != shown and "Ratio" in plot.labels[0]
    session.edit("spring", set_arm(session.build, "blower", torque_nm=39.0))
    assert card.answer is None and "find anew" in card.said.text()
    # what keeps nothing says so
    card.ask()
    type_into(qtbot, card.form.ratio, "9.9")
    qtbot.waitUntil(lambda: not card.is_busy, timeout=30_000)
    assert "0 within the limits" in card.said.text() and "let more change" in card.said.text()
    assert "break the ratio" in card.said.text()
    # asked again it has kept what was ticked
    qtbot.keyClick(card.change, Qt.Key.Key_Space)
    assert session.build.choices is not None and card.begin.isVisible()
