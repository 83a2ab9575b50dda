"""Situations of a drive in words."""

from __future__ import annotations

from jovial_tack.answers.grip.situations import Situation, Situations
from jovial_tack.document.model import Build


def share_words(share: float) -> str:
    """A share of a wrap, or that the belt floats.

    >>> share_words(0.843), share_words(float("inf"))
    ('84 % of its wrap', 'more than it has: the belt floats')
    """
    if share == float("inf"):
        return "more than it has: the belt floats"
    return f"{100 * share:.0f} % of its wrap"


def slips_words(one: Situation) -> str:
    """Where a pulley slips in a situation."""
    if not one.slips:
        return "slips nowhere"
    return "slips " + ", ".join(
        f"at {low:.0f} rpm" if low == high else f"from {low:.0f} to {high:.0f} rpm"
        for low, high in one.slips
    )


def situation_words(build: Build, drive_id: str, one: Situation) -> str:
    """The worst of a situation, and where it slips."""
    share, place, rpm = one.worst
    label = _label(build, drive_id, place)
    return f"{label} uses {share_words(share)} at {rpm:.0f} rpm; {slips_words(one)}"


def worst_words(build: Build, told: Situations) -> str:
    """The worst of all situations, beside how it is."""
    worst = told.worst
    if worst is told.each[0]:
        return f"worst as it is: {situation_words(build, told.drive, worst)}{_band_words(told)}"
    guess = " (usual figures)" if worst.usual else ""
    return (
        f"worst {worst.label}{guess}: {situation_words(build, told.drive, worst)};"
        f" as it is, {slips_words(told.each[0])}{_band_words(told)}"
    )


def _band_words(told: Situations) -> str:
    """What the friction that nobody knows makes of where it slips."""
    wet, dry = ("never" if rpm is None else f"from {rpm:.0f}" for rpm in told.band)
    return f" (wet {wet}, new and dry {dry})"


def _label(build: Build, drive_id: str, place: int) -> str:
    drive = build.drive(drive_id)
    return build.shaft(drive.pulley(drive.route[place]).shaft).label
