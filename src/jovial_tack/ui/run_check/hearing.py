"""What else is evidence of a noise: a recording of it, and a code of the engine."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from jovial_tack.answers.fit_up.faults import code_says
from jovial_tack.answers.fit_up.squeal import (
    WhoSqueals,
    squeal_of,
    squeal_words,
    taken_as_evidence,
)
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.units import SPEED
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.symptoms import set_finding
from jovial_tack.files.wav import read_wav
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.typed import TextField
from jovial_tack.ui.worker import NewestOnly

_TOUCHED = 40


class Hearing(QWidget):
    """Of one drive: its recording listened to, a code read. told: the symptoms were changed."""

    told = pyqtSignal()

    def __init__(self, session: Session, worker: NewestOnly) -> None:
        super().__init__()
        self._session, self._worker = session, worker
        self.drive: str | None = None
        self.heard: WhoSqueals | None = None
        worker.done.connect(self._take)
        worker.failed.connect(lambda error: self._say(sentence(str(error))))
        self.rpm = QuantityField("Revs of the engine in the recording", SPEED, draft=True)
        self.rpm.setMaximumWidth(110)
        self.rpm.refused.connect(self._say)
        self.open = QPushButton("A recording of it (WAV) …")
        self.open.setMinimumHeight(_TOUCHED)
        self.open.clicked.connect(lambda _=False: self.ask_file())
        self.message = heading("plain")
        self.take = QPushButton("Take it as evidence")
        self.take.setMinimumHeight(_TOUCHED)
        self.take.clicked.connect(lambda _=False: self._keep())
        self.code = TextField("A code of the engine", draft=True, most=20)
        self.code.setPlaceholderText("a code of the engine, such as P0562")
        self.code.returnPressed.connect(self._read_code)
        row = QHBoxLayout()
        row.addWidget(self.open, 1)
        row.addWidget(self.rpm)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addLayout(row)
        for widget in (self.code, self.message, self.take):
            column.addWidget(widget)
        self._say("")
        self.rpm.show_value(round(session.build.engine.idle_rpm), SPEED.unit)

    def show_of(self, drive: str | None) -> None:
        """Show it for another drive; what was heard is of the one before."""
        if drive != self.drive:
            self.drive = drive
            self._worker.drop()
            self._say("")
            idle = round(self._session.build.engine.idle_rpm)
            self.rpm.show_value(idle, SPEED.unit, of=drive)
            self.code.show_text("", of=drive)

    def ask_file(self) -> None:
        """Ask for a recording and listen to it."""
        name, _ = QFileDialog.getOpenFileName(
            self, "A recording of the noise at steady revs", "", "Recordings (*.wav);;All files (*)"
        )
        if name:
            self.listen(Path(name))

    def listen(self, path: Path) -> None:
        """Listen to a recording."""
        session, drive, rpm = self._session, self.drive, self.rpm.value
        if drive is None or session.build.find_drive(drive) is None:
            return
        if not rpm:
            self._say("The revs of the engine in the recording, first.")
            return
        build, result = session.build, session.results.drive(drive)

        def work() -> WhoSqueals:
            samples, rate_hz = read_wav(path)
            return squeal_of(build, result, samples, rate_hz, rpm)

        self._say("Listening …")
        self._worker.submit(work)

    def _take(self, heard: WhoSqueals) -> None:
        words = squeal_words(self._session.build, heard)
        self._say("\n".join(sentence(each) for each in words), heard)

    def _say(self, text: str, heard: WhoSqueals | None = None) -> None:
        self.heard = heard
        self.message.setText(together(text))
        self.message.setVisible(bool(text))
        can = heard is not None and heard.is_evidence and not self._session.is_read_only
        self.take.setVisible(can)

    def _keep(self) -> None:
        """Take what was heard as evidence: one step to undo."""
        session, heard = self._session, self.heard
        if heard is None or session.build.find_drive(heard.drive) is None:
            return
        session.edit("noise finder: a recording", taken_as_evidence(session.build, heard))
        self.rpm.enter()
        self.take.hide()
        self.told.emit()

    def _read_code(self) -> None:
        session, drive, typed = self._session, self.drive, self.code.text().strip()
        if not typed or drive is None or session.is_read_only:
            return
        said = code_says(session.catalogue, typed)
        if not said.findings:
            self._say(f"{said.code} says nothing of a belt: look at what it stands for first.")
            return
        try:
            build = session.build
            for finding in said.findings:
                build = set_finding(build, drive, finding, True)
            session.edit(f"noise finder: {said.code}", build)
        except JovialTackError as error:
            self._say(sentence(str(error)))
            return
        words = [session.catalogue.faults.findings[name].words for name in said.findings]
        self.code.change_text("")
        self._say(sentence(f"{said.code}: {', '.join(words)}"))
        self.told.emit()
