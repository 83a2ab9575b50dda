"""Attack the program with files and hands that mean no good, and say what broke.

usage: tools/fuzz.py [MINUTES] [--only KIND,…] [--seed N]

Kinds: builds, logs, maps, curves, stock, own, settings, numbers, window. Every case has a number and
can be repeated: `--only builds --seed 1234` runs that one alone. A case breaks if it raises anything
but an error in words, takes over five seconds, or loads and cannot be saved and read again.
"""

from __future__ import annotations

import argparse
import contextlib
import copy
import io
import json
import math
import os
import random
import signal
import sys
import tempfile
import time
import traceback
import warnings
from collections.abc import Callable, Iterator
from datetime import date
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import numpy as np

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT / "tests"))
DATA = ROOT / "src/jovial_tack/data"
_MOST_S = 5.0
_AT_ONCE = 25


class TooLongError(BaseException):
    """A case took over five seconds."""


# mutations

_ODD_NUMBERS = (
    0, -1, 1, 0.0, -0.0, 1e-12, 1e-300, 1e300, 1e17, 2**63, 10**400, float("nan"), float("inf"), 1e5,
    1e9,
)  # fmt: skip
_ODD_TEXTS = (
    "", " ", "\u202e", "<b>x</b>", "=1+1", "a" * 500, "\ud800", "🔩", "../../etc/passwd", "/dev/zero",
    "\n",     "%s%n", "NaN", "1e999", "true", "\0",
)  # fmt: skip
_ODD: tuple[Any, ...] = (None, True, False, [], {}, [[]], [None], {"type": "x"}, [1, 2], [1, 2, 3])


def odd_value(dice: random.Random, old: Any) -> Any:
    """Something else than what stood there: near it, of another kind, or absurd."""
    return copy.deepcopy(_odd_value(dice, old))  # what is drawn twice must not be one and the same


def _odd_value(dice: random.Random, old: Any) -> Any:
    if isinstance(old, bool) or old is None:
        return dice.choice([*_ODD, *_ODD_NUMBERS, *_ODD_TEXTS])
    if isinstance(old, int | float) and dice.random() < 0.7:
        factor = dice.choice([0.5, 0.9, 0.99, 1.01, 1.1, 2, 10, -1, 1e-3, 1e3, 0])
        if dice.random() < 0.8 and abs(old) < 1e300:
            return old * factor
        return dice.choice(_ODD_NUMBERS)
    if isinstance(old, str) and dice.random() < 0.5:
        return dice.choice([old + dice.choice(_ODD_TEXTS), *_ODD_TEXTS])
    return dice.choice([*_ODD, *_ODD_NUMBERS, *_ODD_TEXTS])


def places(value: Any) -> list[tuple[Any, Any]]:
    """Every place in a JSON value: what holds it, and the key or index."""
    found: list[tuple[Any, Any]] = []
    waiting = [value]
    while waiting:
        here = waiting.pop()
        inner = here.items() if isinstance(here, dict) else enumerate(here)
        for key, item in list(inner):
            found.append((here, key))
            if isinstance(item, dict | list):
                waiting.append(item)
    return found


def mutated(dice: random.Random, value: Any) -> Any:
    """A JSON value with a few places changed, taken out, doubled, swapped or added."""
    value = copy.deepcopy(value)
    for _ in range(dice.choice([1, 1, 1, 2, 3, 6])):
        every = places(value)
        if not every:
            break
        holder, key = dice.choice(every)
        way = dice.random()
        if way < 0.65:
            holder[key] = odd_value(dice, holder[key])
        elif way < 0.75:
            del holder[key]
        elif way < 0.85 and isinstance(holder, list):
            holder.insert(dice.randrange(len(holder) + 1), copy.deepcopy(holder[key]))
        elif way < 0.93:
            other, place = dice.choice(every)
            with contextlib.suppress(IndexError, KeyError, TypeError):
                holder[key] = copy.deepcopy(other[place])
        elif isinstance(holder, dict):
            holder[dice.choice(["x_own", "note", *_ODD_TEXTS[:4]])] = odd_value(dice, 1)
    return value


