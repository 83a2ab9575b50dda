"""Random use of the window, as one case of `tools/fuzz.py`: what a hand without a plan might do."""

from __future__ import annotations

import os
import random
import time
from pathlib import Path
from typing import Any

_TYPED = (
    "130", "5 1/8 in", "-3", "0", "abc", "", "1e9", "12 N·m", "7PK1615", "<b>x</b>", "1000:5 2000:9",
    "3,5", "0.5", "99999", "=1", "ä🔩",
)  # fmt: skip


def use(dice: random.Random, folder: Path, seconds: float) -> None:
    """Use a window on the demo at random for some seconds; what goes wrong inside it is raised."""
    for name in ("CONFIG", "STATE", "DATA"):
        os.environ[f"XDG_{name}_HOME"] = str(folder / name.lower())
    from PyQt6.QtCore import QPoint, Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QLineEdit, QPushButton

    from jovial_tack.ui.app import demo_file, make_application, make_window

    caught: list[BaseException] = []
    import sys

    sys.excepthook = lambda _kind, error, _trace: caught.append(error)
    for asked in ("getOpenFileName", "getSaveFileName"):
        setattr(QFileDialog, asked, staticmethod(lambda *_: ("", "")))
    application = make_application(["fuzz"])
    window = make_window()
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
        found: list[tuple[str, ...]] = [("shaft", s.id) for s in build.shafts]
        found += [("pulley", d.id, p.id) for d in build.drives for p in d.pulleys]
        found += [("belt", d.id) for d in build.drives] + [
            ("obstacle", o.id) for o in build.obstacles
        ]
        window.session.select(dice.choice(found) if found else ())

    def act() -> None:
        enabled = [a for a in actions if a.isEnabled()]
        dice.choice(enabled).trigger()

    deeds = [type_somewhere] * 4 + [press_something, choose_something, drag_somewhere, press_a_key]
    deeds += [select_something] * 2 + [act] * 3
    began, done = time.monotonic(), 0
    try:
        while time.monotonic() - began < seconds and not caught:
            dice.choice(deeds)()
            done += 1
            if dice.random() < 0.3:
                application.processEvents()
    finally:
        window.leave()
        window.deleteLater()
        application.processEvents()
    if caught:
        raise caught[0]
    assert done > 5, "the window did next to nothing"
