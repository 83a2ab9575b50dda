"""Nets drawn for tests: where the points truly are, and what each reading of them would be.

The readings are computed here by plain geometry, apart from the program's own models.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from jovial_tack.core.survey.net import Net, Reading

Complex = NDArray[np.complex128]
PAIRS = ("distance", "outside", "inside", "tangent", "cross", "round")
ALL = (*PAIRS, "dx", "dy", "angle", "offset", "over", "at")
SD = {"angle": 0.0035}
USUAL_SD = 0.7


def points(count: int, dice: np.random.Generator, apart: float = 120.0) -> Complex:
    """Places in a field as large as an engine's front, none too near another; the first at 0."""
    found = [0j]
    while len(found) < count:
        place = complex(dice.uniform(-340, 340), dice.uniform(-250, 380))
        if min(abs(place - other) for other in found) > apart:
            found.append(place)
    return np.array(found)


def true_value(
    kind: str, at: Sequence[complex], rims: Sequence[float] = (), thick: float = 0.0
) -> float:
    """What a reading would be between places with the diameters of rims."""
    a, b = at[0], at[1] if len(at) > 1 else 0j
    apart = abs(b - a)
    match kind:
        case "distance":
            return apart
        case "outside":
            return apart + (rims[0] + rims[1]) / 2
        case "inside":
            return apart - (rims[0] + rims[1]) / 2
        case "tangent":
            return math.sqrt(apart**2 - ((rims[1] - rims[0]) / 2) ** 2)
        case "cross":
            return math.sqrt(apart**2 - ((rims[1] + rims[0]) / 2) ** 2)
        case "round":  # of two rims
            big, small = sorted(((d + thick) / 2 for d in rims), reverse=True)
            lean = math.asin((big - small) / apart)
            return (
                2 * apart * math.cos(lean)
                + big * (math.pi + 2 * lean)
                + small * (math.pi - 2 * lean)
            )
        case "dx":
            return (b - a).real
        case "dy":
            return (b - a).imag
        case "angle":
            return cmath.phase(b - a)
        case "offset":
            along = (b - a) / apart
            return ((at[2] - a) * along.conjugate()).imag
        case "over":  # counter-clockwise round the one in the middle
            radius = (rims[0] + thick) / 2
            first, last = b - a, at[2] - b
            to, away = abs(first), abs(last)
            lengths = math.sqrt(to**2 - radius**2) + math.sqrt(away**2 - radius**2)
            # a tangent leaves the line of centres by asin(radius/distance), to the right of it
            out = cmath.phase(first) - math.asin(radius / to)
            off = cmath.phase(last) + math.asin(radius / away)
            return lengths + radius * ((off - out) % (2 * math.pi))
    raise AssertionError(kind)


def reading(
    kind: str,
    of: Sequence[int],
    places: Complex,
    rims: NDArray[np.float64],
    noise: float = 0.0,
) -> Reading:
    """A reading between points, off by so much times its ±."""
    sd = SD.get(kind, USUAL_SD)
    at = [complex(places[k]) for k in of]
    if kind == "at":
        return Reading("at", tuple(of), 0.0, sd, at=(at[0] + noise * sd,))
    own: tuple[float, ...] = ()
    if kind in PAIRS[1:]:
        own = tuple(float(rims[k]) for k in of)
    elif kind == "over":
        own = (float(rims[of[1]]),)
    thick = 0.3 if kind in ("round", "over") else 0.0
    value = true_value(kind, at, own, thick) + noise * sd
    turns = (1,) if kind == "over" else ()
    return Reading(kind, tuple(of), value, sd, diameters=own, turns=turns, thick_mm=thick)  # type: ignore[arg-type]


def drawn_net(
    seed: int,
    count: int = 8,
    extra: int = 10,
    kinds: Sequence[str] = ("distance",),
    noise: float = 0.0,
    off: float = 150.0,
    *,
    spot: bool = False,
) -> tuple[Complex, Net]:
    """Places, and a net that determines them: every point by two earlier ones, and some more."""
    dice = np.random.default_rng(seed)
    places = points(count, dice)
    rims = dice.uniform(50, 110, count)
    first = [kind for kind in kinds if kind in PAIRS] or ["distance"]
    readings = []
    for new in range(1, count):
        near = np.argsort(np.abs(places[:new] - places[new]))[:2]
        for old in near.tolist():
            kind = str(dice.choice(first))
            readings.append(reading(kind, (old, new), places, rims, noise * dice.normal()))
    for _ in range(extra):
        kind = str(dice.choice(list(kinds)))
        of = dice.choice(count, 3 if kind in ("offset", "over") else 2, replace=False).tolist()
        if kind == "at":
            of = [of[1] or of[0]]
        readings.append(reading(kind, of, places, rims, noise * dice.normal()))
    start = np.full(count, 5.0 + 0j) if spot else places + off * _square(dice, count)
    start[0] = 0.0
    direction = (0, 1, cmath.phase(places[1]))
    return places, Net(start, tuple(readings), 0, direction)


def _square(dice: np.random.Generator, count: int) -> Complex:
    return dice.uniform(-1, 1, count) + 1j * dice.uniform(-1, 1, count)