def garbled(dice: random.Random, raw: bytes) -> bytes:
    """Bytes with some cut out, doubled, flipped or replaced."""
    data = bytearray(raw)
    for _ in range(dice.choice([1, 1, 2, 5])):
        if not data:
            break
        at, many = dice.randrange(len(data)), dice.choice([1, 1, 4, 64, 1000])
        way = dice.random()
        if way < 0.3:
            del data[at : at + many]
        elif way < 0.5:
            data[at:at] = data[max(0, at - many) : at]
        elif way < 0.8:
            data[at : at + 1] = bytes([dice.randrange(256)])
        else:
            odd = [
                b'"',
                b",",
                b";",
                b"\n",
                b"\0",
                b"\xff\xfe",
                b"=",
                b'"""',
                b',"',
                b"nan",
                b"1e999",
                b"\t",
            ]
            data[at:at] = dice.choice(odd)
    return bytes(data)


# kinds


def _in_words(error: BaseException) -> bool:
    from jovial_tack.core.errors import JovialTackError

    return isinstance(error, JovialTackError) and "\n" not in str(error)


def _seeds_of_builds() -> list[Any]:
    from jovial_tack.answers.lay_out.starts import LAYOUTS
    from jovial_tack.catalogue import load_catalogue
    from jovial_tack.document.model import dump
    from slides import slid
    from support import furnished

    catalogue = load_catalogue()
    names = (
        "tessary-fen.jtack", "tessary-fen-survey.jtack", "brindle-quay.jtack", "oskar-mill.jtack"
    )  # fmt: skip
    found = [json.loads((DATA / "demo" / name).read_text("utf-8")) for name in names]
    found.append(dump(furnished()))
    found += [dump(slid(seed)) for seed in range(2)]
    found.append(dump(_fitted_up(furnished())))
    found += [dump(make(catalogue)) for _, make in LAYOUTS]
    cases = sorted((ROOT / "tests/data/cases").glob("*.json"))
    return found + [json.loads(case.read_text("utf-8"))["build"] for case in cases]


def _fitted_up(build: Any) -> Any:
    """A build with ticks, what was seen, torque notes, own steps and symptoms."""
    from jovial_tack.document.edits import fit_up, symptoms

    for name in ("safe", "unit:alternator", "belt:accessory", "tension:accessory"):
        build = fit_up.tick(build, name, "0123456789ab", "2026-11-28")
    build = fit_up.set_seen(build, "tension:accessory", arm_angle_deg=80.0, tone_hz=140.0)
    build = fit_up.set_torque(build, "mount:alternator", nm=45.0, lubricant="dry")
    build, _ = fit_up.add_own_step(build, "paint the bolts", ("turn",), ("clear",))
    for name, seen in (("squeal", True), ("tone_low", False)):
        build = symptoms.set_finding(build, "accessory", name, seen)
    return build


_KEPT: dict[str, Any] = {}


