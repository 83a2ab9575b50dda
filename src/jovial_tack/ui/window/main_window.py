"""The main window: menus around the desk, settings, and what happens when it closes."""

from __future__ import annotations

import traceback
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Literal

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QFontMetrics,
    QKeySequence,
)
from PyQt6.QtWidgets import QApplication, QMainWindow

from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.core.errors import BuildFileError, JovialTackError
from jovial_tack.core.value import Value
from jovial_tack.core.words import capital
from jovial_tack.document.edits.engine import set_units
from jovial_tack.document.targets import NOTHING
from jovial_tack.files.needed import missing_in
from jovial_tack.files.places import state_folder
from jovial_tack.files.recovery import Keeper, KeptText, LostWork
from jovial_tack.files.settings import ViewState, load_settings, save_settings
from jovial_tack.ui.room import Action, Break, Entry, Submenu
from jovial_tack.ui.run_check.room import LOG_SUFFIXES, RunCheckRoom
from jovial_tack.ui.session import Session
from jovial_tack.ui.soon import Soon
from jovial_tack.ui.widgets.text import Label, on_button, plain
from jovial_tack.ui.widgets.theme import DAY, NIGHT, Theme, palette
from jovial_tack.ui.widgets.typed import forget_all, take_typed
from jovial_tack.ui.widgets.wardrobe import Wardrobe
from jovial_tack.ui.window.desk import Desk
from jovial_tack.ui.window.file_actions import Files
from jovial_tack.ui.window.keys import IN_PLACE
from jovial_tack.ui.window.menus import Menus
from jovial_tack.ui.window.notice import KEY
from jovial_tack.ui.window.safekeeping import Safekeeping
from jovial_tack.ui.window.typed_kept import from_json, kept_texts, type_again

Key = QKeySequence.StandardKey

#: The demo builds beside the first, by their files.
_OTHER_DEMOS = (
    ("&Brindle Quay, a workboat with V-belts", "brindle-quay.jtack"),
    ("&Oskar Mill, a sled with a toothed blower drive", "oskar-mill.jtack"),
)


