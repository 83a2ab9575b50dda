"""The right side at the run check: the logs, their pulls, the answer, the columns in use."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.core.errors import UnitError
from jovial_tack.core.words import sentence
from jovial_tack.ui.run_check.answer import Answer
from jovial_tack.ui.run_check.columns import Columns
from jovial_tack.ui.run_check.logs import Logs, OpenLog
from jovial_tack.ui.widgets.desk_part import DeskPart, scrolled
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.text import Label, heading, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.widgets.typed import TextField

_HINT = (
    "Open a log of a full-throttle pull (CSV from any logger): time, engine speed and boost are"
    " enough; throttle and blower speed say more. A second log, before or after a change, is laid"
    " beside it at equal revs."
)
_CAUTION = (
    "A log is made on a closed course or a dyno, never read while driving. What it shows is evidence:"
    " look at belt and pulleys before parts are changed."
)


class RunCheckPanel(DeskPart):
    """The right side at the run check. open_wanted: the place (0 or 1) a log is wanted for."""

    open_wanted = pyqtSignal(int)
    demo_wanted = pyqtSignal()

    def __init__(self, bench: Logs, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self._bench, self._theme = bench, theme
        self._filling = False
        outer = QVBoxLayout(self)
        outer.setContentsMargins(1, 1, 1, 1)
        outer.setSpacing(0)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(9)
        self.title, self.subtitle = heading(), heading("faded")
        self.title.setText("Run check")
        self.open_button = self._button("Open a log …", lambda: self.open_wanted.emit(0))
        self.compare_button = self._button("Compare with …", lambda: self.open_wanted.emit(1))
        self.demo_button = self._button("Look at the demo logs", self.demo_wanted.emit)
        self.calibrate_button = self._button("Calibrate the blower by it", bench.calibrate)
        self.calibrate_button.setToolTip("Take the blower's known point from the part that holds")
        self.friction_button = self._button("Take this friction", bench.take_friction)
        self.friction_button.setToolTip("The belt slips in the model where it does in the log")
        self.keep_button = self._button("Keep in the logbook", bench.keep)
        self.keep_button.setToolTip("Enter this log, with what it shows, among the build's events")
        self.away_button = self._button("Let go of the second", lambda: bench.take_away(1))
        row = QHBoxLayout()
        row.setSpacing(6)
        for button in (self.open_button, self.compare_button):
            row.addWidget(button)
        row.addStretch(1)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(8)
        self.progress_text = heading("faded")
        self.cancel_button = self._button("Cancel", bench.cancel)
        self.answer = Answer(theme)
        self.other_answer = Answer(theme)
        self.pull = self._combo("Pull looked at", lambda k: bench.choose(0, k))
        self.other_pull = self._combo("Pull compared with", lambda k: bench.choose(1, k))
        self.air = TextField("Air's pressure or elevation that day", draft=True)
        self.air.setPlaceholderText("98.2 kPa, 1600 m or 5250 ft")
        self.air.committed.connect(self._take_air)
        self.air_row = _labelled("Air that day", self.air)
        self.air_refused = heading("badfigure")
        self.air_refused.hide()
        self.compared = heading("plain")
        self.columns = Columns(bench)
        self.remarks = heading("faded")
        column.addWidget(self.title)
        column.addWidget(self.subtitle)
        column.addLayout(row)
        for widget in (
            self.demo_button,
            self.progress_text,
            self.progress,
            self.cancel_button,
            self.pull,
            self.answer,
            self.air_row,
            self.air_refused,
            self.friction_button,
            self.calibrate_button,
            self.keep_button,
            self.other_pull,
            self.other_answer,
            self.compared,
            self.away_button,
            self.columns,
            self.remarks,
        ):
            column.addWidget(widget)
        column.addStretch(1)
        outer.addWidget(scrolled(inside), 1)
        caution = heading("caution")
        caution.setText(_CAUTION)
        outer.addWidget(caution)
        bench.changed.connect(self.refresh)
        bench.progressed.connect(self._progress)
        self.refresh()

    def _button(self, text: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.clicked.connect(lambda _=False: act())
        return button

    def _combo(self, name: str, act: Callable[[int], object]) -> QComboBox:
        combo = ElidedChoice(name)
        combo.activated.connect(act)
        return combo

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.answer.set_theme(theme)
        self.other_answer.set_theme(theme)

    def _take_air(self, text: str) -> None:
        refused = ""
        try:
            self._bench.set_air(text)
            self.air.show_text(text)
        except UnitError as error:
            refused = str(error)
            self.air.turn_down(refused)
        self.air_refused.setText(sentence(refused) if refused else "")
        self.air_refused.setVisible(bool(refused))

    def _progress(self, text: str, share: float) -> None:
        self.progress_text.setText(f"{text} …")
        self.progress.setValue(round(100 * share))

    def refresh(self) -> None:
        """Show the logs as they now are."""
        bench = self._bench
        first, second = bench.logs
        busy = bench.busy
        for widget in (self.progress, self.progress_text, self.cancel_button):
            widget.setVisible(busy)
        self.compare_button.setEnabled(first is not None)
        self.demo_button.setVisible(first is None)
        self.away_button.setVisible(second is not None)
        self.calibrate_button.setVisible(bench.can_calibrate)
        self.keep_button.setVisible(bench.can_keep)
        self.friction_button.setVisible(bench.can_take_friction)
        if first is not None:
            self.subtitle.setText(first.layout.path.name)
        else:
            self.subtitle.setText(f"Not opened. {bench.problem}." if bench.problem else _HINT)
        _fill(self.pull, first)
        _fill(self.other_pull, second)
        problem = bench.problem if first else None
        self.answer.show_log(first, problem, bench.system, bench.model_onset_rpm)
        self.other_answer.show_log(second, None, bench.system)
        said = bench.bought
        self.compared.setText("" if said is None else together(sentence(said)))
        self.compared.setVisible(said is not None)
        self.columns.refresh(first)
        untold = first is not None and first.needs_air
        self.air_row.setVisible(untold)
        loaded = None if first is None else first.loaded
        remarks = () if loaded is None else loaded.remarks
        self.remarks.setText("\n".join(map(sentence, remarks)))
        self.remarks.setVisible(bool(remarks))


def _labelled(name: str, field: QWidget) -> QWidget:
    """A field with its name at its left."""
    row = QWidget()
    line = QHBoxLayout(row)
    line.setContentsMargins(0, 0, 0, 0)
    line.addWidget(Label(name))
    line.addWidget(field, 1)
    return row


def _fill(combo: QComboBox, log: OpenLog | None) -> None:
    """The pulls of a log to choose from; hidden without one."""
    answers = () if log is None else log.answers
    combo.setVisible(bool(answers))
    if log is None or log.checked is None or not answers:
        return
    name, pulls = log.layout.path.name, log.checked.pulls
    texts = [
        f"{name}: pull {k}, {p.pull.low_rpm:.0f} to {p.pull.high_rpm:.0f} rpm"
        for k, p in enumerate(pulls, start=1)
    ]
    if len(answers) > len(pulls):
        whole = f"all {len(pulls)} pulls together" if len(pulls) > 1 else "the whole log"
        texts.insert(0, f"{name}: {whole}")
    if [combo.itemText(k) for k in range(combo.count())] != texts:
        combo.clear()
        combo.addItems(texts)
    combo.setCurrentIndex(log.chosen)
