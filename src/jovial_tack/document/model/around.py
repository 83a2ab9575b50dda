"""What lies around the drives: things in the way, notes, brackets, and parts on the shelf."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from jovial_tack.document.model.base import (
    Amount,
    AmountOrZero,
    Degrees,
    DiameterMm,
    Mm,
    Name,
    Part,
    Point,
    Rpm,
    SizeMm,
    fault,
)
from jovial_tack.document.model.shaft import BoltCircle, Fixing, ShaftKind

ObstacleKindName = Literal[
    "hood_line",
    "frame_rail",
    "steering_box",
    "water_neck",
    "exhaust",
    "filler_neck",
    "dipstick",
    "fan",
    "radiator",
    "connector",
    "body",
    "other",
]


class Obstacle(Part, frozen=True, kw_only=True):
    """Something in the way, seen from the front; z_mm: the depths it takes up, any if absent.

    moves_with: a shaft it hangs on (the body of an accessory); its outline is then drawn for the place
    of that shaft in the file, and goes with it along its slot or swing.
    """

    id: Name
    name: str = ""
    kind: ObstacleKindName
    outline_mm: Annotated[tuple[Point, ...], Meta(min_length=2, max_length=500)]
    closed: bool = True
    z_mm: tuple[Mm, Mm] | None = None
    needed_mm: AmountOrZero | None = None
    moves_with: Name | None = None

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id


class PinnedNote(Part, frozen=True, kw_only=True):
    """A note pinned to a place of the front view."""

    id: Name
    text: Annotated[str, Meta(max_length=2000)]
    at_mm: Point


class ShelfPart(Part, frozen=True, kw_only=True):
    """A part on the shelf; which figures it has depends on its kind.

    count: how many there are, 0 for one to buy. offset_mm: from the mounting face to the groove centre,
    forward. readings: (degrees wound back, pull in N) of a scale square to a tensioner's arm, lever_mm
    from its pivot (absent: at the end of the arm). tolerance_mm: of its thickness; threaded_mm: how
    much of a bolt is threaded (absent: as its standard has it).
    """

    id: Name
    name: str = ""
    kind: Literal["pulley", "idler", "tensioner", "accessory", "spacer", "washer", "bolt"]
    count: Annotated[int, Meta(ge=0, le=100000)] = 1
    price: AmountOrZero | None = None
    note: str = ""
    diameter_mm: DiameterMm | None = None
    side: Literal["ribs", "back"] | None = None
    grooves: Annotated[int, Meta(ge=1, le=60)] | None = None
    flange_mm: Annotated[float, Meta(ge=-100, le=100)] | None = None
    coating: str = ""
    friction_scale: Annotated[float, Meta(gt=0, le=100)] | None = None
    bore_mm: SizeMm | None = None
    pilot_mm: SizeMm | None = None
    bolt_circle: BoltCircle | None = None
    fixing: Fixing | None = None
    offset_mm: Mm | None = None
    arm_mm: SizeMm | None = None
    lever_mm: SizeMm | None = None
    readings: Annotated[tuple[tuple[Degrees, Amount], ...], Meta(max_length=20)] | None = None
    of: ShaftKind | None = None
    max_rpm: Rpm | None = None
    hub_load_limit_n: Amount | None = None
    needs_rotation: Literal["either", "cw", "ccw"] | None = None
    thickness_mm: SizeMm | None = None
    tolerance_mm: AmountOrZero | None = None
    outer_mm: SizeMm | None = None
    length_mm: SizeMm | None = None
    threaded_mm: SizeMm | None = None
    thread: str = ""

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id


class PlateOf(Part, frozen=True, kw_only=True):
    """What a bracket is made of: a flat plate from the line of its bolts to where it carries, mm.

    direction_deg: from the bolts to there, in the front view; z_mm: its middle, forward.
    """

    length_mm: SizeMm
    width_mm: SizeMm
    thickness_mm: SizeMm
    direction_deg: Degrees
    z_mm: Mm
    material: Literal["steel", "iron", "aluminium"] = "aluminium"


class Bracket(Part, frozen=True, kw_only=True):
    """A bracket that carries shafts, bolted on at one (`at`) of a few offsets."""

    id: Name
    name: str = ""
    shafts: Annotated[tuple[Name, ...], Meta(min_length=1)]
    offsets_mm: Annotated[tuple[Point, ...], Meta(min_length=1, max_length=100)]
    at: Annotated[int, Meta(ge=0)] = 0
    plate: PlateOf | None = None

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id

    def __post_init__(self) -> None:
        if self.at >= len(self.offsets_mm):
            raise fault("at", "the place of one of offsets_mm, counted from 0")


class StockBelt(Part, frozen=True, kw_only=True):
    """A belt in a stock list by its number; count: how many there are, absent if not told."""

    number: Annotated[str, Meta(min_length=1, max_length=60)]
    price: AmountOrZero | None = None
    count: Annotated[int, Meta(ge=0, le=100000)] | None = None
    note: str = ""
