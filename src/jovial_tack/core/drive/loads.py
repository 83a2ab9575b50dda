"""Speeds of shafts and the torque each one asks for (docs/METHOD.md, section 6)."""

from __future__ import annotations

from typing import Protocol

import numpy as np

from jovial_tack.core.arrays import MM_PER_M, RAD_S_PER_RPM, Float
from jovial_tack.core.value import Value


class Load(Protocol):
    """Torque a shaft absorbs against its own speed."""

    def torque_nm(self, rpm: Float) -> Float:
        """Torque at the shaft's speed, N·m; rpm any shape, > 0."""
        ...

    def corners_rpm(self) -> tuple[float, ...]:
        """The shaft's speeds at which the curve has a corner, or jumps."""
        ...


class NoLoad(Value, frozen=True):
    """A pulley that only turns, such as an idler."""

    def torque_nm(self, rpm: Float) -> Float:
        """Zero torque of the same shape, N·m."""
        return np.zeros_like(rpm)

    def corners_rpm(self) -> tuple[float, ...]:
        """None."""
        return ()


class ConstantTorque(Value, frozen=True):
    """The same torque at every speed, N·m."""

    torque: float

    def torque_nm(self, rpm: Float) -> Float:
        """Torque, N·m, shape of rpm."""
        return np.full_like(rpm, self.torque)

    def corners_rpm(self) -> tuple[float, ...]:
        """None."""
        return ()


class PowerLaw(Value, frozen=True):
    """Torque in proportion to a power of speed: M = M0·(n/n0)^exponent.

    exponent 2 fits pumps, fans and centrifugal blowers (affinity laws). METHOD 6.
    """

    torque: float
    at_rpm: float
    exponent: float

    def torque_nm(self, rpm: Float) -> Float:
        """Torque, N·m.

        >>> PowerLaw(38.0, 15000.0, 2.0).torque_nm(np.array([7500.0])).tolist()
        [9.5]
        """
        return np.asarray(self.torque * (rpm / self.at_rpm) ** self.exponent)

    def corners_rpm(self) -> tuple[float, ...]:
        """None."""
        return ()


class PowerTable(Value, frozen=True):
    """Power against speed: linear between points, torque held beyond the ends. METHOD 6."""

    rpm: tuple[float, ...]
    power_kw: tuple[float, ...]

    def torque_nm(self, rpm: Float) -> Float:
        """Torque, N·m.

        >>> table = PowerTable((1500.0, 3000.0), (0.6, 2.0))
        >>> table.torque_nm(np.array([750.0, 1500.0, 2250.0, 6000.0])).round(4).tolist()
        [3.8197, 3.8197, 5.5174, 6.3662]
        """
        inside = np.clip(rpm, self.rpm[0], self.rpm[-1])
        # a table may start at standstill, where a finite torque is the limit P/ω of its first leg
        inside = np.maximum(inside, self.rpm[1] * 1e-6)
        power_w = 1000.0 * np.interp(inside, self.rpm, self.power_kw)
        return np.asarray(power_w / (inside * RAD_S_PER_RPM))

    def corners_rpm(self) -> tuple[float, ...]:
        """Its points."""
        return self.rpm


class Scaled(Value, frozen=True):
    """So many times another load."""

    load: Load
    factor: float

    def torque_nm(self, rpm: Float) -> Float:
        """Torque, N·m, shape of rpm."""
        return self.factor * self.load.torque_nm(rpm)

    def corners_rpm(self) -> tuple[float, ...]:
        """Those of the load."""
        return self.load.corners_rpm()


class Speeding(Value, frozen=True):
    """A load whose shaft is sped up: so much more torque, N·m, less when it is slowed down; one_way:
    its pulley cannot be driven by it, so that it takes nothing rather than less.
    """

    load: Load
    more_nm: float
    one_way: bool = False

    def torque_nm(self, rpm: Float) -> Float:
        """Torque, N·m, shape of rpm.

        >>> Speeding(ConstantTorque(2.0), -5.0).torque_nm(np.array([900.0])).tolist()
        [-3.0]
        """
        torque = self.load.torque_nm(rpm) + self.more_nm
        return np.maximum(torque, 0.0) if self.one_way else torque

    def corners_rpm(self) -> tuple[float, ...]:
        """Those of the load."""
        return self.load.corners_rpm()


def electrical_load(
    rpm: tuple[float, ...], current_a: tuple[float, ...], volts: float, efficiency: float
) -> PowerTable:
    """What a belt must bring to an alternator that gives all it can: P = I·U/η.

    Below the first point it takes what friction is left there, by the table's own rule (METHOD 6).

    >>> electrical_load((1500.0, 3000.0), (45.0, 90.0), 14.0, 0.6).power_kw
    (1.05, 2.1)
    """
    return PowerTable(rpm, tuple(a * volts / efficiency / 1000.0 for a in current_a))


def belt_speed(driver_rpm: Float, driver_cord_radius_mm: float) -> Float:
    """Speed of the cord line, m/s: ω·r of the driver. METHOD 6.

    >>> round(float(belt_speed(np.array(850.0), 84.1)), 6)
    7.485892
    """
    return driver_rpm * RAD_S_PER_RPM * driver_cord_radius_mm / MM_PER_M


def traction_steps(torque_nm: Float, cord_radii_mm: Float, driver: int) -> Float:
    """How much traction the belt gains at each pulley, in travel order, N.

    A driven pulley adds torque/r; the driver takes their sum off again. METHOD 7.

    Parameters: torque_nm (..., N), the driver's entry ignored; cord_radii_mm (N,).
    Returns (..., N).

    >>> traction_steps(np.array([0.0, 6.0]), np.array([84.1, 41.6]), 0).round(3).tolist()
    [-144.231, 144.231]
    """
    steps = MM_PER_M * torque_nm / cord_radii_mm
    # first nothing, then the sum: an entry the caller gave for the driver must not count
    steps[..., driver] = 0.0
    steps[..., driver] = -steps.sum(axis=-1)
    return steps
