"""The logbook read through, and its table out and in again."""

from __future__ import annotations

import csv
import io
import json
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jovial_tack.answers.logbook.told import LogbookTold, logbook_told
from jovial_tack.answers.logbook.words import cost_words, due_words, event_words, life_words
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.document.edits.logbook import (
    add_attachment,
    add_event,
    add_interval,
    add_offer,
    put_events,
    remove_event,
    remove_interval,
    remove_offer,
    set_event,
    set_interval,
    set_offer,
    set_pace,
    set_use,
)
from jovial_tack.document.model import Build, dump
from jovial_tack.files.build_file import text_of
from jovial_tack.files.logbook_csv import COLUMNS, logbook_csv, taken
from support import DEMO, built

TODAY = date(2026, 11, 27)
PLAIN = built({k: v for k, v in json.loads(DEMO.read_text()).items() if k != "logbook"})


def kept() -> Build:
    """The demo with two years of a logbook."""
    build = set_use(PLAIN, unit="km", km=48_000.0)
    build = set_pace(build, "km", 400.0)
    rows: list[dict[str, Any]] = [
        {"kind": "belt_tried", "at": "2024-03-01", "verdict": "short", "number": "10PK1170",
         "cost": 31.0, "currency": "EUR", "drive": "blower"},
        {"kind": "fitted", "at": "2024-03-02", "km": 30_000.0, "drive": "blower",
         "number": "10PK1195", "construction": "standard", "cost": 33.5, "currency": "EUR"},
        {"kind": "removed", "at": "2024-09-01", "km": 34_000.0, "drive": "blower", "reason": "slipped"},
        {"kind": "fitted", "at": "2024-09-01", "km": 34_000.0, "drive": "blower",
         "construction": "standard"},
        {"kind": "tension_check", "at": "2024-09-02", "km": 34_010.0, "drive": "blower",
         "span": "crank", "tone_hz": 80.0},
        {"kind": "tension_check", "at": "2024-10-02", "km": 34_400.0, "drive": "blower",
         "span": "crank", "tone_hz": 68.0, "after": "first"},
        {"kind": "removed", "at": "2025-05-01", "km": 38_000.0, "drive": "blower", "reason": "worn"},
        {"kind": "fitted", "at": "2025-05-01", "km": 38_000.0, "drive": "blower",
         "construction": "standard"},
        {"kind": "removed", "at": "2026-02-01", "km": 45_000.0, "drive": "blower", "reason": "torn"},
        {"kind": "fitted", "at": "2026-02-01", "km": 45_000.0, "drive": "blower",
         "construction": "soft_grip"},
        {"kind": "inspection", "at": "2026-06-01", "km": 46_500.0, "drive": "blower",
         "material": "epdm", "gauge": "level", "findings": {"black_dust": True, "cracks": False}},
    ]  # fmt: skip
    return put_events(build, rows)


def told_of(build: Build) -> LogbookTold:
    return logbook_told(build, load_catalogue(), TODAY)


def test_lives_dues_wear_tension_and_costs_are_told() -> None:
    build, _ = add_interval(kept(), "belt:blower", km=3_500, months=24)
    build, locked = add_interval(build, "belt:blower", after_event="engine_locked")
    build, _ = add_interval(build, "tension:blower", km=300)
    build, _ = add_interval(build, "bearing:blower_idler", months=36)
    told = told_of(build)
    first, second, third, bearing = told.due
    # 3,000 of 3,500 km since the belt of February; nothing else is nearer
    assert first.due.share == pytest.approx(3000 / 3500) and first.due.state == "watch"
    assert "belt of Blower drive: 86 % by distance" in due_words(first)
    assert second.due.state == "good" and third.due.state == "stop"
    assert bearing.due.first == "months"  # from the first belt that was fitted
    locked_up, _ = add_event(build, "engine_locked", "2026-11-01", km=47_900.0)
    assert told_of(locked_up).due[1].due.first == "event" and locked
    standard = next(each for each in told.lives if each.construction == "standard")
    assert (standard.record.count, standard.record.ended, standard.record.total) == (3, 3, 15_000)
    assert standard.record.median == 4000.0 and "one in 5000 km" in life_words(standard)
    soft = next(each for each in told.lives if each.construction == "soft_grip")
    assert (soft.record.running, soft.record.rate) == (1, None)
    assert [each.change for each in told.wear] == [
        "the wear gauge is level with the ribs, however new it looks"
    ]
    assert [round(each.share, 4) for each in told.kept] == [0.7225]
    assert "64.50 EUR in all, 31.00 EUR of it" in cost_words(told)[0]
    assert {finding.code for finding in told.findings} == {
        "change_due",
        "retension_due",
        "wear_limit",
    }
    assert all(finding.level == "watch" for finding in told.findings) and not told.problems
    # a check after the first distance has the belt seen to; without a day time is left open
    seen, _ = add_event(build, "tension_check", "2026-03-01", drive="blower")
    assert told_of(seen).due[2].done
    assert logbook_told(build, load_catalogue(), None).due[0].due.state == "not_determined"
    # what cannot be so is said
    wrong, _ = add_event(build, "note", "2026-02-30", km=10.0)
    assert any("no day 2026-02-30" in each for each in told_of(wrong).problems)
    assert any("though" in each for each in told_of(wrong).problems)
    assert all(event_words(build, event) for event in build.logbook.events)


