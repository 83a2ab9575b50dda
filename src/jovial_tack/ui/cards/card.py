"""The card of whatever is selected: its sheet laid out, each figure where it can be typed over."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QGridLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.value import replace
from jovial_tack.document.targets import NOTHING, Target
from jovial_tack.sheets import Act, Figure, Row, Sheet, Shown, Words, exists, sheet_of
from jovial_tack.ui.cards.rows import ChoiceRow, FigureRow, FindingList, RowWidget, WordsRow
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.flow import FlowLayout
from jovial_tack.ui.widgets.text import heading, on_button
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.widgets.typed import Parked, TypedField


class Card(QWidget):
    """Title, subtitle, ways to what belongs to it, figures, findings; the caution stands below."""

    released = pyqtSignal()  # Esc in a field
    demo_wanted = pyqtSignal()
    open_wanted = pyqtSignal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session = session
        self.rows: dict[str, RowWidget] = {}
        self._lines: tuple[str, ...] = ()
        self._parked = Parked(self)
        self._sheet: Sheet[Any] | None = None
        self._target: Target = NOTHING
        self._refreshing = self._again = False
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        inside = QWidget()
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(16, 14, 7, 14)
        self._column.setSpacing(9)
        self.title, self.subtitle = heading(), heading("faded")
        self.ways, self.acts = _Buttons("way"), _Buttons("act")
        self._grid_holder = QWidget()
        self.findings = FindingList(theme)
        self.findings.mend_wanted.connect(lambda mend: session.edit(mend.words, mend.build))
        self.open_button = QPushButton("Open a build …")
        self.demo_button = QPushButton("Look at the demo build")
        self.open_button.clicked.connect(self.open_wanted)
        self.demo_button.clicked.connect(self.demo_wanted)
        for widget in (
            self.title,
            self.subtitle,
            self.open_button,
            self.demo_button,
            self.ways,
            self.acts,
            self._grid_holder,
            self.findings,
        ):
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
        row = self.rows[name]
        assert isinstance(row, FigureRow)
        return row

    def line(self, name: str) -> RowWidget:
        """The row of any line by its name; KeyError if the card shows none."""
        return self.rows[name]

    def act(self, name: str) -> QPushButton:
        """The button of something to do, by its name; KeyError if the card offers none."""
        for button in self.acts.buttons:
            if button.text() == on_button(name):
                return button
        raise KeyError(name)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme; what is being typed stays."""
        self.findings.set_theme(theme)

    def ask_for(self, name: str) -> None:
        """Begin to type in a line of what is selected, over what stands there."""
        self.refresh()
        row = self.rows.get(name)
        field = None if row is None or isinstance(row, ChoiceRow) else row.field
        if field is not None:
            field.setFocus()
            field.selectAll()

    def refresh(self) -> None:
        """Show what is selected as it now is; rows are kept while the kind of thing is the same.

        What a change of rows brings about comes after it, never within.
        """
        if self._refreshing:
            self._again = True
            return
        self._refreshing = True
        try:
            self._show()
            while self._again:
                self._again = False
                self._show()
        finally:
            self._refreshing = False

    def _show(self) -> None:
        session = self._session
        view = session.view
        sheet = sheet_of(view.target)
        lines = sheet.figures(view)
        if tuple(line.name for line in lines) != self._lines or sheet is not self._sheet:
            self._rebuild(lines)
            self._sheet = sheet
        if view.target != self._target:
            self._target = view.target
            self._go_to_another()
        self.ways.show_buttons(
            [(text, partial(session.select, target)) for text, target in sheet.related(view)]
        )
        names = [] if session.is_read_only else [act.name for act in sheet.acts(view)]
        # shafts may share a name, and so may what is offered for them
        self.acts.show_buttons(
            [
                (name, partial(self._do, name, names[:place].count(name)))
                for place, name in enumerate(names)
            ]
        )
        self.title.setText(sheet.title(view))
        self.subtitle.setText(sheet.subtitle(view))
        before, read_only = session.baseline_view, session.is_read_only
        then = {} if before is None else {line.name: line for line in sheet.figures(before)}
        for line in lines:
            moved = None if before is None else _moved(line, view, then.get(line.name), before)
            self.rows[line.name].show(view, moved, session.both_units, read_only)
        self.findings.show_findings(sheet.findings(view))
        caution = sheet.caution(view)
        if caution != self.caution.text():
            self.caution.setText(caution)
        empty = not view.build.drives and view.target == NOTHING
        for button in (self.open_button, self.demo_button):
            button.setVisible(empty)
        if read_only and view.target == NOTHING:
            message = (
                "Written by a newer version: it can be looked at here, not changed or computed."
            )
            self.subtitle.setText(message)

    def _rebuild(self, lines: tuple[Row[Any], ...]) -> None:
        # with a parent from the start: without one Python would delete it as soon as it is let go of,
        # maybe from within a signal of one of its own children
        fresh = QWidget(self._grid_holder.parentWidget())
        grid = QGridLayout(fresh)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(0, 1)
        grid.setColumnMinimumWidth(2, 96)
        held = next((n for n, row in self.rows.items() if row.holder.hasFocus()), None)
        self._parked.put_away(self._fields())
        self.rows = {line.name: self._new_row(line, grid) for line in lines}
        for field in self._fields().values():
            field.released.connect(self.released)
        self._column.replaceWidget(self._grid_holder, fresh)
        fresh.show()
        self._grid_holder.hide()
        self._grid_holder.deleteLater()
        self._grid_holder, self._lines = fresh, tuple(line.name for line in lines)
        if held in self.rows:
            self.rows[held].holder.setFocus()  # what was chosen there changed the lines around it
        self._parked.bring_back(self._fields())

    def _fields(self) -> dict[str, TypedField]:
        """What can be typed in, by the names of the lines."""
        found: dict[str, TypedField] = {}
        for name, row in self.rows.items():
            field = None if isinstance(row, ChoiceRow) else row.field
            if field is not None:
                found[name] = field
        return found

    def _new_row(self, line: Row[Any], grid: QGridLayout) -> RowWidget:
        if isinstance(line, Figure):
            return FigureRow(line, grid, partial(self._change, line.name))
        if isinstance(line, Words):
            return WordsRow(line, grid, partial(self._change, line.name))
        return ChoiceRow(line, grid, partial(self._change, line.name))

    def _go_to_another(self) -> None:
        bar = self._area.verticalScrollBar()
        if bar is not None:
            bar.setValue(0)

    def _change(self, name: str, value: Any) -> None:
        """Try an edit of what the card shows, whatever is selected by now; a refusal is told below its
        line.
        """
        row = self.rows.get(name)
        field = None if row is None or isinstance(row, ChoiceRow) else row.field
        target: Any = self._target if field is None else field.of
        view = replace(self._session.view, target=target)
        if not exists(view.build, view.target):
            return
        lines = sheet_of(view.target).figures(view)
        line = next((line for line in lines if line.name == name), None)
        if line is None or line.change is None:
            return
        try:
            build = line.change(view.build, view.target, value)
        except BuildFileError as error:
            self._refuse(name, f"This needs {error.expected}.")
            self.refresh()
            return
        self._refuse(name, "")
        self._session.edit(line.label(view), build)

    def _refuse(self, name: str, text: str) -> None:
        row = self.rows.get(name)
        if row is not None:
            row.refuse(text)

    def _offered(self, name: str, nth: int) -> Act | None:
        view = replace(self._session.view, target=self._target)
        there = sheet_of(view.target).acts(view) if exists(view.build, view.target) else ()
        named = [act for act in there if act.name == name]
        return named[nth] if nth < len(named) else None

    def _do(self, name: str, nth: int) -> None:
        """Do something that was offered, the nth of that name, and select what it made: to the build
        as it is now, which may be another than that it was offered for.
        """
        act = self._offered(name, nth)
        if act is None:
            self.refresh()
            return
        try:
            build = act.make(self._session.build)
        except BuildFileError as error:
            self.subtitle.setText(f"This cannot be done: it needs {error.expected}.")
            return
        if build == self._session.build:
            self.subtitle.setText("Nothing to change: it is so already.")
            return
        self._session.edit(act.label, build)
        if act.then is not None:
            self._session.select(act.then(self._session.build))
        self.refresh()
        if act.asks:
            self.ask_for(act.asks)
        if QApplication.focusWidget() is None and self.acts.buttons:
            self.acts.buttons[0].setFocus()  # the button pressed has gone with what it was for


