"""What a push at the middle of a span means for the tension, and what it should be (METHOD.md, 9)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.judging import case_of
from jovial_tack.answers.results import ArmResult, DriveResult, SpanResult
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.grip.span_readings import deflection_force, felt_tension, play_under
from jovial_tack.core.units import FORCE, format_length, written_in
from jovial_tack.core.value import Value
from jovial_tack.core.words import sentence
from jovial_tack.document.model import Build

#: How wrongly a play is read with a rule beside a straightedge, mm.
_READ_WITHIN_MM = 0.5


class Feel(Value, frozen=True):
    """One tension by feel: N, the push for the play felt, and the play under the push felt."""

    tension_n: float
    push_n: float
    play_mm: float


def in_band(
    tension_n: float,
    between_n: tuple[float, float],
    least_n: float | None,
    most_n: float | None,
    better: str,
) -> str:
    """Whether a tension is right, in words. between_n: as far as it was read; better: how it is read
    more surely.
    """
    if least_n is None or most_n is None:
        return "its band of tension is not known"
    if least_n > most_n:
        return "no tension both holds and is allowed: the drive must change first"
    if tension_n < least_n:
        return "too slack: less than the least that holds"
    if tension_n > most_n:
        return "too tight: more than the most that is allowed"
    if between_n[0] < least_n or between_n[1] > most_n:
        return f"inside the band, but not surely: {better}"
    return "inside the band"


class Felt(Value, frozen=True):
    """A span pushed aside at its middle, at rest and cold, with the pulleys turning freely.

    belts: how many run side by side; one of them is pushed, and tensions are those of all together.
    between_n: the tension if the play was read half a millimetre wrong. set_to, least, most: how the
    tension of the build, the least that holds and the most allowed feel; None where not known.
    """

    span: str
    ends: tuple[str, str]
    length_mm: float
    push_n: float
    play_mm: float
    tension_n: float
    between_n: tuple[float, float]
    set_to: Feel
    least: Feel | None
    most: Feel | None
    belts: int = 1

    @property
    def verdict(self) -> str:
        """Whether the belt is set right, in words."""
        least, most = (None if one is None else one.tension_n for one in (self.least, self.most))
        better = "push harder, a larger play is read more surely"
        return in_band(self.tension_n, self.between_n, least, most, better)

    def lines(self, unit: str = "mm") -> tuple[str, ...]:
        """What it means, a sentence a line, in the units that go with its unit of length."""

        def force(value: float, digits: int = 0) -> str:
            return written_in(value, FORCE, unit, digits)

        def pull(value: float) -> str:
            together = f" each, {force(value)} together" if self.belts > 1 else ""
            return f"{force(value / self.belts)}{together}"

        def play(value: float) -> str:
            return format_length(value, unit)

        def feels(what: str, one: Feel) -> str:
            return (
                f"{what}, {pull(one.tension_n)}: {force(one.push_n, 1)} for that play,"
                f" or {play(one.play_mm)} under that push."
            )

        low, high = self.between_n
        said = [
            f"{play(self.play_mm)} of play under {force(self.push_n, 1)} at the middle of"
            f" {self.ends[0]} to {self.ends[1]}, {play(self.length_mm)} free, is"
            f" {pull(self.tension_n)} at rest; {force(low)} to {force(high)} if the play was read"
            f" {format_length(_READ_WITHIN_MM, unit)} wrong.",
            sentence(self.verdict),
        ]
        for what, one in (
            ("Least that holds", self.least),
            ("As the build has it", self.set_to),
            ("Most allowed", self.most),
        ):
            if one is not None:
                said.append(feels(what, one))
        return tuple(said)


def longest_span(result: DriveResult) -> SpanResult:
    """The span that is felt best. Raises GeometryError where the drive has none."""
    if not result.spans:
        raise GeometryError("the belt has no path, so no span can be felt")
    return max(result.spans, key=lambda span: span.length_mm)


def _at_rest(result: DriveResult) -> tuple[float, float]:
    """Tension of a belt at rest, N, and length of its path, mm; raises GeometryError without."""
    held, path = result.tensioner, result.rest_path
    if isinstance(held, ArmResult):
        raise GeometryError(
            "a sprung tensioner gives way when a span is pushed: read its tension from its marks"
        )
    if held is None or path is None or held.tension_n <= 0:
        raise GeometryError("the belt has no tension at rest, so there is nothing to compare with")
    return held.tension_n, float(path.total)


def from_feel(
    build: Build,
    result: DriveResult,
    catalogue: Catalogue,
    *,
    push_n: float,
    play_mm: float,
    span: str | None = None,
) -> Felt:
    """The tension a push and a play at mid span mean. span: the pulley it leaves; the longest span.

    Raises GeometryError for a spring arm (its spring sets the tension, and gives way to the push), a
    drive without a path or tension, and a play the belt cannot have.
    """
    rest, around = _at_rest(result)
    chosen = next((s for s in result.spans if s.from_id == span), None) or longest_span(result)
    if not 0 < play_mm < chosen.length_mm / 4:
        raise GeometryError("a play above zero and under a quarter of the span is needed")
    case = case_of(build, result.id, catalogue)
    belts = case.belt.belts
    give = case.belt.stiffness_n / belts / around
    length, push = np.array(chosen.length_mm), np.array(push_n)
    reading = np.array([play_mm, play_mm + _READ_WITHIN_MM, max(play_mm - _READ_WITHIN_MM, 0.1)])
    tension, low, high = felt_tension(push, length, reading, give)
    if tension <= 0:
        raise GeometryError(
            "that push could not move even a slack belt so far: read play and push again"
        )

    def feel(at_n: float | None) -> Feel | None:
        if not at_n:
            return None
        one = np.array(at_n / belts)
        needed = deflection_force(one, length, np.array(play_mm), give)
        gives = play_under(push, length, one, give)
        return Feel(at_n, float(needed), float(gives))

    set_to = feel(rest)
    assert set_to is not None
    labels = {p.id: build.shaft(p.shaft).label for p in build.drive(result.id).pulleys}
    return Felt(
        span=chosen.from_id,
        ends=(labels[chosen.from_id], labels[chosen.to_id]),
        length_mm=chosen.length_mm,
        push_n=push_n,
        play_mm=play_mm,
        tension_n=belts * float(tension),
        between_n=(belts * max(float(low), 0.0), belts * float(high)),
        set_to=set_to,
        least=feel(None if result.grip is None else result.grip.least_tension_n),
        most=feel(None if result.grip is None else result.grip.most_tension_n),
        belts=belts,
    )
