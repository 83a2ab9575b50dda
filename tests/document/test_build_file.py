"""Build files: what is refused and how, what is kept, and that saving loses nothing."""

from __future__ import annotations

import contextlib
import copy
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema
import msgspec
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jovial_tack.answers.advice import advised
from jovial_tack.answers.drive.solve import solve_again
from jovial_tack.catalogue import Catalogue, load_catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.engine import empty_build, set_units
from jovial_tack.document.edits.loads import add_bank, add_case
from jovial_tack.document.edits.pulleys import set_diameter, set_plane
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.history import History
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, dump
from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    BeltAt,
    NoteAt,
    ObstacleAt,
    PartAt,
    PulleyAt,
    ShaftAt,
    SpanAt,
    Target,
)
from jovial_tack.files.build_file import parse_json, read_build, text_of, write_build
from jovial_tack.sheets import Choice, Figure, Shown, sheet_of
from support import CASES, DEMO, built, furnished, read_case

CATALOGUE = load_catalogue()
Change = Callable[[dict[str, Any]], object]


def drive(data: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = data["drives"][0]
    return found


REFUSED: dict[str, tuple[Change, str]] = {
    "zero diameter": (lambda d: drive(d)["pulleys"][1].update(diameter_mm=0), "pulleys[1].diameter_mm"),
    "negative diameter": (lambda d: drive(d)["pulleys"][1].update(diameter_mm=-5), "at least"),
    "text diameter": (lambda d: drive(d)["pulleys"][1].update(diameter_mm="76"), "a number"),
    "bool diameter": (lambda d: drive(d)["pulleys"][1].update(diameter_mm=True), "a number"),
    "huge integer": (lambda d: drive(d)["pulleys"][1].update(diameter_mm=10**400), "diameter_mm"),
    "infinity": (lambda d: drive(d)["belt"].update(effective_length_mm=float("inf")), "finite"),
    "ribs 0": (lambda d: drive(d)["belt"].update(ribs=0), "belt.ribs"),
    "bool ribs": (lambda d: drive(d)["belt"].update(ribs=True), "whole number"),
    "stiffness 0": (lambda d: drive(d)["belt"].update(stiffness_n_per_rib=0), "above 0"),
    "profile": (lambda d: drive(d)["belt"].update(profile="QQ"), "one of PK, PJ, SAE 0.380"),
    "construction": (lambda d: drive(d)["belt"].update(construction="steel"), "construction"),
    "kind": (lambda d: d["shafts"][1].update(kind="warp"), "shafts[1].kind"),
    "load type": (lambda d: d["shafts"][2].update(load={"type": "magic"}), "load.type"),
    "load without type": (lambda d: d["shafts"][2].update(load={}), "load.type"),
    "tensioner type": (lambda d: drive(d).update(tensioner={"type": "rope"}), "tensioner.type"),
    "uneven table": (
        lambda d: d["shafts"][4]["load"].update(power_kw=[1, 2]),
        "shafts[4].load.power_kw: as many powers as speeds",
    ),
    "falling table": (lambda d: d["shafts"][4]["load"].update(rpm=[1, 3, 2, 4]), "rising order"),
    "duplicate shaft": (lambda d: d["shafts"].append(d["shafts"][0]), "shafts[6].id"),
    "duplicate pulley": (lambda d: drive(d)["pulleys"].append(drive(d)["pulleys"][0]), "pulleys[6].id"),
    "two cranks": (lambda d: d["shafts"][1].update(kind="crank"), "one crank"),
    "short route": (lambda d: drive(d).update(route=["crank"]), "at least two"),
    "repeated": (lambda d: drive(d)["route"].append("crank"), "route[6]"),
    "missing": (lambda d: drive(d)["route"].pop(), "is missing"),
    "stranger": (lambda d: drive(d)["route"].append("ghost"), "“ghost”"),
    "no such shaft": (lambda d: drive(d)["pulleys"][0].update(shaft="moon"), "pulleys[0].shaft"),
    "drives alike": (lambda d: d["drives"].append({**drive(d), "id": "b"}), "drives[1].name"),
    "arm on nothing": (lambda d: drive(d)["tensioner"].update(pulley="x"), "tensioner.pulley"),
    "one stop": (lambda d: drive(d)["tensioner"].update(stops_deg=[90, 90]), "two different"),
    "no engine": (lambda d: d.pop("engine"), "engine: this key is needed"),
    "speeds": (lambda d: d["engine"].update(redline_rpm=100), "rising order"),
    "other format": (lambda d: d.update(format="x"), "format"),
    "version": (lambda d: d.update(version="1"), "version"),
    "shafts": (lambda d: d.update(shafts={}), "a list"),
    "center": (lambda d: d["shafts"][1].update(center_mm=[1]), "shafts[1].center_mm"),
}  # fmt: skip


@pytest.mark.parametrize("name", REFUSED)
def test_refused_with_key_and_expectation(
    name: str, case_data: dict[str, Any], catalogue: Catalogue
) -> None:
    change, said = REFUSED[name]
    change(case_data)
    with pytest.raises(BuildFileError) as refusal:
        build_from_json(case_data, catalogue)
    text = str(refusal.value)
    assert said in text
    assert "\n" not in text
    assert len(text) < 300


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "empty"),
        (b"  \n", "empty"),
        (b'{"format": "jovial-tack/build", "ver', "not JSON at line 1"),
        (bytes(range(128, 256)), "not UTF-8"),
        ('{"a": 1}'.encode("utf-16"), "UTF-16"),
        (b"[]", "object in braces"),
        (b"null", "object in braces"),
        (b"[" * 100_000 + b"]" * 100_000, "nested too deeply"),
        (b'{"a": ' * 100_000, "nested too deeply"),
        (b'{"format": NaN}', "NaN"),
        (b'{"format": "jovial-tack/build", "version": -Infinity}', "Infinity"),
        (b'{"a": 1, "a": 2}', "twice"),
        (b'{"format": "\\ud800"}', "surrogate"),
        (b'{"version": ' + b"9" * 5000 + b"}", "version: a finite number"),
    ],
)
def test_unreadable_bytes_say_what_they_are(
    raw: bytes, said: str, tmp_path: Path, catalogue: Catalogue
) -> None:
    path = tmp_path / "odd.jtack"
    path.write_bytes(raw)
    with pytest.raises(BuildFileError, match=r"odd\.jtack") as refusal:
        read_build(path, catalogue)
    assert said in str(refusal.value)
    assert "\n" not in str(refusal.value)


