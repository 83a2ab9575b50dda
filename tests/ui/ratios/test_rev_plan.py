"""The station for ratios in the window: the rev plan dragged and stepped, a blower and its boost."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QFileDialog, QLabel, QPushButton
from pytestqt.qtbot import QtBot

from driving import action, figure_text, now, settle, type_into
from jovial_tack.answers.ratios.charge import boost_at
from jovial_tack.answers.ratios.diameters import set_speed_at_redline
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.targets import ShaftAt
from jovial_tack.ui.cards.rows import ChoiceRow
from jovial_tack.ui.ratios.rev_plan import RevPlanView
from jovial_tack.ui.ratios.room import RatiosRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.window.main_window import MainWindow


def place_of(view: RevPlanView, shaft: str) -> int:
    return [row.id for row in view.rows].index(shaft)


def test_the_end_of_a_band_is_dragged_for_another_pulley(qtbot: QtBot, window: MainWindow) -> None:
    session, view = window.session, window.desk.room(RatiosRoom).plan
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
    assert now(session.history.undo_label) == "diameter of Alternator"
    after = view.rows[place_of(view, "alternator")].redline_rpm
    assert after == pytest.approx(14000.0, rel=0.02)
    assert session.selection == ShaftAt("alternator")
    session.undo()
    assert session.build == before


def test_a_shaft_that_turns_as_fast_as_the_crank_can_be_dragged_too(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, view = window.session, window.desk.room(RatiosRoom).plan
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
    session, view = window.session, window.desk.room(RatiosRoom).plan
    window.desk.stand_at("ratios")
    settle(qtbot, window)
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Down)
    assert session.selection == ShaftAt(view.rows[0].id)
    session.select(ShaftAt("pump"))
    size = session.build.drive("accessory").pulley("pump").diameter_mm
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert session.build.drive("accessory").pulley("pump").diameter_mm == size - 0.5
    qtbot.keyClick(view, Qt.Key.Key_Left)
    assert session.build.drive("accessory").pulley("pump").diameter_mm == size
    session.select(ShaftAt("crank"))
    undo = session.history.undo_label
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert session.history.undo_label == undo  # nothing turns the crank


def test_a_blower_is_described_on_its_card_and_its_boost_plotted(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, card = window.session, window.cards.card
    session.edit("unknown", set_shaft(session.build, "blower", load=None))
    window.desk.stand_at("ratios")
    session.select(ShaftAt("blower"))
    row = card.line("Air side")
    assert isinstance(row, ChoiceRow)
    row.choose("centrifugal")
    qtbot.waitUntil(lambda: "Known boost" in card.rows)
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
    assert now(window.revs.over) == "arc used"


def test_pulleys_for_a_boost_are_found_and_fitted(qtbot: QtBot, window: MainWindow) -> None:
    session, card = window.session, window.desk.room(RatiosRoom).boost
    session.edit("unknown", set_shaft(session.build, "blower", load=None))
    window.desk.stand_at("ratios")
    window.desk.call(window.desk.room(RatiosRoom).boost)
    assert "no driven shaft carries a supercharger" in card.message.text().lower()
    load = {
        "type": "supercharger", "model": "centrifugal", "adiabatic_efficiency": 0.7,
        "known_point": {"unit_rpm": 12500.0, "boost_kpa": 70.0},
    }  # fmt: skip
    session.edit("air side", set_shaft(session.build, "blower", load=load))
    card.open()
    qtbot.waitUntil(lambda: bool(card.pairs), timeout=15_000)
    first = card.pairs
    type_into(qtbot, card.boost, "10 psi")
    qtbot.waitUntil(lambda: card.pairs not in ((), first), timeout=15_000)
    kpa = 10 * 6.894757
    assert card.pairs[0].boost_kpa == pytest.approx(kpa, abs=0.1)
    button = next(b for b in card.findChildren(QPushButton) if b.text() == "Fit these")
    button.click()
    pulley = session.build.drive("blower").pulley("blower")
    assert pulley.diameter_mm == pytest.approx(card.pairs[0].blower_mm, abs=0.01)
    made = float(boost_at(session.build, session.catalogue).boost_kpa[-1])
    assert made == pytest.approx(kpa, abs=0.1)
    assert session.history.undo_label == "pulleys for 68.9 kPa"
    type_into(qtbot, card.boost, "1900")
    qtbot.waitUntil(lambda: bool(card.pairs and card.pairs[0].problem), timeout=15_000)
    type_into(qtbot, card.at, "nonsense")
    assert card.message.text()


def test_what_pulleys_at_hand_make_and_both_ways_side_by_side(
    qtbot: QtBot, window: MainWindow
) -> None:
    card = window.desk.room(RatiosRoom).boost
    window.desk.stand_at("ratios")
    window.desk.call(window.desk.room(RatiosRoom).boost)
    qtbot.waitUntil(lambda: bool(card.pairs), timeout=15_000)
    texts = {label.text() for label in card.findChildren(QLabel)}
    exact = [pair for pair in card.pairs if pair.exact]
    assert len(exact) == 2 and f"{exact[1].belt_speed_mps:.1f} m/s" in texts
    qtbot.mouseClick(card.at_hand, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: len(card.pairs) > 15, timeout=60_000)
    on_shelf = [pair for pair in card.pairs if pair.part]
    assert on_shelf and any("from the shelf" in x.text() for x in card.findChildren(QLabel))
    assert not card.boost.isEnabled()


def test_a_map_is_read_shown_and_let_go(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session, card = window.session, window.desk.room(RatiosRoom).map
    window.desk.stand_at("ratios")
    window.desk.call(window.desk.room(RatiosRoom).map)
    settle(qtbot, window)
    assert card.line is not None and "74 %" in card.readout.text()
    text = session.build.shaft("blower").load.map_csv  # type: ignore[union-attr]
    qtbot.mouseClick(card.away_button, Qt.MouseButton.LeftButton)
    assert session.build.shaft("blower").load.map_csv is None  # type: ignore[union-attr]
    assert card.line is None and "no map yet" in card.remark.text()
    before = session.build
    broken = tmp_path / "broken.csv"
    for content in (b"", b"\0\1\2", b"a,b\n1,2\n", b"speed,flow,ratio\n1,1\n2,2\n"):
        broken.write_bytes(content)
        card.read(broken)
        assert "broken.csv was not taken" in card.remark.text() and session.build == before
    good = tmp_path / "good.csv"
    good.write_text(text)
    card.read(good)
    assert card.line is not None and session.history.undo_label == "compressor map of Corvane 61"
    for suffix in (".csv", ".svg", ".png"):
        target = tmp_path / f"map{suffix}"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, t=target: (str(t), ""))
        card.export()
        assert target.stat().st_size > 500
        plan = tmp_path / f"plan{suffix}"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, t=plan: (str(t), ""))
        window.desk.room(RatiosRoom).plan.export()
        assert plan.stat().st_size > 300
    assert "Alternator" in (tmp_path / "plan.csv").read_text()
    assert "Alternator" in (tmp_path / "plan.svg").read_text()


def test_underdriving_is_weighed_and_fitted(qtbot: QtBot, window: MainWindow) -> None:
    session, card = window.session, window.desk.room(RatiosRoom).underdrive
    session.select(ShaftAt("blower"))
    window.desk.call(window.desk.room(RatiosRoom).underdrive)
    assert card.drive == "accessory" and len(card.steps) == 5
    assert not card.steps[0].too_slow and card.steps[-1].too_slow
    button = next(b for b in card.findChildren(QPushButton) if b.text() == "Fit it")
    button.click()
    assert session.build.drive("accessory").pulley("crank").diameter_mm == pytest.approx(144.4)
    assert session.history.undo_label == "underdrive Accessory drive"
    settle(qtbot, window)
    assert card.steps[0].driver_mm < session.build.drive("accessory").pulley("crank").diameter_mm


def test_a_curve_is_read_for_the_selected_shaft(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session, path = window.session, tmp_path / "output.csv"
    path.write_text("rpm,current_a\n1500,12\n6000,90\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (str(path), ""))
    action(window, "Read a curve for the part …").trigger()  # nothing is selected: only said
    assert session.history.undo_label is None
    session.select(ShaftAt("alternator"))
    action(window, "Read a curve for the part …").trigger()
    assert session.build.shaft("alternator").output.current_a == (12.0, 90.0)  # type: ignore[union-attr]
    path.write_text("nothing\n")
    action(window, "Read a curve for the part …").trigger()
    said = {label.text() for label in window.notice.findChildren(QLabel)}
    assert any("was not taken for Alternator" in text for text in said)


def test_a_pull_calibrates_the_blower_from_the_panel(qtbot: QtBot, window: MainWindow) -> None:
    session = window.session
    session.edit("unknown", set_shaft(session.build, "blower", load=None))
    window.desk.room(RunCheckRoom).open_demo_logs()
    button = window.desk.room(RunCheckRoom).panel.calibrate_button
    qtbot.waitUntil(
        lambda: not window.desk.room(RunCheckRoom).logs.busy and button.isVisible(), timeout=20_000
    )
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    point = session.build.shaft("blower").load.known_point  # type: ignore[union-attr]
    assert point is not None
    head = ((1 + point.boost_kpa / 101.325) ** (2 / 7) - 1) / point.unit_rpm**2
    truth = (
        (1 + 125 / 101.3) ** (2 / 7) - 1
    ) / 14000**2  # what the demo's logs were simulated with
    assert head == pytest.approx(truth, rel=0.01)
    assert session.history.undo_label == "calibrate the blower by tessary-fen-slipping.csv"