def a_build(number: int, dice: random.Random, folder: Path) -> None:
    """A mutated build: refused in words, or solved, saved, and read again as the same."""
    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.fit_up.faults import diagnose
    from jovial_tack.answers.fit_up.steps import steps_of
    from jovial_tack.answers.logbook.told import logbook_told
    from jovial_tack.answers.logbook.words import (
        cost_words,
        due_words,
        event_words,
        life_words,
        offer_lines,
        wear_words,
    )
    from jovial_tack.catalogue import load_catalogue
    from jovial_tack.document.loading import is_newer
    from jovial_tack.files.attachments import attachment_findings
    from jovial_tack.files.build_file import read_build, write_build
    from jovial_tack.files.faults_json import faults_json
    from jovial_tack.files.fitup_json import fitup_json
    from jovial_tack.files.logbook_csv import logbook_csv, taken
    from jovial_tack.files.logbook_json import logbook_json
    from jovial_tack.files.results_json import results_json

    seeds = _KEPT.setdefault("builds", None) or _KEPT.update(builds=_seeds_of_builds())
    seeds = _KEPT["builds"]
    value = mutated(dice, dice.choice(seeds))
    text = json.dumps(value, ensure_ascii=dice.random() < 0.5)
    raw = text.encode("utf-8", "surrogatepass")
    path = folder / "case.jtack"
    path.write_bytes(garbled(dice, raw) if dice.random() < 0.05 else raw)
    catalogue = load_catalogue()
    try:
        build = read_build(path, catalogue).build
    except Exception as error:
        if not _in_words(error):
            raise
        return
    if is_newer(build):
        return  # it is shown as it is, and neither computed nor saved
    results = solve(build, None, catalogue)
    json.dumps(results_json(results), allow_nan=False)
    told = steps_of(build, results, catalogue)
    json.dumps(fitup_json(told), allow_nan=False)
    if build.drives:
        found = diagnose(build, results.drives[number % len(build.drives)], catalogue)
        json.dumps(faults_json([found]), allow_nan=False)
    book = logbook_told(build, catalogue, date(2026, 11, 29))
    json.dumps(logbook_json(book), allow_nan=False)
    _ = [event_words(build, event) for event in build.logbook.events]
    _ = [due_words(thing) for thing in book.due], [life_words(each) for each in book.lives]
    _ = cost_words(book, "in"), offer_lines(build), [wear_words(build, w, "km") for w in book.wear]
    table = logbook_csv(build)
    entered = taken(build, table)
    if entered.bad or logbook_csv(entered.build) != table:
        # what can be no day, or has figures of no event, may be refused; nothing else is changed
        assert entered.bad, "out and in again is another logbook"
    list(attachment_findings(build, path))
    again = folder / "again.jtack"
    write_build(build, again)
    assert read_build(again, catalogue).build == build, "what was saved is read as another build"
    if number % 40 == 0:
        _verbs(path)


def a_survey(number: int, dice: random.Random, folder: Path) -> None:
    """A mutated survey of a sound build: refused in words, or adjusted, told and taken."""
    from jovial_tack.answers.drive.surveyed import surveyed
    from jovial_tack.answers.survey.taking import taken
    from jovial_tack.answers.survey.told import next_words, survey_words, tell_survey
    from jovial_tack.catalogue import load_catalogue
    from jovial_tack.files.build_file import read_build
    from jovial_tack.files.survey_json import survey_json

    name = "demo/tessary-fen-survey.jtack"
    seed = _KEPT.setdefault("survey", json.loads((DATA / name).read_text("utf-8")))
    catalogue = load_catalogue()
    text = json.dumps({**seed, "survey": mutated(dice, seed["survey"])})
    path = folder / "case.jtack"
    path.write_bytes(text.encode("utf-8", "surrogatepass"))
    try:
        build = read_build(path, catalogue).build
    except Exception as error:
        if not _in_words(error):
            raise
        return
    # a whole search takes seconds on what does not fit at all: every fifth
    found = surveyed(build, catalogue, search=number % 5 == 0)
    if found is None:
        return
    told = tell_survey(build, catalogue, found)
    json.dumps(survey_json(told), allow_nan=False)
    assert all(
        isinstance(line, str) for line in (*survey_words(build, told), next_words(build, told))
    )
    taken(build, found)
    if number % 40 == 0:
        _command(["survey", str(path)])


