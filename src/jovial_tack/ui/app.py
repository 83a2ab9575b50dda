"""Starting the window."""

from __future__ import annotations

import contextlib
import gc
import logging
import sys
from importlib import resources
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QGuiApplication, QIcon, QPainter
from PyQt6.QtWidgets import QApplication

from jovial_tack import __version__
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.words import capital
from jovial_tack.files.needed import out_of_use, why_not
from jovial_tack.files.own_data import own_catalogue
from jovial_tack.files.places import state_folder
from jovial_tack.files.recovery import lost_work
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.theme import load_fonts, words
from jovial_tack.ui.window.main_window import MainWindow


def demo_file() -> Path:
    """The demo build that ships with the application."""
    return Path(str(resources.files("jovial_tack.data").joinpath("demo", "tessary-fen.jtack")))


_NAME = "jovial-tack"
#: Set on an application once fonts, style and icon are on it. Its name tells nothing: Qt takes that
#: from the command, so that it is right from the start when a user starts the program.
_READY = "jovial-tack-ready"
#: How long work off the window's thread may keep the interpreter when the window wants it, s.
_TURN_S = 0.001
_MOST_PROBLEMS = 3


def make_application(arguments: list[str]) -> QApplication:
    """The Qt application with the shipped fonts; the one there is, if there is one."""
    existing = QApplication.instance()
    application = existing if isinstance(existing, QApplication) else QApplication(arguments)
    if application.property(_READY):
        return application  # style and font anew would go through every widget
    QGuiApplication.setDesktopFileName("org.jovial_tack.JovialTack")
    application.setApplicationName(_NAME)
    application.setApplicationDisplayName("")
    application.setStyle("Fusion")
    load_fonts()
    icon = resources.files("jovial_tack.data").joinpath("icons", "jovial-tack.svg")
    application.setWindowIcon(QIcon(str(icon)))
    application.setFont(words(14))
    sys.setswitchinterval(_TURN_S)
    application.setProperty(_READY, True)
    return application


def make_window() -> MainWindow:
    """A window on an empty build; own data that cannot be used is told, and the shipped data used."""
    catalogue = own_catalogue()
    window = MainWindow(Session(catalogue), demo_file())
    if catalogue.problems:
        told = "; ".join(catalogue.problems[:_MOST_PROBLEMS])
        window.notice.ask(
            f"Of your own data not all was used; the shipped figure stands there. {told}.",
            topic="own data",
        )
    _tell_missing(window)
    gc.freeze()  # what the program is made of stays: looking through it again would stop a drag
    return window


def _tell_missing(window: MainWindow) -> None:
    """Say once what is out of use on this machine, and how to get it; the rest works."""
    missing = out_of_use()
    if missing:
        window.notice.ask(f"{capital(why_not(missing))}. The rest works.", topic="missing")
    typefaces = load_fonts()
    if typefaces:
        window.notice.ask(
            f"The typefaces that ship with the program are missing ({', '.join(typefaces)}): words may"
            " be clipped, and papers cannot be written. Install the program again.",
            topic="typefaces",
        )


def run_window(path: Path | None, *, demo: bool) -> int:
    """Open the window and run until it closes; returns the exit status."""
    _write_log()
    application = make_application(["jovial-tack"])
    window = make_window()
    survive_errors(window)
    if demo:
        window.load(demo_file(), demo=True)
    elif path is not None:
        window.load(path)
    window.show()
    QTimer.singleShot(0, lambda: window.offer_recovery(lost_work(window.session.catalogue)))
    return application.exec()


def _write_log() -> None:
    """Keep a log file of bounded size; a place that cannot be written is no reason to stop."""
    with contextlib.suppress(OSError):
        folder = state_folder()
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        place = folder / "log.txt"
        if place.is_symlink() or (place.exists() and not place.is_file()):
            return  # a pipe or a device would be waited for
        handler = RotatingFileHandler(place, maxBytes=500_000, backupCount=1)
        handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
        logging.getLogger().addHandler(handler)
        logging.getLogger().setLevel(logging.INFO)
        logging.getLogger(__name__).info("started, version %s", __version__)


def survive_errors(window: MainWindow) -> None:
    """An error in a slot would end the process; tell of it instead and go on."""

    def caught(
        kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        if issubclass(kind, KeyboardInterrupt):
            QApplication.quit()
            return
        _end_painting(trace)
        level = logging.INFO if isinstance(error, BuildFileError) else logging.ERROR
        logging.getLogger(__name__).log(level, "not caught", exc_info=(kind, error, trace))
        QTimer.singleShot(0, lambda: window.report(error))

    sys.excepthook = caught


def _end_painting(trace: TracebackType | None) -> None:
    """End what was being painted where an error came from: Qt would not survive it being left open."""
    while trace is not None:
        for value in trace.tb_frame.f_locals.values():
            if isinstance(value, QPainter) and value.isActive():
                value.end()
        trace = trace.tb_next
