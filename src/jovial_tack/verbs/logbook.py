"""The verb logbook: what is due, what lasted, what wore, what it cost; events as a table."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from pathlib import Path

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    as_json,
    day,
    output,
    own_catalogue,
    read_to_compute,
    show,
)


def logbook_verb(arguments: Sequence[str]) -> int:
    """Read a build's logbook through. Returns the exit status: what is due never makes it 1."""
    parser = Parser(
        prog="jovial-tack logbook",
        description="What of a build is due by use or time, how long its belts lasted, how far they are"
        " worn, what tension they kept, and what it all cost. Events out and in as a table.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument(
        "--on", metavar="DATE", type=day, help="the day it is read on, such as 2026-11-27; today"
    )
    parser.add_argument("--csv", metavar="OUT.csv", type=output, help="write the events as a table")
    parser.add_argument(
        "--import", dest="table", metavar="IN.csv", type=Path, help="enter the events of a table"
    )
    parser.add_argument("-o", "--out", metavar="OUT.jtack", type=Path, help="the build with them")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)
    if (asked.table is None) != (asked.out is None):
        raise UsageError("--import IN.csv and -o OUT.jtack belong together")

    from jovial_tack.answers.logbook.told import logbook_told
    from jovial_tack.files.attachments import attachment_findings
    from jovial_tack.files.build_file import write_build
    from jovial_tack.files.logbook_csv import read_logbook, write_logbook
    from jovial_tack.files.logbook_json import logbook_json
    from jovial_tack.verbs.tables.logbook import imported_table, logbook_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    if asked.table is not None:
        imported = read_logbook(build, asked.table)
        build = imported.build
        write_build(build, asked.out)
        if not asked.json:
            show(imported_table(imported, asked.out.name))
    if asked.csv is not None:
        write_logbook(build, asked.csv)
    told = logbook_told(build, catalogue, asked.on or date.today())
    files = tuple(attachment_findings(build, asked.build))
    show(as_json(logbook_json(told, files)) if asked.json else logbook_table(build, told, files))
    return 0
