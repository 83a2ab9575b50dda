"""The desk around the front view: ribbon and slider speak of the same results."""

from __future__ import annotations

import contextlib
from pathlib import Path
from typing import Literal

import pytest
from PyQt6.QtCore import QPoint, QRectF, Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QFileDialog,
    QLabel,
    QLineEdit,
    QScrollArea,
    QWidget,
)
from pytestqt.qtbot import QtBot

from driving import figure_text, now, settle, type_into
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.pulleys import set_plane
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    BeltAt,
    BossAt,
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
from jovial_tack.drawing.curves import OVERS
from jovial_tack.drawing.plan import PlanPulley
from jovial_tack.drawing.points import belt_points
from jovial_tack.drawing.shapes import BeltLoop
from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.cards.rows import ChoiceRow, FigureRow
from jovial_tack.ui.front_view.words import LabelItem
from jovial_tack.ui.line_up.plan import PlanView
from jovial_tack.ui.line_up.room import LineUpRoom
from jovial_tack.ui.ratios.room import RatiosRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.widgets.elided import ElidedLabel
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.theme import DAY, NIGHT, style_sheet
from jovial_tack.ui.window.main_window import MainWindow
from jovial_tack.ui.window.rail import StationButton
from jovial_tack.ui.window.verdict_strip import VerdictButton
from support import DEMO, furnished


def test_ribbon_and_front_view_light_and_select_the_same(qtbot: QtBot, window: MainWindow) -> None:
    session, shown = window.session, window.ribbon
    session.select(BeltAt("blower"))
    strip = shown.shown
    assert strip is not None
    block = next(b for b in strip.blocks if b.pulley == "blower")
    x = round(shown.x_of((block.start + block.end) / 2))
    qtbot.mouseMove(shown, QPoint(x, 125))
    assert session.hovered == PulleyAt("blower", "blower")
    assert window.front.drawn["pulley/blower/blower"].hovered  # type: ignore[union-attr]
    qtbot.mouseClick(shown, Qt.MouseButton.LeftButton, pos=QPoint(x, 125))
    assert now(session.selection) == PulleyAt("blower", "blower")
    qtbot.keyClick(shown, Qt.Key.Key_Right)
    assert now(session.selection) == SpanAt("blower", "blower")
    qtbot.keyClick(shown, Qt.Key.Key_Right)
    assert session.selection == PulleyAt("blower", "blower_idler")
    qtbot.mouseMove(window.front.viewport(), window.front.pixel_of_shaft("alternator"))
    assert session.hovered == PulleyAt("accessory", "alternator")


def test_the_ribbon_is_the_belt_unrolled_to_scale(window: MainWindow) -> None:
    window.session.select(BeltAt("accessory"))
    shown, result = window.ribbon.shown, window.session.results.drive("accessory")
    assert shown is not None
    assert shown.length == pytest.approx(result.cord_length_mm)
    assert [b.pulley for b in shown.blocks] == [
        "arm", "steering", "pump", "alternator", "idler", "crank",
    ]  # fmt: skip
    places = [place for place, _ in shown.tension]
    assert places == sorted(places)
    assert shown.tension[0][1] == pytest.approx(shown.tension[-1][1])
    for block in shown.blocks:
        assert block.start <= block.used_from <= block.end


