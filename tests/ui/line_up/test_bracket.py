"""A bracket plate, driven: from bosses to a file for the cutter, by pointer and by keys, in inches."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from driving import action, now, settle, type_into
from jovial_tack.document.edits.freedoms import set_mount
from jovial_tack.document.edits.shafts import add_shaft
from jovial_tack.document.model import ArcCut, HoleCut
from jovial_tack.document.targets import NOTHING, BossAt, CutAt, PlateAt, ShaftAt
from jovial_tack.drawing.shapes import Circle
from jovial_tack.ui.line_up.room import LineUpRoom
from jovial_tack.ui.window.main_window import MainWindow

LEFT = Qt.MouseButton.LeftButton


def pixel(window: MainWindow, x: float, y: float) -> QPoint:
    at = window.front.pixel_at((x, y))
    return QPoint(round(at[0]), round(at[1]))


def drag(window: MainWindow, start: QPoint, end: QPoint) -> None:
    viewport = window.front.viewport()
    QTest.mousePress(viewport, LEFT, pos=start)
    for step in range(1, 9):
        QTest.mouseMove(viewport, start + (end - start) * step / 8)
    QTest.mouseRelease(viewport, LEFT, pos=end)


def second_alternator(window: MainWindow) -> str:
    session = window.session
    build, shaft = add_shaft(session.build, "alternator", session.catalogue, (-300.0, -20.0))
    session.edit("alternator", set_mount(build, shaft, "swing"))
    session.select(NOTHING)
    return shaft


def test_from_bosses_to_the_cutter_by_keys(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Bosses put and typed, a plate proposed, a hole typed, its file written; each step undone."""
    session, room = window.session, window.desk.room(LineUpRoom)
    window.desk.stand_at("line_up")
    shaft = second_alternator(window)
    for x, y in ((-340.0, -110.0), (-250.0, -120.0)):
        action(window, "Boss of the engine").trigger()
        card = window.cards.card
        assert isinstance(session.selection, BossAt)
        for name, mm in (("Right", x), ("Up", y)):
            type_into(qtbot, card.row(name).field, f"{mm} mm")  # type: ignore[arg-type]
    assert [boss.at_mm for boss in session.build.bosses[-2:]] == [(-340, -110), (-250, -120)]
    action(window, "Propose a bracket plate").trigger()
    assert len(session.build.plates) == 1 and "Select" in window.hint.text()
    session.select(ShaftAt(shaft))
    action(window, "Propose a bracket plate").trigger()
    settle(qtbot, window)
    assert isinstance(session.selection, PlateAt)
    plate = session.build.plates[-1]
    assert [type(cut).__name__ for cut in plate.features] == ["HoleCut"] * 3 + ["ArcCut"]
    told = session.results.plate(plate.id)
    assert told is not None and not told.findings and told.pieces == 1
    # Page Down goes on to what is cut; arrows nudge it; Delete fills it, undo brings it back
    qtbot.keyClick(window.front, Qt.Key.Key_PageDown)
    assert now(session.selection) == CutAt(plate.id, "hole")
    qtbot.keyClick(window.front, Qt.Key.Key_Right)
    cut = session.build.plates[-1].features[0]
    assert isinstance(cut, HoleCut) and cut.at_mm == (-339.0, -110.0)
    settle(qtbot, window)
    found = now(session.results.plate(plate.id))
    assert found is not None and [f.code for f in found.findings] == ["hole_off"]
    assert room.mark in ("watch", "stop")
    qtbot.keyClick(window.front, Qt.Key.Key_Delete)
    assert len(session.build.plates[-1].features) == 3
    session.undo()
    session.undo()
    settle(qtbot, window)
    action(window, "Plate on paper and for the cutter").trigger()
    assert room.paper.isVisible() and room.paper.plate == session.build.plates[-1]
    for kind, begins in (("dxf", b"  0"), ("svg", b"<?xml"), ("pdf", b"%PDF")):
        target = tmp_path / f"plate.{kind}"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, t=target: (str(t), ""))
        button = room.paper.buttons[kind]
        button.setFocus()
        qtbot.keyClick(button, Qt.Key.Key_Space)
        assert target.read_bytes().startswith(begins) and target.name in room.paper.done.text()
    assert "both scales" in room.paper.done.text()


