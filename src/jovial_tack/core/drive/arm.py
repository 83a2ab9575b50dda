"""A spring arm and the path it makes: geometry at arm angles, with exact derivatives (METHOD 5)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jovial_tack.core.arrays import Complex, Float, dot
from jovial_tack.core.drive.path import Path, trace


@dataclass(frozen=True)
class Layout:
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


@dataclass(frozen=True)
class SpringArm:
    """A sprung tensioner arm; angles in rad, any real value, never normalised.

    index: place of its pulley on the route; pivot complex mm; push +1 if the spring pushes ccw;
    torque_nm at angle; rate_nm_per_rad; stops and window as (wound side, unwound side).
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

    def center(self, angle: Float) -> Complex:
        """Centre of the arm's pulley, complex mm, at angles of any shape."""
        return np.asarray(self.pivot + self.arm_mm * np.exp(1j * angle))

    def spring_torque(self, angle: Float) -> Float:
        """Torque of the spring, N·m: M + rate × (how far the arm is wound back). METHOD 5."""
        return self.torque_nm - self.push * self.rate_nm_per_rad * (angle - self.angle)

    def window_fraction(self, angle: Float) -> Float:
        """Where an angle lies in the window: 0 wound side, 1 unwound side."""
        return (angle - self.window[0]) / (self.window[1] - self.window[0])


@dataclass(frozen=True)
class ArmGeometry:
    """The path at arm angles and its derivatives by the angle (rad).

    grown (...) dL/dθ and curved (...) d²L/dθ², mm; in_rate, out_rate (...) turning of the two arm
    spans; in_pull, out_pull (...) d·v of the spans into and out of the arm pulley, mm.
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


def place_arm(layout: Layout, arm: SpringArm, angle: Float) -> ArmGeometry:
    """Trace the path with the arm at given angles (...), with exact derivatives.

    With v = dc/dθ and d, n the unit direction and left normal of a span: dL/dθ = (d_in − d_out)·v,
    d²L/dθ² = (n_in·v)²/ℓ_in + (n_out·v)²/ℓ_out + (d_in − d_out)·dv/dθ, and a span whose end moves
    by v turns at (n·v)/ℓ. Source: virtual work of an inextensible string. METHOD 5.
    """
    count = layout.centers.shape[-1]
    centers = np.empty((*angle.shape, count), dtype=np.complex128)
    centers[...] = layout.centers
    lever = arm.arm_mm * np.exp(1j * angle)
    centers[..., arm.index] = arm.pivot + lever
    path = trace(centers, layout.signed_radii)
    before = (arm.index - 1) % count
    incoming, outgoing = path.direction[..., before], path.direction[..., arm.index]
    velocity = 1j * lever
    in_pull, out_pull = dot(incoming, velocity), dot(outgoing, velocity)
    in_swing, out_swing = dot(1j * incoming, velocity), dot(1j * outgoing, velocity)
    in_rate = in_swing / path.length[..., before]
    out_rate = -out_swing / path.length[..., arm.index]
    in_pull_rate = in_swing * in_rate - dot(incoming, lever)
    out_pull_rate = out_swing * out_rate - dot(outgoing, lever)
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