def test_the_slider_sweeps_the_revs_and_everything_follows(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, slider = window.session, window.slider
    session.select(PulleyAt("blower", "blower"))
    at_redline = window.front.drawn["arc/blower/blower"].model
    assert at_redline.role == "arc_stop"
    slider.setFocus()
    qtbot.keyClick(slider, Qt.Key.Key_Home)
    assert session.rpm == session.build.engine.idle_rpm
    assert window.front.drawn["arc/blower/blower"].model.role == "arc_good"
    qtbot.waitUntil(lambda: figure_text(window, "Speed") == "1805 rpm")
    qtbot.keyClick(slider, Qt.Key.Key_End)
    assert session.rpm == 6600
    assert window.front.drawn["arc/blower/blower"].model == at_redline
    slips = [r for r in slider.ranges if r.kind == "stop"]
    assert slips
    assert min(r.low_rpm for r in slips) == pytest.approx(6406.6, abs=0.1)
    assert "Corvane 61 slips" in slider.accessibleDescription()


EVERY_TARGET: tuple[Target, ...] = (
    NOTHING, PulleyAt("accessory", "alternator"), PulleyAt("accessory", "pump"), BeltAt("blower"),
    ArmAt("accessory"), SpanAt("blower", "crank"), ShaftAt("steering"),
)  # fmt: skip


def whole(qtbot: QtBot, window: MainWindow, what: str) -> None:
    """Nothing is cut off, once the words have come to rest."""
    with contextlib.suppress(qtbot.TimeoutError):
        qtbot.waitUntil(lambda: not _cut_off(window), timeout=3000)
    assert _cut_off(window) == [], what


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800)])
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_nothing_is_cut_off(
    window: MainWindow, qtbot: QtBot, size: tuple[int, int], unit: Literal["mm", "in"]
) -> None:
    window.resize(*size)
    window.show_units(unit)
    window.both_action.trigger()
    desk = window.desk
    window.desk.room(RunCheckRoom).open_demo_logs()
    qtbot.waitUntil(lambda: not window.desk.room(RunCheckRoom).logs.busy, timeout=10_000)
    for station in window.station_actions:
        desk.stand_at(station)
        targets = EVERY_TARGET if station in ("lay_out", "grip") else EVERY_TARGET[:2]
        for target in targets:
            window.session.select(target)
            settle(qtbot, window)
            assert (window.width(), window.height()) == size
            whole(qtbot, window, f"{station}, {target}")
    assert window.front.height() >= 180


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_no_aside_is_cut_off_in_a_small_window(
    window: MainWindow, qtbot: QtBot, unit: Literal["mm", "in"]
) -> None:
    """Every card called up at the right, and every page and way of the belt bench."""
    window.resize(1024, 700)
    window.show_units(unit)
    desk, session = window.desk, window.session
    settle(qtbot, window)
    session.select(BeltAt("blower"))
    bench = desk.room(BeltRoom).bench

    desk.stand_at("belt")
    desk.call(desk.room(BeltRoom).bench)
    qtbot.waitUntil(lambda: desk.room(BeltRoom).along.choice is not None, timeout=10_000)
    for place, page in enumerate(bench.pages):
        bench.show_page(place)
        whole(qtbot, window, page.name)
    bench.show_page(1)
    for way in range(bench.measure.way.count()):
        bench.measure.way.setCurrentIndex(way)
        bench.measure.choose_way()
        whole(qtbot, window, bench.measure.way.currentText())
    desk.stand_at("ratios")
    session.select(ShaftAt("steering"))  # for what is asked of an accessory
    for card in (*(aside.card for room in desk.rooms for aside in room.asides), desk.about):
        if not card.isVisible():
            desk.call(card)
        assert card.isVisible()
        whole(qtbot, window, card.title.text())
    session.select(NOTHING)
    desk.call(desk.room(RatiosRoom).boost)
    qtbot.waitUntil(lambda: bool(desk.room(RatiosRoom).boost.pairs), timeout=15_000)
    whole(qtbot, window, "pulleys for a boost")


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_no_card_is_wider_than_its_place(
    window: MainWindow, qtbot: QtBot, unit: Literal["mm", "in"]
) -> None:
    session = window.session
    session.new(furnished())
    window.show_units(unit)
    build = session.build
    parts: list[Target] = [PartAt(part.id) for part in build.shelf]
    shafts: list[Target] = [ShaftAt(shaft.id) for shaft in build.shafts]
    others: list[Target] = [
        BracketAt(build.brackets[0].id), PlateAt("plate"), CutAt("plate", "arc"),
        BossAt("boss 4"), NoteAt(build.pinned_notes[0].id),
        ObstacleAt(build.obstacles[-1].id), ArmAt("blower"), BeltAt("blower"),
    ]  # fmt: skip
    for target in parts + shafts + others:
        session.select(target)
        qtbot.waitUntil(lambda: not [w for w in _cut_off(window) if "wider" in w], timeout=1000)


def _cut_off(window: MainWindow) -> list[str]:
    """Parts that reach out of the window, and words without the room they want across and down."""
    desk, found = window.desk, []
    for widget in desk.findChildren(QWidget):
        if widget.isVisible() and widget.parent() is desk:
            corner = widget.mapTo(window, QPoint(widget.width(), widget.height()))
            if corner.x() > window.width() or corner.y() > window.height():
                found.append(f"{widget.objectName()} out of the window")
    for area in desk.findChildren(QScrollArea):
        inside, viewport = area.widget(), area.viewport()
        if area.isVisible() and inside and viewport and inside.width() > viewport.width():
            found.append(
                f"{area.accessibleName()} wider than its place by {inside.width()} > {viewport.width()}"
            )
    for kind in (QLabel, QAbstractButton, QLineEdit, QComboBox):
        for widget in desk.findChildren(kind):
            if widget.isVisible() and not _is_whole(widget):
                found.append(getattr(widget, "text", widget.accessibleName)())
    return found


