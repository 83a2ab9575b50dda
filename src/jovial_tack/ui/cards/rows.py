"""The parts cards are laid out from: rows of figures, findings and cautions."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.results import Finding, Mend
from jovial_tack.core.words import capital, sentence
from jovial_tack.sheets import Choice, Figure, Shown, Words
from jovial_tack.ui.widgets.elided import ElidedButton, ElidedChoice, ElidedLabel
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.marks import MarkLabel
from jovial_tack.ui.widgets.text import Label, heading, plain, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.widgets.typed import TextField

_FIGURE_WIDTH = 104


class FigureRow:
    """A word, a figure and what it is measured against, in one row of a grid.

    A figure that can be changed stands in a field; why it is refused appears below it.
    """

    def __init__(
        self, figure: Figure[Any], grid: QGridLayout, change: Callable[[float], None]
    ) -> None:
        self.figure = figure
        row = grid.rowCount()
        word = Label(figure.name)
        if figure.spoken:
            word.setToolTip(plain(figure.spoken))
        self.aside = ElidedLabel("faded")  # a long one must not widen the card
        self.reason = heading("badfigure")
        self.reason.hide()
        self.field: QuantityField | None = None
        self.label: QLabel | None = None
        shown: QWidget
        if figure.change is not None:
            self.field = shown = QuantityField(figure.spoken or figure.name, figure.quantity)
            self.field.setFixedWidth(_FIGURE_WIDTH)
            self.field.committed.connect(change)
            self.field.refused.connect(self.refuse)
            word.setBuddy(self.field)
        else:
            self.label = shown = Label()
            self.label.setObjectName("figure")
            self.label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        grid.addWidget(word, row, 0)
        grid.addWidget(shown, row, 1)
        grid.addWidget(self.aside, row, 2)
        grid.addWidget(self.reason, row + 1, 0, 1, 3)

    def show(self, view: Shown[Any], moved: str | None, both: bool, read_only: bool) -> None:
        """Show the figure of a view, beside it how far it moved from what is pinned (None where nothing
        is), its other unit, or its measure.
        """
        figure = self.figure
        other = figure.in_other_unit(view)
        if self.field is not None:
            unit = figure.unit(view.build)
            digits = figure.digits_in(unit)
            self.field.show_value(figure.value(view), unit, digits, other, of=view.target)
            self.field.setReadOnly(read_only)
            if not self.field.reason:  # why what was typed is not taken comes first
                self._say(figure.doubt(view))
        if self.label is not None:
            self._show_label(self.label, figure.text(view), other)
        aside = other if both and other else figure.aside(view)
        if moved is not None:
            aside = moved if moved in ("", "=", "new", "gone") else f"Δ {moved}"
        self._show_aside(aside, "moved" if moved not in (None, "", "=") else "faded")

    def _show_label(self, label: QLabel, text: str, other: str) -> None:
        if text != label.text():
            label.setText(text)
            label.setAccessibleName(f"{self.figure.spoken or self.figure.name}: {text}")
        label.setToolTip(plain(other))

    def _show_aside(self, text: str, name: str) -> None:
        """Words beside the figure. name: by which the style sheet knows how they look."""
        if name != self.aside.objectName():
            self.aside.setObjectName(name)
            style = self.aside.style()
            if style is not None:  # let the style sheet look at the name again
                style.unpolish(self.aside)
                style.polish(self.aside)
        if text != self.aside.text():
            self.aside.setText(text)

    @property
    def holder(self) -> QWidget:
        """What takes the focus of this row."""
        return self.field or self.label or self.reason

    def _say(self, text: str) -> None:
        self.reason.setText(text)
        self.reason.setVisible(bool(text))

    def refuse(self, text: str) -> None:
        """Say why a figure is refused, or nothing; what was typed of it stays."""
        self._say(text)
        if text and self.field is not None:
            self.field.turn_down(text)


class _WideRow:
    """A word and something that takes the rest of the line."""

    def __init__(self, name: str, shown: QWidget, grid: QGridLayout) -> None:
        self.holder = shown
        self.reason = heading("badfigure")
        self.reason.hide()
        row = grid.rowCount()
        word = Label(name)
        word.setBuddy(shown)
        grid.addWidget(word, row, 0)
        grid.addWidget(shown, row, 1, 1, 2)
        grid.addWidget(self.reason, row + 1, 0, 1, 3)

    def refuse(self, text: str) -> None:
        """Say why something is refused, or nothing."""
        self.reason.setText(text)
        self.reason.setVisible(bool(text))


class WordsRow(_WideRow):
    """A line of text to type over."""

    def __init__(self, line: Words[Any], grid: QGridLayout, change: Callable[[str], None]) -> None:
        self.line, self.field = line, TextField(line.spoken or line.name)
        super().__init__(line.name, self.field, grid)
        self.field.committed.connect(change)
        self.field.refused.connect(super().refuse)

    def refuse(self, text: str) -> None:
        """Say why words are refused, or nothing; what was typed of them stays."""
        super().refuse(text)
        if text:
            self.field.turn_down(text)

    def show(self, view: Shown[Any], _moved: str | None, _both: bool, read_only: bool) -> None:
        """Show the text of a view."""
        self.field.show_text(self.line.text(view), of=view.target)
        self.field.setReadOnly(read_only)


class ChoiceRow(_WideRow):
    """A few things to choose from."""

    def __init__(self, line: Choice[Any], grid: QGridLayout, change: Callable[[str], None]) -> None:
        self.line, self.combo = line, ElidedChoice()
        super().__init__(line.name, self.combo, grid)
        self.combo.setAccessibleName(line.spoken or line.name)
        self.combo.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.combo.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.combo.setMinimumContentsLength(8)
        self.combo.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.keys: tuple[str, ...] = ()
        self.combo.activated.connect(lambda place: change(self.keys[place]))

    def show(self, view: Shown[Any], _moved: str | None, _both: bool, read_only: bool) -> None:
        """Show the options of a view and which one is chosen."""
        options = self.line.options(view)
        texts = [text for _, text in options]
        self.keys = tuple(key for key, _ in options)
        if texts != [self.combo.itemText(k) for k in range(self.combo.count())]:
            self.combo.clear()
            self.combo.addItems(texts)
        chosen = self.line.chosen(view)
        self.combo.setCurrentIndex(self.keys.index(chosen) if chosen in self.keys else -1)
        self.combo.setEnabled(not read_only and len(options) > 1)

    def choose(self, key: str) -> None:
        """Choose as a user would."""
        place = self.keys.index(key)
        self.combo.setCurrentIndex(place)
        self.combo.activated.emit(place)


RowWidget = FigureRow | WordsRow | ChoiceRow


class FindingList(QWidget):
    """Findings, each with its mark and what mends it; its rows are kept and only rewritten.

    mend_wanted: a mend whose button was pressed.
    """

    mend_wanted = pyqtSignal(object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(8)
        self._rows: list[tuple[QWidget, MarkLabel, QLabel, ElidedButton]] = []
        self._mends: list[Mend | None] = []

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        for _, mark, _, _ in self._rows:
            mark.set_theme(theme)

    def show_findings(self, findings: Sequence[Finding]) -> None:
        """Show findings."""
        while len(self._rows) < len(findings):
            self._rows.append(self._new_row())
        self._mends = [next(iter(finding.mends), None) for finding in findings]
        for place, (row, mark, text, button) in enumerate(self._rows):
            row.setVisible(place < len(findings))
            if place >= len(findings):
                continue
            message, mend = findings[place].message, self._mends[place]
            level = findings[place].level
            mark.show_state("unknown" if level == "note" else level)
            if mend is not None:  # told by its button
                message = message.partition("; ")[0]
                words, whole = (capital(said) for said in (mend.words, mend.sentence))
                button.show_words(words, f"{whole} (one step to undo)")
            button.setVisible(mend is not None)
            text.setText(together(sentence(message)))

    def _press(self, place: int) -> None:
        mend = self._mends[place]
        if mend is not None:
            self.mend_wanted.emit(mend)

    def _new_row(self) -> tuple[QWidget, MarkLabel, QLabel, ElidedButton]:
        row = QWidget()
        across = QHBoxLayout(row)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(8)
        mark = MarkLabel("unknown", self._theme)
        across.addWidget(mark, 0, Qt.AlignmentFlag.AlignTop)
        text = Label()
        text.setWordWrap(True)
        button = ElidedButton()
        button.setObjectName("act")
        button.clicked.connect(partial(self._press, len(self._rows)))
        told = QVBoxLayout()
        told.setSpacing(4)
        told.addWidget(text)
        told.addWidget(button)
        across.addLayout(told, 1)
        self._column.addWidget(row)
        return row, mark, text, button
