"""From what is seen to what is likely wrong: readings weighed, then the check that tells most a minute.

One number cannot name ten causes: spring and notch move the tone and hardly the mark; belt, seat,
former pulley and centre move both alike. So checks are asked for, until one stands out (METHOD 17).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from jovial_tack.answers.drive.judging import solvable_case
from jovial_tack.answers.drive.spread import length_sigma, spread_of
from jovial_tack.answers.fit_up.hypotheses import (
    Hypothesis,
    Reads,
    hypotheses_of,
    reads_of,
)
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Float
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.model import Build

#: How well a mark is read, degrees of an arm and share of a travel, and a tone, as a share (rep.).
_MARK_DEG, _MARK_SHARE, _TONE = 0.7, 0.02, 0.036
#: How reliable the answer of a check is (rep.), and when one cause stands out.
_RELIABLE, STANDS_OUT = 0.97, 0.95
#: What no single cause explains: squared distance of the best one, in standard deviations.
_FAR = 9.0
_WORTH_TELLING = 0.03
_NEAR_MM = 1.0


class Check(Value, frozen=True):
    """Something to look at. key: kind and what of it; minutes (rep.); answers: what may be found, each
    with the hypotheses, by their places, of which it is true.
    """

    key: str
    words: str
    minutes: float
    answers: tuple[tuple[str, frozenset[int]], ...]


class Dialogue(Value, frozen=True, eq=False):
    """What may be so of a drive, how likely each is by what was read, and the checks there are.

    weights (H,): sum 1; unexplained: no single cause explains what was read.
    """

    hypotheses: tuple[Hypothesis, ...]
    weights: Float
    checks: tuple[Check, ...]
    unexplained: bool

    @property
    def order(self) -> tuple[int, ...]:
        """The places of the hypotheses, the likeliest first."""
        return tuple(int(k) for k in np.argsort(-self.weights, kind="stable"))

    @property
    def stands_out(self) -> bool:
        """Whether one is all but certain."""
        return bool(self.weights.max() >= STANDS_OUT)

    def bits(self, check: Check) -> float:
        """How much a check is expected to tell, bits."""
        after = 0.0
        for k in range(len(check.answers)):
            likely = _answered(check, k, self.weights.size)
            share = float((self.weights * likely).sum())
            if share > 0:
                after += share * _entropy(self.weights * likely / share)
        return max(_entropy(self.weights) - after, 0.0)

    @property
    def next(self) -> Check | None:
        """The check that tells most for its minutes; None where none tells anything."""
        told = [(self.bits(check) / (1.0 + check.minutes), check) for check in self.checks]
        best = max(told, key=lambda each: each[0], default=None)
        return None if best is None or best[0] < 1e-3 else best[1]

    def answer(self, check: Check, place: int) -> Dialogue:
        """What is likely once a check was answered by one of its answers; it is not asked again."""
        weights = self.weights * _answered(check, place, self.weights.size)
        left = tuple(each for each in self.checks if each.key != check.key)
        return Dialogue(self.hypotheses, weights / weights.sum(), left, self.unexplained)


def _answered(check: Check, place: int, count: int) -> Float:
    """How likely an answer is by each hypothesis (H,)."""
    others = max(len(check.answers) - 1, 1)
    likely = np.full(count, (1.0 - _RELIABLE) / others)
    likely[list(check.answers[place][1])] = _RELIABLE
    return likely


def _entropy(weights: Float) -> float:
    held = weights[weights > 0]
    return float(-(held * np.log2(held)).sum())


def dialogue_of(
    build: Build, drive_id: str, span: str, seen: Reads, catalogue: Catalogue
) -> Dialogue:
    """Weigh what may be so by what was read. Raises GeometryError where the layout does not rest."""
    found = hypotheses_of(build, drive_id, span, catalogue)
    return weighed(build, drive_id, span, seen, found, catalogue)


def weighed(
    build: Build,
    drive_id: str,
    span: str,
    seen: Reads,
    found: Sequence[Hypothesis],
    catalogue: Catalogue,
) -> Dialogue:
    """Weigh hypotheses that are solved already by what was read."""
    case = solvable_case(build, drive_id, catalogue)
    turns = case.arm is not None and not case.arm.slides
    slope = _by_length(build, drive_id, span, catalogue)
    sigma = length_sigma(case, spread_of(build, catalogue))
    rows, errors, slopes = [], [], []
    if seen.mark is not None:
        rows.append(np.array([_off(seen.mark, h.reads.mark) for h in found]))
        errors.append(_MARK_DEG if turns else _MARK_SHARE)
        slopes.append(slope.mark or 0.0)
    if seen.tone_hz:
        tone = seen.tone_hz
        rows.append(
            np.array([_off(np.log(tone), np.log(h.reads.tone_hz or np.nan)) for h in found])
        )
        errors.append(_TONE)
        slopes.append(slope.tone_hz or 0.0)
    weights = np.array([h.prior for h in found])
    unexplained = False
    if rows:
        # what is not known of the belt's length moves mark and tone together
        along = np.array(slopes)
        spread = sigma**2 * np.outer(along, along) + np.diag(np.square(errors))
        away = np.stack(rows)
        square = np.einsum("ih,ij,jh->h", away, np.linalg.inv(spread), away)
        square = np.where(np.isfinite(square), square, np.inf)
        unexplained = bool(square.min() > _FAR)
        weights = weights * np.exp(-(square - square.min()) / 2)
    return Dialogue(
        tuple(found), weights / weights.sum(), _checks(build, drive_id, found), unexplained
    )


def _off(read: float, told: float | None) -> float:
    return np.nan if told is None else read - told


def _by_length(build: Build, drive_id: str, span: str, catalogue: Catalogue) -> Reads:
    """How mark, and the logarithm of the tone, follow the length of the belt, per mm."""
    length = build.drive(drive_id).belt.effective_length_mm
    if length is None:
        return Reads(None, None)
    ends = [
        reads_of(set_belt_length(build, drive_id, length + by), drive_id, span, catalogue)
        for by in (-_NEAR_MM, _NEAR_MM)
    ]
    low, high = ends
    if low is None or high is None:
        return Reads(None, None)
    mark = tone = None
    if low.mark is not None and high.mark is not None:
        mark = (high.mark - low.mark) / (2 * _NEAR_MM)
    if low.tone_hz and high.tone_hz:
        tone = float(np.log(high.tone_hz / low.tone_hz)) / (2 * _NEAR_MM)
    return Reads(mark, tone)


def _checks(build: Build, drive_id: str, found: Sequence[Hypothesis]) -> tuple[Check, ...]:
    """What can be looked at; of each kind of cause what tells it, with its minutes."""
    drive, unit = build.drive(drive_id), build.display_units
    named = {p.id: build.shaft(p.shaft).label for p in drive.pulleys}
    checks: list[Check] = []

    def add(
        key: str, words: str, minutes: float, told: Mapping[str, list[int]], if_not: str
    ) -> None:
        of = {place for places in told.values() for place in places}
        others = frozenset(range(len(found))) - of
        answers = [(if_not, others), *((words, frozenset(at)) for words, at in told.items())]
        checks.append(Check(key, words, minutes, tuple(answers)))

    def of_kind(kind: str) -> list[tuple[int, Hypothesis]]:
        return [(k, h) for k, h in enumerate(found) if h.kind == kind]

    length = drive.belt.effective_length_mm
    belts = of_kind("belt")
    if belts and length is not None:
        told = {format_length(length + float(h.item), unit): [k] for k, h in belts}
        add("number", "Read the number on the belt", 1.0, told, format_length(length, unit))
    notches = of_kind("notch")
    if notches:
        told = {f"in notch {int(h.item) + 1}": [k] for k, h in notches}
        add("notch", "Look which notch the tensioner sits in", 1.0, told, "in the one laid out")
    routes = of_kind("route")
    if routes:
        told = {f"not round {named[h.item]}": [k] for k, h in routes}
        add("routing", "Compare the routing with the picture", 1.0, told, "as in the picture")
    for k, h in of_kind("seat"):
        words = f"Look into the grooves of {named[h.item]}"
        add(f"grooves {h.item}", words, 2.0, {"ribs on the crests": [k]}, "seated")
    for k, h in of_kind("former"):
        words = f"Lay a tape round the pulley of {named[h.item]}"
        add(f"tape {h.item}", words, 4.0, {"the former one": [k]}, "the one laid out")
    springs = of_kind("spring")
    if springs:
        told = {f"about {h.item} %": [k] for k, h in springs}
        add("scale", "Pull the arm with a scale", 6.0, told, "as strong as it should be")
    by_pulley: dict[str, dict[str, list[int]]] = {}
    for k, h in of_kind("centre"):
        pulley, _, way = h.item.rpartition(" ")
        by_pulley.setdefault(pulley, {})[f"further {way}"] = [k]
    for pulley, told in by_pulley.items():
        words = f"Measure where {named[pulley]} stands"
        add(f"centre {pulley}", words, 8.0, told, "where it is laid out")
    return tuple(checks)


def likely_words(dialogue: Dialogue) -> tuple[str, ...]:
    """The likeliest three, each with how likely it is."""
    said = []
    for place in dialogue.order[:3]:
        weight = float(dialogue.weights[place])
        if weight < _WORTH_TELLING:
            continue
        often = (
            "very likely" if weight >= 0.8 else "likely" if weight >= 0.5
            else "may be" if weight >= 0.2 else "less likely"
        )  # fmt: skip
        said.append(f"{often} ({100 * weight:.0f} %): {dialogue.hypotheses[place].words}")
    if dialogue.unexplained:
        said.append("no single cause explains both what is seen: look for two")
    return tuple(said)
