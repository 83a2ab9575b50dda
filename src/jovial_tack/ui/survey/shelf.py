"""The shelf at the right of the desk: parts in hand, dragged onto shafts or opened as a card."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial

from PyQt6.QtCore import QMimeData, Qt, pyqtSignal
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QPushButton, QWidget

from jovial_tack.answers.comparing import bill_of
from jovial_tack.core.units import format_length
from jovial_tack.document.edits.shelf import KINDS, add_part
from jovial_tack.document.model import Build, ShelfPart
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.dragged import PART_MIME
from jovial_tack.ui.widgets.flow import FlowLayout
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, plain

_HINT = (
    "What lies on the shelf. Drag a part onto a shaft, or open it to type its figures and see where it"
    " fits. A pulley's card puts a fitted one here."
)


_ID = Qt.ItemDataRole.UserRole


class _PartList(QListWidget):
    """The parts; dragged by their id."""

    def mimeData(self, items: Iterable[QListWidgetItem]) -> QMimeData:
        """The first part's id."""
        data = QMimeData()
        for item in items:
            data.setData(PART_MIME, str(item.data(_ID)).encode())
            break
        return data


class ShelfCard(SideCard):
    """The shelf, at the right of the desk. opened: a part whose card is wanted."""

    opened = pyqtSignal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__("Shelf", _HINT, parent)
        self._session = session
        adders = QWidget()
        flow = FlowLayout(adders, 6)
        self.adders: dict[str, QPushButton] = {}
        for kind, word in KINDS.items():
            button = QPushButton(f"+ {word}")
            button.setObjectName("act")
            button.clicked.connect(partial(self._add, kind))
            flow.addWidget(button)
            self.adders[kind] = button
        self.list = _PartList()
        self.list.setObjectName("parts")
        self.list.setAccessibleName("Parts on the shelf")
        self.list.setDragEnabled(True)
        self.list.setDragDropMode(QListWidget.DragDropMode.DragOnly)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.itemActivated.connect(lambda item: self.opened.emit(item.data(_ID)))
        self.bill = heading("faded")
        self.open_button = QPushButton("Open its card")
        self.open_button.clicked.connect(self._open)
        for widget in (adders, self.list, self.bill, self.open_button):
            self.column.addWidget(widget, 1 if widget is self.list else 0)
        session.readings_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Show the shelf of the present build, if the card is in sight."""
        if not self.isVisible():
            return
        build = self._session.build
        chosen = self.list.currentRow()
        texts = [(part.id, f"{part.label} – {in_words(part, build)}") for part in build.shelf]
        shown = [
            (item.data(_ID), item.text())
            for k in range(self.list.count())
            if (item := self.list.item(k)) is not None
        ]
        if texts != shown:
            self.list.clear()
            for name, text in texts:
                item = QListWidgetItem(text)
                item.setData(_ID, name)
                item.setToolTip(plain(text))
                self.list.addItem(item)
            self.list.setCurrentRow(min(max(chosen, 0), len(texts) - 1))
        self.open_button.setEnabled(bool(texts))
        self.bill.setText(bill_in_words(build))

    def _add(self, kind: str, _checked: bool = False) -> None:
        build, name = add_part(self._session.build, kind)
        self._session.edit(f"{KINDS[kind].lower()} on the shelf", build)
        self.opened.emit(name)

    def _open(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self.opened.emit(item.data(_ID))


def in_words(part: ShelfPart, build: Build) -> str:
    """A part in a few words: kind, size, how many."""
    unit = build.display_units
    size = part.diameter_mm or part.thickness_mm or part.length_mm
    words = [KINDS[part.kind].lower()]
    words += [format_length(size, unit)] if size else []
    words += [f"{part.grooves} grooves"] if part.grooves else []
    words += [part.thread] if part.thread else []
    words += ["to buy" if part.count == 0 else f"{part.count} in hand"]
    return ", ".join(words)


def bill_in_words(build: Build) -> str:
    """What the build needs beside the shelf."""
    bill = bill_of(build)
    if not bill.owned + bill.to_buy:
        return "Nothing is fitted yet."
    cost = f", {bill.cost:.2f} together" if bill.cost else ""
    missing = f" ({bill.unpriced} without a price)" if bill.unpriced else ""
    parts = "part" if bill.owned == 1 else "parts"
    return f"This build: {bill.owned} {parts} owned, {bill.to_buy} to buy{cost}{missing}."
