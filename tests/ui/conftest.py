from __future__ import annotations

from collections.abc import Iterator

import pytest
from pytestqt.qtbot import QtBot

from driving import settle
from jovial_tack.ui.app import demo_file, make_application, make_window
from jovial_tack.ui.window.main_window import MainWindow


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
    yield window
    window.leave()  # the test is over: no question about unsaved changes
