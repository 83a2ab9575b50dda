"""The verb solve: the figures of a build."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import (
    Parser,
    as_json,
    own_catalogue,
    read_to_compute,
    show,
    take_remarks,
)
from jovial_tack.verbs.figures import speeds


def solve_verb(arguments: Sequence[str]) -> int:
    """Print the figures of a build. Returns the exit status."""
    parser = Parser(prog="jovial-tack solve", description="Print the figures of a build.")
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--json", action="store_true", help="results as JSON")
    parser.add_argument(
        "--rpm", type=speeds, help="engine speeds, such as 850,2600,6800 (idle, cruise, redline)"
    )
    parser.add_argument(
        "--bare", action="store_true", help="figures and findings only: no belts to order, no mends"
    )
    parser.add_argument(
        "--case", metavar="ID", help="look at a load case, such as steering_at_lock"
    )
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.drive.solve import solve_again
    from jovial_tack.document.edits.loads import look_at
    from jovial_tack.document.loading import check_names
    from jovial_tack.files.results_json import results_json, verdict_json
    from jovial_tack.verbs.tables.results import results_table

    catalogue = own_catalogue()
    loaded = read_to_compute(asked.build, catalogue)
    build = loaded.build
    if asked.case is not None:
        build = look_at(build, asked.case)
        check_names(build, catalogue)
    solution = solve_again(build, asked.rpm, catalogue, None)
    results, judged = solution.results, None
    if not asked.bare:
        from jovial_tack.answers.advice import advised

        results, judged = advised(build, solution, catalogue)
    if asked.json:
        verdicts = {} if judged is None else {"verdicts": [verdict_json(v) for v in judged]}
        show(as_json(results_json(results) | verdicts))
    else:
        show(results_table(build, results, take_remarks(), judged or ()))
    return 1 if results.stops else 0
