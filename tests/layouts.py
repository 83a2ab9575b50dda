"""Builds turned, moved and mirrored, and drives perturbed at random."""

from __future__ import annotations

import cmath
import copy
import math
from typing import Any

OTHER = {"cw": "ccw", "ccw": "cw"}


def moved(
    build: dict[str, Any], turn_deg: float = 0.0, shift: complex = 0j, mirror: bool = False
) -> dict[str, Any]:
    """The same engine turned about the crank, shifted, and seen in a mirror (x → −x)."""
    build = copy.deepcopy(build)

    def point(at: list[float]) -> list[float]:
        z = complex(*at)
        z = -z.conjugate() if mirror else z
        z = z * cmath.rect(1, math.radians(turn_deg)) + shift
        return [z.real, z.imag]

    def angle(degrees: float) -> float:
        return (180.0 - degrees if mirror else degrees) + turn_deg

    for shaft in build["shafts"]:
        shaft["center_mm"] = point(shaft["center_mm"])
        if mirror and shaft.get("needs_rotation") in OTHER:
            shaft["needs_rotation"] = OTHER[shaft["needs_rotation"]]
    for drive in build["drives"]:
        arm = drive["tensioner"]
        if arm["type"] == "spring_arm":
            arm["pivot_mm"] = point(arm["pivot_mm"])
            arm["angle_deg"] = angle(arm["angle_deg"])
            for key in ("stops_deg", "window_deg"):
                arm[key] = sorted(angle(a) for a in arm[key])
            if mirror:
                arm["pushes"] = OTHER[arm["pushes"]]
                arm["notches_deg"] = [-a for a in arm.get("notches_deg", [0])]
    if mirror:
        build["engine"]["crank_rotation"] = OTHER[build["engine"]["crank_rotation"]]
    return build