def _is_whole(widget: QWidget) -> bool:
    holder = widget.parentWidget()
    assert holder is not None
    if isinstance(widget, ElidedLabel | VerdictButton | StationButton):
        return True  # these end in an ellipsis by themselves
    if widget.x() + widget.width() > holder.width() + 1:
        return False
    if isinstance(widget, QuantityField):
        return widget.fontMetrics().horizontalAdvance(widget.text()) <= widget.width() - 16
    if isinstance(widget, QLabel) and widget.wordWrap():
        return widget.height() >= widget.heightForWidth(widget.width()) - 1
    return isinstance(widget, QComboBox) or widget.width() >= widget.minimumSizeHint().width()


def test_labels_keep_off_belts_and_each_other(window: MainWindow) -> None:
    for size in ((1280, 800), (1024, 700)):
        window.resize(*size)
        QApplication.processEvents()
        window.front.arrange_labels()
        labels = [i for i in window.front.drawn.values() if isinstance(i, LabelItem)]
        boxes = [
            window.front.mapFromScene(i.pos()).toPointF() + i.words_box().topLeft() for i in labels
        ]
        rects = [QRectF(at, i.words_box().size()) for at, i in zip(boxes, labels, strict=True)]
        for k, one in enumerate(rects):
            assert window.front.viewport().rect().contains(one.toAlignedRect())  # type: ignore[union-attr]
            for other in rects[k + 1 :]:
                assert not one.adjusted(2, 2, -2, -2).intersects(other)
        belts = [i for i in window.front.drawn.values() if isinstance(i.model, BeltLoop)]
        points = [p for i in belts for p in belt_points(i.model, 2.0)]  # type: ignore[arg-type]
        for x, y in map(window.front.pixel_at, points):
            assert not any(rect.adjusted(3, 3, -3, -3).contains(x, y) for rect in rects)


def test_the_card_shows_whatever_is_selected_and_leads_on(qtbot: QtBot, window: MainWindow) -> None:
    session, card = window.session, window.cards.card
    titles = {}
    for target in EVERY_TARGET:
        session.select(target)
        titles[target] = card.title.text()
        assert len(card.rows) >= 4
    assert titles[ArmAt("accessory")] == "Arm of Accessory drive"
    assert titles[SpanAt("blower", "crank")] == "Crank to Blower arm"
    session.select(ArmAt("blower"))
    type_into(qtbot, window.cards.field("Torque"), "30 lbf·ft")
    arm = session.build.drive("blower").tensioner
    assert arm is not None
    assert arm.torque_nm == pytest.approx(40.674, abs=1e-3)  # type: ignore[union-attr]
    assert session.history.undo_label == "spring torque of Blower drive"
    type_into(qtbot, window.cards.field("Window, low"), "24,5")
    assert session.build.drive("blower").tensioner.window_deg[0] == 24.5  # type: ignore[union-attr, index]
    type_into(qtbot, window.cards.field("Damping"), "120")
    assert card.row("Damping").reason.text().startswith("This needs")
    button = next(b for b in card.ways.buttons if b.text() == "Pulley")
    button.click()
    assert session.selection == PulleyAt("blower", "blower_arm")
    session.select(ShaftAt("blower"))
    type_into(qtbot, window.cards.field("Most speed"), "15000")
    assert session.build.shaft("blower").max_rpm == 15000
    session.select(NOTHING)
    type_into(qtbot, window.cards.field("Redline"), "500")
    assert "rising order" in card.row("Redline").reason.text()


