"""Figures typed as options: read as in every field, each with its unit, and refused in one sentence."""

from __future__ import annotations

import argparse
import re
from collections.abc import Callable
from itertools import pairwise

from jovial_tack.core.errors import EitherFigureError, UnitError
from jovial_tack.core.units import (
    ANGLE,
    COUNT,
    FORCE,
    LENGTH,
    PERCENT,
    PRESSURE,
    RATIO,
    SPEED,
    TONE,
    TORQUE,
    Quantity,
    parse,
)

_MOST_SPEEDS = 10_000
_ABOVE_ZERO = 1e-300
#: Engine speeds: slower than any starter turns it, faster than any engine turns.
_LEAST_RPM, _MOST_RPM = 50.0, 100_000.0
_MOST_TEETH = 10_000


def figure(
    quantity: Quantity, low: float, high: float, words: str, decimals: int = 0
) -> Callable[[str], float]:
    """A reader of an option: a figure of a quantity from low to high, in the unit of the mechanics.

    words: what it is, with how one is typed. The reader raises argparse.ArgumentTypeError.

    >>> figure(TONE, 1.0, 1e4, "a tone such as 85")("85,5 Hz")
    85.5
    """

    def read(text: str) -> float:
        try:
            value = parse(text, quantity, decimals=decimals)
        except EitherFigureError as error:
            raise argparse.ArgumentTypeError(str(error)) from None
        except UnitError:
            value = float("nan")
        if not low <= value <= high:
            raise argparse.ArgumentTypeError(f"“{text[:40]}” is not {words}")
        return value

    return read


def whole(low: int, high: int, words: str) -> Callable[[str], int]:
    """A reader of an option: a whole number from low to high."""
    read = figure(COUNT, low, high, words)

    def read_whole(text: str) -> int:
        value = read(text)
        if value != round(value):
            raise argparse.ArgumentTypeError(f"“{text[:40]}” is not {words}")
        return round(value)

    return read_whole


tone = figure(TONE, 1.0, 20_000.0, "a tone such as 85 or “85 Hz”")
degrees = figure(ANGLE, -3600.0, 3600.0, "an angle in degrees such as 81.5")
percent = figure(PERCENT, _ABOVE_ZERO, 100.0, "a percentage such as 8")
share = figure(RATIO, 0.0, 1.0, "a share from 0 to 1")
boost = figure(PRESSURE, _ABOVE_ZERO, 2000.0, "a boost such as 55, 8psi or 0.55bar")
force = figure(FORCE, _ABOVE_ZERO, 1e6, "a force such as 40 or 9lbf")
length = figure(LENGTH, _ABOVE_ZERO, 1e6, "a length such as 6.5 or 1/4in")
signed_length = figure(LENGTH, -1000.0, 1000.0, "a length from -1000 to 1000 mm")
torque = figure(TORQUE, _ABOVE_ZERO, 1e6, "a torque such as 1.1 or 9lb·in")
rise = figure(RATIO, -1000.0, 1000.0, "a rise in temperature, K, such as 70")
engine_speed = figure(
    SPEED, _LEAST_RPM, _MOST_RPM, f"an engine speed from {_LEAST_RPM:.0f} to {_MOST_RPM:.0f} rpm"
)
one_count = whole(1, _MOST_TEETH, f"a count from 1 to {_MOST_TEETH}")


def air(text: str) -> float:
    """An air pressure, kPa, or that of an elevation."""
    from jovial_tack.core.run_check.air import air_typed

    try:
        return air_typed(text)
    except EitherFigureError as error:
        raise argparse.ArgumentTypeError(str(error)) from None
    except UnitError as error:
        raise argparse.ArgumentTypeError(f"“{text[:40]}”: {error}") from None


def listed(text: str, most: float) -> list[str]:
    """The parts of a list: between semicolons, commas with a space behind, or commas.

    most: no figure of it is larger. Raises argparse.ArgumentTypeError where two of its parts may as
    well be one figure with its thousands marked.

    >>> listed("850,2600,6800", 1e5), listed("98,9; 99,6", 120.0)
    (['850', '2600', '6800'], ['98,9', '99,6'])
    """
    if ";" in text or ", " in text:
        return [part.strip() for part in re.split(r";|,\s", text)]
    parts = [part.strip() for part in text.split(",")]
    for first, second in pairwise(parts):
        may_group = re.fullmatch(r"[1-9]\d{0,2}", first) and re.fullmatch(r"\d{3}", second)
        if may_group and float(first + second) <= most:
            one, two = f"{first} {second}", f"{first}; {second}"
            raise argparse.ArgumentTypeError(
                f"“{first},{second}” may be {one} or two figures: type {first}{second} or “{two}”"
            )
    return parts


def speeds(text: str) -> tuple[float, ...]:
    """Engine speeds such as 850,2600,6800."""
    parts = listed(text, _MOST_RPM)
    if len(parts) > _MOST_SPEEDS:
        raise argparse.ArgumentTypeError(f"at most {_MOST_SPEEDS} speeds at once")
    return tuple(engine_speed(part) for part in parts)


def teeth(text: str) -> tuple[int, ...]:
    """Counts of teeth, such as 30,60."""
    return tuple(one_count(part) for part in listed(text, _MOST_TEETH))


def printed(text: str) -> tuple[float, float]:
    """What two scales of 100 mm read: across and upright, such as 98.9,99.6."""
    words = "what two scales of 100 mm read, such as 98.9,99.6"
    read = figure(LENGTH, 80.0, 120.0, words, decimals=3)
    values = [read(part) for part in listed(text, 120.0)]
    if len(values) != 2:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not {words}")
    return values[0], values[1]


def between_marks(text: str) -> float:
    """A place between two marks: a share, such as 0.4 or 40 %, or so much of the way between them.

    >>> between_marks("40%"), between_marks("9 of 22 mm"), between_marks("3/8 of 1 in")
    (0.4, 0.4090909090909091, 0.375)
    """
    words = "a place between the marks such as 40% or “9 of 22 mm”"
    part, of, way = (piece.strip() for piece in text.partition("of"))
    if of:
        unit = way.lstrip("0123456789./,- ")
        # “9 of 22 mm”: the unit of the whole is that of the part
        part = f"{part} {unit}" if part[-1:].isdigit() else part
        along = figure(LENGTH, -1e6, 1e6, words)(part)
        value = along / figure(LENGTH, _ABOVE_ZERO, 1e6, words)(way)
    elif text.strip().endswith("%"):
        value = figure(PERCENT, -100.0, 200.0, words)(text) / 100
    else:
        value = figure(RATIO, -1.0, 2.0, words)(text)
    if not -1.0 <= value <= 2.0:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not {words}")
    return value


def measurement(text: str) -> tuple[str, float]:
    """A way of measuring and its reading, such as tape=1640."""
    from jovial_tack.answers.belt.measured import WAYS

    way, _, reading = text.partition("=")
    words = f"a reading such as tape=1640 or tape=64 1/2in; {', '.join(WAYS)}"
    if way not in WAYS:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not {words}")
    quantity = COUNT if way == "teeth" else LENGTH
    return way, figure(quantity, _ABOVE_ZERO, 1e5, words)(reading)
