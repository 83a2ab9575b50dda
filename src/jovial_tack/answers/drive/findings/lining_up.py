"""Pulleys out of line, and the spacer that mends it (docs/METHOD.md, section 12)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.spread import SURELY
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import MISALIGNED
from jovial_tack.answers.results import Finding
from jovial_tack.core.arrays import Float
from jovial_tack.core.line_up.alignment import span_sd


def lining_up_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """One finding for each pulley that is out of line, or for the worst one if only tilt is left."""
    if solved.alignment is None:
        return []
    profile = solved.case.belt.profile
    angles = np.degrees(np.abs(solved.alignment.span))
    spread = _spread_deg(solved)
    # what the readings leave open is neither out of line nor in it
    open_ = np.abs(angles - profile.good_angle_deg) <= SURELY * spread
    found = [_not_known(solved, speech, int(k), angles, spread) for k in np.flatnonzero(open_)[:1]]
    angles = np.where(open_, 0.0, angles)
    return found + _out_of_line(solved, speech, angles)


def _spread_deg(solved: Solved) -> Float:
    """One standard deviation of the angle of each span (N,), degrees; 0 where no survey tells."""
    spread = solved.case.plane_spread
    if spread is None or solved.rest is None:
        return np.zeros(len(solved.case.pulleys))
    found = span_sd(solved.rest, solved.case.seats(), np.array(spread))
    return np.degrees(np.nan_to_num(found))


def _known_to(solved: Solved, speech: Speech, place: int) -> str:
    """How well a spacer under a pulley is known by the planes surveyed; "" without a survey."""
    spread = solved.case.plane_spread
    if spread is None:
        return ""
    beside = [k for k in _spans_reaching(solved, place) if k != place]
    squares = [
        spread[place][place] + spread[k][k] - 2.0 * spread[place][k]
        for k in beside
        if not solved.case.seats().flat[k]
    ]
    known = [square for square in squares if np.isfinite(square)]
    if not known:
        return ""
    digits = 2 if speech.unit == "mm" else 3
    return f" (± {speech.length(max(*known, 0.0) ** 0.5, digits)})"


def _not_known(solved: Solved, speech: Speech, span: int, angles: Float, spread: Float) -> Finding:
    """A span whose angle the readings do not tell well enough."""
    profile, route = solved.case.belt.profile, solved.case.model.route
    after = (span + 1) % len(route)
    return Finding(
        MISALIGNED,
        "unknown",
        route[span],
        f"{speech.at(span)}: {angles[span]:.2f}° ± {spread[span]:.2f}° out of line (good"
        f" {profile.good_angle_deg:.2f}°) cannot be told yet; read the step from it to"
        f" {speech.at(after)} with straightedge and feeler",
        value=float(angles[span]),
        limit=profile.good_angle_deg,
    )


def _out_of_line(solved: Solved, speech: Speech, angles: Float) -> list[Finding]:
    profile = solved.case.belt.profile
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
        size += _known_to(solved, speech, place)
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
