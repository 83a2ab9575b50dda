"""Who has a build open: windows that ended, other machines, links, garbled lists."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from pathlib import Path

import pytest

from jovial_tack.files import locks
from jovial_tack.files.locks import Mark, list_of


def build(folder: Path) -> Path:
    file = folder / "shared.jtack"
    file.write_text("{}")
    return file


def held_elsewhere(file: Path) -> subprocess.Popen[str]:
    """Another process that has the file open."""
    code = (
        "import sys, time; from pathlib import Path; from jovial_tack.files.locks import Mark\n"
        "mark = Mark(); mark.hold(Path(sys.argv[1])); print('held', flush=True); time.sleep(60)"
    )
    running = subprocess.Popen(
        [sys.executable, "-c", code, str(file)], stdout=subprocess.PIPE, text=True
    )
    assert running.stdout is not None and running.stdout.readline() == "held\n"
    return running


def test_a_window_that_ended_counts_no_more_and_the_others_still_do(tmp_path: Path) -> None:
    """A opens, B opens, A closes, C opens: C is told of B, and B of nobody that is dead."""
    file, b, c = build(tmp_path), Mark(), Mark()
    a = held_elsewhere(file)
    b.hold(file)
    assert [holder.process for holder in b.others()] == [a.pid]
    a.kill()
    a.wait()
    assert a.stdout is not None
    a.stdout.close()
    assert b.others() == ()
    c.hold(file)
    assert [holder.process for holder in c.others()] == [os.getpid()] and len(b.others()) == 1
    b.hold(None)
    assert c.others() == ()
    c.hold(None)
    assert not list_of(file).exists()


def test_a_number_that_is_used_again_is_another_process(tmp_path: Path) -> None:
    file, mine = build(tmp_path), Mark()
    Mark().hold(file)
    kept = json.loads(list_of(file).read_text())
    kept["windows"][0] |= {"process": os.getppid(), "began": "1"}  # it runs, but began elsewhen
    list_of(file).write_text(json.dumps(kept))
    mine.hold(file)
    assert mine.others() == ()


def test_another_machine_counts_until_it_is_silent_or_the_user_says_so(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file, theirs, mine = build(tmp_path), Mark(), Mark()
    with monkeypatch.context() as there:
        there.setattr(locks, "_machine", lambda: "another@there")
        there.setattr("socket.gethostname", lambda: "there")
        theirs.hold(file)
    mine.hold(file)
    (other,) = mine.others()
    assert not other.is_here and "on there" in other.words
    mine.take_over()
    assert mine.others() == ()
    with monkeypatch.context() as there:
        there.setattr(locks, "_machine", lambda: "another@there")
        theirs.renew()
    assert len(mine.others()) == 1
    later = time.time() + 3600
    monkeypatch.setattr("time.time", lambda: later)
    assert mine.others() == ()
    # of this machine, but before it was started again
    monkeypatch.undo()
    with monkeypatch.context() as before:
        before.setattr(locks, "_boot", lambda: "an earlier start")
        theirs.renew()
    assert mine.others() == ()


def test_by_a_link_it_is_the_same_file(tmp_path: Path) -> None:
    file, one, other = build(tmp_path), Mark(), Mark()
    link = tmp_path / "elsewhere" / "link.jtack"
    link.parent.mkdir()
    link.symlink_to(file)
    one.hold(file)
    other.hold(link)
    assert len(one.others()) == len(other.others()) == len(Mark().others(link)) - 1 == 1


@pytest.mark.parametrize("content", [b"", b"12\n\0", b"{}", b"[]", b'{"windows": 3}', b"\xff" * 99])
def test_a_garbled_list_names_nobody(tmp_path: Path, content: bytes) -> None:
    file, mine = build(tmp_path), Mark()
    list_of(file).write_bytes(content)
    mine.hold(file)
    assert mine.others() == () and json.loads(list_of(file).read_text())["windows"]


@pytest.mark.parametrize("kind", ["pipe", "folder", "link"])
def test_what_is_no_file_is_left_alone_and_waits_for_nothing(tmp_path: Path, kind: str) -> None:
    file, mine = build(tmp_path), Mark()
    there, before = list_of(file), tmp_path / "private.txt"
    before.write_text("mine")
    if kind == "pipe":
        os.mkfifo(there)
    elif kind == "folder":
        there.mkdir()
    else:
        there.symlink_to(before)
    mine.hold(file)
    assert mine.others() == () and before.read_text() == "mine"
    mine.hold(None)
    assert there.is_symlink() or there.exists()
