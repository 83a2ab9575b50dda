"""Where a belt puts a shaft that slides on a slot or swings about a bolt (docs/METHOD.md, section 5).

The shaft is moved until the belt carries its installed tension: path = L0·(1 + (T − T_ref)/EA). The
path need not grow along the travel, so all places are looked for, by a scan and by false position
inside each of its cells.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float
from jovial_tack.core.drive.arm import Layout
from jovial_tack.core.drive.lanes import BeltState
from jovial_tack.core.drive.path import Path, faults, trace
from jovial_tack.core.value import Value

_NODES = 193
_STEPS, _CLOSED_MM = 60, 1e-11


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
    path = _path_at(layout, moved, track, share)
    return path.total, ~faults(path, layout.driver_sign).any


def _path_at(layout: Layout, moved: tuple[int, ...], track: Track, share: Float) -> Path:
    centers = np.empty((*np.shape(share), layout.centers.shape[-1]), dtype=np.complex128)
    centers[...] = layout.centers
    for place in moved:
        centers[..., place] = track.center(share)
    return trace(centers, layout.signed_radii)


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
    found = _filled(layout, moved, track, wanted, grid[cells], grid[cells + 1])
    found = found[np.isfinite(found)]  # a pulley in passing may leave a cell without a path
    if not found.size:
        return Slide(track, None)
    order = np.argsort(np.abs(track.center(found) - drawn), kind="stable")
    best, *others = (float(share) for share in found[order])
    return Slide(track, best, tuple(others))


def _filled(
    layout: Layout, moved: tuple[int, ...], track: Track, wanted_mm: float, low: Float, high: Float
) -> Float:
    """Shares (C,) at which the path has the length wanted, one between each low and high.

    False position; an end that stays twice has its excess halved, so that it cannot stay for ever
    (the Illinois rule).
    """

    def excess(share: Float) -> Float:
        return np.asarray(_path_at(layout, moved, track, share).total - wanted_mm)

    below, above = excess(low), excess(high)
    share, stayed = low, np.zeros(low.shape)
    for _ in range(_STEPS):
        share = np.clip(low - below * (high - low) / (above - below), low, high)
        now = excess(share)
        if np.all(np.abs(now) < _CLOSED_MM):
            break
        # the new place takes the end's place whose sign it has; +1 where the upper end stays
        stays = np.where(np.sign(now) == np.sign(below), 1.0, -1.0)
        again = stays == stayed
        # all four in one go: each right side must still see the ends as they were
        low, high = np.where(stays > 0, share, low), np.where(stays > 0, high, share)
        halved = np.where(again, 0.5, 1.0)
        below, above = (
            np.where(stays > 0, now, below * halved),
            np.where(stays > 0, above * halved, now),
        )
        stayed = stays
    return share
