"""What keys do to the part that is selected: nudge it, take it away, go on to the next."""

from __future__ import annotations

from PyQt6.QtCore import Qt

from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import MM_PER_INCH
from jovial_tack.document.edits.notes import move_note
from jovial_tack.document.edits.obstacles import move_obstacle
from jovial_tack.document.edits.plates import move_boss, move_cut
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.meant import cut_name
from jovial_tack.document.model import Build, Sprung
from jovial_tack.document.targets import (
    ArmAt,
    BeltAt,
    BossAt,
    BracketAt,
    CutAt,
    NoteAt,
    ObstacleAt,
    PlateAt,
    PulleyAt,
    ShaftAt,
    SpanAt,
    Target,
)
from jovial_tack.sheets import shaft_of, sheet_of
from jovial_tack.ui.session import Session

ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}


def take_away(session: Session) -> None:
    """Do what the card of the selected part offers to take it away, if it offers that."""
    view = session.view
    acts = sheet_of(view.target).acts(view)
    act = next((act for act in acts if act.removes), None)
    if act is None or session.is_read_only:
        return
    session.edit(act.label, act.make(session.build))
    if act.then is not None:
        session.select(act.then(session.build))


def nudge(session: Session, way: tuple[int, int], modifiers: Qt.KeyboardModifier) -> bool:
    """Move the selected part by a step; False if it is none that moves."""
    target, build = session.selection, session.build
    dx, dy = (part * _step(build, modifiers) for part in way)
    shaft = shaft_of(build, target)
    try:
        if isinstance(target, NoteAt):
            label, moved = "note", move_note(build, target.note, dx, dy)
        elif isinstance(target, CutAt):
            label = cut_name(build, build.plate(target.plate).feature(target.cut))
            moved = move_cut(build, target.plate, target.cut, dx, dy)
        elif isinstance(target, BossAt) and (boss := build.find_boss(target.boss)) is not None:
            label = boss.label
            moved = move_boss(build, boss.id, boss.at_mm[0] + dx, boss.at_mm[1] + dy)
        elif isinstance(target, ObstacleAt):
            label = build.obstacle(target.obstacle).label
            moved = move_obstacle(build, target.obstacle, dx, dy)
        elif shaft is not None:
            x, y = build.shaft(shaft).center_mm
            label, moved = build.shaft(shaft).label, move_shaft(build, shaft, x + dx, y + dy)
        else:
            return False
    except BuildFileError:
        return True  # beyond what a build can hold: it stays at the edge
    session.edit(f"nudge {label}", moved)
    return True


def _step(build: Build, modifiers: Qt.KeyboardModifier) -> float:
    """How far an arrow key moves, mm."""
    step = 1.0 if build.display_units == "mm" else MM_PER_INCH / 32
    if modifiers & Qt.KeyboardModifier.ShiftModifier:
        return step * 0.1
    return step * 10.0 if modifiers & Qt.KeyboardModifier.ControlModifier else step


def select_next(session: Session, way: int) -> None:
    """Select the next part: along the routes, then what is in the way, notes, brackets, bosses, plates,
    bare shafts."""
    build = session.build
    every: list[Target] = []
    for drive in build.drives:
        every += [PulleyAt(drive.id, name) for name in drive.route]
        every += [SpanAt(drive.id, name) for name in drive.route]
        if isinstance(drive.tensioner, Sprung):
            every.append(ArmAt(drive.id))
        every.append(BeltAt(drive.id))
    every += [ObstacleAt(obstacle.id) for obstacle in build.obstacles]
    every += [NoteAt(note.id) for note in build.pinned_notes]
    every += [BracketAt(bracket.id) for bracket in build.brackets]
    every += [BossAt(boss.id) for boss in build.bosses]
    for plate in build.plates:
        every.append(PlateAt(plate.id))
        every += [CutAt(plate.id, cut.id) for cut in plate.features]
    used = {pulley.shaft for drive in build.drives for pulley in drive.pulleys}
    every += [ShaftAt(shaft.id) for shaft in build.shafts if shaft.id not in used]
    if every:
        now = session.selection
        place = every.index(now) + way if now in every else (0 if way > 0 else -1)
        session.select(every[place % len(every)])
