"""The air side of superchargers against a plain calculation with a root finder, and its inverse."""

from __future__ import annotations

import random

import numpy as np
import pytest
from scipy.optimize import brentq

from jovial_tack.core.ratios.blower import (
    Air,
    AirEngine,
    BlowerLoad,
    Centrifugal,
    Compression,
    Displacement,
    charge_at,
    ratio_for_boost,
)

KAPPA = 0.4 / 1.4


def plain(
    blower: object, engine: AirEngine, air: Air, rpm: float, speed: float
) -> dict[str, float]:
    """One speed, written down from the definitions, with scalars only."""
    c = blower.compression  # type: ignore[attr-defined]
    t1, p1 = air.temperature_c + 273.15, 1000 * air.pressure_kpa
    filling = float(np.interp(rpm, engine.rpm, engine.volumetric_efficiency))
    cycles = rpm / 60 * 2 / engine.strokes

    def engine_flow(ratio: float) -> float:
        t2 = t1 * (1 + (ratio**KAPPA - 1) / c.adiabatic)
        manifold = t1 + (t2 - t1) * (1 - c.intercooler)
        return float(
            filling * engine.displacement_l * 1e-3 * cycles * ratio * p1 / (287.05 * manifold)
        )

    if isinstance(blower, Displacement):
        turns = rpm * speed * blower.step_up / 60
        flow = (
            blower.volumetric_efficiency * blower.litres_per_turn * 1e-3 * turns * p1 / 287.05 / t1
        )
        ratio = 1.0
        if flow > engine_flow(1.0):
            ratio = brentq(lambda r: engine_flow(r) - flow, 1.0, 15.0, xtol=1e-13)
    else:
        assert isinstance(blower, Centrifugal)
        t0 = blower.known_air.temperature_c + 273.15
        r0 = 1 + blower.known_boost_kpa / blower.known_air.pressure_kpa
        head = (r0**KAPPA - 1) * t0 / t1 * (rpm * speed / blower.known_rpm) ** 2
        ratio = (1 + head) ** (1 / KAPPA)
    t2 = t1 * (1 + (ratio**KAPPA - 1) / c.adiabatic)
    mass = engine_flow(ratio)
    return {
        "ratio": ratio, "boost_kpa": (ratio - 1) * air.pressure_kpa, "discharge_c": t2 - 273.15,
        "power_kw": mass * 1005 * (t2 - t1) / c.mechanical / 1000, "mass_flow_kg_s": mass,
    }  # fmt: skip


def cases() -> list[tuple[Displacement | Centrifugal, AirEngine, Air, float]]:
    rng, found = random.Random(5), []
    for k in range(40):
        made = Compression(rng.uniform(0.5, 0.8), rng.uniform(0.85, 0.98), rng.choice([0.0, 0.6]))
        engine = AirEngine(
            rng.uniform(1.2, 7), rng.choice([2, 4]), (1500.0, 4000.0, 6500.0),
            tuple(rng.uniform(0.7, 1.05) for _ in range(3)),
        )  # fmt: skip
        air = Air(rng.uniform(70, 102), rng.uniform(-10, 40))  # altitude included
        if k % 2:
            size = engine.displacement_l * rng.uniform(0.2, 0.6) * 4 / engine.strokes
            blower: Displacement | Centrifugal = Displacement(
                size, rng.uniform(0.8, 0.98), rng.choice([1.0, 1.6]), made
            )
        else:
            known = Air(rng.uniform(80, 102), rng.uniform(0, 30))
            blower = Centrifugal(rng.uniform(9000, 15000), rng.uniform(30, 110), known, made)
        found.append((blower, engine, air, rng.uniform(1.2, 2.8)))
    return found


def test_every_figure_agrees_with_a_plain_calculation() -> None:
    speeds = np.array([900.0, 2600.0, 4100.0, 6800.0])
    boosted = 0
    for blower, engine, air, speed in cases():
        charge = charge_at(blower, engine, air, speeds, speed)
        assert charge.blower_rpm == pytest.approx(speeds * speed)
        for lane, rpm in enumerate(speeds):
            for name, value in plain(blower, engine, air, float(rpm), speed).items():
                assert getattr(charge, name)[lane] == pytest.approx(value, rel=1e-6, abs=1e-9), name
            boosted += charge.ratio[lane] > 1.01
        load = BlowerLoad(blower, engine, air, speed)
        watts = load.torque_nm(charge.blower_rpm) * charge.blower_rpm * 2 * np.pi / 60
        assert watts == pytest.approx(1000 * charge.power_kw)
    assert boosted > 60


def test_the_ratio_for_a_boost_makes_that_boost() -> None:
    for blower, engine, air, _ in cases():
        ratio = ratio_for_boost(blower, engine, air, 6000.0, 45.0)
        assert ratio is not None
        made = charge_at(blower, engine, air, np.array([6000.0]), ratio).boost_kpa[0]
        assert made == pytest.approx(45.0, abs=1e-3)
    assert ratio_for_boost(blower, engine, air, 6000.0, 1e6) is None
