"""The build file as frozen models; one build is one value (docs/ARCHITECTURE.md, "The document").

Types are strict: no text or bool passes for a number, no NaN or infinity. Unknown keys are kept and
frozen; a key that was absent stays absent when written. What one field cannot know by itself (ids
that must match, routes) is checked by `Build`.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator
from pydantic_core import PydanticCustomError

from jovial_tack.build.frozen import FrozenDict, freeze

FORMAT = "jovial-tack/build"
VERSION = 1

Rotation = Literal["cw", "ccw"]
Mm = Annotated[float, Field(ge=-1e5, le=1e5)]
SizeMm = Annotated[float, Field(gt=0, le=1e5)]
DiameterMm = Annotated[float, Field(gt=0, ge=0.1, le=1e4)]
Degrees = Annotated[float, Field(ge=-1e5, le=1e5)]
Rpm = Annotated[float, Field(gt=0, le=1e6)]
Amount = Annotated[float, Field(gt=0, le=1e9)]
AmountOrZero = Annotated[float, Field(ge=0, le=1e9)]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Point = tuple[Mm, Mm]

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


class Part(BaseModel):
    """Base of all parts of a build: frozen, strict, unknown keys kept."""

    model_config = ConfigDict(
        frozen=True, strict=True, extra="allow", allow_inf_nan=False, defer_build=True
    )

    @model_validator(mode="after")
    def _freeze_unknown_keys(self) -> Part:
        extra = self.__pydantic_extra__
        if extra is not None and not isinstance(extra, FrozenDict):
            object.__setattr__(self, "__pydantic_extra__", freeze(extra))
        return self


Efficiency = Annotated[float, Field(gt=0, le=1)]


class AirState(Part):
    """Air outside the engine."""

    pressure_kpa: Annotated[float, Field(ge=10, le=200)] = 101.325
    temperature_c: Annotated[float, Field(ge=-90, le=90)] = 25.0


class FillingCurve(Part):
    """Volumetric efficiency against engine speed, linear between points and held beyond the ends."""

    rpm: Annotated[tuple[Rpm, ...], Field(min_length=1)]
    value: Annotated[tuple[Annotated[float, Field(gt=0, le=3)], ...], Field(min_length=1)]

    @model_validator(mode="after")
    def _is_a_curve(self) -> FillingCurve:
        if len(self.rpm) != len(self.value):
            raise fault("value", f"as many values as speeds ({len(self.rpm)})")
        if any(b <= a for a, b in zip(self.rpm, self.rpm[1:], strict=False)):
            raise fault("rpm", "speeds in rising order")
        return self


class Engine(Part):
    """The engine; crank_rotation as seen from in front of its accessory end."""

    name: str = ""
    idle_rpm: Rpm
    cruise_rpm: Rpm
    redline_rpm: Rpm
    crank_rotation: Rotation
    cylinders: Annotated[int, Field(ge=1, le=64)] | None = None
    displacement_l: Amount | None = None
    strokes: Literal[2, 4] = 4
    volumetric_efficiency: Annotated[float, Field(gt=0, le=3)] | FillingCurve = 0.9

    @model_validator(mode="after")
    def _speeds_rise(self) -> Engine:
        if not self.idle_rpm <= self.cruise_rpm <= self.redline_rpm:
            raise fault("redline_rpm", "idle, cruise and redline speed in rising order")
        return self


class FixedMount(Part):
    """A shaft that stays where it is."""

    type: Literal["fixed"]


class HolesMount(Part):
    """A shaft that can be bolted into one of several holes."""

    type: Literal["holes"]
    positions_mm: tuple[Point, ...]
    at: Annotated[int, Field(ge=0)] = 0


class SlotMount(Part):
    """A shaft that slides along a straight slot, by hand or by a screw of some pitch."""

    type: Literal["slot"]
    from_mm: Point
    to_mm: Point
    screw_pitch_mm: SizeMm | None = None


class SwingMount(Part):
    """A shaft that swings about a bolt, by hand or by a screw that pushes at some radius (absent: at
    that of the shaft).
    """

    type: Literal["swing"]
    pivot_mm: Point
    radius_mm: SizeMm
    from_deg: Degrees
    to_deg: Degrees
    screw_pitch_mm: SizeMm | None = None
    screw_radius_mm: SizeMm | None = None


AnyMount = FixedMount | HolesMount | SlotMount | SwingMount
Mount = Annotated[AnyMount, Field(discriminator="type")]


class TableLoad(Part):
    """Power against the shaft's own speed, linear between points."""

    type: Literal["table"]
    rpm: Annotated[tuple[Annotated[float, Field(ge=0, le=1e6)], ...], Field(min_length=2)]
    power_kw: tuple[AmountOrZero, ...]

    @model_validator(mode="after")
    def _is_a_curve(self) -> TableLoad:
        if len(self.rpm) != len(self.power_kw):
            raise fault(
                "power_kw", f"as many powers as speeds ({len(self.rpm)}), not {len(self.power_kw)}"
            )
        if any(b <= a for a, b in zip(self.rpm, self.rpm[1:], strict=False)):
            raise fault("rpm", "speeds in rising order")
        return self


