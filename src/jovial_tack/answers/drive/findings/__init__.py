"""Findings: what the user should know about a solved drive, geometry first.

Each module looks at one matter; a message says what is wrong and by how much. What would mend it
is solved first and told after a semicolon (`answers/mending`).
"""

from __future__ import annotations

from jovial_tack.answers.drive.findings.adjuster import adjuster_findings
from jovial_tack.answers.drive.findings.geometry import geometry_findings
from jovial_tack.answers.drive.findings.guesses import hang_on_guesses, without_guesses
from jovial_tack.answers.drive.findings.holding import holding_findings
from jovial_tack.answers.drive.findings.in_the_way import clearance_findings
from jovial_tack.answers.drive.findings.parts import parts_findings
from jovial_tack.answers.drive.findings.tightness import tightness_findings
from jovial_tack.answers.drive.findings.unknown import unknown_findings, unsolvable_findings
from jovial_tack.answers.drive.solved import Solved, solve_states
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.results import Finding
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import replace

__all__ = ["clearance_findings", "findings_of", "unsolvable_findings"]


def findings_of(solved: Solved, catalogue: Catalogue, speech: Speech) -> tuple[Finding, ...]:
    """All findings of a drive. What would mend them is found elsewhere (`answers/mending`)."""
    found = _found(solved, catalogue, speech)
    if hang_on_guesses(found, solved):
        sure = _found(_known(solved), catalogue, speech)
        found = without_guesses(found, sure, solved, speech)
    return tuple(found)


def _known(solved: Solved) -> Solved:
    """The same drive without the loads that were guessed."""
    case = replace(solved.case, drive=solved.case.known, known=None)
    listed = solved.rpm[: solved.listed].tolist()
    (known,) = solve_states([case], listed, solved.limits, live=solved.live)
    return replace(known, usable=solved.usable)


def _found(solved: Solved, catalogue: Catalogue, speech: Speech) -> list[Finding]:
    found: list[Finding] = []
    if solved.rest is None:
        found += geometry_findings(solved, speech)
        if not found:
            found += adjuster_findings(solved, speech)
        found += parts_findings(solved, catalogue, speech)
        return found
    found += adjuster_findings(solved, speech)
    found += holding_findings(solved, catalogue, speech)
    if solved.turning is not None:
        found += tightness_findings(solved, speech)
    found += parts_findings(solved, catalogue, speech)
    found += unknown_findings(solved, speech)
    return found
