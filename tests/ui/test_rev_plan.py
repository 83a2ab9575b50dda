"""The station for ratios in the window: the rev plan dragged and stepped, a blower and its boost."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from driving import figure_text, settle, type_into
from jovial_tack.build.edits import set_diameter, set_shaft
from jovial_tack.build.ratios import boost_at, set_speed_at_redline
from jovial_tack.ui.cards.rows import ChoiceRow
from jovial_tack.ui.main_window import MainWindow
from jovial_tack.ui.rev_plan_view import RevPlanView


def place_of(view: RevPlanView, shaft: str) -> int:
    return [row.id for row in view.rows].index(shaft)


def test_the_end_of_a_band_is_dragged_for_another_pulley(qtbot: QtBot, window: MainWindow) -> None:
    session, view = window.session, window.desk.rev_plan
    window.desk.stand_at("ratios")
    settle(qtbot, window)
    place = place_of(view, "alternator")
    row, before = view.rows[place], session.build
    assert row.redline_rpm is not None
    y = round(view.y_of(place))
    start = QPoint(round(view.x_of(row.redline_rpm)), y)
    end = QPoint(round(view.x_of(14000.0)), y)
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(view, (start + end) / 2)
    qtbot.mouseMove(view, end)
    assert session.build != before and not session.history.undo_label  # only shown so far
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=end)
    assert session.history.undo_label == "diameter of Alternator"
    after = view.rows[place_of(view, "alternator")].redline_rpm
    assert after == pytest.approx(14000.0, rel=0.02)
    assert session.selection == ("shaft", "alternator")
    session.undo()
    assert session.build == before


def test_a_shaft_that_turns_as_fast_as_the_crank_can_be_dragged_too(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, view = window.session, window.desk.rev_plan
    crank = session.build.drive("accessory").pulley("crank").diameter_mm
    session.edit("even", set_diameter(session.build, "accessory", "pump", crank + 1.0))
    # the pump runs on the belt's back: other offset, so the even diameter is found, not typed
    session.edit("even", set_speed_at_redline(session.build, "pump", 6600.0, session.catalogue))
    window.desk.stand_at("ratios")
    settle(qtbot, window)
    place = place_of(view, "pump")
    assert view.rows[place].ratio == pytest.approx(1.0, abs=1e-3) and view.rows[place].driven
    assert not view.rows[place_of(view, "crank")].driven
    y = round(view.y_of(place))
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=QPoint(round(view.x_of(6600.0)), y))
    qtbot.mouseMove(view, QPoint(round(view.x_of(8000.0)), y))
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPoint(round(view.x_of(8000.0)), y))
    assert session.history.undo_label == "diameter of Water pump"


def test_arrows_choose_a_shaft_and_step_its_pulley(qtbot: QtBot, window: MainWindow) -> None:
    session, view = window.session, window.desk.rev_plan
    window.desk.stand_at("ratios")
    settle(qtbot, window)
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Down)
    assert session.selection == ("shaft", view.rows[0].id)
    session.select(("shaft", "pump"))
    size = session.build.drive("accessory").pulley("pump").diameter_mm
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert session.build.drive("accessory").pulley("pump").diameter_mm == size - 0.5
    qtbot.keyClick(view, Qt.Key.Key_Left)
    assert session.build.drive("accessory").pulley("pump").diameter_mm == size
    session.select(("shaft", "crank"))
    undo = session.history.undo_label
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert session.history.undo_label == undo  # nothing turns the crank


def test_a_blower_is_described_on_its_card_and_its_boost_plotted(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, card = window.session, window.cards.card
    window.desk.stand_at("ratios")
    session.select(("shaft", "blower"))
    row = card.line("Air side")
    assert isinstance(row, ChoiceRow)
    row.choose("centrifugal")
    qtbot.waitUntil(lambda: "Known boost" in card._rows)
    type_into(qtbot, window.cards.field("Known boost"), "10 psi")
    type_into(qtbot, window.cards.field("Known at"), "12500")
    settle(qtbot, window)
    charge = boost_at(session.build, session.catalogue)
    boost = float(charge.boost_kpa[-1])
    qtbot.waitUntil(lambda: figure_text(window, "Boost") == f"{boost:.1f} kPa")
    assert window.revs.over == "speed"  # nothing was known of its boost when we came here
    window.revs.show_over("boost")
    qtbot.waitUntil(lambda: window.revs.readout.text() == f"6600 rpm: Corvane 61 {boost:.1f} kPa")
    window.desk.stand_at("grip")
    assert window.revs.over == "arc used"


def test_pulleys_for_a_boost_are_found_and_fitted(qtbot: QtBot, window: MainWindow) -> None:
    session, card = window.session, window.desk.wishes
    window.desk.stand_at("ratios")
    window.desk.show_wishes()
    assert "no driven shaft carries a supercharger" in card.said.text().lower()
    load = {
        "type": "supercharger", "model": "centrifugal", "adiabatic_efficiency": 0.7,
        "known_point": {"unit_rpm": 12500.0, "boost_kpa": 70.0},
    }  # fmt: skip
    session.edit("air side", set_shaft(session.build, "blower", load=load))
    card.open()
    qtbot.waitUntil(lambda: bool(card.pairs), timeout=15_000)
    first = card.pairs
    type_into(qtbot, card.boost, "10 psi")
    qtbot.waitUntil(lambda: card.pairs != first, timeout=15_000)
    kpa = 10 * 6.894757
    assert card.pairs[0].boost_kpa == pytest.approx(kpa, abs=0.1)
    button = next(b for b in card.findChildren(QPushButton) if b.text() == "Fit these")
    button.click()
    pulley = session.build.drive("blower").pulley("blower")
    assert pulley.diameter_mm == pytest.approx(card.pairs[0].blower_mm, abs=0.01)
    made = float(boost_at(session.build, session.catalogue).boost_kpa[-1])
    assert made == pytest.approx(kpa, abs=0.1)
    assert session.history.undo_label == "pulleys for 69 kPa"
    type_into(qtbot, card.boost, "1900")
    qtbot.waitUntil(lambda: bool(card.pairs and card.pairs[0].problem), timeout=15_000)
    type_into(qtbot, card.at, "nonsense")
    assert card.said.text()
