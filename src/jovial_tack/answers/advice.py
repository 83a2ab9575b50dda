"""What is worth doing about a build that is solved: belts to order, mends, and the four verdicts."""

from __future__ import annotations

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.solve import Solution
from jovial_tack.answers.mending import mended, mends_of
from jovial_tack.answers.results import Results
from jovial_tack.answers.verdicts import Verdict, verdicts
from jovial_tack.catalogue import Catalogue
from jovial_tack.document.model import Build


def advised(
    build: Build, solution: Solution, catalogue: Catalogue
) -> tuple[Results, tuple[Verdict, Verdict, Verdict, Verdict]]:
    """The results with the mends of their findings, and the four verdicts."""
    orders = belts_to_order(build, catalogue)
    results = mended(
        solution.results, mends_of(build, catalogue, solution, orders), build.display_units
    )
    return results, verdicts(build, results, orders, catalogue)
