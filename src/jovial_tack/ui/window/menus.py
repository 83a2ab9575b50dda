"""The menus, laid out from what the window and its rooms declare."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QMainWindow, QMenu

from jovial_tack.ui.room import MENUS, Action, Break, Entry, Menu, Submenu


class Menus:
    """Fills the menu bar of a window, and finds actions and submenus again by their names."""

    def __init__(
        self, window: QMainWindow, entries: Iterable[Entry], before: Callable[[], object]
    ) -> None:
        """before: called before every entry does what it does."""
        self._window, self._before = window, before
        self.named: dict[str, QAction] = {}
        self.submenus: dict[str, QMenu] = {}
        self._groups: dict[str, QActionGroup] = {}
        bar = window.menuBar()
        assert bar is not None
        self._menus: dict[Menu, QMenu] = {}
        for name in MENUS:
            menu = bar.addMenu(name)
            assert menu is not None
            self._menus[name] = menu
        for entry in entries:
            self._add(entry)

    def keys(self) -> list[tuple[str, list[tuple[str, str]]]]:
        """What every action with a key is called, and its key, menu by menu."""
        groups = []
        for name, menu in self._menus.items():
            lines = [
                (action.text().replace("&", "").split(":")[0], _key_text(action))
                for action in menu.actions()
                if not action.shortcut().isEmpty()
            ]
            groups.append((name.replace("&", ""), lines))
        return groups

    def _add(self, entry: Entry) -> None:
        menu = self._menus[entry.menu]
        if isinstance(entry, Break):
            menu.addSeparator()
        elif isinstance(entry, Submenu):
            self._add_submenu(menu, entry)
        else:
            self._add_action(menu, entry)

    def _add_submenu(self, menu: QMenu, entry: Submenu) -> None:
        inner = menu.addMenu(entry.text)
        assert inner is not None
        if entry.name:
            self.submenus[entry.name] = inner
        for text, act in entry.entries:
            action = inner.addAction(text)
            assert action is not None
            action.triggered.connect(lambda _=False, act=act: self._do(act))

    def _add_action(self, menu: QMenu, entry: Action) -> None:
        action = QAction(entry.text, self._window)
        action.setShortcut(QKeySequence(entry.key))
        action.triggered.connect(lambda _=False: self._do(entry.act))
        if entry.choice:
            action.setCheckable(True)
        if entry.choice not in ("", "own"):
            group = self._groups.setdefault(entry.choice, QActionGroup(self._window))
            group.addAction(action)
        if entry.name:
            self.named[entry.name] = action
        menu.addAction(action)

    def _do(self, act: Callable[[], object]) -> None:
        self._before()
        act()


def _key_text(action: QAction) -> str:
    return action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
