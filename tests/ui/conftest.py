from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from pytestqt.qtbot import QtBot

from driving import settle
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.model import Build
from jovial_tack.files.build_file import read_build
from jovial_tack.ui import solving
from jovial_tack.ui.app import demo_file, make_application, make_window
from jovial_tack.ui.window.main_window import MainWindow


@pytest.fixture(autouse=True, scope="session")
def demo_advised_once() -> Iterator[None]:
    """The demo build is solved whole, and its orders and mends looked for, once: all follow from the
    build alone, and a hundred windows open it. Every other build, and what a user starts in a process,
    anew.
    """
    demo = read_build(demo_file(), load_catalogue()).build
    solve, orders, mends = (
        getattr(solving, name) for name in ("solve_again", "belts_to_order", "mends_of")
    )
    kept: dict[str, Any] = {}

    def once(name: str, work: Callable[..., Any]) -> Callable[..., Any]:
        def look(build: Build, *others: Any, **more: Any) -> Any:
            if build != demo:
                return work(build, *others, **more)
            if name not in kept:
                kept[name] = work(build, *others, **more)
            return kept[name]

        return look

    def solve_once(build: Build, rpm: Any, *others: Any, **more: Any) -> Any:
        if more.get("live") or build != demo:
            return solve(build, rpm, *others, **more)
        name = f"solved at {rpm}"
        if name not in kept:
            kept[name] = solve(build, rpm, *others, **more)
        return kept[name]

    patch = pytest.MonkeyPatch()
    patch.setattr(solving, "solve_again", solve_once)
    patch.setattr(solving, "belts_to_order", once("orders", orders))
    patch.setattr(solving, "mends_of", once("mends", mends))
    yield
    patch.undo()


@pytest.fixture
def window(qtbot: QtBot) -> Iterator[MainWindow]:
    """The window as `make demo` opens it, shown and with all its results in."""
    make_application(["test"])
    window = make_window()
    qtbot.addWidget(window)
    window.load(demo_file(), demo=True)
    window.show()
    qtbot.waitExposed(window)
    settle(qtbot, window)
    # what is done next is read at once, and not at the next turn of reading
    qtbot.wait(window.session.reading.pause_ms + 10)
    yield window
    window.leave()  # the test is over: no question about unsaved changes
