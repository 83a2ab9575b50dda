"""What is typed anywhere is in the file, refused in words, or asked about; a notice takes no key."""

from __future__ import annotations

import json
import os
from datetime import date
from functools import partial
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit
from pytestqt.qtbot import QtBot

from driving import action
from jovial_tack.core.units import COUNT, PASSES, PERCENT
from jovial_tack.document.edits.logbook import add_attachment, add_event, add_interval, add_offer
from jovial_tack.document.model import Build, dump
from jovial_tack.document.targets import PulleyAt, ShaftAt
from jovial_tack.files.recovery import Keeper, lost_work
from jovial_tack.ui.cards.rows import WordsRow
from jovial_tack.ui.fit_up.room import FitUpRoom
from jovial_tack.ui.grip.room import GripRoom
from jovial_tack.ui.lay_out.room import LayOutRoom
from jovial_tack.ui.logbook.room import LogbookRoom
from jovial_tack.ui.solving import Solving
from jovial_tack.ui.survey.room import SurveyRoom
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.typed import TypedField, all_waiting, fields_of
from jovial_tack.ui.window.main_window import MainWindow
from support import furnished

LEFT = Qt.MouseButton.LeftButton
#: Every so manyth field is walked, others each day; all of them: JOVIAL_TACK_EVERY=1
EVERY = int(os.environ.get("JOVIAL_TACK_EVERY", "10"))


def rich() -> Build:
    """A build with something of all that is typed of."""
    build, _ = add_event(furnished(), "cost", "2026-11-01", what="paint", cost=3.0)
    build, name = add_event(build, "inspection", "2026-11-02", drive="blower")
    build, _ = add_attachment(build, "edge.png", "0" * 64, 3, of=name)
    build, _ = add_interval(build, "belt:blower")
    return add_offer(build, "blower", "10PK1180", at="2026-11-03")


def line(window: MainWindow, name: str) -> TypedField:
    """A line of words on the card."""
    found = window.cards.card.line(name)
    assert isinstance(found, WordsRow)
    return found.field


def in_sight(window: MainWindow) -> list[tuple[str, TypedField]]:
    return [
        (name, field)
        for name, field in fields_of(window)
        if field.isVisible() and field.isEnabled() and not field.isReadOnly()
    ]


def places(window: MainWindow) -> list[str]:
    """Every place there is something typed at: stations, and the cards that are called up there."""
    return [
        f"{room.station.key if room.station else ''}|{k}"
        for room in window.desk.rooms
        for k in range(-1, len(room.asides))
        if room.station or k >= 0
    ]


def go(window: MainWindow, place: str) -> None:
    station, number = place.split("|")
    room = next(r for r in window.desk.rooms if (r.station.key if r.station else "") == station)
    if station:
        window.desk.stand_at(station)
    session = window.session
    if station == "fit_up":
        window.desk.room(FitUpRoom).following.choose(
            window.desk.room(FitUpRoom).following.steps.steps[2].id
        )
    if station == "logbook":
        window.desk.room(LogbookRoom).book.choose(session.build.logbook.events[-1].id)
    if int(number) >= 0:
        card = room.asides[int(number)].card
        if window.desk.right.currentWidget() is not card:
            window.desk.call(card)
    QApplication.processEvents()


def typed_for(field: TypedField) -> str:
    """Something that can be taken, and is not there yet."""
    if not isinstance(field, QuantityField):
        return (
            "7PK1615"
            if "umber" in field.name
            else "2026-11-04"
            if field.name in ("Day",)
            else "words 7"
        )
    if field.quantity in (COUNT, PASSES, PERCENT) or "1" not in f"{field.value}":
        return "11"
    return "13"


ACTIONS = ("save", "select", "station", "undo", "notice", "event")


