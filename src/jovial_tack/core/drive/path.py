"""The path of a belt round its pulleys, and whether it can exist (docs/METHOD.md, section 3).

Pulleys stand in belt-travel order along the last axis. A pulley turning counter-clockwise has a
positive signed radius, one turning clockwise a negative one. Then every span obeys one formula,
ribs or back, open or across, and no case needs an angle.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from jovial_tack.core.arrays import TWO_PI, Bool, Complex, Float, Int, cross, dot

#: A belt may touch a pulley it passes by this much, mm, before it counts as running through it.
TOUCH_MM = 1e-6


@dataclass(frozen=True)
class Path:
    """A traced path; span k leaves pulley k toward pulley k + 1.

    centers (..., N) complex mm; signed_radii (N,) mm; direction (..., N) unit vectors of belt
    travel; length (..., N) span lengths mm; wrap (..., N) rad in [0, 2π). NaN where two pulleys
    stand inside one another and no tangent exists.
    """

    centers: Complex
    signed_radii: Float
    direction: Complex
    length: Float
    wrap: Float

    @cached_property
    def start(self) -> Complex:
        """Where each span leaves its pulley (..., N), mm."""
        return self.centers - 1j * self.signed_radii * self.direction

    @cached_property
    def end(self) -> Complex:
        """Where each span meets the next pulley (..., N), mm."""
        following = _ring(self.centers.shape[-1])[1]
        return (
            self.centers[..., following] - 1j * self.signed_radii[..., following] * self.direction
        )

    @cached_property
    def arc(self) -> Float:
        """Length of belt in contact with each pulley (..., N), mm."""
        return np.abs(self.signed_radii) * self.wrap

    @cached_property
    def total(self) -> Float:
        """Cord length of the closed path (...), mm."""
        return np.asarray((self.length + self.arc).sum(axis=-1))


@lru_cache(maxsize=64)
def _ring(count: int) -> tuple[Int, Int]:
    """Indices of the pulley before and of the pulley after each one."""
    index = np.arange(count)
    return np.roll(index, 1), np.roll(index, -1)


def trace(centers: Complex, signed_radii: Float) -> Path:
    """Trace the path: tangent directions, span lengths and wraps.

    With Δ = c_j − c_i, D = |Δ| and δ = ρ_j − ρ_i the belt runs along Δ/D·(√(1 − (δ/D)²) − i·δ/D),
    which is the direction ψ = φ − asin(δ/D) written without an angle; the wrap on i is
    s_i(ψ_out − ψ_in) taken in [0, 2π).

    Parameters: centers (..., N) complex, mm; signed_radii (N,), mm (+ turns ccw).
    Returns a Path. Source: the common tangent of two oriented circles. METHOD 3.

    >>> path = trace(np.array([0j, 320 + 0j]), np.array([-84.1, -41.6]))
    >>> round(float(path.total), 3), np.degrees(path.wrap).round(3).tolist()
    (1040.551, [195.264, 164.736])
    """
    before, after = _ring(centers.shape[-1])
    gap = centers[..., after] - centers
    step = signed_radii[..., after] - signed_radii
    squared = gap.real**2 + gap.imag**2
    with np.errstate(invalid="ignore", divide="ignore"):
        length = np.sqrt(squared - step**2)
        direction = gap * (length - 1j * step) / squared
    incoming = direction[..., before]
    turn = direction * incoming.conj()
    wrap = np.sign(signed_radii) * np.arctan2(turn.imag, turn.real)
    wrap = np.where(wrap < 0, wrap + TWO_PI, wrap)
    return Path(centers, signed_radii, direction, length, wrap)


@dataclass(frozen=True)
class PathFaults:
    """Why a path cannot exist, per lane.

    overlap (..., P) per pair of pulleys; lost (..., N) pulleys the belt cannot reach on their
    side; turning (...) the belt does not close in one turn; crossing (..., Q) per pair of spans;
    through (..., N, N) span k runs through pulley j.
    """

    overlap: Bool
    lost: Bool
    turning: Bool
    crossing: Bool
    through: Bool

    @property
    def any(self) -> Bool:
        """Lanes (...) in which no path exists."""
        return np.asarray(
            self.overlap.any(axis=-1)
            | self.lost.any(axis=-1)
            | self.turning
            | self.crossing.any(axis=-1)
            | self.through.any(axis=(-1, -2))
        )


@lru_cache(maxsize=64)
def pulley_pairs(count: int) -> tuple[Int, Int]:
    """Every pair of pulleys, as two index arrays in the order of PathFaults.overlap."""
    first, second = np.triu_indices(count, 1)
    return first, second


@lru_cache(maxsize=64)
def span_pairs(count: int) -> tuple[Int, Int]:
    """Every pair of spans that share no pulley, in the order of PathFaults.crossing."""
    first, second = np.triu_indices(count, 2)
    keep = ~((first == 0) & (second == count - 1))
    return first[keep], second[keep]


@lru_cache(maxsize=64)
def _bystanders(count: int) -> Bool:
    """(N, N): pulley j is not an end of span k."""
    span, pulley = np.arange(count)[:, None], np.arange(count)[None, :]
    return np.asarray((pulley != span) & (pulley != (span + 1) % count))


def pulley_gaps(centers: Complex, radii: Float) -> Float:
    """Free distance between the cord circles of every pair of pulleys (..., P), mm.

    >>> pulley_gaps(np.array([0j, 100 + 0j]), np.array([60.0, 50.0])).tolist()
    [-10.0]
    """
    first, second = pulley_pairs(centers.shape[-1])
    apart = np.abs(centers[..., first] - centers[..., second])
    return apart - radii[..., first] - radii[..., second]


def faults(path: Path, driver_sign: float) -> PathFaults:
    """Find everything that makes a traced path impossible.

    A pulley is lost when the spans before and after it cross: its wrap then came back as 2π less
    the angle by which the belt misses it. Because two lost pulleys of opposite side cancel in
    the sum of turning, each is tested by itself and the sum only catches what is left.

    Parameters: a Path; driver_sign +1 if the driver turns ccw. METHOD 3.
    """
    count = path.centers.shape[-1]
    radii = np.abs(path.signed_radii)
    overlap = ~(pulley_gaps(path.centers, radii) >= 0)
    before, _ = _ring(count)
    shorter = np.minimum(path.length, path.length[..., before])
    with np.errstate(invalid="ignore", over="ignore"):
        meet = radii * np.abs(np.tan(path.wrap / 2))
        lost = (path.wrap > np.pi) & (shorter > meet)
        turns = (np.sign(path.signed_radii) * path.wrap).sum(axis=-1) / TWO_PI
    if count == 2:
        lost &= False  # both spans end at the same pulley; the sum of turning tells
    turning = ~(np.abs(turns - driver_sign) < 0.25)
    return PathFaults(overlap, lost, turning, _crossings(path), _run_through(path, radii))


def _crossings(path: Path) -> Bool:
    """Which pairs of spans cross (..., Q)."""
    first, second = span_pairs(path.centers.shape[-1])
    if path.centers.shape[-1] == 2:
        first, second = np.array([0]), np.array([1])
    start = path.start
    run = path.direction * path.length
    p, u = start[..., first], run[..., first]
    q, w = start[..., second], run[..., second]
    with np.errstate(invalid="ignore"):
        sides_of_first = cross(u, q - p) * cross(u, q + w - p)
        sides_of_second = cross(w, p - q) * cross(w, p + u - q)
    return np.asarray((sides_of_first < 0) & (sides_of_second < 0))


def _run_through(path: Path, radii: Float) -> Bool:
    """Which spans run through a pulley that is not one of their ends (..., N spans, N pulleys)."""
    to_center = path.centers[..., None, :] - path.start[..., :, None]
    along = dot(path.direction[..., :, None], to_center)
    nearest = np.clip(along, 0.0, path.length[..., :, None])
    miss = np.abs(to_center - nearest * path.direction[..., :, None])
    inside = miss < radii[..., None, :] - TOUCH_MM
    return np.asarray(inside & _bystanders(path.centers.shape[-1]))


def blame_for_turning(centers: Complex, signed_radii: Float, driver: int) -> int | None:
    """The pulley whose removal lets a path close in one turn, for one lane; None if no single one.

    Used when the sum of turning is wrong although no neighbouring spans cross. METHOD 3.
    """
    count = centers.shape[-1]
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