def test_lines_that_were_not_there_when_pinned_are_not_compared(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, card = window.session, window.cards.card
    session.pin_baseline()
    outline = session.build.obstacles[0].id
    session.select(ObstacleAt(outline))
    card.act("Add a corner").click()
    session.select(ShaftAt("alternator"))
    row = card.line("Freedom")
    assert isinstance(row, ChoiceRow)
    row.choose("holes")
    qtbot.waitUntil(lambda: "Hole 2 x" in card.rows)
    card.act("Add a hole").click()
    qtbot.waitUntil(lambda: "Hole 3 x" in card.rows)


def test_figures_are_told_against_a_pinned_state(qtbot: QtBot, window: MainWindow) -> None:
    session = window.session
    session.select(BeltAt("blower"))
    session.pin_baseline()
    card = window.cards.card
    asides = {r.aside.text() for r in card.rows.values() if isinstance(r, FigureRow)}
    assert asides <= {"=", ""}
    before = session.results.drive("blower").grip
    type_into(qtbot, window.cards.field("Belt length"), "1180")
    settle(qtbot, window)
    after = session.results.drive("blower").grip
    assert before is not None
    assert after is not None
    assert before.capacity_factor is not None
    assert after.capacity_factor is not None
    moved = 100 * (after.capacity_factor - before.capacity_factor)
    qtbot.waitUntil(lambda: card.row("Reserve").aside.text() == f"Δ {moved:+.0f} %")
    assert card.row("Belt length").aside.text().startswith("Δ -")
    assert "baseline/blower" in window.front.drawn
    window.undo_action.trigger()
    settle(qtbot, window)
    qtbot.waitUntil(lambda: card.row("Reserve").aside.text() == "=")
    assert "baseline/blower" not in window.front.drawn
    session.drop_baseline()
    assert card.row("Reserve").aside.text() == "of all loads"


def test_plots_show_the_results_and_are_written(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    session, revs = window.session, window.revs
    window.desk.stand_at("grip")
    session.select(PulleyAt("blower", "blower"))
    settle(qtbot, window)
    result = session.results.drive("blower")
    for over in OVERS:
        revs.show_over(over)
        shown = revs.shown
        assert shown is not None
        assert shown.curves
        assert shown.curves[0].rpm == result.rpm
    session.edit("unknown", set_shaft(session.build, "blower", load=None))
    revs.show_over("boost")
    assert revs.shown is not None and not revs.shown.curves
    assert revs.readout.text().startswith("no value: no blower")
    session.undo()
    settle(qtbot, window)
    revs.show_over("speed")
    assert revs.readout.text() == "6600 rpm: Corvane 61 14017 rpm"
    revs.reading.point(3000.0)
    assert revs.readout.text().startswith("3000 rpm: Corvane 61 6371")
    revs.show_over("arc used")
    revs.reading.point(6600.0)
    assert revs.readout.text() == "6600 rpm: Corvane 61 105 % of wrap, arm weak"
    for suffix, start in ((".csv", b"engine speed"), (".svg", b"<?xml"), (".png", b"\x89PNG")):
        path = tmp_path / f"plot{suffix}"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, p=path: (str(p), ""))
        revs.export_button.click()
        assert path.read_bytes().startswith(start)
    session.edit("bare", changed(session.build, drives=None))
    revs.export()  # before the plot has followed: what is still drawn is written
    session.undo()
    table = (tmp_path / "plot.csv").read_text().splitlines()
    assert len(table) == 1 + len(result.rpm)
    last = float(table[-1].split(",")[1])
    blower = result.pulley("blower")
    assert blower is not None
    assert blower.low_arc_used[-1] is not None
    heads = table[0].split(",")
    place = heads.index("Corvane 61 [% of wrap]")
    assert float(table[-1].split(",")[place]) == pytest.approx(
        100 * blower.low_arc_used[-1], rel=1e-4
    )
    assert last > 0


def test_plan_view_drags_a_pulley_into_line(qtbot: QtBot, window: MainWindow) -> None:
    session, plan = window.session, window.desk.room(LineUpRoom).plan
    window.strip.buttons[3].click()  # Lines up leads here
    assert window.desk.station == "line_up"
    assert session.selection == PulleyAt("accessory", "alternator")
    shown = plan.shown
    assert shown is not None
    bar = next(p for p in shown.pulleys if p.pulley == "alternator")
    assert bar.spacer_mm == pytest.approx(-1.64, abs=0.01)
    assert max(s.angle_deg or 0 for s in shown.spans) == pytest.approx(0.47, abs=0.01)
    plane = session.build.drive("accessory").pulley("alternator").plane_mm
    start = plan.point_of("alternator").toPoint()
    end = start - QPoint(0, round(1.64 / plan.z_per_px()))
    qtbot.mousePress(plan, Qt.MouseButton.LeftButton, pos=start)
    for step in range(1, 6):
        qtbot.mouseMove(plan, start + (end - start) * step / 5)
        QApplication.processEvents()
    qtbot.mouseRelease(plan, Qt.MouseButton.LeftButton, pos=end)
    settle(qtbot, window)
    assert session.build.drive("accessory").pulley("alternator").plane_mm < plane - 1  # type: ignore[operator]
    assert session.history.undo_label == "plane of Alternator"
    assert window.strip.buttons[3].verdict.mark == "good"
    window.undo_action.trigger()
    plan.setFocus()
    qtbot.keyClick(plan, Qt.Key.Key_Up)
    moved = session.build.drive("accessory").pulley("alternator").plane_mm
    assert plane is not None and moved == pytest.approx(plane - 0.1)
    session.edit("forget", set_plane(session.build, "accessory", "alternator", None))
    settle(qtbot, window)
    qtbot.waitUntil(lambda: not bar_of(plan, "alternator").known)
    assert plan.shown is not None
    assert {s.angle_deg for s in plan.shown.spans if s.leaves == "alternator"} == {None}


def bar_of(plan: PlanView, name: str) -> PlanPulley:
    assert plan.shown is not None
    return next(bar for bar in plan.shown.pulleys if bar.pulley == name)


def test_run_check_from_the_demo_logs_to_the_friction(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    bench, panel = window.desk.room(RunCheckRoom).logs, window.desk.room(RunCheckRoom).panel
    window.desk.room(RunCheckRoom).open_demo_logs()
    qtbot.waitUntil(lambda: all(log and log.checked for log in bench.logs), timeout=10_000)
    qtbot.waitUntil(lambda: window.desk.rail.buttons["run_check"].mark == "watch")
    assert panel.answer.message.text() == "Slips (likely)"  # never more by boost alone
    assert panel.other_answer.message.text() == "No slip found (likely)"
    figures = {word.text(): figure.text() for word, figure in panel.answer.lines}
    assert figures["Friction that explains it"].startswith("0.4")
    assert figures["Not a throttle that closes"] == "by the log"
    panel.friction_button.click()
    belt = window.session.build.drive("blower").belt
    assert f"{belt.friction_ribs:.2f}" in figures["Friction that explains it"]
    assert window.session.history.undo_label == "friction by tessary-fen-slipping.csv"
    window.session.undo()
    qtbot.waitUntil(lambda: all(log and log.checked for log in bench.logs), timeout=10_000)
    plot = window.desk.room(RunCheckRoom).plot
    plot.reading.point(6500.0)
    assert "behind" in plot.readout.text()
    assert "tessary-fen-mended +" in plot.readout.text()
    path = tmp_path / "pull.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    plot.export_button.click()
    assert path.read_text().startswith("engine speed [rpm],boost [kPa],expected")

    combo = panel.columns.columns["boost"]  # a wrong column: no answer, and why
    combo.setCurrentIndex(2)
    combo.activated.emit(2)
    qtbot.waitUntil(lambda: not bench.busy, timeout=10_000)
    assert panel.answer.message.text() == "No pull to judge"
    bench.take_away(1)
    assert bench.logs[1] is None
    broken = tmp_path / "broken.csv"
    broken.write_text("no log at all")
    window.desk.room(RunCheckRoom).load_log(broken)
    assert "rows of figures" in panel.answer.reason.text()
    assert bench.logs[0] is not None  # the one before stays


def test_a_changed_build_changes_the_friction_told(qtbot: QtBot, window: MainWindow) -> None:
    bench = window.desk.room(RunCheckRoom).logs
    window.desk.room(RunCheckRoom).load_log(DEMO.with_name("tessary-fen-slipping.csv"))
    qtbot.waitUntil(lambda: bench.logs[0] is not None and bench.logs[0].pull is not None)
    first = bench.logs[0].pull.friction_ribs  # type: ignore[union-attr]
    window.session.edit("spring", set_arm(window.session.build, "blower", torque_nm=50.0))
    qtbot.waitUntil(
        lambda: (
            bench.logs[0].pull is not None  # type: ignore[union-attr]
            and bench.logs[0].pull.friction_ribs != first  # type: ignore[union-attr]
        ),
        timeout=10_000,
    )
    assert bench.logs[0].pull.friction_ribs < first  # type: ignore[union-attr,operator]


def test_what_was_out_of_sight_wears_the_theme_when_it_comes_in_sight(window: MainWindow) -> None:
    desk = window.desk
    rooms = [room for room in desk.rooms if room.station is not None]
    cards = [aside.card for room in desk.rooms for aside in room.asides]
    for theme in (NIGHT, DAY, NIGHT):
        desk.stand_at("lay_out")
        window.set_theme(theme)
        worn = style_sheet(theme)
        for room in rooms:
            assert room.station is not None
            desk.stand_at(room.station.key)
            parts = [room.tray or desk.ribbon, room.page or desk.cards, desk.front, desk.rail]
            assert {part.styleSheet() for part in parts if part.isVisible()} == {worn}
        window.session.select(ShaftAt("steering"))
        for card in cards:
            desk.call(card)
            assert card.isVisible() and card.styleSheet() == worn, card.title.text()
