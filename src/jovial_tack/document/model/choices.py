"""What a finder may choose among for one drive, and what it is to look for."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from msgspec import Meta

from jovial_tack.document.model.base import DiameterMm, Name, Part, SizeMm, fault, seal

#: A place in a list of the build, counted from 0.
At = Annotated[int, Meta(ge=0, le=1000)]
Options = Annotated[tuple[At, ...], Meta(max_length=200)]
#: What the best is: most grip, a ratio on target, least pull on a hub, least to pay, least to buy.
Aim = Literal["reserve", "ratio", "hub_load", "cost", "owned"]
#: What a combination must keep: nothing slips at any revs, the belt can be put on, it is not too tight,
#: nothing is in its way, and nothing else becomes a stop.
Need = Literal["holds", "goes_on", "not_tight", "clear", "no_stop"]


class RatioTarget(Part, frozen=True, kw_only=True):
    """A ratio over the crank that a pulley is to have, and how far it may be off."""

    pulley: Name
    ratio: Annotated[float, Meta(gt=0, le=100)]
    tolerance: Annotated[float, Meta(ge=0, le=100)] = 0.05


class Choices(Part, frozen=True, kw_only=True):
    """What may change of a drive; what is not named stays as it is.

    notches, holes, offsets: places in the lists of the arm, the shafts and the brackets. target and
    boost_kpa: what a combination must come to, the boost at redline. limit: how many are told.
    """

    drive: Name
    belt_lengths_mm: Annotated[tuple[SizeMm, ...], Meta(max_length=20000)] = ()
    notches: Options = ()
    holes: Mapping[Name, Options] = {}
    offsets: Mapping[Name, Options] = {}
    diameters_mm: Mapping[Name, Annotated[tuple[DiameterMm, ...], Meta(max_length=500)]] = {}
    constructions: Annotated[tuple[Name, ...], Meta(max_length=20)] = ()
    sides: Mapping[Name, Annotated[tuple[Literal["ribs", "back"], ...], Meta(max_length=2)]] = {}
    aim: Aim = "reserve"
    target: RatioTarget | None = None
    boost_kpa: tuple[float, float] | None = None
    needs: Annotated[tuple[Need, ...], Meta(max_length=5)] = ()
    limit: Annotated[int, Meta(ge=1, le=1000)] = 50

    def __post_init__(self) -> None:
        for key in ("holes", "offsets", "diameters_mm", "sides"):
            seal(self, key)
        if self.aim == "ratio" and self.target is None:
            raise fault("target", "a pulley and its ratio, which aim “ratio” looks for")
        if self.boost_kpa is not None and not self.boost_kpa[0] <= self.boost_kpa[1]:
            raise fault("boost_kpa", "the least boost and then the most, kPa")
