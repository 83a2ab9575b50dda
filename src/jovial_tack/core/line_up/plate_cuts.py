"""What is cut through a bracket plate: holes, slots and arcs, as figures and as outlines with arcs.

Outlines are closed rings of vertices (x, y, bulge): the bulge is the tangent of a quarter of the turn
to the next vertex, 0 for a straight side, more than 0 counter-clockwise, as drawings are exchanged.
docs/METHOD.md, section 16. mm.
"""

from __future__ import annotations

from math import pi, tan

import numpy as np

from jovial_tack.core.arrays import Complex
from jovial_tack.core.value import Value

Vertex = tuple[float, float, float]
Ring = tuple[Vertex, ...]

#: Pieces a quarter of a circle is cut into: 1.9 µm from the arc at a radius of 25 mm.
QUARTER = 64
#: How far the pieces of an arc may lie off it, mm.
_SAGITTA_MM = 0.005


class Cut(Value, frozen=True):
    """Base of what is cut. pad_mm: metal wanted from its spine to the edge of the plate."""

    id: str
    width_mm: float
    pad_mm: float

    @property
    def spine(self) -> Complex:
        """The line its middle runs along: a point, two, or as many as an arc takes."""
        raise NotImplementedError

    @property
    def middle(self) -> complex:
        """The middle of its spine."""
        raise NotImplementedError

    @property
    def ends(self) -> tuple[complex, ...]:
        """Where its spine ends; a hole has one."""
        spine = self.spine
        return (complex(spine[0]), complex(spine[-1])) if spine.size > 1 else (complex(spine[0]),)

    @property
    def area_mm2(self) -> float:
        """What is cut away, mm²."""
        raise NotImplementedError

    @property
    def ring(self) -> Ring:
        """Its outline, counter-clockwise."""
        raise NotImplementedError


class RoundHole(Cut, frozen=True):
    """A hole; width_mm is its diameter."""

    at: complex

    @property
    def spine(self) -> Complex:
        """Its middle."""
        return np.array([self.at])

    @property
    def middle(self) -> complex:
        """Its middle."""
        return self.at

    @property
    def area_mm2(self) -> float:
        """What is cut away, mm²."""
        return pi / 4 * self.width_mm**2

    @property
    def ring(self) -> Ring:
        """Two half circles."""
        left, right = self.at - self.width_mm / 2, self.at + self.width_mm / 2
        return (left.real, left.imag, 1.0), (right.real, right.imag, 1.0)


class Slot(Cut, frozen=True):
    """A slot with round ends, between the middles of its ends."""

    start: complex
    end: complex

    @property
    def spine(self) -> Complex:
        """The line between the middles of its ends."""
        return np.array([self.start, self.end] if self.start != self.end else [self.start])

    @property
    def middle(self) -> complex:
        """Half way along."""
        return (self.start + self.end) / 2

    @property
    def area_mm2(self) -> float:
        """What is cut away, mm²."""
        return pi / 4 * self.width_mm**2 + self.width_mm * abs(self.end - self.start)

    @property
    def ring(self) -> Ring:
        """Two sides and two half circles."""
        along = self.end - self.start
        way = along / abs(along) if along else 1.0 + 0j
        aside = 0.5j * way * self.width_mm
        corners = (self.start - aside, self.end - aside, self.end + aside, self.start + aside)
        return tuple(
            (corner.real, corner.imag, bulge)
            for corner, bulge in zip(corners, (0.0, 1.0, 0.0, 1.0), strict=True)
        )


class ArcSlot(Cut, frozen=True):
    """A slot along an arc with round ends: from an angle through a sweep above 0, rad."""

    center: complex
    radius_mm: float
    start_rad: float
    sweep_rad: float

    def at(self, share: float) -> complex:
        """A place along its spine, 0 to 1."""
        turn = self.start_rad + share * self.sweep_rad
        return complex(self.center + self.radius_mm * np.exp(1j * turn))

    @property
    def spine(self) -> Complex:
        """The arc in straight pieces."""
        step = min(pi / 2 / QUARTER, 2 * np.sqrt(2 * _SAGITTA_MM / self.radius_mm))
        pieces = max(int(np.ceil(self.sweep_rad / step)), 1)
        turns = self.start_rad + np.linspace(0.0, self.sweep_rad, pieces + 1)
        return np.asarray(self.center + self.radius_mm * np.exp(1j * turns))

    @property
    def middle(self) -> complex:
        """Half way along."""
        return self.at(0.5)

    @property
    def area_mm2(self) -> float:
        """What is cut away, mm²."""
        return pi / 4 * self.width_mm**2 + self.width_mm * self.radius_mm * self.sweep_rad

    @property
    def ring(self) -> Ring:
        """The far side, an end, the near side back, an end."""
        half, first = self.width_mm / 2, np.exp(1j * self.start_rad)
        last = first * np.exp(1j * self.sweep_rad)
        far, near = self.radius_mm + half, self.radius_mm - half
        corners = (far * first, far * last, near * last, near * first)
        along = tan(self.sweep_rad / 4)
        places = [complex(self.center + corner) for corner in corners]
        return tuple(
            (place.real, place.imag, bulge)
            for place, bulge in zip(places, (along, 1.0, -along, 1.0), strict=True)
        )


class KeptOut(Value, frozen=True, eq=False):
    """Where a plate must not be. outline (K,): corners, complex mm; clear_mm: the gap kept from it;
    tells: what it is; of: what it belongs to, such as the drive of a belt.
    """

    tells: str
    outline: Complex
    clear_mm: float
    of: str = ""


def usual_pad(width_mm: float) -> float:
    """Metal that is usual from the middle of what is cut to the edge, mm: 1.5 times its width, and at
    least 2 mm beside it.

    >>> usual_pad(11.0), usual_pad(1.0)
    (16.5, 2.5)
    """
    return max(1.5 * width_mm, width_mm / 2 + 2.0)
