"""Pictures of the main views, made from the demo build, into docs/screenshots."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from PyQt6.QtTest import QTest

from jovial_tack.ui.app import demo_file, make_application, make_window
from jovial_tack.ui.theme import DAY, NIGHT

FOLDER = Path(__file__).parents[1] / "docs/screenshots"

#: name: (selection, night, inches, size)
VIEWS = {
    "desk": ((), False, False, (1280, 800)),
    "pulley-card": (("pulley", "blower", "blower"), False, False, (1280, 800)),
    "belt-card-night": (("belt", "blower"), True, False, (1280, 800)),
    "inches-small-window": (("pulley", "accessory", "alternator"), False, True, (1024, 700)),
}


def main() -> None:
    app = make_application(["screenshots"])
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name, (selection, night, inches, size) in VIEWS.items():
        window = make_window()
        window.load(demo_file(), demo=True)
        window.set_theme(NIGHT if night else DAY)
        if inches:
            window.inch_action.trigger()
        window.resize(*size)
        window.show()
        window.session.select(selection)
        QTest.qWait(200)
        while not window.session.is_settled:
            QTest.qWait(20)
        QTest.qWait(200)
        window.grab().save(str(FOLDER / f"{name}.png"))
        window.session.close()
        window.deleteLater()
        app.processEvents()


if __name__ == "__main__":
    for folder in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
        os.environ[folder] = tempfile.mkdtemp()  # not the user's own settings
    main()
