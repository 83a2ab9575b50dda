"""Lines of a form: a word at the left that belongs to what is typed or chosen at the right."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QLayout, QWidget

from jovial_tack.ui.widgets.text import Label


class FieldLines(QGridLayout):
    """Adds lines below one another; a line is shown, hidden and renamed with its word."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__()
        self.setContentsMargins(0, 0, 0, 0)
        self.setHorizontalSpacing(8)
        self.setVerticalSpacing(4)
        self.setColumnStretch(1, 1)
        if parent is not None:
            parent.setLayout(self)
        #: the word of each widget
        self.labels: dict[QWidget, Label] = {}

    def add_line(self, word: str, widget: QWidget, beside: QLayout | None = None) -> None:
        """Add a line. beside: what the widget already lies in, as with buttons at its right."""
        row, label = self.rowCount(), Label(word)
        label.setBuddy(widget)
        self.addWidget(label, row, 0)
        if beside is None:
            self.addWidget(widget, row, 1)
        else:
            self.addLayout(beside, row, 1)
        self.labels[widget] = label

    def add_whole(self, widget: QWidget) -> None:
        """Add what takes a whole line by itself."""
        self.addWidget(widget, self.rowCount(), 0, 1, 2)

    def show_line(self, widget: QWidget, *, shown: bool) -> None:
        """Show or hide a line."""
        widget.setVisible(shown)
        self.labels[widget].setVisible(shown)

    def rename(self, widget: QWidget, word: str) -> None:
        """Put another word beside a widget."""
        self.labels[widget].setText(word)