def a_plate(number: int, dice: random.Random, folder: Path) -> None:
    """Mutated plates, bosses and stacks on sound drives: refused in words, or judged and written."""
    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.line_up.plate_told import told_plates
    from jovial_tack.catalogue import load_catalogue
    from jovial_tack.core.errors import JovialTackError
    from jovial_tack.document.model import dump
    from jovial_tack.drawing.plates import plate_overlay, plate_shapes
    from jovial_tack.files.bracket_json import bracket_json
    from jovial_tack.files.build_file import read_build
    from jovial_tack.files.plates.writing import KINDS, write_plate
    from jovial_tack.sheets import Shown, sheet_of
    from jovial_tack.verbs.tables.bracket import bracket_table
    from support import furnished, targets

    seed = _KEPT.get("plates")
    if seed is None:
        seed = _KEPT["plates"] = dump(furnished())
        seed["plates"][0]["keep_out"] = [
            {"name": "pipe", "outline_mm": [[228, 20], [236, 20], [236, 28]], "clear_mm": 3.0}
        ]
    catalogue = load_catalogue()
    changed = mutated(dice, {key: seed[key] for key in ("plates", "bosses", "stacks", "obstacles")})
    path = folder / "case.jtack"
    path.write_bytes(json.dumps({**seed, **changed}).encode("utf-8", "surrogatepass"))
    try:
        build = read_build(path, catalogue).build
    except Exception as error:
        if not _in_words(error):
            raise
        return
    results = _KEPT.get("results of plates")
    if results is None:
        results = _KEPT["results of plates"] = solve(furnished(), None, catalogue)
    told = told_plates(build, results, catalogue)
    each = [(plate, one, None) for plate, one in zip(build.plates, told, strict=True)]
    json.dumps(bracket_json(build, each), allow_nan=False)
    bracket_table(build, each)
    shown = type(results)(results.drives, told)
    list(plate_shapes(build, shown))
    for target in targets(build):
        if type(target).__name__ in ("PlateAt", "CutAt", "BossAt"):
            plate_overlay(build, shown, target)
            view = Shown(build, shown, target, 3000.0, catalogue)
            sheet = sheet_of(target)
            for line in sheet.figures(view):
                line.chosen(view) if hasattr(line, "chosen") else line.text(view)
            for act in sheet.acts(view):
                with contextlib.suppress(JovialTackError):
                    act.make(build)
    for plate, one, _ in each[:1]:
        with contextlib.suppress(JovialTackError):
            write_plate(
                build, plate, one, folder / "plate", KINDS[number % 3], kerf_mm=number % 2 / 5
            )


def a_choice(number: int, dice: random.Random, folder: Path) -> None:
    """Mutated choices on sound drives: refused in words, or tried; and every situation and load."""
    from jovial_tack.answers.finder.offers import offers_of, sizes_text, sizes_typed
    from jovial_tack.answers.finder.space import space_of
    from jovial_tack.answers.finder.trade import AGAINST, trade_of
    from jovial_tack.answers.finder.trying import find, low_side, path_of
    from jovial_tack.answers.grip.situations import situations_of
    from jovial_tack.catalogue import load_catalogue
    from jovial_tack.document.model import dump
    from jovial_tack.files.build_file import read_build
    from jovial_tack.files.finder_json import finder_json
    from support import furnished

    seed = _KEPT.get("choices")
    if seed is None:
        seed = _KEPT["choices"] = dump(furnished())
        seed["choices"] = {
            "drive": "blower", "belt_lengths_mm": [1180.0, 1195.0], "notches": [0, 1],
            "diameters_mm": {"blower": [72.0, 76.0]}, "sides": {"blower_idler": ["ribs", "back"]},
            "constructions": ["standard", "low_stretch"], "aim": "ratio", "needs": ["not_tight"],
            "target": {"pulley": "blower", "ratio": 2.1, "tolerance": 0.1},
            "boost_kpa": [10.0, 90.0], "limit": 3, "holes": {}, "offsets": {},
        }  # fmt: skip
    catalogue = load_catalogue()
    changed = mutated(dice, {"choices": seed["choices"], "brackets": seed["brackets"]})
    path = folder / "case.jtack"
    path.write_bytes(json.dumps({**seed, **changed}).encode("utf-8", "surrogatepass"))
    try:
        build = read_build(path, catalogue).build
        space = space_of(build, build.choices, catalogue) if build.choices else None
        answer = find(space, (850.0, 6600.0)) if space and space.count <= 20000 else None
    except Exception as error:
        if not _in_words(error):
            raise
        return
    for drive in build.drives[: 1 + number % 2]:
        for offer in offers_of(build, drive.id, catalogue):
            if offer.is_typed:
                sizes_typed(offer, sizes_text(offer, build.display_units), build.display_units, 1.0)
        if number % 20 == 0:
            situations_of(build, drive.id, catalogue)
    if answer is None:
        return
    places = list(range(min(2, answer.fitting.combination.size)))
    low = low_side(answer, np.array(places, dtype=np.int64))
    json.dumps(finder_json(answer, places, low, [None] * len(places)), allow_nan=False)
    for key, _, _ in AGAINST:
        trade_of(answer, key, None)
    for place in places:
        path_of(answer, place)
        answer.space.words_of(int(answer.fitting.combination[place]))


