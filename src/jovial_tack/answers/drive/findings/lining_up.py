"""Pulleys out of line, and the spacer that mends it (docs/METHOD.md, section 12)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import MISALIGNED
from jovial_tack.answers.results import Finding


def lining_up_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """One finding for each pulley that is out of line, or for the worst one if only tilt is left."""
    if solved.alignment is None:
        return []
    profile = solved.case.belt.profile
    angles = np.degrees(np.abs(solved.alignment.span))
    if not (angles > profile.good_angle_deg).any():
        return []
    worst = int(np.nanargmax(angles))
    if solved.moves is None or not solved.moves.any():
        return [_finding(solved, speech, worst, float(angles[worst]), None)]
    found = []
    for place in map(int, np.flatnonzero(solved.moves)):
        # spans whose planes are not known have no angle, and count for nothing
        most = float(np.nanmax([*angles[_spans_reaching(solved, place)], 0.0]))
        if most > profile.good_angle_deg:
            move = float(solved.moves[place])
            found.append(_finding(solved, speech, place, most, move))
    return found or [_finding(solved, speech, worst, float(angles[worst]), None)]


def _spans_reaching(solved: Solved, place: int) -> list[int]:
    """The spans between a grooved pulley and its grooved neighbours, over flat ones."""
    flat, count = solved.case.seats().flat, len(solved.case.pulleys)
    reached = [place]
    while flat[(reached[-1] + 1) % count] and (reached[-1] + 1) % count != place:
        reached.append((reached[-1] + 1) % count)
    back = (place - 1) % count
    reached.append(back)
    while flat[back] and back != place:
        back = (back - 1) % count
        reached.append(back)
    return reached


def _finding(
    solved: Solved, speech: Speech, place: int, angle: float, move: float | None
) -> Finding:
    profile = solved.case.belt.profile
    over = angle > profile.limit_angle_deg
    limit = profile.limit_angle_deg if over else profile.good_angle_deg
    if move is None:
        mend = "no spacer mends it: straighten what is tilted first"
    else:
        size = speech.length(abs(move), 2 if speech.unit == "mm" else 3)
        mend = f"a {size} spacer under it" if move > 0 else f"taking {size} from under it"
        mend += " puts it in line"
    return Finding(
        MISALIGNED,
        "stop" if over else "watch",
        solved.case.model.route[place],
        f"{speech.at(place)} is {angle:.2f}° out of line (good {profile.good_angle_deg:.2f}°);"
        f" {mend}",
        value=angle,
        limit=limit,
    )
