"""The noise finder's other evidence, driven: a recording, a code, the table behind it, a step's no."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QLineEdit
from pytestqt.qtbot import QtBot

from driving import action, now, type_into
from jovial_tack.answers.fit_up.squeal import turns_of
from jovial_tack.core.run_check.recorder import RATE_HZ, recording
from jovial_tack.document.targets import BeltAt, PulleyAt
from jovial_tack.files.places import data_folder
from jovial_tack.files.wav import write_wav
from jovial_tack.ui.fit_up.room import FitUpRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.run_check.tile import pictures
from jovial_tack.ui.window.main_window import MainWindow

LEFT = Qt.MouseButton.LeftButton


def test_a_recording_and_a_code_become_evidence(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session = window.session
    session.select(BeltAt("blower"))
    card = window.desk.room(RunCheckRoom).noise
    action(window, "Noise finder").trigger()
    hearing = card.hearing
    assert hearing.rpm.value == 850
    type_into(qtbot, hearing.rpm, "soon")
    assert "soon" in hearing.message.text()  # why it is not taken
    type_into(qtbot, hearing.rpm, "1500")  # far from idle: what is typed is what is listened by
    assert hearing.rpm.value == 1500 and not hearing.message.text()
    turns = turns_of(session.results.drive("blower"))["blower_arm"]
    file = tmp_path / "noise.wav"
    write_wav(file, recording(np.random.default_rng(2), 1480, 4, turns, 0.8), RATE_HZ)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (str(file), ""))
    hearing.open.click()
    qtbot.waitUntil(lambda: hearing.heard is not None, timeout=20_000)
    assert "the pulley of Blower arm" in hearing.message.text() and hearing.take.isVisible()
    assert now(hearing.heard).heard.crank_rpm == pytest.approx(1480, rel=0.006)
    qtbot.mouseClick(hearing.take, LEFT)
    assert card.tiles["once_a_turn"].box == "done" and not hearing.take.isVisible()
    assert session.build.symptoms["blower"].turns_with == "blower_arm"
    wobbles = next(one for one in now(card.told).causes if one.cause == "pulley_wobbles")
    assert wobbles.where == "blower_arm" and session.selection == PulleyAt("blower", "blower_arm")
    # what it beats with goes with the finding
    card.tiles["once_a_turn"].click()
    assert session.build.symptoms["blower"].turns_with is None
    # a file that is no recording is told, and nothing is lost
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (__file__, ""))
    hearing.open.click()
    qtbot.waitUntil(lambda: "No recording in WAV" in hearing.message.text())
    type_into(qtbot, hearing.code, "p0299")
    assert session.build.symptoms["blower"].findings["boost_falls_off"] is True
    assert "boost falls off" in hearing.message.text()
    type_into(qtbot, hearing.code, "P1234")
    assert "nothing of a belt" in hearing.message.text() and hearing.code.text() == "P1234"
    assert set(pictures()) == set(card.tiles)


def test_the_table_is_changed_by_keys_and_its_own_figures_are_marked(
    qtbot: QtBot, window: MainWindow
) -> None:
    card = window.desk.room(RunCheckRoom).noise
    action(window, "Noise finder").trigger()
    table = card.open_table()
    figures = table.figures
    row, column = figures.rows.index("squeal"), figures.columns.index("bearing")
    cell = figures.index(row, column)
    assert figures.data(cell) == ""

    def type_in(text: str) -> None:
        table.table.setCurrentIndex(cell)
        table.table.edit(cell)
        editor = now(table.table.viewport()).findChild(QLineEdit)
        assert isinstance(editor, QLineEdit)
        editor.setText(text)
        qtbot.keyClick(editor, Qt.Key.Key_Return)
        viewport = now(table.table.viewport())
        qtbot.waitUntil(lambda: viewport.findChild(QLineEdit) is None)

    type_in("35")
    assert figures.data(cell) == "• 35" and "own figure" in figures._told(
        ("squeal", "bearing"), True
    )
    assert window.session.catalogue.faults.figure("squeal", "bearing") == 0.35
    assert "bearing = 0.35" in (data_folder() / "catalogue" / "faults.toml").read_text()
    type_in("350")
    assert table.message.text() == "A figure from 0 to 99, in a hundred."
    assert figures.data(cell) == "• 35"
    type_in("often")
    assert "in a hundred" in table.message.text() and figures.data(cell) == "• 35"
    table.again.click()
    assert figures.data(cell) == "" and not window.session.catalogue.faults.own
    table.accept()


def test_a_no_at_a_step_opens_the_finder_with_it(qtbot: QtBot, window: MainWindow) -> None:
    session = window.session
    window.desk.stand_at("fit_up")
    room = window.desk.room(FitUpRoom)
    room.following.choose("start")
    button = next(
        b for b in room.step.asks.findChildren(type(room.step.why)) if "wobbles" in b.text()
    )
    menu = now(button.menu())
    now(next(act for act in menu.actions() if act.text() == "Blower drive")).trigger()
    card = window.desk.room(RunCheckRoom).noise
    assert card.isVisible() and card.drive.currentData() == "blower"
    assert card.tiles["wobble_seen"].box == "done"
    # a note goes with the tick
    room.following.toggle()
    card.close_button.click()
    room.following.choose("start")
    type_into(qtbot, room.step.note, "quiet from cold")
    assert session.build.fit_up.done["start"].note == "quiet from cold"
