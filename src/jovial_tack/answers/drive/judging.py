"""What is wrong with one drive over all revs, without the searches for its reserve.

For whatever tries many builds: belts along a window, mends, pulleys. It asks the same code as the
deep solve, so that what is found here is what is said there.
"""

from __future__ import annotations

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import Case, SolvableCase, UnsolvableCase
from jovial_tack.answers.drive.findings import findings_of, unsolvable_findings
from jovial_tack.answers.drive.reserve import grip_of, least_scale
from jovial_tack.answers.drive.solved import solve_states
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.results import Finding, GripResult
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.document.model import Build


def case_of(build: Build, drive_id: str, catalogue: Catalogue) -> Case:
    """The case of one drive. Raises KeyError for one that is not there."""
    for case in assemble(build, catalogue):
        if case.model.id == drive_id:
            return case
    raise KeyError(drive_id)


def solvable_case(build: Build, drive_id: str, catalogue: Catalogue) -> SolvableCase:
    """The case of one drive that can be solved. Raises GeometryError where nothing turns it, and
    KeyError for one that is not there.
    """
    case = case_of(build, drive_id, catalogue)
    if not isinstance(case, SolvableCase):
        raise GeometryError("nothing turns this drive, so no belt can be chosen for it")
    return case


def reserve_of(build: Build, drive_id: str, catalogue: Catalogue) -> GripResult | None:
    """What one drive has in hand; None where that cannot be said."""
    case = case_of(build, drive_id, catalogue)
    if not isinstance(case, SolvableCase):
        return None
    (solved,) = solve_states([case], (), catalogue.limits)
    return grip_of(solved, least_scale(solved))


def judged(build: Build, drive_id: str, catalogue: Catalogue) -> tuple[Finding, ...]:
    """The findings of one drive, over all revs; gaps to what is in the way are not looked for."""
    case = case_of(build, drive_id, catalogue)
    speech = Speech(case, build.display_units)
    if isinstance(case, UnsolvableCase):
        return unsolvable_findings(case, speech)
    assert isinstance(case, SolvableCase)
    (solved,) = solve_states([case], (), catalogue.limits)
    return findings_of(solved, catalogue, speech)
