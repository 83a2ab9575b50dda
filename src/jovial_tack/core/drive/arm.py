"""A spring arm or slide and the path it makes: geometry where it stands, with exact derivatives
(METHOD 5).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float, Int, dot
from jovial_tack.core.drive.path import Path, trace
from jovial_tack.core.drive.ring import Ring, ring_of
from jovial_tack.core.value import Value


class Layout(Value, frozen=True):
    """Pulleys of one drive in travel order.

    centers (..., N) complex mm; signed_radii (N,) cord radii mm, + turns ccw; driver: its place on
    the route.
    """

    centers: Complex
    signed_radii: Float
    driver: int

    @property
    def driver_sign(self) -> float:
        """+1 if the driver turns counter-clockwise."""
        return float(np.sign(self.signed_radii[self.driver]))

    @property
    def ring(self) -> Ring:
        """Its one route."""
        return ring_of(self.signed_radii.size)


class Layouts(Value, frozen=True):
    """Several drives in one array: centers (N,), signed_radii (N,), driver_sign (R,)."""

    centers: Complex
    signed_radii: Float
    driver_sign: Float
    ring: Ring

    @staticmethod
    def of(each: Sequence[Layout]) -> Layouts:
        """Drives side by side, in this order."""
        return Layouts(
            np.concatenate([layout.centers for layout in each]),
            np.concatenate([layout.signed_radii for layout in each]),
            np.array([layout.driver_sign for layout in each]),
            ring_of(*(layout.signed_radii.size for layout in each)),
        )


class SpringArm(Value, frozen=True):
    """A sprung tensioner arm; angles in rad, any real value, never normalised.

    index: place of its pulley on the route; pivot complex mm; push +1 if the spring pushes ccw;
    torque_nm at angle; rate_nm_per_rad; stops and window as (wound side, unwound side).

    way: of a slide the unit direction of its travel, 0 of an arm. A slide is told in the same words:
    its "angle" is the share of a travel arm_mm long from pivot, push +1 if the spring pushes on along
    it, and torque_nm is its force times arm_mm, so that either way it is what does work along the
    "angle".
    """

    index: int
    pivot: complex
    arm_mm: float
    push: int
    angle: float
    torque_nm: float
    rate_nm_per_rad: float
    stops: tuple[float, float]
    window: tuple[float, float]
    way: complex = 0j

    @property
    def slides(self) -> bool:
        """Whether it is a slide."""
        return self.way != 0

    def center(self, angle: Float) -> Complex:
        """Centre of the arm's pulley, complex mm, at angles of any shape."""
        return np.asarray(self.pivot + motion(self, angle)[0])

    def spring_torque(self, angle: Float) -> Float:
        """Torque of the spring, N·m: M + rate × (how far the arm is wound back). METHOD 5."""
        return _spring_torque(self, angle)

    def window_fraction(self, angle: Float) -> Float:
        """Where an angle lies in the window: 0 wound side, 1 unwound side."""
        return (angle - self.window[0]) / (self.window[1] - self.window[0])


class SpringArms(Value, frozen=True):
    """The arms of several drives, every figure with (R,) members; index: places among all pulleys."""

    index: Int
    pivot: Complex
    arm_mm: Float
    push: Float
    angle: Float
    torque_nm: Float
    rate_nm_per_rad: Float
    stops: tuple[Float, Float]
    way: Complex

    @property
    def slides(self) -> Bool:
        """Which of them are slides (R,)."""
        return np.asarray(self.way != 0)

    @staticmethod
    def of(each: Sequence[SpringArm], layouts: Layouts) -> SpringArms:
        """Arms side by side, in the order of their layouts."""

        def all_of(name: str) -> Float:
            return np.array([getattr(arm, name) for arm in each])

        wound, unwound = np.array([arm.stops for arm in each]).T
        return SpringArms(
            layouts.ring.first + np.array([arm.index for arm in each]),
            np.array([arm.pivot for arm in each]),
            all_of("arm_mm"),
            all_of("push"),
            all_of("angle"),
            all_of("torque_nm"),
            all_of("rate_nm_per_rad"),
            (wound, unwound),
            np.array([complex(arm.way) for arm in each]),
        )

    def spring_torque(self, angle: Float) -> Float:
        """Torque of every spring (..., R), N·m, as of one arm."""
        return _spring_torque(self, angle)


