"""The shelf and the keep-or-delete card in the window."""

from __future__ import annotations

from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDragLeaveEvent, QDragMoveEvent, QDropEvent
from PyQt6.QtWidgets import QApplication, QPushButton
from pytestqt.qtbot import QtBot

from driving import settle, type_into
from jovial_tack.document.targets import NOTHING, PartAt, PulleyAt
from jovial_tack.ui.survey.room import SurveyRoom
from jovial_tack.ui.widgets.dragged import PART_MIME
from jovial_tack.ui.window.main_window import MainWindow

LEFT, NONE, COPY = (
    Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, Qt.DropAction.CopyAction,
)  # fmt: skip


def test_a_part_is_made_and_dragged_onto_a_shaft(qtbot: QtBot, window: MainWindow) -> None:
    session, desk, front = window.session, window.desk, window.front
    desk.call(desk.room(SurveyRoom).shelf)
    qtbot.mouseClick(desk.room(SurveyRoom).shelf.adders["pulley"], LEFT)
    part = session.build.shelf[-1]
    assert session.selection == PartAt(part.id) and not desk.room(SurveyRoom).shelf.isVisible()
    type_into(qtbot, window.cards.field("By tape"), "226.7")
    assert session.build.shelf[-1].diameter_mm is not None
    assert abs(session.build.shelf[-1].diameter_mm - 72.0) < 0.1
    type_into(qtbot, window.cards.field("Grooves"), "10")
    desk.call(desk.room(SurveyRoom).shelf)
    shown = desk.room(SurveyRoom).shelf.list.item(len(session.build.shelf) - 1)
    assert shown is not None and "72" in shown.text() and "10 grooves" in shown.text()
    data = desk.room(SurveyRoom).shelf.list.mimeData([shown])
    assert bytes(data.data(PART_MIME).data()).decode() == part.id
    viewport = front.viewport()
    assert viewport is not None
    before = session.build
    blower, away = front.pixel_of_shaft("blower"), front.pixel_of_shaft("pump")
    QApplication.sendEvent(viewport, QDragEnterEvent(away, COPY, data, LEFT, NONE))
    QApplication.sendEvent(viewport, QDragMoveEvent(blower, COPY, data, LEFT, NONE))
    assert session.build.drive("blower").pulley("blower").part == part.id  # shown as it would be
    QApplication.sendEvent(viewport, QDragLeaveEvent())
    assert session.build == before
    QApplication.sendEvent(viewport, QDragEnterEvent(away, COPY, data, LEFT, NONE))
    QApplication.sendEvent(viewport, QDragMoveEvent(blower, COPY, data, LEFT, NONE))
    QApplication.sendEvent(viewport, QDropEvent(QPointF(blower), COPY, data, LEFT, NONE))
    pulley = session.build.drive("blower").pulley("blower")
    assert (pulley.part, pulley.grooves) == (part.id, 10)
    assert session.history.undo_label == "Pulley on Corvane 61"
    session.undo()
    assert session.build == before
    foreign = QMimeData()
    foreign.setText("no part")
    event = QDragEnterEvent(blower, COPY, foreign, LEFT, NONE)
    QApplication.sendEvent(viewport, event)
    assert not event.isAccepted()


def test_keeping_is_weighed_against_deleting(qtbot: QtBot, window: MainWindow) -> None:
    session, desk = window.session, window.desk
    session.select(NOTHING)
    desk.call(desk.room(SurveyRoom).keeping)
    assert not desk.room(SurveyRoom).keeping.isVisible()  # nothing selected: told, not guessed
    session.select(PulleyAt("accessory", "steering"))
    desk.call(desk.room(SurveyRoom).keeping)
    qtbot.waitUntil(lambda: len(desk.room(SurveyRoom).keeping.ways) == 3, timeout=10_000)
    before = session.build
    buttons = [
        b for b in desk.room(SurveyRoom).keeping.findChildren(QPushButton) if b.text() == "Do this"
    ]
    assert [b.accessibleName() for b in buttons] == [
        "Do this Delete Steering pump", "Do this An idler for Steering pump",
    ]  # fmt: skip
    buttons[1].click()
    assert session.build.shaft("steering").kind == "idler"
    assert session.build.logbook == before.logbook and session.build.logbook.events
    assert not desk.room(SurveyRoom).keeping.isVisible()
    settle(qtbot, window)
    assert session.results.drive("accessory").exists
    session.undo()
    assert session.build == before
