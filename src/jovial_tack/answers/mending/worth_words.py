"""What a change is worth, in words: what it wins and what it costs."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.answers.mending.worth import Worth
from jovial_tack.core.units import FORCE, written_in
from jovial_tack.document.model import Build

#: Changes of a hub load that are not told.
_SAME_PULL = 0.005


def percent_in_hand(factor: float) -> str:
    """How much of its loads a drive has in hand, signed.

    >>> percent_in_hand(1.234), percent_in_hand(0.905)
    ('+23 %', '−9 %')
    """
    share = round(100 * (factor - 1.0))
    return f"+{share} %" if share >= 0 else f"−{-share} %"


def won_words(worth: Worth) -> str:
    """What it wins: the reserve before and after, and where it then slips."""
    before, after = (percent_in_hand(factor) for factor in worth.factor)
    said = f"reserve {before} to {after}"
    slips = worth.slips_from[1]
    was = worth.slips_from[0]
    if slips is not None:
        return f"{said}, slips from {slips:.0f} rpm"
    return f"{said}, slips no more" if was is not None else said


def cost_words(build: Build, worth: Worth) -> str:
    """What it costs: pulls on hubs, tension at rest, parts, what becomes worse."""
    unit = build.display_units
    parts = []
    was, now = worth.hub_n
    if was > 0 and abs(now / was - 1.0) >= _SAME_PULL:
        pull = written_in(now, FORCE, unit)
        parts.append(f"most pull on a hub {percent_in_hand(now / was)} ({pull})")
    rest = worth.rest_n
    if rest[0] is not None and rest[1] is not None and abs(rest[1] - rest[0]) >= 1.0:
        parts.append(f"{written_in(rest[1], FORCE, unit)} at rest")
    if worth.to_buy > 0:
        parts.append(f"{worth.to_buy} more to buy")
    if worth.worse:
        what = ", ".join(code.replace("_", " ") for code in worth.worse)
        parts.append(f"{'not so: ' if worth.level == 'stop' else 'then to watch: '}{what}")
    return "; ".join(parts) if parts else "costs nothing elsewhere"


def nothing_words(
    build: Build, drive_id: str, factor: float | None, worths: Sequence[Worth]
) -> str:
    """Why nothing is listed, or what the drive has in hand now."""
    label = build.drive(drive_id).label
    if factor is None:
        return f"{label}: nothing slips up to fifty times its loads, or nothing is decided yet"
    now = f"{label} has {percent_in_hand(factor)} of its loads in hand"
    return now if worths else f"{now}; nothing that was tried wins any more"