def _spring_torque(arm: SpringArm | SpringArms, angle: Float) -> Float:
    return arm.torque_nm - arm.push * arm.rate_nm_per_rad * (angle - arm.angle)


def motion(arm: SpringArm | SpringArms, angle: Float) -> tuple[Complex, Complex, Complex]:
    """Where its pulley stands from the pivot, complex mm, and the first and second derivatives of that
    by the angle.
    """
    slides = arm.slides
    along: Complex = np.asarray(arm.arm_mm * arm.way, dtype=np.complex128)
    if np.all(slides):
        return np.asarray(along * angle), along, np.zeros_like(along)
    lever: Complex = np.asarray(arm.arm_mm * np.exp(1j * angle), dtype=np.complex128)
    if not np.any(slides):
        return lever, np.asarray(1j * lever), -lever
    return (
        np.where(slides, along * angle, lever),
        np.where(slides, along, 1j * lever),
        np.where(slides, 0.0, -lever),
    )


class ArmGeometry(Value, frozen=True):
    """The path at arm angles and its derivatives by the angle (rad).

    grown (...) dL/dθ and curved (...) d²L/dθ², mm; in_rate, out_rate (...) turning of the two arm
    spans; in_pull, out_pull (...) d·v of the spans into and out of the arm pulley, mm. Of several
    drives all but the path have (..., R) members.
    """

    path: Path
    grown: Float
    curved: Float
    in_rate: Float
    out_rate: Float
    in_pull: Float
    out_pull: Float
    in_pull_rate: Float
    out_pull_rate: Float

    def drive(self, which: int, lanes: int) -> ArmGeometry:
        """That of one of several drives, its first lanes only."""
        rates = [name for name in self.__struct_fields__ if name != "path"]
        own = [getattr(self, name)[:lanes, which] for name in rates]
        return ArmGeometry(self.path.route(which).lanes(slice(lanes)), *own)


def place_arm(layout: Layout | Layouts, arm: SpringArm | SpringArms, angle: Float) -> ArmGeometry:
    """Trace the path with the arm at given angles (...), or several with their arms (..., R).

    With v = dc/dθ and d, n the unit direction and left normal of a span: dL/dθ = (d_in − d_out)·v,
    d²L/dθ² = (n_in·v)²/ℓ_in + (n_out·v)²/ℓ_out + (d_in − d_out)·dv/dθ, and a span whose end moves
    by v turns at (n·v)/ℓ. On a slide v is the same all along. Source: virtual work of an inextensible
    string. METHOD 5.
    """
    ring = layout.ring
    lanes = angle.shape if ring.is_one else angle.shape[:-1]
    centers = np.empty((*lanes, layout.centers.shape[-1]), dtype=np.complex128)
    centers[...] = layout.centers
    lever, velocity, bend = motion(arm, angle)
    centers[..., arm.index] = arm.pivot + lever
    path = trace(centers, layout.signed_radii, ring)
    before = ring.before[arm.index]
    incoming, outgoing = path.direction[..., before], path.direction[..., arm.index]
    in_pull, out_pull = dot(incoming, velocity), dot(outgoing, velocity)
    in_swing, out_swing = dot(1j * incoming, velocity), dot(1j * outgoing, velocity)
    in_rate = in_swing / path.length[..., before]
    # the arm carries the start of the out span, not its end: it turns that span the other way
    out_rate = -out_swing / path.length[..., arm.index]
    in_pull_rate = in_swing * in_rate + dot(incoming, bend)
    out_pull_rate = out_swing * out_rate + dot(outgoing, bend)
    return ArmGeometry(
        path,
        in_pull - out_pull,
        in_pull_rate - out_pull_rate,
        in_rate,
        out_rate,
        in_pull,
        out_pull,
        in_pull_rate,
        out_pull_rate,
    )
