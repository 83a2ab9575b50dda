"""The verb lineup: how a build lines up, and the pieces, bolts and moves that make it."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import Parser, as_json, own_catalogue, read_to_compute, show


def lineup_verb(arguments: Sequence[str]) -> int:
    """Tell how the belts of a build line up. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack lineup",
        description="How the belts of a build line up: where each pulley may stand, the fewest things"
        " to move, the pieces each ear needs, its bolt, and what readings tell of planes and tilts.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    parser.add_argument(
        "--anew", action="store_true", help="choose all pieces from the shelf again"
    )
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.line_up.told import tell_line_up
    from jovial_tack.files.lineup_json import lineup_json
    from jovial_tack.verbs.tables.lineup import lineup_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    results = solve(build, None, catalogue)
    anew = {stack.shaft for stack in build.stacks} if asked.anew else set()
    told = tell_line_up(build, results, catalogue, anew)
    show(as_json(lineup_json(build, told)) if asked.json else lineup_table(build, told))
    return 1 if any(finding.level == "stop" for finding in told.findings) else 0
