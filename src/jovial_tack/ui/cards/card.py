"""The card of whatever is selected: its sheet laid out, each figure where it can be typed over."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from jovial_tack.build.figures import Figure, Sheet, View, sheet_of
from jovial_tack.core.errors import BuildFileError
from jovial_tack.ui.cards.flow import FlowLayout
from jovial_tack.ui.cards.rows import FigureRow, FindingList, heading
from jovial_tack.ui.session import Session, Target
from jovial_tack.ui.theme import Theme


class Card(QWidget):
    """Title, subtitle, ways to what belongs to it, figures, findings; the caution stands below."""

    released = pyqtSignal()  # Esc in a field
    demo_wanted = pyqtSignal()
    open_wanted = pyqtSignal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session, self._theme = session, theme
        self._rows: dict[str, FigureRow] = {}
        self._figures: tuple[Figure, ...] = ()
        self._sheet: Sheet | None = None
        self._target: Target = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        inside = QWidget()
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(16, 14, 16, 14)
        self._column.setSpacing(9)
        self.title, self.subtitle = heading(), heading("faded")
        self._ways = QWidget()
        self._ways_row = FlowLayout(self._ways, 6)
        self._way_buttons: list[QPushButton] = []
        self._grid_holder = QWidget()
        self.findings = FindingList(theme)
        self.open_button = QPushButton("Open a build …")
        self.demo_button = QPushButton("Look at the demo build")
        self.open_button.clicked.connect(self.open_wanted)
        self.demo_button.clicked.connect(self.demo_wanted)
        for widget in (
            self.title, self.subtitle, self.open_button, self.demo_button, self._ways,
            self._grid_holder, self.findings,
        ):  # fmt: skip
            self._column.addWidget(widget)
        self._column.addStretch(1)
        area = QScrollArea()
        area.setWidget(inside)
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setFocusPolicy(area.focusPolicy().NoFocus)
        area.setHorizontalScrollBarPolicy(area.horizontalScrollBarPolicy().ScrollBarAlwaysOff)
        self._area = area
        self.caution = heading("caution")
        column.addWidget(area, 1)
        column.addWidget(self.caution)

    def row(self, name: str) -> FigureRow:
        """The row of a figure by its name; KeyError if the card shows none."""
        return self._rows[name]

    def refresh(self) -> None:
        """Show what is selected as it now is; rows are kept while the kind of thing is the same."""
        session = self._session
        view = session.view
        sheet = sheet_of(view.target)
        figures = sheet.figures(view)
        if figures != self._figures or sheet is not self._sheet:
            self._rebuild(figures)
            self._sheet = sheet
        if view.target != self._target:
            self._target = view.target
            self._go_to_another(sheet, view)
        self.title.setText(sheet.title(view))
        self.subtitle.setText(sheet.subtitle(view))
        before, read_only = session.baseline_view, session.is_read_only
        for row in self._rows.values():
            row.show(view, before, session.both_units, read_only)
        self.findings.show_findings(sheet.findings(view))
        caution = sheet.caution(view)
        if caution != self.caution.text():
            self.caution.setText(caution)
        empty = not view.build.drives and not view.target
        for button in (self.open_button, self.demo_button):
            button.setVisible(empty)
        if read_only and not view.target:
            said = "Written by a newer version: it can be looked at here, not changed or computed."
            self.subtitle.setText(said)

    def _rebuild(self, figures: tuple[Figure, ...]) -> None:
        fresh = QWidget()
        grid = QGridLayout(fresh)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(0, 1)
        grid.setColumnMinimumWidth(2, 96)
        self._rows = {
            figure.name: FigureRow(figure, grid, lambda value, f=figure: self._change(f, value))  # type: ignore[misc]
            for figure in figures
        }
        for row in self._rows.values():
            if row.field is not None:
                row.field.released.connect(self.released)
        self._column.replaceWidget(self._grid_holder, fresh)
        fresh.show()
        self._grid_holder.deleteLater()
        self._grid_holder, self._figures = fresh, figures

    def _go_to_another(self, sheet: Sheet, view: View) -> None:
        for row in self._rows.values():
            if row.field is not None:
                row.field.forget_typed()
        for button in self._way_buttons:
            self._ways_row.removeWidget(button)
            button.deleteLater()
        self._way_buttons = []
        for text, target in sheet.related(view):
            button = QPushButton(text)
            button.setObjectName("way")
            button.clicked.connect(lambda _=False, t=target: self._session.select(t))
            self._ways_row.addWidget(button)
            self._way_buttons.append(button)
        self._ways.setVisible(bool(self._way_buttons))
        bar = self._area.verticalScrollBar()
        if bar is not None:
            bar.setValue(0)

    def _change(self, figure: Figure, value: float) -> None:
        """Try an edit; a refusal is told below its field."""
        view = self._session.view
        if figure.change is None:
            return
        try:
            build = figure.change(view.build, view.target, value)
        except BuildFileError as error:
            self._rows[figure.name].refuse(f"This needs {error.expected}.")
            self.refresh()
            return
        self._rows[figure.name].refuse("")
        self._session.edit(figure.label(view), build)
