"""A build lined up: what is told is solved, on the command line and as JSON."""

from __future__ import annotations

import json
from typing import Any

import pytest

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.line_up.read import read_planes, simulated_laser, taken_over
from jovial_tack.answers.line_up.told import tell_line_up, unit_of, with_pieces
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.document.edits.pulleys import set_plane
from jovial_tack.document.edits.shelf import set_part
from jovial_tack.document.edits.stacks import add_alignment_reading
from jovial_tack.document.model import Build
from support import DEMO, built

CATALOGUE = load_catalogue()


def demo() -> Build:
    return built(json.loads(DEMO.read_text("utf-8")))


def misaligned(build: Build) -> list[str]:
    return [f.message for f in solve(build, None, CATALOGUE).findings if f.code == "misaligned"]


def test_the_pieces_of_the_shelf_put_the_demo_in_line() -> None:
    build = demo()
    assert misaligned(build)
    unit = unit_of(build, solve(build, None, CATALOGUE), CATALOGUE, "alternator", anew=True)
    assert unit is not None and unit.plane_mm is not None and unit.wanted_mm is not None
    assert [[p.part for p in ear.pieces or ()] for ear in unit.ears] == 3 * [["spacer 3", "spacer"]]
    assert abs(unit.plane_mm - unit.wanted_mm) < 0.05
    after = with_pieces(build, unit)
    assert after.drive("accessory").pulley("alternator").plane_mm == round(unit.plane_mm, 3)
    assert not misaligned(after)
    told = tell_line_up(after, solve(after, None, CATALOGUE), CATALOGUE)
    # what stands there now is what was promised
    assert told.stacks[0].plane_mm == pytest.approx(unit.plane_mm)


def test_windows_end_where_the_finding_begins() -> None:
    """Both ends of every window, by the build solved again just inside and just outside."""
    build = demo()
    told = tell_line_up(build, solve(build, None, CATALOGUE), CATALOGUE)
    window = told.lined.windows["accessory", "alternator"]
    assert window is not None
    for end, inward in ((window[0], 0.01), (window[1], -0.01)):
        assert not misaligned(set_plane(build, "accessory", "alternator", end + inward))
        assert misaligned(set_plane(build, "accessory", "alternator", end - inward))


def test_a_shaft_of_two_drives_is_moved_for_both_or_not_at_all() -> None:
    """A blower that is out drags the accessory belt out if its shaft carries both."""
    data: dict[str, Any] = json.loads(DEMO.read_text("utf-8"))
    pulleys = data["drives"][1]["pulleys"]
    next(p for p in pulleys if p["id"] == "blower")["plane_mm"] = 102.0
    build = built(data)
    moves = solve(build, None, CATALOGUE).drive("blower").readings.moves
    assert moves
    for move in moves:
        for name, pulley in move.pulleys:
            plane = build.drive(name).pulley(pulley).plane_mm
            assert plane is not None
            build = set_plane(build, name, pulley, plane + move.by_mm)
    assert not misaligned(build)


def test_planes_that_were_read_are_offered_and_the_simulated_laser_is_read_back() -> None:
    build = demo()
    cases = assemble(build, CATALOGUE)
    wrong = set_plane(build, "accessory", "alternator", 41.0)
    readings: list[dict[str, Any]] = [
        {"type": "depth", "pulley": "accessory/crank", "value_mm": 41.5, "sd_mm": 0.01},
        {"type": "square", "pulley": "accessory/crank", "sd_deg": 0.001},
        {"type": "square", "pulley": "alternator", "sd_deg": 0.001},
    ]
    for seed in range(6):
        far = simulated_laser(build, "accessory/crank", "alternator", cases, CATALOGUE, seed)
        readings.append(
            {"type": "laser", "on": "accessory/crank", "at": "alternator", "offsets_mm": list(far)}
        )
    readings.append({"type": "depth", "pulley": "crank", "value_mm": 1.0})
    for reading in readings:
        wrong = add_alignment_reading(wrong, reading)
    read = read_planes(wrong, cases, CATALOGUE)
    assert read is not None
    assert "could mean" in read.lines[-1].problem
    told = next(one for one in read.pulleys if one.name == ("accessory", "alternator"))
    assert told.plane_mm is not None and told.plane_sd_mm is not None
    assert abs(told.plane_mm - 44.9) < 3 * told.plane_sd_mm < 1.5
    assert wrong.drive("accessory").pulley("alternator").plane_mm == 41.0
    taken = taken_over(wrong, read).drive("accessory").pulley("alternator").plane_mm
    assert taken == round(told.plane_mm, 3)


