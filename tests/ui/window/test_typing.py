"""What is being typed is taken, or refused in words, before anything else happens to what it is of."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import cycle
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from driving import settle
from jovial_tack.core.units import PERCENT, parse, written
from jovial_tack.document.edits.freedoms import set_mount
from jovial_tack.document.edits.loads import add_bank, add_case
from jovial_tack.document.model import Build, LockedTensioner
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
from jovial_tack.sheets import Figure, Shown, Words, exists, sheet_of
from jovial_tack.ui.cards.rows import FigureRow, WordsRow
from jovial_tack.ui.session import Session
from jovial_tack.ui.window.main_window import MainWindow
from support import furnished


def targets(build: Build) -> Iterator[Target]:
    """One of every kind of thing there is a card for."""
    yield NOTHING
    yield from (ShaftAt(name) for name in ("pump", "alternator", "blower"))
    for drive in build.drives:
        yield BeltAt(drive.id)
        if not isinstance(drive.tensioner, LockedTensioner):
            yield ArmAt(drive.id)
    last = build.drives[-1]
    yield PulleyAt(last.id, last.route[0])
    yield SpanAt(last.id, last.route[0])
    yield ObstacleAt(build.obstacles[-1].id)
    yield NoteAt(build.pinned_notes[0].id)
    yield BracketAt(build.brackets[0].id)
    yield PlateAt(build.plates[0].id)
    yield CutAt(build.plates[0].id, build.plates[0].features[0].id)
    yield from (PartAt(part.id) for part in build.shelf[:3])


def menu_actions(window: MainWindow) -> list[QAction]:
    bar = window.menuBar()
    assert bar is not None
    menus = [top.menu() for top in bar.actions()]
    found = [a for m in menus if m for a in m.actions() if not a.isSeparator() and not a.menu()]
    return [a for a in found if a.text() != "&Quit"]


def back_to(session: Session, start: Build) -> None:
    """Undo what was done; a build that was opened anew meanwhile is begun again."""
    for _ in range(8):
        if session.build is start:
            return
        session.undo()
    session.new(start)


def another(line: Figure[Any] | Words[Any], view: Shown[Any]) -> str:
    """Something else to type in a line."""
    if isinstance(line, Words) and line.name == "Number":
        return "8PK1625" if view.build.display_units == "mm" else "8K640"
    if isinstance(line, Words):
        return f"{line.text(view)} x"
    value = line.value(view)
    new = 7.0 if value is None else value * 1.02 if value else 0.5
    new += line.quantity is PERCENT  # which is shown whole
    return written(new, line.quantity, line.unit(view.build), digits=line.digits)


def is_there(line: Figure[Any] | Words[Any], view: Shown[Any], typed: str) -> bool:
    if isinstance(line, Words):
        return line.text(view) == typed.strip()
    value = line.value(view)
    wanted = parse(typed, line.quantity, line.unit(view.build))
    return value is not None and abs(value - wanted) <= 0.011 + 1e-3 * abs(wanted)


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_typed_text_goes_where_it_belongs_whatever_is_done_next(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch, unit: str
) -> None:
    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_: ("", ""))
    window.activateWindow()
    session, card = window.session, window.cards.card
    rich = add_case(add_bank(furnished()), "hot", {"alternator": 1.2})
    actions = cycle(menu_actions(window))
    tried = 0
    for target in targets(rich):
        session.new(rich)
        window.show_units(unit)  # type: ignore[arg-type]
        start = session.build
        session.select(target)
        card.refresh()
        names = [n for n, row in card.rows.items() if isinstance(row, FigureRow | WordsRow)]
        # every field once: one half of them in either unit
        for name in names[unit == "in" :: 2]:
            back_to(session, start)
            session.select(target)
            window.desk.stand_at("lay_out")
            card.refresh()
            line = next(x for x in sheet_of(target).figures(session.view) if x.name == name)
            row = card.rows.get(name)
            field = getattr(row, "field", None)
            if field is None or field.isReadOnly() or not field.isVisible():
                continue
            action = next(a for a in actions if a.isEnabled())
            typed = another(line, session.view)  # type: ignore[arg-type]
            shown = line.text(session.view)  # type: ignore[union-attr]
            if typed.strip() == shown:
                continue
            field.setFocus()
            field.selectAll()
            QTest.keyClicks(field, typed)
            action.trigger()
            tried += 1
            if "Undo" in action.text():
                session.redo()
            told = window.hint.text()
            if f"“{typed}” was not taken for" in told:  # refused, in words
                continue
            where = (target, name, action.text(), typed, shown)
            assert session.is_modified or typed.strip() == shown, where
            # it is one step; what was done next may be a second one, which moved the same thing
            steps = [session.history.build, session.history.undone().build]
            views = [
                Shown(build, session.results, target, session.rpm, session.catalogue)
                for build in steps
                if exists(build, target)
            ]
            assert any(is_there(line, view, typed) for view in views), where  # type: ignore[arg-type]
    assert tried > 30
    settle(qtbot, window)


def test_a_line_made_anew_while_one_types_keeps_what_is_typed(
    qtbot: QtBot, window: MainWindow
) -> None:
    window.activateWindow()
    session, card = window.session, window.cards.card
    session.select(BeltAt("blower"))
    card.refresh()
    field = window.cards.field("Belt length")
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "118")
    # something changes the lines around it: another tensioner, from elsewhere
    row = card.line("Tension by")
    row.choose("stretch")  # type: ignore[union-attr]
    qtbot.waitUntil(lambda: window.cards.field("Belt length") is not field)
    again = window.cards.field("Belt length")
    assert again.text() == "118" or session.build.drive("blower").belt.effective_length_mm == 118


def test_what_is_refused_stays_to_be_put_right(qtbot: QtBot, window: MainWindow) -> None:
    window.activateWindow()
    session = window.session
    session.select(PulleyAt("blower", "blower"))
    window.cards.card.refresh()
    for typed, why in (("-5", "This needs"), ("about five", "length")):
        field = window.cards.field("Diameter")
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, typed)
        QTest.keyClick(field, Qt.Key.Key_Return)
        assert field.text() == typed and why in window.cards.card.row("Diameter").reason.text()
        session.select(PulleyAt("blower", "crank"))
        assert f"“{typed}” was not taken for" in window.hint.text()
        session.select(PulleyAt("blower", "blower"))
        window.cards.card.refresh()
        # it stands, and why it is not taken, where it was typed and nowhere else
        assert window.cards.card.row("Diameter").reason.isVisible()
        assert window.cards.field("Diameter").text() == typed


def test_what_a_card_offers_is_done_to_the_build_as_it_is_by_then(
    qtbot: QtBot, window: MainWindow
) -> None:
    """The button may still stand when what it was for has gone."""
    session, card = window.session, window.cards.card
    session.select(ShaftAt("alternator"))
    session.edit("holes", set_mount(session.build, "alternator", "holes"))
    card.refresh()
    card.act("Add a hole").click()
    button = card.act("Take the last hole away")
    session.edit("slot", set_mount(session.build, "alternator", "slot"))
    before = session.build
    button.click()
    assert session.build is before
    settle(qtbot, window)
    assert "Take the last hole away" not in [shown.text() for shown in card.acts.buttons]
    session.pin_baseline()
    session.edit("swing", set_mount(session.build, "alternator", "swing"))
    card.refresh()  # what is pinned has another freedom, of which some lines bear the same name
    assert card.row("Screw pitch").aside.text() == ""
