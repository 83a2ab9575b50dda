"""The verb fitup: the order of work on the engine."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    as_json,
    drive_named,
    output,
    own_catalogue,
    read_to_compute,
    show,
)
from jovial_tack.verbs.figures import degrees, share, tone

if TYPE_CHECKING:
    from jovial_tack.answers.fit_up.hypotheses import Reads
    from jovial_tack.document.model import Build


def fitup_verb(arguments: Sequence[str]) -> int:
    """Tell the steps in order. Returns the exit status: 1 where some wait for one another."""
    parser = Parser(
        prog="jovial-tack fitup",
        description="The steps of putting a build on its engine, in order, with what is done and what"
        " is to be done again since the build was changed.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument(
        "--seen",
        metavar="DRIVE:arm_deg=81,tone_hz=140",
        action="append",
        default=[],
        help="what is seen at rest: arm_deg or travel (a share), tone_hz; what may be wrong is told",
    )
    parser.add_argument(
        "--picture",
        metavar="OUT.svg|OUT.pdf",
        type=output,
        help="draw the routing, for the bay: 90 x 70 mm in full size",
    )
    parser.add_argument(
        "--pdf", metavar="OUT.pdf", type=output, help="the steps on paper, with boxes"
    )
    parser.add_argument("--paper", choices=("a4", "letter"), default="a4")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.fit_up.compare import compared
    from jovial_tack.answers.fit_up.explaining import dialogue_of
    from jovial_tack.answers.fit_up.steps import steps_of
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.drawing.routing import routing_picture
    from jovial_tack.files.fitup_json import fitup_json
    from jovial_tack.files.paper.fitup_sheet import write_fitup
    from jovial_tack.files.routing import write_routing
    from jovial_tack.verbs.tables.fitup import fitup_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    results = solve(build, None, catalogue)
    steps = steps_of(build, results, catalogue)
    if asked.picture is not None:
        try:
            write_routing(routing_picture(build, results, catalogue), asked.picture)
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
    if asked.pdf is not None:
        write_fitup(build, steps, results, catalogue, asked.pdf, asked.build, asked.paper)
    told = []
    for text in asked.seen:
        name, seen = _seen(text, build, asked.build.name)
        figures = compared(build, results.drive(name))
        if figures is None or figures.span is None:
            raise UsageError(f"{asked.build.name}: {name} does not come to rest as it is laid out")
        try:
            told.append((name, dialogue_of(build, name, figures.span, seen, catalogue)))
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
    show(as_json(fitup_json(steps, told)) if asked.json else fitup_table(build, steps, told))
    return 1 if steps.loops else 0


_KEYS = {"arm_deg": degrees, "travel": share, "tone_hz": tone}


def _seen(text: str, build: Build, file: str) -> tuple[str, Reads]:
    """What was seen of which drive. Raises UsageError for what cannot be read."""
    from jovial_tack.answers.fit_up.hypotheses import Reads

    name, _, figures = text.partition(":")
    drive = drive_named(build, name, file)
    read: dict[str, float] = {}
    for part in figures.split(","):
        key, _, value = part.partition("=")
        if key.strip() not in _KEYS:
            raise UsageError(
                f"--seen {text}: {', '.join(_KEYS)}, such as acc:arm_deg=81,tone_hz=140"
            )
        try:
            read[key.strip()] = _KEYS[key.strip()](value)
        except argparse.ArgumentTypeError as error:
            raise UsageError(f"--seen {key.strip()}: {error}") from None
    return drive, Reads(read.get("arm_deg", read.get("travel")), read.get("tone_hz"))
