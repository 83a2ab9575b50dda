"""What one pull shows: the answer, its reason and its figures."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QLabel, QWidget

from jovial_tack.answers.run_check.judging import CheckedPull, friction_band
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.run_check.moments import Moment, moment_words
from jovial_tack.core.units import PRESSURE, written_in
from jovial_tack.core.words import sentence
from jovial_tack.ui.run_check.logs import OpenLog, mark_of
from jovial_tack.ui.widgets.marks import MarkLabel
from jovial_tack.ui.widgets.text import Label, heading, together
from jovial_tack.ui.widgets.theme import Theme

_SHOWN_MOMENTS = 4
_ANSWERS: dict[bool | None, str] = {True: "Slips", False: "No slip found", None: "Cannot tell"}


class Answer(QWidget):
    """The answer for one pull: mark, sentence, figures."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._mark: MarkLabel | None = None
        self._theme = theme
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(3)
        self._grid.setColumnStretch(1, 1)
        self.message = heading("subheading")
        self.reason = heading("plain")
        self._grid.addWidget(self.message, 0, 1, 1, 2)
        self._grid.addWidget(self.reason, 1, 0, 1, 3)
        self.lines: list[tuple[QLabel, QLabel]] = []
        self.set_theme(theme)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        state: Mark = "unknown" if self._mark is None else self._mark.state
        if self._mark is not None:
            self._grid.removeWidget(self._mark)
            self._mark.deleteLater()
        self._mark = MarkLabel(state, theme)
        self._grid.addWidget(self._mark, 0, 0)

    def show_log(
        self,
        log: OpenLog | None,
        problem: str | None,
        system: str,
        model_onset_rpm: float | None = None,
    ) -> None:
        """Show the answer of the pull looked at, or why there is none; beside its onset the model's."""
        assert self._mark is not None
        self.setVisible(log is not None and (log.checked is not None or bool(log.problem)))
        if log is None:
            return
        found = log.pull
        problem = problem or log.problem or (log.checked.problem if log.checked else None)
        if found is None or log.problem:
            self._mark.show_state("unknown")
            self.message.setText("No pull to judge")
            self.reason.setText(sentence(problem or ""))
            self._show_lines([])
            return
        self._show_answer(found)
        lines = _figures(found, system)
        if model_onset_rpm is not None and found.pull.onset_rpm is not None:
            lines.insert(2, ("Onset of the model", f"{model_onset_rpm:.0f} rpm"))
        if log.checked is not None:
            lines += _moments(log.checked.moments)
        self._show_lines(lines)

    def _show_answer(self, found: CheckedPull) -> None:
        assert self._mark is not None
        self._mark.show_state(mark_of(found.pull))
        word = _ANSWERS[found.pull.slip]
        sure = "" if found.pull.slip is None else f" ({found.pull.confidence})"
        self.message.setText(word + sure)
        self.reason.setText(together(sentence(found.pull.reason)))

    def _show_lines(self, lines: list[tuple[str, str]]) -> None:
        while len(self.lines) < len(lines):
            pair = Label(), Label()
            pair[1].setObjectName("figure")
            pair[1].setAlignment(Qt.AlignmentFlag.AlignRight)
            self._grid.addWidget(pair[0], 2 + len(self.lines), 0, 1, 2)
            self._grid.addWidget(pair[1], 2 + len(self.lines), 2)
            self.lines.append(pair)
        for k, (word, figure) in enumerate(self.lines):
            word.setVisible(k < len(lines))
            figure.setVisible(k < len(lines))
            if k < len(lines):
                word.setText(lines[k][0])
                figure.setText(lines[k][1])


def _moments(moments: Sequence[Moment]) -> list[tuple[str, str]]:
    """Where else the blower's own speed leaves the crank's, the worst first."""
    worst_first = sorted(moments, key=lambda moment: -abs(moment.worst))
    lines = [moment_words(moment) for moment in worst_first[:_SHOWN_MOMENTS]]
    if len(worst_first) > _SHOWN_MOMENTS:
        lines.append(("Less than these", f"{len(worst_first) - _SHOWN_MOMENTS} more times"))
    return lines


def _figures(found: CheckedPull, system: str) -> list[tuple[str, str]]:
    pull = found.pull
    lines: list[tuple[str, str]] = []
    if pull.onset_rpm is not None and pull.onset_interval is not None:
        low, high = pull.onset_interval
        lines += [
            ("Onset", f"{pull.onset_rpm:.0f} rpm"),
            ("between", f"{low:.0f} – {high:.0f} rpm"),
        ]
    if pull.boost_lost_kpa is not None:
        lost = written_in(pull.boost_lost_kpa, PRESSURE, system)
        lines.append(("Boost lost at the top", lost))
    if pull.worst_slip is not None:
        lines.append(("Blower speed lost", f"{100 * pull.worst_slip:.1f} %"))
    if pull.worst_interval is not None:
        low, high = (100 * share for share in pull.worst_interval)
        lines.append(("between", f"{low:.1f} – {high:.1f} %"))
    if pull.would_show is not None:
        lines.append(("Slip that would have shown", f"over {100 * pull.would_show:.1f} %"))
    if found.friction_ribs is not None and found.friction_share is not None:
        share = f"{100 * found.friction_share:.0f} % of design"
        lines.append(("Friction that explains it", f"{found.friction_ribs:.2f}, {share}"))
        band = friction_band(found).strip(" ()")
        if band:
            lines.append(("between", band.replace(" to ", " – ")))
    for twin in pull.twins:
        if twin.ruled_out:
            lines.append((f"Not {twin.words}", "by the log"))
    return lines
