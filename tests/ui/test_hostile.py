"""A received pack of files that means no good: nothing outside the named one is read, nothing waits."""

from __future__ import annotations

import json
import math
import os
import resource
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from driving import memory_mb, settle
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.window.main_window import MainWindow
from support import DEMO

COMMAND = Path(sys.executable).with_name("jovial-tack")
_LIMIT_BYTES = 3_000_000_000  # of addresses, of which most are never touched
SECRET = "the-secret-of-the-neighbour"


def with_map(name: str) -> bytes:
    """The demo, its blower's map named and not carried along."""
    data = json.loads(DEMO.read_text("utf-8"))
    for shaft in data["shafts"]:
        if shaft["id"] == "blower":
            shaft["load"]["map_csv"] = name
    return json.dumps(data).encode()


def edited(change: Callable[[dict], object]) -> bytes:  # type: ignore[type-arg]
    data = json.loads(DEMO.read_text("utf-8"))
    change(data)
    return json.dumps(data).encode()


def pack(folder: Path) -> list[Path]:
    """Forty files, some of which lead elsewhere."""
    outside = folder.parent / "outside"
    outside.mkdir()
    (outside / "map.csv").write_text(f"{SECRET}\n1,2,3,4\n")
    os.mkfifo(folder / "pipe.csv")
    os.mkfifo(folder / "pipe.jtack")
    (folder / "link.csv").symlink_to(outside / "map.csv")
    (folder / "there").symlink_to(outside)
    (folder / "round.csv").symlink_to(folder / "round.csv")
    (folder / "zero.csv").symlink_to("/dev/zero")
    (folder / "zero.jtack").symlink_to("/dev/zero")
    (folder / "folder.jtack").mkdir()
    (folder / "large.csv").write_bytes(b"1,2\n" * 800_000)
    names = [
        "pipe.csv", "link.csv", "there/map.csv", "round.csv", "zero.csv", "/dev/zero", "large.csv",
        "../outside/map.csv", "/etc/passwd", "a\0b.csv", "folder.jtack", "", ".", "~/.ssh/id",
    ]  # fmt: skip
    found: dict[str, bytes] = {f"map{k}.jtack": with_map(name) for k, name in enumerate(names)}
    whole = DEMO.read_bytes()
    formula = '=HYPERLINK("http://x","y")'
    turns = [2 * math.pi * k / 500 for k in range(500)]
    outline = [[60 + 30 * math.cos(turn), 420 + 30 * math.sin(turn)] for turn in turns]
    found |= {
        "empty.jtack": b"", "nul.jtack": b"\0" * 5000, "half.jtack": whole[: len(whole) // 2],
        "deep.jtack": b'{"a":' * 100_000, "list.jtack": b"[" * 100_000,
        "utf16.jtack": whole.decode().encode("utf-16"),
        "twice.jtack": whole.replace(b'"title"', b'"title": "x", "title"', 1),
        "large.jtack": b'{"x": "' + b"a" * 21_000_000 + b'"}',
        "number.jtack": whole.replace(b"850", b"9" * 5000, 1),
        "surrogate.jtack": edited(lambda d: d.update(x=["\ud800"])),
        "formula.jtack": edited(lambda d: d.update(title=formula)),
        "markup.jtack": edited(lambda d: d.update(title='<img src="pipe.csv"><b>x</b>')),
        "names.jtack": edited(lambda d: [s.update(name='<img src="/dev/zero">') for s in d["shafts"]]),
        "outlines.jtack": edited(lambda d: d.update(obstacles=[
            {"id": f"o{k}", "kind": "other", "outline_mm": outline} for k in range(60)])),
        "stock.jtack": edited(lambda d: d.update(stock=[{"number": "7PK" + "1" * 200_000}])),
        "quote.csv": b"time,rpm,boost\n" + b"0.1,2000,5\n" * 40 + b'"',
        "panic.csv": b"time,rpm,boost\n" + b"0.1,2000,5\n" * 40 + b'0.2,3000,"',
        "wide.csv": b"time,rpm,boost" + b",x" * 50_000 + b"\n" + b"1,2,3\n" * 40,
        "binary.csv": bytes(range(256)) * 200, "line.csv": b"1," * 2_000_000,
        "formula.csv": b"time,rpm,boost,=cmd|' /C calc'!A0\n" + b"0.1,2000,5,1\n" * 40,
    }  # fmt: skip
    for name, raw in found.items():
        (folder / name).write_bytes(raw)
    every = sorted(p for p in folder.iterdir() if p.suffix in (".jtack", ".csv"))
    assert len(every) >= 40
    return every


def limited() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (_LIMIT_BYTES, _LIMIT_BYTES))


@pytest.mark.slow
def test_the_command_line_answers_in_a_line_and_reads_nothing_else(tmp_path: Path) -> None:
    folder = tmp_path / "pack"
    folder.mkdir()
    for path in pack(folder)[::2]:  # the window opens all of them
        verb = ["log", str(path)] if path.suffix == ".csv" else ["solve", "--bare", str(path)]
        ended = subprocess.run(
            [str(COMMAND), *verb], capture_output=True, timeout=20, preexec_fn=limited
        )
        said = ended.stderr.decode("utf-8", "replace")
        assert ended.returncode in (0, 1, 2), (path.name, said)
        assert len(said.splitlines()) == (ended.returncode == 2), (path.name, said[:300])
        assert "inside the program" not in said, (path.name, said)
        assert SECRET.encode() not in ended.stdout + ended.stderr, path.name


def test_the_window_opens_each_or_says_why_and_stays_as_it_is(
    qtbot: QtBot, window: MainWindow, tmp_path: Path
) -> None:
    folder = tmp_path / "pack"
    folder.mkdir()
    Path("/proc/self/clear_refs").write_text("5")  # the peak counts from here
    held = memory_mb("VmRSS")
    for path in pack(folder):
        began = time.monotonic()
        before = window.session.build
        if path.suffix == ".csv":
            room = window.desk.room(RunCheckRoom)
            room.load_log(path)
            qtbot.waitUntil(lambda r=room: not r.logs.busy, timeout=10_000)
        else:
            window.load(path)
        took = time.monotonic() - began
        assert took < 30.0, (path.name, took)  # it did not wait for ever
        if window.session.path != path:
            assert window.session.build is before
        window.grab()
        shown = " ".join(f"{s.name}" for s in window.session.build.shafts)
        assert SECRET not in shown
    settle(qtbot, window)
    grew = memory_mb("VmHWM") - held
    assert grew < 300, f"{grew:.0f} MB over {held:.0f}"
