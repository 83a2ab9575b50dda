"""Boost over the revs of one or two pulls."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from jovial_tack.answers.run_check.judging import CheckedPull
from jovial_tack.core.run_check.pull import Trace
from jovial_tack.core.run_check.pulls import at_equal_revs
from jovial_tack.core.units import PRESSURE
from jovial_tack.ui.run_check.logs import Logs
from jovial_tack.ui.widgets.desk_part import DeskPart
from jovial_tack.ui.widgets.elided import ElidedLabel
from jovial_tack.ui.widgets.plots import Plot, export
from jovial_tack.ui.widgets.read_plot import ReadPlot
from jovial_tack.ui.widgets.theme import Theme

_HEIGHT = 262


class RunCheckPlot(DeskPart):
    """Boost over the revs of one or two pulls. told: what became of an export."""

    message = pyqtSignal(str)

    def __init__(self, bench: Logs, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self._bench = bench
        self.reading = ReadPlot(
            self,
            theme,
            "Boost over the revs",
            fill=self.refresh,
            tell=self._show_text,
            lay_in=lambda plot: self._column.insertWidget(1, plot, 1),
        )
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(10, 8, 8, 6)
        self._column.setSpacing(2)
        row = QHBoxLayout()
        self.readout = ElidedLabel("faded")
        self.export_button = QPushButton("Export …")
        self.export_button.setObjectName("choice")
        self.export_button.clicked.connect(self.export)
        row.addWidget(self.readout, 1)
        row.addWidget(self.export_button)
        self._column.addLayout(row)
        self._column.addStretch(0)
        self.setFixedHeight(_HEIGHT)
        bench.changed.connect(self.reading.fill_if_seen)

    @property
    def plot(self) -> Plot | None:
        """The plot; None until it has been shown once."""
        return self.reading.plot

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.reading.set_theme(theme)

    def _unit(self) -> tuple[str, float]:
        """The unit of pressure shown, and what it is worth in kPa."""
        unit = PRESSURE.shown(self._bench.system)
        return unit, PRESSURE.factor(unit)

    def _traces(self) -> list[tuple[str, CheckedPull, Trace]]:
        found = []
        for log in self._bench.logs:
            pull = log.pull if log is not None else None
            if log is not None and pull is not None and pull.pull.trace is not None:
                found.append((log.layout.path.stem, pull, pull.pull.trace))
        return found

    def refresh(self) -> None:
        """Plot the pulls looked at."""
        plot, traces = self.reading.shown(), self._traces()
        self.export_button.setEnabled(bool(traces))
        plot.setVisible(bool(traces))
        unit, size = self._unit()
        plot.set_labels("engine speed, rpm", f"boost, {unit}")
        lines, marks = [], []
        for k, (_, _, trace) in enumerate(traces):
            style = Qt.PenStyle.SolidLine if k == 0 else Qt.PenStyle.DashDotLine
            lines.append(
                (
                    (trace.rpm, trace.boost_kpa / size),
                    plot.pen("ink" if k == 0 else "good", 2.0, style),
                )
            )
        if traces:
            _, pull, trace = traces[0]
            lines.append(
                (
                    (trace.rpm, trace.expected_kpa / size),
                    plot.pen("accent", 1.4, Qt.PenStyle.DashLine),
                )
            )
            lines.append(
                ((trace.rpm, trace.line_kpa / size), plot.pen("faded", 1.2, Qt.PenStyle.DotLine))
            )
            if pull.pull.onset_rpm is not None:
                marks.append(("v", pull.pull.onset_rpm, "slips from", plot.pen("stop", 1.4)))
        plot.show_lines(lines)
        plot.show_marks(marks)
        if traces:
            plot.show_band(*(traces[0][1].pull.onset_interval or (0.0, 0.0)), "stop")
            self._show_range(plot, [trace for _, _, trace in traces], size)
        self._show_text()

    def _show_range(self, plot: Plot, traces: Sequence[Trace], size: float) -> None:
        """All pulls whole, with a little room above. size: of the unit of boost, kPa."""
        low = min(float(trace.rpm[0]) for trace in traces)
        high = max(float(trace.rpm[-1]) for trace in traces)
        most = max(float(max(t.boost_kpa.max(), t.expected_kpa.max())) for t in traces)
        plot.show_range((low, high), (0.0, 1.08 * most / size))

    def _show_text(self) -> None:
        traces = self._traces()
        if not traces:
            self.readout.setText("Boost over engine speed: open a log to see it")
            return
        name, _, trace = traces[0]
        if self.reading.pointed is None:
            key = "solid: measured · dashed: expected without slip · dotted: straight line"
            other = f" · dash-dot: {traces[1][0]}" if len(traces) > 1 else ""
            self.readout.setText(f"{name}: {key}{other}")
            return
        rpm = min(max(self.reading.pointed, float(trace.rpm[0])), float(trace.rpm[-1]))
        is_, should = (
            float(np.interp(rpm, trace.rpm, v)) for v in (trace.boost_kpa, trace.expected_kpa)
        )
        slip = 100 * float(np.interp(rpm, trace.rpm, trace.slip))
        unit, size = self._unit()
        text = (
            f"{rpm:.0f} rpm: {is_ / size:.1f} {unit}, expected {should / size:.1f},"
            f" blower {slip:+.1f} % behind"
        )
        if len(traces) > 1:
            both = at_equal_revs(traces[0][1].pull, traces[1][1].pull)
            if both is not None and both.rpm[0] <= rpm <= both.rpm[-1]:
                more = float(np.interp(rpm, both.rpm, both.more_kpa)) / size
                within = 2 * float(np.interp(rpm, both.rpm, both.sd_kpa)) / size
                air = " in the same air" if both.in_same_air else ""
                text += f"; {traces[1][0]} {more:+.1f} ± {within:.1f} {unit}{air}"
        self.readout.setText(text)

    def export(self) -> None:
        """Write the plot to a file of the user's choice."""
        traces = self._traces()
        if self.plot is None or not traces:
            return
        unit, size = self._unit()
        pressures = (f"{name} [{unit}]" for name in ("boost", "expected", "straight line"))
        heads = ["engine speed [rpm]", *pressures, "slip"]
        _, _, t = traces[0]
        rows = [",".join(heads)]
        for cells in zip(
            t.rpm, t.boost_kpa / size, t.expected_kpa / size, t.line_kpa / size, t.slip, strict=True
        ):
            rows.append(",".join(f"{value:.6g}" for value in cells))
        export(self, self.plot, "\n".join(rows) + "\n", f"{traces[0][0]}-pull", self.message.emit)