def test_too_large_missing_and_folder(tmp_path: Path, catalogue: Catalogue) -> None:
    large = tmp_path / "large.jtack"
    with large.open("wb") as file:
        file.truncate(30_000_000)
    for path, said in ((large, "30 MB"), (tmp_path / "none", "no such"), (tmp_path, "folder")):
        with pytest.raises(BuildFileError, match=said):
            read_build(path, catalogue)


@given(st.data())
@settings(max_examples=150, deadline=None)
def test_any_damage_to_a_build_is_refused_or_read_never_a_crash(data: st.DataObject) -> None:
    build = read_case(data.draw(st.sampled_from(sorted(CASES))))["build"]
    junk = st.one_of(
        st.none(), st.booleans(), st.text(max_size=5), st.floats(), st.integers(),
        st.lists(st.floats(), max_size=3), st.dictionaries(st.text(max_size=3), st.integers()),
    )  # fmt: skip
    node: Any = build
    while True:
        keys = list(node) if isinstance(node, dict) else list(range(len(node)))
        key = data.draw(st.sampled_from(keys))
        below = node[key]
        if isinstance(below, dict | list) and below and data.draw(st.booleans()):
            node = below
            continue
        node[key] = data.draw(junk)
        break
    try:
        found, _ = build_from_json(build, load_catalogue())
    except BuildFileError as error:
        assert str(error)
    else:
        assert parse_json(text_of(found).encode()) == json.loads(json.dumps(build))


def test_unknown_keys_are_kept_frozen_and_pointed_out(
    case_data: dict[str, Any], catalogue: Catalogue
) -> None:
    case_data["diary"] = [{"belt": {"tried": [1, 2]}}]
    case_data["shafts"][1]["max_rmp"] = 9000
    build, remarks = build_from_json(copy.deepcopy(case_data), catalogue)
    assert json.loads(text_of(build)) == case_data
    assert len(remarks) == 1
    assert "max_rpm" in remarks[0]
    extra = build.unknown
    with pytest.raises(TypeError):
        extra["diary"][0]["belt"]["tried"] = ()
    edited = move_shaft(build, "alt", 200, 280)
    assert edited.unknown == extra


def test_a_newer_file_is_told_apart(case_data: dict[str, Any], catalogue: Catalogue) -> None:
    case_data["version"] = 7
    build, _ = build_from_json(case_data, catalogue)
    assert build.version == 7
    case_data["engine"] = "something new"
    with pytest.raises(BuildFileError, match="newer"):
        build_from_json(case_data, catalogue)


def test_save_and_load_is_identity(tmp_path: Path, catalogue: Catalogue) -> None:
    for number, data in enumerate([read_case(name)["build"] for name in CASES]):
        path = tmp_path / f"{number}.jtack"
        build = built(data)
        write_build(build, path)
        again = read_build(path, catalogue).build
        assert again == build
        assert json.loads(path.read_text("utf-8")) == json.loads(json.dumps(data))


def test_the_published_schema_is_that_of_the_model(demo_data: dict[str, Any]) -> None:
    text = (DEMO.parents[1] / "schema/build.schema.json").read_text("utf-8")
    schema = json.loads(text)
    assert {k: v for k, v in schema.items() if k != "$schema"} == json.loads(
        json.dumps(msgspec.json.schema(Build))
    )
    validator = jsonschema.Draft202012Validator(schema)
    validator.validate(demo_data)
    for name in CASES:
        validator.validate(read_case(name)["build"])
    drive(demo_data)["pulleys"][0]["side"] = "edge"
    assert not validator.is_valid(demo_data)


