"""One belt with its pulleys and tensioner."""

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
    Rotation,
    SizeMm,
    fault,
    unique,
)


class Belt(Part, frozen=True, kw_only=True):
    """A belt; absent figures fall back to those of its profile and construction. ribs: ribs, V-belts
    side by side, or mm of width of a toothed belt.
    """

    profile: Name
    ribs: Annotated[int, Meta(ge=1, le=200)]
    construction: Literal["standard", "soft_grip", "low_stretch", "stretch"] = "standard"
    effective_length_mm: SizeMm | None = None
    stiffness_n_per_rib: Amount | None = None
    mass_kg_per_m_per_rib: Annotated[float, Meta(gt=0, le=10)] | None = None
    friction_ribs: Annotated[float, Meta(gt=0, le=10)] | None = None
    friction_back: Annotated[float, Meta(gt=0, le=10)] | None = None
    reference_tension_n_per_rib: AmountOrZero | None = None
    owned: bool | None = None
    price: AmountOrZero | None = None


class Pulley(Part, frozen=True, kw_only=True):
    """A pulley of one drive on a shaft. one_way: the only way in which it turns its shaft along; part:
    which one of the shelf it is; former_mm: the diameter the engine had there before; groove_…: of a
    V-groove, its top width, depth and the angle between its flanks; rim_mm: from its groove plane to
    the face of its rim, forward; flush_plane_mm: its plane when it is pressed flush with the shaft's
    end.
    """

    id: Name
    shaft: Name
    diameter_mm: DiameterMm
    side: Literal["ribs", "back"]
    grooves: Annotated[int, Meta(ge=1, le=200)] | None = None
    first_groove: Annotated[int, Meta(ge=1, le=200)] | None = None
    plane_mm: Mm | None = None
    tilt_deg: tuple[
        Annotated[float, Meta(ge=-45, le=45)], Annotated[float, Meta(ge=-45, le=45)]
    ] = (0.0, 0.0)
    flange_mm: Annotated[float, Meta(ge=-100, le=100)] | None = None
    coating: str = ""
    friction_scale: Annotated[float, Meta(gt=0, le=100)] = 1.0
    one_way: Rotation | None = None
    former_mm: DiameterMm | None = None
    groove_width_mm: SizeMm | None = None
    groove_depth_mm: SizeMm | None = None
    groove_angle_deg: Annotated[float, Meta(ge=10, le=90)] | None = None
    rim_mm: Mm | None = None
    rim_sd_mm: Amount | None = None
    flush_plane_mm: Mm | None = None
    part: Name | None = None


class SpringArmTensioner(Part, frozen=True, kw_only=True, tag_field="type", tag="spring_arm"):
    """A sprung arm; angles are any real degrees, never normalised.

    wrench_mm: length of the wrench it is wound back with, from the pivot; wrench_deg: its angle to the
    arm.
    """

    pulley: Name
    pivot_mm: Point
    arm_mm: SizeMm
    pushes: Rotation
    angle_deg: Degrees
    torque_nm: Amount
    rate_nm_per_deg: AmountOrZero
    stops_deg: tuple[Degrees, Degrees]
    window_deg: tuple[Degrees, Degrees] | None = None
    notches_deg: tuple[Degrees, ...] | None = None
    notch: Annotated[int, Meta(ge=0)] | None = None
    damping_fraction: Annotated[float, Meta(ge=0, lt=1)] | None = None
    wrench_mm: SizeMm | None = None
    wrench_deg: Degrees = 0.0

    @property
    def told_window(self) -> tuple[float, float] | None:
        """The window, where one is told, degrees."""
        return self.window_deg

    def __post_init__(self) -> None:
        if self.stops_deg[0] == self.stops_deg[1]:
            raise fault("stops_deg", "two different angles")
        if self.window_deg is not None and self.window_deg[0] == self.window_deg[1]:
            raise fault("window_deg", "two different angles")
        if self.notch is not None and self.notch >= max(1, len(self.notches_deg or ())):
            raise fault("notch", "the place of one of notches_deg, counted from 0")


