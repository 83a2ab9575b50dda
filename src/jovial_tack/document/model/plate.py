"""Bracket plates: flat plates drawn in the front view, cut and drilled by hand or by a cutter.

Names of bosses, ears and shafts that have gone are kept, and told.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

import msgspec
from msgspec import Meta

from jovial_tack.document.model.base import (
    Amount,
    AmountOrZero,
    Degrees,
    Mm,
    Name,
    Part,
    Point,
    fault,
    unique,
)

Webs = Literal["hull"] | Annotated[tuple[tuple[Name, Name], ...], Meta(max_length=400)]
#: Sizes of what is cut: anything larger is no plate.
CutMm = Annotated[float, Meta(gt=0, le=2000)]
#: A place on a plate: an engine is not further across.
CutPoint = tuple[
    Annotated[float, Meta(ge=-1e4, le=1e4)],
    Annotated[float, Meta(ge=-1e4, le=1e4)],
]


class MeantFor(Part, frozen=True, kw_only=True):
    """What goes through: the bolt of a boss, that of an ear of a unit, or the travel of a shaft.

    An ear's id is looked for in all stacks, or in that of a shaft that is named beside it.
    """

    boss: Name | None = None
    ear: Name | None = None
    shaft: Name | None = None

    def __post_init__(self) -> None:
        if self.boss is None and self.ear is None and self.shaft is None:
            raise fault("boss", "a boss, an ear or a shaft")


class _Cut(Part, frozen=True, kw_only=True):
    """Something cut through a plate. edge_mm: metal wanted from its middle to the edge of the plate."""

    id: Name
    meant: MeantFor | None = msgspec.field(default=None, name="for")
    edge_mm: CutMm | None = None


class HoleCut(_Cut, frozen=True, kw_only=True, tag_field="type", tag="hole"):
    """A round hole."""

    at_mm: CutPoint
    diameter_mm: CutMm

    @property
    def width(self) -> float:
        """How wide it is, mm."""
        return self.diameter_mm


class SlotCut(_Cut, frozen=True, kw_only=True, tag_field="type", tag="slot"):
    """A straight slot with round ends, between the middles of its ends."""

    from_mm: CutPoint
    to_mm: CutPoint
    width_mm: CutMm

    @property
    def width(self) -> float:
        """How wide it is, mm."""
        return self.width_mm


class ArcCut(_Cut, frozen=True, kw_only=True, tag_field="type", tag="arc"):
    """A slot along an arc with round ends, counter-clockwise from its first to its second angle."""

    center_mm: CutPoint
    radius_mm: CutMm
    from_deg: Degrees
    to_deg: Degrees
    width_mm: CutMm

    def __post_init__(self) -> None:
        if not 0 < self.to_deg - self.from_deg <= 330:
            raise fault("to_deg", f"above from_deg ({self.from_deg:g}) by at most 330")
        if self.radius_mm <= self.width_mm / 2:
            raise fault("radius_mm", f"more than half its width ({self.width_mm / 2:g})")

    @property
    def width(self) -> float:
        """How wide it is, mm."""
        return self.width_mm


Cut = HoleCut | SlotCut | ArcCut


class KeepOut(Part, frozen=True, kw_only=True):
    """Where a plate must not be: a closed outline, and the gap kept from it."""

    name: str = ""
    outline_mm: Annotated[tuple[Point, ...], Meta(min_length=3, max_length=500)]
    clear_mm: AmountOrZero = 0.0


class StandsOn(Part, frozen=True, kw_only=True):
    """Where a plate stands square on another, as the leg of an angle: along a line of that one.

    The leg is then drawn flat: x along the line from its first end, y forward from the other's rear.
    """

    plate: Name
    from_mm: CutPoint
    to_mm: CutPoint

    def __post_init__(self) -> None:
        if self.from_mm == self.to_mm:
            raise fault("to_mm", "another place than from_mm")


class Plate(Part, frozen=True, kw_only=True):
    """A flat plate. z_mm: its rear face, forward; webs: the hull round all that is cut, or the pairs
    that are joined; web_mm: how wide those are at most; least_web_mm: the least that is wanted.
    """

    id: Name
    name: str = ""
    thickness_mm: CutMm = 10.0
    material: Annotated[str, Meta(max_length=60)] = "aluminium"
    density_kg_m3: Amount | None = None
    young_gpa: Amount | None = None
    z_mm: Mm = 0.0
    features: Annotated[tuple[Cut, ...], Meta(max_length=200)] = ()
    keep_out: Annotated[tuple[KeepOut, ...], Meta(max_length=100)] = ()
    webs: Webs = "hull"
    web_mm: CutMm | None = None
    fillet_mm: Annotated[float, Meta(ge=0, le=200)] = 5.0
    least_web_mm: CutMm | None = None
    stands_on: StandsOn | None = None

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id

    @property
    def front_mm(self) -> float:
        """Its front face, forward."""
        return self.z_mm + self.thickness_mm

    def feature(self, cut_id: str) -> Cut:
        """What is cut under an id; KeyError if there is none."""
        for cut in self.features:
            if cut.id == cut_id:
                return cut
        raise KeyError(cut_id)

    def __post_init__(self) -> None:
        unique([cut.id for cut in self.features], "features", "id")
        if self.webs == "hull":
            return
        ids: set[Any] = {cut.id for cut in self.features}
        for k, pair in enumerate(self.webs):
            for name in pair:
                if name not in ids:
                    raise fault(f"webs[{k}]", f"features of the plate, not “{name}”")
            if pair[0] == pair[1]:
                raise fault(f"webs[{k}]", f"two different features, not “{pair[0]}” twice")
