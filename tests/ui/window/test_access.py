"""Everything by keyboard, every focus visible, every part named; and long use without a slip."""

from __future__ import annotations

import os
import random
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QFileDialog,
    QLineEdit,
    QWidget,
)
from pytestqt.qtbot import QtBot

from driving import memory_mb, settle, type_into
from jovial_tack.document.edits.engine import set_title
from jovial_tack.document.targets import NOTHING, ArmAt, BeltAt, PulleyAt, ShaftAt, SpanAt, Target
from jovial_tack.sheets import exists
from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.cards.rows import ChoiceRow
from jovial_tack.ui.ratios.room import RatiosRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.widgets.theme import DAY, NIGHT
from jovial_tack.ui.window.about import LICENCES
from jovial_tack.ui.window.main_window import MainWindow
from support import DEMO

#: raise it to try harder: JOVIAL_TACK_MINUTES=10
MINUTES = float(os.environ.get("JOVIAL_TACK_MINUTES", "0.2"))


def _actions(window: MainWindow) -> list[QAction]:
    bar = window.menuBar()
    assert bar is not None
    menus = [top.menu() for top in bar.actions()]
    return [
        a for menu in menus if menu for a in menu.actions() if not a.isSeparator() and not a.menu()
    ]


@pytest.mark.parametrize("", [pytest.param(), pytest.param(marks=pytest.mark.screen)])
def test_every_action_has_a_key_of_its_own_and_answers_to_it(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_: ("", ""))
    actions = _actions(window)
    keys = [action.shortcut().toString() for action in actions]
    assert all(keys), [a.text() for a in actions if a.shortcut().isEmpty()]
    assert len(set(keys)) == len(keys)
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    window.front.setFocus()
    session = window.session
    quitting = next(a for a in actions if a.text() == "&Quit")
    actions = [a for a in actions if a is not quitting] + [quitting]
    for action in actions:
        # something to undo, to redo and to let go of, so that every action is awake
        session.edit("a title", set_title(session.build, f"Title {time.time()}"))
        session.edit("a title", set_title(session.build, "Another"))
        session.undo()
        if session.baseline is None:
            session.pin_baseline()
        heard: list[bool] = []
        action.triggered.connect(lambda _=False, h=heard: h.append(True))
        QTest.keySequence(window, QKeySequence(action.shortcut()))
        QApplication.processEvents()
        assert heard == [True], action.text()
        window.activateWindow()
        qtbot.waitUntil(window.isActiveWindow)
        window.notice.hide()
        window.front.setFocus()
    assert window.isVisible()  # unsaved changes are asked about first


def _focusable(window: MainWindow) -> list[QWidget]:
    return [
        widget
        for widget in window.desk.findChildren(QWidget)
        if widget.isVisible()
        and widget.isEnabled()
        and widget.focusProxy() is None  # as the inside of a view, whose focus is the view's
        and widget.focusPolicy() & Qt.FocusPolicy.TabFocus
        and not (isinstance(widget, QLineEdit) and isinstance(widget.parent(), QComboBox))
    ]


@pytest.mark.parametrize(
    "station", ["survey", "lay_out", "ratios", "belt", "grip", "line_up", "run_check"]
)
def test_tab_reaches_every_part_which_shows_it_and_has_a_name(
    qtbot: QtBot, window: MainWindow, station: str
) -> None:
    window.activateWindow()
    window.desk.stand_at(station)
    if station == "run_check":
        window.desk.room(RunCheckRoom).open_demo_logs()
        qtbot.waitUntil(
            lambda: all(log and log.checked for log in window.desk.room(RunCheckRoom).logs.logs)
        )
    else:
        window.session.select(ArmAt("blower"))
    if station == "belt":
        window.desk.call(window.desk.room(BeltRoom).bench)
        window.desk.room(BeltRoom).bench.show_page(1)
        qtbot.waitUntil(lambda: window.desk.room(BeltRoom).along.choice is not None, timeout=10_000)
    settle(qtbot, window)
    wanted = _focusable(window)
    assert len(wanted) > 12
    window.front.setFocus()
    reached: list[QWidget] = []
    for _ in range(3 * len(wanted)):
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
        now = QApplication.focusWidget()
        assert now is not None
        if now in reached:
            break
        reached.append(now)
    missing = [w for w in wanted if w not in reached]
    # of buttons that exclude one another Tab reaches the chosen one, arrows the others
    groups = [w for w in missing if isinstance(w, QAbstractButton) and w.group() is not None]
    assert [w.accessibleName() or w for w in missing if w not in groups] == []
    for widget in wanted:
        named = widget.accessibleName() or getattr(widget, "text", str)()
        assert named, widget
    for widget in wanted:
        if isinstance(widget, QLineEdit | QComboBox):
            continue  # drawn by the style sheet and the style, tested once below
        window.setFocus()
        QApplication.processEvents()
        before = widget.grab().toImage()
        widget.setFocus(Qt.FocusReason.TabFocusReason)
        QApplication.processEvents()
        assert widget.grab().toImage() != before, widget.accessibleName()


def test_a_field_shows_its_focus(window: MainWindow) -> None:
    window.session.select(BeltAt("blower"))
    field = window.cards.field("Belt length")
    window.front.setFocus()
    before = field.grab().toImage()
    field.setFocus()
    field.deselect()
    assert field.grab().toImage() != before


