"""The channels of a log in use: column, unit, and where a pressure counts from."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QComboBox, QGridLayout, QPushButton, QSizePolicy, QWidget

from jovial_tack.core.units import PRESSURE, written_in
from jovial_tack.files.logs import Channel, Role
from jovial_tack.files.logs.columns import KIND, UNITS, channel_of
from jovial_tack.ui.run_check.logs import Logs, OpenLog
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.text import Label, heading

_ROLES: dict[Role, str] = {
    "time": "Time",
    "rpm": "Engine speed",
    "boost": "Boost",
    "blower_rpm": "Blower speed",
    "throttle": "Throttle",
    "baro": "Air's pressure",
    "before_throttle": "Before throttle",
    "bypass": "Bypass",
    "intake": "Intake air",
    "before_blower": "Before blower",
    "after_blower": "After blower",
    "discharge": "Discharge air",
    "gear": "Gear",
    "speed": "Road speed",
    "knock": "Knock retard",
    "lambda": "Lambda",
}
#: Shown whether the log has them or not; the others when found, or when asked for.
_ALWAYS: tuple[Role, ...] = ("time", "rpm", "boost", "blower_rpm", "throttle", "baro", "bypass")


class Columns(QWidget):
    """The channels in use: column, unit, and for pressures where they count from."""

    def __init__(self, bench: Logs) -> None:
        super().__init__()
        self._bench = bench
        self._log: OpenLog | None = None
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(1, 1)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        title = heading("subheading")
        title.setText("Columns and units found")
        grid.addWidget(title, 0, 0, 1, 3)
        self.columns: dict[Role, QComboBox] = {}
        self._rows: dict[Role, tuple[QWidget, ...]] = {}
        self.units: dict[Role, QComboBox] = {}
        for row, (role, name) in enumerate(_ROLES.items(), start=1):
            column, unit = ElidedChoice(), ElidedChoice()
            for combo, what in ((column, "column"), (unit, "unit")):
                combo.setAccessibleName(f"{name}, {what}")
                combo.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
                combo.setSizeAdjustPolicy(
                    QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
                )
                combo.setMinimumContentsLength(4)
            unit.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
            unit.setFixedWidth(84)
            column.activated.connect(lambda k, r=role: self._use_column(r, k))
            unit.activated.connect(lambda k, r=role: self._use_unit(r, k))
            label = Label(name)
            grid.addWidget(label, row, 0)
            grid.addWidget(column, row, 1)
            grid.addWidget(unit, row, 2)
            self.columns[role], self.units[role] = column, unit
            self._rows[role] = label, column, unit
        self.rows = heading("faded")
        self.more = QPushButton("All channels")
        self.more.setCheckable(True)
        self.more.setToolTip("Also those that this log does not name: each may rule something out")
        self.more.toggled.connect(lambda _on: self._show_rows())
        self.right = QPushButton("Read right")
        self.right.setToolTip("What was only taken by its values is so")
        self.right.clicked.connect(bench.confirm)
        grid.addWidget(self.rows, grid.rowCount(), 0, 1, 3)
        grid.addWidget(self.more, grid.rowCount(), 0, 1, 3)
        grid.addWidget(self.right, grid.rowCount(), 0, 1, 3)

    def refresh(self, log: OpenLog | None) -> None:
        """Show the channels of a log."""
        self._log = log
        self.setVisible(log is not None)
        if log is None:
            return
        self.rows.setText(_first_rows(log, self._bench.system))
        self.right.setVisible(log.is_assumed and not log.confirmed)
        for role, column in self.columns.items():
            channel = log.channels.get(role)
            column.clear()
            column.addItems(["–", *log.layout.heads])
            column.setCurrentIndex(0 if channel is None else channel.column + 1)
            unit = self.units[role]
            unit.clear()
            unit.addItems([text for text, _ in _measures(role)])
            unit.setEnabled(channel is not None)
            if channel is not None:
                given = [measure for _, measure in _measures(role)]
                wanted = channel.unit, channel.zero or "gauge"
                if KIND[role] != "pressure":
                    wanted = channel.unit, None  # type: ignore[assignment]
                unit.setCurrentIndex(given.index(wanted) if wanted in given else 0)
        self._show_rows()

    def _show_rows(self) -> None:
        used = {} if self._log is None else self._log.channels
        for role, row in self._rows.items():
            for widget in row:
                widget.setVisible(role in _ALWAYS or role in used or self.more.isChecked())

    def _use_column(self, role: Role, place: int) -> None:
        if self._log is None:
            return
        layout = self._log.layout
        channel = None
        if place > 0:
            channel = channel_of(role, place - 1, layout.heads[place - 1], layout.units[place - 1])
        self._bench.use(0, role, channel)

    def _use_unit(self, role: Role, place: int) -> None:
        channel = None if self._log is None else self._log.channels.get(role)
        if channel is not None:
            unit, zero = _measures(role)[place][1]
            self._bench.use(0, role, Channel(channel.column, unit, zero))  # type: ignore[arg-type]


def _first_rows(log: OpenLog, system: str) -> str:
    """Three rows of figures as they were read, to see whether they make sense."""
    if log.loaded is None or log.loaded.log.time_s.size < 3:
        return ""
    found = log.loaded.log
    # from the middle, where an engine runs; the beginning may stand still
    middle = int(np.argmax(found.boost_kpa))
    first = min(max(middle - 1, 0), found.time_s.size - 3)
    lines = [
        f"{found.time_s[k]:.2f} s: {found.rpm[k]:.0f} rpm, boost"
        f" {written_in(float(found.boost_kpa[k]), PRESSURE, system)}"
        for k in range(first, first + 3)
    ]
    return "Read as " + "; ".join(lines)


def _measures(role: Role) -> list[tuple[str, tuple[str, str | None]]]:
    """What a channel may be measured in, as words and as unit and zero."""
    units = UNITS[KIND[role]]
    if KIND[role] != "pressure":
        return [(unit, (unit, None)) for unit in units]
    return [
        (f"{unit}{' abs' if zero == 'absolute' else ''}", (unit, zero))
        for unit in units
        for zero in ("gauge", "absolute")
    ]
