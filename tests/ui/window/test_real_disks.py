"""A small real disk that is full, read-only or gone: a sentence, and nothing of what was is lost."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from support import DEMO

#: Run as its own process in a space of its own, where it may mount what only it sees.
SCRIPT = """
import contextlib, shutil, subprocess, sys
from pathlib import Path
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.edits.engine import set_title
from jovial_tack.files.recovery import Keeper, lost_work
from jovial_tack.files.settings import Settings, load_settings, save_settings
from jovial_tack.ui.app import make_application, make_window

disk = Path(sys.argv[1])
app = make_application(["full"])
window = make_window()
told = []
window.safekeeping.told.connect(told.append)
work = disk / "work"
work.mkdir()
path = work / "mine.jtack"
shutil.copy(sys.argv[2], path)
window.load(path)
edits = iter(range(1000))


def edit():
    window.session.edit("title", set_title(window.session.build, f"edit {next(edits)}"))


def must_refuse(words):
    before, there = path.read_bytes(), sorted(p.name for p in path.parent.iterdir())
    kept = window.safekeeping.keeper.file.read_bytes()
    title = window.session.build.title
    edit()
    edited = window.session.build.title
    assert edited != title
    window.files.save()
    assert words in window.notice.text.text(), window.notice.text.text()
    assert window.session.is_modified and window.session.build.title == edited
    window.safekeeping.keep_now()
    assert told and words in told[-1], told
    assert path.read_bytes() == before
    assert sorted(p.name for p in path.parent.iterdir()) == there
    assert window.safekeeping.keeper.file.read_bytes() == kept


edit()
window.files.save()
edit()
window.safekeeping.keep_now()
assert not told
filler = disk / "filler"
with filler.open("wb", buffering=0) as file, contextlib.suppress(OSError):
    while True:
        file.write(b"x" * 512)
must_refuse("the disk is full")
filler.unlink()

# mounted once more over itself: the log of the program is open for writing on the first
subprocess.run(["mount", "--bind", disk, disk], check=True)
subprocess.run(["mount", "-o", "remount,bind,ro", disk], check=True)
window.safekeeping.fails = False  # told once, and it is another trouble now
must_refuse("read-only")
subprocess.run(["umount", disk], check=True)

gone = disk / "gone"
work.rename(gone)
window.files.save()
assert "folder does not exist" in window.notice.text.text(), window.notice.text.text()
gone.rename(work)
window.files.save()
assert window.session.build.title in path.read_text() and not window.session.is_modified
print("done")
"""


def _can_mount(folder: Path) -> bool:
    if shutil.which("unshare") is None:
        return False
    mounting = ["unshare", "-rm", "mount", "-t", "tmpfs", "none", str(folder)]
    return subprocess.run(mounting, capture_output=True).returncode == 0


def test_full_read_only_and_vanished(tmp_path: Path) -> None:
    if not _can_mount(tmp_path):
        pytest.skip("no space of its own can be mounted here")
    mount = f"mount -t tmpfs -o size=600k none {tmp_path}"
    running = subprocess.run(
        ["unshare", "-rm", "sh", "-c", f'{mount} && exec "$@"', "-",
         sys.executable, "-c", SCRIPT, str(tmp_path), str(DEMO)],
        capture_output=True,
        text=True,
        timeout=120,
        env={
            **os.environ,
            "QT_QPA_PLATFORM": "offscreen",
            "XDG_STATE_HOME": str(tmp_path / "state"),
        },
    )  # fmt: skip
    assert (running.returncode, running.stdout) == (0, "done\n"), running.stderr
