"""How well the length of a path is known (docs/METHOD.md, 13)."""

from __future__ import annotations

from math import hypot

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float, dot
from jovial_tack.core.drive.arm import Layout, SpringArm, motion
from jovial_tack.core.drive.path import Path, trace

#: Steps of the central differences, mm and rad: far above rounding, far below where paths bend.
_NEAR_MM, _NEAR_RAD = 1e-3, 1e-5


def by_centers_mm(path: Path, each_mm: float) -> float:
    """One standard deviation of the path by its centres, mm, each known to each_mm in either axis.

    ∂L/∂c = d_in − d_out: the span that enters pulls one way, the one that leaves the other. METHOD 13.
    """
    by_center = np.roll(path.direction, 1) - path.direction
    return each_mm * float(np.linalg.norm(np.abs(by_center)))


def length_sigma_mm(
    path: Path,
    on_back: Bool,
    *,
    centers_mm: float,
    diameter_mm: float,
    cord_mm: float,
    number_mm: float,
    sold: float,
) -> float:
    """One standard deviation of the belt length a path takes, mm.

    ∂L/∂r is the wrap for a radius; the cord's height in the grooves cancels but for the wrap on the
    back. METHOD 13.

    Parameters: one lane of a path; the pulleys (N,) that run on the belt's back; one standard deviation
    of the path by all its centres, of a diameter, the cord's height and the number's offset, mm; of a
    belt as it is sold, as a share of its length.
    """
    return hypot(
        centers_mm,
        diameter_mm * float(np.linalg.norm(path.wrap / 2)),
        cord_mm * float(path.wrap[on_back].sum()),
        number_mm,
        sold * float(path.total),
    )


def arm_follows(
    layout: Layout, arm: SpringArm, angle: float, stiffness_n: float, reference_n: float
) -> tuple[Complex, float]:
    """How the angle at which an arm rests changes with each centre, (N,) rad/mm, by x (real) and y
    (imag), its pivot's for its own pulley; and with the length of the belt, rad/mm.

    From F(θ, c) = path − L0·(1 + (T − T_ref)/EA) = 0 with T = ±M/(dL/dθ): the belt's stretch counts,
    since a lever that grows shorter pulls it longer. METHOD 13.

    Parameters: angle at rest, rad; EA and T_ref of the whole belt, N.
    """
    count = layout.centers.size
    steps = np.repeat(_NEAR_MM * np.array([1.0, 1j]), count)
    shifts = np.zeros((4 * count + 3, count), dtype=complex)
    rows, places = np.arange(2 * count), np.tile(np.arange(count), 2)
    shifts[rows, places], shifts[2 * count + rows, places] = steps, -steps
    angles = np.full(4 * count + 3, angle)
    angles[-3:-1] += _NEAR_RAD, -_NEAR_RAD
    lever, velocity, _ = motion(arm, angles)
    centers = layout.centers + shifts
    centers[:, arm.index] = arm.pivot + shifts[:, arm.index] + lever
    path = trace(centers, layout.signed_radii)
    pulled = path.direction[:, arm.index - 1] - path.direction[:, arm.index]
    torque = 1000.0 * arm.spring_torque(angles)
    tension = arm.push * torque / dot(pulled, velocity)
    stretched = 1.0 + (tension - reference_n) / stiffness_n
    # the belt that rests where it does
    cord = path.total[-1] / stretched[-1]
    left: Float = path.total - cord * stretched
    by_angle = float(left[-3] - left[-2]) / (2 * _NEAR_RAD)
    by_axis = (left[: 2 * count] - left[2 * count : 4 * count]) / (2 * _NEAR_MM)
    by_center = np.asarray(by_axis[:count] + 1j * by_axis[count:], dtype=np.complex128)
    return -by_center / by_angle, float(stretched[-1]) / by_angle
