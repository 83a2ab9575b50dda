"""What is wrong with one drive over all revs, without the searches for its reserve.

For whatever tries many builds: belts along a window, mends, pulleys. It asks the same code as the
deep solve, so that what is found here is what is said there.
"""

from __future__ import annotations

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import Case
from jovial_tack.answers.drive.findings import findings_of, unsolvable_findings
from jovial_tack.answers.drive.reserve import grip_of, least_scale
from jovial_tack.answers.drive.solved import solve_states
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.results import Finding, GripResult
from jovial_tack.catalogue import Catalogue
from jovial_tack.document.model import Build


def case_of(build: Build, drive_id: str, catalogue: Catalogue) -> Case:
    """The case of one drive. Raises KeyError for one that is not there."""
    for case in assemble(build, catalogue):
        if case.model.id == drive_id:
            return case
    raise KeyError(drive_id)


def reserve_of(build: Build, drive_id: str, catalogue: Catalogue) -> GripResult | None:
    """What one drive has in hand; None where that cannot be said."""
    case = case_of(build, drive_id, catalogue)
    if case.drive is None:
        return None
    (solved,) = solve_states([case], (), catalogue.limits)
    return grip_of(solved, least_scale(solved))


def judged(build: Build, drive_id: str, catalogue: Catalogue) -> tuple[Finding, ...]:
    """The findings of one drive, over all revs; gaps to what is in the way are not looked for."""
    case = case_of(build, drive_id, catalogue)
    speech = Speech(case, build.display_units)
    if case.drive is None:
        return unsolvable_findings(case, speech)
    (solved,) = solve_states([case], (), catalogue.limits)
    return findings_of(solved, catalogue, speech)
