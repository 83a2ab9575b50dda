"""Every kind of finding counts in a verdict or says why not, and something makes it."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable
from typing import Any

import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.kinds import INTERCHANGE, KINDS, READING_SUSPECT
from jovial_tack.answers.verdicts import READ_AT, verdicts
from jovial_tack.catalogue import load_catalogue
from support import DEMO, built, read_case

Data = dict[str, Any]
DEMO_DATA: Data = json.loads(DEMO.read_text("utf-8"))
ARM: Data = read_case("accessory_spring_arm")["build"]


def shaft(data: Data, name: str, **change: Any) -> None:
    next(s for s in data["shafts"] if s["id"] == name).update(change)


def pulley(data: Data, name: str, drive: int = 0, **change: Any) -> None:
    next(p for p in data["drives"][drive]["pulleys"] if p["id"] == name).update(change)


def drive(data: Data, part: str, **change: Any) -> None:
    data["drives"][0][part].update(change)


def loop(data: Data) -> None:
    again = copy.deepcopy(data["drives"][0]) | {"id": "again", "name": "again"}
    again["route"], again["tensioner"] = ["crank", "ac"], None
    again["pulleys"] = [p for p in again["pulleys"] if p["id"] in again["route"]]
    data["drives"].append(again)


def toothed(data: Data) -> None:
    drive(data, "belt", profile="8M", ribs=1)
    for one in data["drives"][0]["pulleys"]:
        for key in ("friction_ribs", "friction_back", "stiffness_n_per_rib"):
            data["drives"][0]["belt"].pop(key, None)
        one["diameter_mm"] += 0.5


def bottoming(data: Data) -> None:
    """A V-belt in a groove that is too shallow for it."""
    data["drives"][0]["belt"].update(profile="A", ribs=1)
    pulley(data, "alt", groove_width_mm=13.0, groove_depth_mm=6.0)


def turned_round(data: Data) -> None:
    """The crank turns the other way: the arm comes to stand on the tight side."""
    data["engine"]["crank_rotation"] = "ccw"
    first, *others = data["drives"][0]["route"]
    data["drives"][0]["route"] = [first, *reversed(others)]


def part(data: Data, name: str, **change: Any) -> None:
    next(p for p in data["shelf"] if p["id"] == name).update(change)


def fourth_ear(data: Data) -> None:
    """An ear that stands proud of the plane of the other three."""
    data["bosses"].append({"id": "last", "at_mm": [190.0, 270.0], "z_mm": 6.0})
    ears = data["stacks"][0]["ears"]
    ears.append({**ears[0], "id": "ear 4", "boss": "last"})


def on_one_long_post(data: Data) -> None:
    """The alternator on a single stand-off, its bolt hardly tightened."""
    part(data, "spacer 2", thickness_mm=60.0)
    data["bosses"][0]["z_mm"] = -48.0
    ears = data["stacks"][0]["ears"]
    data["stacks"][0]["ears"] = [{**ears[0], "torque_nm": 15.0}]


def swinging(data: Data) -> None:
    """The alternator swings about its lower boss, with the bolt in its slot hardly tightened."""
    at = data["bosses"][0]["at_mm"]
    mount = {"type": "swing", "pivot_mm": at, "radius_mm": 48.0, "from_deg": 0.0, "to_deg": 60.0}
    shaft(data, "alternator", mount=mount)
    for ear in data["stacks"][0]["ears"]:
        ear["torque_nm"] = 5.0


def on_a_thin_plate(data: Data) -> None:
    """In line at rest, on a plate that the pull turns."""
    pulley(data, "alternator", plane_mm=43.3)
    plate = {"length_mm": 120.0, "width_mm": 60.0, "thickness_mm": 6.0, "direction_deg": 90.0}
    bracket = {"id": "plate", "shafts": ["alternator"], "offsets_mm": [[0.0, 0.0]]}
    data["brackets"] = [{**bracket, "plate": {**plate, "z_mm": 0.0}}]


#: What makes each kind: a build, and a change to it.
MAKERS: dict[str, tuple[Data, Callable[[Data], object]]] = {
    "pulleys_overlap": (ARM, lambda d: shaft(d, "wp", center_mm=[60, 115])),
    "no_contact": (ARM, lambda d: pulley(d, "alt", side="back")),
    "belt_crosses_itself": (
        ARM, lambda d: d["drives"][0].update(route=["crank", "ps", "alt", "wp", "tens", "ac"])),
    "wrong_rotation": (ARM, lambda d: shaft(d, "alt", needs_rotation="ccw")),
    "drive_loop": (ARM, loop),
    "clearance": (
        DEMO_DATA,
        lambda d: d["obstacles"][0].update(outline_mm=[[-260.0, 350.0], [300.0, 350.0]])),
    "near_toggle": (
        DEMO_DATA, lambda d: d["drives"][1]["belt"].update(effective_length_mm=1135.0)),
    "belt_too_short": (ARM, lambda d: drive(d, "belt", effective_length_mm=1640.0)),
    "belt_too_long": (ARM, lambda d: drive(d, "belt", effective_length_mm=1760.0)),
    "arm_outside_window": (ARM, lambda d: drive(d, "tensioner", window_deg=[103.0, 105.0])),
    "arm_at_stop": (read_case("accessory_arm_on_stop")["build"], lambda d: None),
    "teeth": (ARM, toothed),
    "v_seat": (ARM, bottoming),
    "slip": (DEMO_DATA, lambda d: None),
    "belt_floats": (ARM, lambda d: shaft(d, "ac", center_mm=[160, -40])),
    "low_reserve": (ARM, lambda d: None),
    "too_tight": (ARM, lambda d: drive(d, "tensioner", torque_nm=90.0)),
    "hub_load": (ARM, lambda d: shaft(d, "alt", hub_load_limit_n=200.0)),
    "span_resonance": (ARM, lambda d: d["engine"].update(cylinders=10, idle_rpm=500)),
    "low_wrap": (ARM, lambda d: None),
    "tensioner_on_tight_side": (ARM, turned_round),
    "small_pulley": (ARM, lambda d: pulley(d, "alt", diameter_mm=40.0)),
    "overspeed": (ARM, lambda d: shaft(d, "alt", max_rpm=12000.0)),
    "underspeed": (ARM, lambda d: shaft(d, "wp", min_rpm=3000.0)),
    "belt_speed": (ARM, lambda d: d["engine"].update(redline_rpm=12000.0)),
    "misaligned": (DEMO_DATA, lambda d: pulley(d, "alternator", plane_mm=60.0)),
    "rib_mismatch": (ARM, lambda d: pulley(d, "alt", grooves=4)),
    "proud_of_rim": (ARM, lambda d: pulley(d, "alt", flange_mm=0.5)),
    "no_room_for_spacer": (DEMO_DATA, lambda d: d["bosses"][0].update(z_mm=14.0)),
    "ear_gap": (DEMO_DATA, fourth_ear),
    "bolt_engagement": (DEMO_DATA, lambda d: d["bosses"][0].update(thread_depth_mm=12.0)),
    "bolt_bottoms": (DEMO_DATA, lambda d: d["bosses"][0].update(thread_depth_mm=24.0)),
    "shank_bottoms": (DEMO_DATA, lambda d: part(d, "bolt", threaded_mm=20.0)),
    "stack_opens": (DEMO_DATA, on_one_long_post),
    "slot_slips": (DEMO_DATA, swinging),
    "bracket_gives": (DEMO_DATA, on_a_thin_plate),
    "not_determined": (ARM, lambda d: None),
}  # fmt: skip


def test_every_kind_has_something_that_makes_it() -> None:
    # made in tests/answers/survey and tests/answers/line_up, those of plates in test_brackets.py
    elsewhere = {INTERCHANGE.code, READING_SUSPECT.code, *of_plates()}
    # those of the logbook in tests/answers/logbook and of its files in tests/files
    elsewhere |= {kind.code for kind in KINDS.values() if kind.mended_at == "logbook"}
    assert {*MAKERS, *elsewhere} == set(KINDS)


def of_plates() -> set[str]:
    return {code for code, kind in KINDS.items() if kind.unjudged.startswith("said of a plate")}


@pytest.mark.parametrize("code", MAKERS)
def test_a_kind_is_made_and_counts_where_it_says(code: str) -> None:
    data, change = MAKERS[code]
    data = copy.deepcopy(data)
    change(data)
    build, catalogue = built(data), load_catalogue()
    results = solve(build, None, catalogue)
    made = [f for f in results.findings if f.kind is KINDS[code]]
    assert made
    kind = KINDS[code]
    assert (kind.verdict is None) == bool(kind.unjudged)
    judged = {v.title: v for v in verdicts(build, results, {}, catalogue)}
    for title, verdict in judged.items():
        assert verdict.station in {READ_AT[title], *(k.mended_at for k in KINDS.values())}
        gravest = [f.level for f in results.findings if f.kind.verdict == title]
        if "stop" in gravest:
            assert verdict.mark == "stop"
    if kind.verdict is not None and made[0].level != "note":
        assert judged[kind.verdict].mark in ("stop", "watch")
