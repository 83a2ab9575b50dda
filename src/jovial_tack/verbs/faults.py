"""The verb faults: why a drive is noisy or wears."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import Parser, as_json, drive_named, read_to_compute, show


def faults_verb(arguments: Sequence[str]) -> int:
    """Tell likely causes of a build's symptoms, and what to look at next. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack faults",
        description="Likely causes of what is seen of each drive (“symptoms” of the build), weighed"
        " with what the layout computed; and what to look at next.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--drive", help="one drive only")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.advice import advised
    from jovial_tack.answers.drive.solve import solve_again
    from jovial_tack.answers.fit_up.faults import diagnose
    from jovial_tack.files.faults_json import faults_json
    from jovial_tack.files.own_data import own_catalogue
    from jovial_tack.verbs.tables.faults import faults_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    names = [drive.id for drive in build.drives]
    if asked.drive is not None:
        names = [drive_named(build, asked.drive, asked.build.name)]
    solution = solve_again(build, None, catalogue, None)
    results, _ = advised(build, solution, catalogue)
    told = [diagnose(build, results.drive(name), catalogue) for name in names]
    show(as_json(faults_json(told)) if asked.json else faults_table(build, catalogue, told))
    return 0 if told else 1
