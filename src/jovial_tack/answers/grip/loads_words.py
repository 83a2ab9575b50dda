"""What belts do to their parts, in words."""

from __future__ import annotations

from jovial_tack.answers.grip.loads import BeltUse, Pulls
from jovial_tack.core.units import FORCE, TORQUE, format_length, written_in
from jovial_tack.document.model import Build


def pulls_words(build: Build, pulls: Pulls) -> str:
    """The greatest pull on a shaft, which way, its limit, and the moment on its bearing."""
    unit = build.display_units
    most, way, rpm = pulls.most
    parts = [f"{written_in(most, FORCE, unit)} at {rpm:.0f} rpm, toward {way % 360:.0f}°"]
    if pulls.limit_n is not None:
        limit = written_in(pulls.limit_n, FORCE, unit)
        parts.append(f"{100 * most / pulls.limit_n:.0f} % of its {limit}")
    if pulls.moment_nm is not None:
        moment = written_in(pulls.moment_nm, TORQUE, unit)
        of = ""
        if pulls.moment_limit_nm:
            of = f", {100 * pulls.moment_nm / pulls.moment_limit_nm:.0f} % of what it bears"
        parts.append(f"{moment} on its bearing{of}")
    return ", ".join(parts)


def use_words(build: Build, use: BeltUse) -> str:
    """How a belt is bent, its longest span, and its life against the pinned state."""
    drive = build.drive(use.drive)
    ends = (build.shaft(drive.pulley(name).shaft).label for name in use.longest)
    length = format_length(use.longest_mm, build.display_units)
    said = f"up to {use.bends_per_s:.0f} bends a second; longest span {' to '.join(ends)}, {length}"
    if use.life is not None:
        said += f"; lasts {_times(use.life)} as long as in the pinned state (rep.)"
    return said


def _times(ratio: float) -> str:
    """So many times, in no more figures than are known.

    >>> _times(1.234), _times(0.31), _times(14.2)
    ('about 1.2 times', 'about 0.3 times', 'more than ten times')
    """
    if ratio > 10:
        return "more than ten times"
    return "less than a tenth" if ratio < 0.1 else f"about {ratio:.1f} times"
