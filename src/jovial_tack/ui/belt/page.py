"""What the pages of the belt bench share: fields in lines, and words below them."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFrame,
    QGridLayout,
    QLabel,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.core.units import Quantity
from jovial_tack.core.words import sentence
from jovial_tack.document.model import Drive
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.text import Label, heading, together
from jovial_tack.ui.widgets.typed import TypedField


class Page(QScrollArea):
    """A page: lines of fields on top, what comes of them below."""

    name = ""

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__()
        self._session, self._along = session, along
        self._fields: list[QuantityField] = []
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget()
        self.column = QVBoxLayout(inside)
        self.column.setContentsMargins(0, 4, 8, 4)
        self.column.setSpacing(7)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(5)
        self.grid.setColumnStretch(0, 1)
        self.column.addLayout(self.grid)
        self.refusal, self.message, self._caution = (
            heading("badfigure"),
            heading("plain"),
            heading("caution"),
        )
        self.message.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        for label in (self.refusal, self.message, self._caution):
            label.hide()
            self.column.addWidget(label)
        self.column.addStretch(1)
        self.setWidget(inside)

    def refresh(self) -> None:
        """Work the page out for the build, the belt and the fields as they are."""
        raise NotImplementedError

    @property
    def read_of(self) -> tuple[str, ...]:
        """What the figures typed on this page belong to: the drive, and what else is chosen."""
        return (self._along.drive,)

    def drive_shown(self, without: str) -> Drive | None:
        """The drive looked at; where there is none the page takes nothing and says so."""
        build, drive = self._session.build, self._along.drive
        found = None if self._session.is_read_only else build.find_drive(drive)
        self.look_at()
        for field in self._fields:
            field.setEnabled(found is not None)
        if found is None:
            for field in self._fields:
                self.show_line(field, shown=False)
            self.tell_not(without)
        return found

    def look_at(self) -> None:
        """Have the fields be of what is looked at now, with what was typed of it: looking at another
        loses nothing.
        """
        for field in self._fields:
            field.belong(self.read_of)

    def add_field(
        self,
        word: str,
        spoken: str,
        quantity: Quantity,
        value: float | None,
        digits: int | None = None,
    ) -> QuantityField:
        """Add a field for a figure; a new one works the page out anew."""
        field = QuantityField(spoken, quantity, draft=True)
        field.show_value(value, quantity.unit, digits)
        field.committed.connect(lambda _v: self._taken(field, quantity, digits))
        field.refused.connect(self.refuse)
        self.add_line(word, field)
        return field

    def add_line(self, word: str, field: QWidget) -> None:
        """Add a line with a word and a widget."""
        row, label = self.grid.rowCount(), Label(word)
        label.setBuddy(field)
        if isinstance(field, TypedField):
            field.setMaximumWidth(132)
        if isinstance(field, QuantityField):
            self._fields.append(field)
        self.grid.addWidget(label, row, 0)
        self.grid.addWidget(field, row, 1)

    def show_line(self, field: QWidget, *, shown: bool) -> None:
        """Show a line or leave it out."""
        field.setVisible(shown)
        for place in range(self.grid.count()):
            item = self.grid.itemAt(place)
            label = item.widget() if item is not None else None
            if isinstance(label, QLabel) and label.buddy() is field:
                label.setVisible(shown)

    def _taken(self, field: QuantityField, quantity: Quantity, digits: int | None) -> None:
        unit = quantity.shown(self._session.build.display_units)
        more = None if digits is None else digits + 2 * (unit == "in")
        field.show_in(unit, more)
        self.refresh()

    def refuse(self, text: str) -> None:
        """Say why something is not taken; nothing once it is put right."""
        self.refusal.setText(text)
        self.refusal.setVisible(bool(text))

    def show_text(self, *lines: str, caution: str = "") -> None:
        """Say what comes of it, a paragraph a line."""
        self.refuse("")
        self.message.setText(together("\n".join(lines)))
        self.message.setVisible(bool(lines))
        self._caution.setText(caution)
        self._caution.setVisible(bool(caution))

    def tell_not(self, why: str) -> None:
        """Say why nothing comes of it."""
        self.show_text()
        self.refuse(sentence(why))
