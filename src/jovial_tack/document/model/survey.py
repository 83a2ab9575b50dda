"""What was measured of where things stand: readings, their instruments, and points beside the shafts.

Readings name shafts, or points of the survey, by their ids. One that names what has gone is kept.
"""

from __future__ import annotations

from collections.abc import Mapping
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
    Rotation,
    SizeMm,
    fault,
    seal,
    unique,
)
from jovial_tack.document.model.logbook import Day

MOST_READINGS = 500
Two = tuple[Name, Name]
Three = tuple[Name, Name, Name]
SomeNames = Annotated[tuple[Name, ...], Meta(min_length=2, max_length=60)]
#: A pulley: its drive and its own id.
PulleyName = tuple[Name, Name]


class SurveyPoint(Part, frozen=True, kw_only=True):
    """A place that is no shaft: a dowel, a bolt's head; at_mm: where it is drawn."""

    id: Name
    name: str = ""
    at_mm: Point

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id


class Instrument(Part, frozen=True, kw_only=True):
    """A tool: one standard deviation of a reading with it, and of its own zero (a worn hook), mm."""

    sd_mm: Amount | None = None
    zero_sd_mm: Amount | None = None


class Direction(Part, frozen=True, kw_only=True):
    """The direction from one shaft to another, degrees from level."""

    shafts: Two
    angle_deg: Degrees


class _Taken(Part, frozen=True, kw_only=True, tag_field="type"):
    """What every reading has. at: the day; set_aside: kept, and not used."""

    instrument: str = ""
    at: Day | None = None
    note: str = ""
    set_aside: bool = False


class _Length(_Taken, frozen=True, kw_only=True):
    """A reading in mm. sd_mm: one standard deviation; absent: that of the tool."""

    value_mm: SizeMm
    sd_mm: Amount | None = None


class _Between(_Length, frozen=True, kw_only=True):
    """Between two shafts. diameters_mm: of the rims; absent: those of their pulleys."""

    shafts: Two
    diameters_mm: tuple[DiameterMm, DiameterMm] | None = None


class DistanceReading(_Between, frozen=True, kw_only=True, tag="distance"):
    """Centre to centre."""


class OutsideReading(_Between, frozen=True, kw_only=True, tag="outside"):
    """Over two rims."""


class InsideReading(_Between, frozen=True, kw_only=True, tag="inside"):
    """Between two rims."""


class TangentReading(_Between, frozen=True, kw_only=True, tag="tangent"):
    """Straight along the same side of two rims."""


class CrossReading(_Between, frozen=True, kw_only=True, tag="cross"):
    """Straight across, from one side of a rim to the other side of the next."""


class RoundReading(_Length, frozen=True, kw_only=True, tag="round"):
    """A tape laid closed round two and more rims; thick_mm: of the tape."""

    shafts: SomeNames
    diameters_mm: tuple[DiameterMm, ...] | None = None
    thick_mm: AmountOrZero | None = None


class OverReading(_Length, frozen=True, kw_only=True, tag="over"):
    """A tape from the middle of the first over rims to the middle of the last. diameters_mm, turns: of
    those between, the way round in which the tape runs (absent: over the far side of each as drawn).
    """

    shafts: Annotated[tuple[Name, ...], Meta(min_length=3, max_length=60)]
    diameters_mm: tuple[DiameterMm, ...] | None = None
    turns: tuple[Rotation, ...] | None = None
    thick_mm: AmountOrZero | None = None

    def __post_init__(self) -> None:
        if self.turns is not None and len(self.turns) != len(self.shafts) - 2:
            raise fault("turns", f"one for each of the {len(self.shafts) - 2} rims between")


class _Level(_Taken, frozen=True, kw_only=True):
    """Along or square to level. rims_mm: what rims add at either end, with their signs."""

    shafts: Two
    value_mm: Mm
    sd_mm: Amount | None = None
    rims_mm: tuple[Mm, Mm] = (0.0, 0.0)