def test_lineup_on_the_command_line(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["lineup", str(DEMO), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["format"] == "jovial-tack/lineup" and told["readings"] is None
    (stack,) = told["stacks"]
    assert {ear["need_mm"] for ear in stack["ears"]} and not told["turned"]
    assert [move["shaft"] for move in told["moves"]] == ["alternator"]
    assert main(["lineup", str(DEMO), "--anew"]) == 0
    said = capsys.readouterr().out
    assert "Alternator: 42.32 mm to 44.44 mm, stands at 44.90 mm" in said
    assert "take Spacer, 4.8 mm + Turned spacer" in said


def test_a_depth_that_does_not_fit_is_found_and_what_is_open_is_told() -> None:
    build = demo()
    for value in (44.9, 45.0, 44.8, 45.1, 52.0):
        reading = {"type": "depth", "pulley": "alternator", "value_mm": value}
        build = add_alignment_reading(build, reading)
    told = tell_line_up(build, solve(build, None, CATALOGUE), CATALOGUE)
    codes = [finding.code for finding in told.findings]
    assert codes.count("reading_suspect") == 1 and "not_determined" in codes
    assert told.read is not None and [line.suspect for line in told.read.lines].index(True) == 4


def test_pieces_that_are_known_too_badly_leave_it_open() -> None:
    """In line by its pieces, but not at the end of what their tolerances leave open."""
    build = demo()
    unit = unit_of(build, solve(build, None, CATALOGUE), CATALOGUE, "alternator", anew=True)
    assert unit is not None
    build = with_pieces(build, unit)
    assert not misaligned(build)
    rough = set_part(build, "spacer 3", tolerance_mm=2.5)
    told = tell_line_up(rough, solve(rough, None, CATALOGUE), CATALOGUE)
    ((_, stands),) = told.stood
    assert stands.rest_deg <= stands.good_deg < stands.edge_deg
    (said,) = [f for f in solve(rough, None, CATALOGUE).findings if f.code == "misaligned"]
    assert said.level == "unknown" and f"{stands.edge_deg:.2f}°" in said.message


def test_words_follow_the_fixing_and_what_can_come_out() -> None:
    """A pressed pulley is pressed, to a depth from flush; no more is taken out than there is."""
    data: dict[str, Any] = json.loads(DEMO.read_text("utf-8"))
    alternator = next(s for s in data["shafts"] if s["id"] == "alternator")
    pulley = next(p for p in data["drives"][0]["pulleys"] if p["id"] == "alternator")
    for ear in data["stacks"][0]["ears"]:
        ear["pieces"] = [{"part": "spacer", "count": 1}]
    (said,) = misaligned(built(data))
    # 1.6 mm can come out and 1.63 would be straightest: as far as it goes is in line too
    assert "taking 1.60 mm from under it puts it in line" in said
    for ear in data["stacks"][0]["ears"]:
        ear["pieces"] = []
    bare = built(data)
    (said,) = misaligned(bare)
    assert "from under it" not in said
    # but what the ears need is told from where it should stand all the same
    told = tell_line_up(bare, solve(bare, None, CATALOGUE), CATALOGUE)
    assert told.stacks[0].wanted_mm == pytest.approx(43.27, abs=0.01)
    del data["stacks"]
    alternator["nose_fixing"], pulley["flush_plane_mm"] = "pressed", 50.0
    (said,) = misaligned(built(data))
    assert "pressing it 1.63 mm further on (6.73 mm behind flush) puts it in line" in said
