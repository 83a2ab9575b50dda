"""A drive's adjuster as the mechanics see it."""

from __future__ import annotations

from math import radians

from jovial_tack.answers.drive.belt_figures import BeltFigures
from jovial_tack.answers.drive.case import _SIGN
from jovial_tack.core.drive.arm import Layout, SpringArm
from jovial_tack.core.drive.path import trace
from jovial_tack.core.drive.solve import Locked
from jovial_tack.document import model as doc
from jovial_tack.document.travel import notch_offset_deg


def adjuster_of(
    drive: doc.Drive, layout: Layout, belt: BeltFigures, spring_factor: float = 1.0
) -> SpringArm | Locked:
    """The drive's adjuster; a stretch belt keeps the tension its path gives it.

    spring_factor: how many times as strong its spring is.
    Undecided drives stand as locked at no tension.
    """
    tensioner, length = drive.tensioner, drive.belt.effective_length_mm
    if isinstance(tensioner, doc.LockedTensioner):
        return Locked(tensioner.installed_tension_n)
    if isinstance(tensioner, doc.StretchTensioner) and length is not None:
        path = trace(layout.centers, layout.signed_radii)
        return Locked(float(belt.stretching(length).tension_at(path.total)))
    if not isinstance(tensioner, doc.SpringArmTensioner):
        return Locked(0.0)
    push = _SIGN[tensioner.pushes]
    turned = notch_offset_deg(tensioner)

    def ordered(pair: tuple[float, float]) -> tuple[float, float]:
        wound, unwound = sorted(pair, reverse=push < 0)
        return radians(wound + turned), radians(unwound + turned)

    return SpringArm(
        index=drive.route.index(tensioner.pulley),
        pivot=complex(*tensioner.pivot_mm),
        arm_mm=tensioner.arm_mm,
        push=push,
        angle=radians(tensioner.angle_deg + turned),
        torque_nm=tensioner.torque_nm * spring_factor,
        rate_nm_per_rad=tensioner.rate_nm_per_deg * spring_factor / radians(1.0),
        stops=ordered(tensioner.stops_deg),
        window=ordered(tensioner.window_deg or tensioner.stops_deg),
    )