def test_every_part_is_edited_in_place_and_an_empty_logbook_leaves_no_key() -> None:
    build, name = add_event(PLAIN, "cost", "2026-01-01", cost=5.0, note="a washer")
    build = set_event(build, name, cost=6.0, note=None)
    build, interval = add_interval(build, "belt:gone", km=100)
    build = set_interval(build, interval, km=None, months=3)
    build = add_offer(build, "blower", "10PK1180", price=30.0, other_numbers=("K101180",))
    build = set_offer(build, 0, price=29.0)
    build, _ = add_attachment(build, "belt.jpg", "0" * 64, 10, of=name, caption="edge")
    book = dump(build)["logbook"]
    assert book["events"] == [{"id": "cost", "at": "2026-01-01", "kind": "cost", "cost": 6.0}]
    assert book["intervals"] == [{"id": "belt gone", "what": "belt:gone", "months": 3}]
    assert book["offers"][0]["price"] == 29.0 and book["offers"][0]["for"] == "blower"
    build = remove_event(build, name)
    assert "of" not in dump(build)["logbook"]["attachments"][0]
    build = remove_offer(remove_interval(build, interval), 0)
    assert set(dump(build)["logbook"]) == {"attachments"}
    assert "logbook" not in dump(remove_event(add_event(PLAIN, "note", "2026-01-01")[0], "note"))


LETTERS = st.characters(codec="utf-8", exclude_categories=("Cs", "Cc"))
HARD = ("=1+1", "'=x", "+49 1", "-", "−3", "@me", "a;b", 'say "so"', "line\nline", "''-")
TEXTS = st.text(LETTERS, max_size=20) | st.sampled_from(HARD)


@given(st.lists(st.tuples(TEXTS, TEXTS, st.floats(0, 9e4), st.booleans()), min_size=1, max_size=8))
def test_out_and_in_again_is_the_same_logbook(drawn: list[tuple[str, str, float, bool]]) -> None:
    build = kept()
    for note, what, figure, seen in drawn:
        findings = {"squeal": seen} if seen else None
        build, _ = add_event(
            build, "inspection", "2026-03-03", note=note.strip(), what=what.strip(), km=figure,
            arm_angle_deg=-figure, through_cracks=seen, findings=findings,
        )  # fmt: skip
    table = logbook_csv(build)
    again = taken(PLAIN, table)
    assert not again.bad and again.added == len(build.logbook.events)
    assert again.build.logbook.events == build.logbook.events
    assert logbook_csv(again.build) == table and text_of(again.build)
    twice = taken(build, table)
    assert twice.build == build and not twice.added
    # no cell of words begins as a formula does
    texts = [row["note"] for row in csv.DictReader(io.StringIO(table))]
    assert not any(text[:1] in "=+-−@" for text in texts if text)


def test_a_spreadsheets_table_is_read_and_bad_rows_are_told(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    table = tmp_path / "in.csv"
    lines = (
        "id;at;km;kind;cost;currency;colour;drive",
        ";2026-01-05;1200,5;cost;12,90;EUR;red;blower",
        ";2026-02-30;1;note;;;;",
        ";2026-01-06;far;note;;;;",
        ";2026-01-06;;dance;;;;",
        "a;2026-01-07;;note;;;;",
        "a;2026-01-08;;note;;;;",
        ";2026-01-09;;note;;;;;;",
    )
    table.write_text("\ufeff" + "\r\n".join(lines), "utf-8")
    out, back = tmp_path / "out.jtack", tmp_path / "back.csv"
    plain = tmp_path / "plain.jtack"
    plain.write_text(text_of(PLAIN))
    asked = ["logbook", str(plain), "--on", "2026-11-27", "--csv", str(back)]
    assert main([*asked, "--import", str(table), "-o", str(out)]) == 0
    said = capsys.readouterr().out
    assert "2 events entered" in said and "12.90 EUR in all" in said
    for bad in (
        "line 3: there is no day",
        "line 4: km",
        "line 5: kind",
        "line 7: the id a",
        "line 8",
    ):
        assert f"not taken, {bad}" in said
    events = json.loads(out.read_text())["logbook"]["events"]
    assert events[0]["km"] == 1200.5 and events[0]["x_colour"] == "red"
    assert back.read_text().splitlines()[0] == ",".join([*COLUMNS, "x_colour"])
    assert main(["logbook", str(out), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["cost"]["total"] == {"EUR": 12.9}
    for wrong, why in (
        (["--on", "2026-02-30"], "no day such as"), (["--import", str(table)], "belong together"),
        (["--import", str(DEMO), "-o", str(out)], "first line has at and kind"),
    ):  # fmt: skip
        assert main(["logbook", str(DEMO), *wrong]) == 2
        assert why in capsys.readouterr().err
