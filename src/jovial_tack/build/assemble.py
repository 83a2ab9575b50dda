"""From a build and the catalogue to drives the mechanics can solve.

Absent figures are filled in here, and only here, from the profile, the construction and the shaft's
kind, so that one place knows what is representative.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import radians
from typing import Any

import numpy as np

from jovial_tack.build import model as doc
from jovial_tack.build.air import blower_load
from jovial_tack.catalogue import Catalogue, Construction, Profile
from jovial_tack.core.belt.lines import (
    cord_length,
    cord_radius,
    effective_length,
    ribbed_seat_offset,
)
from jovial_tack.core.drive.arm import Layout, SpringArm
from jovial_tack.core.drive.inverse import belt_for_angle
from jovial_tack.core.drive.loads import ConstantTorque, Load, NoLoad, PowerLaw, PowerTable
from jovial_tack.core.drive.path import trace
from jovial_tack.core.drive.sliding import Slide, Slot, Swing, Track, slide_to
from jovial_tack.core.drive.solve import Drive, Locked
from jovial_tack.core.drive.states import BeltState
from jovial_tack.core.drive.train import CarriedLoad, order_drives
from jovial_tack.core.fit.alignment import Seats

_SIGN = {"ccw": 1, "cw": -1}


@dataclass(frozen=True)
class BeltFigures:
    """A belt with every figure known; representative: those taken from the catalogue."""

    profile: Profile
    construction: Construction
    ribs: int
    stiffness_n: float
    mass_kg_per_m: float
    reference_tension_n: float
    friction_ribs: float
    friction_back: float
    representative: tuple[str, ...]

    def state(self, effective_length_mm: float) -> BeltState:
        """The belt as a spring, for a nominal effective length."""
        return BeltState(
            np.asarray(cord_length(effective_length_mm, self.profile.effective_to_cord_mm)),
            np.asarray(self.stiffness_n),
            np.asarray(self.reference_tension_n),
        )


@dataclass(frozen=True, eq=False)
class DriveCase:
    """Everything one drive's results depend on. Cases with equal keys have equal results.

    drive is None where the drive cannot be handed to the mechanics: nothing drives it, or it closes
    a loop (`problem` says which). order: pulleys on the route; shafts: the shaft of each; slide: where
    the belt puts the shaft of a locked drive that can be moved.
    """

    model: doc.Drive
    engine: doc.Engine
    pulleys: tuple[doc.Pulley, ...]
    shafts: tuple[doc.Shaft, ...]
    belt: BeltFigures
    driver: int
    signs: tuple[int, ...]
    drive: Drive | None
    problem: str | None
    key: tuple[Any, ...]
    slide: Slide | None = None

    @property
    def arm(self) -> SpringArm | None:
        """The spring arm, if the drive has one."""
        adjuster = self.drive.adjuster if self.drive else None
        return adjuster if isinstance(adjuster, SpringArm) else None

    @property
    def locked_shaft(self) -> str | None:
        """The shaft a locked drive is tensioned by; None for other drives."""
        tensioner = self.model.tensioner
        return tensioner.shaft if isinstance(tensioner, doc.LockedTensioner) else None

    @property
    def track(self) -> Track | None:
        """The travel of the shaft a locked drive is tensioned by; None if it has none."""
        held = self.locked_shaft
        return track_on(next((s.mount for s in self.shafts if s.id == held), None))

    @property
    def moving(self) -> tuple[int, ...]:
        """The places on the route of the shaft a locked drive is tensioned by."""
        return tuple(k for k, shaft in enumerate(self.shafts) if shaft.id == self.locked_shaft)

    @property
    def decided(self) -> bool:
        """Whether tension can be computed: a tensioner is chosen and it has what it needs."""
        tensioner = self.model.tensioner
        if tensioner is None:
            return False
        needs_length = not isinstance(tensioner, doc.LockedTensioner)
        return not needs_length or self.model.belt.effective_length_mm is not None

    def label(self, pulley_id: str) -> str:
        """What a pulley is called on screen: the name of its shaft."""
        place = self.model.route.index(pulley_id)
        return self.shafts[place].label

    def seats(self) -> Seats:
        """Where the belt sits along z on each pulley."""
        pitch = self.belt.profile.pitch_mm
        planes = [
            np.nan
            if pulley.plane_mm is None
            else pulley.plane_mm + seat_offset(pulley, self.belt.ribs, pitch)
            for pulley in self.pulleys
        ]
        tilt = np.radians(np.array([pulley.tilt_deg for pulley in self.pulleys], dtype=float))
        return Seats(np.array(planes), tilt, np.array([p.side == "back" for p in self.pulleys]))


def seat_offset(pulley: doc.Pulley, ribs: int, pitch_mm: float) -> float:
    """How far the belt's centre sits before the groove centre of a pulley, mm."""
    if pulley.grooves is None or pulley.first_groove is None or pulley.side == "back":
        return 0.0
    return ribbed_seat_offset(pulley.first_groove, ribs, pulley.grooves, pitch_mm)


