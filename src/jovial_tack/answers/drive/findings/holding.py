"""Whether every pulley holds its belt (docs/METHOD.md, section 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.solved import OverRevs, Solved, damping_fraction
from jovial_tack.answers.drive.words import Speech, percent
from jovial_tack.answers.kinds import (
    BELT_FLOATS,
    LOW_RESERVE,
    LOW_WRAP,
    SLIP,
    TENSIONER_ON_TIGHT_SIDE,
)
from jovial_tack.answers.results import Finding
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.grip.reserve import beyond_arc
from jovial_tack.core.grip.revs import Range, ranges_beyond


def holding_findings(solved: Solved, catalogue: Catalogue, speech: Speech) -> list[Finding]:
    """Slip, floating belt, low reserve and low wrap, from idle to redline."""
    found: list[Finding] = []
    over = solved.over_revs
    if over is not None:
        found += _slips(solved, speech, over)
        found += _floats(solved, speech, over)
    found += _low_wraps(solved, catalogue, speech)
    found += _tight_side(solved, speech)
    return found


def _slips(solved: Solved, speech: Speech, over: OverRevs) -> list[Finding]:
    """Each pulley that uses more of its wrap than it should, the worst first.

    Judged on the low side of the arm's damping; the nominal share is told beside it.
    """
    found: list[Finding] = []
    low, nominal = over.low.arc_used_fraction, over.nominal.arc_used_fraction
    known = np.nan_to_num(low, nan=-1.0)
    worst = known.argmax(axis=0)
    watch = solved.limits.low_reserve_arc_used
    for place in sorted(range(known.shape[1]), key=lambda k: -known[worst[k], k]):
        lane = int(worst[place])
        fraction, rpm = float(known[lane, place]), over.rpm[lane]
        pulley = solved.case.model.route[place]
        share = f"{percent(fraction)} of its wrap at {rpm:.0f} rpm"
        if damping_fraction(solved.case) and np.isfinite(nominal[lane, place]):
            share += f" ({percent(float(nominal[lane, place]))} at full torque)"
        if fraction >= 1.0:
            where = in_words(
                ranges_beyond(over.rpm, beyond_arc(low[:, place])), float(over.rpm[-1])
            )
            words = f"{speech.name(pulley)} slips {where}: {share}"
            found.append(Finding(SLIP, "stop", pulley, words, value=fraction, limit=1.0))
        elif fraction > watch:
            words = (
                f"{speech.name(pulley)} uses {share}:"
                f" above {percent(watch)} wet or oily ribs may slip"
            )
            found.append(Finding(LOW_RESERVE, "watch", pulley, words, value=fraction, limit=watch))
    return found


def in_words(ranges: tuple[Range, ...], last_rpm: float) -> str:
    """Ranges of engine speed: “from 6407 rpm”, “from 1012 to 1188 rpm and from 6407 rpm”."""
    parts = [
        f"from {low:.0f}" + ("" if high >= last_rpm - 0.5 else f" to {high:.0f}") + " rpm"
        for low, high in ranges
    ]
    return " and ".join(parts)


def _floats(solved: Solved, speech: Speech, over: OverRevs) -> list[Finding]:
    tractions = over.low.tractions
    floating = (tractions <= 0).any(axis=-1)
    if not floating.any():
        return []
    lane, span = np.unravel_index(int(np.nanargmin(tractions)), tractions.shape)
    pulley = solved.case.model.route[span]
    where = in_words(ranges_beyond(over.rpm, -tractions.min(axis=-1)), float(over.rpm[-1]))
    words = (
        f"the belt floats off {speech.name(pulley)} {where}: its slack side has no pull left"
        f" ({speech.force(float(tractions[lane, span]))} at {over.rpm[lane]:.0f} rpm)"
    )
    return [Finding(BELT_FLOATS, "stop", pulley, words, float(tractions[lane, span]), 0.0)]


def _low_wraps(solved: Solved, catalogue: Catalogue, speech: Speech) -> list[Finding]:
    assert solved.rest is not None
    found: list[Finding] = []
    for place, shaft in enumerate(solved.case.shafts):
        wrap = float(np.degrees(solved.rest.wrap[place]))
        least = catalogue.kinds[shaft.kind].least_wrap_deg
        if wrap < least:
            found.append(
                Finding(
                    LOW_WRAP,
                    "watch",
                    solved.case.model.route[place],
                    f"{speech.at(place)} has {wrap:.0f}° of wrap; {least:.0f}° is usual for its kind",
                    value=wrap,
                    limit=least,
                )
            )
    return found


def _tight_side(solved: Solved, speech: Speech) -> list[Finding]:
    """The arm belongs on the slack side: at redline it should see less than half of the rise."""
    arm, turning = solved.case.arm, solved.turning
    if arm is None or turning is None:
        return []
    tractions = turning.nominal.tractions[solved.redline]
    rise = float(tractions.max() - tractions.min())
    before = (arm.index - 1) % tractions.size
    share = float((tractions[before] + tractions[arm.index]) / 2 - tractions.min())
    if rise < 1.0 or share <= 0.5 * rise or not np.isfinite(share):
        return []
    return [
        Finding(
            TENSIONER_ON_TIGHT_SIDE,
            "watch",
            solved.case.model.route[arm.index],
            f"the arm of {speech.drive} sits {percent(share / rise)} of the way up to the tight side;"
            f" just after {speech.at(solved.drive.layout.driver)} in belt travel it would hold better",
            value=share / rise,
            limit=0.5,
        )
    ]
