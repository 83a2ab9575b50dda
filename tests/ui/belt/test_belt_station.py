"""The station for the belt in the window: its story by pointer, the keys, and the bench's pages."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QFileDialog, QLabel, QPushButton
from pytestqt.qtbot import QtBot

from driving import action, now, settle, type_into
from jovial_tack.document.edits.changing import changed, with_shaft
from jovial_tack.document.edits.engine import set_units
from jovial_tack.document.edits.routes import take_off
from jovial_tack.document.edits.shafts import remove_shaft
from jovial_tack.document.targets import BeltAt, PulleyAt
from jovial_tack.ui.belt import BeltBench, BeltsAlongWindow
from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.window.main_window import MainWindow
from support import built, read_case

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def along(qtbot: QtBot, window: MainWindow) -> BeltsAlongWindow:
    window.session.select(BeltAt("blower"))
    window.desk.stand_at("belt")
    along = window.desk.room(BeltRoom).along
    qtbot.waitUntil(lambda: along.choice is not None and along.drive == "blower", timeout=10_000)
    return along


def press(qtbot: QtBot, along: BeltsAlongWindow, number: str) -> None:
    belt = next(b for b in along.belts_shown() if b.number == number)
    qtbot.mouseClick(along, LEFT, pos=QPoint(round(along.x_of(belt.effective_length_mm)), 86))


def bench_at(window: MainWindow, page: str) -> BeltBench:
    """The belt bench, called up and opened at a page."""
    bench = window.desk.room(BeltRoom).bench
    window.desk.call(bench)
    bench.show_page(bench.pages.index(getattr(bench, page)))
    return bench


def said(bench: BeltBench) -> str:
    page = bench.stack.currentWidget()
    assert page is not None
    texts = (label.text() for label in page.findChildren(QLabel) if label.isVisible())
    return "\n".join(texts).replace("\u00a0", " ")


def test_the_story_another_blower_pulley_and_the_belts_to_bring_home(
    qtbot: QtBot, window: MainWindow, along: BeltsAlongWindow
) -> None:
    session, bench = window.session, window.desk.room(BeltRoom).bench
    assert along.choice is not None and along.choice.installed is not None
    assert along.choice.installed.fits  # today's belt passes
    session.select(PulleyAt("blower", "blower"))
    type_into(qtbot, window.cards.field("Diameter"), "96 mm")
    qtbot.waitUntil(
        lambda: along.build.drive("blower").pulley("blower").diameter_mm == 96.0, timeout=9000
    )
    choice = now(along.choice)
    assert not choice.installed.fits and "too tight" in (choice.installed.reason or "")
    assert len(choice.bring_home) == 2
    qtbot.mouseClick(along.bench_button, LEFT)
    home = choice.bring_home[0].number
    press(qtbot, along, home)
    assert along.looked_at is not None and along.looked_at.number == home
    assert "1. Wind Blower arm back" in said(bench) and "Never lever" in said(bench)
    qtbot.mouseClick(bench.put_on.fit_button, LEFT)
    assert session.history.undo_label == f"fit {home}"
    settle(qtbot, window)
    qtbot.waitUntil(lambda: now(along.choice).installed.number == home)
    assert along.choice.installed.fits


def test_belts_are_chosen_and_fitted_by_keys(
    qtbot: QtBot, window: MainWindow, along: BeltsAlongWindow
) -> None:
    assert along.looked_at is not None and along.looked_at.number == "10PK1180"
    along.setFocus()
    qtbot.keyClick(along, Qt.Key.Key_Right)
    assert along.looked_at.number == "10PK1185"
    qtbot.keyClick(along, Qt.Key.Key_Return)
    assert window.session.build.drive("blower").belt.effective_length_mm == 1185.0
    for _ in range(40):
        qtbot.keyClick(along, Qt.Key.Key_Left)
    assert along.looked_at == along.belts_shown()[0]
    window.session.edit("inches", set_units(window.session.build, "in"))
    settle(qtbot, window)
    along.repaint()


def test_what_is_gone_is_not_painted(
    qtbot: QtBot, window: MainWindow, along: BeltsAlongWindow
) -> None:
    """Pulleys and belts taken away while the belts for them are still shown."""
    session = window.session
    session.edit("off", take_off(session.build, "blower", "blower_arm"))
    along.repaint()
    window.desk.room(BeltRoom).bench.refresh()
    session.edit("away", remove_shaft(session.build, "blower"))
    along.repaint()
    settle(qtbot, window)
    along.fit()
    session.undo()
    session.new(session.build)
    along.repaint()


def test_a_tone_is_told_as_tension_kept_and_of_another_span(
    qtbot: QtBot, window: MainWindow, along: BeltsAlongWindow
) -> None:
    session, bench = window.session, bench_at(window, "tone")
    page = bench.tone
    drive = page.read_of[0]
    held = session.results.drive(drive).tensioner
    assert page.found is not None and held is not None  # it begins with the tone of the layout
    assert page.found.tension_n == pytest.approx(held.tension_n, rel=0.02)
    type_into(qtbot, page.tone, "70")
    heard = now(page.found)
    assert heard.tone_hz == 70.0 and f"is {heard.tension_n:.0f} N at rest" in said(bench)
    qtbot.mouseClick(page.kept.button, Qt.MouseButton.LeftButton)
    event = session.build.logbook.events[-1]
    assert (event.kind, event.tone_hz, event.span) == ("tension_check", 70.0, heard.span)
    session.undo()
    type_into(qtbot, page.tone, "1")
    assert "from 5 to 2000 Hz" in said(bench) and page.found is None
    first = page.span.currentIndex()
    for place in ((first + 1) % page.span.count(), first):
        page.span.setCurrentIndex(place)
        page.span.activated.emit(place)
        assert place == first or now(page.found).span != heard.span
    assert page.tone.text() == "1.0 Hz"  # what was typed of a span stays with it
    # or twisted by hand: it begins with the torque of the layout, and is kept like a tone
    page.way.setCurrentIndex(page.way.findData("twist"))
    page.way.activated.emit(page.way.currentIndex())
    assert now(page.found).tension_n == pytest.approx(held.tension_n, rel=0.02)
    type_into(qtbot, page.twist, "0.9 lb ft")
    qtbot.mouseClick(page.kept.button, Qt.MouseButton.LeftButton)
    event = session.build.logbook.events[-1]
    assert event.twist_nm == pytest.approx(0.9 * 1.3558, rel=1e-3) and event.tone_hz is None
    assert event.tension_n == pytest.approx(now(page.found).tension_n, abs=0.1)


def test_a_push_and_its_play_are_told_as_tension_and_typed_over(
    qtbot: QtBot, window: MainWindow, along: BeltsAlongWindow
) -> None:
    session, bench = window.session, bench_at(window, "feel")
    assert "sprung tensioner gives way" in said(bench) and not bench.feel.push.isVisible()
    session.new(built(read_case("two_pulleys_locked")["build"]))
    window.desk.stand_at("belt")
    if not bench.isVisible():
        window.desk.call(bench)
    qtbot.waitUntil(lambda: bench.feel.found is not None, timeout=10_000)
    assert bench.feel.found is not None  # it begins with the feel of the build as it is
    assert bench.feel.found.tension_n == pytest.approx(700.0, abs=1.0)
    type_into(qtbot, bench.feel.play, '1/4"')
    type_into(qtbot, bench.feel.push, "9 lbf")
    found = now(bench.feel.found)
    assert (found.play_mm, found.push_n) == pytest.approx((6.35, 40.03), abs=0.01)
    assert f"is {found.tension_n:.0f} N at rest" in said(bench)
    type_into(qtbot, bench.feel.play, "90")
    assert "quarter of the span" in said(bench) and bench.feel.found is None
    type_into(qtbot, bench.feel.play, "7 mm")
    window.show_units("in")
    qtbot.waitUntil(lambda: " lbf at rest" in said(bench), timeout=10_000)
    assert bench.feel.play.text() == "0.276 in"  # what was felt stays
    two = session.build.drives[0].id
    far = changed(session.build.shaft("alt"), center_mm=session.build.shaft("crank").center_mm)
    session.edit("a shaft on the crank", with_shaft(session.build, far))
    qtbot.waitUntil(lambda: not session.results.drive(two).spans, timeout=10_000)
    bench.feel.span.activated.emit(0)
    assert bench.feel.found is None and "no tension at rest" in said(bench)


def test_the_pages_of_the_bench(
    qtbot: QtBot,
    window: MainWindow,
    along: BeltsAlongWindow,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    session, bench = window.session, window.desk.room(BeltRoom).bench
    window.desk.call(window.desk.room(BeltRoom).bench)
    names = [page.name for page in bench.pages]
    assert names == [
        "Put on",
        "Measure",
        "As seen",
        "Feel",
        "Tone",
        "Seats",
        "Stock",
        "Number",
        "Toothed",
    ]
    bench.show_page(1)
    page = bench.measure
    assert "measuring" in window.front.drawn  # the tape's line lies over the layout
    assert page.found is not None and page.found.order_mm == pytest.approx(1181.4, abs=0.1)
    type_into(qtbot, page.reading, "1190")
    assert page.found.order_mm == pytest.approx(1189.4, abs=0.1) and "costs a belt" in said(bench)
    for place in range(page.way.count()):
        page.way.setCurrentIndex(place)
        page.choose_way()
    assert "toothed belts only" in said(bench)
    bench.show_page(2)
    assert "measuring" not in window.front.drawn
    assert "no more than is uncertain" in said(bench)
    assert bench.seen.way.currentData() == "share"
    type_into(qtbot, bench.seen.between, "70")
    by_share = bench.seen.found
    assert by_share is not None and "shorter than the one in the build" in said(bench)
    bench.seen.way.setCurrentIndex(1)
    bench.seen.refresh()
    type_into(qtbot, bench.seen.past, "14")  # of the 20 between the marks
    assert bench.seen.found == by_share
    bench.seen.way.setCurrentIndex(2)
    bench.seen.refresh()
    type_into(qtbot, bench.seen.arm, f"{by_share.arm_deg:.3f}")
    assert bench.seen.found is not None
    assert bench.seen.found.implied_mm == pytest.approx(by_share.implied_mm, abs=0.01)
    # what is wrong is asked check by check, with the tone if it was heard
    type_into(qtbot, bench.seen.tone, "70")
    qtbot.mouseClick(bench.seen.why, LEFT)
    causes = window.desk.room(BeltRoom).causes
    qtbot.waitUntil(lambda: causes.dialogue is not None, timeout=20_000)
    assert "spring" in causes.told.text() and causes.asked.text()
    causes.close_button.click()
    action(window, "Belt bench").trigger()
    bench.show_page(5)
    assert "groove 1 of 10" in said(bench)
    type_into(qtbot, bench.seats.fields["first_groove"], "2")
    assert "need 11 grooves" in said(bench)
    assert session.history.undo_label == "groove of Crank"
    session.undo()
    bench.show_page(6)
    qtbot.mouseClick(bench.stock.made_up_button, LEFT)
    qtbot.waitUntil(
        lambda: along.choice is not None and along.choice.candidates[0].price is not None
    )
    target = tmp_path / "stock.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(target), ""))
    bench.stock.write()
    stock = session.build.stock
    qtbot.mouseClick(bench.stock.away_button, LEFT)
    assert session.build.stock == ()
    bench.stock.read(target)
    assert session.build.stock == stock
    target.write_text("nothing here\n")
    bench.stock.read(target)
    assert "was not taken" in said(bench) and session.build.stock == stock
    bench.show_page(7)
    qtbot.keyClicks(bench.number.text, "10k468")
    assert "10PK1189" in said(bench)
    bench.number.fit()
    assert session.build.drive("blower").belt.effective_length_mm == pytest.approx(1188.72)
    bench.number.text.setText("hinge")
    assert "no digits" in said(bench) and not bench.number.fit_button.isVisible()
    bench.show_page(8)
    assert "Centre distance 266.527 mm" in said(bench)
    type_into(qtbot, bench.toothed.fields["belt"], "30.5")
    assert "whole" in said(bench)
    type_into(qtbot, bench.toothed.fields["belt"], "30")
    assert "cannot go round" in said(bench)
    type_into(qtbot, bench.toothed.fields["belt"], "104")
    assert "Over- and undersize" in said(bench)


def test_a_reading_is_marked_kept_and_taken_out_again(
    qtbot: QtBot, window: MainWindow, along: BeltsAlongWindow
) -> None:
    session, bench = window.session, bench_at(window, "measure")
    page = bench.measure
    expected = page.reading.value
    assert expected is not None and "Ask for: 10PK" in said(bench)  # it begins with the layout's
    type_into(qtbot, page.reading, f"{expected - 14:.1f} mm")
    assert "14.0 mm shorter, where both are known" in said(
        bench
    ) and "Nearest stocked: 10PK" in said(bench)
    plain = along.grab().toImage()
    along.show_reading(None)
    assert along.grab().toImage() != plain  # the strip marked it
    qtbot.mouseClick(page.kept.button, LEFT)
    before = session.build.logbook.events[:-1]
    kept = session.build.logbook.events[-1]
    assert (kept.kind, kept.drive, kept.way) == ("reading", "blower", "tape")
    assert kept.value_mm == pytest.approx(expected - 14, abs=0.06)
    assert kept.at in said(bench) and session.history.undo_label == "keep a reading"
    out = next(b for b in page.kept.findChildren(QPushButton) if b.text() == "Take out")
    qtbot.mouseClick(out, LEFT)
    assert session.build.logbook.events == before
    session.undo()
    bench.show_page(bench.pages.index(bench.seen))
    qtbot.mouseClick(bench.seen.kept.button, LEFT)
    tried = now(session.build.logbook.events)[-1]
    assert (tried.kind, tried.number) == ("belt_tried", "10PK1195")
    stands = session.results.drive("blower").tensioner.arm_angle_deg  # type: ignore[union-attr]
    assert tried.arm_angle_deg == pytest.approx(stands, abs=0.2) and "10PK1195" in said(bench)


def test_what_is_typed_at_the_bench_is_still_there_after_a_look_at_another_drive(
    qtbot: QtBot, window: MainWindow, along: BeltsAlongWindow
) -> None:
    session, bench = window.session, bench_at(window, "measure")
    page = bench.measure
    type_into(qtbot, page.reading, "1188 mm")
    type_into(qtbot, page.arm, "31")
    other = next(d.id for d in session.build.drives if d.id != "blower")
    for drive in (other, "blower"):
        session.select(BeltAt(drive))
        qtbot.waitUntil(lambda at=drive: along.drive == at, timeout=10_000)
        settle(qtbot, window)
        shown = drive == "blower"
        qtbot.waitUntil(lambda s=shown: s == (page.reading.value == 1188.0), timeout=10_000)
    assert page.arm.value == 31.0
    bench.show_page(bench.pages.index(bench.seats))
    field = bench.seats.findChildren(QuantityField)[-1]
    session.new()
    assert not field.isEnabled()  # there is nothing a figure could belong to
    field.committed.emit(3.0)  # and one that comes late does no harm
    assert "no belt whose seat" in said(bench)


def test_at_the_counter_one_reading_ends_in_numbers_without_any_layout(
    qtbot: QtBot, window: MainWindow
) -> None:
    window.session.new()
    window.desk.stand_at("belt")
    bench = bench_at(window, "number")
    page = bench.number
    for _ in range(page.way.findData("outside")):  # by keys
        qtbot.keyClick(page.way, Qt.Key.Key_Down)
    type_into(qtbot, page.reading, '56 1/2"')
    type_into(qtbot, page.ribs, "5")
    assert "Ask for 5PK1415, also called 5K557" in said(bench)
    assert "another suffix or grade" in said(bench)
    window.show_units("in")
    assert "Ask for 5K557, also called 5PK1415" in said(bench)
    type_into(qtbot, page.reading, "0.2")
    assert "stocked from" in said(bench)
    page.way.setCurrentIndex(0)
    page.way.activated.emit(0)
    type_into(qtbot, page.text, "5PK14?5")
    assert "5PK1415" in said(bench) and "5PK1495" in said(bench)


def test_another_belt_selected_before_its_choice_is_in(
    qtbot: QtBot, window: MainWindow, along: BeltsAlongWindow
) -> None:
    """The belt looked at is still that of the drive before: its steps and its fitting are its own."""
    window.desk.call(window.desk.room(BeltRoom).bench)
    window.session.select(BeltAt("accessory"))
    window.desk.room(BeltRoom).bench.refresh()
    assert "Blower arm" in said(window.desk.room(BeltRoom).bench)
    along.fit()
    assert window.session.build.drive("blower").belt.effective_length_mm == 1180.0
    qtbot.waitUntil(lambda: along.choice is not None and along.choice.drive == "accessory")
    assert "Accessory arm" in said(window.desk.room(BeltRoom).bench)
