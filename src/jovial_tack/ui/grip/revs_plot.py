"""Arc used, tension, arm angle and speed of one drive over the revs, with readout and export."""

from __future__ import annotations

from itertools import chain

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPen
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from jovial_tack.document.targets import NOTHING, Target, drive_of
from jovial_tack.drawing.curves import OVERS, Curve, Over, RevCurves, as_csv, rev_curves
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import DeskPart
from jovial_tack.ui.widgets.elided import ElidedLabel
from jovial_tack.ui.widgets.plots import Plot, Points, export
from jovial_tack.ui.widgets.read_plot import ReadPlot
from jovial_tack.ui.widgets.text import plain
from jovial_tack.ui.widgets.theme import Theme

_NAMES: dict[Over, str] = {
    "arc used": "Arc",
    "tension": "Pull",
    "arm angle": "Arm",
    "speed": "Speed",
    "boost": "Boost",
}

_LEAST_HEIGHT = 244


class RevsPlot(DeskPart):
    """The plot below the card. told: what became of an export."""

    message = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self.setMinimumHeight(_LEAST_HEIGHT)
        self._session = session
        self._over: Over = "arc used"
        self._drive, self._label = "", ""
        self.shown: RevCurves | None = None
        self.reading = ReadPlot(
            self,
            theme,
            "Plot over the revs",
            fill=self.refresh,
            tell=self._show_text,
            lay_in=self._lay_in,
        )
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(10, 8, 8, 6)
        self._column.setSpacing(4)
        choices = QHBoxLayout()
        choices.setSpacing(4)
        self._group = QButtonGroup(self)
        self.buttons: dict[Over, QPushButton] = {}
        for over in OVERS:
            button = QPushButton(_NAMES[over])
            button.setObjectName("choice")
            button.setCheckable(True)
            button.setChecked(over == self._over)
            button.setToolTip(plain(f"Plot {over} over the revs"))
            button.clicked.connect(lambda _=False, o=over: self.show_over(o))
            self._group.addButton(button)
            choices.addWidget(button)
            self.buttons[over] = button
        choices.addStretch(1)
        self.export_button = QPushButton("Export …")
        self.export_button.setObjectName("choice")
        self.export_button.setToolTip("Write the plot as CSV, SVG or PNG")
        self.export_button.clicked.connect(self.export)
        choices.addWidget(self.export_button)
        self._column.addLayout(choices)
        self.readout = ElidedLabel("figure")
        self._column.addWidget(self.readout)
        session.readings_changed.connect(self.reading.fill_if_seen)
        session.selection_changed.connect(self.reading.fill_if_seen)
        session.baseline_changed.connect(self.reading.fill_if_seen)
        session.rpm_changed.connect(self.reading.fill_if_seen)

    @property
    def plot(self) -> Plot | None:
        """The plot; None until it has been shown once."""
        return self.reading.plot

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.reading.set_theme(theme)

    @property
    def over(self) -> Over:
        """What is plotted."""
        return self._over

    def show_over(self, over: Over) -> None:
        """Plot something else."""
        self._over = over
        self.buttons[over].setChecked(True)
        self.refresh()

    def _lay_in(self, plot: Plot) -> None:
        plot.setMinimumHeight(150)
        self._column.addWidget(plot, 1)
        plot.clicked.connect(self._session.show_rpm)

    def refresh(self) -> None:
        """Plot the session's results of the selected drive, or of the last one."""
        session = self._session
        build, selection = session.build, session.selection
        drives = [drive.id for drive in build.drives]
        own = drive_of(selection)
        if own in drives:
            self._drive = own
        if self._drive not in drives:
            self._drive = drives[-1] if drives else ""
        plot = self.reading.shown()
        self.export_button.setEnabled(bool(self._drive))
        if not self._drive or session.is_read_only:
            self.shown = None
            plot.show_lines([])
            plot.show_marks([])
            self.readout.setText("nothing to plot")
            return
        watch = session.catalogue.limits.low_reserve_arc_used
        self._label = build.drive(self._drive).label
        self.shown = rev_curves(build, session.results, self._drive, self._over, watch)
        self._draw(self.shown, plot, selection)
        self._show_text()

    def _draw(self, shown: RevCurves, plot: Plot, selection: Target) -> None:
        held = shown.held(selection)
        lines: list[tuple[Points, QPen]] = []
        for curve in shown.curves:
            if curve is not held:
                lines.append((_points(curve), plot.pen("faded")))
        before = self._before(held)
        if before is not None:
            lines.append((_points(before), plot.pen("accent", 1.4, Qt.PenStyle.DotLine)))
        if held is not None:
            lines.append((_points(held), plot.pen("ink", 2.2)))
        plot.show_lines(lines)
        marks = [
            (
                "h",
                bound.value,
                bound.name,
                plot.pen("stop" if bound.grave else "watch", 1.2, Qt.PenStyle.DashLine),
            )
            for bound in shown.bounds
            if bound.target == NOTHING or (held is not None and bound.target == held.target)
        ]
        marks.append(("v", self._session.rpm, "", plot.pen("accent", 1.4)))
        engine = self._session.build.engine
        plot.show_range((engine.idle_rpm, engine.redline_rpm), self._y_range(shown, held))
        plot.show_marks(marks)
        plot.set_labels("engine speed, rpm", shown.unit)

    def _before(self, held: Curve | None) -> Curve | None:
        pinned = self._session.baseline
        if pinned is None or held is None:
            return None
        try:
            watch = self._session.catalogue.limits.low_reserve_arc_used
            then = rev_curves(pinned.build, pinned.results, self._drive, self._over, watch)
        except KeyError:
            return None
        return next((curve for curve in then.curves if curve.target == held.target), None)

    def _y_range(self, shown: RevCurves, held: Curve | None) -> tuple[float, float]:
        every = chain.from_iterable(curve.values for curve in shown.curves)
        targets = {NOTHING, NOTHING if held is None else held.target}
        values = [value for value in every if value is not None]
        values += [bound.value for bound in shown.bounds if bound.target in targets]
        if not values:
            return (0.0, 1.0)
        low, high = min(values), max(values)
        if shown.over != "arm angle":
            low = min(low, 0.0)
        room = 0.1 * max(high - low, 1e-6)
        return (low if low == 0 else low - room, high + room)

    def _show_text(self) -> None:
        """The figures at the pointer, or at the speed shown."""
        if self.shown is None:
            return
        held = self.shown.held(self._session.selection)
        if held is None:
            why = {
                "arm angle": "no value: no spring keeps this drive tight",
                "boost": "no value: no blower with its air side here",
            }
            self.readout.setText(why.get(self._over, "no value yet"))
            return
        rpm = self._session.rpm if self.reading.pointed is None else self.reading.pointed
        nearest = min(held.rpm, key=lambda speed: abs(speed - rpm))
        value, unit = held.at(rpm), self.shown.unit
        number = (
            "–"
            if value is None
            else f"{value:.1f}"
            if self._over in ("arm angle", "boost")
            else f"{value:.0f}"
        )
        told = f"{nearest:.0f} rpm: {held.name} {number} {unit}"
        self.readout.setText(", ".join(filter(None, (told, held.aside))))

    def export(self) -> None:
        """Write the plot to a file of the user's choice."""
        if self.plot is not None and self.shown is not None:
            name = f"{self._over} {self._label}".replace(" ", "-")
            export(self, self.plot, as_csv(self.shown), name.lower(), self.message.emit)


def _points(curve: Curve) -> Points:
    values = [float("nan") if v is None else v for v in curve.values]
    return list(curve.rpm[: len(values)]), values
