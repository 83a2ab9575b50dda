"""Run check: logs opened, and slip found in them or ruled out."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from jovial_tack.answers.verdicts import Mark
from jovial_tack.ui.room import Action, Aside, Break, Hands, Room, Station, ToEnter
from jovial_tack.ui.run_check.logs import Logs
from jovial_tack.ui.run_check.noise import NoiseCard
from jovial_tack.ui.run_check.panel import RunCheckPanel
from jovial_tack.ui.run_check.plot import RunCheckPlot

LOG_SUFFIXES = (".csv", ".txt", ".log", ".parquet", ".xlsx", ".mf4", ".mdf", ".asc", ".blf")
_LOGS = f"Logs ({' '.join(f'*{suffix}' for suffix in LOG_SUFFIXES)});;All files (*)"


class RunCheckRoom(Room):
    """The boost of a pull below, the logs at the right."""

    station = Station("run_check", 8, "Run check", "Find slip in a log, or rule it out")
    has_slider = False

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.logs = Logs(hands.session)
        self.tray = self.plot = RunCheckPlot(self.logs, hands.theme)
        self.page = self.panel = RunCheckPanel(self.logs, hands.theme)
        self.export = self.plot.export
        self.entries = (
            Action("&File", "Open a &log …", "Ctrl+L", lambda: self.open_log(0)),
            Action("&File", "&Compare with a log …", "Ctrl+Shift+L", lambda: self.open_log(1)),
            Action("&File", "Open the demo lo&gs", "Ctrl+Shift+D", self.open_demo_logs),
            Break("&File"),
        )
        self.noise = NoiseCard(hands.session, hands.theme)
        self.asides = (Aside("&Noise finder", "F12", self.noise, opened=self.noise.look),)
        self.logs.changed.connect(hands.marks_changed)
        self.plot.message.connect(hands.show_text)
        self.panel.open_wanted.connect(self.open_log)
        self.panel.demo_wanted.connect(self.open_demo_logs)

    @property
    def mark(self) -> Mark:
        """That of the first log's pulls."""
        return self.logs.state

    def to_enter(self) -> ToEnter | None:
        """The first log, with what was found in it; what the noise finder was told of a drive else."""
        if self.logs.can_keep:
            return ToEnter("run", act=self.logs.keep)
        name = self.noise.drive.currentData() if self.noise.isVisible() else None
        symptoms = self.hands.session.build.symptoms.get(name or "")
        if symptoms is None or not symptoms.findings:
            return None
        seen = {"drive": name, "findings": dict(symptoms.findings), "material": symptoms.material}
        return ToEnter("inspection", seen)

    def open_log(self, place: int) -> None:
        """Ask for a log and open it; place 1: to compare with the first."""
        name, _ = QFileDialog.getOpenFileName(self.panel, "Open a log", "", _LOGS)
        if name:
            self.load_log(Path(name), place)

    def load_log(self, path: Path, place: int = 0) -> None:
        """Open a log here."""
        self.hands.stand_at("run_check")
        self.logs.open(path, place if self.logs.logs[0] is not None else 0)

    def open_demo_logs(self) -> None:
        """Open the two logs that ship with the demo build."""
        for place, name in enumerate(("slipping", "mended")):
            self.load_log(self.hands.demo.with_name(f"tessary-fen-{name}.csv"), place)

    def close_work(self) -> None:
        """Let a log that is being read go."""
        super().close_work()
        self.logs.close()
