"""Bracket plates of builds: what makes each finding, what is proposed, what is kept clear of."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable
from math import hypot
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.freedom import freedom_of
from jovial_tack.answers.drive.judging import solvable_case
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.kinds import KINDS
from jovial_tack.answers.line_up.kept_out import kept_out
from jovial_tack.answers.line_up.plate_proposed import proposed_plate
from jovial_tack.answers.line_up.plate_told import told_plates
from jovial_tack.answers.results import PlateResult
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.document.edits.freedoms import set_mount
from jovial_tack.document.edits.placing import mirror_build
from jovial_tack.document.edits.plates import (
    add_boss,
    add_leg,
    move_boss,
    move_cut,
    remove_boss,
    remove_plate,
    second_plate,
    set_depth,
    set_thickness,
)
from jovial_tack.document.edits.shafts import add_shaft, move_shaft
from jovial_tack.document.edits.stacks import add_ear, remove_ear, remove_stack
from jovial_tack.document.model import ArcCut, Build, HoleCut, Plate, SlotCut, SwingMount
from support import DEMO, built

DATA: dict[str, Any] = json.loads(DEMO.read_text("utf-8"))
Data = dict[str, Any]


def told(build: Build, place: int = 0) -> PlateResult:
    catalogue = load_catalogue()
    return told_plates(build, solve(build, None, catalogue), catalogue)[place]


def plate(data: Data) -> Data:
    found: Data = data["plates"][0]
    return found


def hole(data: Data, name: str) -> Data:
    return next(cut for cut in plate(data)["features"] if cut["id"] == name)


def in_the_belt(data: Data) -> None:
    plate(data)["z_mm"] = 36.0


def a_body_before(data: Data) -> None:
    outline = [[180, -20], [200, -20], [200, 20], [180, 20]]
    data["obstacles"].append(
        {"id": "body", "kind": "body", "outline_mm": outline, "z_mm": [30.0, 60.0]}
    )


def something_between(data: Data) -> None:
    outline = [[228, 20], [236, 20], [236, 28], [228, 28]]
    plate(data)["keep_out"] = [{"name": "water pipe", "outline_mm": outline, "clear_mm": 3.0}]


def swung(data: Data) -> None:
    idler = next(shaft for shaft in data["shafts"] if shaft["id"] == "idler")
    idler["mount"] = {"type": "swing", "pivot_mm": [186.0, -4.0], "radius_mm": 63.2,
                      "from_deg": 40.0, "to_deg": 70.0}  # fmt: skip
    plate(data)["features"].append(
        {"type": "arc", "id": "arc", "center_mm": [186.0, -4.0], "radius_mm": 90.0,
         "from_deg": 50.0, "to_deg": 60.0, "width_mm": 11.0, "for": {"shaft": "idler"}}
    )  # fmt: skip


def leg(data: Data) -> None:
    line = {"plate": "plate", "from_mm": [186.0, -14.0], "to_mm": [284.0, 56.0]}
    data["plates"].append({"id": "leg", "stands_on": line})


def moved_off(data: Data) -> None:
    hole(data, "low")["at_mm"] = [188.0, -4.0]


#: What makes each finding of a plate: a change of the demo, the level, and a word of its sentence.
MAKERS: dict[str, tuple[Callable[[Data], object], str, str]] = {
    "plate_in_pieces": (lambda d: plate(d).update(webs=[]), "stop", "3 pieces"),
    "plate_collides": (in_the_belt, "stop", "Accessory drive"),
    "edge_distance": (lambda d: hole(d, "low").update(edge_mm=12.0), "watch", "12.0 mm from"),
    "holes_close": (lambda d: hole(d, "stud").update(diameter_mm=92.0), "watch", "metal between"),
    "web_width": (lambda d: plate(d).update(least_web_mm=40.0), "watch", "40.0 mm wanted"),
    "web_blocked": (something_between, "watch", "water pipe"),
    "no_room_for_tool": (a_body_before, "watch", "socket of 24.0 mm"),
    "slot_short": (swung, "watch", "shorter than its travel"),
    "hole_off": (moved_off, "watch", "2.0 mm off"),
    "near_bend": (leg, "watch", "10.0 mm wanted"),
}


def test_every_kind_of_a_plate_has_a_maker() -> None:
    of_plates = {
        code for code, kind in KINDS.items() if kind.unjudged.startswith("said of a plate")
    }
    assert set(MAKERS) == of_plates


@pytest.mark.parametrize("code", MAKERS)
def test_a_finding_is_made_and_the_demo_has_none(code: str) -> None:
    change, level, word = MAKERS[code]
    data = copy.deepcopy(DATA)
    assert not told(built(data)).findings
    change(data)
    made = [finding for finding in told(built(data)).findings if finding.code == code]
    assert made and made[0].level == level
    assert word in made[0].message


def test_a_spanner_goes_where_something_stands_well_before_the_plate() -> None:
    """From 30 mm on it passes under a body; under one that begins at the face it has the rest of a
    turn.
    """
    data = copy.deepcopy(DATA)
    a_body_before(data)
    for rear, swing in ((28.0, "360°"), (16.5, "°")):
        data["obstacles"][-1]["z_mm"] = [rear, 60.0]
        said = next(f for f in told(built(data)).findings if f.code == "no_room_for_tool")
        assert ("spanner" in said.message and swing in said.message) == (swing == "360°")


def test_mass_is_that_of_the_outline_less_what_is_cut() -> None:
    """Of one round pad with one hole; of a material that is not known there is none."""
    data = copy.deepcopy(DATA)
    plate(data).update(features=[hole(data, "stud")], webs="hull")
    one = told(built(data))
    pad, cut = np.pi * 16.5**2, np.pi * 5.5**2
    assert one.area_mm2 == pytest.approx(pad, rel=2e-4) and one.cut_mm2 == pytest.approx(cut)
    assert one.mass_kg == pytest.approx((pad - cut) * 12.0 * 2700e-9, rel=3e-4)
    assert one.web_mm is None and not one.findings
    plate(data)["material"] = "oak"
    assert told(built(data)).mass_kg is None
    plate(data)["density_kg_m3"] = 700.0
    assert told(built(data)).mass_kg == pytest.approx((pad - cut) * 12.0 * 700e-9, rel=3e-4)


def test_the_verb_tells_all_plates_and_says_what_is_missing(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    build, out = tmp_path / "b.jtack", tmp_path / "x.dxf"
    data = copy.deepcopy(DATA)
    for plates, more, status, said in (
        (data["plates"], [], 0, "Idler bracket: 131.0 mm by 103.0 mm, 12.00 mm thick"),
        ([], [], 0, "no bracket plate in it yet"),
        ([], ["--dxf", str(out)], 2, "there is no bracket plate in it"),
        (data["plates"], ["--plate", "x"], 2, "there are plate"),
        (data["plates"], ["--printed", "50,100"], 2, "such as 98.9,99.6"),
        (data["plates"], ["--dxf", str(tmp_path / "no" / "x.dxf")], 2, "folder does not exist"),
        (data["plates"], ["--dxf", str(out), "--kerf", "30"], 2, "leaves nothing of"),
        ([data["plates"][0] | {"webs": []}], [], 1, "STOP  Idler bracket: it is in 3 pieces"),
        ([data["plates"][0], {**data["plates"][0], "id": "two"}], ["--dxf", str(out)], 2, "--plate"),
    ):  # fmt: skip
        build.write_text(json.dumps(data | {"plates": plates}), "utf-8")
        assert main(["bracket", str(build), *more]) == status
        told_ = capsys.readouterr()
        assert said in (told_.err if status == 2 else told_.out)
        assert len(told_.err.splitlines()) == (status == 2) and not out.exists()


def test_edge_distance_below_half_of_what_is_wanted_is_a_stop() -> None:
    data = copy.deepcopy(DATA)
    hole(data, "low")["edge_mm"] = 8.0
    edge = told(built(data)).edge("low")
    assert edge is not None and edge.away_mm == pytest.approx(8.0, abs=0.01)
    assert edge.level == "stop" and edge.wanted_mm == 16.5


def test_what_turns_about_an_arm_is_kept_clear_of_over_its_window() -> None:
    """Every place of belt and pulleys that an independent walk over the window finds lies inside."""
    build, catalogue = built(copy.deepcopy(DATA)), load_catalogue()
    results, cases = solve(build, None, catalogue), assemble(build, catalogue)
    data = {"id": "p", "z_mm": 40.0, "thickness_mm": 8.0}
    away = kept_out(build, cases, results, catalogue, built(DATA | {"plates": [data]}).plates[0])
    band = shapely.union_all(
        [
            shapely.Polygon([(p.real, p.imag) for p in one.outline]).buffer(0.05)
            for one in away
            if one.of == "accessory"
        ]
    )
    case = solvable_case(build, "accessory", catalogue)
    freedom = freedom_of(case)
    assert freedom is not None and case.arm is not None
    rng = np.random.default_rng(4)
    low, high = sorted(case.arm.window)
    for angle in rng.uniform(low, high, 25):
        path = freedom.paths(np.array([angle])).lanes(0)
        for k, pulley in enumerate(case.pulleys):
            rim = path.centers[k] + pulley.diameter_mm / 2 * np.exp(1j * rng.uniform(0, 6.3))
            span = path.start[k] + rng.uniform() * (path.end[k] - path.start[k])
            for place in (rim, span):
                assert band.covers(shapely.Point(place.real, place.imag))
    # and it is no more than a band: the middle of the belt's loop stays free
    assert not band.covers(shapely.Point(130.0, 160.0))


def second_alternator() -> tuple[Build, str]:
    """The demo with a second alternator that swings about a bolt, and three bosses beside it."""
    build, catalogue = built(copy.deepcopy(DATA)), load_catalogue()
    build, shaft = add_shaft(build, "alternator", catalogue, (-250.0, 40.0))
    build = set_mount(build, shaft, "swing")
    for place in ((-300.0, -60.0), (-190.0, -80.0), (-210.0, 20.0)):
        build, _ = add_boss(build, place)
    return build, shaft


def test_a_plate_is_proposed_from_bosses_a_pivot_and_an_arc() -> None:
    build, shaft = second_alternator()
    made, name, guessed = proposed_plate(build, shaft, load_catalogue())
    plate, mount = made.plate(name), made.shaft(shaft).mount
    assert isinstance(mount, SwingMount) and "pivot" in guessed
    holes = [cut for cut in plate.features if isinstance(cut, HoleCut)]
    free = [boss.at_mm for boss in build.bosses[-3:]]
    assert [cut.at_mm for cut in holes[:3]] == free and {c.diameter_mm for c in holes} == {11.0}
    assert (
        hypot(holes[3].at_mm[0] - mount.pivot_mm[0], holes[3].at_mm[1] - mount.pivot_mm[1]) < 0.01
    )
    arc = next(cut for cut in plate.features if isinstance(cut, ArcCut))
    assert arc.to_deg - arc.from_deg == pytest.approx(abs(mount.to_deg - mount.from_deg) + 6.0)
    assert not [f for f in told(made, 1).findings if f.level == "stop"]
    # bosses that have a plate are not offered to the next one
    again, other, _ = proposed_plate(made, "steering", load_catalogue())
    assert all(c.meant is None or c.meant.boss is None for c in again.plate(other).features)


def test_ears_of_a_unit_sit_on_the_plate_and_go_along_the_arc_of_its_swing() -> None:
    build, shaft = second_alternator()
    mount = build.shaft(shaft).mount
    assert isinstance(mount, SwingMount)
    build, low = add_ear(build, shaft, mount.pivot_mm, 5.0, 30.0)
    at = (-235.0, 105.0)
    build, high = add_ear(build, shaft, at, 5.0, 30.0)
    made, name, guessed = proposed_plate(build, shaft, load_catalogue())
    plate = made.plate(name)
    assert not guessed
    by_ear = {c.meant.ear: c for c in plate.features if c.meant is not None and c.meant.ear}
    arc, pivot = by_ear[high], by_ear[low]
    assert isinstance(arc, ArcCut) and isinstance(pivot, HoleCut)

    # the bolt is on the arc where the unit now stands, and at its ends where the unit swings to
    def bolt(turn: float) -> complex:
        center = complex(*mount.pivot_mm)
        return center + (complex(*at) - center) * complex(np.exp(1j * np.radians(turn)))

    now = np.degrees(np.angle(complex(*build.shaft(shaft).center_mm) - complex(*mount.pivot_mm)))
    for end in (mount.from_deg, mount.to_deg):
        place = bolt(end - now)
        away = abs(place - complex(*arc.center_mm)) - arc.radius_mm
        turn = np.degrees(np.angle(place - complex(*arc.center_mm)))
        within = (turn - arc.from_deg) % 360.0
        assert abs(away) < 0.01 and 2.9 <= within <= arc.to_deg - arc.from_deg - 2.9
    # ears sit on its front face now, and go with it
    bosses = [made.find_boss(ear.boss) for ear in made.stacks[-1].ears]
    assert all(boss is not None and boss.on == name for boss in bosses)
    thicker = set_depth(set_thickness(made, name, 15.0), name, 10.0)
    assert {boss.z_mm for boss in thicker.bosses if boss.on == name} == {25.0}
    moved = move_cut(made, name, pivot.id, 3.0, -2.0)
    boss = next(b for b in moved.bosses if b.id == made.stacks[-1].ears[0].boss)
    assert boss.at_mm == pytest.approx((mount.pivot_mm[0] + 3.0, mount.pivot_mm[1] - 2.0), abs=0.01)
    assert all(boss.on is None for boss in remove_plate(made, name).bosses)


@pytest.mark.parametrize("kind", ["fixed", "holes", "slot"])
def test_an_idler_gets_a_hole_holes_or_a_slot_as_it_is_held(kind: str) -> None:
    build = set_mount(built(copy.deepcopy(DATA) | {"plates": []}), "idler", kind)
    made, name, _ = proposed_plate(build, "idler", load_catalogue())
    own = [c for c in made.plate(name).features if c.meant is not None and c.meant.shaft == "idler"]
    expected = {"fixed": HoleCut, "holes": HoleCut, "slot": SlotCut}[kind]
    assert own and all(isinstance(cut, expected) for cut in own)
    assert not [f for f in told(made).findings if f.code == "slot_short"]


def test_bosses_take_their_holes_along_and_leave_them_behind() -> None:
    build = built(copy.deepcopy(DATA))
    moved = move_boss(build, "boss 4", 180.0, 1.0)
    cut = moved.plates[0].feature("low")
    assert isinstance(cut, HoleCut) and cut.at_mm == (180.0, 1.0)
    left = remove_boss(moved, "boss 4").plates[0].feature("low")
    assert isinstance(left, HoleCut) and left.meant is None and left.at_mm == (180.0, 1.0)


def test_a_mirrored_layout_has_its_plates_and_bosses_mirrored() -> None:
    """Area, web, edges and what is wrong are as before; twice mirrored it is the same build."""
    data = copy.deepcopy(DATA)
    swung(data)
    plate(data)["keep_out"] = [{"outline_mm": [[228, 20], [236, 20], [236, 28]], "clear_mm": 3.0}]
    build = built(data)
    other = mirror_build(build)
    assert other.plates != build.plates and mirror_build(other).plates == build.plates
    one, two = told(build), told(other)
    assert two.area_mm2 == pytest.approx(one.area_mm2, rel=1e-4)
    assert two.web_mm == pytest.approx(one.web_mm, abs=0.05)
    assert [f.code for f in two.findings] == [f.code for f in one.findings]
    for edge in one.edges:
        same = two.edge(edge.id)
        assert same is not None and same.away_mm == pytest.approx(edge.away_mm, abs=0.02)


def test_taking_an_ear_away_leaves_the_boss_a_plate_is_bolted_to() -> None:
    data = copy.deepcopy(DATA)
    data["stacks"][0]["ears"][0]["boss"] = "boss 4"
    build = remove_ear(built(data), "alternator", "ear")
    assert build.find_boss("boss 4") is not None
    assert remove_stack(build, "alternator").find_boss("boss 2") is None


def test_spacers_to_bosses_and_between_two_plates() -> None:
    build = set_depth(built(copy.deepcopy(DATA)), "plate", 10.0)
    build, front = second_plate(build, "plate", 32.0)
    behind = {(s.id, s.behind): s.length_mm for s in told(build).spacers}
    assert behind == {("low", "Idler boss, low"): 6.0, ("high", "Idler boss, high"): 6.0}
    before = told(build, 1).spacers
    assert {s.id for s in before} == {"low", "high", "stud"}
    assert all(s.length_mm == pytest.approx(32.0) for s in before)
    assert {s.behind for s in before} == {"Idler bracket"} and build.plate(front).z_mm == 54.0


def test_a_leg_is_a_plate_of_its_own_drawn_flat() -> None:
    build, name = add_leg(built(copy.deepcopy(DATA)), "plate", 30.0)
    leg = build.plate(name)
    assert leg.stands_on is not None and leg.stands_on.plate == "plate"
    made = told(build, 1)
    assert made.pieces == 1 and not made.kept_out and made.bent is None
    assert not remove_plate(build, "plate").plates


def test_a_plate_bends_as_the_typed_plate_of_the_same_bar_does() -> None:
    """What the drawn plate counts as, typed on a bracket, turns its unit as far."""
    data = copy.deepcopy(DATA)
    hole(data, "stud")["at_mm"] = [222.0, 120.0]
    build = built(data)
    bent = told(build).bent
    assert bent is not None and bent.length_mm > 30.0
    feet = [complex(186, -4), complex(284, 66)]
    foot = shapely.LineString([(p.real, p.imag) for p in feet]).interpolate(
        shapely.LineString([(p.real, p.imag) for p in feet]).project(shapely.Point(222, 120))
    )
    way = complex(222 - foot.x, 120 - foot.y)
    assert bent.length_mm == pytest.approx(abs(way))
    data["plates"] = []
    data["brackets"] = [
        {"id": "b", "shafts": ["idler"], "offsets_mm": [[0, 0]],
         "plate": {"length_mm": bent.length_mm, "width_mm": bent.width_mm, "thickness_mm": 12.0,
                   "direction_deg": float(np.degrees(np.angle(way))), "z_mm": 10.0}}
    ]  # fmt: skip
    from jovial_tack.answers.line_up.told import plate_of

    typed, catalogue = built(data), load_catalogue()
    other = plate_of(typed, solve(typed, None, catalogue), catalogue, "b")
    assert other is not None
    assert bent.turned_deg == pytest.approx((other.low_deg, other.high_deg), rel=1e-6)
    assert bent.rpm == other.rpm


def test_holes_of_bosses_that_are_not_known_well_enough_are_to_be_slotted() -> None:
    data = copy.deepcopy(DATA)
    for name, sd in (("boss 4", 0.6), ("boss 5", 0.3)):
        next(b for b in data["bosses"] if b["id"] == name)["sd_mm"] = sd
    said = told(built(data))
    assert len(said.loose) == 1 and "slot this hole" in said.loose[0] and not said.findings
    assert f"± {2.45 * hypot(0.6, 0.3):.1f} mm" in said.loose[0]
    next(b for b in data["bosses"] if b["id"] == "boss 4")["sd_mm"] = 0.1
    assert not told(built(data)).loose


def test_a_unit_that_was_moved_leaves_nothing_wrong_untold() -> None:
    """A body hung on it is kept clear of over its swing, once it is at the depth of the plate."""
    build, shaft = second_alternator()
    made, name, _ = proposed_plate(build, shaft, load_catalogue())
    x, y = made.shaft(shaft).center_mm
    from jovial_tack.document.edits.obstacles import add_obstacle, set_obstacle

    box = tuple((x + dx, y + dy) for dx, dy in ((-20, -20), (20, -20), (20, 20), (-20, 20)))
    made, body = add_obstacle(made, load_catalogue(), "body", box)
    made = set_obstacle(made, body, moves_with=shaft)
    assert not [f for f in told(made, 1).findings if f.code == "plate_collides"]
    plate: Plate = made.plate(name)
    made = set_obstacle(made, body, z_mm=(plate.z_mm, plate.z_mm + 50.0))
    found = [f for f in told(made, 1).findings if f.code == "plate_collides"]
    assert not found or "over its swing" in found[0].message
    kept = [one for one in told(made, 1).kept_out if one.of == body]
    covered = shapely.union_all(
        [shapely.Polygon([(p.real, p.imag) for p in k.outline]) for k in kept]
    )
    swung = move_shaft(made, shaft, x, y)
    mount = swung.shaft(shaft).mount
    assert isinstance(mount, SwingMount)
    for turn in np.linspace(mount.from_deg, mount.to_deg, 7):
        at = complex(*mount.pivot_mm) + mount.radius_mm * np.exp(1j * np.radians(turn))
        assert covered.buffer(0.5).covers(shapely.Point(at.real, at.imag))