EDITS: list[Callable[[Build, float], Build]] = [
    lambda b, v: move_shaft(b, "alternator", v, 2 * v),
    lambda b, v: move_shaft(b, "blower_arm", v, -v),
    lambda b, v: set_diameter(b, "blower", "blower", 40 + abs(v)),
    lambda b, v: set_plane(b, "accessory", "idler", v),
    lambda b, _: set_plane(b, "accessory", "idler", None),
    lambda b, v: set_belt_length(b, "accessory", 1500 + v),
    lambda b, v: set_units(b, "in" if v > 0 else "mm"),
]


@given(st.lists(st.tuples(st.sampled_from(range(len(EDITS))), st.floats(-300, 300)), max_size=12))
@settings(max_examples=60, deadline=None)
def test_undo_and_redo_are_identity(choices: list[tuple[int, float]]) -> None:
    history = History.of(built(json.loads(DEMO.read_text("utf-8"))))
    for number, (which, value) in enumerate(choices):
        edited = EDITS[which](history.build, value)
        assert built(json.loads(json.dumps(dump(edited)))) == edited  # an edit is a valid file
        history = history.edited(f"edit {number}", edited)
    builds = [step.build for step in history.steps]
    for build in reversed(builds[:-1]):
        history = history.undone()
        assert history.build is build
    assert history.undo_label is None
    for build in builds[1:]:
        history = history.redone()
        assert history.build is build


def test_an_edit_out_of_range_is_refused_and_unchanged_parts_stay_the_same_objects() -> None:
    build = built(json.loads(DEMO.read_text("utf-8")))
    with pytest.raises(BuildFileError, match="at least"):
        set_diameter(build, "blower", "blower", 0.0)
    edited = set_diameter(build, "blower", "blower", 80.0)
    assert edited.drives[0] is build.drives[0]
    assert all(a is b for a, b in zip(edited.shafts, build.shafts, strict=True))
    assert empty_build("x").drives == ()


def test_an_older_word_for_a_stretch_belt_is_read_and_written_anew(
    case_data: dict[str, Any], catalogue: Catalogue
) -> None:
    drive(case_data)["belt"]["construction"] = "stretch_fit"
    case_data["variants"] = [{"name": "one", "build": copy.deepcopy(case_data)}]
    build = built(case_data)
    assert build.drives[0].belt.construction == "stretch"
    assert "stretch_fit" not in text_of(build)
    assert json.loads(text_of(build)) == json.loads(json.dumps(case_data).replace("_fit", ""))


def planted(value: Any, under: str = "") -> Any:
    """A build's JSON with a key of one's own on every part."""
    if isinstance(value, list):
        return [planted(item) for item in value]
    if not isinstance(value, dict):
        return value
    found = {key: planted(item, key) for key, item in value.items()}
    # what stands under names of the file's own is no part
    return (
        found
        if under in ("banks", "loads", "findings")
        else found | {"x_mine": {"a": [1, {"b": None}]}}
    )


def test_keys_of_ones_own_survive_every_edit_and_solve() -> None:
    data = planted(dump(add_case(add_bank(furnished()), "hot", {"alternator": 1.2})))
    build, _ = build_from_json(data, CATALOGUE)
    assert dump(build) == data
    solution = solve_again(build, None, CATALOGUE, None)
    advised(build, solution, CATALOGUE)
    count = json.dumps(data).count("x_mine")
    targets: list[Target] = [NOTHING, ObstacleAt(build.obstacles[-1].id), NoteAt("note")]
    targets += [ShaftAt(shaft.id) for shaft in build.shafts] + [PartAt(build.shelf[0].id)]
    for drive in build.drives:
        targets += [BeltAt(drive.id), ArmAt(drive.id), SpanAt(drive.id, drive.route[0])]
        targets += [PulleyAt(drive.id, drive.route[0])]
    tried = 0
    for target in targets:
        view = Shown(build, solution.results, target, 6600.0, CATALOGUE)
        for line in sheet_of(target).figures(view):
            if isinstance(line, Choice) or line.change is None or line.name == "Filling":
                continue  # a choice may make another kind of part, which has keys of its own
            value = line.value(view) if isinstance(line, Figure) else line.text(view)
            new = f"{value} x" if isinstance(value, str) else (value or 1.0) * 1.01
            with contextlib.suppress(BuildFileError):
                edited = line.change(build, target, new)  # type: ignore[arg-type]
                assert json.dumps(dump(edited)).count("x_mine") >= count, (target, line.name)
                tried += 1
    assert tried > 80


def test_what_could_not_be_written_again_is_refused_with_its_place() -> None:
    text = DEMO.read_text("utf-8")
    deep = "[" * 300 + "]" * 300
    for planted_, where in (
        ('["a", "\\ud800"]', "x[1]: whole characters"),
        (deep, "at most 60 levels"),
        ("1e999", "x: a finite number"),
        ("1" + "0" * 400, "x: a finite number"),
        ('{"\\ud800": 1}', "a key holds half a character"),
    ):
        raw = text.replace("{", f'{{"x": {planted_},', 1).encode()
        with pytest.raises(BuildFileError) as refused:
            parse_json(raw)
        assert where in str(refused.value) and "\n" not in str(refused.value)
