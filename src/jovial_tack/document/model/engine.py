"""The engine, and the air it stands in."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from msgspec import Meta

from jovial_tack.document.model.base import (
    Amount,
    AmountOrZero,
    Name,
    Part,
    Rotation,
    Rpm,
    fault,
    seal,
)


class AirState(Part, frozen=True, kw_only=True):
    """Air outside the engine."""

    pressure_kpa: Annotated[float, Meta(ge=10, le=200)] = 101.325
    temperature_c: Annotated[float, Meta(ge=-90, le=90)] = 25.0


class FillingCurve(Part, frozen=True, kw_only=True):
    """Volumetric efficiency against engine speed, linear between points and held beyond the ends."""

    rpm: Annotated[tuple[Rpm, ...], Meta(min_length=1)]
    value: Annotated[tuple[Annotated[float, Meta(gt=0, le=3)], ...], Meta(min_length=1)]

    def __post_init__(self) -> None:
        if len(self.rpm) != len(self.value):
            raise fault("value", f"as many values as speeds ({len(self.rpm)})")
        if any(b <= a for a, b in zip(self.rpm, self.rpm[1:], strict=False)):
            raise fault("rpm", "speeds in rising order")


class Bank(Part, frozen=True, kw_only=True):
    """A bank of batteries: what is asked of the alternators on it at idle and at cruise, A."""

    idle_a: AmountOrZero | None = None
    cruise_a: AmountOrZero | None = None


class Engine(Part, frozen=True, kw_only=True):
    """The engine; crank_rotation as seen from in front of its accessory end.

    electrical_…_a: what the car asks of its alternators at idle and at cruise; banks: what banks of
    batteries of their own ask, by their names, of the alternators that are on them.
    """

    name: str = ""
    idle_rpm: Rpm
    cruise_rpm: Rpm
    redline_rpm: Rpm
    crank_rotation: Rotation
    cylinders: Annotated[int, Meta(ge=1, le=64)] | None = None
    displacement_l: Amount | None = None
    strokes: Literal[2, 4] = 4
    volumetric_efficiency: Annotated[float, Meta(gt=0, le=3)] | FillingCurve = 0.9
    electrical_idle_a: AmountOrZero | None = None
    electrical_cruise_a: AmountOrZero | None = None
    banks: Mapping[Name, Bank] = {}

    def __post_init__(self) -> None:
        seal(self, "banks")
        if not self.idle_rpm <= self.cruise_rpm <= self.redline_rpm:
            raise fault("redline_rpm", "idle, cruise and redline speed in rising order")
