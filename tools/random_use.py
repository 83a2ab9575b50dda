"""Random use of the window: what a hand without a plan might do.

    python tools/random_use.py [MINUTES] [--seed N]

A case of `tools/fuzz.py` for some seconds; by itself one window for long, with its memory: exit status
1 if anything went wrong inside it or it grew by more than 30 MB after its first ten minutes.
"""

from __future__ import annotations

import argparse
import os
import random
import sys
import tempfile
import threading
import time
import traceback
from pathlib import Path
from typing import Any

from jovial_tack.document.targets import NOTHING, BeltAt, ObstacleAt, PulleyAt, ShaftAt, Target

_TYPED = (
    "130", "5 1/8 in", "-3", "0", "abc", "", "1e9", "12 N·m", "7PK1615", "<b>x</b>", "1000:5 2000:9",
    "3,5", "0.5", "99999", "=1", "ä🔩",
)  # fmt: skip


def use(dice: random.Random, folder: Path, seconds: float) -> None:
    """Use a window on the demo at random for some seconds; what goes wrong inside it is raised."""
    for name in ("CONFIG", "STATE", "DATA"):
        os.environ[f"XDG_{name}_HOME"] = str(folder / name.lower())
    from PyQt6.QtCore import QEvent, QPoint, Qt, QTimer
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QLineEdit, QPushButton

    from jovial_tack.core.errors import BuildFileError
    from jovial_tack.ui.app import demo_file, make_application, make_window, survive_errors

    caught: list[BaseException] = []
    for asked in ("getOpenFileName", "getSaveFileName"):
        setattr(QFileDialog, asked, staticmethod(lambda *_: ("", "")))
    application = make_application(["fuzz"])
    window = make_window()
    survive_errors(window)
    told = window.report

    def report(error: BaseException) -> None:
        told(error)
        if not isinstance(error, BuildFileError):  # an edit that is refused in words is no fault
            caught.append(error)

    window.report = report  # type: ignore[method-assign]
    window.load(demo_file(), demo=True)
    window.show()
    window.activateWindow()
    actions = [a for menu in window.menus._menus.values() for a in menu.actions()]
    actions = [a for a in actions if a.text() not in ("", "&Quit") and not a.menu()]

    def seen(kind: Any) -> list[Any]:
        return [w for w in window.findChildren(kind) if w.isVisible() and w.isEnabled()]

    def type_somewhere() -> None:
        fields = [f for f in seen(QLineEdit) if not f.isReadOnly()]
        if not fields:
            return
        field = dice.choice(fields)
        field.setFocus()
        field.selectAll()
        typed = dice.choice(_TYPED)
        if typed.isascii():
            QTest.keyClicks(field, typed)
        else:
            field.insert(typed)  # the test library types no other keys
        if dice.random() < 0.5:
            QTest.keyClick(field, Qt.Key.Key_Return)

    def press_something() -> None:
        buttons = seen(QPushButton)
        if buttons:
            dice.choice(buttons).click()

    def choose_something() -> None:
        boxes = [box for box in seen(QComboBox) if box.count()]
        if boxes:
            box = dice.choice(boxes)
            place = dice.randrange(box.count())
            box.setCurrentIndex(place)
            box.activated.emit(place)

    def drag_somewhere() -> None:
        view = window.front.viewport()
        assert view is not None
        size = view.size()
        points = [
            QPoint(dice.randrange(max(size.width(), 1)), dice.randrange(max(size.height(), 1)))
            for _ in range(3)
        ]
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=points[0])
        QTest.mouseMove(view, points[1])
        QTest.mouseMove(view, points[2])
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=points[2])

    def press_a_key() -> None:
        keys = [Qt.Key.Key_Tab, Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Return, Qt.Key.Key_Escape,
                Qt.Key.Key_Delete, Qt.Key.Key_PageDown, Qt.Key.Key_Space]  # fmt: skip
        target = QApplication.focusWidget() or window.front
        QTest.keyClick(target, dice.choice(keys), dice.choice(
            [Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier]))  # fmt: skip

    def select_something() -> None:
        build = window.session.build
        found: list[Target] = [ShaftAt(s.id) for s in build.shafts]
        found += [PulleyAt(d.id, p.id) for d in build.drives for p in d.pulleys]
        found += [BeltAt(d.id) for d in build.drives] + [ObstacleAt(o.id) for o in build.obstacles]
        window.session.select(dice.choice(found) if found else NOTHING)

    def act() -> None:
        enabled = [a for a in actions if a.isEnabled()]
        dice.choice(enabled).trigger()

    deeds = [type_somewhere] * 4 + [press_something, choose_something, drag_somewhere, press_a_key]
    deeds += [select_something] * 2 + [act] * 3
    began, done = time.monotonic(), 0

    def go_on() -> None:
        nonlocal done
        if caught or time.monotonic() - began >= seconds:
            application.exit()  # not quit: a window with unsaved work would keep it from ending
            return
        dice.choice(deeds)()
        done += 1
        while dice.random() < 0.7 and not caught:  # several before the window comes to itself
            dice.choice(deeds)()
            done += 1

    # inside the loop a user's window runs in: outside it nothing that is to be deleted later ever is
    beat = QTimer()
    beat.timeout.connect(go_on)
    beat.start(0)

    def close_menu() -> None:
        popup = QApplication.activePopupWidget()
        if popup is not None:
            popup.close()

    # a menu that is open waits in a loop of its own, from which `beat` does not call again
    rescue = QTimer()
    rescue.timeout.connect(close_menu)
    rescue.start(150)
    try:
        application.exec()
    finally:
        beat.stop()
        rescue.stop()
        window.leave()
        window.deleteLater()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        application.processEvents()
    if caught:
        raise caught[0]
    assert done > 5, "the window did next to nothing"


_EACH_S = 60
_WARM_MIN = 10
_MOST_GROWTH_MB = 30.0


def memory_mb() -> float:
    """Memory this process holds now, MB."""
    status = Path("/proc/self/status").read_text()
    line = next(line for line in status.splitlines() if line.startswith("VmRSS"))
    return int(line.split()[1]) / 1024


def main() -> int:
    """Use one window for some minutes and watch its memory."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("minutes", nargs="?", type=float, default=20.0)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    held: list[float] = []

    def watch() -> None:
        while True:
            time.sleep(_EACH_S)
            held.append(memory_mb())
            print(f"{len(held)} min {held[-1]:.0f} MB", flush=True)

    threading.Thread(target=watch, daemon=True).start()
    with tempfile.TemporaryDirectory() as name:
        try:
            use(random.Random(asked.seed), Path(name), 60 * asked.minutes + 1)
        except BaseException:
            traceback.print_exc()
            return 1
    late = held[_WARM_MIN - 1 :]
    growth = max(late) - late[0] if late else 0.0
    print(f"seed {asked.seed}: nothing broke; grew by {growth:.0f} MB after {_WARM_MIN} minutes")
    return int(growth > _MOST_GROWTH_MB)


if __name__ == "__main__":
    status = main()
    sys.stdout.flush()
    os._exit(status)  # without taking the window apart: that is not what is looked at