def belt_figures(belt: doc.Belt, catalogue: Catalogue) -> BeltFigures:
    """A belt with the gaps filled from its profile and construction.

    Raises CatalogueError for an unknown profile or construction.
    """
    profile = catalogue.profile(belt.profile)
    built = catalogue.construction(belt.profile, belt.construction)
    taken: list[str] = []

    def given_or(name: str, representative: float) -> float:
        value: float | None = getattr(belt, name)
        if value is None:
            taken.append(name)
            return representative
        return value

    stiffness = given_or("stiffness_n_per_rib", built.stiffness_n_per_rib)
    mass = given_or("mass_kg_per_m_per_rib", built.mass_kg_per_m_per_rib)
    reference = given_or("reference_tension_n_per_rib", profile.reference_tension_n_per_rib)
    ribs, back = (
        given_or("friction_ribs", built.friction_ribs),
        given_or("friction_back", built.friction_back),
    )
    return BeltFigures(
        profile,
        built,
        belt.ribs,
        stiffness * belt.ribs,
        mass * belt.ribs,
        reference * belt.ribs,
        ribs,
        back,
        tuple(taken),
    )


def assemble(build: doc.Build, catalogue: Catalogue) -> tuple[DriveCase, ...]:
    """The cases of all drives, in the build's order; speeds go outward, loads come back inward."""
    crank = next((shaft.id for shaft in build.shafts if shaft.kind == "crank"), "")
    train = order_drives(
        crank, {drive.id: [pulley.shaft for pulley in _on_route(drive)] for drive in build.drives}
    )
    turning: dict[str, tuple[int, float]] = {crank: (_SIGN[build.engine.crank_rotation], 1.0)}
    drivers = dict(train.order)
    placed: dict[str, tuple[int, tuple[int, ...], float]] = {}
    belts = {drive.id: belt_figures(drive.belt, catalogue) for drive in build.drives}
    for name, driver_shaft in train.order:
        drive = build.drive(name)
        pulleys = _on_route(drive)
        driver = next(i for i, pulley in enumerate(pulleys) if pulley.shaft == driver_shaft)
        sign, speed = turning[driver_shaft]
        radii = [_radius(pulley, belts[name]) for pulley in pulleys]
        signs = tuple(sign if pulley.side == pulleys[driver].side else -sign for pulley in pulleys)
        placed[name] = (driver, signs, speed)
        for pulley, pulley_sign, radius in zip(pulleys, signs, radii, strict=True):
            turning.setdefault(pulley.shaft, (pulley_sign, speed * radii[driver] / radius))
    layouts = _laid_out(build, belts, placed)
    cases: dict[str, DriveCase] = {}
    for name, _ in reversed(train.order):
        outer = {
            shaft: tuple(case for other, case in cases.items() if drivers[other] == shaft)
            for shaft in {pulley.shaft for pulley in build.drive(name).pulleys}
        }
        cases[name] = _case(build, name, catalogue, belts[name], placed[name], layouts[name], outer)
    for name in train.idle + train.looped:
        problem = "looped" if name in train.looped else "idle"
        cases[name] = _unsolvable(build, name, belts[name], problem)
    return tuple(cases[drive.id] for drive in build.drives)


