"""Too tight: for the belt, and for each bearing that has a limit (docs/METHOD.md, section 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.hot import warmed
from jovial_tack.answers.drive.reserve import most_at_rest_n
from jovial_tack.answers.drive.solved import Solved, damping_fraction
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import HUB_LOAD, TOO_TIGHT
from jovial_tack.answers.results import Finding, Level
from jovial_tack.core.drive.adjuster import INSIDE
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.solve import Running, run
from jovial_tack.core.value import replace
from jovial_tack.document.model import StretchTensioner

#: Over its limit by this much a thing is stopped, not only watched.
STOP_OVER = 1.3


def tightness_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """The belt against the most it should be set to, bearings against their limits.

    The tension is that which the adjuster sets: at rest, cold and hot, on the high side of damping;
    never that of the tight side while running, for which no figure is given.
    """
    standing = _standing(solved)
    return (
        _plain_on_fixed_centres(solved, speech)
        + _belt(solved, speech, standing)
        + _bearings(solved, speech, standing)
    )


def _standing(solved: Solved) -> dict[str, Running]:
    """The drive at rest on the high side of its damping, cold and hot."""
    high = np.array([1.0 + damping_fraction(solved.case)])
    found = {}
    for when, drive in (("cold", solved.drive), ("hot", warmed(solved.drive, solved.limits))):
        state = replace(Lanes.at_rest(drive.pulley_count, drive.belt), spring_scale=high)
        rest = run(drive, state, solved.travel if when == "cold" else None)
        if int(rest.outcome[0]) == INSIDE and float(rest.tractions[0, 0]) > 0:
            found[when] = rest
    return found


def _level(share: float) -> Level:
    return "stop" if share > STOP_OVER else "watch"


def _plain_on_fixed_centres(solved: Solved, speech: Speech) -> list[Finding]:
    case = solved.case
    if not isinstance(case.model.tensioner, StretchTensioner):
        return []
    if case.belt.construction.name == "stretch" or case.belt.profile.section == "toothed":
        return []
    words = (
        f"the belt of {speech.drive} is not made to stretch, and nothing of the drive moves: it can"
        " neither be put on nor keep its tension; only a stretch belt works on fixed centres"
    )
    return [Finding(TOO_TIGHT, "stop", case.model.route[case.driver], words)]


def _belt(solved: Solved, speech: Speech, standing: dict[str, Running]) -> list[Finding]:
    most = most_at_rest_n(solved)
    set_to = {when: float(rest.tractions[0, 0]) for when, rest in standing.items()}
    if not set_to:
        return []
    when = max(set_to, key=lambda name: set_to[name])
    tension = set_to[when]
    if tension <= most:
        return []
    stiff = " with the arm at its stiffest" if damping_fraction(solved.case) else ""
    words = (
        f"the belt of {speech.drive} is set to {speech.force(tension)} at rest {when}{stiff},"
        f" over the {speech.force(most)} it bears"
    )
    where = solved.case.model.route[solved.case.driver]
    return [Finding(TOO_TIGHT, _level(tension / most), where, words, tension, most)]


def _bearings(solved: Solved, speech: Speech, standing: dict[str, Running]) -> list[Finding]:
    found: list[Finding] = []
    over = solved.over_revs
    for place, shaft in enumerate(solved.case.shafts):
        limit = shaft.hub_load_limit_n
        if limit is None:
            continue
        pulls = {
            f"at rest {when}": float(abs(rest.hub_load[0, place]))
            for when, rest in standing.items()
        }
        if over is not None:
            turning = np.nan_to_num(np.abs(over.high.hub_load[:, place]))
            lane = int(turning.argmax())
            pulls[f"at {over.rpm[lane]:.0f} rpm"] = float(turning[lane])
        when, most = max(pulls.items(), key=lambda item: item[1], default=("", 0.0))
        if most <= limit:
            continue
        words = (
            f"the belt pulls {shaft.label}'s bearing with {speech.force(most)} {when}, over"
            f" {speech.force(limit)} (the maker's limit rules)"
        )
        where = solved.case.model.route[place]
        found.append(Finding(HUB_LOAD, _level(most / limit), where, words, most, limit))
    return found
