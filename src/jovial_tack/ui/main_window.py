"""The main window: the desk, its actions, and what happens to files."""

from __future__ import annotations

import traceback
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import (
    QAction,
    QActionGroup,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QKeySequence,
)
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QVBoxLayout,
    QWidget,
)

from jovial_tack import __version__
from jovial_tack.build.edits import set_units
from jovial_tack.build.verdicts import Verdict
from jovial_tack.core.errors import BuildFileError, JovialTackError, SaveError
from jovial_tack.io.places import state_folder
from jovial_tack.io.recovery import Keeper, LostWork
from jovial_tack.io.settings import load_settings, save_settings
from jovial_tack.ui.belt_ribbon import BeltRibbon
from jovial_tack.ui.cards import CardHolder
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.notice import Notice
from jovial_tack.ui.rpm_slider import RpmSlider
from jovial_tack.ui.safekeeping import Safekeeping
from jovial_tack.ui.session import Session
from jovial_tack.ui.theme import DAY, NIGHT, Theme, palette, style_sheet
from jovial_tack.ui.verdict_strip import VerdictStrip

_FILES = "Jovial Tack builds (*.jtack);;All files (*)"


class MainWindow(QMainWindow):
    """One window on one session. demo: the file of the demo build."""

    def __init__(self, session: Session, demo: Path, keeper: Keeper | None = None) -> None:
        super().__init__()
        self.session, self._demo, self.theme = session, demo, DAY
        self.settings = load_settings()
        self.safekeeping = Safekeeping(session, keeper or Keeper(), self)
        self.setPalette(palette(self.theme))
        self.setStyleSheet(style_sheet(self.theme))
        self._leaving = False
        self.front = FrontView(session, self.theme)
        self.strip = VerdictStrip(session, self.theme)
        self.cards = CardHolder(session, self.theme)
        self.ribbon = BeltRibbon(session, self.theme)
        self.slider = RpmSlider(session, self.theme)
        self.notice = Notice()
        self._pointer = QLabel()
        self._lay_out()
        self._make_actions()
        self.strip.chosen.connect(self._go_to)
        self.front.pointed.connect(self._pointer.setText)
        session.build_changed.connect(self._refresh_titles)
        session.replaced.connect(self._show_remarks)
        session.failed.connect(lambda text: self.notice.ask(text))
        self._connect_card()
        self._refresh_titles()
        self.setMinimumSize(900, 640)
        self.setAcceptDrops(True)
        self._restore()
        self.front.setFocus()

    def _lay_out(self) -> None:
        desk = QWidget()
        desk.setObjectName("desk")
        column = QVBoxLayout(desk)
        column.setContentsMargins(10, 4, 10, 4)
        column.setSpacing(8)
        column.addWidget(self.strip)
        column.addWidget(self.notice)
        row = QHBoxLayout()
        row.setSpacing(8)
        left = QVBoxLayout()
        left.setSpacing(8)
        left.addWidget(self.front, 1)
        left.addWidget(self.ribbon)
        left.addWidget(self.slider)
        row.addLayout(left, 1)
        row.addWidget(self.cards)
        column.addLayout(row, 1)
        self.setCentralWidget(desk)
        bar = self.statusBar()
        assert bar is not None
        bar.setSizeGripEnabled(False)
        self._hint = QLabel("Arrows nudge what is selected · Page keys go from part to part")
        bar.addWidget(self._hint)
        self._hint_ends = QTimer(self)
        self._hint_ends.setSingleShot(True)
        self._hint_ends.timeout.connect(lambda: self._hint.setText(""))
        bar.addPermanentWidget(self._pointer)

    def _connect_card(self) -> None:
        self.cards.overview.open_wanted.connect(self.open_file)
        self.cards.overview.demo_wanted.connect(self.open_demo)

    # actions

    def _make_actions(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        files, edit, view, aid = (bar.addMenu(n) for n in ("&File", "&Edit", "&View", "&Help"))
        assert files and edit and view and aid
        key = QKeySequence.StandardKey
        self._add(files, "&New", key.New, self.new_build)
        self._add(files, "&Open …", key.Open, self.open_file)
        self._recent = files.addMenu("Open &recent")
        self._add(files, "Open the &demo build", "Ctrl+D", self.open_demo)
        files.addSeparator()
        self.save_action = self._add(files, "&Save", key.Save, self.save)
        self._add(files, "Save &as …", "Ctrl+Shift+S", self.save_as)
        files.addSeparator()
        self._add(files, "&Quit", "Ctrl+Q", self.close)
        self.undo_action = self._add(edit, "&Undo", key.Undo, self.session.undo)
        self.redo_action = self._add(edit, "&Redo", "Ctrl+Shift+Z", self.session.redo)
        edit.addSeparator()
        self._add(edit, "Select ne&xt part", "F6", lambda: self.front.select_next(1))
        self._add(edit, "Select &previous part", "Shift+F6", lambda: self.front.select_next(-1))
        self._add(edit, "Select n&othing", None, lambda: self.session.select(()))
        self._add(view, "&Fit all", "Ctrl+0", self.front.fit)
        self._add(view, "Zoom &in", key.ZoomIn, lambda: self.front.zoom(1.25))
        self._add(view, "Zoom &out", key.ZoomOut, lambda: self.front.zoom(0.8))
        view.addSeparator()
        group = QActionGroup(self)
        self.metric_action = self._add(view, "&Millimetres", "Ctrl+M", lambda: self._units("mm"))
        self.inch_action = self._add(view, "&Inches", "Ctrl+I", lambda: self._units("in"))
        for action in (self.metric_action, self.inch_action):
            action.setCheckable(True)
            group.addAction(action)
        view.addSeparator()
        self.night_action = self._add(view, "Ni&ght", "Ctrl+Shift+N", self._toggle_night)
        self.night_action.setCheckable(True)
        self._add(aid, "&Keys", "F1", self.show_keys)
        self._add(aid, "&About", None, self.show_about)

    def _add(
        self,
        menu: QMenu,
        text: str,
        shortcut: QKeySequence.StandardKey | str | None,
        act: Callable[[], object],
    ) -> QAction:
        action = QAction(text, self)
        if shortcut is not None:
            action.setShortcut(QKeySequence(shortcut))
        action.triggered.connect(lambda _=False: act())
        menu.addAction(action)
        return action

    # files

    def new_build(self) -> None:
        """Begin an empty build, after asking about unsaved changes."""
        self._after_saving(self.session.new)

    def open_demo(self) -> None:
        """Open the demo build, after asking about unsaved changes."""
        self._after_saving(lambda: self.load(self._demo, demo=True))

    def open_file(self) -> None:
        """Ask for a file and open it, after asking about unsaved changes."""
        self._after_saving(self._choose_and_open)

    def _choose_and_open(self) -> None:
        start = str(self.session.path.parent) if self.session.path else ""
        name, _ = QFileDialog.getOpenFileName(self, "Open a build", start, _FILES)
        if name:
            self.load(Path(name))

    def load(self, path: Path, *, demo: bool = False) -> None:
        """Open a file; what is wrong with it is told, and the present build stays."""
        try:
            self.session.open(path, demo=demo)
        except BuildFileError as error:
            self.notice.ask(f"Not opened. {error}.", [("Close", lambda: None)])
            return
        if not demo:
            self._remember(path)

    def save(self) -> None:
        """Save to the build's file, or ask for one."""
        if self.session.path is None:
            self.save_as()
        elif self.session.changed_on_disk(self.session.path):
            path = self.session.path
            self.notice.ask(
                f"{path.name} was changed on disk since it was opened here.",
                [
                    ("Save as …", self.save_as),
                    ("Save over it", lambda: self._write(path)),
                    ("Leave it", lambda: None),
                ],
            )
        else:
            self._write(self.session.path)

    def save_as(self) -> None:
        """Ask for a name and save."""
        start = str(self.session.path or Path.home() / "build.jtack")
        name, _ = QFileDialog.getSaveFileName(self, "Save the build", start, _FILES)
        if name:
            path = Path(name)
            self._write(path if path.suffix else path.with_suffix(".jtack"))

    def _write(self, path: Path) -> bool:
        try:
            self.session.save(path)
        except SaveError as error:
            self.notice.ask(f"{error}.", [("Save as …", self.save_as), ("Close", lambda: None)])
            return False
        self._remember(path)
        self._say(f"Saved {path.name}")
        return True

    def _after_saving(self, act: Callable[[], None]) -> None:
        """Do something that would lose unsaved changes, once the user has said what becomes of them."""
        if not self.session.is_modified:
            act()
            return

        def save_then_act() -> None:
            self.save()
            if not self.session.is_modified:
                act()

        name = self.session.build.title or "This build"
        self.notice.ask(
            f"“{name}” has changes that are not saved.",
            [("Save", save_then_act), ("Throw away", act), ("Keep editing", lambda: None)],
        )

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Closing asks about unsaved changes first."""
        if event is None:
            return
        if self.session.is_modified and not self._leaving:
            event.ignore()
            self._after_saving(self._leave)
            return
        self.session.close()
        self.safekeeping.close()
        size = (self.width(), self.height())
        save_settings(replace(self.settings, night=self.theme is NIGHT, size=size))
        event.accept()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """A build file may be dropped on the window."""
        if event is not None and _dropped_file(event) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open the file that was dropped."""
        path = None if event is None else _dropped_file(event)
        if path is not None:
            self._after_saving(lambda: self.load(path))

    # what is remembered

    def _restore(self) -> None:
        if self.settings.night:
            self.set_theme(NIGHT)
        self.resize(*self.settings.size)
        self._list_recent()

    def _remember(self, path: Path) -> None:
        self.settings = self.settings.opened(path)
        save_settings(self.settings)
        self._list_recent()

    def _list_recent(self) -> None:
        assert self._recent is not None
        self._recent.clear()
        for name in self.settings.recent:
            action = self._recent.addAction(Path(name).name)
            assert action is not None
            action.setToolTip(name)
            action.triggered.connect(
                lambda _=False, p=Path(name): self._after_saving(lambda: self.load(p))
            )
        self._recent.setEnabled(bool(self.settings.recent))

    def offer_recovery(self, works: Sequence[LostWork]) -> None:
        """Offer unsaved work of a window that ended without closing."""
        if not works:
            return
        work, *further = works

        def recover() -> None:
            self.session.recover(work.build, work.path)
            self.safekeeping.keep_now()
            work.kept.unlink(missing_ok=True)

        def throw_away() -> None:
            work.kept.unlink(missing_ok=True)
            self.offer_recovery(further)

        name = work.path.name if work.path else work.build.title or "a build without a name"
        self.notice.ask(
            f"The program ended with unsaved changes in “{name}”.",
            [("Recover them", recover), ("Throw away", throw_away), ("Later", lambda: None)],
        )

    def _leave(self) -> None:
        self._leaving = True
        self.close()

    # the rest of the desk

    def _go_to(self, verdict: Verdict) -> None:
        if verdict.where is not None:
            self.session.select(("pulley", *verdict.where))

    def _units(self, unit: str) -> None:
        if unit != self.session.build.display_units:
            words = "inches" if unit == "in" else "millimetres"
            self.session.edit(f"show {words}", set_units(self.session.build, unit))  # type: ignore[arg-type]
        self._refresh_titles()

    def _toggle_night(self) -> None:
        self.set_theme(NIGHT if self.theme is DAY else DAY)

    def set_theme(self, theme: Theme) -> None:
        """Show the desk by day or by night."""
        self.theme = theme
        self.setPalette(palette(theme))
        self.setStyleSheet(style_sheet(theme))
        self.front.set_theme(theme)
        self.strip.set_theme(theme)
        self.ribbon.set_theme(theme)
        self.slider.set_theme(theme)
        self.cards.set_theme(theme)
        self._connect_card()
        self.night_action.setChecked(theme is NIGHT)

    def _refresh_titles(self) -> None:
        session = self.session
        star = "*" if session.is_modified else ""
        name = session.path.name if session.path else session.build.title or "Untitled"
        self.setWindowTitle(f"{star}{name} – Jovial Tack")
        history = session.history
        for action, word, label in (
            (self.undo_action, "Undo", history.undo_label),
            (self.redo_action, "Redo", history.redo_label),
        ):
            action.setEnabled(label is not None)
            action.setText(f"&{word}: {label}" if label else f"&{word}")
        inches = session.build.display_units == "in"
        self.metric_action.setChecked(not inches)
        self.inch_action.setChecked(inches)

    def _show_remarks(self) -> None:
        if self.session.remarks:
            self.notice.ask("; ".join(self.session.remarks) + ".")
        else:
            self.notice.hide()

    def _say(self, text: str) -> None:
        self._hint.setText(text)
        self._hint_ends.start(4000)

    def show_keys(self) -> None:
        """List the keys."""
        bar = self.menuBar()
        assert bar is not None
        lines = [
            f"{action.text().replace('&', '').split(':')[0]}: "
            f"{action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)}"
            for action in self.findChildren(QAction)
            if not action.shortcut().isEmpty()
        ]
        lines.append("Nudge: arrows 1 mm, Shift 0.1 mm, Ctrl 10 mm")
        lines.append("Part to part: Page Up, Page Down · Let go: Esc")
        self.notice.ask(" · ".join(lines))

    def show_about(self) -> None:
        """Say what this is and under which licence."""
        self.notice.ask(
            f"Jovial Tack {__version__}: belt drives for engine swaps. Free software under"
            " GPL-3.0-or-later, without any warranty. Typefaces Cabin and B612 under the SIL Open"
            " Font License; PyQt6, Qt, NumPy and pydantic under their own licences."
        )

    def report(self, error: BaseException) -> None:
        """Tell of an error that no part of the window caught; the build stays."""
        self.safekeeping.keep_now()
        text = (
            str(error) if isinstance(error, JovialTackError) else f"{type(error).__name__}: {error}"
        )
        details = "".join(traceback.format_exception(error))

        def copy() -> None:
            clipboard = QApplication.clipboard()
            assert clipboard is not None
            clipboard.setText(details)

        self.notice.ask(
            f"Something went wrong inside the program ({text}). Your build is unharmed and was kept"
            f" aside; the log is in {state_folder() / 'log.txt'}.",
            [("Copy the details", copy), ("Go on", lambda: None)],
        )


def _dropped_file(event: QDropEvent) -> Path | None:
    data = event.mimeData()
    urls = data.urls() if data is not None else []
    return Path(urls[0].toLocalFile()) if urls and urls[0].isLocalFile() else None
