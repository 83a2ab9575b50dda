"""The list of what each accessory still needs, at the right of the desk."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QListWidget, QListWidgetItem, QWidget

from jovial_tack.answers.survey.needs import Need, needs_of, still_open
from jovial_tack.document.targets import NOTHING
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, plain

_HINT = (
    "What is still to be found out or put on until the belts are threaded. Enter or a double click goes"
    " to where it is typed; Shelf (F3) holds the parts, spacers and bolts in hand."
)


class NeedsCard(SideCard):
    """Things to tick off. opened: what is chosen is wanted on its card."""

    opened = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__("What is still needed", _HINT, parent)
        self._session = session
        self.needs: tuple[Need, ...] = ()
        self.count = heading("subheading")
        self.all = QCheckBox("Show what is done as well")
        self.all.toggled.connect(lambda _on: self.refresh())
        self.list = QListWidget()
        self.list.setAccessibleName("What is still needed")
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemActivated.connect(self._open)
        self.column.addWidget(self.count)
        self.column.addWidget(self.all)
        self.column.addWidget(self.list, 1)
        session.readings_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Show the list of the present build, if the card is in sight."""
        if not self.isVisible():
            return
        self.needs = needs_of(self._session.build, self._session.results)
        open_ = still_open(self.needs)
        done = len(self.needs) - open_
        self.count.setText(f"{open_} open, {done} done" if open_ else f"All {done} are done")
        self.all.setVisible(bool(open_))
        whole = self.all.isChecked() or not open_
        shown = [n for n in self.needs if n.state == "open" or whole]
        texts = [f"{'' if n.state == 'open' else 'Done – '}{n.of}: {n.words}" for n in shown]
        before = self.list.currentRow()
        items = (self.list.item(k) for k in range(self.list.count()))
        if [item.text() for item in items if item is not None] == texts:
            return
        self.list.clear()
        for need, text in zip(shown, texts, strict=True):
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, self.needs.index(need))
            item.setToolTip(plain(text))
            self.list.addItem(item)
        self.list.setCurrentRow(min(max(before, 0), len(texts) - 1))

    def _open(self, item: QListWidgetItem) -> None:
        need = self.needs[int(item.data(Qt.ItemDataRole.UserRole))]
        if need.target != NOTHING:
            self._session.select(need.target)
            self.opened.emit()
