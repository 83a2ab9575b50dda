"""Findings: what the user should know about a solved drive, geometry first.

Each module looks at one matter; a message says what is wrong, by how much, and the nearest thing
that would mend it, itself solved.
"""

from __future__ import annotations

from jovial_tack.answers.drive.findings.adjuster import adjuster_findings
from jovial_tack.answers.drive.findings.geometry import geometry_findings
from jovial_tack.answers.drive.findings.holding import holding_findings
from jovial_tack.answers.drive.findings.in_the_way import clearance_findings
from jovial_tack.answers.drive.findings.lining_up import lining_up_findings
from jovial_tack.answers.drive.findings.parts import parts_findings
from jovial_tack.answers.drive.findings.tightness import tightness_findings
from jovial_tack.answers.drive.findings.unknown import unknown_findings, unsolvable_findings
from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.results import Finding
from jovial_tack.catalogue import Catalogue

__all__ = ["clearance_findings", "findings_of", "unsolvable_findings"]


def findings_of(
    solved: Solved,
    catalogue: Catalogue,
    speech: Speech,
    least_scale: float | None,
    *,
    mends: bool,
) -> tuple[Finding, ...]:
    """All findings of a drive.

    least_scale: the least factor on the tension that holds, None if there is none; mends: whether
    they were searched for.
    """
    found: list[Finding] = []
    if solved.rest is None:
        found += geometry_findings(solved, speech)
        if not found:
            found += adjuster_findings(solved, speech, mends=mends)
        found += parts_findings(solved, catalogue, speech)
        return tuple(found)
    found += adjuster_findings(solved, speech, mends=mends)
    found += holding_findings(solved, catalogue, speech, least_scale, mends=mends)
    if solved.running is not None:
        found += tightness_findings(solved, speech)
    found += parts_findings(solved, catalogue, speech)
    found += lining_up_findings(solved, speech)
    found += unknown_findings(solved, speech)
    return tuple(found)
