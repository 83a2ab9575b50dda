"""A blower's map at the right of the desk: speed lines, surge and choke, and the line it works on."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPen
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QWidget

from jovial_tack.answers.ratios.charge import Charged, charged_drive
from jovial_tack.answers.ratios.map import map_of, map_words, operating_line
from jovial_tack.core.errors import BuildFileError, GeometryError, JovialTackError
from jovial_tack.core.ratios.compressor_map import CompressorMap, Operating
from jovial_tack.core.units import AIR_FLOW, written_in
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.curves import read_map, with_curve
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.files.companions import read_text
from jovial_tack.files.exports import map_csv
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.plots import Plot, Points, export
from jovial_tack.ui.widgets.read_plot import ReadPlot
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme

_HINT = (
    "An open CSV: speed_rpm (of the impeller), corrected_flow_kg_s (or lb/min), pressure_ratio and, if"
    " known, efficiency; corrected to 101.325 kPa and 25 °C."
)
_FILES = "Compressor maps (*.csv *.txt);;All files (*)"
_SPEEDS = 60
_WORDS = ("Idle", "Cruise", "Redline")


class MapCard(SideCard):
    """The map of the build's blower. told: what became of an export or a file."""

    message = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Compressor map", _HINT, parent)
        self._session = session
        self.reading = ReadPlot(
            self,
            theme,
            "Compressor map",
            fill=self.refresh,
            tell=self._show_text,
            lay_in=lambda plot: self.column.insertWidget(self._after, plot, 4),
        )
        self.line: Operating | None = None
        self._chart: CompressorMap | None = None
        self._speeds: tuple[float, ...] = ()
        self.remark = heading("badfigure")
        self.readout = heading("figure")
        self.margins = heading("plain")
        row = QHBoxLayout()
        row.setSpacing(6)
        self.read_button = QPushButton("Read a map …")
        self.away_button = QPushButton("Let go of it")
        self.export_button = QPushButton("Export …")
        for button, act in (
            (self.read_button, self.ask),
            (self.away_button, self._let_go),
            (self.export_button, self.export),
        ):
            button.clicked.connect(lambda _=False, a=act: a())
            row.addWidget(button)
        self.column.addLayout(row)
        self.column.addWidget(self.remark)
        self.column.addWidget(self.readout)
        self._after = self.column.count()
        self.column.addWidget(self.margins)
        self.column.addStretch(1)
        session.readings_changed.connect(self.reading.fill_if_seen)
        session.rpm_changed.connect(self.reading.fill_if_seen)

    @property
    def plot(self) -> Plot | None:
        """The plot; None until it has been shown once."""
        return self.reading.plot

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.reading.set_theme(theme)

    def refresh(self) -> None:
        """Lay the line of the session's build on its blower's map, or say what is missing."""
        session, build = self._session, self._session.build
        self.line, self._chart, why = None, None, ""
        try:
            found = charged_drive(build, session.catalogue)
            self._chart = map_of(build, found)
            self._lay(found)
        except GeometryError as error:
            why = f"{str(error)[0].upper()}{str(error)[1:]}."
        if self._chart is None and not why:
            why = "The blower has no map yet; read one in from its maker's figures."
        self.remark.setText(why)
        self.remark.setVisible(bool(why))
        for widget in (self.readout, self.margins, self.away_button, self.export_button):
            widget.setVisible(self.line is not None)
        if self.plot is not None:
            self.plot.setVisible(self.line is not None)
        self._show_text()

    def _lay(self, found: Charged) -> None:
        if self._chart is None:
            return
        engine, rpm = self._session.build.engine, self._session.rpm
        sweep = np.linspace(engine.idle_rpm, engine.redline_rpm, _SPEEDS)
        self._speeds = tuple(sweep.tolist())
        self.line = operating_line(self._session.build, found, self._speeds)
        marked = (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
        at = operating_line(self._session.build, found, (*marked, rpm))
        assert self.line is not None and at is not None
        words = [
            f"{word} {speed:.0f} rpm: {map_words(at, lane)}"
            for lane, (word, speed) in enumerate(zip(_WORDS, marked, strict=True))
        ]
        self.margins.setText(together(".\n".join(words) + "."))
        self._draw(self._chart, self.line, at)

    def _draw(self, chart: CompressorMap, line: Operating, at: Operating) -> None:
        plot = self.reading.shown()
        plot.setMinimumHeight(260)
        unit = AIR_FLOW.shown(self._session.build.display_units)
        size = AIR_FLOW.factor(unit)
        lines: list[tuple[Points, QPen]] = [
            ((v.flow / size, v.ratio), plot.pen("faded")) for v in chart.lines
        ]
        for ends in (chart.surge, chart.choke):
            dashed = plot.pen("stop", 1.4, Qt.PenStyle.DashLine)
            lines.append(((ends[0] / size, ends[1]), dashed))
        lines.append(((line.flow / size, line.ratio), plot.pen("ink", 2.2)))
        # a cross where the speed shown lies
        width, height = chart.choke[0].max() / size, max(chart.surge[1].max(), line.ratio.max())
        x, y = float(at.flow[-1]) / size, float(at.ratio[-1])
        reach = 0.02 * width, 0.02 * (height - 1.0)
        lines.append((([x - reach[0], x + reach[0]], [y, y]), plot.pen("accent", 2.0)))
        lines.append((([x, x], [y - reach[1], y + reach[1]]), plot.pen("accent", 2.0)))
        plot.show_lines(lines)
        plot.show_range(
            (0.0, 1.04 * max(width, line.flow.max() / size)), (1.0, 1.0 + 1.06 * (height - 1.0))
        )
        plot.set_labels(f"corrected flow, {unit}", "pressure ratio")

    def _show_text(self) -> None:
        """The point of the working line under the pointer, or at the speed shown."""
        if self.line is None:
            return
        unit = self._session.build.display_units
        where = self.line.flow, self.reading.pointed
        if self.reading.pointed is None:
            where = np.array(self._speeds), self._session.rpm
        lane = int(np.argmin(np.abs(where[0] - (where[1] or 0.0))))
        efficiency = float(self.line.efficiency[lane])
        shown = "" if efficiency != efficiency else f", {100 * efficiency:.0f} %"
        self.readout.setText(
            f"{self._speeds[lane]:.0f} rpm:"
            f" {written_in(float(self.line.flow[lane]), AIR_FLOW, unit)} at"
            f" {self.line.ratio[lane]:.2f}{shown}"
        )

    # files

    def ask(self) -> None:
        """Ask for a file and read the map in it."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a compressor map", "", _FILES)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Give the blower the map of a file; what is wrong with it is said and changes nothing."""
        session = self._session
        try:
            text = read_text(path)
            found = charged_drive(session.build, session.catalogue)
            shaft = found.case.shafts[found.place]
            read_map(text)
            build, what = with_curve(session.build, shaft.id, text)
        except (JovialTackError, IndexError) as error:
            words = (
                error.expected if isinstance(error, BuildFileError) else str(error) or "it is empty"
            )
            self.remark.setText(f"{path.name} was not taken: {words}.")
            self.remark.show()
            return
        session.edit(f"{what} of {shaft.label}", build)
        self.refresh()

    def _let_go(self) -> None:
        session = self._session
        try:
            found = charged_drive(session.build, session.catalogue)
        except GeometryError:
            return
        shaft = found.case.shafts[found.place]
        assert shaft.load is not None
        load = changed(shaft.load, map_csv=None)
        session.edit(f"no map for {shaft.label}", set_shaft(session.build, shaft.id, load=load))
        self.refresh()

    def export(self) -> None:
        """Write the working line to a file of the user's choice."""
        if self.plot is None or self.line is None:
            return
        text = map_csv(self._speeds, self.line)
        export(self, self.plot, text, "compressor-map", self.message.emit)
