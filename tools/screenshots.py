"""Pictures of the main views, made from the demo build, into docs/screenshots."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtTest import QTest

from jovial_tack.build.edits import set_belt_length
from jovial_tack.ui.app import demo_file, make_application, make_window
from jovial_tack.ui.main_window import MainWindow
from jovial_tack.ui.theme import NIGHT

FOLDER = Path(__file__).parents[1] / "docs/screenshots"


def desk(window: MainWindow) -> None:
    window.session.select(())


def grip(window: MainWindow) -> None:
    window.desk.stand_at("grip")
    window.session.select(("pulley", "blower", "blower"))


def line_up(window: MainWindow) -> None:
    window.desk.stand_at("line_up")
    window.session.select(("pulley", "accessory", "alternator"))


def run_check(window: MainWindow) -> None:
    window.open_demo_logs()
    while window.bench.busy:
        QTest.qWait(20)


def belt_night(window: MainWindow) -> None:
    window.set_theme(NIGHT)
    window.session.pin_baseline()
    build = set_belt_length(window.session.build, "blower", 1180.0)
    window.session.edit("belt of Blower drive", build)
    window.desk.stand_at("belt")
    window.session.select(("belt", "blower"))


def inches(window: MainWindow) -> None:
    window.inch_action.trigger()
    window.session.select(("arm", "accessory"))


def keys(window: MainWindow) -> None:
    window.show_keys()


SMALL, USUAL = (1024, 700), (1280, 800)
VIEWS: dict[str, tuple[Callable[[MainWindow], None], tuple[int, int]]] = {
    "desk": (desk, USUAL),
    "grip": (grip, USUAL),
    "line-up": (line_up, USUAL),
    "run-check": (run_check, USUAL),
    "belt-night": (belt_night, USUAL),
    "inches-small-window": (inches, SMALL),
    "keys": (keys, USUAL),
}


def main() -> None:
    app = make_application(["screenshots"])
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name, (arrange, size) in VIEWS.items():
        for folder in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
            os.environ[folder] = (
                tempfile.mkdtemp()
            )  # not the user's own settings, nor the last view's
        window = make_window()
        window.load(demo_file(), demo=True)
        window.resize(*size)
        window.show()
        QTest.qWait(100)
        arrange(window)
        QTest.qWait(200)
        while not window.session.is_settled:
            QTest.qWait(20)
        QTest.qWait(300)
        window.grab().save(str(FOLDER / f"{name}.png"))
        window._leaving = True
        window.close()
        window.deleteLater()
        app.processEvents()


if __name__ == "__main__":
    main()