def do(window: MainWindow, what: str, path: Path) -> None:
    session = window.session
    if what == "save":
        session.save(path)
    elif what == "select":
        session.select(ShaftAt("pump"))
    elif what == "station":
        window.desk.stand_at("lay_out" if window.desk.station != "lay_out" else "belt")
    elif what == "undo":
        session.undo()
    elif what == "event":
        book = window.desk.room(LogbookRoom).book
        book.choose(session.build.logbook.events[0].id)
    else:
        window.notice.ask("Something happened elsewhere.", [("Lose everything", session.new)])
    QApplication.processEvents()


def test_every_field_of_the_window_loses_nothing(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Found by a walk: typed in, then something else happens."""
    monkeypatch.setattr(Solving, "_deepen", lambda _self: None)  # nothing of it hangs on that
    start, path, number = rich(), tmp_path / "walk.jtack", 0
    seen, walked = set[str](), set[str]()
    window.session.new(start)
    window.resize(1280, 1600)
    for place in places(window):
        window.session.select(PulleyAt("blower", "blower"))
        go(window, place)
        for name, _ in in_sight(window):
            number += name not in seen
            if name in seen or (number + date.today().toordinal()) % EVERY:
                seen.add(name)
                continue
            seen.add(name)
            if window.session.build is not start or all_waiting(window):
                window.session.new(start)
            start = window.session.build
            window.session.select(PulleyAt("blower", "blower"))
            go(window, place)
            field = dict(fields_of(window)).get(name)
            if field is None or not field.isVisible():
                continue
            what, typed = ACTIONS[number % len(ACTIONS)], typed_for(field)
            before = field.text()
            if before.startswith(typed):
                continue
            field.setFocus()
            field.selectAll()
            QTest.keyClicks(field, typed)
            of = field.of
            do(window, what, path)
            if what == "undo":
                window.session.redo()
            walked.add(name)
            waits = [each for each in all_waiting(window) if typed in each.text and each.of == of]
            build = window.session.history.build
            where = place, name, what, typed
            if build != start and not waits:
                told = json.dumps(dump(build)) if what != "save" else path.read_text()
                was = json.dumps(dump(start))
                assert told != was, where
                continue
            refused = f"“{typed}” was not taken" in window.hint.text()
            assert waits or refused, where
    assert len(seen) > 80 and len(walked) * EVERY > 0.5 * len(seen), (len(walked), len(seen))


def test_there_is_one_kind_of_line_to_type_in(window: MainWindow) -> None:
    """A plain line of Qt keeps nothing of all this; those of choices are never typed in."""
    plain = [
        field.accessibleName() or field.objectName()
        for field in window.findChildren(QLineEdit)
        if not isinstance(field, TypedField) and not field.isReadOnly()
    ]
    assert plain == []


def test_a_note_left_standing_stays_with_its_event(qtbot: QtBot, window: MainWindow) -> None:
    window.session.new(rich())
    window.desk.stand_at("logbook")
    room = window.desk.room(LogbookRoom)
    one, other = (event.id for event in window.session.build.logbook.events[-2:])
    room.book.choose(one)
    note = room.logbook.form.fields["note"]
    note.setFocus()
    QTest.keyClicks(note, "of the first")
    room.book.choose(other)
    day = room.logbook.form.fields["at"]
    assert isinstance(day, TypedField)
    day.setFocus()
    day.selectAll()
    QTest.keyClicks(day, "yesterday")
    room.book.choose(one)
    events = {event.id: event for event in window.session.build.logbook.events}
    assert events[one].note == "of the first" and events[other].note == ""
    assert day.text() != "yesterday"
    room.book.choose(other)
    assert day.text() == "yesterday"
    assert "is no day" in room.logbook.form.refusal.text()


def test_what_is_half_typed_is_asked_about_kept_and_comes_back(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    """A reading, a name, a step: in a window that is killed, and in one that is closed."""
    file = tmp_path / "half.jtack"
    window.session.new(rich())
    window.session.save(file)
    window.load(file)
    form = window.desk.room(SurveyRoom).page.form  # type: ignore[union-attr]
    window.desk.stand_at("survey")
    name = window.desk.room(LayOutRoom).variants.name
    for field, text in ((form.value, "270.5"), (name, "half a name")):
        field.setFocus()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Tab)
    assert not window.session.is_modified
    window.safekeeping.keep_now()
    window.close()
    assert window.isVisible() and "half a name" in window.notice.text.text()
    qtbot.mouseClick(window.notice.buttons[0], LEFT)  # go back to it
    assert window.isVisible() and name.text() == "half a name" and form.value.value == 270.5
    window.files.save()
    assert "not in it" in window.hint.text() and "270.5" in window.hint.text()
    window.close()
    qtbot.mouseClick(window.notice.buttons[1], LEFT)  # throw it away: for a week it can be had
    assert not window.isVisible()
    (work,) = lost_work(window.session.catalogue)
    assert work.let_go and {each.text for each in work.typed} == {"270.5 mm", "half a name"}
    from jovial_tack.ui.app import make_window

    again = make_window()
    qtbot.addWidget(again)
    again.show()
    again.offer_recovery([work])
    assert not again.notice.isVisible()  # nobody asked for what was thrown away
    again.desk.call(again.desk.lost)
    qtbot.mouseClick(again.desk.lost.buttons[0][0], LEFT)
    form = again.desk.room(SurveyRoom).page.form  # type: ignore[union-attr]
    assert again.desk.room(LayOutRoom).variants.name.text() == "half a name"
    assert {each.text for each in all_waiting(again)} == {"270.5 mm", "half a name"}
    again.leave()


def test_finder_sizes_come_back_when_the_drive_is_looked_at_again(
    qtbot: QtBot, window: MainWindow
) -> None:
    card = window.desk.room(GripRoom).finder
    window.session.select(PulleyAt("blower", "blower"))
    window.desk.call(card)
    field = next(field for _, _, field in card.form.rows if field is not None)
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "70 to 75")
    of = field.of
    card.ask()
    again = next(field for _, _, field in card.form.rows if field is not None and field.of == of)
    assert again.text() == "70 to 75"


def test_what_may_be_either_is_asked_beside_its_field_and_answered_by_keys(
    qtbot: QtBot, window: MainWindow
) -> None:
    window.activateWindow()
    session = window.session
    session.select(PulleyAt("blower", "blower"))
    window.cards.card.refresh()
    before, field = session.build, window.cards.field("Diameter")
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "1,250")
    QTest.keyClick(field, Qt.Key.Key_Return)
    question = field.question
    assert session.build is before and question.isVisible()
    assert [button.text() for button in question.buttons] == ["1.25 mm", "1 250 mm"]
    assert "may be" in window.cards.card.row("Diameter").reason.text()
    QTest.keyClick(field, Qt.Key.Key_Down)
    assert question.buttons[0].hasFocus()
    QTest.keyClick(question.buttons[0], Qt.Key.Key_Right)
    QTest.keyClick(question.buttons[1], Qt.Key.Key_Space)
    assert session.build.drive("blower").pulley("blower").diameter_mm == 1250.0
    assert not question.isVisible()
    # beyond what there is: taken, and asked about
    window.cards.card.refresh()
    assert "is that so?" in window.cards.card.row("Diameter").reason.text()
    assert all(verdict.mark != "good" for verdict in session.verdicts)


# notices


def test_a_notice_takes_no_key_and_waits_its_turn(qtbot: QtBot, window: MainWindow) -> None:
    window.activateWindow()
    window.session.select(ShaftAt("pump"))
    window.cards.card.refresh()
    field = line(window, "Name")
    field.setFocus()
    QTest.keyClicks(field, "a")
    pressed: list[str] = []
    for name in ("one", "two", "one"):
        window.notice.ask(name, [("Do it", partial(pressed.append, name))], topic=name)
    assert QApplication.focusWidget() is field
    QTest.keyClicks(field, " b")
    assert pressed == [] and field.text().startswith("a b")
    assert window.notice.all_said == ["one", "two"] and "1 more" in window.notice.more.text()
    action(window, "Go to the notice").trigger()
    assert window.notice.buttons[0].hasFocus()
    QTest.keyClick(window.notice.buttons[0], Qt.Key.Key_Space)
    assert pressed == ["one"] and window.notice.all_said == ["two"]
    assert line(window, "Name").hasFocus()
    window.session.new()
    assert window.notice.all_said == ["two"]  # it was not of the build


def test_opening_over_edits_asks_and_they_can_be_had_again(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    file = tmp_path / "shared.jtack"
    window.session.save(file)
    window.load(file)
    theirs = file.read_text().replace("Tessary Fen:", "Theirs:")
    window.activateWindow()
    field = line(window, "Title")
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "Mine, unsaved ")
    file.write_text(theirs)
    qtbot.waitUntil(lambda: "changed on disk" in window.notice.text.text(), timeout=5000)
    assert QApplication.focusWidget() is field
    QTest.keyClicks(field, " with a space ")
    qtbot.mouseClick(window.notice.buttons[0], LEFT)
    assert "takes the place of your changes" in window.notice.text.text()
    assert window.session.build.title.startswith("Mine")
    qtbot.mouseClick(window.notice.buttons[1], LEFT)
    assert window.session.build.title.startswith("Theirs:")
    (work,) = lost_work(window.session.catalogue)
    assert work.let_go and work.build.title.startswith("Mine, unsaved  with a space")


def test_a_file_that_is_gone_is_told_and_asked_about(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    file = tmp_path / "deep" / "gone.jtack"
    file.parent.mkdir()
    window.session.save(file)
    window.load(file)
    for stray in file.parent.iterdir():
        stray.unlink()
    file.parent.rmdir()
    qtbot.waitUntil(lambda: window.session.is_file_gone, timeout=5000)
    assert "not on the disk any more" in window.notice.text.text()
    assert window.windowTitle().startswith("*")
    window.close()
    assert window.isVisible() and "only open here" in window.notice.text.text()
    file.parent.mkdir()
    qtbot.mouseClick(window.notice.buttons[0], LEFT)
    assert file.exists() and not window.isVisible()


@pytest.mark.parametrize("lost", [3])
def test_lost_work_is_a_list_none_twice_and_saved_work_is_none(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, lost: int
) -> None:
    session, keepers = window.session, []
    for number in range(lost):
        file = tmp_path / f"{number}.jtack"
        session.save(file)
        keeper = Keeper()
        from jovial_tack.document.edits.engine import set_title

        keeper.keep(set_title(session.build, f"Lost {number}"), file, session.fingerprint)
        keeper.own.let_go()
        keepers.append(keeper)
    twice = Keeper()  # the same work in another copy, as a second kill left it
    twice.keep(set_title(session.build, "Lost 0"), tmp_path / "0.jtack", session.fingerprint)
    twice.own.let_go()
    saved = Keeper()
    saved.keep(session.build, tmp_path / "1.jtack", session.fingerprint)
    saved.own.let_go()
    works = lost_work(session.catalogue)
    assert sorted(work.build.title for work in works) == [f"Lost {k}" for k in range(lost)]
    window.offer_recovery(works)
    assert f"and {lost - 1} more" in window.notice.text.text()
    qtbot.mouseClick(window.notice.buttons[0], LEFT)
    card = window.desk.lost
    assert card.isVisible() and len(card.buttons) == lost
    said = " ".join(label.text() for label in card.findChildren(type(card.title)))
    assert "Otherwise than the file: the title" in said and "The file is older" in said
    for _ in range(2):  # asked first
        qtbot.mouseClick(card.buttons[0][1], LEFT)
    assert len(card.buttons) == lost - 1
    qtbot.mouseClick(card.buttons[0][0], LEFT)
    assert session.build.title.startswith("Lost") and session.is_modified
    assert len(card.buttons) == lost - 2
    window.files.save()
    assert len(lost_work(session.catalogue)) == lost - 2
