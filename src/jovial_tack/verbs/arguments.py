"""What the verbs share: reading arguments, builds and numbers, and printing."""

from __future__ import annotations

import argparse
import json
import sys
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

from jovial_tack.core.errors import JovialTackError, UnitError
from jovial_tack.core.units import FORCE, LENGTH, PRESSURE, TORQUE, Quantity, parse

if TYPE_CHECKING:
    from jovial_tack.catalogue import Catalogue
    from jovial_tack.document.model import Build
    from jovial_tack.files.build_file import LoadedBuild

_MOST_SPEEDS = 10_000
_ABOVE_ZERO = 1e-300


class UsageError(JovialTackError, ValueError):
    """The arguments make no sense; the text says which and what would."""


class Parser(argparse.ArgumentParser):
    """A parser whose complaints are one line."""

    def error(self, message: str) -> NoReturn:
        """Complain by an error instead of leaving the program."""
        raise UsageError(f"{message} (see {self.prog} --help)")


def read_to_compute(path: Path, catalogue: Catalogue) -> LoadedBuild:
    """A build that can be computed. Raises UsageError for one of a newer version."""
    from jovial_tack.document.loading import is_newer
    from jovial_tack.files.build_file import read_build

    loaded = read_build(path, catalogue)
    if is_newer(loaded.build):
        raise UsageError(
            f"{path.name}: written by a newer Jovial Tack; it can be looked at in the window,"
            " not computed"
        )
    return loaded


def drive_named(build: Build, wanted: str | None, file: str) -> str:
    """The id of a drive by its id or name; of the first one if none is wanted. Raises UsageError."""
    for drive in build.drives:
        if wanted is None or wanted in (drive.id, drive.label):
            return drive.id
    known = ", ".join(drive.id for drive in build.drives)
    if not known:
        raise UsageError(f"{file}: there is no belt in it yet")
    raise UsageError(f"{file}: there is no drive “{wanted}”; there are {known}")


def as_json(content: object) -> str:
    """JSON text, strict and in plain letters."""
    return json.dumps(content, indent=1, ensure_ascii=False, allow_nan=False)


def show(text: str) -> None:
    """Print, whatever letters the terminal has."""
    try:
        sys.stdout.write(text + "\n")
    except UnicodeEncodeError:  # a terminal without UTF-8
        encoding = sys.stdout.encoding or "ascii"
        sys.stdout.write(text.encode(encoding, "replace").decode(encoding) + "\n")
    sys.stdout.flush()


def speeds(text: str) -> tuple[float, ...]:
    """Engine speeds such as 850,2600,6800."""
    try:
        speeds = tuple(float(part) for part in text.split(","))
    except ValueError:
        raise argparse.ArgumentTypeError(
            f"“{text[:40]}” is not a list of speeds such as 850,2600,6800"
        ) from None
    if not all(0 < speed <= 1e6 for speed in speeds):
        raise argparse.ArgumentTypeError("engine speeds lie above 0 and up to 1000000 rpm")
    if len(speeds) > _MOST_SPEEDS:
        raise argparse.ArgumentTypeError(f"at most {_MOST_SPEEDS} speeds at once")
    return speeds


def day(text: str) -> date:
    """A day of the calendar."""
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is no day such as 2026-11-27") from None


def pressure(text: str) -> float:
    """An air pressure, kPa, or in a unit that is given."""
    return _within(text, 40.0, 120.0, "an air pressure from 40 to 120 kPa", PRESSURE)


def air(text: str) -> float:
    """An air pressure, kPa, or that of an elevation."""
    from jovial_tack.core.errors import UnitError
    from jovial_tack.core.run_check.air import air_typed

    try:
        return air_typed(text)
    except UnitError as error:
        raise argparse.ArgumentTypeError(f"“{text}”: {error}") from None


def boost(text: str) -> float:
    """A boost, kPa, or in a unit that is given."""
    return _within(text, _ABOVE_ZERO, 2000.0, "a boost such as 55, 8psi or 0.55bar", PRESSURE)


