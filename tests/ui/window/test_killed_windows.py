"""Three windows killed while typed in, dragged, saved, recovered: each is listed, none twice."""

from __future__ import annotations

import os
import random
import subprocess
import sys
import time
from pathlib import Path

import pytest

from jovial_tack.catalogue import load_catalogue
from jovial_tack.files.build_file import read_build
from jovial_tack.files.recovery import LostWork, lost_work
from support import DEMO

#: raise it to try harder: JOVIAL_TACK_KILLS=20 kills three windows as often
ROUNDS = int(os.environ.get("JOVIAL_TACK_KILLS", "4")) // 4

SCRIPT = """
import sys, time
from pathlib import Path
from PyQt6.QtTest import QTest
from jovial_tack.document.edits.engine import set_title
from jovial_tack.files.recovery import lost_work
from jovial_tack.ui.app import make_application, make_window
from jovial_tack.ui.lay_out.room import LayOutRoom

app = make_application(["editing"])
window = make_window()
path, way = Path(sys.argv[1]), sys.argv[2]
window.show()
if way == "recovers":
    work = next(w for w in lost_work(window.session.catalogue) if w.path == path)
    window.files.recover(work)
else:
    window.load(path)
name = window.desk.room(LayOutRoom).variants.name
window.desk.call(window.desk.room(LayOutRoom).variants)
number = 0
while True:
    number += 1
    now = f"{time.time():.3f}"
    build = set_title(window.session.build, now)
    if number % 3 == 0:
        window.session.preview(build)
        window.session.commit_preview("drag")
    else:
        window.session.edit("title", build)
    if way == "typed":
        name.setFocus()
        name.selectAll()
        QTest.keyClicks(name, now)
    if way == "saves" and number % 15 == 0:
        window.files.save()
    print(now, flush=True)
    QTest.qWait(60)
"""


def killed_together(paths: list[Path], ways: list[str], after_s: float) -> list[float]:
    """When each window was last edited before all were killed."""
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    running = [
        subprocess.Popen(
            [sys.executable, "-c", SCRIPT, str(path), way],
            stdout=subprocess.PIPE,
            text=True,
            env=env,
        )
        for path, way in zip(paths, ways, strict=True)
    ]
    for each in running:
        assert each.stdout is not None and each.stdout.readline()
    time.sleep(after_s)
    last = []
    for each in running:
        each.kill()
        assert each.stdout is not None
        said = each.stdout.read().split()
        each.stdout.close()
        each.wait(60)
        last.append(float(said[-2 if len(said) > 1 else -1]) if said else 0.0)
    return last


@pytest.mark.parametrize("number", range(ROUNDS))
def test_of_three_killed_windows_each_is_listed_and_none_twice(number: int, tmp_path: Path) -> None:
    dice = random.Random(number)
    paths = [tmp_path / f"{k}.jtack" for k in range(3)]
    for path in paths:
        path.write_text(DEMO.read_text())
    killed_together(paths, ["typed", "edits", "saves"], dice.uniform(1.5, 4.0))
    again = [path for path in paths if any(w.path == path for w in lost_work(load_catalogue()))]
    # recovered, edited on, and killed once more
    ways = ["recovers" if path in again else "edits" for path in paths]
    last = killed_together(paths, ways, dice.uniform(1.5, 3.0))
    works = lost_work(load_catalogue())
    by_path: dict[Path | None, list[LostWork]] = {}
    for work in works:
        by_path.setdefault(work.path, []).append(work)
    for path, edited in zip(paths, last, strict=True):
        saved = read_build(path, load_catalogue()).build.title
        mine = by_path.get(path, [])
        assert len(mine) <= 1
        titles = [work.build.title for work in mine] + [saved]
        newest = max((float(t) for t in titles if t[:1].isdigit()), default=0.0)
        assert edited - newest <= 2.0
    typed = [each.text for work in by_path.get(paths[0], []) for each in work.typed]
    assert len(typed) == 1 and typed[0][:1].isdigit()