class MainWindow(QMainWindow):
    """One window on one session. demo: the file of the demo build."""

    def __init__(self, session: Session, demo: Path, keeper: Keeper | None = None) -> None:
        super().__init__()
        self.session, self.theme = session, DAY
        self.settings = load_settings()
        self.setPalette(palette(self.theme))
        self.safekeeping = Safekeeping(session, keeper or Keeper(), lambda: kept_texts(self), self)
        self.desk = desk = Desk(session, self.theme, demo)
        self.front, self.strip, self.cards, self.notice = (
            desk.front,
            desk.strip,
            desk.cards,
            desk.notice,
        )
        self.ribbon, self.slider, self.revs = desk.ribbon, desk.slider, desk.revs
        self.files = Files(session, self.notice, self.safekeeping, demo, self)
        self._leaving = self._closing = self._may_close = False
        self._told_before = ""
        self.setCentralWidget(desk)
        self._make_status_bar()
        bars = [bar for bar in (self.menuBar(), self.statusBar()) if bar is not None]
        self.wardrobe = Wardrobe(bars, self.theme)
        self.menus = Menus(self, self._entries(), self._take_typed)
        self.undo_action, self.redo_action = self._named("undo", "redo")
        self.inch_action, self.both_action = self._named("inches", "both units")
        (self.night_action,) = self._named("night")
        self._connect()
        self._refresh_titles()
        self.setMinimumSize(760, 480)
        self.setAcceptDrops(True)
        self._restore()
        self.front.setFocus()

    def _named(self, *names: str) -> tuple[QAction, ...]:
        return tuple(self.menus.named[name] for name in names)

    @property
    def station_actions(self) -> dict[str, QAction]:
        """The menu's way to each station, by its key."""
        keys = [room.station.key for room in self.desk.rooms if room.station is not None]
        return {key: self.menus.named[key] for key in keys}

    def _entries(self) -> Iterator[Entry]:
        """All entries of the menus: the window's own, and between them those of the rooms."""
        rooms = self.desk.rooms
        yield from self._file_entries()
        for room in rooms:
            yield from room.entries
        yield Action("&File", "&Export the plot …", "Ctrl+E", self.desk.export_plot)
        yield Break("&File")
        yield Action("&File", "&Quit", "Ctrl+Q", self.close)
        yield from self._edit_entries()
        for room in rooms:
            for aside in room.asides:
                call = partial(self.desk.call, aside.card)
                yield Action(aside.menu, aside.text, aside.key, call)
        yield from self._view_entries()
        for room in rooms:
            if (stop := room.station) is not None:
                text, key = f"&{stop.number} {stop.name}", f"Ctrl+{stop.number}"
                go = partial(self.desk.stand_at, stop.key)
                yield Action("&Station", text, key, go, name=stop.key, choice="station")
        yield Action("&Help", "&Keys", "F1", self.show_keys)
        demos: list[tuple[str, Callable[[], object]]] = [
            ("&Tessary Fen, a wagon with a blower", self.files.open_demo)
        ]
        demos += [(text, partial(self.files.open_other_demo, name)) for text, name in _OTHER_DEMOS]
        yield Submenu("&Help", "&Demo builds", demos, name="demos")
        yield Action("&Help", "&About", "Shift+F1", lambda: self.desk.call(self.desk.about))

    def _file_entries(self) -> Iterator[Entry]:
        files = self.files
        starts = [(text, partial(files.begin_with, make)) for text, make in LAYOUTS]
        yield Action("&File", "&New", Key.New, files.new)
        yield Submenu("&File", "New from a la&yout", starts, name="begin")
        yield Action("&File", "&Open …", Key.Open, files.open)
        yield Submenu("&File", "Open &recent", name="recent")
        yield Action("&File", "Open the &demo build", "Ctrl+D", files.open_demo)
        yield Action(
            "&File", "Open the su&rvey demo", "Ctrl+Shift+Y", self._survey_demo, name="survey_demo"
        )
        yield Break("&File")
        yield Action("&File", "&Save", Key.Save, files.save)
        yield Action("&File", "Save &as …", "Ctrl+Shift+S", files.save_as)
        lost = partial(self.desk.call, self.desk.lost)
        yield Action("&File", "Lost &work …", "Ctrl+Shift+F", lost)
        yield Break("&File")

    def _edit_entries(self) -> Iterator[Entry]:
        session, front = self.session, self.front
        let_go = session.drop_baseline
        yield Action("&Edit", "&Undo", Key.Undo, session.undo, name="undo")
        yield Action("&Edit", "&Redo", "Ctrl+Shift+Z", session.redo, name="redo")
        yield Break("&Edit")
        yield Action("&Edit", "&Pin this state", "Ctrl+B", session.pin_baseline)
        yield Action("&Edit", "&Let go of the pinned state", "Ctrl+Shift+B", let_go, name="unpin")
        yield Break("&Edit")
        yield Action("&Edit", "Select ne&xt part", "F6", lambda: front.select_next(1))
        yield Action("&Edit", "Select pre&vious part", "Shift+F6", lambda: front.select_next(-1))
        yield Action("&Edit", "Select n&othing", "Ctrl+Shift+A", lambda: session.select(NOTHING))

    def _view_entries(self) -> Iterator[Entry]:
        front, units = self.front, self.show_units
        yield Action("&View", "&Fit all", "Ctrl+0", front.fit)
        yield Action("&View", "Zoom &in", Key.ZoomIn, lambda: front.zoom(1.25))
        yield Action("&View", "Zoom &out", Key.ZoomOut, lambda: front.zoom(0.8))
        yield Break("&View")
        fold = self.desk.toggle
        yield Action("&View", "&Tray below", "F11", partial(fold, "tray"))
        yield Action("&View", "&Card at the right", "Shift+F11", partial(fold, "right"))
        yield Break("&View")
        metric, inch = partial(units, "mm"), partial(units, "in")
        yield Action("&View", "&Millimetres", "Ctrl+M", metric, name="millimetres", choice="unit")
        yield Action("&View", "&Inches", "Ctrl+I", inch, name="inches", choice="unit")
        both = self.toggle_both
        yield Action("&View", "&Both units", "Ctrl+U", both, name="both units", choice="own")
        yield Action("&View", "&Go to the notice", KEY, self.notice.go_to)
        yield Break("&View")
        night = self.toggle_night
        yield Action("&View", "Ni&ght", "Ctrl+Shift+N", night, name="night", choice="own")

    def _make_status_bar(self) -> None:
        bar = self.statusBar()
        assert bar is not None
        bar.setSizeGripEnabled(False)
        self.hint = Label("Arrows nudge what is selected · Page keys go from part to part")
        bar.addWidget(self.hint)
        self._hint_ends = QTimer(self)
        self._hint_ends.setSingleShot(True)
        self._hint_ends.timeout.connect(lambda: self.hint.setText(""))
        self._pinned = Label()
        self._pointer, self._place = Label(), ""
        self._place_soon = Soon(lambda: self._pointer.setText(self._place), self, 60)
        # of one size whatever it says: or every move of the pointer would lay out the window anew
        self._pointer.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        room = QFontMetrics(self._pointer.font()).size(0, "x −8888.8 mm   y −8888.8 mm")
        self._pointer.setFixedSize(room.width() + 8, room.height())
        bar.addPermanentWidget(self._pinned)
        bar.addPermanentWidget(self._pointer)

    def _connect(self) -> None:
        session, desk = self.session, self.desk
        session.leaving.connect(self._take_typed)
        self.safekeeping.told.connect(lambda text: self.notice.ask(text, topic="kept aside"))
        self.front.pointed.connect(self._point)
        session.build_changed.connect(self._refresh_titles)
        session.baseline_changed.connect(self._refresh_titles)
        session.replaced.connect(self._show_remarks)
        session.failed.connect(lambda text: self.notice.ask(text, topic="failed", of_build=True))
        self.cards.open_wanted.connect(self.files.open)
        self.cards.demo_wanted.connect(self.files.open_demo)
        self.files.used.connect(self._remember)
        self.files.message.connect(self.show_text)
        self.files.recovered.connect(self._type_again)
        self.files.lost_wanted.connect(lambda: desk.call(desk.lost))
        desk.lost.wanted.connect(self.files.recover)
        self.files.recovered.connect(lambda _typed: desk.lost.look_again())
        desk.moved.connect(self._mark_station)
        desk.message.connect(self.show_text)

    def _take_typed(self) -> None:
        """Have what is being typed taken before something else happens; what is not taken is told."""
        refused = take_typed()
        if refused:
            self.show_text(refused)
            # what is said next, of what was done next, comes after it
            self._told_before = f"{refused} · "
            QTimer.singleShot(0, self._forget_told)

    def _forget_told(self) -> None:
        self._told_before = ""

    def _type_again(self, kept: Sequence[KeptText]) -> None:
        """Have what was typed in recovered work stand where it stood."""
        for each in kept:
            target = from_json(each.of)
            if isinstance(target, Value):  # typed on the card of something: show that
                self.session.select(target)  # type: ignore[arg-type]
                self.cards.card.refresh()
                self.files.tell_of_typed(type_again(self, [each]))
        self.files.tell_of_typed(
            type_again(self, [k for k in kept if not isinstance(from_json(k.of), Value)])
        )

    def _point(self, place: str) -> None:
        self._place = place
        self._place_soon()

    # files

    def _survey_demo(self) -> None:
        self.desk.stand_at("survey")
        self.files.open_survey_demo()

    def load(self, path: Path, *, demo: bool = False) -> None:
        """Open a build file; what is wrong with it is told, and the present build stays."""
        self.files.load(path, demo=demo)
        view = self.settings.views.get(str(path.resolve()))
        if view is not None and self.session.path == path:
            self.front.restore_view(view)

    def offer_recovery(self, works: Sequence[LostWork]) -> None:
        """Offer unsaved work of a window that ended without closing."""
        self.files.offer_recovery(works)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Closing asks about unsaved changes first."""
        if event is None:
            return
        if not self._leaving:
            self._may_close, self._closing = False, True
            self.files.after_saving(self._let_close)
            self._closing = False
            if not self._may_close:
                event.ignore()
                return
        self._keep_settings()
        self.session.close()
        self.desk.close_work()
        self.files.close()
        self.safekeeping.close()
        event.accept()

    def _let_close(self) -> None:
        """Nothing speaks against closing: at once, or once what was asked has been answered."""
        if self._closing:
            self._may_close = True
        else:
            self.leave()

    def leave(self) -> None:
        """Close without a question about unsaved changes."""
        self._leaving = True
        self.close()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """A build file or a log may be dropped on the window."""
        if event is not None and _dropped_file(event) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open the file that was dropped: a log at the run check, all else as a build."""
        path = None if event is None else _dropped_file(event)
        if path is None:
            return
        if path.suffix.lower() in LOG_SUFFIXES:
            self.desk.room(RunCheckRoom).load_log(path)
        else:
            self.files.after_saving(lambda: self.load(path))

    # what is remembered

    def _restore(self) -> None:
        settings = self.settings
        self.session.begin_in(settings.unit)
        if settings.night:
            self.set_theme(NIGHT)
        self.resize(*settings.size)
        if settings.both_units:
            self.toggle_both()
        if settings.station in self.station_actions:
            self.desk.stand_at(settings.station)
        self._list_recent()

    def _keep_settings(self) -> None:
        settings = replace(
            self.settings,
            night=self.theme is NIGHT,
            size=(self.width(), self.height()),
            both_units=self.session.both_units,
            station=self.desk.station,
            unit=self.session.build.display_units,
        )
        if self.session.path is not None:
            view: ViewState | None = self.front.view_state()
            settings = settings.looked_at(self.session.path, view)
        save_settings(settings)

    def _remember(self, path: Path) -> None:
        self.settings = self.settings.opened(path)
        save_settings(self.settings)
        self._list_recent()

    def _list_recent(self) -> None:
        recent = self.menus.submenus["recent"]
        recent.clear()
        for name in self.settings.recent:
            action = recent.addAction(on_button(Path(name).name))
            assert action is not None
            action.setToolTip(plain(name))
            action.triggered.connect(
                lambda _=False, p=Path(name): self.files.after_saving(lambda: self.load(p))
            )
        recent.setEnabled(bool(self.settings.recent))

    # how things are shown

    def show_units(self, unit: Literal["mm", "in"]) -> None:
        """Show the build in millimetres or inches: one step to undo."""
        session = self.session
        if session.is_untouched:
            session.begin_in(unit)  # nothing there yet: no change that would have to be saved
        elif unit != session.build.display_units:
            message = "inches" if unit == "in" else "millimetres"
            session.edit(f"show {message}", set_units(session.build, unit))
        self._refresh_titles()

    def toggle_both(self) -> None:
        """Show figures in both units, or in one."""
        self.session.show_both_units(not self.session.both_units)
        self.both_action.setChecked(self.session.both_units)

    def toggle_night(self) -> None:
        """Go from day to night, or back."""
        self.set_theme(NIGHT if self.theme is DAY else DAY)

    def set_theme(self, theme: Theme) -> None:
        """Show the desk by day or by night."""
        self.theme = theme
        self.setPalette(palette(theme))
        self.wardrobe.change(theme)
        self.desk.set_theme(theme)
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
            action.setText(f"&{word}: {on_button(label)}" if label else f"&{word}")
        inches = session.build.display_units == "in"
        self.menus.named["millimetres"].setChecked(not inches)
        self.inch_action.setChecked(inches)
        pinned = session.baseline
        self._pinned.setText(
            "" if pinned is None else f"Δ against the state pinned: {pinned.label}"
        )
        self.menus.named["unpin"].setEnabled(pinned is not None)

    def _show_remarks(self) -> None:
        forget_all(self)  # it was asked about, and can be had again by lost work
        self.notice.forget_build()
        if self.session.remarks:
            said = "; ".join(self.session.remarks) + "."
            self.notice.ask(said, topic="remarks", of_build=True)

    def _mark_station(self, key: str) -> None:
        self.station_actions[key].setChecked(True)

    def show_text(self, text: str) -> None:
        """Say something in the status bar for a while."""
        self.hint.setText(self._told_before + text)
        self._hint_ends.start(6000)

    def show_keys(self) -> None:
        """List the keys of every action and of the parts of the desk, or put the list away."""
        self.desk.show_keys([*IN_PLACE, *self.menus.keys()])

    def report(self, error: BaseException) -> None:
        """Tell of an error that no part of the window caught; the build stays."""
        self.safekeeping.keep_now()
        if isinstance(error, BuildFileError):  # an edit was refused, before it changed anything
            self.session.refuse(error)
            return
        if isinstance(error, ImportError) and (missing := missing_in(error)):
            self.notice.ask(f"{capital(missing)}.", topic="missing")
            return
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
