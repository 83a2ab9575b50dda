"""The menus: every action with its words and its key, and those that are kept up to date."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QMenu

from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.ui.lay_out.placing import Placing
from jovial_tack.ui.stations import STATIONS

if TYPE_CHECKING:
    from jovial_tack.ui.window.main_window import MainWindow

Key = QKeySequence.StandardKey


class Menus:
    """Fills the menu bar of a window and holds the actions whose words or marks change."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self._make()

    def _make(self) -> None:
        window = self._window
        bar = window.menuBar()
        assert bar is not None
        names = ("&File", "&Edit", "&Place", "&Tools", "&View", "&Station", "&Help")
        files, edit, place, tools, view, station, aid = (bar.addMenu(name) for name in names)
        assert files and edit and place and tools and view and station and aid
        self._file_actions(files)
        self._edit_actions(edit)
        self._place_actions(place)
        self._tool_actions(tools)
        self._view_actions(view)
        group = QActionGroup(window)
        self.station_actions: dict[str, QAction] = {}
        for stop in STATIONS:
            go = partial(window.desk.stand_at, stop.key)
            action = self._add(station, f"&{stop.number} {stop.name}", f"Ctrl+{stop.number}", go)
            action.setCheckable(True)
            group.addAction(action)
            self.station_actions[stop.key] = action
        self.station_actions[window.desk.station].setChecked(True)
        self._add(aid, "&Keys", "F1", window.show_keys)
        self._add(aid, "&About", "Shift+F1", window.desk.show_about)

    def _file_actions(self, menu: QMenu) -> None:
        window = self._window
        self._add(menu, "&New", Key.New, window.files.new)
        layouts = menu.addMenu("New from a la&yout")
        assert layouts is not None
        for text, make in LAYOUTS:
            action = layouts.addAction(text)
            assert action is not None
            action.triggered.connect(lambda _=False, m=make: window.files.begin_with(m))
        self._add(menu, "&Open …", Key.Open, window.files.open)
        self.recent = menu.addMenu("Open &recent")
        self._add(menu, "Open the &demo build", "Ctrl+D", window.files.open_demo)
        menu.addSeparator()
        self.save_action = self._add(menu, "&Save", Key.Save, window.files.save)
        self._add(menu, "Save &as …", "Ctrl+Shift+S", window.files.save_as)
        menu.addSeparator()
        self._add(menu, "Open a &log …", "Ctrl+L", lambda: window.open_log(0))
        self._add(menu, "&Compare with a log …", "Ctrl+Shift+L", lambda: window.open_log(1))
        self._add(menu, "Open the demo lo&gs", "Ctrl+Shift+D", window.open_demo_logs)
        self._add(menu, "Read a c&urve for the part …", "Ctrl+R", window.read_curve)
        self._add(menu, "&Export the plot …", "Ctrl+E", window.export_plot)
        self._add(menu, "Export the rev p&lan …", "Ctrl+Shift+E", window.desk.rev_plan.export)
        menu.addSeparator()
        self._add(menu, "&Quit", "Ctrl+Q", window.close)

    def _edit_actions(self, menu: QMenu) -> None:
        window = self._window
        session = window.session
        self.undo_action = self._add(menu, "&Undo", Key.Undo, session.undo)
        self.redo_action = self._add(menu, "&Redo", "Ctrl+Shift+Z", session.redo)
        menu.addSeparator()
        self._add(menu, "&Pin this state", "Ctrl+B", session.pin_baseline)
        self.unpin_action = self._add(menu, "&Let go of the pinned state", "Ctrl+Shift+B",
                                      session.drop_baseline)  # fmt: skip
        menu.addSeparator()
        self._add(menu, "Select ne&xt part", "F6", lambda: window.front.select_next(1))
        self._add(menu, "Select pre&vious part", "Shift+F6", lambda: window.front.select_next(-1))
        self._add(menu, "Select n&othing", "Ctrl+Shift+A", lambda: session.select(()))

    def _tool_actions(self, menu: QMenu) -> None:
        window = self._window
        self._add(menu, "&Variants", "F7", window.desk.show_variants)
        self._add(menu, "S&helf", "F3", window.desk.show_shelf)
        self._add(menu, "Pulleys for a &boost", "Ctrl+Shift+P", window.desk.show_wishes)
        self._add(menu, "Belt b&ench", "Ctrl+K", window.desk.show_belt_bench)
        self._add(menu, "Compressor &map", "Ctrl+Shift+M", window.desk.show_map)
        self._add(menu, "Un&derdrive", "Ctrl+Shift+U", window.desk.show_underdrive)
        self._add(menu, "&Keep or delete the accessory", "Shift+F7", window.desk.compare_without)

    def _place_actions(self, menu: QMenu) -> None:
        window = self._window
        placing = Placing(window.session, window.front, window.show_text)
        self._add(menu, "&Level with the part before", "F8", placing.level)
        self._add(menu, "&Plumb with the part before", "Shift+F8", placing.plumb)
        self._add(menu, "&Rims level with the part before", "F9", placing.rims)
        self._add(menu, "&Equal gaps to its neighbours", "Shift+F9", placing.gaps)
        self._add(menu, "M&irror the part", "Ctrl+F9", placing.mirror)
        self._add(menu, "Mirror the &whole layout", "Ctrl+Shift+F9", placing.mirror_all)
        menu.addSeparator()
        self._add(menu, "&Measure", "F4", window.measure)
        self._add(menu, "&Trace something in the way", "Shift+F4", window.front.trace)
        self._add(menu, "Pin a &note", "Ctrl+T", placing.note)

    def _view_actions(self, menu: QMenu) -> None:
        window = self._window
        self._add(menu, "&Fit all", "Ctrl+0", window.front.fit)
        self._add(menu, "Zoom &in", Key.ZoomIn, lambda: window.front.zoom(1.25))
        self._add(menu, "Zoom &out", Key.ZoomOut, lambda: window.front.zoom(0.8))
        menu.addSeparator()
        group = QActionGroup(window)
        self.metric_action = self._add(
            menu, "&Millimetres", "Ctrl+M", lambda: window.show_units("mm")
        )
        self.inch_action = self._add(menu, "&Inches", "Ctrl+I", lambda: window.show_units("in"))
        for action in (self.metric_action, self.inch_action):
            action.setCheckable(True)
            group.addAction(action)
        self.both_action = self._add(menu, "&Both units", "Ctrl+U", window.toggle_both)
        self.both_action.setCheckable(True)
        menu.addSeparator()
        self.night_action = self._add(menu, "Ni&ght", "Ctrl+Shift+N", window.toggle_night)
        self.night_action.setCheckable(True)

    def _add(
        self,
        menu: QMenu,
        text: str,
        shortcut: QKeySequence.StandardKey | str,
        act: Callable[[], object],
    ) -> QAction:
        action = QAction(text, self._window)
        action.setShortcut(QKeySequence(shortcut))
        action.triggered.connect(lambda _=False: act())
        menu.addAction(action)
        return action
