"""What is told of each thing that can be selected: its figures, which of them can be typed over, and
its cautions. Without Qt: the window only lays them out."""

from typing import Any

from jovial_tack.document.model import Build, Sprung
from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    BeltAt,
    BossAt,
    BracketAt,
    CutAt,
    NoteAt,
    Nothing,
    ObstacleAt,
    PartAt,
    PlateAt,
    PulleyAt,
    ShaftAt,
    SpanAt,
    Target,
)
from jovial_tack.sheets.belt import BELT
from jovial_tack.sheets.boss import BOSS
from jovial_tack.sheets.bracket import BRACKET
from jovial_tack.sheets.cut import CUT
from jovial_tack.sheets.engine import ENGINE
from jovial_tack.sheets.note import NOTE
from jovial_tack.sheets.obstacle import OBSTACLE
from jovial_tack.sheets.part import PART
from jovial_tack.sheets.plate import PLATE
from jovial_tack.sheets.pulley import PULLEY
from jovial_tack.sheets.shaft import SHAFT
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown, Words
from jovial_tack.sheets.span import SPAN
from jovial_tack.sheets.sprung import SPRUNG

__all__ = [
    "Act",
    "Choice",
    "Figure",
    "Row",
    "Sheet",
    "Shown",
    "Target",
    "Words",
    "exists",
    "shaft_of",
    "sheet_of",
]

#: The kind of a target says which sheet is its; beyond this table nothing tells a checker so.
_SHEETS: dict[type[Target], Sheet[Any]] = {
    Nothing: ENGINE,
    PulleyAt: PULLEY,
    BeltAt: BELT,
    SpanAt: SPAN,
    ArmAt: SPRUNG,
    ShaftAt: SHAFT,
    ObstacleAt: OBSTACLE,
    NoteAt: NOTE,
    BracketAt: BRACKET,
    PartAt: PART,
    BossAt: BOSS,
    PlateAt: PLATE,
    CutAt: CUT,
}


def sheet_of(target: Target) -> Sheet[Any]:
    """The sheet of a thing; the engine's where nothing is selected, the outline's for its corner."""
    return _SHEETS[type(target)]


def exists(build: Build, target: Target) -> bool:
    """Whether a build (still) has a thing."""
    try:
        return target == NOTHING or sheet_of(target).is_there(build, target)
    except (KeyError, ValueError):
        return False


def shaft_of(build: Build, target: Target) -> str | None:
    """The shaft that moves when a thing is dragged: a pulley's, an arm pulley's, or itself.

    None for what moves no shaft, and for what the build does not have (any more).
    """
    if not exists(build, target):
        return None
    match target:
        case ShaftAt():
            return target.shaft
        case PulleyAt():
            return build.drive(target.drive).pulley(target.pulley).shaft
        case ArmAt():
            drive = build.drive(target.drive)
            assert isinstance(drive.tensioner, Sprung)  # else its card is not there
            return drive.pulley(drive.tensioner.pulley).shaft
        case _:
            return None