def positive(text: str) -> float:
    """A figure above zero."""
    return _within(text, _ABOVE_ZERO, 1e6, "a figure above 0")


def signed(text: str) -> float:
    """A figure of either sign."""
    return _within(text, -1000.0, 1000.0, "a figure from -1000 to 1000")


def degrees(text: str) -> float:
    """An angle, degrees."""
    return _within(text, -3600.0, 3600.0, "an angle in degrees")


def share(text: str) -> float:
    """A share from 0 to 1."""
    return _within(text, 0.0, 1.0, "a share from 0 to 1")


def between_marks(text: str) -> float:
    """A place between two marks: a share, such as 0.4 or 40 %, or so much of the way between them.

    >>> between_marks("40%"), between_marks("9 of 22 mm"), between_marks("3/8 of 1 in")
    (0.4, 0.4090909090909091, 0.375)
    """
    part, of, whole = (piece.strip() for piece in text.partition("of"))
    if of:
        unit = whole.lstrip("0123456789./,- ")
        # “9 of 22 mm”: the unit of the whole is that of the part
        part = f"{part} {unit}" if part[-1:].isdigit() else part
        value = number_in(part, LENGTH) / (number_in(whole, LENGTH) or float("nan"))
    elif text.strip().endswith("%"):
        value = number_in(text.strip()[:-1]) / 100
    else:
        value = number_in(text)
    if not -1.0 <= value <= 2.0:
        words = "a place between the marks such as 40% or “9 of 22 mm”"
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not {words}")
    return value


def force(text: str) -> float:
    """A force above zero, N, or in a unit that is given."""
    return _within(text, _ABOVE_ZERO, 1e6, "a force such as 40 or 9lbf", FORCE)


def length(text: str) -> float:
    """A length above zero, mm, or in a unit that is given."""
    return _within(text, _ABOVE_ZERO, 1e6, "a length such as 6.5 or 1/4in", LENGTH)


def torque(text: str) -> float:
    """A torque above zero, N·m, or in a unit that is given."""
    return _within(text, _ABOVE_ZERO, 1e6, "a torque such as 1.1 or 9lb·in", TORQUE)


def _within(
    text: str, low: float, high: float, what: str, quantity: Quantity | None = None
) -> float:
    value = number_in(text, quantity)
    if not low <= value <= high:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not {what}")
    return value


def one_count(text: str) -> int:
    """A count of teeth."""
    return teeth(text)[0]


def teeth(text: str) -> tuple[int, ...]:
    """Counts of teeth, such as 30,60."""
    parts = text.split(",")
    if not all(part.strip().isascii() and part.strip().isdigit() for part in parts):
        raise argparse.ArgumentTypeError(f"“{text[:40]}” are no counts of teeth such as 30,60")
    counts = tuple(int(part) for part in parts)
    if not all(1 <= count <= 10_000 for count in counts):
        raise argparse.ArgumentTypeError("counts of teeth lie between 1 and 10000")
    return counts


def measurement(text: str) -> tuple[str, float]:
    """A way of measuring and its reading, such as tape=1640."""
    from jovial_tack.answers.belt.measured import WAYS

    way, _, reading = text.partition("=")
    value = number_in(reading, None if way == "teeth" else LENGTH)
    if way not in WAYS or not 0 < value <= 1e5:
        ways = ", ".join(WAYS)
        raise argparse.ArgumentTypeError(
            f"“{text[:40]}” is no reading such as tape=1640 or tape=64 1/2in; {ways}"
        )
    return way, value


def number_in(text: str, quantity: Quantity | None = None) -> float:
    """A number, or a figure of a quantity in the unit of the mechanics or another; NaN for none."""
    try:
        return float(text)
    except ValueError:
        pass
    try:
        return float("nan") if quantity is None else parse(text, quantity)
    except UnitError:
        return float("nan")
