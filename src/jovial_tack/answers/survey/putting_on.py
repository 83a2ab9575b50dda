"""A part of the shelf put on a shaft."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.interchange import plane_shift
from jovial_tack.answers.lay_out.suited import set_spring_arm
from jovial_tack.catalogue import Catalogue
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.model import Build, Pulley, Shaft, ShelfPart, SpringArmTensioner


def put_on(build: Build, shaft_id: str, part_id: str, catalogue: Catalogue) -> Build:
    """Put a part on a shaft.

    A pulley or idler takes the place of the shaft's pulley on the same side of a belt (or waits for the
    next belt that is laid on it), a tensioner gives its figures to the arm, an accessory its limits.
    """
    part, shaft = build.part(part_id), build.shaft(shaft_id)
    if part.kind == "accessory":
        given = ("max_rpm", "hub_load_limit_n", "needs_rotation")
        figures = {key: v for key in given if (v := getattr(part, key)) is not None}
        if part.of is not None and shaft.kind != "crank":
            figures["kind"] = part.of
        return set_shaft(build, shaft_id, name=part.label, part=part_id, **figures)
    if part.kind == "tensioner":
        return _put_tensioner(build, shaft, part, catalogue)
    if part.kind not in ("pulley", "idler"):
        return build
    on = [(d.id, p) for d in build.drives for p in d.pulleys if p.shaft == shaft_id]
    same = [entry for entry in on if entry[1].side == part.side] or on
    if not same:
        return set_shaft(build, shaft_id, part=part_id)
    drive, pulley = same[0]
    return with_pulley(build, drive, changed(pulley, **_figures(build, pulley, part)))


def _figures(build: Build, pulley: Pulley, part: ShelfPart) -> dict[str, Any]:
    """What a pulley becomes when a part takes its place; its plane moves with the offset."""
    keys = ("diameter_mm", "grooves", "flange_mm", "coating", "friction_scale", "side")
    figures: dict[str, Any] = {
        key: value for key in keys if (value := getattr(part, key)) is not None
    }
    figures["part"] = part.id
    shift = plane_shift(build, pulley, part)
    face = build.shaft(pulley.shaft).face_mm
    if shift is not None and pulley.plane_mm is not None:
        figures["plane_mm"] = pulley.plane_mm + shift
    elif face is not None and part.offset_mm is not None:
        figures["plane_mm"] = face + part.offset_mm
    return figures


def _spring_figures(part: ShelfPart, arm: object) -> dict[str, Any]:
    """The spring of a part as figures of an arm; none where it was not read."""
    sprung = spring_of(part)
    if sprung is None or not isinstance(arm, SpringArmTensioner):
        return {}
    # the readings count how far the arm is wound back; at its unwound stop that is nothing
    unwound = max(arm.stops_deg) if arm.pushes == "ccw" else min(arm.stops_deg)
    return {"angle_deg": unwound, "torque_nm": sprung[0], "rate_nm_per_deg": sprung[1]}


def _put_tensioner(build: Build, shaft: Shaft, part: ShelfPart, catalogue: Catalogue) -> Build:
    on = [(d.id, p.id) for d in build.drives for p in d.pulleys if p.shaft == shaft.id]
    if not on:
        return set_shaft(build, shaft.id, part=part.id)
    drive, pulley = on[0]
    held = build.drive(drive).tensioner
    if not isinstance(held, SpringArmTensioner) or held.pulley != pulley:
        build = set_spring_arm(build, drive, pulley, catalogue)
    figures = _spring_figures(part, build.drive(drive).tensioner)
    if part.arm_mm is not None:
        figures["arm_mm"] = part.arm_mm
    build = set_shaft(build, shaft.id, part=part.id)
    return set_arm(build, drive, **figures) if figures else build


def spring_of(part: ShelfPart) -> tuple[float, float] | None:
    """Torque at the unwound stop, N·m, and rate, N·m per degree, from two scale readings on the arm.

    Each reading: degrees wound back from the unwound stop, and the pull of the scale square to the arm
    at `lever_mm` from the pivot. None without two different ones.
    """
    lever = part.lever_mm or part.arm_mm
    readings = part.readings or ()
    if lever is None or len(readings) < 2 or readings[0][0] == readings[1][0]:
        return None
    (a, pull_a), (b, pull_b) = readings[:2]
    first, second = pull_a * lever / 1000.0, pull_b * lever / 1000.0
    rate = (second - first) / (b - a)
    torque = first - rate * a
    return (torque, rate) if torque > 0 and rate >= 0 else None
