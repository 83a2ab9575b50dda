"""The path of a belt round its pulleys, and whether it can exist (docs/METHOD.md, section 3).

Pulleys stand in belt-travel order along the last axis. A pulley turning counter-clockwise has a
positive signed radius, one turning clockwise a negative one. Then every span obeys one formula,
ribs or back, open or across, and no case needs an angle. Several routes lie one after another on the
axis (see `ring`).
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np

from jovial_tack.core.arrays import TWO_PI, Bool, Complex, Float, Int, cross, dot
from jovial_tack.core.drive.ring import Ring, ring_of
from jovial_tack.core.value import Value

#: A belt may touch a pulley it passes by this much, mm, before it counts as running through it.
TOUCH_MM = 1e-6


class Path(Value, frozen=True, dict=True):
    """A traced path; span k leaves pulley k toward the next one on its route.

    centers (..., N) complex mm; signed_radii (N,) mm; direction (..., N) unit vectors of belt
    travel; length (..., N) span lengths mm; wrap (..., N) rad in [0, 2π). NaN where two pulleys
    stand inside one another and no tangent exists. ring: the routes.
    """

    centers: Complex
    signed_radii: Float
    direction: Complex
    length: Float
    wrap: Float
    ring: Ring

    @cached_property
    def start(self) -> Complex:
        """Where each span leaves its pulley (..., N), mm."""
        return self.centers - 1j * self.signed_radii * self.direction

    @cached_property
    def end(self) -> Complex:
        """Where each span meets the next pulley (..., N), mm."""
        after = self.ring.after
        return self.centers[..., after] - 1j * self.signed_radii[..., after] * self.direction

    @cached_property
    def arc(self) -> Float:
        """Length of belt in contact with each pulley (..., N), mm."""
        return np.abs(self.signed_radii) * self.wrap

    @cached_property
    def total(self) -> Float:
        """Cord length of each closed path, mm."""
        return self.ring.sum(self.length + self.arc)

    def lanes(self, which: Int | slice | int) -> Path:
        """The chosen lanes of a path with (S, N) members; of one lane (N,) members."""
        return Path(
            self.centers[which],
            self.signed_radii,
            self.direction[which],
            self.length[which],
            self.wrap[which],
            self.ring,
        )

    def route(self, which: int) -> Path:
        """One of several routes."""
        first, size = int(self.ring.first[which]), self.ring.sizes[which]
        own = (..., slice(first, first + size))
        return Path(
            self.centers[own],
            self.signed_radii[own],
            self.direction[own],
            self.length[own],
            self.wrap[own],
            ring_of(size),
        )

    @staticmethod
    def beside(each: Sequence[Path]) -> Path:
        """Single paths as several routes of one."""

        return Path(
            np.concatenate([path.centers for path in each], axis=-1),
            np.concatenate([path.signed_radii for path in each]),
            np.concatenate([path.direction for path in each], axis=-1),
            np.concatenate([path.length for path in each], axis=-1),
            np.concatenate([path.wrap for path in each], axis=-1),
            ring_of(*(path.signed_radii.size for path in each)),
        )


def trace(centers: Complex, signed_radii: Float, ring: Ring | None = None) -> Path:
    """Trace the path: tangent directions, span lengths and wraps.

    With Δ = c_j − c_i, D = |Δ| and δ = ρ_j − ρ_i the belt runs along Δ/D·(√(1 − (δ/D)²) − i·δ/D),
    which is the direction ψ = φ − asin(δ/D) written without an angle; the wrap on i is
    s_i(ψ_out − ψ_in) taken in [0, 2π).

    Parameters: centers (..., N) complex, mm; signed_radii (N,), mm (+ turns ccw); ring: the routes,
    one of all pulleys if none is given. Returns a Path. Source: the common tangent of two oriented
    circles. METHOD 3.

    >>> path = trace(np.array([0j, 320 + 0j]), np.array([-84.1, -41.6]))
    >>> round(float(path.total), 3), np.degrees(path.wrap).round(3).tolist()
    (1040.551, [195.264, 164.736])
    """
    ring = ring or ring_of(centers.shape[-1])
    before, after = ring.before, ring.after
    gap = centers[..., after] - centers
    step = signed_radii[..., after] - signed_radii
    squared = gap.real**2 + gap.imag**2
    # overlapping pulleys have no tangent: their NaN is found as a fault and goes no further
    with np.errstate(invalid="ignore", divide="ignore"):
        length = np.sqrt(squared - step**2)
        direction = gap * (length - 1j * step) / squared
    incoming = direction[..., before]
    turn = direction * incoming.conj()
    wrap = np.sign(signed_radii) * np.arctan2(turn.imag, turn.real)
    # a belt never turns back on a pulley: a negative angle is the long way round
    wrap = np.where(wrap < 0, wrap + TWO_PI, wrap)
    return Path(centers, signed_radii, direction, length, wrap, ring)


class PathFaults(Value, frozen=True):
    """Why a path cannot exist, per lane; pairs in the order of the ring's.

    overlap (..., P) per pair of pulleys; lost (..., N) pulleys the belt cannot reach on their
    side; turning (per route) the belt does not close in one turn; crossing (..., Q) per pair of
    spans; through (..., B) span that runs through a bystander.
    """

    ring: Ring
    overlap: Bool
    lost: Bool
    turning: Bool
    crossing: Bool
    through: Bool

    @property
    def any(self) -> Bool:
        """In which lanes no path exists, per route."""
        ring = self.ring
        return np.asarray(
            ring.pulley_pairs.any(self.overlap)
            | ring.any(self.lost)
            | self.turning
            | ring.span_pairs.any(self.crossing)
            | ring.bystanders.any(self.through)
        )


def pulley_gaps(centers: Complex, radii: Float, ring: Ring | None = None) -> Float:
    """Free distance between the cord circles of every pair of pulleys of a route (..., P), mm.

    >>> pulley_gaps(np.array([0j, 100 + 0j]), np.array([60.0, 50.0])).tolist()
    [-10.0]
    """
    pairs = (ring or ring_of(centers.shape[-1])).pulley_pairs
    apart = np.abs(centers[..., pairs.first] - centers[..., pairs.second])
    return apart - (radii[..., pairs.first] + radii[..., pairs.second])


def faults(path: Path, driver_sign: float | Float) -> PathFaults:
    """Find everything that makes a traced path impossible.

    A pulley is lost when the spans before and after it cross: its wrap then came back as 2π less
    the angle by which the belt misses it. Because two lost pulleys of opposite side cancel in
    the sum of turning, each is tested by itself and the sum only catches what is left.

    Parameters: a Path; driver_sign +1 if the driver turns ccw, per route. METHOD 3.
    """
    ring = path.ring
    radii = np.abs(path.signed_radii)
    # not (gap >= 0): a NaN gap is an overlap
    overlap = ~(pulley_gaps(path.centers, radii, ring) >= 0)
    shorter = np.minimum(path.length, path.length[..., ring.before])
    with np.errstate(invalid="ignore", over="ignore"):
        # from the pulley to where the two spans, drawn on, would meet
        meet = radii * np.abs(np.tan(path.wrap / 2))
        lost = (path.wrap > np.pi) & (shorter > meet)
        turns = ring.sum(np.sign(path.signed_radii) * path.wrap) / TWO_PI
    if 2 in ring.sizes:
        # both spans of two pulleys end at the same pulley; the sum of turning tells
        lost &= np.array(ring.sizes)[ring.of] > 2
    # not (near): a NaN sum does not close either; a quarter turn is far from any whole one
    turning = ~(np.abs(turns - driver_sign) < 0.25)
    return PathFaults(ring, overlap, lost, turning, _crossings(path), _run_through(path, radii))


def _crossings(path: Path) -> Bool:
    """Which pairs of spans cross (..., Q)."""
    pairs = path.ring.span_pairs
    start = path.start
    run = path.direction * path.length
    p, u = start[..., pairs.first], run[..., pairs.first]
    q, w = start[..., pairs.second], run[..., pairs.second]
    away = q - p
    with np.errstate(invalid="ignore"):
        # each span has the ends of the other on both its sides; a NaN compares false, and crosses none
        sides_of_first = cross(u, away) * cross(u, away + w)
        sides_of_second = cross(w, -away) * cross(w, u - away)
    return np.asarray((sides_of_first < 0) & (sides_of_second < 0))


def _run_through(path: Path, radii: Float) -> Bool:
    """Which spans run through a pulley that is not one of their ends (..., B)."""
    pairs = path.ring.bystanders
    span, pulley = pairs.first, pairs.second
    along = path.direction[..., span]
    to_center = path.centers[..., pulley] - path.start[..., span]
    # nearest point of the span itself, not of the line it lies on
    nearest = np.minimum(np.maximum(dot(along, to_center), 0.0), path.length[..., span])
    miss = np.abs(to_center - nearest * along)
    return np.asarray(miss < radii[..., pulley] - TOUCH_MM)


def blame_for_turning(centers: Complex, signed_radii: Float, driver: int) -> int | None:
    """The pulley whose removal lets a path close in one turn, for one lane; None if no single one.

    Used when the sum of turning is wrong although no neighbouring spans cross. METHOD 3.
    """
    count = centers.shape[-1]
    # the smallest first: an idler on the wrong side is likelier than a crank pulley
    for drop in sorted(range(count), key=lambda i: abs(signed_radii[i])):
        if drop == driver or count <= 2:
            continue
        keep = [i for i in range(count) if i != drop]
        rest = faults(
            trace(centers[keep], signed_radii[keep]), float(np.sign(signed_radii[driver]))
        )
        if not (rest.turning or rest.lost.any()):
            return drop
    return None