def test_what_is_cut_is_dragged_snaps_and_is_put_in_by_two_clicks(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, front = window.session, window.front
    window.desk.stand_at("line_up")
    session.select(PlateAt("plate"))
    settle(qtbot, window)
    near = pixel(window, 220.0, 20.0)
    front.zoom(5.0, QPointF(near))
    start = session.build
    low = session.build.plates[0].feature("low")
    assert isinstance(low, HoleCut)
    drag(window, pixel(window, *low.at_mm), pixel(window, 170.0, 12.0))
    moved = now(session.build).plates[0].feature("low")
    assert isinstance(moved, HoleCut) and moved.meant is None  # it is over no boss any more
    assert abs(complex(*moved.at_mm) - complex(170, 12)) < 3.0
    assert session.selection == CutAt("plate", "low") and session.build.find_boss("boss 4")
    # back near its boss it falls onto it, and is for it again
    close = QPoint(4, -3) + pixel(window, 186.0, -4.0)
    drag(window, pixel(window, *moved.at_mm), close)
    again = session.build.plates[0].feature("low")
    assert again == low
    session.undo()
    session.undo()
    assert session.build == start
    # a boss takes its hole along
    session.select(BossAt("boss 4"))
    drag(window, pixel(window, 186.0, -4.0), pixel(window, 180.0, -16.0))
    boss, cut = session.build.find_boss("boss 4"), session.build.plates[0].feature("low")
    assert boss is not None and isinstance(cut, HoleCut) and cut.at_mm == boss.at_mm != (186, -4)
    session.undo()
    # two clicks on bare metal make a hole there
    session.select(PlateAt("plate"))
    place = pixel(window, 251.0, 38.0)
    assert front.targets_at(place)[0] == PlateAt("plate")
    QTest.mouseDClick(front.viewport(), LEFT, pos=place)
    assert len(session.build.plates[0].features) == 4
    assert isinstance(session.selection, CutAt)


def test_webs_are_put_in_and_taken_out_and_ends_of_arcs_dragged(
    qtbot: QtBot, window: MainWindow
) -> None:
    session, front = window.session, window.front
    window.desk.stand_at("line_up")
    session.select(CutAt("plate", "stud"))
    settle(qtbot, window)
    webs = session.build.plates[0].webs
    assert len(webs) == 3
    middle = pixel(window, (186 + 222) / 2, (-4 + 48) / 2)
    QTest.mouseClick(front.viewport(), LEFT, pos=middle)
    assert now(session.build).plates[0].webs == webs[1:]
    settle(qtbot, window)
    assert session.selection == CutAt("plate", "stud")
    QTest.mouseClick(front.viewport(), LEFT, pos=middle)
    assert len(now(session.build).plates[0].webs) == 3
    card = window.cards.card
    qtbot.mouseClick(card.act("No web to hole at Idler boss, low"), LEFT)
    assert len(now(session.build).plates[0].webs) == 2
    session.select(PlateAt("plate"))
    qtbot.mouseClick(card.act("Add an arc"), LEFT)
    assert isinstance(session.selection, CutAt)
    arc = now(session.build).plates[0].features[-1]
    assert isinstance(arc, ArcCut)
    end = next(
        item.model.center
        for key, item in front.drawn.items()
        if key == f"cut/plate/{arc.id}/1" and isinstance(item.model, Circle)
    )
    drag(window, pixel(window, *end), pixel(window, end[0] - 20, end[1] - 30))
    turned = now(session.build).plates[0].features[-1]
    assert isinstance(turned, ArcCut)
    assert turned.from_deg == arc.from_deg and turned.to_deg > arc.to_deg


def test_paper_in_inches_the_printer_and_what_is_refused(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    session, room = window.session, window.desk.room(LineUpRoom)
    action(window, "Inches").trigger()
    settle(qtbot, window)
    session.select(PlateAt("plate"))
    action(window, "Plate on paper and for the cutter").trigger()
    paper = room.paper
    said = paper.measures.text().replace("\xa0", " ")
    assert "0.472 in thick" in said and "lb" in said and "1 sheet of A4" in said
    type_into(qtbot, paper.printed[0], "98.9")
    type_into(qtbot, paper.printed[1], "99.6")
    assert paper.sheets._tiles is not None
    assert paper.sheets._tiles.scale == pytest.approx((100 / 98.9, 100 / 99.6))
    type_into(qtbot, paper.printed[0], "50")
    assert "80 to 120" in paper.refusal.text() and paper.printed[0].text() == "50"
    type_into(qtbot, paper.printed[0], "100")
    assert not paper.refusal.isVisible()
    paper.write("pdf", tmp_path / "no such folder" / "x.pdf")
    assert "folder" in paper.refusal.text() and not paper.done.isVisible()
    type_into(qtbot, paper.kerf, "0.5 in")
    paper.write("dxf", tmp_path / "x.dxf")
    assert "leaves nothing" in paper.refusal.text() and not (tmp_path / "x.dxf").exists()
    # without a plate the card says what is missing
    session.edit("none", session.build.__class__(engine=session.build.engine))
    action(window, "Plate on paper and for the cutter").trigger()
    action(window, "Plate on paper and for the cutter").trigger()
    assert "no bracket plate" in window.hint.text()


def test_sizes_in_inches_are_shown_to_the_thousandth(qtbot: QtBot, window: MainWindow) -> None:
    session, card = window.session, window.cards.card
    action(window, "Inches").trigger()
    session.select(PlateAt("plate"))
    assert card.row("Thick").field.text() == "0.472 in"  # type: ignore[union-attr]
    type_into(qtbot, card.row("Thick").field, "1/2 in")  # type: ignore[arg-type]
    assert now(session.build).plates[0].thickness_mm == pytest.approx(12.7)
    session.select(CutAt("plate", "low"))
    assert card.row("Diameter").field.text() == "0.433 in"  # type: ignore[union-attr]
