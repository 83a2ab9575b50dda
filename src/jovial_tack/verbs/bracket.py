"""The verb bracket: plates checked, and written for the cutter and for paper."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    as_json,
    output,
    own_catalogue,
    read_to_compute,
    show,
)
from jovial_tack.verbs.figures import length, printed


def bracket_verb(arguments: Sequence[str]) -> int:
    """Tell of the bracket plates of a build, and write one as a file. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack bracket",
        description="The bracket plates of a build: edges, webs, what they meet, mass; and a plate as"
        " DXF for a cutter, as SVG, or 1:1 on paper.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--plate", metavar="ID", help="only this one")
    parser.add_argument("--dxf", metavar="OUT.dxf", type=output, help="for the cutter, mm, 1:1")
    parser.add_argument("--svg", metavar="OUT.svg", type=output, help="for a drawing program, 1:1")
    parser.add_argument("--pdf", metavar="OUT.pdf", type=output, help="for paper, 1:1")
    parser.add_argument("--paper", choices=("a4", "letter"), default="a4")
    parser.add_argument(
        "--printed",
        metavar="ACROSS,UPRIGHT",
        type=printed,
        default=(100.0, 100.0),
        help="what the two scales of 100 mm read on an earlier print, to correct the printer",
    )
    parser.add_argument(
        "--kerf", metavar="MM", type=length, help="width of the cut that DXF and SVG make good"
    )
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)
    return _bracket(asked)


def _bracket(asked: argparse.Namespace) -> int:
    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.line_up.plate_told import told_plates
    from jovial_tack.files.bracket_json import bracket_json
    from jovial_tack.files.plates.drawing import plate_drawing
    from jovial_tack.files.plates.pdf import sheets_of
    from jovial_tack.files.plates.writing import write_plate
    from jovial_tack.verbs.tables.bracket import bracket_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    file = asked.build.name
    plates = [plate for plate in build.plates if asked.plate in (None, plate.id, plate.label)]
    outputs = {kind: getattr(asked, kind) for kind in ("dxf", "svg", "pdf")}
    wanted = {kind: path for kind, path in outputs.items() if path is not None}
    if not plates and (wanted or asked.plate is not None):
        known = ", ".join(plate.id for plate in build.plates) or "none; it goes under “plates”"
        which = "bracket plate" if asked.plate is None else f"bracket plate “{asked.plate}”"
        raise UsageError(f"{file}: there is no {which} in it; there are {known}")
    if wanted and len(plates) > 1:
        ids = ", ".join(plate.id for plate in plates)
        raise UsageError(f"{file}: one plate goes into one file; say which by --plate ({ids})")
    results = solve(build, None, catalogue)
    found = {plate.id: plate for plate in told_plates(build, results, catalogue)}
    told = []
    for plate in plates:
        drawing = plate_drawing(build, plate, found[plate.id])
        tiles = None if drawing is None else sheets_of(drawing, asked.paper, asked.printed)
        told.append((plate, found[plate.id], tiles))
    for kind, path in wanted.items():
        write_plate(
            build,
            plates[0],
            found[plates[0].id],
            path,
            kind,
            paper=asked.paper,
            printed=asked.printed,
            kerf_mm=asked.kerf or 0.0,
            saved_as=asked.build,
        )
    show(as_json(bracket_json(build, told)) if asked.json else bracket_table(build, told))
    stops = (f.level == "stop" for _, result, _ in told for f in result.findings)
    return 1 if any(stops) else 0
