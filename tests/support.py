"""Reference cases and the demo build, as data and as builds."""

from __future__ import annotations

import copy
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.judging import solvable_case
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.edits.brackets import add_bracket
from jovial_tack.document.edits.freedoms import set_freedom, set_mount
from jovial_tack.document.edits.notes import add_note
from jovial_tack.document.edits.obstacles import add_obstacle, set_obstacle
from jovial_tack.document.edits.plates import add_cut, add_leg, usual_cut
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.edits.shelf import KINDS, add_part, set_part, shelve_pulley
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build
from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    BeltAt,
    BossAt,
    BracketAt,
    CutAt,
    NoteAt,
    ObstacleAt,
    PartAt,
    PlateAt,
    PulleyAt,
    ShaftAt,
    SpanAt,
    Target,
)

CASES = {path.stem: path for path in sorted((Path(__file__).parent / "data/cases").glob("*.json"))}
DEMO = Path(__file__).parents[1] / "src/jovial_tack/data/demo/tessary-fen.jtack"


def read_case(name: str) -> dict[str, Any]:
    case: dict[str, Any] = json.loads(CASES[name].read_text("utf-8"))
    return case


def built(data: dict[str, Any]) -> Build:
    return build_from_json(copy.deepcopy(data), load_catalogue())[0]


def furnished() -> Build:
    """The demo with one of everything that can be added to a build."""
    build = built(json.loads(DEMO.read_text("utf-8")))
    build = set_mount(build, "idler", "holes")
    build = set_mount(set_mount(build, "pump", "slot"), "alternator", "swing")
    build = set_freedom(
        set_freedom(build, "pump", screw_pitch_mm=1.5), "alternator", screw_pitch_mm=2.0
    )
    build, _ = add_bracket(build, "steering")
    build, body = add_obstacle(build, load_catalogue(), "body")
    build = set_obstacle(build, body, moves_with="alternator")
    build = set_arm(build, "blower", wrench_mm=400.0, notches_deg=(0.0, 8.0), notch=1)
    build = set_shaft(build, "crank", bearing_mm=-12.0, hub_moment_limit_nm=20.0, face_mm=5.0)
    build = set_shaft(build, "pump", nose_bolt_circle=(4, 50.0), nose_pilot_mm=19.0)
    build, pulley = shelve_pulley(build, "blower", "blower")
    build = set_part(build, pulley, bolt_circle=(4, 50.0), pilot_mm=18.0, offset_mm=3.0)
    for kind in KINDS:
        build, _ = add_part(build, kind)
    build, _ = add_part(build, "tensioner", arm_mm=80.0, readings=((5.0, 250.0), (15.0, 300.0)))
    for kind in ("slot", "arc"):
        build, _ = add_cut(build, "plate", usual_cut(kind, (250.0, 20.0)))
    build, _ = add_leg(build, "plate", 30.0)
    return add_note(build)[0]


def with_own_loads(build: Build) -> Build:
    """The build with the loads usual for the kinds of its shafts typed as the shafts' own."""
    kinds = load_catalogue().kinds
    for shaft in build.shafts:
        usual = kinds[shaft.kind].load
        if usual is not None and shaft.load is None:
            build = set_shaft(build, shaft.id, load=dict(usual))
    return build


def targets(build: Build) -> Iterator[Target]:
    """Everything of a build that may have a card; of bosses one, of what is cut one of each kind."""
    yield NOTHING
    yield from (ShaftAt(shaft.id) for shaft in build.shafts)
    yield from (ObstacleAt(outline.id) for outline in build.obstacles)
    yield from (NoteAt(note.id) for note in build.pinned_notes)
    yield from (BracketAt(bracket.id) for bracket in build.brackets)
    yield from (PartAt(part.id) for part in build.shelf)
    yield from (BossAt(boss.id) for boss in build.bosses[-1:])
    kinds: set[str] = set()
    for plate in build.plates:
        yield PlateAt(plate.id)
        for cut in plate.features:
            if cut.type not in kinds:
                kinds.add(cut.type)
                yield CutAt(plate.id, cut.id)
    for drive in build.drives:
        yield from (BeltAt(drive.id), ArmAt(drive.id))
        yield from (PulleyAt(drive.id, pulley.id) for pulley in drive.pulleys)
        yield from (SpanAt(drive.id, name) for name in drive.route)


def solvable(build: Build, drive_id: str | None = None) -> SolvableCase:
    """The case of a drive that can be solved; of the first without an id."""
    return solvable_case(build, drive_id or build.drives[0].id, load_catalogue())
