"""A net of readings between points: what each reading would be, and how it changes with the places.

Places are complex, mm. A reading is a model of the places and a value that was read, known to one
standard deviation. docs/METHOD.md, section 15.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Literal

import numpy as np

from jovial_tack.core.arrays import Complex, Float, Int
from jovial_tack.core.drive.path import trace
from jovial_tack.core.value import Value

Kind = Literal[
    "distance", "outside", "inside", "tangent", "cross", "round", "over", "dx", "dy", "angle",
    "offset", "at", "pattern", "belt",
]  # fmt: skip
Side = Literal["left", "right"]
Bound = Literal["most", "least"]

_PAIRS = ("distance", "outside", "inside", "tangent", "cross")
#: Lengths that make turns comparable with places, mm: of a level's own turn, of a pattern's.
LEVEL_MM, PATTERN_MM = 200.0, 100.0
_TINY = 1e-9


class Reading(Value, frozen=True):
    """A reading of a net. points: places in the net's list; value and sd: mm, of an angle rad.

    diameters: of the rims that were touched, mm, one per point (of `over` those between the ends).
    turns: +1 where the line runs counter-clockwise round a rim, −1 clockwise (`over`, `belt`).
    thick_mm: of the tape. rims_mm: what rims add to a level reading. side: of two rims an angle was
    read on. at: the places of `at`; the coordinates of a `pattern`; what is added to the points of a
    `belt`, whose diameters are those of the cord. bound: only the most, or the least, that the model
    may be. zero: which of the net's instruments it was read with.
    """

    kind: Kind
    points: tuple[int, ...]
    value: float = 0.0
    sd: float = 1.0
    diameters: tuple[float, ...] = ()
    turns: tuple[int, ...] = ()
    thick_mm: float = 0.0
    rims_mm: float = 0.0
    side: Side | None = None
    at: tuple[complex, ...] = ()
    bound: Bound | None = None
    zero: int | None = None


class Net(Value, frozen=True, dict=True):
    """Points with the readings between them. start (P,): where they are drawn, mm.

    fixed: the point that stays where it is drawn. direction: two points and the angle, rad, from one to
    the other. level_sd: how far, rad, the stand may be out of level, turning all level readings; None
    for not at all. zeros: one standard deviation of each instrument's own zero, mm.
    """

    start: Complex
    readings: tuple[Reading, ...]
    fixed: int | None = None
    direction: tuple[int, int, float] | None = None
    level_sd: float | None = None
    zeros: tuple[float, ...] = ()


def is_level(reading: Reading) -> bool:
    """Whether a reading was taken against the level, so that it tells how the net is turned."""
    return reading.kind in ("dx", "dy", "angle")


def row_count(reading: Reading) -> int:
    """How many figures a reading is."""
    if reading.kind == "at":
        return 2
    return 2 * len(reading.points) if reading.kind == "pattern" else 1


class Rows:
    """The rows of a net's readings, made ready to be computed again and again.

    The unknowns are x, y of each point, then the level's turn times LEVEL_MM where it is one, the
    instruments' zeros, and of each pattern its place and its turn times PATTERN_MM. of (R,): the
    reading each row is of, −1 for what is known beforehand of level and zeros.
    """

    def __init__(self, net: Net) -> None:
        self._net = net
        points = net.start.size
        self.level = 2 * points if net.level_sd is not None else None
        first_zero = 2 * points + (self.level is not None)
        self.zeros = first_zero + np.arange(len(net.zeros))
        after = first_zero + len(net.zeros)
        self.patterns: dict[int, int] = {}
        of: list[int] = []
        for place, reading in enumerate(net.readings):
            of += [place] * row_count(reading)
            if reading.kind == "pattern":
                self.patterns[place] = after
                after += 3
        self.unknowns = after
        self._first = np.searchsorted(np.array(of), np.arange(len(net.readings)))
        priors = len(net.zeros) + (self.level is not None)
        self.of: Int = np.array(of + [-1] * priors, dtype=np.int64)
        self._pairs = _Pairs(net.readings, self._first)
        self._single = [k for k, r in enumerate(net.readings) if not _is_of_a_pair(r)]

    def begin(self, places: Complex) -> Float:
        """The unknowns for points at given places, patterns laid on them."""
        x = np.zeros(self.unknowns)
        x[: 2 * places.size] = places.view(float)
        for place, first in self.patterns.items():
            reading = self._net.readings[place]
            laid, turn = _laid_on(np.array(reading.at), places[list(reading.points)])
            x[first : first + 3] = laid.real, laid.imag, turn * PATTERN_MM
        return x

    def compute(self, x: Float) -> tuple[Float, Float]:
        """Model less reading over its standard deviation (R,), and its derivatives (R, unknowns)."""
        net = self._net
        places = x[: 2 * net.start.size].view(complex)
        off, by = np.zeros(self.of.size), np.zeros((self.of.size, self.unknowns))
        self._pairs.compute(places, off, by)
        turn = 0.0 if self.level is None else x[self.level] / LEVEL_MM
        for k in self._single:
            self._one(k, x, places, turn, off, by)
        for k, reading in enumerate(net.readings):
            if reading.zero is not None:
                row = self._first[k]
                off[row] += x[self.zeros[reading.zero]] / reading.sd
                by[row, self.zeros[reading.zero]] = 1.0 / reading.sd
        row = self.of.size - len(net.zeros) - (self.level is not None)
        if self.level is not None:
            assert net.level_sd is not None
            known = max(net.level_sd, _TINY) * LEVEL_MM
            off[row], by[row, self.level] = x[self.level] / known, 1.0 / known
            row += 1
        for k, sd in enumerate(net.zeros):
            off[row + k] = x[self.zeros[k]] / sd
            by[row + k, self.zeros[k]] = 1.0 / sd
        return off, by

    def _one(self, k: int, x: Float, places: Complex, turn: float, off: Float, by: Float) -> None:
        reading, row = self._net.readings[k], int(self._first[k])
        points = list(reading.points)
        if reading.kind == "at":
            away = places[points[0]] - reading.at[0]
            off[row : row + 2] = away.real / reading.sd, away.imag / reading.sd
            by[row, 2 * points[0]] = by[row + 1, 2 * points[0] + 1] = 1.0 / reading.sd
            return
        if reading.kind == "pattern":
            self._pattern(reading, x[self.patterns[k] :], places, off[row:], by[row:], k)
            return
        model, gradients, by_turn = model_of(reading, places[points], turn)
        away = model - reading.value
        if reading.kind == "angle":
            away = float(np.remainder(away + np.pi, 2 * np.pi) - np.pi)
        if (reading.bound == "most" and away <= 0) or (reading.bound == "least" and away >= 0):
            return  # within its bound it says nothing
        off[row] = away / reading.sd
        for point, gradient in zip(points, gradients, strict=True):
            by[row, 2 * point] += gradient.real / reading.sd
            by[row, 2 * point + 1] += gradient.imag / reading.sd
        if self.level is not None and by_turn:
            by[row, self.level] = by_turn / LEVEL_MM / reading.sd

    def _pattern(
        self, reading: Reading, own: Float, places: Complex, off: Float, by: Float, k: int
    ) -> None:
        turned = np.exp(1j * own[2] / PATTERN_MM) * np.array(reading.at)
        away = (places[list(reading.points)] - own[0] - 1j * own[1] - turned) / reading.sd
        rows, first = 2 * len(reading.points), self.patterns[k]
        off[:rows] = away.view(float)
        spun = -1j * turned / PATTERN_MM / reading.sd
        for place, point in enumerate(reading.points):
            for axis in (0, 1):
                row = 2 * place + axis
                by[row, 2 * point + axis] += 1.0 / reading.sd
                by[row, first + axis] = -1.0 / reading.sd
            by[2 * place, first + 2], by[2 * place + 1, first + 2] = (
                spun[place].real,
                spun[place].imag,
            )


class _Pairs:
    """All readings that follow from the distance of two points alone, computed at once.

    A straight tape steps sideways from rim to rim; one laid round two rims is two such and the arcs.
    """

    def __init__(self, readings: Sequence[Reading], first: Int) -> None:
        chosen = [k for k, reading in enumerate(readings) if _is_of_a_pair(reading)]
        each = [readings[k] for k in chosen]
        self._rows = first[chosen]
        self._a = np.array([r.points[0] for r in each], dtype=np.int64)
        self._b = np.array([r.points[1] for r in each], dtype=np.int64)
        steps = [_step_and_more(r) for r in each]
        self._step = np.array([step for step, _ in steps])
        self._more = np.array([more for _, more in steps])
        self._round = np.array([r.kind == "round" for r in each], dtype=np.bool_)
        self._value = np.array([r.value for r in each])
        self._sd = np.array([r.sd for r in each])
        first_a, first_b = 2 * self._a, 2 * self._b
        self._columns = np.concatenate([first_b, first_b + 1, first_a, first_a + 1])
        self._four_rows = np.tile(self._rows, 4)

    def compute(self, places: Complex, off: Float, by: Float) -> None:
        if not self._rows.size:
            return
        gap = places[self._b] - places[self._a]
        apart = np.maximum(np.abs(gap), _TINY)
        root = np.sqrt(np.maximum(apart**2 - self._step**2, 1e-3 * apart**2 + _TINY))
        model, steep = root + self._more, 1.0 / root
        if self._round.any():
            lean = np.arcsin(np.clip(self._step / apart, -0.999, 0.999))
            model = np.where(self._round, 2.0 * (root + self._step * lean) + self._more, model)
            steep = np.where(self._round, 2.0 * root / apart**2, steep)
        off[self._rows] = (model - self._value) / self._sd
        if apart.min() <= _TINY:
            # two points at one spot move apart along some line, each pair along another
            gap = np.where(apart > _TINY, gap, apart * np.exp(2.4j * self._rows))
        gradient = gap * (steep / self._sd)
        across, up = gradient.real, gradient.imag
        by[self._four_rows, self._columns] = np.concatenate([across, up, -across, -up])


def _is_of_a_pair(reading: Reading) -> bool:
    """Whether a reading is told by the distance of two points."""
    if reading.kind == "round":
        return len(reading.points) == 2 and reading.bound is None
    return reading.kind in _PAIRS


def _step_and_more(reading: Reading) -> tuple[float, float]:
    """How far a straight line steps from rim to rim, and what the rims add to it, mm."""
    first, second = reading.diameters or (0.0, 0.0)
    match reading.kind:
        case "outside":
            return 0.0, (first + second) / 2
        case "inside":
            return 0.0, -(first + second) / 2
        case "tangent":
            return (second - first) / 2, 0.0
        case "cross":
            return (second + first) / 2, 0.0
        case "round":  # half the difference of the radii leans the tape; half turns on both
            return (second - first) / 2, np.pi * ((first + second) / 2 + reading.thick_mm)
    return 0.0, 0.0


def apart_of(reading: Reading) -> float | None:
    """The distance of two centres a reading means, mm; None where it means no such thing."""
    if reading.kind not in _PAIRS:
        return None
    step, more = _step_and_more(reading)
    straight = reading.value - more
    return float(np.hypot(straight, step)) if straight > 0 else None


def model_of(
    reading: Reading, places: Complex, turn: float = 0.0
) -> tuple[float, list[complex], float]:
    """What a reading of one figure would be: mm, of an angle rad; with its derivatives.

    Parameters: the reading; its own points (K,), mm; how far the stand is turned, rad. Returns the
    model, by each point as a complex gradient, and by the turn. METHOD 15.
    """
    match reading.kind:
        case "dx" | "dy":
            return _level(reading, places, turn)
        case "angle":
            return _angle(reading, places, turn)
        case "offset":
            return _offset(places)
        case "round" | "belt":
            return _closed(reading, places)
        case "over":
            return _over(reading, places)
    step, more = _step_and_more(reading)
    gap = complex(places[1] - places[0])
    root = max(abs(gap) ** 2 - step**2, _TINY) ** 0.5
    gradient = gap / root
    return root + more, [-gradient, gradient], 0.0


def _level(reading: Reading, places: Complex, turn: float) -> tuple[float, list[complex], float]:
    axis = np.exp(1j * turn) * (1.0 if reading.kind == "dx" else 1j)
    gap = complex(places[1] - places[0])
    along = (gap * axis.conjugate()).real
    # turning the level by a little turns its axis towards the next one
    by_turn = (gap * (1j * axis).conjugate()).real
    return along + reading.rims_mm, [-complex(axis), complex(axis)], by_turn


def _angle(reading: Reading, places: Complex, turn: float) -> tuple[float, list[complex], float]:
    gap = complex(places[1] - places[0])
    apart = max(abs(gap), _TINY)
    along = gap / apart if abs(gap) > _TINY else 1.0 + 0j
    model, gradient = float(np.angle(along)) - turn, 1j * along / apart
    if reading.side is not None:
        first, second = reading.diameters
        way = 1.0 if reading.side == "left" else -1.0
        sine = min(max((second - first) / 2 / apart, -0.99), 0.99)
        model += way * float(np.arcsin(sine))
        gradient -= way * sine / apart / (1 - sine**2) ** 0.5 * along
    return model, [-gradient, gradient], -1.0


def _offset(places: Complex) -> tuple[float, list[complex], float]:
    a, b, c = (complex(p) for p in places)
    apart = max(abs(b - a), _TINY)
    along = (b - a) / apart if abs(b - a) > _TINY else 1.0 + 0j
    left = 1j * along
    reach = ((c - a) * along.conjugate()).real / apart
    square = ((c - a) * left.conjugate()).real
    return square, [-(1 - reach) * left, -reach * left, left], 0.0


def _closed(reading: Reading, places: Complex) -> tuple[float, list[complex], float]:
    """A tape or belt all the way round; a tape lies round the outside of its discs."""
    radii = (np.array(reading.diameters) + reading.thick_mm) / 2
    if reading.kind == "belt":
        centers, signed = places + np.array(reading.at), radii * np.array(reading.turns)
        order = np.arange(centers.size)
    else:
        middle = places.mean()
        order = np.argsort(np.angle(places - middle), kind="stable")
        centers, signed = places[order], radii[order]
    path = trace(centers, signed)
    if np.isfinite(path.total):
        return float(path.total), _unsorted(path.direction, order), 0.0
    # discs within one another: as if it went from centre to centre, until they are apart
    straight, along = _straight(np.roll(centers, -1) - centers)
    round_all = float(np.pi * np.abs(signed).sum() / signed.size)
    return straight + round_all, _unsorted(along, order), 0.0


def _straight(gaps: Complex) -> tuple[float, Complex]:
    """The sum of some ways (K,) and the direction of each; of none at all, some direction."""
    apart = np.abs(gaps)
    # points at one spot come apart along different lines
    any_way = np.exp(2.4j * np.arange(gaps.size))
    is_apart = apart > _TINY
    along = np.where(is_apart, gaps, any_way) / np.where(is_apart, apart, 1.0)
    return float(apart.sum()), np.asarray(along, dtype=complex)


def _unsorted(direction: Complex, order: Int) -> list[complex]:
    """By how much a closed path grows as each pulley moves: what enters less what leaves."""
    gradients = np.empty_like(direction)
    gradients[order] = np.roll(direction, 1) - direction
    return [complex(g) for g in gradients]


def _over(reading: Reading, places: Complex) -> tuple[float, list[complex], float]:
    """A tape from a first point over rims to a last one, both hooked without a radius."""
    between = (np.array(reading.diameters) + reading.thick_mm) / 2 * np.array(reading.turns)
    radii = np.concatenate([[0.0], between, [0.0]])
    path = trace(places, radii)
    straight, along = float(path.length[:-1].sum()), path.direction[:-1]
    arcs = float(path.arc[1:-1].sum())
    if not np.isfinite(straight + arcs):
        straight, along = _straight(np.diff(places))
        arcs = 0.0
    out = [complex(d) for d in along]
    inner = [first - second for first, second in pairwise(out)]
    return straight + arcs, [-out[0], *inner, out[-1]], 0.0


def _laid_on(pattern: Complex, places: Complex) -> tuple[complex, float]:
    """Where a pattern lies best on some places: its origin, and how far it is turned, rad."""
    own, there = pattern - pattern.mean(), places - places.mean()
    turn = float(np.angle((there * own.conj()).sum())) if own.size > 1 else 0.0
    return complex(places.mean() - np.exp(1j * turn) * pattern.mean()), turn
