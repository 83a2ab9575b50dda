"""What a finder found, in words: the best against today, and why."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jovial_tack.answers.finder.space import stands_at
from jovial_tack.answers.finder.sure import Sure
from jovial_tack.answers.finder.trying import Answer
from jovial_tack.answers.finder.vetting import Vetted
from jovial_tack.answers.mending.worth_words import cost_words, won_words
from jovial_tack.answers.results import ArmResult, DriveResult, FixedResult
from jovial_tack.core.units import FORCE, written_in

#: What changes by less than this share is not told as a reason.
_FELT = 0.02


def counted_words(answer: Answer) -> str:
    """How many were tried, and what became of them."""
    left = answer.fitting.combination.size
    said = f"{answer.tried:,} combinations tried, {answer.feasible:,} fit"
    if left == answer.feasible:
        return said
    broke = ", ".join(f"{count:,} break {words}" for words, count in answer.broken if count)
    return f"{said}, {left:,} within the limits" + ("" if left else f": {broke}")


def best_words(answer: Answer, best: Vetted, today: DriveResult) -> str:
    """Why the best beats today, from both solved over all revs."""
    words = answer.space.words_of(int(answer.fitting.combination[best.place]))
    if best.worth is None:
        return f"{words}: nothing slips up to fifty times the loads"
    said = f"{words}: {won_words(best.worth)}"
    why = list(reasons(answer, best.result, today))
    return f"{said}, since {', and '.join(why)}" if why else said


def figure_words(answer: Answer, one: Vetted) -> str:
    """What a combination comes to: what it wins, tension at rest, arm, ratio."""
    space, fitting, place = answer.space, answer.fitting, one.place
    unit = space.build.display_units
    parts = ["nothing slips up to fifty times the loads"]
    if one.worth is not None:
        parts = [won_words(one.worth)]
    parts.append(f"{written_in(float(fitting.tension_n[place]), FORCE, unit)} at rest")
    if not np.isnan(fitting.angle[place]):
        parts.append(stands_at(space, float(fitting.angle[place])).words(unit))
    looked_at = space.build.shaft(space.drive.pulley(answer.looked_at).shaft).label
    parts.append(f"ratio of {looked_at} {fitting.ratio[place]:.3f}")
    parts += [said] if (said := sure_words(one.sure)) else []
    return ", ".join(parts)


def sure_words(sure: Sure | None) -> str:
    """How sure it is that it fits and holds, given what nobody knows exactly."""
    if sure is None:
        return ""
    holds, fits = round(100 * sure.holds), round(100 * sure.fits)
    within = round(100 * sure.known_within)
    share = f"{holds} ± {within}" if within else f"{holds}"
    if holds in (0, 100):
        share = "more than 99" if holds else "less than 1"
    also = f", fits in {fits}" if fits < 100 and fits != holds else ""
    return f"holds in {share} of 100 engines like it{also}"


def costs_words(answer: Answer, one: Vetted) -> str:
    """What a combination costs elsewhere."""
    return "" if one.worth is None else cost_words(answer.space.build, one.worth)


def reasons(answer: Answer, after: DriveResult, today: DriveResult) -> Iterator[str]:
    """What changed for the better at the pulley that uses most of its wrap today."""
    tight = _tightest(today)
    was = next((pulley for pulley in today.pulleys if pulley.id == tight), None)
    now = next((pulley for pulley in after.pulleys if pulley.id == tight), None)
    if tight is None or was is None or now is None:
        return
    unit = answer.space.build.display_units
    label = answer.space.build.shaft(answer.space.drive.pulley(tight).shaft).label
    if now.wrap_deg > was.wrap_deg * (1 + _FELT):
        yield f"{label} is wrapped {now.wrap_deg:.0f}° instead of {was.wrap_deg:.0f}°"
    slack, tight_now = _rest_n(today), _rest_n(after)
    if slack is not None and tight_now is not None and tight_now > slack * (1 + _FELT):
        told = [written_in(pull, FORCE, unit) for pull in (tight_now, slack)]
        yield f"the belt rests at {told[0]} instead of {told[1]}"
    asked = [p.torque_nm[-1] if p.torque_nm else None for p in (was, now)]
    if asked[0] is not None and asked[1] is not None and asked[1] < asked[0] * (1 - _FELT):
        yield f"{label} takes {asked[1]:.1f} N·m at redline instead of {asked[0]:.1f}"


def _tightest(result: DriveResult) -> str | None:
    """The pulley that uses most of its wrap at any speed."""
    known = [(p.worst_arc_used, p.id) for p in result.pulleys if p.worst_arc_used is not None]
    return max(known)[1] if known else None


def _rest_n(result: DriveResult) -> float | None:
    held = result.tensioner
    return held.tension_n if isinstance(held, ArmResult | FixedResult) else None
