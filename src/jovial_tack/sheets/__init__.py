"""What is told of each thing that can be selected: its figures, which of them can be typed over, and
its cautions. Without Qt: the window only lays them out."""

from jovial_tack.document.model import Build
from jovial_tack.document.targets import Target
from jovial_tack.sheets.arm import ARM
from jovial_tack.sheets.belt import BELT
from jovial_tack.sheets.bracket import BRACKET
from jovial_tack.sheets.engine import ENGINE
from jovial_tack.sheets.note import NOTE
from jovial_tack.sheets.obstacle import OBSTACLE
from jovial_tack.sheets.part import PART
from jovial_tack.sheets.pulley import PULLEY
from jovial_tack.sheets.shaft import SHAFT
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown, Words
from jovial_tack.sheets.span import SPAN

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

_SHEETS: dict[str, Sheet] = {
    "pulley": PULLEY,
    "belt": BELT,
    "span": SPAN,
    "arm": ARM,
    "shaft": SHAFT,
    "obstacle": OBSTACLE,
    "note": NOTE,
    "bracket": BRACKET,
    "part": PART,
}


def sheet_of(target: Target) -> Sheet:
    """The sheet of a thing; the engine's where nothing is selected."""
    return _SHEETS[target[0]] if target else ENGINE


def exists(build: Build, target: Target) -> bool:
    """Whether a build (still) has a thing."""
    try:
        return not target or sheet_of(target).is_there(build, target)
    except (KeyError, ValueError):
        return False


def shaft_of(build: Build, target: Target) -> str | None:
    """The shaft that moves when a thing is dragged: a pulley's, an arm pulley's, or itself.

    None for what moves no shaft, and for what the build does not have (any more).
    """
    if not exists(build, target):
        return None
    if target[:1] == ("shaft",):
        return target[1]
    if target[:1] == ("pulley",):
        return build.drive(target[1]).pulley(target[2]).shaft
    if target[:1] == ("arm",):
        drive = build.drive(target[1])
        return drive.pulley(drive.tensioner.pulley).shaft  # type: ignore[union-attr]
    return None
