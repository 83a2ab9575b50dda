"""The rev plan, boost over the revs, and which pulleys make a boost (docs/METHOD.md, 11)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from jovial_tack.build.assemble import DriveCase, air_of, assemble, blower_of, engine_air
from jovial_tack.build.edits import set_diameter
from jovial_tack.build.model import Build
from jovial_tack.build.results import number
from jovial_tack.build.solve import solve
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.air.blower import Blower, Charge, Engine, charge_at, ratio_for_boost
from jovial_tack.core.errors import GeometryError

_STEP_MM = {"mm": 2.5, "in": 2.54}


@dataclass(frozen=True)
class PlannedShaft:
    """Speeds of one shaft; ratio over the crank, None where nothing turns it. margin: greatest speed
    over that at redline, less one; None without a greatest speed.
    """

    id: str
    name: str
    ratio: float | None
    idle_rpm: float | None
    cruise_rpm: float | None
    redline_rpm: float | None
    max_rpm: float | None
    margin: float | None

    def to_json(self) -> dict[str, Any]:
        """As `plan --json` tells it."""
        keys = ("ratio", "idle_rpm", "cruise_rpm", "redline_rpm", "max_rpm", "margin")
        return {"id": self.id, **{key: number(getattr(self, key)) for key in keys}}


def rev_plan(build: Build, catalogue: Catalogue) -> tuple[PlannedShaft, ...]:
    """Every shaft's speeds at idle, cruise and redline."""
    ratios = speed_ratios(build, catalogue)
    engine = build.engine
    plan = []
    for shaft in build.shafts:
        ratio = ratios.get(shaft.id)
        idle, cruise, top = (
            None if ratio is None else ratio * rpm
            for rpm in (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
        )
        most = shaft.max_rpm
        margin = None if most is None or top is None else most / top - 1.0
        plan.append(PlannedShaft(shaft.id, shaft.label, ratio, idle, cruise, top, most, margin))
    return tuple(plan)


def speed_ratios(build: Build, catalogue: Catalogue) -> dict[str, float]:
    """Speed of each shaft that turns over the crank's, from cord radii."""
    found = {shaft.id: 1.0 for shaft in build.shafts if shaft.kind == "crank"}
    for case in assemble(build, catalogue):
        if case.drive is None:
            continue
        for place, shaft in enumerate(case.shafts):
            if place != case.driver:
                found[shaft.id] = float(case.drive.ratios[place])
    return found


@dataclass(frozen=True)
class Charged:
    """A build's blower on its drive: all that a boost depends on."""

    case: DriveCase
    place: int
    blower: Blower
    engine: Engine

    @property
    def ratio(self) -> float:
        """Speed of the blower's input over the crank's."""
        assert self.case.drive is not None
        return float(self.case.drive.ratios[self.place])


def charged_drive(build: Build, catalogue: Catalogue) -> Charged:
    """The first blower that can be computed. Raises GeometryError that says what is missing."""
    engine = engine_air(build.engine)
    if engine is None:
        raise GeometryError("the engine's displacement_l is needed to compute a boost")
    for case in assemble(build, catalogue):
        for place, shaft in enumerate(case.shafts):
            blower = blower_of(build, shaft)
            if blower is not None and case.drive is not None and place != case.driver:
                return Charged(case, place, blower, engine)
    raise GeometryError(
        "no driven shaft carries a supercharger with its model; give its load a model"
        " (positive_displacement or centrifugal) and its figures"
    )


def boost_at(build: Build, catalogue: Catalogue, rpm: Sequence[float] | None = None) -> Charge:
    """What the blower makes at engine speeds, default idle, cruise and redline."""
    engine = build.engine
    listed = rpm or (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
    found = charged_drive(build, catalogue)
    air = air_of(build.air)
    return charge_at(found.blower, found.engine, air, np.array(listed, dtype=float), found.ratio)


def charge_json(charge: Charge) -> dict[str, Any]:
    """As `boost --json` tells it; lists run along rpm."""
    names = {
        "rpm": "engine_rpm", "blower_rpm": "blower_rpm", "boost_kpa": "boost_kpa",
        "pressure_ratio": "ratio", "discharge_c": "discharge_c", "power_kw": "power_kw",
        "mass_flow_kg_s": "mass_flow_kg_s",
    }  # fmt: skip
    return {key: [number(float(v)) for v in getattr(charge, name)] for key, name in names.items()}


@dataclass(frozen=True)
class PulleyPair:
    """A pair of pulleys: effective diameters of blower and driver, mm; whether it hits the wish exactly
    or is one of a stepped series; boost kPa at the wished engine speed; the blower's speed at redline;
    belt speed there; how the belt then lies. problem: why it cannot be had, with the nearest that can.
    """

    blower_mm: float
    crank_mm: float
    changed: str
    exact: bool
    ratio: float
    boost_kpa: float
    redline_boost_kpa: float
    redline_blower_rpm: float
    belt_speed_mps: float
    blower_wrap_deg: float | None
    worst_arc_used: float | None
    path_effective_length_mm: float | None
    arm_angle_deg: float | None
    problem: str | None

    def to_json(self) -> dict[str, Any]:
        """As `boost --target-kpa` tells it."""
        return dict(self.__dict__)


def pulleys_for(
    build: Build, catalogue: Catalogue, target_kpa: float, at_rpm: float
) -> tuple[PulleyPair, ...]:
    """Pulleys that make a boost at an engine speed: another blower pulley, or another driver pulley.

    For each the exact diameter and its two neighbours of a stepped series (2.5 mm, or 0.1 in), solved
    with the belt as it is. Raises GeometryError where no ratio makes that boost.
    """
    found = charged_drive(build, catalogue)
    air = air_of(build.air)
    ratio = ratio_for_boost(found.blower, found.engine, air, at_rpm, target_kpa)
    if ratio is None:
        raise GeometryError(
            f"no pulleys make {target_kpa:g} kPa at {at_rpm:g} rpm with this blower and engine"
        )
    case, step = found.case, _STEP_MM[build.display_units]
    drive = case.drive
    assert drive is not None
    driver, blower = case.pulleys[case.driver], case.pulleys[found.place]
    offsets = [
        float(drive.radii[place]) - case.pulleys[place].diameter_mm / 2
        for place in (case.driver, found.place)
    ]
    pairs = []
    for changed in ("blower", "crank"):
        if changed == "blower":
            radius = drive.speed_ratio * float(drive.radii[case.driver]) / ratio
            exact = 2 * (radius - offsets[1])
        else:
            radius = ratio * float(drive.radii[found.place]) / drive.speed_ratio
            exact = 2 * (radius - offsets[0])
        below = np.floor(exact / step) * step
        for size in (exact, float(below), float(below + step)):
            if size <= 1.0 or (size != exact and abs(size - exact) < 1e-6):
                continue
            diameters = (
                (size, driver.diameter_mm) if changed == "blower" else (blower.diameter_mm, size)
            )
            pairs.append(
                _pair(
                    build, catalogue, found, diameters, changed, size == exact, at_rpm, target_kpa
                )
            )
    return tuple(pairs)


def _pair(
    build: Build,
    catalogue: Catalogue,
    found: Charged,
    diameters: tuple[float, float],
    changed: str,
    exact: bool,
    at_rpm: float,
    target_kpa: float,
) -> PulleyPair:
    case, name = found.case, found.case.model.id
    driver, blower = case.pulleys[case.driver], case.pulleys[found.place]
    tried = set_diameter(build, name, blower.id, diameters[0])
    tried = set_diameter(tried, name, driver.id, diameters[1])
    now = charged_drive(tried, catalogue)
    redline = build.engine.redline_rpm
    air = air_of(build.air)
    charge = charge_at(now.blower, now.engine, air, np.array([at_rpm, redline]), now.ratio)
    result = solve(tried, None, catalogue).drive(name)
    pulley = result.pulley(blower.id)
    angle = getattr(result.tensioner, "arm_angle_deg", None)
    assert now.case.drive is not None
    return PulleyPair(
        blower_mm=diameters[0],
        crank_mm=diameters[1],
        changed=changed,
        exact=exact,
        ratio=now.ratio,
        boost_kpa=float(charge.boost_kpa[0]),
        redline_boost_kpa=float(charge.boost_kpa[1]),
        redline_blower_rpm=float(charge.blower_rpm[1]),
        belt_speed_mps=float(now.case.drive.speed(np.array(redline))),
        blower_wrap_deg=None if pulley is None else pulley.wrap_deg,
        worst_arc_used=None if pulley is None else pulley.worst_arc_used,
        path_effective_length_mm=result.path_effective_length_mm,
        arm_angle_deg=angle,
        problem=_problem(build, catalogue, now, diameters, at_rpm),
    )


def _problem(
    build: Build,
    catalogue: Catalogue,
    now: Charged,
    diameters: tuple[float, float],
    at_rpm: float,
) -> str | None:
    """Why a pair cannot be had, and the most boost that can."""
    case = now.case
    shaft, profile = case.shafts[now.place], case.belt.profile
    air, redline = air_of(build.air), build.engine.redline_rpm
    if shaft.max_rpm is not None and now.ratio * redline > shaft.max_rpm * (1 + 1e-9):
        most = shaft.max_rpm / redline
        boost = charge_at(now.blower, now.engine, air, np.array([at_rpm]), most).boost_kpa[0]
        return (
            f"{shaft.label} would turn {now.ratio * redline:.0f} rpm at redline, over its"
            f" {shaft.max_rpm:.0f} rpm limit; {boost:.1f} kPa is the most within it"
        )
    if diameters[0] < profile.least_grooved_mm:
        return (
            f"a {profile.name} belt should not bend round less than {profile.least_grooved_mm:g} mm;"
            " a larger pulley on the crank makes the same ratio"
        )
    return None


def set_speed_at_redline(
    build: Build, shaft_id: str, redline_rpm: float, catalogue: Catalogue
) -> Build:
    """Give a shaft the driven pulley with which it turns so fast at redline; the build as it is if
    nothing turns it.
    """
    for case in assemble(build, catalogue):
        if case.drive is None:
            continue
        for place, shaft in enumerate(case.shafts):
            if shaft.id != shaft_id or place == case.driver:
                continue
            offset = float(case.drive.radii[place]) - case.pulleys[place].diameter_mm / 2
            over = redline_rpm / build.engine.redline_rpm
            radius = case.drive.speed_ratio * float(case.drive.radii[case.driver]) / over
            size = round(2 * (radius - offset), 1)
            return set_diameter(build, case.model.id, case.pulleys[place].id, size)
    return build


def step_diameter(build: Build, shaft_id: str, step_mm: float, catalogue: Catalogue) -> Build:
    """Make the driven pulley of a shaft larger or smaller; the build as it is if nothing turns it."""
    for case in assemble(build, catalogue):
        for place, shaft in enumerate(case.shafts):
            if case.drive is not None and shaft.id == shaft_id and place != case.driver:
                pulley = case.pulleys[place]
                size = round(pulley.diameter_mm + step_mm, 2)
                return set_diameter(build, case.model.id, pulley.id, size)
    return build
