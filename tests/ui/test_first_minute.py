"""The first minute: beginnings by pointer and keys in both units, what is asked, what is told whole."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu, QPushButton
from pytestqt.qtbot import QtBot

from driving import now, settle, started, type_into
from jovial_tack.answers.lay_out.feeler import felt_gap
from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.document.edits.obstacles import set_obstacle
from jovial_tack.document.targets import NOTHING, ShaftAt
from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.cards.rows import ChoiceRow
from jovial_tack.ui.ratios.room import RatiosRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.window.main_window import MainWindow

LEFT = Qt.MouseButton.LeftButton
CONTROL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def empty(qtbot: QtBot) -> Iterator[MainWindow]:
    window = started(qtbot)
    yield window
    window.leave()


def choose(window: MainWindow, line: str, words: str) -> None:
    """Choose in a line of the card, as a user does."""
    row = window.cards.card.line(line)
    assert isinstance(row, ChoiceRow)
    place = row.combo.findText(words)
    assert place >= 0, [row.combo.itemText(k) for k in range(row.combo.count())]
    row.combo.setCurrentIndex(place)
    row.combo.activated.emit(place)


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_every_beginning_opens_without_anything_to_watch(
    qtbot: QtBot, empty: MainWindow, unit: str
) -> None:
    session = empty.session
    qtbot.keyClick(empty, Qt.Key.Key_I if unit == "in" else Qt.Key.Key_M, CONTROL)
    assert session.build.display_units == unit and not session.is_modified
    for place, (text, _) in enumerate(LAYOUTS):
        if place % 2:  # by keys, in the menu File, New from a layout
            menu = empty.menus.submenus["begin"]
            assert isinstance(menu, QMenu)
            menu.setActiveAction(menu.actions()[0])
            for _ in range(place):
                qtbot.keyClick(menu, Qt.Key.Key_Down)
            qtbot.keyClick(menu, Qt.Key.Key_Return)
        else:
            qtbot.mouseClick(empty.cards.card.act(f"Begin: {text}"), LEFT)
        settle(qtbot, empty)
        marks = {verdict.title: verdict.mark for verdict in session.verdicts}
        assert set(marks.values()) <= {"good", "unknown"}, (text, session.verdicts)
        assert marks["Fits"] == marks["Order"] == "good"
        assert {room.mark for room in empty.desk.rooms} <= {"good", "unknown", None}
        assert session.build.display_units == unit
        session.new()
        assert session.build.display_units == unit


def test_the_units_on_screen_are_those_of_the_next_start(qtbot: QtBot, empty: MainWindow) -> None:
    empty.menus.named["inches"].trigger()
    empty.close()
    again = started(qtbot)
    assert again.session.build.display_units == "in" and not again.session.is_modified
    again.files.open_demo()
    assert now(again.session.build.display_units) == "in" and not again.session.is_modified
    again.leave()


def test_a_verdict_that_is_cut_is_told_whole_when_a_key_comes_to_it(
    qtbot: QtBot, window: MainWindow
) -> None:
    window.resize(1024, 700)
    window.activateWindow()
    holds = window.strip.buttons[2]
    holds.setFocus(Qt.FocusReason.TabFocusReason)
    qtbot.waitUntil(window.strip.whole.isVisible)
    told = window.strip.whole.text().replace("\u00a0", " ").replace("\u2060", "")
    assert holds.verdict.sentence in told and holds.hasFocus()
    assert all(m.words.lower() in told.lower() for m in holds.verdict.mends)
    assert window.rect().contains(window.strip.whole.geometry())
    window.front.setFocus(Qt.FocusReason.TabFocusReason)
    assert not window.strip.whole.isVisible()


def test_an_obstacle_is_asked_its_name_and_a_felt_gap_corrects_it(
    qtbot: QtBot, window: MainWindow
) -> None:
    session = window.session
    session.select(NOTHING)
    window.activateWindow()
    qtbot.mouseClick(window.cards.card.act("+ Something in the way"), LEFT)
    field = QApplication.focusWidget()
    assert isinstance(field, QLineEdit) and field.selectedText() == "Obstacle"
    qtbot.keyClicks(field, "Steering box")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    new = session.build.obstacles[-1]
    assert new.name == "Steering box"
    corners = ((150.0, -120.0), (240.0, -120.0), (240.0, -60.0), (150.0, -60.0))
    session.edit("there", set_obstacle(session.build, new.id, outline_mm=corners))
    settle(qtbot, window)
    assert (felt_gap(session.build, new.id, session.catalogue).rest_mm or 0) > 5
    type_into(qtbot, window.cards.field("Gap at rest"), "4.5")
    assert felt_gap(session.build, new.id, session.catalogue).rest_mm == pytest.approx(
        4.5, abs=0.01
    )
    assert session.history.undo_label == "gap of Steering box"


def test_a_load_case_is_chosen_on_the_card_and_changed_on_a_shafts(
    qtbot: QtBot, window: MainWindow
) -> None:
    session = window.session
    session.select(NOTHING)
    choose(window, "Load case", "Steering at lock (rep.)")
    settle(qtbot, window)
    assert session.build.load_case == "steering_at_lock"
    assert session.verdicts[2].sentence.startswith("Steering at lock: ")
    session.select(ShaftAt("steering"))
    type_into(qtbot, window.cards.field("In this case"), "2")
    (own,) = session.build.load_cases
    assert own.name == "Steering at lock" and own.loads == {"steering": 2.0}
    session.select(NOTHING)
    choose(window, "Load case", "loads as they are")
    assert session.build.load_case is None and session.build.load_cases
    qtbot.mouseClick(window.cards.card.act("+ Bank of batteries"), LEFT)
    type_into(qtbot, window.cards.field("Bank 1 idle"), "40")
    session.select(ShaftAt("alternator"))
    choose(window, "Charges", "bank")
    settle(qtbot, window)
    assert session.build.engine.banks["bank"].idle_a == 40.0
    assert session.build.shaft("alternator").bank == "bank"


def test_what_was_felt_and_logged_is_kept(qtbot: QtBot, empty: MainWindow) -> None:
    session = empty.session
    qtbot.mouseClick(empty.cards.card.act(f"Begin: {LAYOUTS[1][0]}"), LEFT)
    settle(qtbot, empty)
    bench = empty.desk.room(BeltRoom).bench
    empty.desk.stand_at("belt")
    empty.desk.call(bench)
    bench.show_page(bench.pages.index(bench.feel))
    qtbot.waitUntil(lambda: bench.feel.found is not None)
    qtbot.mouseClick(bench.feel.kept.button, LEFT)
    (check,) = session.build.logbook.events
    assert (check.kind, check.span) == ("tension_check", bench.feel.found.span)  # type: ignore[union-attr]
    assert check.tension_n == pytest.approx(bench.feel.found.tension_n, abs=0.06)  # type: ignore[union-attr]
    out = next(b for b in bench.feel.kept.findChildren(QPushButton) if b.text() == "Take out")
    qtbot.mouseClick(out, LEFT)
    assert not session.build.logbook.events


def test_a_log_is_kept_once_with_what_it_shows(qtbot: QtBot, window: MainWindow) -> None:
    room, session = window.desk.room(RunCheckRoom), window.session
    room.open_demo_logs()
    qtbot.waitUntil(
        lambda: not room.logs.busy and room.logs.logs[0].pull is not None,  # type: ignore[union-attr]
        timeout=30_000,
    )
    qtbot.mouseClick(room.panel.keep_button, LEFT)
    run = session.build.logbook.events[-1]
    assert run.kind == "run" and run.log.endswith(".csv") and len(run.sha256) == 64
    assert run.onset_rpm == pytest.approx(room.logs.logs[0].pull.pull.onset_rpm, abs=0.06)  # type: ignore[union-attr]
    assert not room.panel.keep_button.isVisible()


def test_pulleys_for_a_boost_shows_that_it_works(qtbot: QtBot, window: MainWindow) -> None:
    boost = window.desk.room(RatiosRoom).boost
    window.desk.stand_at("ratios")
    window.desk.call(boost)
    qtbot.waitUntil(lambda: bool(boost.pairs), timeout=30_000)
    assert not boost.working.isVisible()
    boost.ask_for(140.0, None)
    assert boost.working.isVisible() and not boost.pairs
    qtbot.waitUntil(lambda: bool(boost.pairs), timeout=30_000)
    assert not boost.working.isVisible()
