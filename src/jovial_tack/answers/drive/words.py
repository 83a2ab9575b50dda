"""Words for findings: lengths in the unit shown, pulleys by the name of their shaft."""

from __future__ import annotations

import math

from jovial_tack.answers.drive.case import Case
from jovial_tack.core.units import BELT_SPEED, FORCE, format_length, written_in

#: The last digit that is printed of a length, mm.
_PRINTED_MM = {"mm": 0.1, "in": 25.4e-3}


class Speech:
    """How findings of one drive name things and write figures."""

    def __init__(self, case: Case, unit: str) -> None:
        self._case = case
        self.unit = unit
        labels = [shaft.label for shaft in case.shafts]
        self._labels = dict(zip(case.model.route, labels, strict=True))

    def name(self, pulley_id: str) -> str:
        """A pulley by the name of its shaft."""
        return self._labels[pulley_id]

    def at(self, place: int) -> str:
        """The pulley at a place of the route, by name."""
        return self._labels[self._case.model.route[place]]

    def length(self, mm: float, digits: int | None = None) -> str:
        """A length in the unit shown."""
        return format_length(mm, self.unit, digits=digits)

    def at_least(self, mm: float) -> str:
        """A length rounded up, so that what is printed is enough."""
        step = _PRINTED_MM[self.unit]
        return self.length(math.ceil(mm / step - 1e-9) * step)

    def at_most(self, mm: float) -> str:
        """A length rounded down, so that what is printed is not too much."""
        step = _PRINTED_MM[self.unit]
        return self.length(math.floor(mm / step + 1e-9) * step)

    def force(self, newtons: float) -> str:
        """A force in the unit shown."""
        return written_in(newtons, FORCE, self.unit)

    def belt_speed(self, mps: float) -> str:
        """A belt speed in the unit shown."""
        return written_in(mps, BELT_SPEED, self.unit)

    @property
    def drive(self) -> str:
        """The drive by name."""
        return self._case.model.label


def percent(fraction: float, sd: float | None = None) -> str:
    """A fraction as whole percent, with one standard deviation where it is known.

    >>> percent(1.1234)
    '112 %'
    >>> percent(0.462, 0.081)
    '46 ± 8 %'
    """
    known = "" if sd is None else f" ± {max(100 * sd, 1.0):.0f}"
    return f"{100 * fraction:.0f}{known} %"


def known_by(surveyed: bool) -> str:
    """What a ± rests on."""
    return "surveyed" if surveyed else "usual tape"
