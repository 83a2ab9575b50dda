"""Where a belt puts a shaft that slides on a slot or swings about a bolt (docs/METHOD.md, section 5).

The shaft is moved until the belt carries its installed tension: path = L0·(1 + (T − T_ref)/EA). The
path need not grow along the travel, so all places are looked for, by a scan and bisection inside each
of its cells.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float
from jovial_tack.core.drive.arm import Layout
from jovial_tack.core.drive.lanes import BeltState
from jovial_tack.core.drive.path import faults, trace
from jovial_tack.core.value import Value

_NODES = 193
_HALVINGS = 46


class Slot(Value, frozen=True):
    """A straight travel from start to end, complex mm."""

    start: complex
    end: complex

    @property
    def length_mm(self) -> float:
        """How far the shaft can go, mm."""
        return abs(self.end - self.start)

    def center(self, share: Float) -> Complex:
        """Centre at shares of the travel (...), complex mm."""
        return np.asarray(self.start + share * (self.end - self.start))

    def share(self, point: complex) -> float:
        """Share of the travel nearest to a point; 0 to 1."""
        along = self.end - self.start
        place = ((point - self.start) * along.conjugate()).real / abs(along) ** 2 if along else 0.0
        return min(max(place, 0.0), 1.0)


class Swing(Value, frozen=True):
    """A travel along an arc about a pivot (complex mm), radius mm, from one angle to another, rad."""

    pivot: complex
    radius_mm: float
    start: float
    end: float

    @property
    def length_mm(self) -> float:
        """How far the shaft can go along its arc, mm."""
        return self.radius_mm * abs(self.end - self.start)

    def center(self, share: Float) -> Complex:
        """Centre at shares of the travel (...), complex mm."""
        angle = self.start + share * (self.end - self.start)
        return np.asarray(self.pivot + self.radius_mm * np.exp(1j * angle))

    def share(self, point: complex) -> float:
        """Share of the travel nearest to a point; 0 to 1."""
        grid = np.linspace(0.0, 1.0, _NODES)
        angle = float(np.angle((point - self.pivot) / np.exp(1j * self.start)))
        span = self.end - self.start
        turns = (angle + 2 * np.pi * np.arange(-2, 3)) / span if span else np.zeros(1)
        inside = turns[(turns >= 0) & (turns <= 1)]
        if inside.size:
            return float(inside[0])
        return float(grid[np.argmin(np.abs(self.center(grid) - point))])


Track = Slot | Swing


class Slide(Value, frozen=True):
    """Where a belt puts a sliding shaft.

    share: of the travel, None if it fits nowhere; others: shares of further places where it would sit.
    short: with share None, whether the belt is too short (else too long); NaN-free: None where there is
    no path at all.
    """

    track: Track
    share: float | None
    others: tuple[float, ...] = ()
    short: bool | None = None


def slide_paths(
    layout: Layout, moved: tuple[int, ...], track: Track, share: Float
) -> tuple[Float, Bool]:
    """Cord length of the path (...), mm, and whether it can exist, with the shaft at shares (...).

    moved: places on the route that sit on the shaft.
    """
    count = layout.centers.shape[-1]
    centers = np.empty((*np.shape(share), count), dtype=np.complex128)
    centers[...] = layout.centers
    for place in moved:
        centers[..., place] = track.center(share)
    path = trace(centers, layout.signed_radii)
    return path.total, ~faults(path, layout.driver_sign).any


def slide_to(
    layout: Layout,
    moved: tuple[int, ...],
    track: Track,
    belt: BeltState,
    tension_n: float,
    drawn: complex,
) -> Slide:
    """Move a shaft until the belt carries its installed tension; of several places the one nearest to
    where it is drawn.

    Parameters: the layout; places on the route that sit on the shaft; its track; the belt; tension N;
    drawn: complex mm. METHOD 5.
    """
    wanted = float(belt.length_at(np.asarray(tension_n)))
    grid = np.linspace(0.0, 1.0, _NODES)
    length, exists = slide_paths(layout, moved, track, grid)
    excess = length - wanted
    crosses = exists[:-1] & exists[1:] & ((excess[:-1] < 0) != (excess[1:] < 0))
    cells = np.flatnonzero(crosses)
    if not cells.size:
        known = excess[exists]
        short = bool((known > 0).all()) if known.size else None
        return Slide(track, None, short=short)
    low, high = grid[cells], grid[cells + 1]
    rising = excess[cells + 1] > excess[cells]
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        past = (slide_paths(layout, moved, track, middle)[0] >= wanted) == rising
        low, high = np.where(past, low, middle), np.where(past, middle, high)
    found = (low + high) / 2
    order = np.argsort(np.abs(track.center(found) - drawn), kind="stable")
    best, *others = (float(share) for share in found[order])
    return Slide(track, best, tuple(others))
