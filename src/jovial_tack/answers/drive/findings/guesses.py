"""A guess makes no alarm: what is found only with loads that were guessed is not known yet.

The usual load of a kind stands in where a shaft has none of its own. A drive is then judged a second
time without it; what is not found there is told as open, with what to type (docs/METHOD.md, 9).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import (
    ARM_AT_STOP,
    ARM_OUTSIDE_WINDOW,
    BELT_FLOATS,
    HUB_LOAD,
    LOW_RESERVE,
    SLIP,
    SPAN_RESONANCE,
    TENSIONER_ON_TIGHT_SIDE,
    Kind,
)
from jovial_tack.answers.results import Finding
from jovial_tack.core.value import replace
from jovial_tack.document.model import Build

#: Kinds that hang on what the shafts take.
_OF_LOADS = {
    ARM_AT_STOP,
    ARM_OUTSIDE_WINDOW,
    BELT_FLOATS,
    HUB_LOAD,
    LOW_RESERVE,
    SLIP,
    SPAN_RESONANCE,
    TENSIONER_ON_TIGHT_SIDE,
}
_ALARMS = ("watch", "stop")


def hang_on_guesses(found: Iterable[Finding], solved: Solved) -> bool:
    """Whether any of the findings may be there only because of loads that were guessed."""
    guessed = solved.case.known is not None
    return guessed and any(f.kind in _OF_LOADS and f.level in _ALARMS for f in found)


def without_guesses(
    found: Iterable[Finding], sure: Sequence[Finding], solved: Solved, speech: Speech
) -> list[Finding]:
    """The findings, each no graver than it is without the guesses.

    sure: the findings of the same drive without what was guessed.
    """
    levels = {(f.kind, f.where): f for f in sure}
    kept: list[Finding] = []
    for finding in found:
        if finding.kind not in _OF_LOADS or finding.level not in _ALARMS:
            kept.append(finding)
            continue
        stands = _stands(finding, levels)
        kept.append(finding if stands is finding else stands or _open(finding, solved, speech))
    return kept


def _stands(finding: Finding, sure: dict[tuple[Kind, str], Finding]) -> Finding | None:
    """What of a finding is there without guesses: itself, a lesser one, or nothing."""
    same = sure.get((finding.kind, finding.where))
    if same is not None:
        return finding if same.level == finding.level else same
    return sure.get((LOW_RESERVE, finding.where)) if finding.kind is SLIP else None


def _open(finding: Finding, solved: Solved, speech: Speech) -> Finding:
    what = finding.message.partition("; ")[0]
    shafts = {shaft.id: shaft.label for shaft in solved.case.shafts}
    here = [shafts[name] for name in solved.case.guessed if name in shafts]
    beyond = "" if len(here) == len(solved.case.guessed) else "further belts"
    words = f"not known yet, with usual loads {what}; type the load of {names((*here, beyond))}"
    return replace(finding, level="unknown", message=words)


def names(labels: Sequence[str]) -> str:
    """A few names in words: “A”, “A and B”, “A, B and 2 more”.

    >>> names(("Pump", "Fan", "", "Blower", "Other"))
    'Pump, Fan and 2 more'
    """
    told = [label for label in labels if label]
    if len(told) > 3:
        told = [*told[:2], f"{len(told) - 2} more"]
    return " and ".join([", ".join(told[:-1]), told[-1]] if len(told) > 1 else told)


def guessed_loads(build: Build, guessed: Sequence[str]) -> str:
    """Whose load is only the usual one, in words."""
    return names([build.shaft(name).label for name in guessed])