def _verbs(path: Path) -> None:
    """The verbs on a build, each with an exit status and at most one line of error."""
    for verb in (
        ["solve", "--bare"],
        ["plan"],
        ["belt"],
        ["boost"],
        ["bracket"],
        ["fitup"],
    ):
        _command([verb[0], str(path), *verb[1:]])


def _command(arguments: list[str]) -> None:
    from jovial_tack.cli import main

    out, err = io.StringIO(), io.StringIO()
    with (
        contextlib.redirect_stdout(out),
        contextlib.redirect_stderr(err),
        warnings.catch_warnings(),
    ):
        warnings.simplefilter("ignore")  # as a process, standard error is closed to them
        status = main(arguments)
    lines = err.getvalue().splitlines()
    assert status in (0, 1, 2), status
    assert len(lines) == (status == 2), lines[:3]
    assert "inside the program" not in err.getvalue(), lines


def a_log(number: int, dice: random.Random, folder: Path) -> None:
    """A garbled log through the verb."""
    names = ("tessary-fen-slipping.csv", "tessary-fen-mended.csv")
    raw = (DATA / "demo" / dice.choice(names)).read_bytes()
    lines = raw.splitlines(keepends=True)
    cut = dice.choice([3, 10, 30, 120, len(lines)])
    raw = b"".join(lines[:cut])
    way = dice.random()
    if way < 0.1:
        raw = raw.decode("utf-8", "replace").encode("utf-16")
    elif way < 0.2:
        raw = raw.replace(b",", b";").replace(b".", b",")
    elif way < 0.3:
        raw = raw.replace(b"\n", b',"\n', dice.randrange(3))
    path = folder / "case.csv"
    path.write_bytes(garbled(dice, raw) if dice.random() < 0.9 else raw)
    _command(["log", str(path)])


def a_map(number: int, dice: random.Random, folder: Path) -> None:
    """A garbled compressor map on the demo's blower."""
    _curve(dice, folder, (DATA / "demo/corvane-61-map.csv").read_bytes(), "blower")


def a_curve(number: int, dice: random.Random, folder: Path) -> None:
    """A garbled output or load curve."""
    rows = "\n".join(f"{900 + 700 * k},{20 * k}" for k in range(8))
    head = dice.choice(["rpm,current_a\n", "rpm;A\n", "rpm,power_kw\n", ""])
    _curve(dice, folder, (head + rows).encode(), dice.choice(["alternator", "pump", "blower"]))


def _curve(dice: random.Random, folder: Path, raw: bytes, shaft: str) -> None:
    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.catalogue import load_catalogue
    from jovial_tack.document.edits.curves import with_curve
    from jovial_tack.files.companions import read_text
    from jovial_tack.files.results_json import results_json
    from support import built

    path = folder / "case.csv"
    path.write_bytes(garbled(dice, raw))
    demo = _KEPT.setdefault(
        "demo", built(json.loads((DATA / "demo/tessary-fen.jtack").read_text("utf-8")))
    )
    try:
        build, _ = with_curve(demo, shaft, read_text(path))
    except Exception as error:
        if not _in_words(error):
            raise
        return
    json.dumps(results_json(solve(build, None, load_catalogue())), allow_nan=False)


def a_stock(number: int, dice: random.Random, folder: Path) -> None:
    """A garbled stock list, bought from."""
    from jovial_tack.answers.belt.buying import choose_belt
    from jovial_tack.catalogue import load_catalogue
    from jovial_tack.document.edits.stock import read_stock, set_stock, write_stock
    from jovial_tack.files.companions import read_text
    from support import built

    raw = b"number,price,count\n7PK1615,20,3\n10PK1180,31.5,0\n10K465,,\n13470,8,\nA52,9,1\n"
    path = folder / "case.csv"
    path.write_bytes(garbled(dice, raw * dice.choice([1, 1, 20])))
    try:
        stock = read_stock(read_text(path))
        demo = built(json.loads((DATA / "demo/tessary-fen.jtack").read_text("utf-8")))
        build = set_stock(demo, stock)
    except Exception as error:
        if not _in_words(error):
            raise
        return
    assert read_stock(write_stock(stock)) == stock
    if number % 20 == 0:
        choose_belt(build, "accessory", load_catalogue(), 4.0, 1)


