"""The verb fitup: the order of work on the engine."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import Parser, as_json, read_to_compute, show


def fitup_verb(arguments: Sequence[str]) -> int:
    """Tell the steps in order. Returns the exit status: 1 where some wait for one another."""
    parser = Parser(
        prog="jovial-tack fitup",
        description="The steps of putting a build on its engine, in order, with what is done and what"
        " is to be done again since the build was changed.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.fit_up.steps import steps_of
    from jovial_tack.files.fitup_json import fitup_json
    from jovial_tack.files.own_data import own_catalogue
    from jovial_tack.verbs.tables.fitup import fitup_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    steps = steps_of(build, solve(build, None, catalogue), catalogue)
    show(as_json(fitup_json(steps)) if asked.json else fitup_table(build, steps))
    return 1 if steps.loops else 0
