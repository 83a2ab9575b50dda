"""The verb sheet: the build sheet for the file, in PDF."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from pathlib import Path

from jovial_tack.verbs.arguments import Parser, day, output, own_catalogue, read_to_compute, show


def sheet_verb(arguments: Sequence[str]) -> int:
    """Write the build sheet. Returns the exit status: what is wrong with a build never makes it 1."""
    parser = Parser(
        prog="jovial-tack sheet",
        description="The build on one page for the file: routing, verdicts, belts with their marks,"
        " what is due; or the whole of it. The same build makes the same file.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--pdf", metavar="OUT.pdf", type=output, required=True)
    parser.add_argument("--paper", choices=("a4", "letter"), default="a4")
    parser.add_argument("--whole", action="store_true", help="all of it, not the first page alone")
    parser.add_argument(
        "--on", metavar="DATE", type=day, help="the day what is due is told for; today"
    )
    asked = parser.parse_args(arguments)

    from jovial_tack.files.paper.build_sheet import sheet_of, write_sheet

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    told = sheet_of(build, catalogue, asked.on or date.today())
    write_sheet(told, asked.pdf, asked.build, asked.paper, whole=asked.whole)
    show(f"written to {asked.pdf.name}")
    return 0