def _moved(
    line: Row[Any], view: Shown[Any], was: Row[Any] | None, before: Shown[Any]
) -> str | None:
    """How far a line has moved from the same line of what is pinned, which reads it in its own way: the
    thing may have been of another kind then. None where there was no such line.
    """
    if not isinstance(line, Figure) or not isinstance(was, Figure):
        return None
    return line.change_since(view, was.value(before))


class _Buttons(QWidget):
    """A few buttons in lines; they are made anew only when their words change."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._name = name
        self._row = FlowLayout(self, 6)
        self._doing: list[Callable[[], object]] = []
        self.buttons: list[QPushButton] = []

    def show_buttons(self, wanted: Sequence[tuple[str, Callable[[], object]]]) -> None:
        """Show buttons with these words; what they do is always the newest."""
        self._doing = [act for _, act in wanted]
        self.setVisible(bool(wanted))
        if [button.text() for button in self.buttons] == [on_button(text) for text, _ in wanted]:
            return
        for button in self.buttons:
            self._row.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.buttons = []
        for place, (text, _) in enumerate(wanted):
            button = QPushButton(on_button(text))
            button.setObjectName(self._name)
            button.clicked.connect(lambda _=False, k=place: self._doing[k]())
            self._row.addWidget(button)
            button.show()
            self.buttons.append(button)
        self.updateGeometry()
