"""Placing in the window: guides, measuring, tracing, notes and notches, by pointer and by keys."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from driving import action, now, settle
from jovial_tack.document.edits.obstacles import move_obstacle
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    BeltAt,
    BracketAt,
    CutAt,
    NoteAt,
    ObstacleAt,
    PartAt,
    PlateAt,
    PulleyAt,
    ShaftAt,
    SpanAt,
    Target,
)
from jovial_tack.sheets import sheet_of
from jovial_tack.ui.window.main_window import MainWindow
from support import furnished

LEFT, ALT, CTRL, NONE = (
    Qt.MouseButton.LeftButton, Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.NoModifier,
)  # fmt: skip


def at(window: MainWindow, x: float, y: float) -> QPoint:
    px, py = window.front.pixel_at((x, y))
    return QPoint(round(px), round(py))


def drag(
    qtbot: QtBot, window: MainWindow, start: QPoint, end: QPoint, held: Qt.KeyboardModifier = NONE
) -> None:
    viewport = window.front.viewport()
    assert viewport is not None
    qtbot.mousePress(viewport, LEFT, NONE, start)
    for k in range(1, 9):
        move(window, start + (end - start) * k / 8, held)
    qtbot.mouseRelease(viewport, LEFT, held, end)


def move(window: MainWindow, to: QPoint, held: Qt.KeyboardModifier) -> None:
    """Move with keys held, which the test library does not."""

    viewport = window.front.viewport()
    assert viewport is not None
    where = QPointF(viewport.mapToGlobal(to))
    event = QMouseEvent(QEvent.Type.MouseMove, QPointF(to), where, LEFT, LEFT, held)
    QApplication.sendEvent(viewport, event)


def test_a_dragged_shaft_falls_level_unless_alt_is_held(qtbot: QtBot, window: MainWindow) -> None:
    session = window.session
    pump = session.build.shaft("pump").center_mm
    start = window.front.pixel_of_shaft("alternator")
    end = at(window, 250.0, pump[1]) + QPoint(0, 3)
    drag(qtbot, window, start, end)
    assert session.build.shaft("alternator").center_mm[1] == pump[1]
    assert session.history.undo_label == "move Alternator"
    session.undo()
    settle(qtbot, window)
    drag(qtbot, window, start, end, ALT)
    assert session.build.shaft("alternator").center_mm[1] != pump[1]


def test_measured_with_the_pointer_and_with_keys(qtbot: QtBot, window: MainWindow) -> None:
    session, front = window.session, window.front
    action(window, "Measure").trigger()
    drag(qtbot, window, front.pixel_of_shaft("crank"), front.pixel_of_shaft("alternator"))
    x, y = session.build.shaft("alternator").center_mm
    said = front.measured
    assert said.startswith(
        f"Crank to Alternator: {(x * x + y * y) ** 0.5:.1f} mm, across {x:.1f} mm"
    )
    assert f"rim to rim {(x * x + y * y) ** 0.5 - 165 / 2 - 30:.1f} mm" in said
    assert not session.history.undo_label  # nothing was moved
    qtbot.keyClick(front, Qt.Key.Key_Escape)
    assert front.measured == ""
    session.select(ShaftAt("crank"))
    session.select(ShaftAt("alternator"))
    action(window, "Measure").trigger()
    assert front.measured == said


def test_an_outline_is_traced_and_a_note_pinned(qtbot: QtBot, window: MainWindow) -> None:
    session, front, viewport = window.session, window.front, window.front.viewport()
    corners = [(-250.0, 330.0), (-180.0, 360.0), (-120.0, 300.0)]
    action(window, "Trace something in the way").trigger()
    for corner in corners:
        qtbot.mouseClick(viewport, LEFT, NONE, at(window, *corner))
    qtbot.keyClick(front, Qt.Key.Key_Return)
    traced = session.build.obstacles[-1]
    assert now(session.selection) == ObstacleAt(traced.id)
    for made, meant in zip(traced.outline_mm, corners, strict=True):
        assert made == pytest.approx(meant, abs=1.5)  # a pixel or so
    action(window, "Pin a note").trigger()
    (note,) = session.build.pinned_notes
    assert session.selection == NoteAt(note.id)
    before = note.at_mm
    settle(qtbot, window)
    drag(qtbot, window, at(window, *before), at(window, before[0] + 60, before[1] - 40))
    moved = session.build.note(note.id).at_mm
    assert moved == pytest.approx((before[0] + 60, before[1] - 40), abs=2)
    qtbot.keyClick(front, Qt.Key.Key_Delete)
    assert not session.build.pinned_notes


def test_an_arm_is_dragged_from_notch_to_notch(qtbot: QtBot, window: MainWindow) -> None:
    session, front = window.session, window.front
    session.edit("notches", set_arm(session.build, "accessory", notches_deg=(0.0, 4.0), notch=0))
    settle(qtbot, window)
    arm = session.build.drive("accessory").tensioner
    pivot, end = arm.pivot_mm, front.pixel_of_shaft("arm")  # type: ignore[union-attr]
    start = (at(window, *pivot) * 2 + end) / 3
    session.select(ArmAt("accessory"))
    turned = at(window, *pivot) + QPoint(
        (start - at(window, *pivot)).x() - 12, (start - at(window, *pivot)).y()
    )
    drag(qtbot, window, start, turned)
    assert session.build.drive("accessory").tensioner.notch == 1  # type: ignore[union-attr]
    assert session.history.undo_label == "notch of Accessory drive"


def test_one_part_is_put_by_another_with_keys(qtbot: QtBot, window: MainWindow) -> None:
    session = window.session
    session.select(PulleyAt("accessory", "alternator"))
    action(window, "Level with the part before").trigger()
    assert not session.history.undo_label  # nothing was selected before it: told, not guessed
    session.select(ShaftAt("pump"))
    session.select(PulleyAt("accessory", "alternator"))
    action(window, "Level with the part before").trigger()
    pump = session.build.shaft("pump").center_mm
    assert session.build.shaft("alternator").center_mm[1] == pump[1]
    assert now(session.history.undo_label) == "Alternator level with Water pump"


def test_the_delete_key_does_what_the_card_offers(qtbot: QtBot, window: MainWindow) -> None:
    """Every kind of part: the same edit under the same name, and nothing where none is offered."""
    session, front = window.session, window.front
    session.new(furnished())
    build = session.build
    targets: list[Target] = [
        PulleyAt("blower", "blower"), BeltAt("blower"), ShaftAt("alternator"),
        ObstacleAt(build.obstacles[0].id), NoteAt(build.pinned_notes[0].id),
        BracketAt(build.brackets[0].id), PlateAt("plate"), CutAt("plate", "slot"),
        PartAt(build.shelf[0].id),
    ]  # fmt: skip
    for target in targets:
        session.select(target)
        act = next(a for a in sheet_of(target).acts(session.view) if a.removes)
        meant = act.make(build)
        qtbot.keyClick(front, Qt.Key.Key_Delete)
        assert session.build == meant and session.history.undo_label == act.label
        session.undo()
    for target in (ShaftAt("crank"), ArmAt("blower"), SpanAt("blower", "crank"), NOTHING):
        session.select(target)
        qtbot.keyClick(front, Qt.Key.Key_Delete)
        assert session.build == build


def test_arrows_nudge_outlines_and_notes_up_to_the_edge(qtbot: QtBot, window: MainWindow) -> None:
    session, front = window.session, window.front
    session.new(furnished())
    note = session.build.pinned_notes[0]
    session.select(NoteAt(note.id))
    qtbot.keyClick(front, Qt.Key.Key_Right, CTRL)
    assert session.build.note(note.id).at_mm == (note.at_mm[0] + 10.0, note.at_mm[1])
    body = session.build.obstacles[-1].id
    session.edit("far out", move_obstacle(session.build, body, 0.0, 99_800.0))
    far = session.build
    session.select(ObstacleAt(body))
    for _ in range(60):
        qtbot.keyClick(front, Qt.Key.Key_Up, CTRL)
    top = max(y for _, y in session.build.obstacle(body).outline_mm)
    assert 99_900 < top <= 100_000 and session.build != far  # it stays at the edge, no complaint
