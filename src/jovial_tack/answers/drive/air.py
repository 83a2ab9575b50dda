"""From a build to the air side of its blower: the air, the engine that takes it, and the load."""

from __future__ import annotations

from jovial_tack.core.ratios.blower import (
    Air,
    AirEngine,
    Blower,
    BlowerLoad,
    Centrifugal,
    Compression,
    Displacement,
)
from jovial_tack.document.model import (
    AirState,
    Build,
    Engine,
    FillingCurve,
    Shaft,
    SuperchargerLoad,
)


def blower_load(build: Build, shaft: Shaft, speed_ratio: float) -> BlowerLoad | None:
    """The load of a blower that is described by its air side; None for other shafts.

    speed_ratio: of the shaft over the crank.
    """
    blower, engine = blower_of(build, shaft), engine_air(build.engine)
    if blower is None or engine is None:
        return None
    return BlowerLoad(blower, engine, air_of(build.air), speed_ratio)


def air_of(air: AirState) -> Air:
    """The air as the mechanics see it."""
    return Air(air.pressure_kpa, air.temperature_c)


def engine_air(engine: Engine) -> AirEngine | None:
    """What the engine takes; None without its displacement."""
    if engine.displacement_l is None:
        return None
    filling = engine.volumetric_efficiency
    if isinstance(filling, FillingCurve):
        return AirEngine(engine.displacement_l, engine.strokes, filling.rpm, filling.value)
    return AirEngine(engine.displacement_l, engine.strokes, (engine.redline_rpm,), (filling,))


def blower_of(build: Build, shaft: Shaft) -> Blower | None:
    """The blower on a shaft; None where none is described."""
    load = shaft.load
    if not isinstance(load, SuperchargerLoad) or load.model is None:
        return None
    compression = Compression(
        load.adiabatic_efficiency, load.mechanical_efficiency, load.intercooler_effectiveness
    )
    if load.model == "centrifugal":
        point = load.known_point
        assert point is not None
        known = air_of(point.air or build.air)
        return Centrifugal(point.unit_rpm, point.boost_kpa, known, compression)
    assert load.displacement_l_per_rev is not None
    return Displacement(
        load.displacement_l_per_rev, load.volumetric_efficiency, load.step_up, compression
    )