class ConstantTorqueLoad(Part):
    """The same torque at every speed."""

    type: Literal["constant_torque"]
    torque_nm: AmountOrZero


class PowerLawLoad(Part):
    """Torque in proportion to speed to a power."""

    type: Literal["power_law"]
    torque_nm: AmountOrZero
    at_rpm: Rpm
    exponent: Annotated[float, Field(ge=-1, le=5)]


class KnownPoint(Part):
    """One point at which a centrifugal blower is known; unit_rpm: of its input pulley; air absent: the
    build's.
    """

    unit_rpm: Rpm
    boost_kpa: Annotated[float, Field(gt=0, le=2000)]
    air: AirState | None = None


class SuperchargerLoad(Part):
    """A blower described by its air side. Without a model its shaft takes the representative load."""

    type: Literal["supercharger"]
    model: Literal["positive_displacement", "centrifugal"] | None = None
    displacement_l_per_rev: Annotated[float, Field(gt=0, le=1000)] | None = None
    volumetric_efficiency: Annotated[float, Field(gt=0, le=1.5)] = 0.9
    adiabatic_efficiency: Efficiency = 0.65
    mechanical_efficiency: Efficiency = 0.92
    step_up: Annotated[float, Field(gt=0, le=100)] = 1.0
    intercooler_effectiveness: Annotated[float, Field(ge=0, le=1)] = 0.0
    known_point: KnownPoint | None = None
    map_csv: str | None = None

    @model_validator(mode="after")
    def _can_be_computed(self) -> SuperchargerLoad:
        if self.model == "positive_displacement" and self.displacement_l_per_rev is None:
            raise fault("displacement_l_per_rev", "the litres it displaces in one turn")
        if self.model == "centrifugal" and self.known_point is None:
            raise fault("known_point", "one known point: unit_rpm and boost_kpa")
        return self


ShaftLoad = Annotated[
    TableLoad | ConstantTorqueLoad | PowerLawLoad | SuperchargerLoad, Field(discriminator="type")
]


Fixing = Literal["keyed", "pressed", "bolted"]
BoltCircle = tuple[Annotated[int, Field(ge=1, le=100)], SizeMm]


