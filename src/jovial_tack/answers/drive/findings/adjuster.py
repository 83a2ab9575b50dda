"""Whether the belt's length suits the adjuster (docs/METHOD.md, section 5)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.lengths import travel_lengths, window_lengths
from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech, percent
from jovial_tack.answers.kinds import (
    ARM_AT_STOP,
    ARM_OUTSIDE_WINDOW,
    BELT_TOO_LONG,
    BELT_TOO_SHORT,
    NEAR_TOGGLE,
)
from jovial_tack.answers.places import in_its_unit, noun
from jovial_tack.answers.results import Finding
from jovial_tack.core.belt.lines import effective_length
from jovial_tack.core.drive.adjuster import INSIDE, NO_PATH, UNWOUND_STOP, WOUND_STOP
from jovial_tack.document.model import LockedTensioner, Sprung


def adjuster_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """Belt too short or long, arm outside its window, on its stop or near its toggle."""
    if not solved.case.decided:
        return []
    if solved.case.slide is not None:
        return _travel_findings(solved, speech)
    if solved.case.arm is None:
        return _stretch_findings(solved, speech)
    if solved.outcome != INSIDE:
        return [_no_equilibrium(solved, speech)]
    found = _lost_findings(solved, speech)
    found += _window_findings(solved, speech) + _stop_findings(solved, speech)
    return found + _toggle_findings(solved, speech)


def _toggle_findings(solved: Solved, speech: Speech) -> list[Finding]:
    arm, limits = solved.case.arm, solved.limits
    assert arm is not None
    toggle = float(in_its_unit(arm, np.asarray(solved.toggle)))
    limit = limits.near_toggle_mm if arm.slides else limits.near_toggle_deg
    if not toggle < limit:
        return []
    away = speech.length(toggle) if arm.slides else f"{toggle:.1f}°"
    keep = speech.length(limit, 0) if arm.slides else f"{limit:.0f}°"
    return [
        Finding(
            NEAR_TOGGLE,
            "watch",
            _arm_pulley(solved),
            f"the {noun(arm)} of {speech.drive} rests {away} from the place where it loses its lever"
            f" and its tension runs away; keep {keep}",
            value=toggle,
            limit=limit,
        )
    ]


def _arm_pulley(solved: Solved) -> str:
    tensioner = solved.case.model.tensioner
    assert isinstance(tensioner, Sprung)
    return tensioner.pulley


def _slides(solved: Solved) -> bool:
    return solved.case.arm is not None and solved.case.arm.slides


def _noun(solved: Solved) -> str:
    return "slide" if _slides(solved) else "arm"


def _fitting(solved: Solved, speech: Speech) -> str:
    window = window_lengths(solved.case, solved.usable)
    if window is None:
        what = "slot, ends and push" if _slides(solved) else "pivot, angles and push"
        of = _noun(solved)
        return f"no belt puts the {of} in its window; check the {of}'s {what}"
    return f"belts of {speech.length(window[0])} to {speech.length(window[1])} rest in its window"


def _no_equilibrium(solved: Solved, speech: Speech) -> Finding:
    length = solved.case.model.belt.effective_length_mm
    assert length is not None and solved.travel is not None
    short = solved.outcome == WOUND_STOP
    if solved.drawn_path is not None and not solved.travel.usable.any():
        slack_path = effective_length(
            float(solved.drawn_path.total), solved.case.belt.profile.effective_to_cord_mm
        )
        short = length < slack_path
    window = window_lengths(solved.case, solved.usable)
    limit = None if window is None else window[0 if short else 1]
    by = "" if limit is None else f" by {speech.length(abs(length - limit))}"
    word = "short" if short else "long"
    return Finding(
        BELT_TOO_SHORT if short else BELT_TOO_LONG,
        "stop",
        _arm_pulley(solved),
        f"the belt of {speech.drive} is too {word}{by} at {speech.length(length)};"
        f" {_fitting(solved, speech)}",
        value=length,
        limit=limit,
    )


def _lost_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """Speeds at which the arm runs out of travel that has a path."""
    length, over = solved.case.model.belt.effective_length_mm, solved.over_revs
    assert over is not None
    lost = over.rpm[over.nominal.outcome == NO_PATH]
    if not lost.size:
        return []
    return [
        Finding(
            BELT_TOO_LONG,
            "stop",
            _arm_pulley(solved),
            f"from {lost.min():.0f} rpm the {_noun(solved)} of {speech.drive} swings past every place"
            f" where the belt has a path; {_fitting(solved, speech)}",
            value=length,
        )
    ]


def _window_findings(solved: Solved, speech: Speech) -> list[Finding]:
    tensioner, arm, over = solved.case.model.tensioner, solved.case.arm, solved.over_revs
    assert isinstance(tensioner, Sprung) and arm is not None and over is not None
    if tensioner.told_window is None:
        return []
    rest = float(arm.window_fraction(np.asarray(solved.rest_angle)))
    turning = arm.window_fraction(over.nominal.angle)
    at_rest_out = not 0 <= rest <= 1
    worst_lane = int(np.nanargmax(np.abs(turning - 0.5))) if np.isfinite(turning).any() else 0
    worst = float(turning[worst_lane])
    if not at_rest_out and not (worst < 0 or worst > 1):
        return []
    fraction, when = worst, f"at {over.rpm[worst_lane]:.0f} rpm"
    if at_rest_out:
        fraction, when = rest, "at rest"
    side, limit = ("wound", 0.0) if fraction < 0 else ("unwound", 1.0)
    wide = abs(float(in_its_unit(arm, np.asarray(arm.window[1] - arm.window[0]))))
    by = abs(fraction - limit) * wide
    far = speech.length(by) if arm.slides else f"{by:.1f}°"
    words = (
        f"the {noun(arm)} of {speech.drive} stands {far} past the {side} end of its window {when}"
    )
    outside = Finding(
        ARM_OUTSIDE_WINDOW, "watch", tensioner.pulley, words, value=fraction, limit=limit
    )
    return [outside]


def _stop_findings(solved: Solved, speech: Speech) -> list[Finding]:
    over = solved.over_revs
    assert over is not None and solved.case.arm is not None
    stopped = np.isin(over.nominal.outcome, (WOUND_STOP, UNWOUND_STOP))
    if not stopped.any():
        return []
    lane = int(np.argmax(np.where(stopped, over.rpm, -1)))
    first = float(over.rpm[stopped].min())
    side = "wound" if over.nominal.outcome[lane] == WOUND_STOP else "unwound"
    arm = solved.case.arm
    place = float(in_its_unit(arm, over.nominal.angle[lane]))
    rest = float(arm.window_fraction(np.asarray(solved.rest_angle)))
    return [
        Finding(
            ARM_AT_STOP,
            "stop",
            _arm_pulley(solved),
            f"the {noun(arm)} of {speech.drive} lies on its {side} stop at {first:.0f} rpm and no"
            f" longer holds the tension; it rests {percent(rest)} into its window",
            value=place,
            limit=place,
        )
    ]


def _travel_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """A belt that fits nowhere on the travel of the shaft it is tensioned by."""
    slide, length = solved.case.slide, solved.case.model.belt.effective_length_mm
    model = solved.case.model.tensioner
    assert slide is not None and length is not None and isinstance(model, LockedTensioner)
    if slide.share is not None:
        return []
    moved = next(k for k, shaft in enumerate(solved.case.shafts) if shaft.id == model.shaft)
    ends = travel_lengths(solved.case, solved.usable)
    kind, word, limit = BELT_TOO_LONG, "long", None
    by, mend = "", "nowhere on its travel the belt has a path"
    if slide.short is not None and ends is not None:
        limit = ends[1]
        if length < ends[0]:
            kind, word, limit = BELT_TOO_SHORT, "short", ends[0]
        by = f" by {speech.length(abs(length - limit))}"
        mend = f"belts of {speech.length(ends[0])} to {speech.length(ends[1])} fit on its travel"
    what = f"the belt of {speech.drive} is too {word}{by} at {speech.length(length)}"
    where = f"for the travel of {solved.case.shafts[moved].label}"
    pulley = solved.case.model.route[moved]
    return [Finding(kind, "stop", pulley, f"{what} {where}; {mend}", value=length, limit=limit)]


def _stretch_findings(solved: Solved, speech: Speech) -> list[Finding]:
    tensioner, length = solved.case.model.tensioner, solved.case.model.belt.effective_length_mm
    if tensioner is None or tensioner.type != "stretch" or length is None:
        return []
    if solved.rest is None or solved.turning is not None:
        return []
    slack_free = effective_length(
        float(solved.rest.total), solved.case.belt.profile.effective_to_cord_mm
    )
    return [
        Finding(
            BELT_TOO_LONG,
            "stop",
            solved.case.model.route[solved.drive.layout.driver],
            f"the belt of {speech.drive} hangs slack: its path calls for less than"
            f" {speech.length(slack_free)} effective length",
            value=length,
            limit=slack_free,
        )
    ]
