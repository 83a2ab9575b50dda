"""Steps of fitting up: in an order that can be done, of what is there, and again where it changed."""

from __future__ import annotations

import copy
import json
import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from drawn import drawn
from jovial_tack.answers.drive.solve import solve, solve_again
from jovial_tack.answers.fit_up.graph import Node, nodes_of
from jovial_tack.answers.fit_up.steps import Steps, steps_of
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.fit_up.order import in_order
from jovial_tack.document.edits.fit_up import add_own_step, set_seen, set_torque, tick
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, dump
from support import DEMO, built, furnished

CATALOGUE = load_catalogue()


def told(build: Build) -> Steps:
    """The steps of a build, solved as while something moves: what is done hangs on no figure."""
    results = solve_again(build, None, CATALOGUE, None, live=True).results
    return steps_of(build, results, CATALOGUE)


def all_ticked(build: Build) -> Build:
    for step in told(build).steps:
        build = tick(build, step.id, step.stamp, "2026-11-28")
    return build


def demo() -> Build:
    return built(json.loads(DEMO.read_text("utf-8")))


@pytest.mark.parametrize("seed", range(20))
def test_every_step_comes_after_what_it_waits_for_whatever_the_order_in_the_file(seed: int) -> None:
    build = furnished() if seed == 0 else drawn(seed)
    steps = told(build)
    assert not steps.loops
    place = {step.id: k for k, step in enumerate(steps.steps)}
    assert len(place) == len(steps.steps)
    for step in steps.steps:
        assert all(place[other] < place[step.id] for other in step.after if other in place)
    # nothing that is not there: every step is of things of the build
    names = {part.id for key in ("shafts", "drives", "brackets") for part in getattr(build, key)}
    names |= {pulley.id for drive in build.drives for pulley in drive.pulleys}
    assert all(set(step.of) <= names for step in steps.steps)
    # and all that a belt turns is hung on, bolted and looked at
    for drive in build.drives:
        for kind in ("align", "belt", "tension", "recheck", "first"):
            assert place[f"{kind}:{drive.id}"] is not None
    shuffled = dump(build)
    dice = random.Random(seed)
    for key in ("shafts", "drives", "brackets", "bosses", "stacks"):
        dice.shuffle(shuffled.get(key, []))
    for drive_data in shuffled["drives"]:
        dice.shuffle(drive_data["pulleys"])
    again = told(built(json.loads(json.dumps(shuffled))))
    assert [step.id for step in again.steps] == [step.id for step in steps.steps]
    assert [step.stamp for step in again.steps] == [step.stamp for step in steps.steps]


def leaves(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], Any]]:
    """Every number and word of a build's file with its path, entries of lists by their place."""
    entries = value.items() if isinstance(value, dict) else enumerate(value)
    for key, entry in entries:
        if isinstance(entry, dict | list):
            yield from leaves(entry, (*path, key))
        else:
            yield (*path, key), entry


def named(data: Any, path: tuple[Any, ...]) -> tuple[str, ...]:
    """The same path with entries by what they are told by, as `depends` has it."""
    found: list[str] = []
    for step in path:
        entry = data[step]
        if isinstance(data, list) and isinstance(entry, dict):
            found.append(str(entry.get("id") or entry.get("shaft") or entry.get("for")))
        else:
            found.append(str(step))
        data = entry
    return tuple(found)


def hang_on(node: Node, path: tuple[str, ...]) -> bool:
    return any(path[: len(of)] == of for of in node.depends)


def test_after_any_single_edit_exactly_the_ticks_that_hang_on_it_turn_to_again() -> None:
    build = all_ticked(set_torque(furnished(), "mount:alternator", nm=45.0))
    data = json.loads(json.dumps(dump(build)))
    nodes = nodes_of(build, CATALOGUE)
    dice, seen, turned = random.Random(7), 0, 0
    every = [
        (path, value)
        for path, value in leaves(data)
        if path[0] not in ("fit_up", "format", "version")
        and path[-1] not in ("id", "shaft", "for")
        and isinstance(value, int | float)
        and not isinstance(value, bool)
    ]
    for path, value in dice.sample(every, 130):
        other = copy.deepcopy(data)
        inside: Any = other
        for step in path[:-1]:
            inside = inside[step]
        inside[path[-1]] = value + (1 if isinstance(value, int) else 0.125)
        try:
            changed, _ = build_from_json(other, CATALOGUE)
        except BuildFileError:
            continue
        if {node.id for node in nodes_of(changed, CATALOGUE)} != {node.id for node in nodes}:
            continue  # the belt goes on otherwise now: other steps
        steps = told(changed)
        again = {step.id for step in steps.steps if step.state == "again"}
        expected = {node.id for node in nodes if hang_on(node, named(data, path))}
        assert again == expected, path
        seen, turned = seen + 1, turned + bool(again)
        # those of the drives it concerns are to be looked at, and stay done
        assert all(step.state == "done" for step in steps.steps if step.look_again)
    assert seen > 90 and turned > 35


