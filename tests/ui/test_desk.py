"""The desk around the front view: ribbon and slider speak of the same results."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from jovial_tack.ui.main_window import MainWindow


def test_ribbon_and_front_view_light_and_select_the_same(qtbot: QtBot, window: MainWindow) -> None:
    session, shown = window.session, window.ribbon
    session.select(("belt", "blower"))
    strip = shown.shown
    assert strip is not None
    block = next(b for b in strip.blocks if b.pulley == "blower")
    x = round(shown._x((block.start + block.end) / 2))
    qtbot.mouseMove(shown, QPoint(x, 125))
    assert session.hovered == ("pulley", "blower", "blower")
    assert window.front._items["pulley/blower/blower"]._hovered  # type: ignore[union-attr]
    qtbot.mouseClick(shown, Qt.MouseButton.LeftButton, pos=QPoint(x, 125))
    assert session.selection == ("pulley", "blower", "blower")
    qtbot.keyClick(shown, Qt.Key.Key_Right)
    assert session.selection == ("pulley", "blower", "blower_idler")
    qtbot.mouseMove(window.front.viewport(), window.front.pixel_of_shaft("alternator"))
    assert session.hovered[2:] == ("alternator",)


def test_the_ribbon_is_the_belt_unrolled_to_scale(window: MainWindow) -> None:
    window.session.select(("belt", "accessory"))
    shown, result = window.ribbon.shown, window.session.results.drive("accessory")
    assert shown is not None
    assert shown.length == pytest.approx(result.cord_length_mm)
    assert [b.pulley for b in shown.blocks] == [
        "arm", "steering", "pump", "alternator", "idler", "crank",
    ]  # fmt: skip
    places = [place for place, _ in shown.tension]
    assert places == sorted(places)
    assert shown.tension[0][1] == pytest.approx(shown.tension[-1][1])
    for block in shown.blocks:
        assert block.start <= block.used_from <= block.end


def test_the_slider_sweeps_the_revs_and_everything_follows(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, slider = window.session, window.slider
    session.select(("pulley", "blower", "blower"))
    at_redline = window.front._items["arc/blower/blower"].model
    assert at_redline.role == "arc_stop"
    slider.setFocus()
    qtbot.keyClick(slider, Qt.Key.Key_Home)
    assert session.rpm == session.build.engine.idle_rpm
    assert window.front._items["arc/blower/blower"].model.role == "arc_good"
    qtbot.waitUntil(lambda: window.cards.pulley.figures._rows["Speed"][0].text() == "1805 rpm")
    qtbot.keyClick(slider, Qt.Key.Key_End)
    assert session.rpm == 6600
    assert window.front._items["arc/blower/blower"].model == at_redline
    slips = [r for r in slider._ranges if r.kind == "stop"]
    assert slips
    assert min(r.low_rpm for r in slips) == pytest.approx(6400)
    assert "Corvane 61 slips" in slider.accessibleDescription()


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800)])
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_nothing_is_cut_off(
    window: MainWindow, qtbot: QtBot, size: tuple[int, int], unit: str
) -> None:
    window.resize(*size)
    window._units(unit)
    for target in (("pulley", "accessory", "alternator"), ("belt", "blower"), ()):
        window.session.select(target)
        qtbot.wait(80)
        assert (window.width(), window.height()) == size
        for widget in (window.strip, window.front, window.ribbon, window.slider, window.cards):
            corner = widget.mapTo(window, QPoint(widget.width(), widget.height()))
            assert corner.x() <= window.width()
            assert corner.y() <= window.height()
        card = window.cards.current
        shown = [w for w in card.findChildren(QWidget) if w.isVisibleTo(card)]
        for label in shown:
            if hasattr(label, "text") and not getattr(label, "wordWrap", lambda: True)():
                assert label.width() >= label.sizeHint().width(), label.text()