def test_the_keys_are_listed_and_licences_shown(qtbot: QtBot, window: MainWindow) -> None:
    window.show_keys()
    assert window.desk.keys.isVisible()
    listed = " ".join(
        w.text() for w in window.desk.keys.findChildren(QWidget) if hasattr(w, "text")
    )
    for action in _actions(window):
        assert action.text().replace("&", "").split(":")[0] in listed
    QTest.keyClick(window.desk.keys.close_button, Qt.Key.Key_Escape)
    assert not window.desk.keys.isVisible()
    window.desk.call(window.desk.about)
    about = window.desk.about
    assert "PyQt6" in about.page.toPlainText()
    for name in list(LICENCES)[1:]:
        about.choice.setCurrentText(name)
        assert "SIL OPEN FONT LICENSE" in about.page.toPlainText().upper()
    window.desk.call(window.desk.about)
    assert not about.isVisible()


SCALED = """
import sys
from PyQt6.QtTest import QTest
from jovial_tack.ui.app import (
    demo_file,
    make_application,
    make_window,
)
app = make_application(["scaled"])
window = make_window()
window.load(demo_file(), demo=True)
window.resize(1280, 800)
window.show()
while not window.session.is_settled:
    QTest.qWait(10)
picture = window.grab()
print(picture.width(), picture.height(), window.width(), window.height(), window.front.height())
"""


def test_at_twice_the_size_everything_is_twice_as_fine() -> None:
    said = subprocess.run(
        [sys.executable, "-c", SCALED],
        env={**os.environ, "QT_SCALE_FACTOR": "2", "QT_QPA_PLATFORM": "offscreen"},
        capture_output=True, text=True, check=True,
    ).stdout.split()  # fmt: skip
    assert said[:4] == ["2560", "1600", "1280", "800"]
    assert int(said[4]) > 300


def test_long_use_neither_fails_nor_grows(qtbot: QtBot, window: MainWindow, tmp_path: Path) -> None:
    rng = random.Random(7)
    path = tmp_path / "long.jtack"
    path.write_text(DEMO.read_text())
    window.load(path)
    session, front = window.session, window.front
    targets: list[Target] = [
        NOTHING, PulleyAt("blower", "blower"), ArmAt("blower"), BeltAt("accessory"),
        SpanAt("accessory", "pump"), ShaftAt("alternator"), PulleyAt("accessory", "idler"),
    ]  # fmt: skip

    def select(target: Target) -> None:
        if exists(session.build, target):
            session.select(target)

    def drag() -> None:
        shaft = rng.choice([s.id for s in session.build.shafts])
        start = front.pixel_of_shaft(shaft)
        viewport = front.viewport()
        qtbot.mousePress(viewport, Qt.MouseButton.LeftButton, pos=start)
        at = start
        for _ in range(8):
            at = at + QPoint(rng.randint(-14, 14), rng.randint(-14, 14))
            qtbot.mouseMove(viewport, at)
            QApplication.processEvents()
        qtbot.mouseRelease(viewport, Qt.MouseButton.LeftButton, pos=at)

    def typed() -> None:
        rows = window.cards.card.rows.values()
        fields = [r.field for r in rows if not isinstance(r, ChoiceRow) and r.field is not None]
        if fields:
            texts = ("1180", "76", "5 1/8 in", "-3", "1e9", "x", "0", "12 lbf·ft", "25,5", "90°")
            type_into(qtbot, rng.choice(fields), rng.choice(texts))

    def chosen() -> None:
        rows = [r for r in window.cards.card.rows.values() if isinstance(r, ChoiceRow)]
        if rows:
            row = rng.choice(rows)
            row.choose(rng.choice(row.keys))

    def done() -> None:
        buttons = window.cards.card.acts.buttons
        if buttons:
            rng.choice(buttons).click()

    def undo_all() -> None:
        for _ in range(rng.randint(1, 12)):
            session.undo()

    desk = window.desk

    def below() -> None:
        view = rng.choice([desk.room(BeltRoom).along, desk.room(RatiosRoom).plan])
        keys = (
            Qt.Key.Key_Left,
            Qt.Key.Key_Right,
            Qt.Key.Key_Up,
            Qt.Key.Key_Down,
            Qt.Key.Key_Return,
        )
        qtbot.keyClick(view, rng.choice(keys))

    def aside() -> None:
        every = [aside.card for room in desk.rooms for aside in room.asides]
        desk.call(rng.choice(every))
        desk.room(BeltRoom).bench.show_page(rng.randrange(len(desk.room(BeltRoom).bench.pages)))

    doings = [
        drag, drag, below, aside, typed, typed, chosen, done, undo_all, undo_all, session.redo,
        session.pin_baseline,
        lambda: select(rng.choice(targets)),
        lambda: desk.stand_at(rng.choice(list(window.station_actions))),
        lambda: session.show_rpm(rng.uniform(800, 6600)),
        lambda: window.show_units(rng.choice(["mm", "in"])),
        lambda: window.set_theme(rng.choice([DAY, NIGHT])) if rng.random() < 0.2 else None,
        lambda: front.zoom(rng.uniform(0.7, 1.4)), front.fit,
    ]  # fmt: skip
    for key in window.station_actions:
        window.desk.stand_at(key)  # what is loaded once does not count as growth
    desk.call(desk.room(RatiosRoom).map)
    end, warm = time.monotonic() + 60 * MINUTES, time.monotonic() + 12 * MINUTES
    base = 0.0
    while time.monotonic() < end:
        rng.choice(doings)()
        QTest.qWait(1)  # what was put away is deleted in the event loop only
        if not base and time.monotonic() > warm:
            base = memory_mb("VmRSS")
    while session.history.undo_label:
        session.undo()
    settle(qtbot, window)
    assert memory_mb("VmRSS") - base <= 30
    assert window.isVisible()
