"""The real window, driven as a user drives it; also on a display under Xvfb (marked screen)."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage, QWheelEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from driving import now, settle, type_into
from jovial_tack.core.units import parse_length
from jovial_tack.document.edits.engine import set_title
from jovial_tack.document.edits.routes import remove_belt, take_off
from jovial_tack.document.targets import NOTHING, BeltAt, PulleyAt
from jovial_tack.sheets import exists
from jovial_tack.ui.line_up.room import LineUpRoom
from jovial_tack.ui.widgets.theme import DAY, MARK_COLORS, NIGHT, Theme
from jovial_tack.ui.window.main_window import MainWindow
from support import DEMO, read_case

LEFT = Qt.MouseButton.LeftButton


def drag_shaft(qtbot: QtBot, window: MainWindow, shaft: str, by: QPoint) -> None:
    viewport = window.front.viewport()
    start = window.front.pixel_of_shaft(shaft)
    qtbot.mousePress(viewport, LEFT, pos=start)
    for step in range(1, 9):
        qtbot.mouseMove(viewport, start + by * step / 8)
        QApplication.processEvents()
    qtbot.mouseRelease(viewport, LEFT, pos=start + by)


def shown(window: MainWindow) -> list[tuple[str, str]]:
    return [(b.verdict.mark, b.verdict.sentence) for b in window.strip.buttons]


@pytest.mark.parametrize("", [pytest.param(), pytest.param(marks=pytest.mark.screen)])
def test_drag_see_undo_type_save_and_open_again(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session = window.session
    length = session.results.drive("blower").cord_length_mm
    before, place = shown(window), session.build.shaft("blower").center_mm

    drag_shaft(qtbot, window, "blower", QPoint(10, 24))  # toward the crank: the belt goes slack
    settle(qtbot, window)
    assert session.selection == PulleyAt("blower", "blower")
    assert session.build.shaft("blower").center_mm[1] < place[1] - 5
    assert session.results.drive("blower").cord_length_mm != length
    assert shown(window) != before
    assert session.history.undo_label == "move Corvane 61"
    assert len(session.history.steps) == 2  # a drag is one entry

    window.undo_action.trigger()
    settle(qtbot, window)
    assert session.build.shaft("blower").center_mm == place
    assert session.results.drive("blower").cord_length_mm == length
    assert shown(window) == before
    assert session.selection == PulleyAt("blower", "blower")

    type_into(qtbot, window.cards.field("Diameter"), '3 1/4"')
    settle(qtbot, window)
    assert session.build.drive("blower").pulley("blower").diameter_mm == pytest.approx(82.55)
    assert window.cards.field("Diameter").text() == "82.5 mm"
    typed = shown(window)

    path = tmp_path / "mine.jtack"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    window.files.save()
    assert not session.is_modified
    window.files.new()
    assert session.build.drives == ()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    window.files.open()
    settle(qtbot, window)
    assert shown(window) == typed
    assert json.loads(path.read_text())["drives"][1]["pulleys"][2]["diameter_mm"] == 82.55


@pytest.mark.parametrize("", [pytest.param(), pytest.param(marks=pytest.mark.screen)])
def test_keys_alone_select_nudge_undo_and_let_go(qtbot: QtBot, window: MainWindow) -> None:
    session, front = window.session, window.front
    front.setFocus()
    for _ in range(5):
        qtbot.keyClick(front, Qt.Key.Key_PageDown)
    assert session.selection == PulleyAt("accessory", "alternator")
    x, y = session.build.shaft("alternator").center_mm
    qtbot.keyClick(front, Qt.Key.Key_Right)
    qtbot.keyClick(front, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClick(front, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert session.build.shaft("alternator").center_mm == pytest.approx((x + 0.9, y + 10))
    for _ in range(3):
        window.undo_action.trigger()
    assert session.build.shaft("alternator").center_mm == (x, y)
    qtbot.keyClick(front, Qt.Key.Key_Escape)
    assert now(session.selection) == NOTHING


def test_a_drag_keeps_the_items_and_moves_only_its_own(qtbot: QtBot, window: MainWindow) -> None:
    items = dict(window.front.drawn)
    models = {key: item.model for key, item in items.items()}
    drag_shaft(qtbot, window, "blower", QPoint(5, 3))
    kept = window.front.drawn
    assert kept.keys() == items.keys()
    assert all(kept[key] is items[key] for key in items)
    moved = {key for key in items if kept[key].model != models[key]}
    assert "belt/blower" in moved
    assert not [key for key in moved if "accessory" in key or "alternator" in key]


def test_zoom_keeps_what_is_under_the_pointer_and_clicks_reach_below(
    qtbot: QtBot, window: MainWindow
) -> None:
    front = window.front
    at = front.pixel_of_shaft("idler")
    before = front.mapToScene(at)
    front.wheelEvent(
        QWheelEvent(
            QPointF(at), QPointF(at), QPoint(), QPoint(0, 240), LEFT,
            Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )
    )  # fmt: skip
    after = front.mapToScene(at)
    assert (after - before).manhattanLength() < 2.0
    front.fit()
    crank = front.pixel_of_shaft("crank")
    seen = set()
    for _ in range(6):
        qtbot.mouseClick(front.viewport(), LEFT, pos=crank)
        seen.add(window.session.selection)
    assert {PulleyAt("blower", "crank"), PulleyAt("accessory", "crank")} <= seen


def test_a_field_says_why_it_refuses_and_keeps_the_build(qtbot: QtBot, window: MainWindow) -> None:
    window.session.select(PulleyAt("blower", "blower"))
    card, build = window.cards.card, window.session.build
    for text, said in (("wide", "not a length"), ("5 furlongs", "unit"), ("0", "at least 0.1")):
        type_into(qtbot, window.cards.field("Diameter"), text)
        reason = card.row("Diameter").reason
        assert reason.isVisibleTo(card)
        assert said in reason.text()
        assert window.session.build is build
        qtbot.keyClick(window.cards.field("Diameter"), Qt.Key.Key_Escape)
    qtbot.keyClick(window.cards.field("Diameter"), Qt.Key.Key_Up)
    assert window.session.build.drive("blower").pulley("blower").diameter_mm == 77.0


def test_a_wrong_file_is_told_and_the_build_stays(window: MainWindow, tmp_path: Path) -> None:
    build = window.session.build
    wrong = tmp_path / "wrong.jtack"
    wrong.write_text("[1, 2")
    window.load(wrong)
    assert window.notice.isVisible()
    assert "wrong.jtack: not JSON" in window.notice.text.text()
    assert window.session.build is build


def test_unsaved_changes_are_asked_about(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session = window.session
    edited = set_title(session.build, "Another name")
    session.edit("title", edited)
    window.close()
    assert window.isVisible()
    labels = [button.text() for button in window.notice.buttons]
    assert labels == ["Save", "Throw away", "Keep editing"]
    qtbot.mouseClick(window.notice.buttons[2], LEFT)
    assert session.build is edited
    window.files.new()
    path = tmp_path / "kept.jtack"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    qtbot.mouseClick(window.notice.buttons[0], LEFT)
    assert session.build.drives == ()
    assert "Another name" in path.read_text()


def test_a_file_changed_by_another_hand_is_not_overwritten_unasked(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    path = tmp_path / "shared.jtack"
    path.write_text(DEMO.read_text())
    window.load(path)
    path.write_text(DEMO.read_text() + "\n")
    window.session.edit("title", set_title(window.session.build, "Mine"))
    window.files.save()
    assert "changed on disk" in window.notice.text.text()
    assert "Mine" not in path.read_text()
    qtbot.mouseClick(window.notice.buttons[1], LEFT)
    assert "Mine" in path.read_text()


def test_a_save_that_fails_is_told(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    path = tmp_path / "full.jtack"
    path.write_text(DEMO.read_text())
    window.load(path)
    window.session.edit("title", set_title(window.session.build, "Mine"))
    monkeypatch.setattr("os.fsync", full)
    window.files.save()
    assert "disk is full" in window.notice.text.text()
    assert window.session.is_modified
    assert path.read_text() == DEMO.read_text()


def test_a_newer_file_can_only_be_looked_at(window: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "newer.jtack"
    path.write_text(json.dumps(read_case("blower_spring_arm")["build"] | {"version": 9}))
    window.load(path)
    session = window.session
    assert session.is_read_only
    session.edit("title", set_title(session.build, "no"))
    assert session.history.undo_label is None
    window.session.select(PulleyAt("blower", "blower"))
    assert window.cards.card.title.text() == "blower"


def test_inches_are_shown_and_verdicts_lead_to_their_place(
    qtbot: QtBot, window: MainWindow
) -> None:
    window.inch_action.trigger()
    settle(qtbot, window)
    qtbot.mouseClick(window.strip.buttons[2], LEFT)
    assert window.session.selection == PulleyAt("blower", "blower")
    assert window.cards.field("Diameter").text().endswith(" in")
    assert parse_length(window.cards.field("Diameter").text()) == pytest.approx(76, abs=0.02)
    assert " in" in window.strip.buttons[1].verdict.sentence


def _contrast(one: str, other: str) -> float:
    def light(color: str) -> float:
        parts = [int(color[k : k + 2], 16) / 255 for k in (1, 3, 5)]
        red, green, blue = [
            c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts
        ]
        return 0.2126 * red + 0.7152 * green + 0.0722 * blue

    high, low = sorted((light(one), light(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("theme", [DAY, NIGHT], ids=lambda theme: theme.name)
def test_words_stand_out_from_every_ground(theme: Theme) -> None:
    for text in ("ink", "faded", "accent_text", *MARK_COLORS.values()):
        for ground in ("ground", "paper", "raised", "pulley_fill"):
            assert _contrast(getattr(theme, text), getattr(theme, ground)) >= 4.5, (text, ground)


@pytest.mark.parametrize("theme", [DAY, NIGHT], ids=lambda theme: theme.name)
def test_words_stand_out_in_all_that_is_typed_pressed_or_chosen(
    window: MainWindow, theme: Theme
) -> None:
    """As painted: what the style draws by itself must have taken the theme's colours too."""
    window.set_theme(theme)
    seen = {"ElidedChoice": 0, "QuantityField": 0, "QPushButton": 0}
    for station in window.station_actions:
        window.desk.stand_at(station)
        window.session.select(BeltAt("blower"))
        QApplication.processEvents()
        for widget in window.findChildren((QComboBox, QLineEdit, QPushButton)):
            inside = isinstance(widget.parent(), QComboBox)
            if not widget.isVisible() or inside or getattr(widget, "isChecked", bool)():
                continue
            picture = widget.grab().toImage()
            places = [(x, y) for x in range(0, picture.width(), 2) for y in range(picture.height())]
            colors = [picture.pixelColor(*place).name() for place in places]
            ground = max(set(colors), key=colors.count)
            assert _contrast(theme.ink, ground) >= 4.5, (station, widget.accessibleName(), ground)
            if type(widget).__name__ in seen:
                seen[type(widget).__name__] += 1
    assert all(seen.values()), seen