class Shaft(Part):
    """A shaft seen from the front; several pulleys may sit on it.

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

    @property
    def label(self) -> str:
        """What the shaft is called on screen."""
        return self.name or self.id


class Belt(Part):
    """A belt; absent figures fall back to those of its profile and construction."""

    profile: Name
    ribs: Annotated[int, Field(ge=1, le=60)]
    construction: Literal["standard", "soft_grip", "low_stretch", "stretch_fit"] = "standard"
    effective_length_mm: SizeMm | None = None
    stiffness_n_per_rib: Amount | None = None
    mass_kg_per_m_per_rib: Annotated[float, Field(gt=0, le=10)] | None = None
    friction_ribs: Annotated[float, Field(gt=0, le=10)] | None = None
    friction_back: Annotated[float, Field(gt=0, le=10)] | None = None
    reference_tension_n_per_rib: AmountOrZero | None = None
    owned: bool | None = None
    price: AmountOrZero | None = None


class Pulley(Part):
    """A pulley of one drive on a shaft. one_way: the only way in which it turns its shaft along; part:
    which one of the shelf it is.
    """

    id: Name
    shaft: Name
    diameter_mm: DiameterMm
    side: Literal["ribs", "back"]
    grooves: Annotated[int, Field(ge=1, le=60)] | None = None
    first_groove: Annotated[int, Field(ge=1, le=60)] | None = None
    plane_mm: Mm | None = None
    tilt_deg: tuple[
        Annotated[float, Field(ge=-45, le=45)], Annotated[float, Field(ge=-45, le=45)]
    ] = (0.0, 0.0)
    flange_mm: Annotated[float, Field(ge=-100, le=100)] | None = None
    friction_scale: Annotated[float, Field(gt=0, le=100)] = 1.0
    one_way: Rotation | None = None
    part: Name | None = None


class SpringArmTensioner(Part):
    """A sprung arm; angles are any real degrees, never normalised.

    wrench_mm: length of the wrench it is wound back with, from the pivot; wrench_deg: its angle to the
    arm.
    """

    type: Literal["spring_arm"]
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
    notch: Annotated[int, Field(ge=0)] | None = None
    damping_fraction: Annotated[float, Field(ge=0, lt=1)] | None = None
    wrench_mm: SizeMm | None = None
    wrench_deg: Degrees = 0.0

    @model_validator(mode="after")
    def _has_travel(self) -> SpringArmTensioner:
        if self.stops_deg[0] == self.stops_deg[1]:
            raise fault("stops_deg", "two different angles")
        if self.window_deg is not None and self.window_deg[0] == self.window_deg[1]:
            raise fault("window_deg", "two different angles")
        if self.notch is not None and self.notch >= max(1, len(self.notches_deg or ())):
            raise fault("notch", "the place of one of notches_deg, counted from 0")
        return self


class LockedTensioner(Part):
    """A shaft moved until the belt carries its installed tension, then bolted."""

    type: Literal["locked"]
    shaft: Name
    installed_tension_n: Amount


class StretchTensioner(Part):
    """Nothing moves: the belt's own stretch makes the tension."""

    type: Literal["stretch"]


Tensioner = Annotated[
    SpringArmTensioner | LockedTensioner | StretchTensioner, Field(discriminator="type")
]


class Drive(Part):
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

    @model_validator(mode="after")
    def _hangs_together(self) -> Drive:
        ids = [pulley.id for pulley in self.pulleys]
        _unique(ids, "pulleys", "id")
        if len(self.route) < 2:
            raise fault("route", "at least two pulleys")
        for place, name in enumerate(self.route):
            if name not in ids:
                raise fault(f"route[{place}]", f"one of the drive's pulleys, not “{name}”")
            if name in self.route[:place]:
                raise fault(f"route[{place}]", f"every pulley once; “{name}” stands there twice")
        for place, name in enumerate(ids):
            if name not in self.route:
                raise fault(
                    "route", f"every pulley of the drive; “{name}” (pulleys[{place}]) is missing"
                )
        tensioner = self.tensioner
        if isinstance(tensioner, SpringArmTensioner) and tensioner.pulley not in ids:
            raise fault("tensioner.pulley", f"one of the drive's pulleys, not “{tensioner.pulley}”")
        if isinstance(tensioner, LockedTensioner) and tensioner.shaft not in {
            pulley.shaft for pulley in self.pulleys
        }:
            raise fault("tensioner.shaft", f"a shaft of this drive, not “{tensioner.shaft}”")
        return self


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


class Obstacle(Part):
    """Something in the way, seen from the front; z_mm: the depths it takes up, any if absent.

    moves_with: a shaft it hangs on (the body of an accessory); its outline is then drawn for the place
    of that shaft in the file, and goes with it along its slot or swing.
    """

    id: Name
    name: str = ""
    kind: ObstacleKindName
    outline_mm: Annotated[tuple[Point, ...], Field(min_length=2, max_length=500)]
    closed: bool = True
    z_mm: tuple[Mm, Mm] | None = None
    needed_mm: AmountOrZero | None = None
    moves_with: Name | None = None

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id


