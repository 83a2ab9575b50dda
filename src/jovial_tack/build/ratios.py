"""The rev plan, boost over the revs, and which pulleys make a boost (docs/METHOD.md, 11)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from jovial_tack.build.air import air_of, blower_of, engine_air
from jovial_tack.build.assemble import DriveCase, assemble
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
    """Speeds of one shaft; ratio over the crank, None where it stands still. margin: greatest speed
    over that at redline, less one; None without a greatest speed. driven: by a belt, unlike the crank.
    """

    id: str
    name: str
    ratio: float | None
    idle_rpm: float | None
    cruise_rpm: float | None
    redline_rpm: float | None
    max_rpm: float | None
    margin: float | None
    driven: bool

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
        driven = ratio is not None and shaft.kind != "crank"
        plan.append(
            PlannedShaft(shaft.id, shaft.label, ratio, idle, cruise, top, most, margin, driven)
        )
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
        most = _most_within_limit(build, found, at_rpm)
        nearest = "" if most is None else f"; {most:.1f} kPa is the most within its speed limit"
        raise GeometryError(
            f"no pulleys make {target_kpa:g} kPa at {at_rpm:g} rpm with this blower and engine{nearest}"
        )
    case, place, step = found.case, found.place, _STEP_MM[build.display_units]
    driver, blower = case.pulleys[case.driver].diameter_mm, case.pulleys[place].diameter_mm
    pairs = []
    for size in _around(_driven_diameter(case, place, ratio), step):
        pairs.append(_pair(build, catalogue, found, (size, driver), "blower", at_rpm, ratio))
    for size in _around(_driver_diameter(case, place, ratio), step):
        pairs.append(_pair(build, catalogue, found, (blower, size), "crank", at_rpm, ratio))
    return tuple(pairs)


def _around(exact: float, step: float) -> list[float]:
    """An exact diameter and its neighbours of a stepped series, mm."""
    below = float(np.floor(exact / step) * step)
    others = [size for size in (below, below + step) if abs(size - exact) > 1e-6]
    return [size for size in (exact, *others) if size > 1.0]


def _pair(
    build: Build,
    catalogue: Catalogue,
    found: Charged,
    diameters: tuple[float, float],
    changed: str,
    at_rpm: float,
    wished_ratio: float,
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
        exact=abs(now.ratio / wished_ratio - 1.0) < 1e-9,
        ratio=now.ratio,
        boost_kpa=float(charge.boost_kpa[0]),
        redline_boost_kpa=float(charge.boost_kpa[1]),
        redline_blower_rpm=float(charge.blower_rpm[1]),
        belt_speed_mps=float(now.case.drive.speed(np.array(redline))),
        blower_wrap_deg=None if pulley is None else pulley.wrap_deg,
        worst_arc_used=None if pulley is None else pulley.worst_arc_used,
        path_effective_length_mm=result.path_effective_length_mm,
        arm_angle_deg=angle,
        problem=_problem(build, now, at_rpm),
    )


def _most_within_limit(build: Build, found: Charged, at_rpm: float) -> float | None:
    """The boost at an engine speed with the blower at its limit at redline, kPa; None without one."""
    limit = found.case.shafts[found.place].max_rpm
    return (
        None
        if limit is None
        else _boost_with(build, found, at_rpm, limit / build.engine.redline_rpm)
    )


def _boost_with(build: Build, found: Charged, at_rpm: float, ratio: float) -> float:
    charge = charge_at(found.blower, found.engine, air_of(build.air), np.array([at_rpm]), ratio)
    return float(charge.boost_kpa[0])


def _problem(build: Build, now: Charged, at_rpm: float) -> str | None:
    """Why a pair cannot be had, and the most boost that can."""
    case, redline = now.case, build.engine.redline_rpm
    shaft, profile = case.shafts[now.place], case.belt.profile
    if shaft.max_rpm is not None and now.ratio * redline > shaft.max_rpm * (1 + 1e-9):
        return (
            f"{shaft.label} would turn {now.ratio * redline:.0f} rpm at redline, over its"
            f" {shaft.max_rpm:.0f} rpm limit;"
            f" {_most_within_limit(build, now, at_rpm):.1f} kPa is the most within it"
        )
    least = profile.least_grooved_mm
    for place in (now.place, case.driver):
        size = case.pulleys[place].diameter_mm
        if size >= least:
            continue
        # the same belt and the other pulley, with this one as small as the profile allows
        cord = case.drive.radii[place] if case.drive else np.nan
        grown = (least / 2 + _offset(case, place)) / float(cord)
        ratio = now.ratio / grown if place == now.place else now.ratio * grown
        made = _boost_with(build, now, at_rpm, ratio)
        return (
            f"{case.shafts[place].label} would have {size:.1f} mm, and a {profile.name} belt should"
            f" not bend round less than {least:g} mm; there {made:.1f} kPa are made"
        )
    return None


def driven_place(build: Build, shaft_id: str, catalogue: Catalogue) -> tuple[DriveCase, int] | None:
    """The drive that turns a shaft, and the shaft's place on its route; None if nothing turns it."""
    for case in assemble(build, catalogue):
        for place, shaft in enumerate(case.shafts):
            if case.drive is not None and shaft.id == shaft_id and place != case.driver:
                return case, place
    return None


def set_speed_at_redline(
    build: Build, shaft_id: str, redline_rpm: float, catalogue: Catalogue
) -> Build:
    """Give a shaft the driven pulley with which it turns so fast at redline; the build as it is if
    nothing turns it.
    """
    found = driven_place(build, shaft_id, catalogue)
    if found is None:
        return build
    case, place = found
    size = _driven_diameter(case, place, redline_rpm / build.engine.redline_rpm)
    return set_diameter(build, case.model.id, case.pulleys[place].id, round(size, 1))


def step_diameter(build: Build, shaft_id: str, step_mm: float, catalogue: Catalogue) -> Build:
    """Make the driven pulley of a shaft larger or smaller; the build as it is if nothing turns it."""
    found = driven_place(build, shaft_id, catalogue)
    if found is None:
        return build
    case, place = found
    pulley = case.pulleys[place]
    return set_diameter(build, case.model.id, pulley.id, round(pulley.diameter_mm + step_mm, 2))


def _offset(case: DriveCase, place: int) -> float:
    """From a pulley's given radius to its cord radius, mm."""
    assert case.drive is not None
    return float(case.drive.radii[place]) - case.pulleys[place].diameter_mm / 2


def _driven_diameter(case: DriveCase, place: int, ratio: float) -> float:
    """The diameter, mm, with which a driven pulley turns `ratio` times as fast as the crank."""
    drive = case.drive
    assert drive is not None
    radius = drive.speed_ratio * float(drive.radii[case.driver]) / ratio
    return 2 * (radius - _offset(case, place))


def _driver_diameter(case: DriveCase, place: int, ratio: float) -> float:
    """The diameter, mm, of the driver with which a pulley turns `ratio` times as fast as the crank."""
    drive = case.drive
    assert drive is not None
    radius = ratio * float(drive.radii[place]) / drive.speed_ratio
    return 2 * (radius - _offset(case, case.driver))
