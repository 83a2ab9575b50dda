"""A drive's adjuster as the mechanics see it."""

from __future__ import annotations

from collections.abc import Sequence
from math import radians

from jovial_tack.answers.drive.belt_figures import BeltFigures
from jovial_tack.answers.drive.case import _SIGN
from jovial_tack.core.arrays import MM_PER_M
from jovial_tack.core.drive.arm import Layout, SpringArm
from jovial_tack.core.drive.path import trace
from jovial_tack.core.drive.sliding import Slot
from jovial_tack.core.drive.solve import Locked
from jovial_tack.document import model as doc
from jovial_tack.document.travel import notch_offset_deg, slot_of


def adjuster_of(
    drive: doc.Drive,
    shafts: Sequence[doc.Shaft],
    layout: Layout,
    belt: BeltFigures,
    spring_factor: float = 1.0,
) -> SpringArm | Locked:
    """The drive's adjuster; a stretch belt keeps the tension its path gives it.

    shafts: along the route; spring_factor: how many times as strong its spring is.
    Undecided drives stand as locked at no tension.
    """
    tensioner, length = drive.tensioner, drive.belt.effective_length_mm
    if isinstance(tensioner, doc.LockedTensioner):
        return Locked(tensioner.installed_tension_n)
    if isinstance(tensioner, doc.StretchTensioner) and length is not None:
        path = trace(layout.centers, layout.signed_radii)
        return Locked(float(belt.stretching(length).tension_at(path.total)))
    if isinstance(tensioner, doc.SpringSlideTensioner):
        index = drive.route.index(tensioner.pulley)
        slot = slot_of(drive, shafts[index])
        return Locked(0.0) if slot is None else _slide(tensioner, index, slot, spring_factor)
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


def _slide(
    tensioner: doc.SpringSlideTensioner, index: int, slot: Slot, spring_factor: float
) -> SpringArm:
    """A sprung slide: its "angle" is the share of the slot, so that a force over the slot's length does
    the work of a torque over a radian.
    """
    length = slot.length_mm
    push = 1 if tensioner.pushes_to == "second" else -1
    ends = (0.0, 1.0) if push > 0 else (1.0, 0.0)
    low, high = sorted(tensioner.window_mm or (0.0, length), reverse=push < 0)
    return SpringArm(
        index=index,
        pivot=slot.start,
        arm_mm=length,
        push=push,
        angle=tensioner.at_mm / length,
        torque_nm=tensioner.force_n * spring_factor * length / MM_PER_M,
        rate_nm_per_rad=tensioner.rate_n_per_mm * spring_factor * length**2 / MM_PER_M,
        stops=ends,
        window=(low / length, high / length),
        way=(slot.end - slot.start) / length,
    )
