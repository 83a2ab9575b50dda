"""The verb cases: a drive in every situation, over all revs."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    as_json,
    drive_named,
    own_catalogue,
    read_to_compute,
    show,
)


def cases_verb(arguments: Sequence[str]) -> int:
    """Tell how a drive holds in every situation. Returns the exit status: 1 if it slips as it is."""
    parser = Parser(
        prog="jovial-tack cases",
        description="A drive in every situation over all revs: load cases, wet, oily, glazed, worn"
        " spring, hot, belt run in, revving up and shifting. The worst first.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--drive", metavar="ID", help="the first one if none is named")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.grip.situation_words import situation_words, worst_words
    from jovial_tack.answers.grip.situations import situations_of
    from jovial_tack.core.words import capital, sentence
    from jovial_tack.files.situations_json import situations_json

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    drive_id = drive_named(build, asked.drive, asked.build.name)
    told = situations_of(build, drive_id, catalogue)
    if told is None:
        label = build.drive(drive_id).label
        raise UsageError(f"{asked.build.name}: {label} is not decided yet, or nothing turns it")
    if asked.json:
        show(as_json(situations_json(build, told)))
    else:
        lines = [sentence(capital(worst_words(build, told))), ""]
        for one in told.each:
            guess = " (usual figures)" if one.usual else ""
            lines.append(f"{capital(one.label)}{guess}: {situation_words(build, drive_id, one)}")
        show("\n".join(lines))
    return 1 if told.each[0].slips else 0
