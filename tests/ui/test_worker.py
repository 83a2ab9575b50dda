"""Work off the window's thread: the newest counts, and what is forgotten ends."""

from __future__ import annotations

import threading

from pytestqt.qtbot import QtBot

from jovial_tack.ui.worker import NewestOnly


def test_forgotten_work_ends_and_only_the_newest_is_told(qtbot: QtBot) -> None:
    told: list[str] = []
    worker, begun = NewestOnly(), threading.Event()
    worker.done.connect(told.append)
    worker.failed.connect(told.append)

    def long() -> str:
        begun.set()
        while True:  # ends by check_cancelled alone
            worker.check_cancelled()

    worker.submit(long)
    assert begun.wait(5)
    worker.submit(lambda: "dropped while it waits")
    worker.submit(lambda: "newest")
    qtbot.waitUntil(lambda: bool(told), timeout=5000)
    assert told == ["newest"] and not worker.busy
    begun.clear()
    worker.submit(long)
    assert begun.wait(5)
    worker.finish()  # would wait for ever
    assert told == ["newest"]


def test_work_that_fails_is_told(qtbot: QtBot) -> None:
    told: list[str] = []
    worker = NewestOnly()
    worker.failed.connect(told.append)
    worker.submit(lambda: 1 / 0)
    qtbot.waitUntil(lambda: bool(told), timeout=5000)
    assert isinstance(told[0], ZeroDivisionError)
