"""The logbook driven: three touches an event, in inches, a picture, what comes due, all by keys too."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QLineEdit
from pytestqt.qtbot import QtBot

from driving import action, now, type_into
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.logbook import put_events
from jovial_tack.document.targets import BeltAt
from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.logbook.room import LogbookRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.window.main_window import MainWindow

LEFT = Qt.MouseButton.LeftButton


def room_of(window: MainWindow) -> LogbookRoom:
    window.desk.stand_at("logbook")
    return window.desk.room(LogbookRoom)


def emptied(window: MainWindow) -> None:
    """The demo without its logbook."""
    session = window.session
    session.edit("begin a logbook", changed(session.build, logbook=None))


def field(room: LogbookRoom, name: str) -> QuantityField:
    found = room.logbook.form.fields[name]
    assert isinstance(found, QuantityField)
    return found


def choose(box: object, key: str) -> None:
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(box.findData(key))
    box.activated.emit(box.currentIndex())


def test_an_event_takes_three_touches_and_what_comes_due_is_on_the_rail(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session = window.session
    emptied(window)
    session.save(tmp_path / "build.jtack")
    window.inch_action.trigger()
    session.select(BeltAt("blower"))
    room = room_of(window)
    assert "9" in window.desk.rail.buttons["logbook"].toolTip() and room.mark == "unknown"
    # kind, use, note: by pointer, then by keys alone
    qtbot.mouseClick(room.logbook.kinds["fitted"], LEFT)
    use, note = field(room, "km"), room.logbook.form.fields["note"]
    assert isinstance(note, QLineEdit)
    assert use.hasFocus()
    qtbot.keyClicks(use, "30000 mi")
    qtbot.keyClick(use, Qt.Key.Key_Return)
    assert note.hasFocus()
    qtbot.keyClicks(note, "second belt")
    qtbot.keyClick(note, Qt.Key.Key_Return)
    event = now(room.book.chosen)
    assert (event.kind, event.drive, event.note) == ("fitted", "blower", "second belt")
    assert event.km == pytest.approx(30_000 * 1.609344) and event.number
    room.logbook.kinds["tension_check"].setFocus()
    qtbot.keyClick(room.logbook.kinds["tension_check"], Qt.Key.Key_Space)
    type_into(qtbot, field(room, "km"), "30100 mi")
    type_into(qtbot, field(room, "tone_hz"), "80")
    assert now(room.book.chosen).span  # the one that is listened to
    kept = now(room.book.chosen)
    type_into(qtbot, field(room, "km"), "-5 mi")
    assert room.logbook.form.refusal.text() and now(room.book.chosen) == kept
    type_into(qtbot, field(room, "km"), "30100 mi")
    # a belt that was tried, by keys: its length in inches, what came of it
    room.logbook.kinds["belt_tried"].setFocus()
    qtbot.keyClick(room.logbook.kinds["belt_tried"], Qt.Key.Key_Space)
    type_into(qtbot, field(room, "effective_length_mm"), "46 1/2 in")
    choose(room.logbook.form.fields["verdict"], "short")
    tried = now(room.book.chosen)
    assert (tried.effective_length_mm, tried.verdict) == (pytest.approx(46.5 * 25.4), "short")
    # an interval that comes due is on the rail, in the page, and never more than watch
    action(window, "Intervals and use").trigger()
    card = room.intervals
    choose(card.of, "blower")
    card.add.click()
    type_into(qtbot, card.fields["belt blower", "km"], "100 mi")
    assert room.mark == window.desk.rail.buttons["logbook"].mark == "watch"
    type_into(qtbot, card.now["km"], "30200 mi")
    assert room.book.told.due[0].due.state == "stop"
    type_into(qtbot, card.pace["km"], "50 mi")
    card.close_button.click()
    assert "Due: belt of Blower drive: due, 100 mi over." in room.logbook.due.text()
    # a cost with a picture, dropped on it; a bad day is refused, and what is typed is kept
    qtbot.mouseClick(room.logbook.kinds["cost"], LEFT)
    type_into(qtbot, field(room, "cost"), "12.50")
    day = room.logbook.form.fields["at"]
    assert isinstance(day, QLineEdit)
    type_into(qtbot, day, "2026-02-30")
    assert "is no day" in room.logbook.form.refusal.text() and day.text() == "2026-02-30"
    type_into(qtbot, day, "2026-02-28")
    picture = tmp_path / "receipt.png"
    QImage(20, 20, QImage.Format.Format_RGB32).save(str(picture))
    dragged = QMimeData()
    dragged.setUrls([QUrl.fromLocalFile(str(picture))])
    dropped = QDropEvent(
        QPointF(5, 5), Qt.DropAction.CopyAction, dragged, LEFT, Qt.KeyboardModifier.NoModifier
    )
    room.logbook.dropEvent(dropped)
    attached = session.build.logbook.attachments
    assert [each.of for each in attached] == [now(room.book.chosen).id]
    assert (tmp_path / "build.files" / "receipt.png").read_bytes() == picture.read_bytes()
    assert not room.book.files
    caption = room.logbook.attached.findChildren(QLineEdit)[0]
    type_into(qtbot, caption, "the receipt")
    assert session.build.logbook.attachments[0].caption == "the receipt"
    (tmp_path / "build.files" / "receipt.png").unlink()
    window.desk.stand_at("belt")
    room_of(window)
    qtbot.waitUntil(
        lambda: "not in the folder beside the build" in room.logbook.due.text(), timeout=20_000
    )
    # out as a table, and in again into a build that has none
    table = tmp_path / "log.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(table), ""))
    action(window, "Write the logbook as a table …").trigger()
    before = session.build.logbook.events
    for _ in before:
        room.book.choose(room.book.listed[0].id)
        room.strip.table.setFocus()
        qtbot.keyClick(room.strip.table, Qt.Key.Key_Delete)
    assert not session.build.logbook.events
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (str(table), ""))
    action(window, "Enter a table in the logbook …").trigger()
    assert session.build.logbook.events == before
    session.save(tmp_path / "build.jtack")
    kept = json.loads((tmp_path / "build.jtack").read_text())["logbook"]
    assert len(kept["events"]) == 4 and kept["use"]["per_month"]["km"] == pytest.approx(80.4672)


def test_one_key_enters_what_a_station_has(qtbot: QtBot, window: MainWindow) -> None:
    session, enter = window.session, action(window, "Enter it in the logbook")
    emptied(window)
    window.desk.stand_at("belt")
    session.select(BeltAt("blower"))
    enter.trigger()
    bench = window.desk.room(BeltRoom).bench
    window.desk.call(bench)
    bench.show_page(bench.pages.index(bench.seen))
    type_into(qtbot, bench.seen.between, "70")
    enter.trigger()
    plain, seen = session.build.logbook.events
    assert (plain.kind, plain.arm_angle_deg) == ("belt_tried", None)
    assert seen.kind == "belt_tried" and seen.arm_angle_deg is not None
    window.desk.stand_at("fit_up")
    enter.trigger()
    assert session.build.logbook.events[-1].note.startswith("Engine off")
    window.desk.stand_at("grip")
    enter.trigger()
    assert session.build.logbook.events[-1].kind == "note" and window.desk.station == "logbook"


def test_offers_stand_side_by_side_and_lives_in_their_card(
    qtbot: QtBot, window: MainWindow
) -> None:
    emptied(window)
    window.session.select(BeltAt("blower"))
    room = room_of(window)
    action(window, "Offers of belts").trigger()
    card = room.offers
    card.add.click()
    card.add.click()
    for place, (also, price) in enumerate((("K101195, X 7", "31.5"), ("", "28.9"))):
        type_into(qtbot, card.fields[place, "other_numbers"], also)
        type_into(qtbot, card.fields[place, "price"], price)
        type_into(qtbot, card.fields[place, "currency"], "EUR")
    assert window.session.build.logbook.offers[0].other_numbers == ("K101195", "X 7")
    # typed one after another by keys: the next field is where one types on
    seller = card.fields[0, "seller"]
    seller.setFocus()
    qtbot.keyClicks(seller, "by post")
    qtbot.keyClick(seller, Qt.Key.Key_Tab)
    assert window.session.build.logbook.offers[0].seller == "by post"
    assert card.fields[0, "note"].hasFocus()
    type_into(qtbot, card.fields[1, "at"], "yesterday")
    assert "is no day" in card.refusal.text() and card.fields[1, "at"].text() == "yesterday"
    labels = [label.text() for label in card.findChildren(type(card.title))]
    first, second = next(text for text in labels if "•" in text).split("\n")
    assert "28.90 EUR for 10PK1195" in first and "31.50 EUR for 10PK1195 = K101195 = X 7" in second
    action(window, "What it lasted and cost").trigger()
    assert "Nothing yet" in room.record.said.text()


def test_two_thousand_events_are_listed_painted_and_found(qtbot: QtBot, window: MainWindow) -> None:
    emptied(window)
    room = room_of(window)
    rows = [
        {"kind": "note", "at": f"20{10 + k // 240:02d}-01-01", "km": 10.0 * k, "drive": "blower"}
        for k in range(2000)
    ]
    session = window.session
    session.edit("many", put_events(session.build, rows))
    room.book.tell()
    qtbot.waitUntil(lambda: room.strip.events.rowCount() == 2000)
    room.logbook.enter("note")
    room.strip.line.grab()
    assert len(room.strip.line.places) == 2001 and now(room.book.chosen).kind == "note"
    room.strip.line.mouseMoveEvent(None)
    place = room.strip.line.places[room.book.listed[-1].id]
    qtbot.mouseClick(room.strip.line, LEFT, pos=QPoint(round(place.x()), round(place.y())))
    assert now(room.book.chosen).km is not None and now(room.book.chosen).km < 200


def test_sheets_card_and_pack_come_out_of_the_window_and_a_pack_opens(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session = window.session
    session.select(BeltAt("blower"))
    asked: list[Path] = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(asked[0]), ""))
    asked[:] = [tmp_path / "pack.zip"]
    action(window, "Pack the build with its pictures …").trigger()
    assert not asked[0].exists()  # it must be saved first, which is said
    session.save(tmp_path / "build.jtack")
    for text, name in (
        ("Pack the build with its pictures …", "pack.zip"), ("Card for the counter …", "card.png"),
        ("Build sheet, one page …", "sheet.pdf"), ("Steps of fitting up on paper …", "steps.pdf"),
    ):  # fmt: skip
        asked[:] = [tmp_path / name]
        action(window, text).trigger()
        qtbot.waitUntil(asked[0].exists, timeout=30_000)
    # in inches the sheet is on the paper of inches, with both units
    window.inch_action.trigger()
    asked[:] = [tmp_path / "inches.pdf"]
    action(window, "Build sheet, the whole …").trigger()
    qtbot.waitUntil(asked[0].exists, timeout=30_000)
    sheet = PdfReader(asked[0])
    assert round(float(sheet.pages[0].mediabox[2])) == 612
    assert "47.047 in (1195.0 mm)" in " ".join(sheet.pages[0].extract_text().split())
    window.inch_action.trigger()
    session.save(tmp_path / "build.jtack")
    board = now(QApplication.clipboard())
    assert board.text().startswith("Blower drive: 10PK1180")
    # what lies beside a build goes with it to another place
    page = window.desk.room(LogbookRoom).logbook
    window.desk.room(LogbookRoom).book.enter("note")
    page.attach(tmp_path / "card.png")
    (tmp_path / "moved").mkdir()
    asked[:] = [tmp_path / "moved" / "build.jtack"]
    window.files.save_as()
    assert (tmp_path / "moved" / "build.files" / "card.png").exists()
    window.load(tmp_path / "pack.zip")
    qtbot.waitUntil(lambda: now(session.path).parent.name == "pack", timeout=10_000)
    assert session.path == tmp_path / "pack" / "build.jtack"
    demos = {
        act.text().replace("&", ""): act for act in now(window.menus.submenus["demos"]).actions()
    }
    demos["Oskar Mill, a sled with a toothed blower drive"].trigger()
    assert session.build.title.startswith("Oskar Mill") and room_of(window).mark == "watch"


def test_what_an_inspection_found_goes_to_the_noise_finder(
    qtbot: QtBot, window: MainWindow
) -> None:
    emptied(window)
    session = window.session
    session.select(BeltAt("blower"))
    room = room_of(window)
    qtbot.mouseClick(room.logbook.kinds["inspection"], LEFT)
    form = room.logbook.form
    assert form.seen.isVisible() and not room.logbook.ask_button.isVisible()
    for name in ("glaze", "black_dust", "rib_torn"):
        qtbot.mouseClick(form.looks[name], LEFT)
    qtbot.mouseClick(form.looks["rib_torn"], LEFT)  # it was not
    choose(form.fields["material"], "epdm")
    assert dict(now(room.book.chosen).findings) == {"glaze": True, "black_dust": True}
    qtbot.mouseClick(room.logbook.ask_button, LEFT)
    card = window.desk.room(RunCheckRoom).noise
    assert card.isVisible() and card.drive.currentData() == "blower"
    assert card.tiles["glaze"].box == "done" and not card.tiles["cracks"].isEnabled()
    session.undo()
    assert not session.build.symptoms and now(room.book.chosen).findings
