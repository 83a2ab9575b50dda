"""Shafts: their freedoms, their loads, and what a pulley on them must fit."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from jovial_tack.document.model.base import (
    Amount,
    AmountOrZero,
    Degrees,
    Mm,
    Name,
    Part,
    Point,
    Rpm,
    SizeMm,
    fault,
)
from jovial_tack.document.model.engine import AirState

ShaftKind = Literal[
    "crank",
    "idler",
    "tensioner",
    "water_pump",
    "alternator",
    "power_steering",
    "compressor",
    "supercharger",
    "fan",
    "vacuum_pump",
    "fuel_pump",
    "jackshaft",
    "camshaft",
    "other",
]

Efficiency = Annotated[float, Meta(gt=0, le=1)]
Fixing = Literal["keyed", "pressed", "bolted"]
BoltCircle = tuple[Annotated[int, Meta(ge=1, le=100)], SizeMm]


class FixedMount(Part, frozen=True, kw_only=True, tag_field="type", tag="fixed"):
    """A shaft that stays where it is."""


class HolesMount(Part, frozen=True, kw_only=True, tag_field="type", tag="holes"):
    """A shaft that can be bolted into one of several holes."""

    positions_mm: tuple[Point, ...]
    at: Annotated[int, Meta(ge=0)] = 0


class SlotMount(Part, frozen=True, kw_only=True, tag_field="type", tag="slot"):
    """A shaft that slides along a straight slot, by hand or by a screw of some pitch."""

    from_mm: Point
    to_mm: Point
    screw_pitch_mm: SizeMm | None = None


class SwingMount(Part, frozen=True, kw_only=True, tag_field="type", tag="swing"):
    """A shaft that swings about a bolt, by hand or by a screw that pushes at some radius (absent: at
    that of the shaft).
    """

    pivot_mm: Point
    radius_mm: SizeMm
    from_deg: Degrees
    to_deg: Degrees
    screw_pitch_mm: SizeMm | None = None
    screw_radius_mm: SizeMm | None = None


AnyMount = FixedMount | HolesMount | SlotMount | SwingMount
Mount = AnyMount


class TableLoad(Part, frozen=True, kw_only=True, tag_field="type", tag="table"):
    """Power against the shaft's own speed, linear between points."""

    rpm: Annotated[tuple[Annotated[float, Meta(ge=0, le=1e6)], ...], Meta(min_length=2)]
    power_kw: tuple[AmountOrZero, ...]

    def __post_init__(self) -> None:
        if len(self.rpm) != len(self.power_kw):
            raise fault(
                "power_kw", f"as many powers as speeds ({len(self.rpm)}), not {len(self.power_kw)}"
            )
        if any(b <= a for a, b in zip(self.rpm, self.rpm[1:], strict=False)):
            raise fault("rpm", "speeds in rising order")


class ConstantTorqueLoad(Part, frozen=True, kw_only=True, tag_field="type", tag="constant_torque"):
    """The same torque at every speed."""

    torque_nm: AmountOrZero


class PowerLawLoad(Part, frozen=True, kw_only=True, tag_field="type", tag="power_law"):
    """Torque in proportion to speed to a power."""

    torque_nm: AmountOrZero
    at_rpm: Rpm
    exponent: Annotated[float, Meta(ge=-1, le=5)]


class KnownPoint(Part, frozen=True, kw_only=True):
    """One point at which a centrifugal blower is known; unit_rpm: of its input pulley; air absent: the
    build's.
    """

    unit_rpm: Rpm
    boost_kpa: Annotated[float, Meta(gt=0, le=2000)]
    air: AirState | None = None


class SuperchargerLoad(Part, frozen=True, kw_only=True, tag_field="type", tag="supercharger"):
    """A blower described by its air side. Without a model its shaft takes the representative load.
    impeller_inertia_kg_m2: of what turns behind the step-up, at its own speed.
    """

    model: Literal["positive_displacement", "centrifugal"] | None = None
    displacement_l_per_rev: Annotated[float, Meta(gt=0, le=1000)] | None = None
    volumetric_efficiency: Annotated[float, Meta(gt=0, le=1.5)] = 0.9
    adiabatic_efficiency: Efficiency = 0.65
    mechanical_efficiency: Efficiency = 0.92
    step_up: Annotated[float, Meta(gt=0, le=100)] = 1.0
    impeller_inertia_kg_m2: AmountOrZero | None = None
    intercooler_effectiveness: Annotated[float, Meta(ge=0, le=1)] = 0.0
    known_point: KnownPoint | None = None
    map_csv: str | None = None

    def __post_init__(self) -> None:
        if self.model == "positive_displacement" and self.displacement_l_per_rev is None:
            raise fault("displacement_l_per_rev", "the litres it displaces in one turn")
        if self.model == "centrifugal" and self.known_point is None:
            raise fault("known_point", "one known point: unit_rpm and boost_kpa")


ShaftLoad = TableLoad | ConstantTorqueLoad | PowerLawLoad | SuperchargerLoad


class OutputCurve(Part, frozen=True, kw_only=True):
    """Current of an alternator against its own speed, linear between points; none below the first.

    volts, efficiency: what its belt load follows from; absent, those usual for its kind.
    """

    rpm: Annotated[tuple[Annotated[float, Meta(ge=0, le=1e6)], ...], Meta(min_length=2)]
    current_a: tuple[AmountOrZero, ...]
    volts: Annotated[float, Meta(gt=0, le=1000)] | None = None
    efficiency: Efficiency | None = None

    def __post_init__(self) -> None:
        if len(self.rpm) != len(self.current_a):
            raise fault(
                "current_a",
                f"as many currents as speeds ({len(self.rpm)}), not {len(self.current_a)}",
            )
        if any(b <= a for a, b in zip(self.rpm, self.rpm[1:], strict=False)):
            raise fault("rpm", "speeds in rising order")


class Shaft(Part, frozen=True, kw_only=True):
    """A shaft seen from the front; several pulleys may sit on it.

    min_rpm: the least speed at which it is of use, wanted at idle; output: what an alternator gives,
    bank: the bank of batteries it is on; end_play_…: as measured, and the most allowed.
    face_mm: z of the face a pulley is mounted against; nose_…: what a pulley must fit; bearing_mm: z of
    its foremost bearing; part: what is on it from the shelf.
    """

    id: Name
    name: str = ""
    kind: ShaftKind
    center_mm: Point
    mount: Mount | None = None
    load: ShaftLoad | None = None
    inertia_kg_m2: AmountOrZero | None = None
    max_rpm: Rpm | None = None
    min_rpm: Rpm | None = None
    output: OutputCurve | None = None
    bank: Name | None = None
    end_play_mm: Annotated[float, Meta(ge=0, le=50)] | None = None
    end_play_limit_mm: Annotated[float, Meta(ge=0, le=50)] | None = None
    needs_rotation: Literal["either", "cw", "ccw"] | None = None
    hub_load_limit_n: Amount | None = None
    part: Name | None = None
    face_mm: Mm | None = None
    nose_bore_mm: SizeMm | None = None
    nose_pilot_mm: SizeMm | None = None
    nose_bolt_circle: BoltCircle | None = None
    nose_fixing: Fixing | None = None
    bearing_mm: Mm | None = None
    hub_moment_limit_nm: Amount | None = None

    def __post_init__(self) -> None:
        if None not in (self.min_rpm, self.max_rpm) and self.min_rpm > self.max_rpm:  # type: ignore[operator]
            raise fault("min_rpm", f"no more than max_rpm ({self.max_rpm:g})")

    @property
    def label(self) -> str:
        """What the shaft is called on screen."""
        return self.name or self.id
