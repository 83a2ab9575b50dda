"""The verbs plan and boost: speeds of shafts, and what a blower makes."""

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
from jovial_tack.verbs.figures import boost, speeds


def plan_verb(arguments: Sequence[str]) -> int:
    """Print the speeds of every shaft. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack plan", description="Speeds of every shaft, and their margins."
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--underdrive", metavar="DRIVE", help="smaller crank pulleys of a drive")
    parser.add_argument("--json", action="store_true", help="the plan as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.ratios.rev_plan import rev_plan
    from jovial_tack.answers.ratios.underdrive import underdrives
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.files.ratios_json import planned_shaft_json, underdrive_json
    from jovial_tack.verbs.tables.ratios import plan_table, underdrive_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    plan = rev_plan(build, catalogue)
    values: dict[str, object] = {"shafts": [planned_shaft_json(shaft) for shaft in plan]}
    text = plan_table(plan)
    if asked.underdrive is not None:
        drive = drive_named(build, asked.underdrive, asked.build.name)
        try:
            steps = underdrives(build, drive, catalogue)
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
        values["underdrive"] = [underdrive_json(step) for step in steps]
        text += "\n\n" + underdrive_table(steps, build.display_units)
    show(as_json(values) if asked.json else text)
    return 1 if any(shaft.margin is not None and shaft.margin < 0 for shaft in plan) else 0


def boost_verb(arguments: Sequence[str]) -> int:
    """Print boost over the revs, or pulleys. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack boost", description="Boost over the revs, or pulleys for one."
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--rpm", type=speeds, help="engine speeds (idle, cruise, redline)")
    parser.add_argument(
        "--target",
        "--target-kpa",
        type=boost,
        dest="target_kpa",
        metavar="BOOST",
        help="find pulleys that make this boost, such as 55 (kPa) or 8psi",
    )
    parser.add_argument("--pulleys", action="store_true", help="what pulleys at hand make")
    parser.add_argument("--at", type=speeds, metavar="RPM", help="at this engine speed (redline)")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)
    if asked.target_kpa is not None and asked.pulleys:
        raise UsageError("--target and --pulleys are two questions; ask one")
    wishes = asked.target_kpa is not None or asked.pulleys
    if asked.at is not None and (not wishes or len(asked.at) != 1):
        raise UsageError("--at takes one engine speed, together with --target or --pulleys")

    from jovial_tack.answers.ratios.charge import boost_at, charge_json, charged_drive
    from jovial_tack.answers.ratios.map import operating_line
    from jovial_tack.answers.ratios.pulleys import pulleys_at_hand, pulleys_for
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.files.ratios_json import pulley_pair_json
    from jovial_tack.verbs.tables.ratios import boost_table, pulleys_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    try:
        if not wishes:
            charge = boost_at(build, catalogue, asked.rpm)
            on_map = operating_line(
                build, charged_drive(build, catalogue), charge.engine_rpm.tolist()
            )
            show(
                as_json(charge_json(charge, on_map))
                if asked.json
                else boost_table(charge, on_map, build.display_units)
            )
            return 0
        at = asked.at[0] if asked.at else build.engine.redline_rpm
        if asked.pulleys:
            pairs = pulleys_at_hand(build, catalogue, at)
        else:
            pairs = pulleys_for(build, catalogue, asked.target_kpa, at)
    except GeometryError as error:
        raise UsageError(f"{asked.build.name}: {error}") from None
    if asked.json:
        show(as_json({"pulleys": [pulley_pair_json(pair) for pair in pairs]}))
    else:
        show(pulleys_table(pairs, build.display_units))
    return 1 if all(pair.problem for pair in pairs) else 0