def _laid_out(
    build: doc.Build,
    belts: Mapping[str, BeltFigures],
    placed: Mapping[str, tuple[int, tuple[int, ...], float]],
) -> dict[str, tuple[Layout, Slide | None]]:
    """The layout of every drive, from the crank outward: a shaft that its belt moves stands where the
    belt puts it, for the other belts on it too.
    """
    centers = {shaft.id: complex(*shaft.center_mm) for shaft in build.shafts}
    slides: dict[str, Slide] = {}
    for name in placed:
        drive = build.drive(name)
        track, length = track_of(build, drive), drive.belt.effective_length_mm
        if track is None or length is None:
            continue
        assert isinstance(drive.tensioner, doc.LockedTensioner)
        shaft = drive.tensioner.shaft
        belt = belts[name]
        layout = _layout(drive, belt, placed[name], centers)
        moved = tuple(k for k, pulley in enumerate(_on_route(drive)) if pulley.shaft == shaft)
        pull = drive.tensioner.installed_tension_n
        slide = slide_to(layout, moved, track, belt.state(length), pull, centers[shaft])
        slides[name] = slide
        if slide.share is not None:
            centers[shaft] = complex(track.center(np.asarray(slide.share)))
    return {
        name: (_layout(build.drive(name), belts[name], placed[name], centers), slides.get(name))
        for name in placed
    }


def _layout(
    drive: doc.Drive,
    belt: BeltFigures,
    placed: tuple[int, tuple[int, ...], float],
    centers: Mapping[str, complex],
) -> Layout:
    driver, signs, _ = placed
    pulleys = _on_route(drive)
    rho = np.array([s * _radius(p, belt) for s, p in zip(signs, pulleys, strict=True)])
    return Layout(np.array([centers[pulley.shaft] for pulley in pulleys]), rho, driver)


def track_of(build: doc.Build, drive: doc.Drive) -> Track | None:
    """The travel of the shaft a locked drive is tensioned by; None if it has none."""
    tensioner = drive.tensioner
    if not isinstance(tensioner, doc.LockedTensioner):
        return None
    return track_on(build.shaft(tensioner.shaft).mount)


def track_on(
    mount: doc.FixedMount | doc.HolesMount | doc.SlotMount | doc.SwingMount | None,
) -> Track | None:
    """The travel a mount allows; None if it allows none."""
    if isinstance(mount, doc.SlotMount) and mount.from_mm != mount.to_mm:
        return Slot(complex(*mount.from_mm), complex(*mount.to_mm))
    if isinstance(mount, doc.SwingMount) and mount.from_deg != mount.to_deg:
        start, end = radians(mount.from_deg), radians(mount.to_deg)
        return Swing(complex(*mount.pivot_mm), mount.radius_mm, start, end)
    return None


def _on_route(drive: doc.Drive) -> tuple[doc.Pulley, ...]:
    return tuple(drive.pulley(name) for name in drive.route)


def _radius(pulley: doc.Pulley, belt: BeltFigures) -> float:
    profile = belt.profile
    offset = profile.effective_to_cord_mm if pulley.side == "ribs" else profile.cord_to_back_mm
    return cord_radius(pulley.diameter_mm, offset)


def _case(
    build: doc.Build,
    name: str,
    catalogue: Catalogue,
    belt: BeltFigures,
    placed: tuple[int, tuple[int, ...], float],
    laid_out: tuple[Layout, Slide | None],
    outer: Mapping[str, tuple[DriveCase, ...]],
) -> DriveCase:
    drive_model = build.drive(name)
    driver, signs, speed = placed
    pulleys = _on_route(drive_model)
    shafts = tuple(build.shaft(pulley.shaft) for pulley in pulleys)
    layout, slide = laid_out
    friction = [
        (belt.friction_ribs if p.side == "ribs" else belt.friction_back) * p.friction_scale
        for p in pulleys
    ]
    loads: list[Load] = []
    for place, shaft in enumerate(shafts):
        own = load_of(shaft, catalogue)
        ratio = speed * abs(layout.signed_radii[driver] / layout.signed_radii[place])
        own = blower_load(build, shaft, float(ratio)) or own
        if runs_free(pulleys[place], signs[place]):
            own = NoLoad()
        free = runs_free(pulleys[place], signs[place])
        beyond = () if place == driver or free else outer[shaft.id]
        further = tuple(case.drive for case in beyond if case.drive is not None)
        loads.append(CarriedLoad(own, further) if further else own)
    solvable = Drive(
        layout,
        adjuster_of(drive_model, layout, belt),
        belt.state(drive_model.belt.effective_length_mm or 1.0),
        belt.mass_kg_per_m,
        np.array(friction),
        tuple(loads),
        speed,
    )
    beyond_keys = tuple(
        case.key for i, shaft in enumerate(shafts) if i != driver for case in outer[shaft.id]
    )
    stands = tuple(layout.centers.tolist())
    key = (drive_model, shafts, build.engine, build.air, driver, signs, speed, stands, beyond_keys)
    return DriveCase(
        drive_model, build.engine, pulleys, shafts, belt, driver, signs, solvable, None, key, slide
    )


