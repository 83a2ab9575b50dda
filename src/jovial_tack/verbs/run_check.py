"""The verb log: full-throttle pulls in a log, and slip in them."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    as_json,
    own_catalogue,
    read_to_compute,
    show,
)
from jovial_tack.verbs.figures import air

if TYPE_CHECKING:
    from jovial_tack.answers.drive.case import SolvableCase
    from jovial_tack.answers.run_check.judging import CheckedPull, RunCheck
    from jovial_tack.core.run_check.pulls import Compared
    from jovial_tack.files.logs import LoadedLog


def log_verb(arguments: Sequence[str]) -> int:
    """Find pulls in a log, and slip in them. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack log",
        description="Find full-throttle pulls in a log, and whether the blower's belt slips in them.",
    )
    parser.add_argument("log", metavar="LOG.csv", type=Path)
    parser.add_argument(
        "--build", metavar="BUILD.jtack", type=Path, help="the build it was run with"
    )
    parser.add_argument(
        "--drive", metavar="ID", help="the blower's drive (the first with a blower)"
    )
    parser.add_argument(
        "--columns",
        default="",
        metavar="ROLE=NAME,…",
        help="columns by head or number: time, rpm, boost, blower_rpm, throttle, baro,"
        " before_blower, after_blower, before_throttle, bypass, intake, discharge, gear, speed, knock,"
        " lambda; with a unit as in boost=MAP@psi-absolute",
    )
    parser.add_argument(
        "--air",
        "--air-kpa",
        type=air,
        dest="air_kpa",
        metavar="AIR",
        help="the air's pressure where it is not logged, or the elevation: 98.2kPa, 1600m, 5250ft",
    )
    parser.add_argument(
        "--compare",
        metavar="LOG2.csv",
        type=Path,
        help="a log after a change: what it makes more or less, in the same air where it is known",
    )
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)
    if asked.drive is not None and asked.build is None:
        raise UsageError("--drive names a drive of a build; give --build too")

    from jovial_tack.answers.run_check.comparing import bought
    from jovial_tack.core.errors import LogError
    from jovial_tack.core.units import PRESSURE
    from jovial_tack.files.run_check_json import compared_json
    from jovial_tack.verbs.tables.run_check import run_check_table

    try:
        loaded, checked, case, system = _check_log(asked)
    except LogError as error:
        if asked.json:
            show(as_json({"answer": None, "pulls": [], "problem": str(error), "remarks": []}))
        raise
    compared = None if asked.compare is None else _compared(asked, checked)
    if asked.json:
        values = _as_values(loaded, checked, case)
        show(
            as_json(values if compared is None else values | {"compared": compared_json(compared)})
        )
    else:
        show(run_check_table(asked.log.name, loaded.remarks, checked, system))
        if compared is not None:
            show(f"\n{asked.compare.name}: {bought(compared, PRESSURE.shown(system))}")
    return 1 if checked.slips or checked.answer is None else 0


def _compared(asked: argparse.Namespace, before: RunCheck) -> Compared:
    """The second log against the first. Raises LogError where one has no pull to compare."""
    from jovial_tack.answers.run_check.judging import check_run
    from jovial_tack.core.errors import LogError
    from jovial_tack.core.run_check.pulls import at_equal_revs
    from jovial_tack.files.logs import read_log, survey_log, with_named

    layout = survey_log(asked.compare)
    channels = with_named(layout.channels, layout.heads, layout.units, asked.columns)
    after = check_run(read_log(layout, channels, asked.air_kpa).log)
    if before.answer is None or after.answer is None:
        raise LogError("there is no pull to compare in one of the logs")
    found = at_equal_revs(before.answer.pull, after.answer.pull)
    if found is None:
        raise LogError("the pulls of the two logs share no engine speeds with boost")
    return found


def _as_values(
    loaded: LoadedLog, checked: RunCheck, case: SolvableCase | None
) -> dict[str, object]:
    """What --json prints."""
    from jovial_tack.answers.run_check.calibrating import known_point
    from jovial_tack.files.run_check_json import checked_pull_json, moment_json

    def said(pull: CheckedPull) -> dict[str, object]:
        told = checked_pull_json(pull)
        if case is not None:
            told["known_point"] = known_point(pull.pull, case, loaded.log.air_kpa)
        return told

    return {
        "answer": None if checked.answer is None else said(checked.answer),
        "pulls": [said(pull) for pull in checked.pulls],
        "moments": [moment_json(moment) for moment in checked.moments],
        "problem": checked.problem,
        "remarks": list(loaded.remarks),
    }


def _check_log(asked: argparse.Namespace) -> tuple[LoadedLog, RunCheck, SolvableCase | None, str]:
    from jovial_tack.answers.run_check.judging import blower_drive, check_run, drive_case
    from jovial_tack.files.logs import read_log, survey_log, with_named

    case, system = None, "mm"
    if asked.build is not None:
        catalogue = own_catalogue()
        build = read_to_compute(asked.build, catalogue).build
        system = build.display_units
        drive = asked.drive or blower_drive(build)
        case = None if drive is None else drive_case(build, drive, catalogue)
    layout = survey_log(asked.log)
    channels = with_named(layout.channels, layout.heads, layout.units, asked.columns)
    loaded = read_log(layout, channels, asked.air_kpa)
    if loaded.channels["boost"].unit == "psi":
        system = "in"
    return loaded, check_run(loaded.log, case), case, system
