"""The verb survey: where shafts are by what was measured, and how well."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import Parser, as_json, own_catalogue, read_to_compute, show


def survey_verb(arguments: Sequence[str]) -> int:
    """Adjust the readings of a build's survey. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack survey",
        description="Where shafts are by the readings of a build's survey, which reading does not fit,"
        " and which one to take next.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    parser.add_argument(
        "--take", metavar="OUT.jtack", type=Path, help="write the build with its shafts moved there"
    )
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.drive.surveyed import surveyed
    from jovial_tack.answers.survey.taking import taken
    from jovial_tack.answers.survey.told import tell_survey
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.files.build_file import write_build
    from jovial_tack.files.survey_json import survey_json
    from jovial_tack.verbs.tables.survey import survey_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    found = surveyed(build, catalogue)
    if found is None or not build.survey.readings:
        raise GeometryError(f"{asked.build.name}: it has no survey; readings go under “survey”")
    told = tell_survey(build, catalogue, found)
    show(as_json(survey_json(told)) if asked.json else survey_table(build, told))
    if asked.take is not None:
        write_build(taken(build, found), asked.take)
    unused = any(reading.problem for reading in told.readings)
    return 1 if told.suspects or unused or not told.shafts else 0
