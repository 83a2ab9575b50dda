"""The verb loads: what belts do to their parts."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import Parser, as_json, own_catalogue, read_to_compute, show


def loads_verb(arguments: Sequence[str]) -> int:
    """Tell pulls on shafts over the revs, moments, bends and life. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack loads",
        description="What all belts pull at each shaft over the revs, against bearings' limits; bends,"
        " longest span and life (against another build) of every belt.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--against", metavar="OTHER.jtack", type=Path, help="to tell life by")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.drive.solved import shown_speeds
    from jovial_tack.answers.grip.loads import belt_uses, pulls_of
    from jovial_tack.answers.grip.loads_words import pulls_words, use_words
    from jovial_tack.files.loads_json import loads_json

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    before = None
    if asked.against is not None:
        other = read_to_compute(asked.against, catalogue).build
        before = (other, solve(other, shown_speeds(other.engine), catalogue))
    results = solve(build, shown_speeds(build.engine), catalogue)
    pulls, uses = pulls_of(build, results), belt_uses(build, results, catalogue, before)
    if asked.json:
        show(as_json(loads_json(pulls, uses)))
        return 0
    lines = [f"{build.shaft(one.shaft).label}: {pulls_words(build, one)}" for one in pulls]
    lines += [f"{build.drive(use.drive).label}: {use_words(build, use)}" for use in uses]
    show("\n".join(lines) if lines else "no belt is taut yet")
    return 0