class PinnedNote(Part):
    """A note pinned to a place of the front view."""

    id: Name
    text: Annotated[str, Field(max_length=2000)]
    at_mm: Point


class ShelfPart(Part):
    """A part on the shelf; which figures it has depends on its kind.

    count: how many there are, 0 for one to buy. offset_mm: from the mounting face to the groove centre,
    forward. readings: (degrees wound back, pull in N) of a scale square to a tensioner's arm, lever_mm
    from its pivot (absent: at the end of the arm).
    """

    id: Name
    name: str = ""
    kind: Literal["pulley", "idler", "tensioner", "accessory", "spacer", "washer", "bolt"]
    count: Annotated[int, Field(ge=0, le=100000)] = 1
    price: AmountOrZero | None = None
    note: str = ""
    diameter_mm: DiameterMm | None = None
    side: Literal["ribs", "back"] | None = None
    grooves: Annotated[int, Field(ge=1, le=60)] | None = None
    flange_mm: Annotated[float, Field(ge=-100, le=100)] | None = None
    coating: str = ""
    friction_scale: Annotated[float, Field(gt=0, le=100)] | None = None
    bore_mm: SizeMm | None = None
    pilot_mm: SizeMm | None = None
    bolt_circle: BoltCircle | None = None
    fixing: Fixing | None = None
    offset_mm: Mm | None = None
    arm_mm: SizeMm | None = None
    lever_mm: SizeMm | None = None
    readings: Annotated[tuple[tuple[Degrees, Amount], ...], Field(max_length=20)] | None = None
    of: ShaftKind | None = None
    max_rpm: Rpm | None = None
    hub_load_limit_n: Amount | None = None
    needs_rotation: Literal["either", "cw", "ccw"] | None = None
    thickness_mm: SizeMm | None = None
    length_mm: SizeMm | None = None
    thread: str = ""

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id


class Bracket(Part):
    """A bracket that carries shafts, bolted on at one (`at`) of a few offsets."""

    id: Name
    name: str = ""
    shafts: Annotated[tuple[Name, ...], Field(min_length=1)]
    offsets_mm: Annotated[tuple[Point, ...], Field(min_length=1, max_length=100)]
    at: Annotated[int, Field(ge=0)] = 0

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id

    @model_validator(mode="after")
    def _is_somewhere(self) -> Bracket:
        if self.at >= len(self.offsets_mm):
            raise fault("at", "the place of one of offsets_mm, counted from 0")
        return self