def own_data(number: int, dice: random.Random, folder: Path) -> None:
    """A garbled or mutated table of one's own."""
    import tomllib

    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.catalogue.own import OWN_TABLES
    from jovial_tack.files.own_data import own_catalogue
    from jovial_tack.files.results_json import results_json
    from support import built

    name = dice.choice(OWN_TABLES)
    raw = (DATA / f"catalogue/{name}.toml").read_bytes()
    if dice.random() < 0.6:
        raw = _toml(mutated(dice, tomllib.loads(raw.decode()))).encode("utf-8", "replace")
    else:
        raw = garbled(dice, raw)
    for old in folder.glob("*.toml"):
        old.unlink()
    (folder / f"{name}.toml").write_bytes(raw)
    try:
        catalogue = own_catalogue(folder)
    except Exception as error:
        if not _in_words(error):
            raise
        return
    if number % 10 == 0:
        demo = built(json.loads((DATA / "demo/tessary-fen.jtack").read_text("utf-8")))
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            json.dumps(results_json(solve(demo, None, catalogue)), allow_nan=False)


def _toml(value: Any) -> str:
    """Tables of plain values as TOML; what has no form there is left out."""
    lines: list[str] = []
    for name, row in value.items() if isinstance(value, dict) else ():
        if isinstance(row, dict):
            lines.append(f"[{json.dumps(str(name))}]")
            for key, item in row.items():
                if isinstance(item, dict):
                    inner = ", ".join(
                        f"{json.dumps(str(k))} = {_plain(v)}" for k, v in item.items()
                    )
                    lines.append(f"{json.dumps(str(key))} = {{ {inner} }}")
                else:
                    lines.append(f"{json.dumps(str(key))} = {_plain(item)}")
        else:
            lines.insert(0, f"{json.dumps(str(name))} = {_plain(row)}")
    return "\n".join(lines) + "\n"


def _plain(item: Any) -> str:
    if isinstance(item, bool):
        return "true" if item else "false"
    if isinstance(item, float) and not math.isfinite(item):
        return "nan" if math.isnan(item) else "inf"
    if isinstance(item, list):
        return "[" + ", ".join(_plain(each) for each in item) + "]"
    if isinstance(item, int | float):
        return repr(item)
    return json.dumps("" if item is None else str(item))


def some_settings(number: int, dice: random.Random, folder: Path) -> None:
    """Garbled settings: they are read, or others stand in."""
    from jovial_tack.files.places import config_folder
    from jovial_tack.files.settings import Settings, load_settings, save_settings

    os.environ["XDG_CONFIG_HOME"] = str(folder)
    save_settings(
        Settings(("/a/b.jtack",), True, (1200, 700), views={"/a/b.jtack": (1.0, 0.0, 0.0)})
    )
    path = config_folder() / "settings.json"
    if dice.random() < 0.6:
        text = json.dumps(mutated(dice, json.loads(path.read_text("utf-8"))))
        path.write_bytes(text.encode("utf-8", "surrogatepass"))
    else:
        path.write_bytes(garbled(dice, path.read_bytes()))
    settings = load_settings()
    assert 100 < settings.size[0] < 1e5
    save_settings(settings)


def a_number(number: int, dice: random.Random, folder: Path) -> None:
    """A belt number, or half of one, that is none."""
    signs = "0123456789PKJVAXB? x×.,-/ \0<\ud8007PK"
    text = "".join(dice.choice(signs) for _ in range(dice.randrange(1, 16)))
    _command(["number", text.encode("utf-8", "replace").decode().replace("\0", "")])


def the_window(number: int, dice: random.Random, folder: Path) -> None:
    """A while of random use of the window: typing in any field, any key, the pointer anywhere."""
    from random_use import use

    use(dice, folder, seconds=4.0)


