"""Loads on the parts, driven: arrows that follow the slider, life once a state is pinned."""

from __future__ import annotations

from pytestqt.qtbot import QtBot

from driving import action
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.drawing.shapes import Line
from jovial_tack.ui.grip.room import GripRoom
from jovial_tack.ui.widgets.text import Label
from jovial_tack.ui.window.main_window import MainWindow


def test_arrows_follow_the_slider_and_life_the_pinned_state(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, card = window.session, window.desk.room(GripRoom).loads
    action(window, "Loads on the parts").trigger()
    drawn = window.desk.front.drawn
    qtbot.waitUntil(lambda: "pull/blower" in drawn)
    arrow = drawn["pull/blower"].model
    assert isinstance(arrow, Line)
    session.show_rpm(session.build.engine.idle_rpm)
    after = drawn["pull/blower"].model
    assert isinstance(after, Line) and after.points[0] == arrow.points[0]
    assert after.points[1] != arrow.points[1]

    def said() -> str:
        return " ".join(label.text() for label in card.page.findChildren(Label))

    assert "bends a second" in said() and "as long as" not in said()
    session.pin_baseline()
    session.edit("belt", set_belt_length(session.build, "blower", 1180.0))
    qtbot.waitUntil(lambda: "as long as" in said(), timeout=20_000)
    card.closed.emit()
    assert "pull/blower" not in drawn
