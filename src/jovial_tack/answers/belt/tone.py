"""What the tone of a plucked span, or its twist by hand, means for the tension (METHOD.md, 9)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.belt.feel import in_band, longest_span
from jovial_tack.answers.drive.judging import case_of
from jovial_tack.answers.results import DriveResult
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.grip.span_readings import span_tone, tone_tension, twist_tension, twist_torque
from jovial_tack.core.units import FORCE, TONE, TORQUE, format_length, written, written_in
from jovial_tack.core.value import Value
from jovial_tack.core.words import sentence
from jovial_tack.document.model import Build

#: How wrongly a tone is read by ear or by a telephone, as a share (rep.).
_READ_WITHIN = 0.02
#: How wrongly the torque of a twist is read, as a share (rep.), and the turn it is read at.
_TWISTED_WITHIN, _TURN = 0.15, np.pi / 2
#: Torques beyond these are no twist by hand, N·m.
_LEAST_NM, _MOST_NM = 0.005, 50.0
#: Tones beyond these are none of a belt.
_LEAST_HZ, _MOST_HZ = 5.0, 2000.0


class Tuned(Value, frozen=True):
    """A tension, N, the tone it makes in the span, Hz, and the torque that twists its middle by a
    quarter turn, N·m; None of V-belts, which are no strips.
    """

    tension_n: float
    tone_hz: float
    twist_nm: float | None


class Heard(Value, frozen=True):
    """A span that was plucked, or twisted, at rest and cold. tone_hz: heard, or what it would sound at;
    twist_nm: the torque of a quarter turn, where that was read. between_n: the tension if it was read
    wrong by what is usual; set_to, least, most: the tension of the build, the least that holds and the
    most allowed; None where not known. belts: how many run side by side.
    """

    span: str
    ends: tuple[str, str]
    length_mm: float
    tone_hz: float
    tension_n: float
    between_n: tuple[float, float]
    set_to: Tuned | None
    least: Tuned | None
    most: Tuned | None
    belts: int = 1
    twist_nm: float | None = None

    @property
    def verdict(self) -> str:
        """Whether the belt is set right, in words."""
        least, most = (None if one is None else one.tension_n for one in (self.least, self.most))
        better = "hear it three times, on the longest span"
        if self.twist_nm is not None:
            better = "twist it three times, on the longest span, or listen to its tone"
        return in_band(self.tension_n, self.between_n, least, most, better)

    def lines(self, unit: str = "mm") -> tuple[str, ...]:
        """What it means, a sentence a line, in the units that go with its unit of length."""

        def force(value: float) -> str:
            return written_in(value, FORCE, unit)

        low, high = self.between_n
        several = ", all belts together" if self.belts > 1 else ""
        free = f"between {self.ends[0]} and {self.ends[1]}, {format_length(self.length_mm, unit)} free,"
        what, wrong = written(self.tone_hz, TONE), "the tone was read 2 % wrong"
        if self.twist_nm is not None:
            what = f"{written_in(self.twist_nm, TORQUE, unit, 2)} for a quarter turn"
            wrong = "the torque was read 15 % wrong; the belt's own stiffness makes it seem more"
        said = [
            f"{what} {free} is {force(self.tension_n)} at rest{several};"
            f" {force(low)} to {force(high)} if {wrong}.",
            sentence(self.verdict),
        ]
        for what, one in (
            ("Least that holds", self.least),
            ("As the build has it", self.set_to),
            ("Most allowed", self.most),
        ):
            if one is not None:
                told = f"{what}, {force(one.tension_n)}: {written(one.tone_hz, TONE)}"
                if one.twist_nm is not None:
                    torque = written_in(one.twist_nm, TORQUE, unit)
                    told += f", and {torque} to twist it a quarter turn"
                said.append(f"{told}.")
        return tuple(said)


def from_tone(
    build: Build,
    result: DriveResult,
    catalogue: Catalogue,
    *,
    tone_hz: float,
    span: str | None = None,
) -> Heard:
    """The tension a tone means. span: the pulley it leaves; the longest span without one.

    An arm stands still under a plucked span, so that this serves sprung and bolted drives alike. Raises
    GeometryError for a drive without a path, and for what is no tone of a belt.
    """
    if not _LEAST_HZ <= tone_hz <= _MOST_HZ:
        raise GeometryError(f"a tone from {_LEAST_HZ:g} to {_MOST_HZ:g} Hz is needed")
    return _read(build, result, catalogue, span, tone_hz, None)


def from_twist(
    build: Build,
    result: DriveResult,
    catalogue: Catalogue,
    *,
    twist_nm: float,
    span: str | None = None,
) -> Heard:
    """The tension that a torque, N·m, means which twists the middle of a flat belt's span by a quarter
    turn; the rest as of a tone. Raises GeometryError for a V-belt too.
    """
    if not _LEAST_NM <= twist_nm <= _MOST_NM:
        raise GeometryError(f"a torque from {_LEAST_NM:g} to {_MOST_NM:g} N·m is needed")
    return _read(build, result, catalogue, span, None, twist_nm)


def _read(
    build: Build,
    result: DriveResult,
    catalogue: Catalogue,
    span: str | None,
    tone_hz: float | None,
    twist_nm: float | None,
) -> Heard:
    """What was read of a span, by one of both ways."""
    chosen = next((s for s in result.spans if s.from_id == span), None) or longest_span(result)
    case = case_of(build, result.id, catalogue)
    length, mass = np.array(chosen.length_mm), case.belt.mass_kg_per_m
    strip = case.belt.profile.section != "v"
    width = case.belt.ribs * case.belt.profile.pitch_mm if strip else None
    if tone_hz is not None:
        tones = tone_hz * np.array([1.0, 1.0 - _READ_WITHIN, 1.0 + _READ_WITHIN])
        tension, low, high = tone_tension(tones, length, mass)
    else:
        if width is None:
            raise GeometryError("a V-belt is no strip that could be twisted: listen to its tone")
        assert twist_nm is not None
        torques = twist_nm * np.array([1.0, 1.0 - _TWISTED_WITHIN, 1.0 + _TWISTED_WITHIN])
        tension, low, high = twist_tension(torques, width, length, _TURN)
        tone_hz = float(span_tone(tension, length, mass))

    def tuned(at_n: float | None) -> Tuned | None:
        if not at_n:
            return None
        tone = float(span_tone(np.array(at_n), length, mass))
        twist = None
        if width is not None:
            twist = float(twist_torque(np.array(at_n), width, length, _TURN))
        return Tuned(at_n, tone, twist)

    labels = {p.id: build.shaft(p.shaft).label for p in build.drive(result.id).pulleys}
    held, grip = result.tensioner, result.grip
    return Heard(
        span=chosen.from_id,
        ends=(labels[chosen.from_id], labels[chosen.to_id]),
        length_mm=chosen.length_mm,
        tone_hz=tone_hz,
        tension_n=float(tension),
        between_n=(float(low), float(high)),
        set_to=tuned(None if held is None else held.tension_n),
        least=tuned(None if grip is None else grip.least_tension_n),
        most=tuned(None if grip is None else grip.most_tension_n),
        belts=case.belt.belts,
        twist_nm=twist_nm,
    )
