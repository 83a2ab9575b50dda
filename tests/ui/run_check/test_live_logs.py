"""Logs that grow while they are looked at: a file, and a pipe, written by the shipped stand-in."""

from __future__ import annotations

import os
import threading
from pathlib import Path

from pytestqt.qtbot import QtBot

from driving import type_into
from jovial_tack.answers.run_check.simulated import HEADS, Simulated, simulated_log
from jovial_tack.cli import main
from jovial_tack.files.logs.writing import stream_csv, write_csv
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.window.main_window import MainWindow


def test_a_log_that_grows_is_judged_again(qtbot: QtBot, window: MainWindow, tmp_path: Path) -> None:
    room, path = window.desk.room(RunCheckRoom), tmp_path / "growing.csv"
    assert main(["logger", str(path), "--slip", "9", "--pulls", "2"]) == 0
    lines = path.read_text("utf-8").splitlines(keepends=True)
    path.write_text("".join(lines[:120]), "utf-8")  # in the middle of the first pull
    room.load_log(path)
    qtbot.waitUntil(lambda: not room.logs.busy, timeout=20_000)
    with path.open("a", encoding="utf-8") as file:
        file.writelines(lines[120:])

    def pulls() -> int:
        log = room.logs.logs[0]
        return 0 if log is None or log.checked is None else len(log.checked.pulls)

    qtbot.waitUntil(lambda: pulls() == 2, timeout=20_000)
    assert room.panel.pull.itemText(0).endswith("all 2 pulls together")
    assert room.panel.answer.message.text() == "Slips (likely)"
    path.unlink()  # taken away by another hand: what was read of it stays
    room.logs.look_for_growth()
    assert pulls() == 2


def test_a_named_pipe_is_watched_as_a_logger_writes(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    room, pipe = window.desk.room(RunCheckRoom), tmp_path / "pipe"
    os.mkfifo(pipe)
    room.load_log(pipe)
    assert "waiting for a logger" in room.panel.subtitle.text()
    rows = simulated_log(Simulated(slip=0.09))
    writer = threading.Thread(target=stream_csv, args=(pipe, HEADS[:4], rows[:, :4], 5.0))
    writer.start()

    def answered() -> bool:
        log = room.logs.logs[0]
        return log is not None and log.pull is not None and log.pull.pull.slip is True

    qtbot.waitUntil(answered, timeout=30_000)
    writer.join(30.0)
    kept = room.logs.logs[0]
    assert kept is not None
    copy = kept.layout.path
    room.logs.take_away(0)
    assert not copy.exists()


def test_the_air_that_day_is_typed_where_it_is_not_logged(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    room, path = window.desk.room(RunCheckRoom), tmp_path / "absolute.csv"
    rows = simulated_log(Simulated())
    rows[:, 2] += 101.325
    write_csv(path, ("Time [s]", "RPM", "MAP [kPa abs]", "TPS"), rows[:, :4])
    room.load_log(path)
    panel = room.panel
    qtbot.waitUntil(lambda: not room.logs.busy and panel.air.isVisible(), timeout=20_000)
    assert panel.answer.message.text() == "Cannot tell"
    assert "elevation" in panel.answer.reason.text()
    type_into(qtbot, panel.air, "very high")
    assert panel.air.text() == "very high" and "1600 m" in panel.air_refused.text()
    type_into(qtbot, panel.air, "20 m")
    qtbot.waitUntil(lambda: not room.logs.busy, timeout=20_000)
    assert panel.answer.message.text() == "No slip found (likely)"
    assert panel.air.text() == "20 m" and not panel.air_refused.isVisible()
