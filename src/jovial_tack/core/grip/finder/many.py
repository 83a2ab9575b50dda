"""Many drives of one route side by side: what every combination of parts and places comes to.

The pulleys stand along the first axis and the drives along the second, so that every operation runs
over thousands of drives. A drive here is all but the belt's length: any number of belts is tried on
each.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import MM_PER_M, Complex, Float, Int, chosen, cross, dot
from jovial_tack.core.drive.arm import Layout, SpringArm
from jovial_tack.core.drive.lanes import BeltState
from jovial_tack.core.value import Value, replace


class Arms(Value, frozen=True, eq=False):
    """The arms of J drives: pivot complex mm, arm_mm, torque_nm at angle (rad), rate_nm_per_rad, stops
    and window as (wound side, unwound side), all (J,); push +1 if the springs push ccw. way: of slides
    the unit direction they all have, 0 of arms (see `core.drive.arm.SpringArm`).
    """

    push: int
    pivot: Complex
    arm_mm: Float
    angle: Float
    torque_nm: Float
    rate_nm_per_rad: Float
    stops: tuple[Float, Float]
    window: tuple[Float, Float]
    way: complex

    def lever(self, angle: Float) -> Complex:
        """Where the pulleys stand from their pivots at angles (..., J), complex mm."""
        if self.way:
            return np.asarray(angle * (self.arm_mm * self.way))
        lever = np.empty(angle.shape, dtype=np.complex128)
        lever.real, lever.imag = np.cos(angle), np.sin(angle)
        lever *= self.arm_mm
        return lever

    def motion(self, lever: Complex) -> tuple[Complex, Complex]:
        """The first and the second derivative of a lever (..., J) by its angle, mm."""
        if self.way:
            along = np.broadcast_to(self.arm_mm * self.way, lever.shape)
            return along, np.zeros_like(lever)
        return 1j * lever, -lever

    def pull(self, lever: Complex, direction: Complex) -> Float:
        """How fast the pulleys move along directions (..., J) with their angle, d·v, mm."""
        if self.way:
            return dot(direction, np.asarray(self.arm_mm * self.way))
        return cross(lever, direction)  # d·(i·lever)

    def torque_nmm(self, angle: Float) -> Float:
        """Torque of the springs, N·mm, at angles (..., J). METHOD 5."""
        rate = self.push * self.rate_nm_per_rad
        return np.asarray(MM_PER_M * (self.torque_nm - rate * (angle - self.angle)))

    def times(self, factor: Float | float) -> Arms:
        """The same with springs so many times as strong."""
        return replace(
            self,
            torque_nm=self.torque_nm * factor,
            rate_nm_per_rad=self.rate_nm_per_rad * factor,
        )

    def chosen(self, which: Int | slice) -> Arms:
        """Those of the chosen drives."""
        (wound, unwound), (first, last) = self.stops, self.window
        return Arms(
            self.push,
            self.pivot[which],
            self.arm_mm[which],
            self.angle[which],
            self.torque_nm[which],
            self.rate_nm_per_rad[which],
            (wound[which], unwound[which]),
            (first[which], last[which]),
            self.way,
        )

    def of(self, index: int, which: int) -> SpringArm:
        """One of them, its pulley at a place of the route."""
        wound, unwound = (float(stop[which]) for stop in self.stops)
        first, last = (float(end[which]) for end in self.window)
        return SpringArm(
            index,
            complex(self.pivot[which]),
            float(self.arm_mm[which]),
            self.push,
            float(self.angle[which]),
            float(self.torque_nm[which]),
            float(self.rate_nm_per_rad[which]),
            (wound, unwound),
            (first, last),
            self.way,
        )


class Loads(Value, frozen=True, eq=False):
    """The loads of J drives in S running states: offsets_n (S, N, J) traction of each span above that
    of the span leaving the driver, centrifugal_n (S, J) m·v², and how many times as strong the springs
    are there as at rest.
    """

    offsets_n: Float
    centrifugal_n: Float
    spring_scale: float = 1.0

    @property
    def states(self) -> int:
        """How many states."""
        return int(self.centrifugal_n.shape[0])

    def chosen(self, which: Int | slice) -> Loads:
        """Those of the chosen drives."""
        offsets, centrifugal = chosen(self.offsets_n, which), chosen(self.centrifugal_n, which)
        return Loads(offsets, centrifugal, self.spring_scale)


def offsets_from(steps_n: Float, driver: int) -> Float:
    """Traction of each span above that of the span leaving the driver (S, N, J), N, from how much each
    pulley adds (S, N, J), the driver's own left out. METHOD 7.
    """
    count = steps_n.shape[1]
    order = (driver + np.arange(1, count)) % count
    offsets = np.zeros_like(steps_n)
    # cumulated from the driver's exit, the slack span, in the order of travel
    offsets[:, order] = np.cumsum(steps_n[:, order], axis=1)
    return offsets


class Many(Value, frozen=True, eq=False):
    """J drives of N pulleys with a spring arm.

    centers (N, J) complex mm; signed_radii (N, J) cord radii mm, + turns ccw; driver and arm_place:
    places on the route; friction (N, J); stiffness_n, reference_n (J,) EA and T_ref of the whole belt.
    """

    centers: Complex
    signed_radii: Float
    driver: int
    arm_place: int
    arms: Arms
    friction: Float
    stiffness_n: Float
    reference_n: Float

    @property
    def count(self) -> int:
        """How many drives."""
        return int(self.stiffness_n.size)

    @property
    def pulleys(self) -> int:
        """How many pulleys stand on the route."""
        return int(self.centers.shape[0])

    @property
    def before(self) -> int:
        """Place of the pulley before the arm's."""
        return (self.arm_place - 1) % self.pulleys

    @property
    def after(self) -> int:
        """Place of the pulley after the arm's; of two pulleys it is the one before as well."""
        return (self.arm_place + 1) % self.pulleys

    @property
    def driver_sign(self) -> Float:
        """+1 where the driver turns counter-clockwise (J,)."""
        return np.asarray(np.sign(self.signed_radii[self.driver]))

    def chosen(self, which: Int | slice) -> Many:
        """The chosen drives, as often as each is named; a single one serves for all."""
        if self.count == 1:
            return self
        return Many(
            chosen(self.centers, which),
            chosen(self.signed_radii, which),
            self.driver,
            self.arm_place,
            self.arms.chosen(which),
            chosen(self.friction, which),
            self.stiffness_n[which],
            self.reference_n[which],
        )

    def layout(self, which: int) -> Layout:
        """One of them as the general code takes it."""
        return Layout(
            np.ascontiguousarray(self.centers[:, which]),
            np.ascontiguousarray(self.signed_radii[:, which]),
            self.driver,
        )

    def belt(self, which: int, cord_mm: float) -> BeltState:
        """A belt of a cord length at T_ref on one of them."""
        return BeltState(
            np.asarray(cord_mm),
            np.asarray(self.stiffness_n[which]),
            np.asarray(self.reference_n[which]),
        )