def _ground(picture: QImage, x: int, y: int) -> int:
    """The lightness most common around a place: that of the ground, not of a letter on it."""
    around = [
        picture.pixelColor(x + dx, y + dy).lightness() for dx in range(40) for dy in range(20)
    ]
    return max(set(around), key=around.count)


def test_night_and_day_repaint_the_whole_desk(window: MainWindow) -> None:
    day = window.grab().toImage()
    window.night_action.trigger()
    night = window.grab().toImage()
    for x, y in ((5, 300), (600, 60), (100, 400), (1200, 700)):
        assert _ground(day, x, y) > 200
        assert _ground(night, x, y) < 90


def test_what_is_taken_away_is_gone_from_every_view_at_once(
    qtbot: QtBot, window: MainWindow
) -> None:
    """Views that are redrawn a moment later neither paint nor select what the build no longer has."""
    session, desk = window.session, window.desk
    desk.stand_at("line_up")
    session.select(BeltAt("accessory"))
    QApplication.processEvents()
    on_plan = desk.room(LineUpRoom).plan.point_of("idler")
    session.edit("take off", take_off(session.build, "accessory", "idler"))
    session.edit("take off", take_off(session.build, "accessory", "alternator"))  # within the pause
    window.grab()
    qtbot.mouseClick(desk.room(LineUpRoom).plan, LEFT, pos=on_plan.toPoint())
    assert exists(session.build, session.selection)
    session.hover(PulleyAt("accessory", "idler"))
    session.edit("take away", remove_belt(session.build, "blower"))
    window.grab()
    assert "blower" not in {(v.where or ("",))[0] for v in session.verdicts}
    session.select(PulleyAt("blower", "blower"))
    assert now(session.selection) == NOTHING
    settle(qtbot, window)
    session.undo()
    window.grab()
    settle(qtbot, window)
    assert any("Blower" in f"{verdict.sentence} {verdict.detail}" for verdict in session.verdicts)


def test_the_demo_is_mended_by_the_button_on_its_verdict(qtbot: QtBot, window: MainWindow) -> None:
    """Slips, offered the belt that holds, done by one click, and the next thing is named."""
    holds = window.strip.buttons[2]
    assert holds.verdict.mark == "stop" and "105 % of its wrap" in holds.verdict.sentence
    button = holds.mend_button
    assert button.isVisible() and button.text() == "Fit 10PK1180: 84 % of its wrap, 1 more to watch"
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.session.history.undo_label == "fit 10PK1180"
    settle(qtbot, window)
    assert now(holds.verdict.mark) == "watch" and "84 % of its wrap" in holds.verdict.sentence
    assert window.strip.buttons[1].verdict.mark == "good"
    window.undo_action.trigger()
    settle(qtbot, window)
    window.session.select(PulleyAt("blower", "blower"))
    qtbot.waitUntil(lambda: "Fit 10PK1180" in [
        b.accessibleName() for b in window.cards.findChildren(QPushButton) if b.isVisible()
    ])  # fmt: skip
