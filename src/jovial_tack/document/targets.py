"""What can be selected or pointed at: each kind of thing of a build, by the names that find it."""

from __future__ import annotations

from jovial_tack.core.value import Value


class Nothing(Value, frozen=True):
    """No thing: where the pointer is on bare ground, or the engine as a whole where it is selected."""


class ShaftAt(Value, frozen=True):
    """A shaft by its id."""

    shaft: str


class PulleyAt(Value, frozen=True):
    """A pulley by the ids of its drive and its own."""

    drive: str
    pulley: str


class SpanAt(Value, frozen=True):
    """A free span of a drive's belt by the id of the pulley that the belt leaves into it."""

    drive: str
    leaves: str


class BeltAt(Value, frozen=True):
    """A drive's belt by the drive's id."""

    drive: str


class ArmAt(Value, frozen=True):
    """A drive's tensioner arm by the drive's id."""

    drive: str


class ObstacleAt(Value, frozen=True):
    """An obstacle's outline by the obstacle's id."""

    obstacle: str


class CornerAt(Value, frozen=True):
    """A corner of an obstacle's outline, counted from 0."""

    obstacle: str
    corner: int


class NoteAt(Value, frozen=True):
    """A pinned note by its id."""

    note: str


class BracketAt(Value, frozen=True):
    """A bracket by its id."""

    bracket: str


class PartAt(Value, frozen=True):
    """A part of the shelf by its id."""

    part: str


class BossAt(Value, frozen=True):
    """A boss by its id."""

    boss: str


class PlateAt(Value, frozen=True):
    """A bracket plate by its id."""

    plate: str


class CutAt(Value, frozen=True):
    """Something cut through a bracket plate, by the ids of the plate and its own."""

    plate: str
    cut: str


class CutEndAt(Value, frozen=True):
    """An end of a slot or an arc of a bracket plate, 0 or 1."""

    plate: str
    cut: str
    end: int


OfDrive = PulleyAt | SpanAt | BeltAt | ArmAt
OfPlate = PlateAt | CutAt
Target = (
    Nothing
    | OfDrive
    | OfPlate
    | ShaftAt
    | ObstacleAt
    | CornerAt
    | CutEndAt
    | NoteAt
    | BracketAt
    | PartAt
    | BossAt
)

NOTHING = Nothing()


def drive_of(target: Target) -> str | None:
    """The id of the drive a target belongs to; None for what belongs to none of its own."""
    return target.drive if isinstance(target, OfDrive) else None


def whole_of(target: Target) -> Target:
    """The thing itself, of what is only a corner or an end of it."""
    if isinstance(target, CornerAt):
        return ObstacleAt(target.obstacle)
    return CutAt(target.plate, target.cut) if isinstance(target, CutEndAt) else target
