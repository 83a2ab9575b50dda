"""Stacks between bosses and ears, and readings of planes and tilts.

Names of bosses, shafts and parts that have gone are kept, and told.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from jovial_tack.document.model.base import (
    Amount,
    AmountOrZero,
    Mm,
    Name,
    Part,
    Point,
    SizeMm,
    unique,
)

Material = Literal["steel", "iron", "aluminium"]


class Boss(Part, frozen=True, kw_only=True):
    """A threaded boss of the engine: where it is, how far forward its face stands, and its thread.

    thread_depth_mm: of full thread, absent if not known; through: open at its end; on: the bracket
    plate it is on, absent for the engine.
    """

    id: Name
    name: str = ""
    at_mm: Point
    z_mm: Mm
    sd_mm: AmountOrZero | None = None
    thread: str = ""
    material: Material = "aluminium"
    thread_depth_mm: SizeMm | None = None
    through: bool = False
    on: Name | None = None

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id


class Stay(Part, frozen=True, kw_only=True):
    """What stays between a boss and an ear whatever is put beside it, as a bracket."""

    name: str = ""
    thickness_mm: AmountOrZero
    tolerance_mm: AmountOrZero = 0.0


class Piece(Part, frozen=True, kw_only=True):
    """Pieces of one part of the shelf."""

    part: Name
    count: Annotated[int, Meta(ge=1, le=100)] = 1


class Ear(Part, frozen=True, kw_only=True):
    """An ear of a unit on its boss.

    side: before its boss, or pulled back against the rear of a bracket; to_groove_mm: from the face
    that seats to the groove, forward; ear_mm: how thick the ear is; pieces absent: not chosen, empty:
    none; bolt: a part of the shelf; torque_nm: the builder's own.
    """

    id: Name
    boss: Name
    side: Literal["front", "rear"] = "front"
    to_groove_mm: Mm
    sd_mm: AmountOrZero | None = None
    ear_mm: SizeMm = 12.0
    stays: Annotated[tuple[Stay, ...], Meta(max_length=20)] = ()
    pieces: Annotated[tuple[Piece, ...], Meta(max_length=20)] | None = None
    bolt: Name | None = None
    torque_nm: Amount | None = None


class Stack(Part, frozen=True, kw_only=True):
    """A unit on its ears. wanted_plane_mm: absent, in line with its neighbours."""

    shaft: Name
    wanted_plane_mm: Mm | None = None
    tolerance_mm: Amount | None = None
    ears: Annotated[tuple[Ear, ...], Meta(max_length=12)] = ()

    def __post_init__(self) -> None:
        unique([ear.id for ear in self.ears], "ears", "id")

    def ear(self, ear_id: str) -> Ear:
        """The ear of that id; KeyError if there is none."""
        for ear in self.ears:
            if ear.id == ear_id:
                return ear
        raise KeyError(ear_id)


class _OfTwo(Part, frozen=True, kw_only=True):
    """Read from one pulley at another, at the near and the far rim, or once in the middle, mm."""

    on: Name
    at: Name
    offsets_mm: Annotated[tuple[Mm, ...], Meta(min_length=1, max_length=2)]
    sd_mm: Amount | None = None
    set_aside: bool = False


class LaserReading(_OfTwo, frozen=True, kw_only=True, tag_field="type", tag="laser"):
    """A laser that sits in the grooves of one pulley; + where the other's groove stands before it."""

    seat_sd_deg: Amount | None = None


class StraightedgeReading(_OfTwo, frozen=True, kw_only=True, tag_field="type", tag="straightedge"):
    """A straightedge on the rim of one pulley; + where the other's rim stands before it."""


class DepthOfGroove(Part, frozen=True, kw_only=True, tag_field="type", tag="depth"):
    """How far a groove stands before the face all planes are measured from."""

    pulley: Name
    value_mm: Mm
    sd_mm: Amount | None = None
    set_aside: bool = False


class SquareReading(Part, frozen=True, kw_only=True, tag_field="type", tag="square"):
    """A pulley that was found square to the face all planes are measured from."""

    pulley: Name
    sd_deg: Amount | None = None
    set_aside: bool = False


class PlumbReading(Part, frozen=True, kw_only=True, tag_field="type", tag="plumb"):
    """How far a pulley leans from a plumb line, degrees, + where its top stands forward."""

    pulley: Name
    value_deg: Annotated[float, Meta(ge=-45, le=45)]
    sd_deg: Amount | None = None
    set_aside: bool = False


class RunoutReading(Part, frozen=True, kw_only=True, tag_field="type", tag="runout"):
    """How far a rim wobbles in a turn, total indicated, mm."""

    pulley: Name
    tir_mm: AmountOrZero
    set_aside: bool = False


AlignmentReading = (
    LaserReading
    | StraightedgeReading
    | DepthOfGroove
    | SquareReading
    | PlumbReading
    | RunoutReading
)


class AlignmentReadings(Part, frozen=True, kw_only=True):
    """What was read of planes and tilts. Pulleys by their id, or drive/pulley."""

    readings: Annotated[tuple[AlignmentReading, ...], Meta(max_length=500)] = ()