class SpringSlideTensioner(Part, frozen=True, kw_only=True, tag_field="type", tag="spring_slide"):
    """A sprung shaft that slides along its straight slot; places in mm from the slot's first end.

    pushes_to: the end of the slot its spring pushes it to; force_n at at_mm, more by rate_n_per_mm the
    further it is pushed back.
    """

    pulley: Name
    pushes_to: Literal["first", "second"] = "second"
    force_n: Amount
    at_mm: Mm = 0.0
    rate_n_per_mm: AmountOrZero
    window_mm: tuple[Mm, Mm] | None = None
    damping_fraction: Annotated[float, Meta(ge=0, lt=1)] | None = None

    @property
    def told_window(self) -> tuple[float, float] | None:
        """The window, where one is told, mm."""
        return self.window_mm

    def __post_init__(self) -> None:
        if self.window_mm is not None and self.window_mm[0] == self.window_mm[1]:
            raise fault("window_mm", "two different places")


class LockedTensioner(Part, frozen=True, kw_only=True, tag_field="type", tag="locked"):
    """A shaft moved until the belt carries its installed tension, then bolted."""

    shaft: Name
    installed_tension_n: Amount


class StretchTensioner(Part, frozen=True, kw_only=True, tag_field="type", tag="stretch"):
    """Nothing moves: the belt's own stretch makes the tension."""


Sprung = SpringArmTensioner | SpringSlideTensioner
Tensioner = SpringArmTensioner | SpringSlideTensioner | LockedTensioner | StretchTensioner


class Drive(Part, frozen=True, kw_only=True):
    """One belt, its pulleys, and their order in belt travel."""

    id: Name
    name: str = ""
    belt: Belt
    pulleys: tuple[Pulley, ...]
    route: tuple[Name, ...]
    tensioner: Tensioner | None = None

    @property
    def label(self) -> str:
        """What the drive is called on screen."""
        return self.name or self.id

    def pulley(self, pulley_id: str) -> Pulley:
        """The pulley of that id; KeyError if there is none."""
        for pulley in self.pulleys:
            if pulley.id == pulley_id:
                return pulley
        raise KeyError(pulley_id)

    def __post_init__(self) -> None:
        ids = [pulley.id for pulley in self.pulleys]
        unique(ids, "pulleys", "id")
        if len(self.route) < 2:
            raise fault("route", "at least two pulleys")
        self._check_route(ids)
        tensioner = self.tensioner
        if isinstance(tensioner, Sprung) and tensioner.pulley not in ids:
            raise fault("tensioner.pulley", f"one of the drive's pulleys, not “{tensioner.pulley}”")
        if isinstance(tensioner, SpringSlideTensioner):
            self._check_slide(self.pulley(tensioner.pulley).shaft)
        if isinstance(tensioner, LockedTensioner) and tensioner.shaft not in {
            pulley.shaft for pulley in self.pulleys
        }:
            raise fault("tensioner.shaft", f"a shaft of this drive, not “{tensioner.shaft}”")

    def _check_slide(self, shaft: str) -> None:
        """A slide carries one pulley of the belt it keeps tight."""
        if sum(pulley.shaft == shaft for pulley in self.pulleys) > 1:
            raise fault("tensioner.pulley", "the only pulley of the drive on its shaft")

    def _check_route(self, ids: list[str]) -> None:
        """Every pulley of the drive, and each once."""
        for place, name in enumerate(self.route):
            if name not in ids:
                raise fault(f"route[{place}]", f"one of the drive's pulleys, not “{name}”")
            if name in self.route[:place]:
                raise fault(f"route[{place}]", f"every pulley once; “{name}” stands there twice")
        for place, name in enumerate(ids):
            if name not in self.route:
                missing = f"every pulley of the drive; “{name}” (pulleys[{place}]) is missing"
                raise fault("route", missing)
