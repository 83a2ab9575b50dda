"""Superchargers: boost, discharge temperature and drive power over engine speed (docs/METHOD.md, 11).

A positive displacement blower pushes a fixed volume a turn at the inlet's density into an engine that
takes a fixed volume a turn at the manifold's; the pressure ratio is where both flows are equal. A
centrifugal one makes head in proportion to the square of its speed, fixed by one known point.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import RAD_S_PER_RPM, Float
from jovial_tack.core.value import Value

CP = 1005.0  # J/kg·K
GAMMA = 1.4
GAS = 287.05  # J/kg·K
KAPPA = (GAMMA - 1.0) / GAMMA
KELVIN = 273.15
_BISECTIONS = 60
_MOST_RATIO = 20.0
_PA_PER_KPA = 1000.0
_W_PER_KW = 1000.0


class Air(Value, frozen=True):
    """Air outside: pressure kPa, temperature °C."""

    pressure_kpa: float = 101.325
    temperature_c: float = 25.0

    @property
    def kelvin(self) -> float:
        """Absolute temperature, K."""
        return self.temperature_c + KELVIN


class AirEngine(Value, frozen=True):
    """What the engine takes: displacement l; strokes a cycle; volumetric efficiency at rpm (points)."""

    displacement_l: float
    strokes: int
    rpm: tuple[float, ...]
    volumetric_efficiency: tuple[float, ...]

    def swallowed(self, engine_rpm: Float) -> Float:
        """Volume of manifold air taken a second (...), m³/s."""
        filling = np.interp(engine_rpm, self.rpm, self.volumetric_efficiency)
        cycles = engine_rpm / 60.0 / (self.strokes / 2.0)
        return np.asarray(filling * self.displacement_l / 1000.0 * cycles)


class Compression(Value, frozen=True):
    """How air is compressed and cooled: efficiencies and intercooler effectiveness, all 0 to 1."""

    adiabatic: float
    mechanical: float
    intercooler: float = 0.0

    def heated(self, kelvin: float, ratio: Float) -> Float:
        """Temperature after the blower, K: T1(1 + (PR^κ − 1)/η_ad)."""
        return np.asarray(kelvin * (1.0 + (ratio**KAPPA - 1.0) / self.adiabatic))

    def cooled(self, kelvin: float, ratio: Float) -> Float:
        """Temperature in the manifold, K."""
        heated = self.heated(kelvin, ratio)
        return np.asarray(kelvin + (heated - kelvin) * (1.0 - self.intercooler))


class Displacement(Value, frozen=True):
    """A positive displacement blower: litres a turn and volumetric efficiency; step_up inside it."""

    litres_per_turn: float
    volumetric_efficiency: float
    step_up: float
    compression: Compression

    def ratio_at(self, blower_rpm: Float, engine_rpm: Float, engine: AirEngine, air: Air) -> Float:
        """Pressure ratio (...) at which engine and blower pass the same air; never below 1.

        Parameters: speeds of input pulley and engine (...), rpm. Source: conservation of mass.
        """
        turns = blower_rpm * self.step_up / 60.0
        pushed = self.volumetric_efficiency * self.litres_per_turn / 1000.0 * turns
        wanted = pushed / engine.swallowed(engine_rpm)  # manifold density over inlet density

        def dense(ratio: Float) -> Float:
            return ratio * air.kelvin / self.compression.cooled(air.kelvin, ratio)

        low, high = np.ones_like(wanted), np.full_like(wanted, _MOST_RATIO)
        for _ in range(_BISECTIONS):
            middle = (low + high) / 2
            short = dense(middle) < wanted
            low, high = np.where(short, middle, low), np.where(short, high, middle)
        # an engine that swallows more than is pushed has no boost; of suction this model says nothing
        return np.where(wanted <= 1.0, 1.0, (low + high) / 2)


class Centrifugal(Value, frozen=True):
    """A centrifugal blower known at one point: input speed rpm, boost kPa, and the air of that day."""

    known_rpm: float
    known_boost_kpa: float
    known_air: Air
    compression: Compression

    def ratio_at(self, blower_rpm: Float, engine_rpm: Float, engine: AirEngine, air: Air) -> Float:
        """Pressure ratio (...) by the fan law: (PR^κ − 1) ∝ N²/T1; never below 1.

        Parameters: speeds of input pulley and engine (...), rpm. Source: affinity laws.
        """
        known = 1.0 + self.known_boost_kpa / self.known_air.pressure_kpa
        head = (known**KAPPA - 1.0) * self.known_air.kelvin / air.kelvin
        head = head * (blower_rpm / self.known_rpm) ** 2
        return np.asarray(np.maximum((1.0 + head) ** (1.0 / KAPPA), 1.0))


Blower = Displacement | Centrifugal


class Charge(Value, frozen=True):
    """What a blower makes at speeds (R,): its input's rpm, boost kPa over the air, pressure ratio,
    discharge °C before the intercooler, drive power kW, and the engine's mass flow kg/s.
    """

    engine_rpm: Float
    blower_rpm: Float
    boost_kpa: Float
    ratio: Float
    discharge_c: Float
    power_kw: Float
    mass_flow_kg_s: Float


def charge_at(
    blower: Blower, engine: AirEngine, air: Air, engine_rpm: Float, speed_ratio: float
) -> Charge:
    """The charge at engine speeds (R,), with the blower's input turning speed_ratio times as fast.

    Power = ṁ·cp·(T2 − T1)/η_mech. Source: steady flow of an ideal gas, first law. METHOD 11.
    """
    blower_rpm = engine_rpm * speed_ratio
    ratio = blower.ratio_at(blower_rpm, engine_rpm, engine, air)
    compression = blower.compression
    heated = compression.heated(air.kelvin, ratio)
    density = _PA_PER_KPA * air.pressure_kpa * ratio / (GAS * compression.cooled(air.kelvin, ratio))
    flow = engine.swallowed(engine_rpm) * density
    power = flow * CP * (heated - air.kelvin) / compression.mechanical / _W_PER_KW
    boost = (ratio - 1.0) * air.pressure_kpa
    return Charge(engine_rpm, blower_rpm, boost, ratio, heated - KELVIN, power, flow)


class BlowerLoad(Value, frozen=True):
    """The torque a blower asks of its shaft, against the shaft's own speed.

    speed_ratio: of the shaft over the crank.
    """

    blower: Blower
    engine: AirEngine
    air: Air
    speed_ratio: float

    def torque_nm(self, rpm: Float) -> Float:
        """Torque, N·m, shape of rpm."""
        made = charge_at(
            self.blower, self.engine, self.air, rpm / self.speed_ratio, self.speed_ratio
        )
        return np.asarray(made.power_kw * _W_PER_KW / (rpm * RAD_S_PER_RPM))

    def corners_rpm(self) -> tuple[float, ...]:
        """Where the engine's filling has its points."""
        return tuple(rpm * self.speed_ratio for rpm in self.engine.rpm)


def ratio_for_boost(
    blower: Blower, engine: AirEngine, air: Air, engine_rpm: float, boost_kpa: float
) -> float | None:
    """How many times faster than the crank the blower's input must turn for a boost at an engine speed.

    None if even a hundred times is not enough, or no boost is wanted. METHOD 11.
    """
    if boost_kpa <= 0:
        return None
    rpm = np.array([engine_rpm])
    low, high = 0.01, 100.0
    if charge_at(blower, engine, air, rpm, high).boost_kpa[0] < boost_kpa:
        return None
    for _ in range(80):
        middle = (low * high) ** 0.5
        short = charge_at(blower, engine, air, rpm, middle).boost_kpa[0] < boost_kpa
        low, high = (middle, high) if short else (low, middle)
    return float((low * high) ** 0.5)