def test_an_alternator_put_forward_is_lined_up_again_and_its_belt_looked_at() -> None:
    data = json.loads(json.dumps(dump(all_ticked(demo()))))
    pulley = next(p for p in data["drives"][0]["pulleys"] if p["id"] == "alternator")
    pulley["plane_mm"] -= 3.4
    steps = told(built(data))
    again = [step.id for step in steps.steps if step.state == "again"]
    assert again == ["pulley:accessory:alternator", "align:accessory"]
    looked_at = [step.id for step in steps.steps if step.look_again]
    assert looked_at == ["belt:accessory", "tension:accessory", "turn", "recheck:accessory"]


def test_a_loop_is_told_with_its_members_and_nothing_is_dropped() -> None:
    build = demo()
    count = len(told(build).steps)
    build, _ = add_own_step(build, "paint the bolts", after=("turn",), before=("align:blower",))
    steps = told(build)
    assert len(steps.steps) == count + 1
    (loop,) = steps.loops
    assert {"own:step", "turn", "align:blower", "belt:blower"} <= set(loop)
    assert "align:accessory" not in loop and "safe" not in loop
    # two loops, one behind the other, are told as two
    after = {"a": ["b"], "b": ["a"], "c": ["a", "d"], "d": ["c"], "e": ["d"], "f": []}
    found = in_order(after, {name: (0, name) for name in after})
    assert found.loops == (("a", "b"), ("c", "d"))
    assert found.names == ("f", "a", "b", "c", "d", "e")


def test_what_is_seen_and_ones_own_torque_stay_in_the_file_and_go_when_emptied() -> None:
    build = set_seen(demo(), "tension:accessory", arm_angle_deg=80.5, tone_hz=141.0)
    build = set_torque(build, "mount:idler", nm=42.0, lubricant="oiled", lock="medium")
    again, _ = build_from_json(json.loads(json.dumps(dump(build))), CATALOGUE)
    steps = told(again)
    tension, mount = steps.step("tension:accessory"), steps.step("mount:idler")
    assert tension is not None and tension.seen is not None and mount is not None
    assert (tension.seen.arm_angle_deg, tension.seen.tone_hz) == (80.5, 141.0)
    assert mount.torque is not None and mount.torque.nm == 42.0
    build = set_seen(build, "tension:accessory", arm_angle_deg=None, tone_hz=None)
    build = set_torque(build, "mount:idler", nm=None, lubricant=None, lock=None)
    assert "fit_up" not in dump(build) and "notes_torque" not in dump(build)


def test_the_verb_tells_states_and_figures(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    first = told(demo()).steps[0]
    build = tick(demo(), first.id, first.stamp, "2026-11-28")
    path = tmp_path / "b.jtack"
    path.write_text(json.dumps(dump(build)))
    assert main(["fitup", str(path), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["format"] == "jovial-tack/fitup" and answer["loop"] == []
    states = {step["id"]: step["state"] for step in answer["steps"]}
    assert states["safe"] == "done" and states["belt:blower"] == "open"
    figures = next(s["figures"] for s in answer["steps"] if s["id"] == "tension:accessory")
    held = solve(build, None, CATALOGUE).drive("accessory").tensioner
    assert figures["arm_angle_deg"] == pytest.approx(held.arm_angle_deg)  # type: ignore[union-attr]
    assert main(["fitup", str(path)]) == 0
    assert "[x]   1 Engine off" in capsys.readouterr().out
    looped, _ = add_own_step(build, "x", after=("turn",), before=("align:blower",))
    path.write_text(json.dumps(dump(looped)))
    assert main(["fitup", str(path)]) == 1
