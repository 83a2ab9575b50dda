"""Arcs found again in a ring of many corners: the fewest straight sides and arcs that it is.

A cutter that is given arcs cuts them in one go. docs/METHOD.md, section 16. mm.
"""

from __future__ import annotations

from collections.abc import Callable
from math import pi, tan

import numpy as np

from jovial_tack.core.arrays import Complex, cross
from jovial_tack.core.line_up.plate_cuts import Ring, Vertex

#: How far a corner may lie off the arc or side it is taken for, mm.
_OFF_MM = 0.004
#: How far the middle of one of its sides may lie off an arc, mm: else it is a side, not a piece of it.
_BULGE_MM = 0.008
#: The most an arc turns in one vertex, and from one of its corners to the next: corners further
#: apart are corners, though they lie on one circle.
_MOST_TURN, _MOST_STEP = np.radians(216.0), np.radians(3.0)
#: What counts as an arc has at least so many sides.
_LEAST_SIDES = 3


def ring_of(points: Complex) -> Ring:
    """A closed ring of corners (K,) as vertices with bulges.

    >>> turns = np.linspace(0, 2 * np.pi, 257)[:-1]
    >>> [round(bulge, 3) for _, _, bulge in ring_of(10 * np.exp(1j * turns))]
    [1.366, 0.732]
    """
    sides = np.abs(np.roll(points, -1) - points)
    points = points[sides > 1e-9]
    # begun where the longest side ends, so that no arc is cut in two
    first = int(np.argmax(np.abs(np.roll(points, -1) - points))) + 1
    ring = np.roll(points, -first)
    ring = np.append(ring, ring[0])
    found: list[Vertex] = []
    here, last = 0, ring.size - 1
    while here < last:
        straight = _furthest(ring, here, here + 1, _is_straight)
        bulge, end = 0.0, straight
        if here + _LEAST_SIDES <= last:
            arc = _furthest(ring, here, here + _LEAST_SIDES, _is_arc)
            if arc > straight and _is_arc(ring[here : arc + 1]):
                end, bulge = arc, tan(_turned(ring[here : arc + 1]) / 4)
        found.append((float(ring[here].real), float(ring[here].imag), bulge))
        here = end
    return tuple(found)


def _furthest(ring: Complex, here: int, least: int, holds: Callable[[Complex], bool]) -> int:
    """How far a run from a corner holds: tried in growing steps, then between."""
    good, step, last = least, 1, ring.size - 1
    if least > last or not holds(ring[here : least + 1]):
        return here + 1
    while good < last:
        tried = min(good + step, last)
        if not holds(ring[here : tried + 1]):
            break
        good, step = tried, 2 * step
    else:
        return good
    bad = min(good + step, last)
    while bad - good > 1:
        middle = (good + bad) // 2
        good, bad = (middle, bad) if holds(ring[here : middle + 1]) else (good, middle)
    return good


def _is_straight(run: Complex) -> bool:
    along = run[-1] - run[0]
    length = abs(along)
    if length < 1e-9:
        return False
    inner = run[1:-1] - run[0]
    if inner.size == 0:
        return True
    off = np.abs(cross(np.full(inner.size, along / length), inner))
    return bool(off.max() <= _OFF_MM)


def _is_arc(run: Complex) -> bool:
    """Whether corners lie on one circle, close together, turning one way."""
    found = circle_through(run[0], run[run.size // 2], run[-1])
    if found is None:
        return False
    center, radius = found
    if np.abs(np.abs(run - center) - radius).max() > _OFF_MM:
        return False
    steps = np.angle((run[1:] - center) / (run[:-1] - center))
    sizes = np.abs(steps)
    one_way = bool((steps > 0).all() or (steps < 0).all())
    widest = float(sizes.max())
    is_fine = widest <= _MOST_STEP and radius * widest**2 / 8 <= _BULGE_MM
    return one_way and is_fine and float(sizes.sum()) <= _MOST_TURN


def _turned(run: Complex) -> float:
    """By how much an arc turns, rad, counter-clockwise positive."""
    found = circle_through(run[0], run[run.size // 2], run[-1])
    assert found is not None
    center, _ = found
    return float(np.angle((run[1:] - center) / (run[:-1] - center)).sum())


def circle_through(a: complex, b: complex, c: complex) -> tuple[complex, float] | None:
    """Centre and radius of the circle through three points; None where they lie on a line.

    >>> center, radius = circle_through(1 + 0j, 1j, -1 + 0j)
    >>> abs(center) < 1e-12, radius
    (True, 1.0)
    """
    one, other = b - a, c - a
    twice = 2.0 * (one.real * other.imag - one.imag * other.real)
    if abs(twice) < 1e-9 * max(abs(one) * abs(other), 1e-12):
        return None
    away = 1j * (other * abs(one) ** 2 - one * abs(other) ** 2) / twice
    center = complex(a - away)
    return center, abs(away)


def arc_of(start: Vertex, end: Vertex) -> tuple[complex, float, float, float]:
    """Centre, radius, first angle and turn (rad) of the arc from one vertex to the next.

    >>> center, radius, first, turn = arc_of((1.0, 0.0, 1.0), (-1.0, 0.0, 0.0))
    >>> abs(center) < 1e-12, round(radius, 9), round(first, 9), round(turn, 6)
    (True, 1.0, 0.0, 3.141593)
    """
    a, b, bulge = complex(*start[:2]), complex(*end[:2]), start[2]
    chord = b - a
    center = (a + b) / 2 + 0.25j * chord * (1 - bulge**2) / bulge
    turn = 4 * float(np.arctan(bulge))
    return center, abs(a - center), float(np.angle(a - center)), turn


def flat(ring: Ring, step_rad: float = pi / 128) -> Complex:
    """A ring as corners only: arcs in pieces of a turn, rad."""
    corners: list[Complex] = []
    for start, end in zip(ring, (*ring[1:], ring[0]), strict=True):
        if start[2] == 0:
            corners.append(np.array([complex(*start[:2])]))
            continue
        center, radius, first, turn = arc_of(start, end)
        pieces = max(int(np.ceil(abs(turn) / step_rad)), 1)
        corners.append(center + radius * np.exp(1j * (first + turn * np.arange(pieces) / pieces)))
    return np.concatenate(corners)