def runs_free(pulley: doc.Pulley, sign: int) -> bool:
    """Whether a one-way pulley turns against its way, so that its shaft stands still."""
    return pulley.one_way is not None and _SIGN[pulley.one_way] != sign


def _unsolvable(build: doc.Build, name: str, belt: BeltFigures, problem: str) -> DriveCase:
    drive = build.drive(name)
    pulleys = _on_route(drive)
    shafts = tuple(build.shaft(pulley.shaft) for pulley in pulleys)
    key = (drive, shafts, build.engine, problem)
    return DriveCase(drive, build.engine, pulleys, shafts, belt, 0, (), None, problem, key)


def load_of(shaft: doc.Shaft, catalogue: Catalogue) -> Load:
    """The load of a shaft; the representative one of its kind where the build gives none."""
    load: Any = shaft.load
    if load is None or isinstance(load, doc.SuperchargerLoad):
        typical = catalogue.kinds[shaft.kind].load
        if typical is None:
            return NoLoad()
        if typical["type"] == "table":
            return PowerTable(tuple(typical["rpm"]), tuple(typical["power_kw"]))
        if typical["type"] == "power_law":
            return PowerLaw(typical["torque_nm"], typical["at_rpm"], typical["exponent"])
        return ConstantTorque(typical["torque_nm"])
    if isinstance(load, doc.TableLoad):
        return PowerTable(load.rpm, load.power_kw)
    if isinstance(load, doc.PowerLawLoad):
        return PowerLaw(load.torque_nm, load.at_rpm, load.exponent)
    return ConstantTorque(load.torque_nm)


def adjuster_of(drive: doc.Drive, layout: Layout, belt: BeltFigures) -> SpringArm | Locked:
    """The drive's adjuster; a stretch belt keeps the tension its path gives it.

    Undecided drives stand as locked at no tension.
    """
    tensioner, length = drive.tensioner, drive.belt.effective_length_mm
    if isinstance(tensioner, doc.LockedTensioner):
        return Locked(tensioner.installed_tension_n)
    if isinstance(tensioner, doc.StretchTensioner) and length is not None:
        path = trace(layout.centers, layout.signed_radii)
        return Locked(float(belt.state(length).tension_at(path.total)))
    if not isinstance(tensioner, doc.SpringArmTensioner):
        return Locked(0.0)
    push = _SIGN[tensioner.pushes]
    turned = notch_offset_deg(tensioner)

    def ordered(pair: tuple[float, float]) -> tuple[float, float]:
        wound, unwound = sorted(pair, reverse=push < 0)
        return radians(wound + turned), radians(unwound + turned)

    return SpringArm(
        index=drive.route.index(tensioner.pulley),
        pivot=complex(*tensioner.pivot_mm),
        arm_mm=tensioner.arm_mm,
        push=push,
        angle=radians(tensioner.angle_deg + turned),
        torque_nm=tensioner.torque_nm,
        rate_nm_per_rad=tensioner.rate_nm_per_deg / radians(1.0),
        stops=ordered(tensioner.stops_deg),
        window=ordered(tensioner.window_deg or tensioner.stops_deg),
    )


def notch_offset_deg(tensioner: doc.SpringArmTensioner) -> float:
    """Degrees the chosen notch turns the whole tensioner, counter-clockwise positive."""
    if not tensioner.notches_deg or tensioner.notch is None:
        return 0.0
    return tensioner.notches_deg[tensioner.notch]


def window_lengths(
    case: DriveCase, usable: tuple[float, float] | None = None
) -> tuple[float, float] | None:
    """Shortest and longest effective length, mm, of a belt that rests inside the arm's window.

    usable: arm angles, rad, that collisions leave, if some are in the way. None without an arm, or
    where no angle of the window has a path and a lever. METHOD 5.
    """
    drive, arm = case.drive, case.arm
    if drive is None or arm is None:
        return None
    low, high = sorted(arm.window)
    if usable is not None:
        low, high = max(low, min(usable)), min(high, max(usable))
        if low > high:
            return None
    cords = belt_for_angle(drive.layout, arm, drive.belt, np.linspace(low, high, 13))
    if np.isnan(cords).all():
        return None
    lengths = effective_length(cords, case.belt.profile.effective_to_cord_mm)
    return float(np.nanmin(lengths)), float(np.nanmax(lengths))
