"""What happens where along the revs, without Qt."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from jovial_tack.answers.kinds import SLIP
from jovial_tack.answers.results import DriveResult, Results
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build


class RevRange(Value, frozen=True):
    """Engine speeds at which something slips ("stop"), would if a guess were true ("open"), or turns
    faster than it may ("limit").
    """

    kind: Literal["stop", "open", "limit"]
    low_rpm: float
    high_rpm: float
    what: str


def rev_ranges(build: Build, results: Results) -> tuple[RevRange, ...]:
    """Where a pulley slips, and at which of the listed speeds a shaft is over its limit."""
    found: list[RevRange] = []
    kind: Literal["stop", "open"]
    for drive in results.drives:
        for pulley in drive.pulleys:
            shaft = build.shaft(build.drive(drive.id).pulley(pulley.id).shaft)
            fast = [
                shaft.max_rpm is not None and speed is not None and speed > shaft.max_rpm
                for speed in pulley.rpm
            ]
            kind, what = ("stop", "slips") if slips(drive, pulley.id) else ("open", "might slip")
            for low, high in pulley.slips_rpm:
                found.append(RevRange(kind, low, high, f"{shaft.label} {what}"))
            for low, high in _runs(fast, drive.rpm):
                found.append(RevRange("limit", low, high, f"{shaft.label} over its limit"))
    return tuple(found)


def slips(drive: DriveResult, pulley_id: str) -> bool:
    """Whether a pulley slips by what was typed, and not only by a guess."""
    return any(
        f.kind is SLIP and f.level == "stop" and f.where == pulley_id for f in drive.findings
    )


def _runs(flags: list[bool], rpm: tuple[float, ...]) -> Iterator[tuple[float, float]]:
    start: float | None = None
    for flag, speed, last in zip(flags, rpm, (*rpm[1:], None), strict=False):
        if flag and start is None:
            start = speed
        if start is not None and (not flag or last is None):
            yield start, speed
            start = None
