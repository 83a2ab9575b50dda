"""From where an arm stands: the belt that rests there, and how far its toggle is (METHOD 4 and 5)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import MM_PER_M, Float
from jovial_tack.core.drive.arm import Layout, SpringArm, place_arm
from jovial_tack.core.drive.lanes import BeltState
from jovial_tack.core.drive.path import faults

_TOGGLE_STEPS = 6


def belt_for_angle(layout: Layout, arm: SpringArm, belt: BeltState, angle: Float) -> Float:
    """Cord length at T_ref of the belt that rests with the arm at given angles (...), mm.

    NaN where the arm cannot work. The inverse of settling at rest: T = s_p·M/(dL/dθ) and
    L0 = path/(1 + (T − T_ref)/EA). METHOD 4 and 5.
    """
    geometry = place_arm(layout, arm, angle)
    exists = ~faults(geometry.path, layout.driver_sign).any
    with np.errstate(invalid="ignore", divide="ignore"):
        tension = arm.push * MM_PER_M * arm.spring_torque(angle) / geometry.grown
        fills = geometry.path.total / (1 + (tension - belt.reference_tension_n) / belt.stiffness_n)
    # a negative tension is an arm past its toggle: a length comes out, and no belt has it
    return np.where(exists & (tension > 0), fills, np.nan)


def toggle_distance(layout: Layout, arm: SpringArm, angle: float) -> float:
    """Angle from an arm position to the nearest place where dL/dθ = 0, rad; NaN if none within 180°.

    At the toggle the arm loses its lever and its tension grows without bound. METHOD 5.
    """
    ways = np.array([1.0, -1.0])
    angles = angle + ways * np.linspace(0.0, np.pi, 91)[:, None]
    grown = arm.push * place_arm(layout, arm, angles).grown
    # not (grown > 0): NaN, where there is no path, ends the way as a toggle does
    past = np.argmax(~(grown > 0), axis=0)
    # argmax is 0 both for none and for the first; only a sign that changes within the way is a toggle
    lane = np.flatnonzero((past > 0) & np.isfinite(grown[past, [0, 1]]))
    if not lane.size:
        return float("nan")
    low, high = angles[past[lane] - 1, lane], angles[past[lane], lane]
    middle = (low + high) / 2
    for _ in range(_TOGGLE_STEPS):
        geometry = place_arm(layout, arm, middle)
        short = arm.push * geometry.grown > 0
        low, high = np.where(short, middle, low), np.where(short, high, middle)
        step = middle - geometry.grown / geometry.curved
        # Newton while its step stays between the ends, else the middle; the product heeds either order
        middle = np.where((step - low) * (step - high) <= 0, step, (low + high) / 2)
    return float(np.abs(middle - angle).min())
