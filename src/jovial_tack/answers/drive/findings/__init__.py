"""Findings: what the user should know about a solved drive, geometry first.

Each module looks at one matter; a message says what is wrong and by how much. What would mend it
is solved first and told after a semicolon (`answers/mending`).
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


def findings_of(solved: Solved, catalogue: Catalogue, speech: Speech) -> tuple[Finding, ...]:
    """All findings of a drive. What would mend them is found elsewhere (`answers/mending`)."""
    found: list[Finding] = []
    if solved.rest is None:
        found += geometry_findings(solved, speech)
        if not found:
            found += adjuster_findings(solved, speech)
        found += parts_findings(solved, catalogue, speech)
        return tuple(found)
    found += adjuster_findings(solved, speech)
    found += holding_findings(solved, catalogue, speech)
    if solved.running is not None:
        found += tightness_findings(solved, speech)
    found += parts_findings(solved, catalogue, speech)
    found += lining_up_findings(solved, speech)
    found += unknown_findings(solved, speech)
    return tuple(found)
