"""The verb faults: why a drive is noisy or wears."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    as_json,
    drive_named,
    own_catalogue,
    read_to_compute,
    show,
)
from jovial_tack.verbs.figures import engine_speed

if TYPE_CHECKING:
    from jovial_tack.catalogue import Catalogue
    from jovial_tack.document.model import Build


def faults_verb(arguments: Sequence[str]) -> int:
    """Tell likely causes of a build's symptoms, and what to look at next. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack faults",
        description="Likely causes of what is seen of each drive (“symptoms” of the build), weighed"
        " with what the layout computed; and what to look at next.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--drive", help="one drive only")
    parser.add_argument(
        "--code",
        action="append",
        default=[],
        help="a code of the engine, such as P0562; repeatable",
    )
    parser.add_argument(
        "--sound", type=Path, metavar="FILE.wav", help="a recording of the noise at steady revs"
    )
    parser.add_argument("--rpm", type=engine_speed, help="the engine's revs in the recording")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.advice import advised
    from jovial_tack.answers.drive.solve import solve_again
    from jovial_tack.answers.fit_up.faults import diagnose
    from jovial_tack.answers.fit_up.squeal import squeal_of, taken_as_evidence
    from jovial_tack.files.faults_json import faults_json
    from jovial_tack.files.wav import read_wav
    from jovial_tack.verbs.tables.faults import faults_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    names = [drive.id for drive in build.drives]
    if asked.drive is not None:
        names = [drive_named(build, asked.drive, asked.build.name)]
    solution = solve_again(build, None, catalogue, None)
    results, _ = advised(build, solution, catalogue)
    for code in asked.code:
        build = _with_code(build, names, code, catalogue)
    heard = []
    if asked.sound is not None:
        if asked.rpm is None:
            raise UsageError("--sound needs --rpm, the engine's revs in the recording")
        samples, rate = read_wav(asked.sound)
        for name in names:
            heard.append(squeal_of(build, results.drive(name), samples, rate, asked.rpm))
            build = taken_as_evidence(build, heard[-1])
    told = [diagnose(build, results.drive(name), catalogue) for name in names]
    if asked.json:
        show(as_json(faults_json(told, heard)))
    else:
        show(faults_table(build, catalogue, told, heard))
    return 0 if told else 1


def _with_code(build: Build, names: Sequence[str], code: str, catalogue: Catalogue) -> Build:
    """The build with what a code stands for told as seen. Raises UsageError for one of no belt."""
    from jovial_tack.answers.fit_up.faults import code_says
    from jovial_tack.document.edits.symptoms import set_finding

    said = code_says(catalogue, code)
    if not said.findings:
        known = sorted({each for f in catalogue.faults.findings.values() for each in f.codes})
        raise UsageError(f"the code {said.code} says nothing of a belt; known: {', '.join(known)}")
    for finding in said.findings:
        for name in names:
            build = set_finding(build, name, finding, True)
    return build