KINDS: dict[str, Callable[[int, random.Random, Path], None]] = {
    "builds": a_build, "surveys": a_survey, "plates": a_plate, "choices": a_choice,
    "logs": a_log, "maps": a_map,
    "curves": a_curve, "stock": a_stock,
    "own": own_data, "settings": some_settings, "numbers": a_number, "window": the_window,
}  # fmt: skip
#: How much of the time each gets.
_SHARES = {"builds": 6, "logs": 3, "window": 3}


def _warm_up() -> None:
    """Load what a case needs before its time begins to count."""
    import polars

    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.catalogue import load_catalogue
    from support import furnished

    if "warm" not in _KEPT:
        solved = solve(furnished(), None, load_catalogue())
        _KEPT["warm"] = polars.Series([1.0]), solved


def tried(kind: str, number: int, folder: Path) -> str | None:
    """Run one case; returns what broke, None if nothing did."""

    def too_long(*_: object) -> None:
        raise TooLongError

    _warm_up()
    dice = random.Random(f"{kind} {number}")
    signal.signal(signal.SIGALRM, too_long)
    most = {"window": 60.0, "surveys": 3 * _MOST_S}.get(kind, _MOST_S)
    signal.setitimer(signal.ITIMER_REAL, most)
    try:
        KINDS[kind](number, dice, folder)
    except TooLongError:
        return f"over {most:.0f} s\n{traceback.format_exc(limit=-4)}"
    except BaseException:
        return traceback.format_exc(limit=-6)
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0.0)
    return None


def _some(task: tuple[str, int]) -> tuple[str, int, list[tuple[int, str]]]:
    """A batch of cases of a kind from a number on."""
    kind, first = task
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    broken = []
    count = 1 if kind == "window" else _AT_ONCE
    with tempfile.TemporaryDirectory() as name:
        for number in range(first, first + count):
            why = tried(kind, number, Path(name))
            if why is not None:
                broken.append((number, why))
    return kind, count, broken


def _tasks(kinds: list[str], first: int) -> Iterator[tuple[str, int]]:
    """Batches of all kinds in turn, for ever."""
    turn = [kind for kind in kinds for _ in range(_SHARES.get(kind, 1))]
    at = dict.fromkeys(kinds, first)
    while True:
        for kind in turn:
            yield kind, at[kind]
            at[kind] += 1 if kind == "window" else _AT_ONCE


def main() -> int:
    """Fuzz for some minutes and print figures; exit status 1 if anything broke."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("minutes", nargs="?", type=float, default=10.0)
    parser.add_argument("--only", default=",".join(KINDS))
    parser.add_argument("--first", type=int, default=0, help="the number of the first case")
    parser.add_argument("--seed", type=int, help="run this one case alone")
    asked = parser.parse_args()
    kinds = [kind for kind in asked.only.split(",") if kind in KINDS]
    if asked.seed is not None:
        with tempfile.TemporaryDirectory() as name:
            why = tried(kinds[0], asked.seed, Path(name))
        print(why or "nothing broke")
        return int(why is not None)
    counts, broken = dict.fromkeys(kinds, 0), 0
    seen: set[tuple[str, str]] = set()
    ends = time.monotonic() + 60 * asked.minutes
    tasks = _tasks(kinds, asked.first)
    with get_context("spawn").Pool(os.cpu_count(), maxtasksperchild=40) as pool:
        running: list[Any] = []
        while running or time.monotonic() < ends:
            while len(running) < 2 * (os.cpu_count() or 1) and time.monotonic() < ends:
                running.append(pool.apply_async(_some, (next(tasks),)))
            ready = [task for task in running if task.ready()]
            running = [task for task in running if task not in ready]
            for task in ready:
                kind, count, found = task.get()
                counts[kind] += count
                for number, why in found:
                    broken += 1
                    last = why.strip().splitlines()[-1][:160]
                    if (kind, last) not in seen:
                        seen.add((kind, last))
                        print(f"{kind} {number}: {why}", flush=True)
            time.sleep(0.01)
    told = ", ".join(f"{count} {kind}" for kind, count in counts.items())
    print(f"{told}: {broken} broke, in {len(seen)} ways")
    return int(broken > 0)


if __name__ == "__main__":
    sys.exit(main())
