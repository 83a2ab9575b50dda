"""The table behind the noise finder, to look at and to change; own figures are marked."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QTableView, QVBoxLayout, QWidget

from jovial_tack.catalogue import Catalogue
from jovial_tack.catalogue.own_faults import LEAST, MOST
from jovial_tack.core.errors import JovialTackError, UnitError
from jovial_tack.core.units import PERCENT, parse
from jovial_tack.core.words import capital, sentence
from jovial_tack.ui.widgets.text import heading

_HINT = (
    "In a hundred: how often a cause is so, and how often it alone shows what is seen. All judged;"
    " change what your own shop has seen. A dot marks your figures, which lie in your own data."
)
#: Keeps a figure (finding, cause, share or None for the shipped one) and gives the catalogue with it.
Keep = Callable[[str, str, float | None], Catalogue]


class _Figures(QAbstractTableModel):
    """A row for the priors and one for each finding; a column for no cause and one for each."""

    def __init__(self, catalogue: Catalogue) -> None:
        super().__init__()
        self.catalogue = catalogue
        self.wanted: Callable[[str, str, float | None], bool] = lambda _f, _c, _v: False
        faults = catalogue.faults
        self.rows, self.columns = ("", *faults.findings), ("", *faults.causes)

    def show(self, catalogue: Catalogue) -> None:
        """Show other figures of the same table."""
        self.catalogue = catalogue
        last = self.index(len(self.rows) - 1, len(self.columns) - 1)
        self.dataChanged.emit(self.index(0, 0), last)

    def rowCount(self, _parent: QModelIndex | None = None) -> int:
        """The priors, and the findings."""
        return len(self.rows)

    def columnCount(self, _parent: QModelIndex | None = None) -> int:
        """None of the causes, and each of them."""
        return len(self.columns)

    def of(self, index: QModelIndex) -> tuple[str, str] | None:
        """The finding and the cause of a cell; None of the corner."""
        at = self.rows[index.row()], self.columns[index.column()]
        return at if any(at) else None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """All but the corner are edited."""
        usual = super().flags(index)
        return usual if self.of(index) is None else usual | Qt.ItemFlag.ItemIsEditable

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """A figure in a hundred, a dot before one's own."""
        at = self.of(index)
        if at is None:
            return None
        faults = self.catalogue.faults
        share, own = 100.0 * faults.figure(*at), at in faults.own
        if role == Qt.ItemDataRole.EditRole:
            return f"{share:g}"
        if role == Qt.ItemDataRole.DisplayRole:
            return f"• {share:g}" if own else f"{share:g}" if share else ""
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if role == Qt.ItemDataRole.FontRole and own:
            font = QFont()
            font.setBold(True)
            return font
        if role == Qt.ItemDataRole.ToolTipRole:
            return self._told(at, own)
        return None

    def _told(self, at: tuple[str, str], own: bool) -> str:
        faults, (finding, cause) = self.catalogue.faults, at
        whose = "your own figure" if own else "shipped (rep.)"
        if not finding:
            return f"How often it is {faults.causes[cause].words}: {whose}"
        seen = faults.findings[finding].words
        by = f"with {faults.causes[cause].words}" if cause else "with none of the causes"
        return f"How often {seen}, {by}: {whose}"

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take a typed figure; nothing typed takes the shipped one again."""
        at, text = self.of(index), str(value).strip()
        if at is None or role != Qt.ItemDataRole.EditRole:
            return False
        try:
            share = parse(text, PERCENT) / 100.0 if text else None
        except UnitError:
            share = float("nan")
        if share is not None and abs(share - self.catalogue.faults.figure(*at)) < 1e-9:
            return False
        return self.wanted(*at, share)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """The words of causes above, of findings at the left."""
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        faults = self.catalogue.faults
        if orientation == Qt.Orientation.Horizontal:
            name = self.columns[section]
            words = faults.causes[name].words if name else "none of them"
            return _in_lines(capital(words))
        name = self.rows[section]
        return capital(faults.findings[name].words if name else "how often it is so")


def _in_lines(words: str, wide: int = 12) -> str:
    """Words in lines no wider than need be."""
    lines = [""]
    for word in words.split():
        if lines[-1] and len(lines[-1]) + 1 + len(word) > wide:
            lines.append(word)
        else:
            lines[-1] = f"{lines[-1]} {word}".strip()
    return "\n".join(lines)


class FaultTable(QDialog):
    """The table; keep: keeps a figure, and gives the catalogue with it; taken: told of that."""

    def __init__(
        self,
        catalogue: Catalogue,
        keep: Keep,
        taken: Callable[[Catalogue], object],
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Table of the noise finder")
        self.resize(1080, 640)
        self._keep, self._taken = keep, taken
        self.figures = _Figures(catalogue)
        self.figures.wanted = self._want
        self.table = QTableView()
        self.table.setModel(self.figures)
        self.table.setAccessibleName("How often each cause shows each finding, in a hundred")
        across = self.table.horizontalHeader()
        assert across is not None
        across.setDefaultSectionSize(92)
        hint, self.message = heading("faded"), heading("badfigure")
        hint.setText(_HINT)
        self.message.hide()
        self.again = QPushButton("Shipped figure again")
        self.again.clicked.connect(lambda _=False: self._back())
        close = QPushButton("Close")
        close.clicked.connect(lambda _=False: self.accept())
        row = QHBoxLayout()
        row.addWidget(self.again)
        row.addStretch(1)
        row.addWidget(close)
        column = QVBoxLayout(self)
        column.setSizeConstraint(
            QVBoxLayout.SizeConstraint.SetNoConstraint
        )  # as small as is wanted
        column.addWidget(hint)
        column.addWidget(self.table, 1)
        column.addWidget(self.message)
        column.addLayout(row)
        self.table.setCurrentIndex(self.figures.index(0, 1))

    def _want(self, finding: str, cause: str, share: float | None) -> bool:
        # what is typed is in a hundred, so is what is said of it
        least = 0.0 if finding and cause else LEAST
        if share is not None and not least <= share <= MOST:
            said = f"A figure from {100 * least:g} to {100 * MOST:g}, in a hundred."
            self.message.setText(said)
            self.message.show()
            return False
        try:
            catalogue = self._keep(finding, cause, share)
        except JovialTackError as error:
            self.message.setText(sentence(str(error)))
            self.message.show()
            return False
        self.message.hide()
        self.figures.show(catalogue)
        self._taken(catalogue)
        return True

    def _back(self) -> None:
        """Take the shipped figure of the cell again."""
        at = self.figures.of(self.table.currentIndex())
        if at is not None and at in self.figures.catalogue.faults.own:
            self._want(*at, None)
