"""The station Survey, driven: from an empty build to centres, blunders, other arrangements, belts."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QRawFont
from PyQt6.QtWidgets import QComboBox
from pytestqt.qtbot import QtBot

from driving import now, settle, started, type_into
from jovial_tack.answers.drive.surveyed import standing_survey, survey_start
from jovial_tack.document.edits.shafts import add_shaft, move_shaft, set_shaft
from jovial_tack.document.edits.survey import add_reading
from jovial_tack.document.targets import BeltAt
from jovial_tack.drawing.shapes import CHOICE, Line
from jovial_tack.ui.cards.rows import ChoiceRow
from jovial_tack.ui.survey.room import SurveyRoom
from jovial_tack.ui.widgets.theme import figures, words
from jovial_tack.ui.window.main_window import MainWindow

LEFT, CONTROL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier
#: An engine nobody built: crank, pump, alternator and steering pump, mm.
TRUE = {
    "crank": 0j,
    "water_pump": 12 + 164j,
    "alternator": 231 + 205j,
    "power_steering": -192 + 150j,
}


@pytest.fixture
def empty(qtbot: QtBot) -> Iterator[MainWindow]:
    window = started(qtbot)
    yield window
    window.leave()


def pick(combo: QComboBox, words: str) -> None:
    """Choose in a line as a user does."""
    place = next(k for k in range(combo.count()) if words in combo.itemText(k))
    combo.setCurrentIndex(place)
    combo.activated.emit(place)


def quiet(qtbot: QtBot, room: SurveyRoom) -> None:
    qtbot.waitUntil(lambda: not room.readings.pending, timeout=20_000)


def read(qtbot: QtBot, room: SurveyRoom, kind: str, first: str, second: str, typed: str) -> None:
    form = room.survey.form
    pick(form.kind, kind)
    pick(form.of[0], first)
    pick(form.of[1], second)
    type_into(qtbot, form.degrees if kind == "Angle" else form.value, typed)


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_from_an_empty_build_to_centres_with_a_list_of_readings(
    qtbot: QtBot, empty: MainWindow, unit: str
) -> None:
    qtbot.keyClick(empty, Qt.Key.Key_I if unit == "in" else Qt.Key.Key_M, CONTROL)
    qtbot.keyClick(empty, Qt.Key.Key_1, CONTROL)
    assert empty.desk.station == "survey"
    room, session = empty.desk.room(SurveyRoom), empty.session
    scale = 1.0 if unit == "mm" else 25.4
    names = list(TRUE)
    for new in names[1:]:
        kind = session.catalogue.kinds[new].label
        label = f"+ new {kind.lower()}"
        gap = TRUE[new] - TRUE["crank"]
        read(qtbot, room, "Centre to centre", "Crank", label, f"{abs(gap) / scale:.3f}")
        assert session.build.shafts[-1].kind == new
        if new == names[1]:
            # by keys: the proposed reading is ready to be typed
            quiet(qtbot, room)
            qtbot.keyClick(empty, Qt.Key.Key_J, CONTROL)
            ahead, form = now(room.readings.told).next, room.survey.form
            assert (form.kind_key, form.names) == (ahead.kind, list(ahead.names))
        read(qtbot, room, "Sideways", "Crank", kind, f"{gap.real / scale:.3f}")
        read(qtbot, room, "Up", "Crank", kind, f"{gap.imag / scale:.3f}")
    quiet(qtbot, room)
    told = room.readings.told
    assert told is not None and all(shaft.determined for shaft in told.shafts)
    for place in told.shafts:
        kind = session.build.shaft(place.name).kind
        assert complex(*place.center_mm) == pytest.approx(TRUE[kind], abs=0.1)
    assert room.strip.table.rowCount() == 9 and len(session.build.survey.readings) == 9
    if unit == "in":
        item = room.strip.table.item(0, 2)
        assert item is not None and item.text().endswith(" in")
    # nothing was laid out yet: the engine is drawn as it was measured
    for shaft in session.build.shafts:
        assert complex(*shaft.center_mm) == pytest.approx(TRUE[shaft.kind], abs=0.1)
    assert not room.survey.take_button.isVisible()
    # one that was moved is asked about: taken in one step, and undo brings it back
    session.edit("move", move_shaft(session.build, session.build.shafts[-2].id, 150.0, 150.0))
    before = session.build.shafts
    quiet(qtbot, room)
    room.survey.take_button.click()
    assert room.taking.isVisible() and "Alternator" in room.taking.moved.text()
    room.taking.take_button.click()
    for shaft in session.build.shafts:
        assert complex(*shaft.center_mm) == pytest.approx(TRUE[shaft.kind], abs=0.1)
    session.undo()
    assert session.build.shafts == before


def surveyed_demo(window: MainWindow, *, wrong: float = 0.0) -> SurveyRoom:
    """The demo with three readings of every shaft; wrong: by how much one is off, mm."""
    session, room = window.session, window.desk.room(SurveyRoom)
    build = session.build
    at = {s.id: survey_start(build, s.id) or 0j for s in build.shafts}
    names = list(at)
    for k, name in enumerate(names):
        for other in sorted(names[:k], key=lambda o: abs(at[o] - at[name]))[:3]:
            value = abs(at[name] - at[other])
            reading = {"type": "distance", "shafts": (other, name), "value_mm": value}
            build = add_reading(build, reading)
        if k:
            dy = {
                "type": "dy",
                "shafts": (names[0], name),
                "value_mm": (at[name] - at[names[0]]).imag,
            }
            build = add_reading(build, dy)
    readings = list(build.survey.readings)
    if wrong:
        value = readings[7].value_mm + wrong  # type: ignore[union-attr]
        data = {"type": "distance", "shafts": readings[7].shafts, "value_mm": value}  # type: ignore[union-attr]
        from jovial_tack.document.edits.survey import exchange_reading

        build = exchange_reading(build, 7, data)
    session.edit("readings", build)
    window.desk.stand_at("survey")
    return room


def test_a_blunder_is_named_changed_and_set_aside(qtbot: QtBot, window: MainWindow) -> None:
    room = surveyed_demo(window, wrong=25.4)
    quiet(qtbot, room)
    told = room.readings.told
    assert told is not None
    (suspect,) = told.suspects
    assert suspect.place == 7 and room.mark == "stop"
    assert "does not fit" in room.survey.said.text() and "inch" in room.survey.said.text()
    table = room.strip.table
    row = next(k for k in range(table.rowCount()) if (i := table.item(k, 0)) and i.text() == "!")
    table.setFocus()
    table.selectRow(row)
    assert room.readings.chosen == 7
    assert f"survey/reading/7/0" in window.front.drawn  # noqa: F541
    form, session = room.survey.form, window.session
    right = suspect.doubt.would_read if suspect.doubt is not None else 0.0
    assert room.survey.add_button.text() == "Change it"
    qtbot.keyClick(table, Qt.Key.Key_Space)  # set aside: kept, not used
    quiet(qtbot, room)
    assert session.build.survey.readings[7].set_aside and now(room.readings.told).suspects == ()
    session.undo()
    table.selectRow(row)
    type_into(qtbot, form.value, f"{right:.1f}")
    quiet(qtbot, room)
    assert now(room.readings.told).suspects == () and room.readings.chosen is None
    count = len(session.build.survey.readings)
    table.selectRow(0)
    qtbot.keyClick(table, Qt.Key.Key_Delete)
    assert len(session.build.survey.readings) == count - 1


def test_another_arrangement_is_clicked_in_the_view(qtbot: QtBot, window: MainWindow) -> None:
    room, session = window.desk.room(SurveyRoom), window.session
    build = session.build
    at = {s.id: survey_start(build, s.id) or 0j for s in build.shafts}
    for pair in (("crank", "steering"), ("crank", "idler"), ("steering", "idler")):
        value = abs(at[pair[1]] - at[pair[0]])
        build = add_reading(build, {"type": "distance", "shafts": pair, "value_mm": value})
    for name in ("steering", "idler"):
        step = at[name] - at["crank"]
        for kind, value in (("dx", step.real), ("dy", step.imag)):
            build = add_reading(build, {"type": kind, "shafts": ("crank", name), "value_mm": value})
    for other in ("crank", "idler"):
        value = abs(at["alternator"] - at[other])
        build = add_reading(
            build, {"type": "distance", "shafts": (other, "alternator"), "value_mm": value}
        )
    session.edit("readings", build)
    window.desk.stand_at("survey")
    quiet(qtbot, room)
    told = room.readings.told
    assert told is not None and room.mark == "watch"
    alternator = next(shaft for shaft in told.shafts if shaft.name == "alternator")
    (other_place,) = alternator.also
    assert f"{CHOICE}0/alternator" in window.front.drawn
    assert "may also stand elsewhere" in room.survey.said.text()
    x, y = window.front.pixel_at(other_place)
    viewport = window.front.viewport()
    qtbot.mouseClick(viewport, LEFT, pos=QPoint(round(x), round(y)))
    assert complex(*session.build.shaft("alternator").center_mm) == pytest.approx(
        complex(*other_place), abs=0.01
    )
    quiet(qtbot, room)
    here = next(s for s in now(room.readings.told).shafts if s.name == "alternator")
    assert here.center_mm == pytest.approx(other_place, abs=0.01)
    window.desk.stand_at("lay_out")
    assert not any(key.startswith((CHOICE, "survey/")) for key in window.front.drawn)


def test_what_is_missing_is_said_and_nothing_is_lost(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    room, session = window.desk.room(SurveyRoom), window.session
    window.desk.stand_at("survey")
    form, page = room.survey.form, room.survey
    read(qtbot, room, "Centre to centre", "Crank", "Crank", "120")
    assert "one shaft to itself" in page.refusal.text()
    pick(form.of[1], "Water pump")
    type_into(qtbot, form.value, "a hand")
    assert "length" in page.refusal.text() and form.value.text() == "a hand"
    type_into(qtbot, form.value, "150.2")
    assert len(session.build.survey.readings) == 1
    type_into(qtbot, form.sd, "0")
    type_into(qtbot, form.value, "151")
    assert "± is above zero" in page.refusal.text()
    read(qtbot, room, "Over both rims", "Water pump", "Accessory arm", "300")
    type_into(qtbot, form.value, "300")
    assert "pivot" in page.refusal.text() or "swings" in page.refusal.text()
    pick(form.kind, "A belt that was tried")
    type_into(qtbot, form.value, "1615")
    assert "angle the arm stood at" in page.refusal.text()
    pick(form.stood, "too long")
    page.add_button.click()
    assert session.build.survey.readings[-1].type == "belt"
    bad = tmp_path / "bad.csv"
    bad.write_text("1,2,3")
    room.lay_pattern(bad)
    assert "begins with x_mm,y_mm,name" in page.refusal.text()
    for path in sorted((Path(__file__).parents[3] / "src/jovial_tack/data/patterns").glob("*.csv")):
        room.lay_pattern(path)
        assert session.build.survey.readings[-1].note == path.stem
    quiet(qtbot, room)
    saved = tmp_path / "kept.jtack"
    session.save(saved)
    assert len(json.loads(saved.read_text())["survey"]["readings"]) == len(
        session.build.survey.readings
    )
    session.new()
    settle(qtbot, window)
    assert room.readings.told is None and room.strip.table.rowCount() == 0


def test_what_is_still_needed_ends_in_a_threaded_belt(qtbot: QtBot, window: MainWindow) -> None:
    room, session = window.desk.room(SurveyRoom), window.session
    session.edit("look at it", set_shaft(session.build, "steering", needs_rotation=None))
    window.desk.stand_at("survey")
    room.survey.needs_button.click()
    card = room.needs
    assert card.isVisible() and card.list.count() > 0
    open_ = [need for need in card.needs if need.state == "open"]
    assert card.count.text() == f"{len(open_)} open, {len(card.needs) - len(open_)} done"
    assert [n.state for n in card.needs if "threaded" in n.words] == ["done", "done"]
    place = next(
        k for k in range(card.list.count()) if (i := card.list.item(k)) and "must turn" in i.text()
    )
    item = card.list.item(place)
    assert item is not None
    card.list.setCurrentItem(item)
    qtbot.keyClick(card.list, Qt.Key.Key_Return)
    need = card.needs[int(item.data(Qt.ItemDataRole.UserRole))]
    assert session.selection == need.target and window.cards.isVisible()
    # an engine with nothing but shafts: the list says what comes last
    session.new()
    session.edit("pump", add_shaft(session.build, "water_pump", session.catalogue)[0])
    window.desk.call(card)
    settle(qtbot, window)
    card.refresh()
    assert card.needs[-1].state == "open" and "pull a belt" in card.needs[-1].words


def test_what_all_readings_share_is_typed_once(qtbot: QtBot, window: MainWindow) -> None:
    room = surveyed_demo(window)
    stand, session = room.survey.stand, window.session
    assert not stand.fixed.isVisible()
    stand.fold.click()
    type_into(qtbot, stand.zero, "0.8")
    assert session.build.survey.instruments["tape"].zero_sd_mm == 0.8
    type_into(qtbot, stand.level, "0.5")
    assert session.build.survey.level_sd_deg == 0.5
    pick(stand.toward, "Steering pump")
    type_into(qtbot, stand.angle, "133.5")
    direction = session.build.survey.direction
    assert direction is not None and (direction.shafts[1], direction.angle_deg) == (
        "steering",
        133.5,
    )
    pick(stand.fixed, "Idler")
    assert now(session.build.survey).fixed == "idler"
    quiet(qtbot, room)
    told = room.readings.told
    assert (
        told is not None and told.shafts[0].name == "idler" and told.shafts[0].sd_mm == (0.0, 0.0)
    )
    type_into(qtbot, stand.zero, "-1")
    assert "above 0" in room.survey.refusal.text()
    type_into(qtbot, stand.zero, "0")
    type_into(qtbot, stand.level, "0")
    pick(stand.toward, "as drawn")
    survey = session.build.survey
    assert not survey.instruments and survey.level_sd_deg is None and survey.direction is None


def drag(qtbot: QtBot, window: MainWindow, a: QPoint, b: QPoint, *, shift: bool = False) -> None:
    viewport = window.front.viewport()
    held = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
    qtbot.mousePress(viewport, LEFT, held, a)
    qtbot.mouseMove(viewport, a + QPoint(9, 9))
    qtbot.mouseMove(viewport, b)
    qtbot.wait(50)
    qtbot.mouseRelease(viewport, LEFT, held, b)


def test_from_tape_readings_of_an_empty_build_to_a_belt_number(
    qtbot: QtBot, empty: MainWindow
) -> None:
    """Crank, pump, alternator and an idler: measured, drawn, threaded, bolted; a number to ask for."""
    room, session, front = empty.desk.room(SurveyRoom), empty.session, empty.front
    qtbot.keyClick(empty, Qt.Key.Key_1, CONTROL)
    for label, place in (
        ("Water pump", 8 + 158j),
        ("Alternator", 228 + 196j),
        ("Idler", 150 + 30j),
    ):
        read(
            qtbot, room, "Centre to centre", "Crank", f"+ new {label.lower()}", f"{abs(place):.1f}"
        )
        read(qtbot, room, "Sideways", "Crank", label, f"{place.real:.1f}")
        read(qtbot, room, "Up", "Crank", label, f"{place.imag:.1f}")
    qtbot.keyClick(empty, Qt.Key.Key_2, CONTROL)
    shafts: dict[str, str] = {shaft.kind: shaft.id for shaft in session.build.shafts}
    crank, alternator = (front.pixel_of_shaft(shafts[k]) for k in ("crank", "alternator"))
    drag(qtbot, empty, crank, alternator, shift=True)
    (drive,) = session.build.drives
    for kind, leaves in (("water_pump", "crank"), ("idler", "alternator")):
        line = front.drawn[f"span/{drive.id}/{leaves}"].model
        assert isinstance(line, Line)
        middle = front.mapFromScene(
            QPointF(sum(p[0] for p in line.points) / 2, -sum(p[1] for p in line.points) / 2)
        )
        drag(qtbot, empty, middle, front.pixel_of_shaft(shafts[kind]))
    assert len(session.build.drives[0].route) == 4
    session.select(BeltAt(drive.id))
    choice = empty.cards.card.line("Tension by")
    assert isinstance(choice, ChoiceRow)
    pick(choice.combo, "moved and bolted: Alternator")
    settle(qtbot, empty)
    qtbot.waitUntil(lambda: bool(session.verdicts[1].belts), timeout=20_000)
    assert session.verdicts[1].belts[0][1].startswith("6PK")
    known = standing_survey(session.build, session.catalogue)
    assert known is not None and drive.id in known.lengths


def test_every_sign_of_the_lists_is_in_the_typefaces_that_ship(
    qtbot: QtBot, window: MainWindow
) -> None:
    """On a machine without other typefaces a sign they lack is an empty box, or a dot."""
    room = surveyed_demo(window, wrong=25.4)
    quiet(qtbot, room)
    room.survey.needs_button.click()
    table, needed = room.strip.table, room.needs.list
    items = [table.item(r, c) for r in range(table.rowCount()) for c in range(table.columnCount())]
    texts = [item.text() for item in items if item is not None]
    texts += [i.text() for k in range(needed.count()) if (i := needed.item(k)) is not None]
    texts += [room.survey.said.text(), room.strip.next.text()]
    shipped = [QRawFont.fromFont(face(12)) for face in (words, figures)]
    signs = {sign for text in texts for sign in text if not sign.isspace()}
    lacking = {s for s in signs if not any(font.supportsCharacter(ord(s)) for font in shipped)}
    assert not lacking
