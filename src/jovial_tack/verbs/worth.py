"""The verb worth: what every change of a drive wins, and what it costs."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import (
    Parser,
    as_json,
    drive_named,
    own_catalogue,
    read_to_compute,
    show,
)


def worth_verb(arguments: Sequence[str]) -> int:
    """Tell what every change of a drive is worth. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack worth",
        description="What every change of a drive wins in reserve, each solved over all revs, and what"
        " it costs: pulls, tension, parts. The most won first; what makes a stop last.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--drive", metavar="ID", help="the first one if none is named")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.mending.worth import reserve_of, worth_of
    from jovial_tack.answers.mending.worth_words import cost_words, nothing_words, won_words
    from jovial_tack.core.words import capital
    from jovial_tack.files.worth_json import worth_json

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    drive_id = drive_named(build, asked.drive, asked.build.name)
    factor = reserve_of(build, drive_id, catalogue)
    worths = worth_of(build, drive_id, catalogue) if factor is not None else ()
    if asked.json:
        show(as_json(worth_json(drive_id, factor, worths)))
        return 0
    lines = [nothing_words(build, drive_id, factor, worths)]
    for one in worths:
        lines += [f"{capital(one.words)}: {won_words(one)}", f"  {cost_words(build, one)}"]
    show("\n".join(lines))
    return 0
