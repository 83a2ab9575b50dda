"""Names out of a file are words, whatever stands in them: no markup is read in any of them."""

from __future__ import annotations

import html
import os
import shutil
import time
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QWidget
from pytestqt.qtbot import QtBot

from driving import settle
from jovial_tack.document.model import dump
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
from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.window.main_window import MainWindow
from support import DEMO, built, furnished

#: Words the file gives a meaning; all other texts are free.
PLAIN = '<span style="white-space: pre-wrap">'
_MEANT = {
    "format", "type", "kind", "id", "display_units", "crank_rotation", "shaft", "side", "profile",
    "construction", "pulley", "pushes", "needs_rotation", "moves_with", "part", "one_way", "model",
    "map_csv", "fixing", "nose_fixing", "catalogue_version", "number", "way", "at", "verdict", "bank",
    "sha256", "drive", "span", "material", "boss", "bolt", "on", "thread", "ear", "plate", "webs",
    "unit", "what", "reason", "gauge", "after", "after_event", "as_of", "taken", "for",
}  # fmt: skip


def planted(value: Any, markup: str, key: str = "") -> Any:
    """A build's JSON with markup in every text that has no meaning of its own."""
    if isinstance(value, dict):
        return {k: planted(v, markup, k) for k, v in value.items()}
    if isinstance(value, list):
        keep = key in ("route", "shafts", "webs") and all(isinstance(item, str) for item in value)
        return value if keep else [planted(item, markup, key) for item in value]
    return f"{value}{markup}"[:190] if isinstance(value, str) and key not in _MEANT else value


def test_markup_in_every_string_of_a_build_and_a_log_is_shown_as_it_is(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    fifo = tmp_path / "p"
    os.mkfifo(fifo)  # reading it would wait for ever
    markup = f'<b>&x</b><img src="{fifo}">'
    data = planted(dump(furnished()), markup)
    build = built(data)
    session = window.session
    session.new(build)
    settle(qtbot, window)
    log = tmp_path / "log.csv"
    shutil.copy(DEMO.with_name("tessary-fen-slipping.csv"), log)
    text = log.read_text("utf-8").replace("\n", f"{markup}\n", 1)
    log.write_text(text, "utf-8")
    began, seen = time.monotonic(), 0
    targets: list[Target] = [
               ShaftAt("pump"), BeltAt("blower"), ArmAt("blower"), PulleyAt("blower", "blower"),
               SpanAt("blower", "blower"), ObstacleAt("hood"), NoteAt("note"),
               PartAt(build.shelf[0].id), BracketAt(build.brackets[0].id),
               PlateAt(build.plates[0].id), CutAt(build.plates[0].id, "slot"), NOTHING]  # fmt: skip
    window.desk.room(RunCheckRoom).load_log(log)
    qtbot.waitUntil(lambda: not window.desk.room(RunCheckRoom).logs.busy, timeout=20_000)
    for place, station in enumerate(window.station_actions):
        window.desk.stand_at(station)
        for target in targets if place == 0 else targets[:1]:
            session.select(target)
            window.cards.card.refresh()
            seen += read(window, markup)
    window.desk.stand_at("belt")
    bench = window.desk.room(BeltRoom).bench
    window.desk.call(bench)
    for place in range(len(bench.pages)):
        bench.show_page(place)
        seen += read(window, markup)
    window.notice.ask(f"Not opened: {markup}")
    assert window.notice.text.text().endswith(markup)
    seen += read(window, markup)
    window.show_keys()
    assert seen > 50 and time.monotonic() - began < 60


def read(window: MainWindow, markup: str) -> int:
    """Look at every label, button and tip of the window; returns how many have the markup."""
    QApplication.processEvents()
    window.grab()
    found = 0
    for label in window.findChildren(QLabel):
        assert label.textFormat() == Qt.TextFormat.PlainText, label.text()
        found += markup in label.text()
    for button in window.findChildren(QAbstractButton):
        if "<b>" in button.text():  # an ampersand would be a key, and gone, if it stood alone
            assert "<b>&&x" in button.text() or "…" in button.text(), button.text()
    for widget in window.findChildren(QWidget):
        tip = widget.toolTip()
        if "<" in tip:  # tips have no plain form: what would be markup comes escaped, all of it
            inside = tip.removeprefix(PLAIN).removesuffix("</span>")
            assert tip.startswith(PLAIN) and "<" not in inside, tip
            assert html.unescape(inside)
    return found
