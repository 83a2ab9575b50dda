"""Where a tape, rule or level lies when a reading is taken: lines over the layout and in a picture."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.path import trace

_STEP = np.radians(5.0)
_PAIRS = ("distance", "outside", "inside")
Lines = tuple[Complex, ...]


def reading_lines(
    kind: str, places: Sequence[complex], radii: Sequence[float], turns: Sequence[int] = ()
) -> Lines:
    """The lines of a reading of a kind between places with the radii of their rims, mm; none where too
    few places are known. turns: which way round a tape runs over each rim between its ends.
    """
    at = np.array(places, dtype=complex)
    if at.size < 2:
        return ()
    if kind == "round":
        order = np.argsort(np.angle(at - at.mean()), kind="stable")
        return _loop(at[order], np.maximum(np.array(radii)[order], 1.0))
    if kind == "belt":
        return _loop(at, np.maximum(np.array(radii), 1.0) * np.array(turns))
    if kind == "over":
        return _laid_over(at, np.array(radii), turns)
    first, second = complex(at[0]), complex(at[1])
    gap = second - first
    along = gap / abs(gap) if abs(gap) > 1e-9 else 1.0 + 0j
    if kind in _PAIRS:
        more = {"distance": 0.0, "outside": 1.0, "inside": -1.0}[kind]
        return (np.array([first - more * radii[0] * along, second + more * radii[1] * along]),)
    if kind in ("tangent", "cross"):
        return _straight(at[:2], radii, across=kind == "cross")
    if kind == "offset" and at.size > 2:
        foot = first + along * ((at[2] - first) * along.conjugate()).real
        return (np.array([first, second]), np.array([foot, at[2]]))
    corner = complex(second.real, first.imag)
    if kind == "dx":
        return (np.array([first, corner]), np.array([corner, second]))
    if kind == "dy":
        return (np.array([corner, second]), np.array([first, corner]))
    if kind == "angle":
        level = first + max(abs(gap) / 2, 1.0)
        return (np.array([first, second]), np.array([first, level]))
    return (np.array([first, second]),)


def _straight(at: Complex, radii: Sequence[float], *, across: bool) -> Lines:
    """A tape along the same side of two rims, or from one side to the other."""
    signed = np.array([-radii[0], radii[1] if across else -radii[1]])
    path = trace(at, signed)
    if not np.isfinite(path.length[0]):
        return ()
    return (np.array([path.start[0], path.end[0]]),)


def _loop(at: Complex, signed_radii: Float) -> Lines:
    """A tape or belt all the way round, in the order of travel."""
    path = trace(at, signed_radii)
    if not np.isfinite(path.total):
        return ()
    points: list[complex] = []
    for k in range(at.size):
        center, wrap = path.centers[k], float(path.wrap[k])
        begin = path.end[k - 1] - center
        count = max(2, int(wrap / _STEP) + 2)
        turn = np.sign(signed_radii[k])
        points += (center + begin * np.exp(1j * turn * np.linspace(0.0, wrap, count))).tolist()
    return (np.array([*points, points[0]]),)


def _laid_over(at: Complex, radii: Float, turns: Sequence[int]) -> Lines:
    signs = np.array([0, *(turns or _far_sides(at)), 0])
    path = trace(at, radii * signs)
    if not np.isfinite(path.length[:-1]).all():
        return ()
    points: list[complex] = [complex(at[0])]
    for k in range(1, at.size - 1):
        center, wrap = path.centers[k], float(path.wrap[k])
        begin = path.end[k - 1] - center
        count = max(2, int(wrap / _STEP) + 2)
        points += (center + begin * np.exp(1j * signs[k] * np.linspace(0.0, wrap, count))).tolist()
    return (np.array([*points, complex(at[-1])]),)


def _far_sides(at: Complex) -> list[int]:
    along = at[-1] - at[0]
    return [-1 if ((p - at[0]) * np.conj(along)).imag > 0 else 1 for p in at[1:-1]]
