"""What is seen at a step against what the layout says."""

from __future__ import annotations

from jovial_tack.answers.fit_up.compare import TONE_WITHIN, Compared
from jovial_tack.answers.fit_up.hypotheses import Reads
from jovial_tack.answers.fit_up.steps import Step
from jovial_tack.core.units import TONE, written
from jovial_tack.core.words import sentence
from jovial_tack.document.model import SeenThen

#: How far a mark may be off and still be right, degrees and share of a travel (rep.).
_MARK_DEG, _MARK_SHARE = 1.0, 0.03
_BOTH_RIGHT = "Mark and tone are as they should be."
#: One reading does not speak for the other: what it cannot show is said.
_ONE_RIGHT = {
    True: "The mark is as it should be. A weak spring or another notch shows in the tone: listen too.",
    False: "The tone is as it should be. Look at the mark too.",
}


def seen_words(step: Step) -> tuple[str, bool]:
    """What is seen at a step against the layout, and whether it is as it should be; nothing and True
    where nothing is seen.
    """
    seen, figures = step.seen, step.figures
    if seen is None or figures is None:
        return "", True
    said = [told for told in (_mark(seen, figures), _tone(seen, figures)) if told is not None]
    off = [words for words, right in said if not right]
    if not said:
        return "", True
    if off:
        return "\n".join(sentence(words) for words in off), False
    return (_BOTH_RIGHT if len(said) > 1 else _ONE_RIGHT[seen.tone_hz is None]), True


def reads_at(step: Step) -> Reads:
    """What is seen at a step, as causes are weighed by it."""
    seen = step.seen
    if seen is None:
        return Reads(None, None)
    mark = seen.travel_share if seen.arm_angle_deg is None else seen.arm_angle_deg
    return Reads(mark, seen.tone_hz)


def _mark(seen: SeenThen, figures: Compared) -> tuple[str, bool] | None:
    if seen.arm_angle_deg is not None and figures.arm_angle_deg is not None:
        by = seen.arm_angle_deg - figures.arm_angle_deg
        return f"the mark is {abs(by):.1f}° off", abs(by) <= _MARK_DEG
    if seen.travel_share is not None and figures.travel_share is not None:
        by = seen.travel_share - figures.travel_share
        return f"it stands {100 * abs(by):.0f} % of its travel off", abs(by) <= _MARK_SHARE
    return None


def _tone(seen: SeenThen, figures: Compared) -> tuple[str, bool] | None:
    if seen.tone_hz is None or not figures.tone_hz:
        return None
    ratio = seen.tone_hz / figures.tone_hz
    way = "low" if ratio < 1 else "high"
    pull = ratio**2  # T = m·(2·L·f)²
    words = (
        f"the tone is {written(abs(seen.tone_hz - figures.tone_hz), TONE)} too {way}:"
        f" {100 * pull:.0f} % of the tension"
    )
    return words, abs(ratio - 1) <= TONE_WITHIN
