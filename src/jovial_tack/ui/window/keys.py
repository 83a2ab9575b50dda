"""The list of keys, shown at the right of the desk by F1."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QScrollArea, QWidget

from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import Label, heading

#: Keys that belong to a part of the desk rather than to an action.
IN_PLACE = [
    ("Front view", [
        ("Part to part", "Page Up, Page Down"), ("Move what is held 1 mm (1/32 in)", "Arrows"),
        ("… a tenth of it", "Shift+Arrows"), ("… ten times it", "Ctrl+Arrows"),
        ("Take off, take away", "Delete"), ("Let go", "Esc"), ("Put a shaft there", "Double click"),
        ("Drag off the guides", "Alt+drag"), ("Close what is traced", "Enter, double click"),
        ("Lay a belt over a pulley", "Drag a span"), ("New belt", "Shift+drag, shaft to shaft"),
    ]),
    ("Figures", [
        ("Nudge", "Up, Down"), ("… a tenth, ten times", "Shift, Ctrl"), ("Take over", "Enter"),
        ("Take back what was typed", "Esc"),
    ]),
    ("Below the front view", [
        ("Along the belt", "Left, Right"), ("Plan: move along the shaft", "Up, Down"),
        ("Rev plan: choose a shaft", "Up, Down"), ("… slower, faster by 0.5 mm", "Left, Right"),
        ("Belts that fit: choose one", "Left, Right"), ("… fit it", "Enter, double click"),
    ]),
    ("Engine speed", [("Slower, faster", "Left, Right"), ("Idle, redline", "Home, End")]),
    ("Everywhere", [("Next part of the desk", "Tab"), ("Menus", "Alt")]),
]  # fmt: skip


class KeysCard(SideCard):
    """Names and keys, group by group."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Keys", parent=parent)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setFrameShape(QFrame.Shape.NoFrame)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setAccessibleName("List of keys")
        self.column.addWidget(self._area, 1)

    def show_keys(self, groups: list[tuple[str, list[tuple[str, str]]]]) -> None:
        """Show groups of (what, key)."""
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(0, 0, 8, 0)
        grid.setVerticalSpacing(3)
        row = 0
        for name, lines in groups:
            head = heading("subheading")
            head.setText(name)
            grid.addWidget(head, row, 0, 1, 2)
            row += 1
            for what, key in lines:
                shown = Label(key)
                shown.setObjectName("figure")
                shown.setAlignment(Qt.AlignmentFlag.AlignRight)
                message = heading("plain")
                message.setText(what)
                grid.addWidget(message, row, 0)
                grid.addWidget(shown, row, 1)
                row += 1
        grid.setColumnStretch(0, 1)
        grid.setRowStretch(row, 1)
        self._area.setWidget(page)