class Build(Part):
    """One engine with its shafts and drives, and what is in their way."""

    format: Literal["jovial-tack/build"] = "jovial-tack/build"
    version: Annotated[int, Field(ge=1)] = VERSION
    title: str = ""
    notes: str = ""
    catalogue_version: str | None = None
    display_units: Literal["mm", "in"] = "mm"
    engine: Engine
    air: AirState = AirState()
    shafts: tuple[Shaft, ...] = ()
    drives: tuple[Drive, ...] = ()
    obstacles: tuple[Obstacle, ...] = ()
    brackets: tuple[Bracket, ...] = ()
    shelf: Annotated[tuple[ShelfPart, ...], Field(max_length=5000)] = ()
    pinned_notes: tuple[PinnedNote, ...] = ()
    variants: Annotated[tuple[Variant, ...], Field(max_length=12)] = ()

    def obstacle(self, obstacle_id: str) -> Obstacle:
        """The obstacle of that id; KeyError if there is none."""
        for obstacle in self.obstacles:
            if obstacle.id == obstacle_id:
                return obstacle
        raise KeyError(obstacle_id)

    def note(self, note_id: str) -> PinnedNote:
        """The pinned note of that id; KeyError if there is none."""
        for note in self.pinned_notes:
            if note.id == note_id:
                return note
        raise KeyError(note_id)

    def part(self, part_id: str) -> ShelfPart:
        """The part on the shelf of that id; KeyError if there is none."""
        for part in self.shelf:
            if part.id == part_id:
                return part
        raise KeyError(part_id)

    def bracket(self, bracket_id: str) -> Bracket:
        """The bracket of that id; KeyError if there is none."""
        for bracket in self.brackets:
            if bracket.id == bracket_id:
                return bracket
        raise KeyError(bracket_id)

    def shaft(self, shaft_id: str) -> Shaft:
        """The shaft of that id; KeyError if there is none."""
        for shaft in self.shafts:
            if shaft.id == shaft_id:
                return shaft
        raise KeyError(shaft_id)

    def drive(self, drive_id: str) -> Drive:
        """The drive of that id; KeyError if there is none."""
        for drive in self.drives:
            if drive.id == drive_id:
                return drive
        raise KeyError(drive_id)

    @model_validator(mode="after")
    def _hangs_together(self) -> Build:
        shafts = {shaft.id for shaft in self.shafts}
        _unique([shaft.id for shaft in self.shafts], "shafts", "id")
        _unique([drive.id for drive in self.drives], "drives", "id")
        _unique([obstacle.id for obstacle in self.obstacles], "obstacles", "id")
        _unique([note.id for note in self.pinned_notes], "pinned_notes", "id")
        _unique([bracket.id for bracket in self.brackets], "brackets", "id")
        _unique([part.id for part in self.shelf], "shelf", "id")
        shelf = {part.id for part in self.shelf}
        used = [(f"shafts[{k}].part", shaft.part) for k, shaft in enumerate(self.shafts)]
        for d, drive in enumerate(self.drives):
            used += [
                (f"drives[{d}].pulleys[{p}].part", q.part) for p, q in enumerate(drive.pulleys)
            ]
        for where, part in used:
            if part is not None and part not in shelf:
                raise fault(where, f"a part of the shelf, not “{part}”")
        for k, bracket in enumerate(self.brackets):
            for name in bracket.shafts:
                if name not in shafts:
                    raise fault(f"brackets[{k}].shafts", f"shafts of the build, not “{name}”")
        _unique([variant.name for variant in self.variants], "variants", "name")
        _unique([drive.label.casefold() for drive in self.drives], "drives", "name")
        cranks = [place for place, shaft in enumerate(self.shafts) if shaft.kind == "crank"]
        if len(cranks) > 1:
            raise fault(f"shafts[{cranks[1]}].kind", "one crank in a build, not two")
        for d, drive in enumerate(self.drives):
            for p, pulley in enumerate(drive.pulleys):
                if pulley.shaft not in shafts:
                    raise fault(
                        f"drives[{d}].pulleys[{p}].shaft",
                        f"one of the build's shafts, not “{pulley.shaft}”",
                    )
        for o, obstacle in enumerate(self.obstacles):
            if obstacle.moves_with is not None and obstacle.moves_with not in shafts:
                raise fault(
                    f"obstacles[{o}].moves_with",
                    f"one of the build's shafts, not “{obstacle.moves_with}”",
                )
        return self


class Variant(Part):
    """A rival state of a build, kept beside the present one."""

    name: Name
    build: Build

    @model_validator(mode="after")
    def _holds_no_further_ones(self) -> Variant:
        if self.build.variants:
            raise fault("build.variants", "no variants inside a variant")
        return self


Build.model_rebuild(raise_errors=False)


def fault(where: str, expected: str) -> PydanticCustomError:
    """An error that names a key below the model that found it."""
    return PydanticCustomError(
        "hangs_together", "{expected}", {"where": where, "expected": expected}
    )


def _unique(names: list[str], where: str, key: str) -> None:
    seen: dict[str, int] = {}
    for place, name in enumerate(names):
        if name in seen:
            raise fault(
                f"{where}[{place}].{key}",
                f"a name of its own; “{name}” is {where}[{seen[name]}] already",
            )
        seen[name] = place


def dump(build: Part) -> dict[str, Any]:
    """The build as plain JSON values: keys that were absent stay absent, unknown ones are kept."""
    return build.model_dump(mode="json", exclude_unset=True)
