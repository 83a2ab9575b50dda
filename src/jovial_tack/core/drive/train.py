"""Drives joined by shafts: who drives whom (docs/METHOD.md, section 6)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.loads import Load
from jovial_tack.core.drive.solve import BeltDrive
from jovial_tack.core.value import Value

Shaft = str
DriveName = str


class Train(Value, frozen=True):
    """The order in which drives are solved for speed.

    order: (drive, the shaft that drives it), from the crank outward; loads go the other way.
    idle: drives no driven shaft reaches. looped: drives that reach a shaft which already turns.
    """

    order: tuple[tuple[DriveName, Shaft], ...]
    idle: tuple[DriveName, ...]
    looped: tuple[DriveName, ...]


def order_drives(crank: Shaft, drives: Mapping[DriveName, Sequence[Shaft]]) -> Train:
    """Walk from the crank outward over drives and the shafts they turn.

    Parameters: the crank's name, and for every drive the shafts its pulleys sit on.

    >>> order_drives("crank", {"b": ["jack", "fan"], "a": ["crank", "jack"]}).order
    (('a', 'crank'), ('b', 'jack'))
    """
    turning = {crank}
    order: list[tuple[DriveName, Shaft]] = []
    looped: list[DriveName] = []
    waiting = dict(drives)
    while waiting:
        reached = [name for name, shafts in waiting.items() if turning.intersection(shafts)]
        if not reached:
            break
        for name in reached:
            shafts = waiting.pop(name)
            drivers = [shaft for shaft in shafts if shaft in turning]
            if len(drivers) > 1:
                looped.append(name)
                continue
            order.append((name, drivers[0]))
            turning.update(shafts)
    return Train(tuple(order), tuple(waiting), tuple(looped))


class CarriedLoad(Value, frozen=True):
    """The load of a shaft that drives further belts: its own and what they take off it.

    outer: drives whose driver sits on this shaft. METHOD 6.
    """

    own: Load
    outer: tuple[BeltDrive, ...]

    def torque_nm(self, rpm: Float) -> Float:
        """Torque at the shaft's speed, N·m."""
        torque = self.own.torque_nm(rpm)
        for drive in self.outer:
            torque = torque + drive.torques(rpm / drive.speed_ratio)[:, drive.layout.driver]
        return torque

    def corners_rpm(self) -> tuple[float, ...]:
        """Those of its own load and of all that hangs on it."""
        further = [rpm * drive.speed_ratio for drive in self.outer for rpm in drive.corners_rpm()]
        return (*self.own.corners_rpm(), *further)