class DxReading(_Level, frozen=True, kw_only=True, tag="dx"):
    """How far the second stands to the right of the first."""


class DyReading(_Level, frozen=True, kw_only=True, tag="dy"):
    """How far the second stands above the first."""


class AngleReading(_Taken, frozen=True, kw_only=True, tag="angle"):
    """The angle from level of a line over two centres, or along a side of two rims."""

    shafts: Two
    value_deg: Degrees
    sd_deg: Amount | None = None
    side: Literal["left", "right"] | None = None
    diameters_mm: tuple[DiameterMm, DiameterMm] | None = None


class OffsetReading(_Taken, frozen=True, kw_only=True, tag="offset"):
    """How far the third stands to the left of the line from the first to the second."""

    shafts: Three
    value_mm: Mm
    sd_mm: Amount | None = None


class AtReading(_Taken, frozen=True, kw_only=True, tag="at"):
    """A place that is known."""

    shafts: tuple[Name]
    at_mm: Point
    sd_mm: Amount | None = None


class PatternReading(_Taken, frozen=True, kw_only=True, tag="pattern"):
    """Holes whose places to one another are known: a rigid body laid on shafts and points."""

    shafts: SomeNames
    coordinates_mm: tuple[Point, ...]
    sd_mm: Amount | None = None

    def __post_init__(self) -> None:
        if len(self.coordinates_mm) != len(self.shafts):
            raise fault("coordinates_mm", f"one place for each of the {len(self.shafts)} shafts")


class DepthReading(_Taken, frozen=True, kw_only=True, tag="depth"):
    """From the face the depths count from to a rim; rim_mm: its width, absent: read to the groove."""

    pulley: PulleyName
    value_mm: Mm
    sd_mm: Amount | None = None
    rim_mm: AmountOrZero | None = None


class StepReading(_Taken, frozen=True, kw_only=True, tag="step"):
    """How much farther forward the front of the second rim stands; rims_mm: their widths."""

    pulleys: tuple[PulleyName, PulleyName]
    value_mm: Mm
    sd_mm: Amount | None = None
    rims_mm: tuple[AmountOrZero, AmountOrZero] | None = None


class BeltReading(_Taken, frozen=True, kw_only=True, tag="belt"):
    """A belt that was tried: typed here, or an event of the logbook. arm_angle_deg, travel_share: where
    the adjuster came to stand; verdict: that it was too long, or too short, wherever it stood.
    """

    drive: Name | None = None
    event: Name | None = None
    effective_length_mm: SizeMm | None = None
    arm_angle_deg: Degrees | None = None
    travel_share: Annotated[float, Meta(ge=0, le=1)] | None = None
    verdict: Literal["long", "short"] | None = None
    sd_mm: Amount | None = None

    def __post_init__(self) -> None:
        if self.event is None and (self.drive is None or self.effective_length_mm is None):
            raise fault("drive", "the drive and the belt's effective_length_mm, or an event")


AnyReading = (
    DistanceReading
    | OutsideReading
    | InsideReading
    | TangentReading
    | CrossReading
    | RoundReading
    | OverReading
    | DxReading
    | DyReading
    | AngleReading
    | OffsetReading
    | AtReading
    | PatternReading
    | DepthReading
    | StepReading
    | BeltReading
)


class Survey(Part, frozen=True, kw_only=True):
    """Readings in the order they were taken. fixed: the shaft that stays where it is drawn (absent: the
    crank); level_sd_deg: how far the stand may be out of level.
    """

    fixed: Name | None = None
    direction: Direction | None = None
    readings: Annotated[tuple[AnyReading, ...], Meta(max_length=MOST_READINGS)] = ()
    points: Annotated[tuple[SurveyPoint, ...], Meta(max_length=MOST_READINGS)] = ()
    instruments: Mapping[Name, Instrument] = {}
    level_sd_deg: Annotated[float, Meta(gt=0, le=45)] | None = None

    def __post_init__(self) -> None:
        seal(self, "instruments")
        unique([point.id for point in self.points], "points", "id")
