"""Where a sprung tensioner stands, as it is told: an arm by its angle, a slide by its place."""

from __future__ import annotations

from math import radians

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.arm import SpringArm
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value


class Place(Value, frozen=True):
    """Where a sprung tensioner stands: the angle of an arm, or how far a slide is from the first end of
    its slot, mm; the other is None.
    """

    arm_angle_deg: float | None = None
    slide_mm: float | None = None

    @staticmethod
    def of(arm: SpringArm, angle: float) -> Place:
        """Where it stands at an angle, rad; of a slide at a share of its travel."""
        shown = float(in_its_unit(arm, np.asarray(angle)))
        return Place(slide_mm=shown) if arm.slides else Place(arm_angle_deg=shown)

    def angle_of(self, arm: SpringArm) -> float:
        """The angle there, rad; of a slide the share of its travel."""
        if self.slide_mm is not None:
            return self.slide_mm / arm.arm_mm
        return radians(self.arm_angle_deg or 0.0)

    def words(self, unit: str) -> str:
        """As “arm at 81.0°” or “slide at 12.3 mm”."""
        return f"{self.noun} at {self.figure(unit)}"

    @property
    def noun(self) -> str:
        """What stands there."""
        return "arm" if self.slide_mm is None else "slide"

    def figure(self, unit: str) -> str:
        """As “81.0°” or “12.3 mm”."""
        if self.slide_mm is not None:
            return format_length(self.slide_mm, unit)
        return f"{self.arm_angle_deg or 0.0:.1f}°"

    def distance(self, unit: str) -> str:
        """How far, as “12°” or “4.0 mm”."""
        if self.slide_mm is not None:
            return format_length(self.slide_mm, unit)
        return f"{self.arm_angle_deg or 0.0:.0f}°"


def in_its_unit(arm: SpringArm, angle: Float) -> Float:
    """Angles (...) of an arm in degrees; of a slide its shares as mm of its travel."""
    return np.asarray(angle * arm.arm_mm if arm.slides else np.degrees(angle))


def noun(arm: SpringArm) -> str:
    """What it is called."""
    return "slide" if arm.slides else "arm"
