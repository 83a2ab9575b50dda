"""From an empty engine to a threaded belt with an arm: by pointer and keys, and by keys alone."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from driving import now, settle, started, type_into
from jovial_tack.answers.results import ArmResult
from jovial_tack.core.drive.arm import SpringArm
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.obstacles import add_obstacle
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.model.build import MOST_VARIANTS
from jovial_tack.document.targets import (
    NOTHING,
    BeltAt,
    CornerAt,
    ObstacleAt,
    PulleyAt,
    ShaftAt,
    SpanAt,
    Target,
)
from jovial_tack.ui.cards.rows import ChoiceRow
from jovial_tack.ui.front_view.paper import foot_boxes
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.lay_out.room import LayOutRoom
from jovial_tack.ui.window.main_window import MainWindow
from plain import plain_of
from support import solvable

LEFT, SHIFT, NONE = (
    Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.NoModifier,
)  # fmt: skip
PLACES = {
    "power_steering": (-185.0, 190.0),
    "water_pump": (0.0, 150.0),
    "alternator": (215.0, 265.0),
    "idler": (-165.0, 60.0),
}


@pytest.fixture
def empty(qtbot: QtBot) -> Iterator[MainWindow]:
    window = started(qtbot)
    yield window
    window.leave()


def check_drive(window: MainWindow) -> None:
    """The drive laid out is the one meant, and its figures are those of the plain solver."""
    session = window.session
    (drive,) = session.build.drives
    kinds = {p.id: session.build.shaft(p.shaft).kind for p in drive.pulleys}
    start = [kinds[name] for name in drive.route].index("crank")
    route = [kinds[name] for name in drive.route[start:] + drive.route[:start]]
    assert route == ["crank", "tensioner", "power_steering", "water_pump", "alternator"]
    sides = {kinds[p.id]: p.side for p in drive.pulleys}
    assert {kind for kind, side in sides.items() if side == "back"} == {"water_pump"}
    result = session.results.drive(drive.id)
    assert result.exists
    arm = result.tensioner
    assert isinstance(arm, ArmResult)
    assert arm.window_fraction is not None
    assert 0.1 < arm.window_fraction < 0.9
    case = solvable(session.build)
    assert case.drive is not None
    assert isinstance(case.drive.adjuster, SpringArm)
    plain = plain_of(case.drive)
    angle, tractions, _ = plain.solve([0.0] * 5, 0.0)
    assert np.degrees(angle) == pytest.approx(arm.arm_angle_deg, abs=1e-6)
    assert plain.total(angle) == pytest.approx(result.cord_length_mm, abs=1e-6)
    assert tractions[0] == pytest.approx(arm.tension_n, rel=1e-6)
    assert [f.code for f in result.findings if f.level == "stop"] == []


def drag(
    window: MainWindow, start: QPoint, end: QPoint, modifiers: Qt.KeyboardModifier = NONE
) -> None:
    viewport = window.front.viewport()
    QTest.mousePress(viewport, LEFT, modifiers, start)
    for step in range(1, 7):
        QTest.mouseMove(viewport, start + (end - start) * step / 6)
        QApplication.processEvents()
    QTest.mouseRelease(viewport, LEFT, modifiers, end)
    QApplication.processEvents()


def pixel(window: MainWindow, x: float, y: float) -> QPoint:
    return window.front.mapFromScene(scene_point((x, y)))


def middle_of(window: MainWindow, start: str, end: str) -> QPoint:
    """The middle of the span between two kinds of shaft."""
    session = window.session
    (drive,) = session.build.drives
    kinds = {p.id: session.build.shaft(p.shaft).kind for p in drive.pulleys}
    for span in session.results.drive(drive.id).spans:
        if (kinds[span.from_id], kinds[span.to_id]) == (start, end):
            x, y = np.mean([span.start_mm, span.end_mm], axis=0)
            return pixel(window, float(x), float(y))
    raise AssertionError(f"no span from {start} to {end}")


@pytest.mark.parametrize("", [pytest.param(), pytest.param(marks=pytest.mark.screen)])
def test_with_pointer_and_keys(qtbot: QtBot, empty: MainWindow) -> None:
    window, session, front = empty, empty.session, empty.front
    front.zoom(0.55)
    for kind, (x, y) in PLACES.items():
        QTest.mouseDClick(front.viewport(), LEFT, NONE, pixel(window, x, y))
        assert isinstance(session.selection, ShaftAt)
        if kind != "idler":
            row = window.cards.card.line("Kind")
            assert isinstance(row, ChoiceRow)
            row.choose(kind)
        type_into(qtbot, window.cards.field("Place x"), f"{x}")
        type_into(qtbot, window.cards.field("Place y"), f"{y} mm")
    front.fit()
    assert session.build.drives == ()
    drag(window, pixel(window, 0, 0), pixel(window, *PLACES["power_steering"]), SHIFT)
    assert isinstance(session.selection, BeltAt)
    assert session.history.undo_label == "new belt to Idler"

    # the span back to the crank goes over the alternator, on its upper right
    x, y = PLACES["alternator"]
    drag(window, middle_of(window, "power_steering", "crank"), pixel(window, x + 12, y + 12))
    x, y = PLACES["idler"]
    drag(window, middle_of(window, "crank", "power_steering"), pixel(window, x - 14, y))
    # pulled under the water pump the belt runs on its back
    x, y = PLACES["water_pump"]
    start = middle_of(window, "power_steering", "alternator")
    viewport = front.viewport()
    QTest.mousePress(viewport, LEFT, NONE, start)
    QTest.mouseMove(viewport, start + QPoint(0, 12))
    QTest.mouseMove(viewport, pixel(window, x, y + 15))
    QApplication.processEvents()
    over = now(session.build.drives)[0].pulleys[-1]
    assert over.side == "ribs"  # above the pump, while it is pulled
    QTest.mouseMove(viewport, pixel(window, x, y - 15))
    QApplication.processEvents()
    assert now(session.build.drives)[0].pulleys[-1].side == "back"
    assert len(session.history.build.drives[0].pulleys) == 4  # nothing is done before it is let go
    QTest.mouseRelease(viewport, LEFT, NONE, pixel(window, x, y - 15))
    assert isinstance(session.selection, PulleyAt)
    drive = now(session.build.drives)[0]
    session.select(BeltAt(drive.id))
    row = window.cards.card.line("Tension by")
    assert isinstance(row, ChoiceRow)
    kinds = {session.build.shaft(p.shaft).kind: p.id for p in drive.pulleys}
    row.choose(f"arm {kinds['idler']}")
    settle(qtbot, window)
    check_drive(window)
    while session.history.undo_label:
        window.undo_action.trigger()
    assert session.build.drives == ()
    assert len(session.build.shafts) == 1


def tab_to(window: MainWindow, wanted: str) -> QPushButton | QLineEdit | QComboBox:
    """Press Tab until the focus is on the button, field or choice of a name."""
    for _ in range(120):
        now = QApplication.focusWidget()
        assert now is not None
        named = now.text() if isinstance(now, QPushButton) else now.accessibleName()
        if named == wanted and isinstance(now, QPushButton | QLineEdit | QComboBox):
            return now
        QTest.keyClick(now, Qt.Key.Key_Tab)
    raise AssertionError(f"Tab does not reach {wanted}")


def press(window: MainWindow, wanted: str) -> None:
    QTest.keyClick(tab_to(window, wanted), Qt.Key.Key_Space)
    QApplication.processEvents()


def enter(window: MainWindow, wanted: str, text: str) -> None:
    field = tab_to(window, wanted)
    QTest.keyClick(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def page_to(window: MainWindow, target: Target) -> None:
    """Press Page Down until something is selected."""
    for _ in range(60):
        if window.session.selection == target:
            return
        QTest.keyClick(window.front, Qt.Key.Key_PageDown)
    raise AssertionError(f"Page Down does not reach {target}")


def test_by_keys_alone(qtbot: QtBot, empty: MainWindow) -> None:
    window, session = empty, empty.session
    names = {
        "power_steering": "+ Steering pump", "water_pump": "+ Water pump",
        "alternator": "+ Alternator", "idler": "+ Idler",
    }  # fmt: skip
    for kind, (x, y) in PLACES.items():
        QTest.keySequence(window, "Ctrl+Shift+A")  # select nothing
        press(window, names[kind])
        assert session.build.shafts[-1].kind == kind
        enter(window, "Place of the shaft, to the right", f"{x}")
        enter(window, "Place of the shaft, upward", f"{y}")
    window.front.setFocus()
    order = ("power_steering", "alternator", "idler", "water_pump")
    for kind in order:
        page_to(window, ShaftAt(kind))
        if kind == "power_steering":
            press(window, "New belt to the crank")
        else:
            label = session.build.drives[0].label
            press(window, f"{label}: lay its {'back' if kind == 'water_pump' else 'ribs'} on it")
            assert isinstance(session.selection, PulleyAt)
        window.front.setFocus()
    page_to(window, BeltAt(session.build.drives[0].id))
    for _ in range(8):
        combo = tab_to(window, "What makes the tension")
        assert isinstance(combo, QComboBox)
        if combo.currentText() == "spring arm: Idler":
            break
        QTest.keyClick(combo, Qt.Key.Key_Down)
        QApplication.processEvents()
    settle(qtbot, window)
    check_drive(window)


def test_a_pull_that_ends_nowhere_changes_nothing(qtbot: QtBot, window: MainWindow) -> None:
    session = window.session
    build = session.build
    line = window.front.drawn["span/accessory/idler"].model
    (x0, y0), (x1, y1) = line.points  # type: ignore[attr-defined]
    start = pixel(window, (x0 + x1) / 2, (y0 + y1) / 2)
    drag(window, start, start + QPoint(120, 60))
    assert session.build is build
    assert session.history.undo_label is None
    QTest.mousePress(window.front.viewport(), LEFT, NONE, start)
    QTest.mouseMove(window.front.viewport(), start + QPoint(30, 30))
    QTest.keyClick(window.front, Qt.Key.Key_Escape)
    QTest.mouseRelease(window.front.viewport(), LEFT, NONE, start + QPoint(30, 30))
    assert session.build is build


def test_delete_takes_off_and_away(qtbot: QtBot, window: MainWindow) -> None:
    session, front = window.session, window.front
    session.select(PulleyAt("accessory", "arm"))
    QTest.keyClick(front, Qt.Key.Key_Delete)
    drive = session.build.drive("accessory")
    assert "arm" not in drive.route
    assert drive.tensioner is None
    assert session.selection == ShaftAt("arm")
    QTest.keyClick(front, Qt.Key.Key_Delete)
    assert "arm" not in {s.id for s in session.build.shafts}
    session.select(ShaftAt("crank"))
    QTest.keyClick(front, Qt.Key.Key_Delete)
    assert any(s.id == "crank" for s in session.build.shafts)
    session.select(BeltAt("blower"))
    QTest.keyClick(front, Qt.Key.Key_Delete)
    assert [d.id for d in session.build.drives] == ["accessory"]
    for _ in range(3):
        window.undo_action.trigger()
    assert session.build.drive("accessory").tensioner is not None
    assert QPointF(front.pixel_of_shaft("arm")).x() > 0


def test_something_in_the_way_is_drawn_dragged_and_judged(qtbot: QtBot, window: MainWindow) -> None:
    session, front = window.session, window.front
    session.select(NOTHING)
    window.cards.card.act("+ Something in the way").click()
    assert session.selection == ObstacleAt("other")
    assert len(front.drawn["obstacle/other"].model.points) == 4  # type: ignore[attr-defined]
    row = window.cards.card.line("Kind")
    assert isinstance(row, ChoiceRow)
    row.choose("water_neck")
    blower = session.results.drive("blower")
    span = next(s for s in blower.spans if s.from_id == "blower_idler")
    x, y = (float(v) for v in np.mean([span.start_mm, span.end_mm], axis=0))
    middle = np.mean(session.build.obstacle("other").outline_mm, axis=0)
    start = pixel(window, *map(float, middle))
    drag(window, start, pixel(window, x + 20, y))
    settle(qtbot, window)
    assert window.strip.buttons[0].verdict.mark == "stop"
    assert "into Obstacle" in window.strip.buttons[0].verdict.sentence
    assert session.history.undo_label == "move Obstacle"
    corner = session.build.obstacle("other").outline_mm[0]
    drag(window, pixel(window, *corner), pixel(window, corner[0] + 30, corner[1] - 10))
    after = session.build.obstacle("other").outline_mm
    assert after[0] == pytest.approx((corner[0] + 30, corner[1] - 10), abs=2)
    assert len(set(after)) == 4
    qtbot.waitUntil(lambda: session.selection == ObstacleAt("other"))
    front.setFocus()
    for _ in range(30):
        QTest.keyClick(front, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    settle(qtbot, window)
    assert window.strip.buttons[0].verdict.mark != "stop"
    type_into(qtbot, window.cards.field("Depth from"), "0")
    type_into(qtbot, window.cards.field("Depth to"), "1 1/2 in")
    assert session.build.obstacle("other").z_mm == pytest.approx((0, 38.1))
    QTest.keyClick(front, Qt.Key.Key_Delete)
    assert session.build.obstacles == window.session.history.steps[0].build.obstacles


def test_variants_side_by_side(qtbot: QtBot, window: MainWindow) -> None:
    session, card = window.session, window.desk.room(LayOutRoom).variants
    window.desk.call(window.desk.room(LayOutRoom).variants)
    card.name.setFocus()
    QTest.keyClicks(card.name, "as shipped")
    QTest.keyClick(card.name, Qt.Key.Key_Return)
    assert [v.name for v in session.build.variants] == ["as shipped"]
    session.edit("belt", set_belt_length(session.build, "blower", 1180.0))
    settle(qtbot, window)
    qtbot.waitUntil(lambda: not card.busy and len(card.compared) == 2)
    now, shipped = card.compared
    qtbot.waitUntil(lambda: card.compared[0].verdicts[2].mark == "watch")
    now = card.compared[0]
    assert shipped.verdicts[2].mark == "stop"
    assert now.reserve is not None
    assert shipped.reserve is not None
    assert now.reserve > shipped.reserve + 0.2
    take = next(
        b for b in card.findChildren(QPushButton) if b.accessibleName() == "Take as shipped"
    )
    QTest.mouseClick(take, LEFT)
    assert session.build.drive("blower").belt.effective_length_mm == 1195.0
    assert [v.name for v in session.build.variants] == ["as shipped", "before as shipped"]
    window.undo_action.trigger()
    assert session.build.drive("blower").belt.effective_length_mm == 1180.0
    for number in range(MOST_VARIANTS):
        card.name.setText(f"kept {number}")
        card.keep()
    assert len(session.build.variants) == MOST_VARIANTS
    assert window.notice.text.text().startswith("This cannot be done: it needs room for one more")
    assert card.name.text() == f"kept {MOST_VARIANTS - 1}"  # what was typed stays


def test_spans_and_corners_are_grabbed_where_they_now_are(window: MainWindow) -> None:
    session, front = window.session, window.front
    before = [span.start_mm for span in session.results.drive("accessory").spans]
    session.edit("move", move_shaft(session.build, "alternator", 262.0, 205.0))
    drive = session.results.drive("accessory")
    moved = [s for s, then in zip(drive.spans, before, strict=True) if s.start_mm != then]
    assert len(moved) >= 2
    for span in moved:
        share = 0.35  # along each there is a place where no other drive crosses
        x, y = (a + share * (b - a) for a, b in zip(span.start_mm, span.end_mm, strict=True))
        assert SpanAt("accessory", span.from_id) in front.targets_at(pixel(window, x, y))
    hood = session.build.obstacles[0]
    corner = front.drawn[f"obstacle/{hood.id}/1"]
    assert corner.flags() & corner.GraphicsItemFlag.ItemHasNoContents
    session.hover(ObstacleAt(hood.id))
    assert not corner.flags() & corner.GraphicsItemFlag.ItemHasNoContents
    assert CornerAt(hood.id, 1) in front.targets_at(pixel(window, *hood.outline_mm[1]))


def test_what_is_put_on_does_not_lie_under_the_words_at_the_foot(window: MainWindow) -> None:
    session, front = window.session, window.front
    window.resize(1024, 700)
    QApplication.processEvents()
    build, name = add_obstacle(session.build, session.catalogue, "water_neck")
    session.edit("put it on", build)
    viewport = front.viewport()
    assert viewport is not None
    words = foot_boxes((viewport.width(), viewport.height()))
    for corner in session.build.obstacle(name).outline_mm:
        at = pixel(window, *corner)
        assert viewport.rect().contains(at) and not any(box.contains(at) for box in words)
