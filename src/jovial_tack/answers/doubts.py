"""Figures beyond what this trade has: taken, asked about, and nothing is good that rests on them.

Most are typed in another unit than was meant; where the same number in another unit lies within what
there is, that is asked. The limits are data (`data/catalogue/doubtful.toml`).
"""

from __future__ import annotations

from collections.abc import Iterator

from jovial_tack.catalogue import Catalogue, Doubtful
from jovial_tack.core.units import (
    CURRENT,
    DISPLACEMENT,
    FORCE,
    INERTIA,
    LENGTH,
    PRESSURE,
    RATIO,
    SPEED,
    TEMPERATURE,
    TORQUE,
    TORQUE_RATE,
    Quantity,
    written_in,
)
from jovial_tack.core.value import Value
from jovial_tack.core.words import capital
from jovial_tack.document.model import Build
from jovial_tack.document.model.base import Part

QUANTITIES: dict[str, Quantity] = {
    "current": CURRENT,
    "displacement": DISPLACEMENT,
    "force": FORCE,
    "inertia": INERTIA,
    "length": LENGTH,
    "pressure": PRESSURE,
    "ratio": RATIO,
    "speed": SPEED,
    "temperature": TEMPERATURE,
    "torque": TORQUE,
    "torque rate": TORQUE_RATE,
}
#: Units in full, where a question names them.
_IN_FULL = {"ci": "cubic inches", "in": "inches", "mm": "mm", "lbf": "pounds"}
_JUDGED = ("Fits", "Order", "Holds", "Lines up")


class Doubt(Value, frozen=True):
    """A figure that is asked about.

    of: what it is of, “” for the engine; words: which figure; asked: what is asked beside it, such as
    “5 cubic inches: litres?”; judges: the verdicts that rest on it.
    """

    of: str
    words: str
    asked: str
    judges: tuple[str, ...]

    @property
    def sentence(self) -> str:
        """Which figure is asked about, and what."""
        of = f", {self.of}" if self.of else ""
        return f"{self.words}{of}: {self.asked}"


def doubts_of(build: Build, catalogue: Catalogue) -> tuple[Doubt, ...]:
    """All figures of a build that are asked about, of engine, shafts and drives in their order."""
    system = build.display_units
    return tuple(
        Doubt(of, known.words, asked, known.judges or _JUDGED)
        for of, part in _parts(build)
        for key, known in catalogue.doubtful.get(type(part).__name__, {}).items()
        if (asked := asked_of(part, key, known, system))
    )


def doubt_of(part: Part, key: str, catalogue: Catalogue, system: str) -> str:
    """What is asked of one figure of a part; "" where it lies within what there is."""
    known = catalogue.doubtful.get(type(part).__name__, {}).get(key)
    return "" if known is None else asked_of(part, key, known, system)


def asked_of(part: Part, key: str, known: Doubtful, system: str) -> str:
    """What is asked of a figure whose limits are known; "" for nothing."""
    value = getattr(part, key)
    low, high = known.within
    for each in value if isinstance(value, tuple) else (value,):
        if each is not None and not low <= each <= high:
            return _question(float(each), known, system)
    return ""


def _question(value: float, known: Doubtful, system: str) -> str:
    """Whether another unit was meant, where that lies within what there is; else whether it is so."""
    quantity = QUANTITIES[known.measures]
    low, high = known.within
    units = [unit for unit in (quantity.unit, quantity.other) if unit]
    for typed in units:
        number = value / quantity.factor(typed) + quantity.zeros.get(typed.lower(), 0.0)
        for meant in units:
            shift = quantity.zeros.get(meant.lower(), 0.0)
            other = (number - shift) * quantity.factor(meant)
            if meant != typed and low <= other <= high and _is_round(number):
                return f"{number:g} {_IN_FULL.get(typed, typed)}: {_IN_FULL.get(meant, meant)}?"
    return f"{written_in(value, quantity, system)}: is that so?"


def _is_round(number: float) -> bool:
    """Whether somebody may have typed a number: with few figures."""
    return abs(float(f"{number:.4g}") - number) <= 1e-6 * abs(number)


def _parts(build: Build) -> Iterator[tuple[str, Part]]:
    """The parts that are looked at, each with what it belongs to."""
    yield "", build.engine
    yield "", build.air
    for shaft in build.shafts:
        yield shaft.label, shaft
        for inner in (shaft.load, getattr(shaft.load, "known_point", None)):
            if isinstance(inner, Part):
                yield shaft.label, inner
    for drive in build.drives:
        yield drive.label, drive.belt
        if drive.tensioner is not None:
            yield drive.label, drive.tensioner
        for pulley in drive.pulleys:
            yield build.shaft(pulley.shaft).label, pulley


def doubt_words(doubts: tuple[Doubt, ...]) -> tuple[str, ...]:
    """A sentence each, without its full stop."""
    return tuple(capital(doubt.sentence) for doubt in doubts)
