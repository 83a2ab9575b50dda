"""The noise finder at the right of the desk: what is seen of a drive, and what is likely."""

from __future__ import annotations

from itertools import groupby

from PyQt6.QtCore import QRectF, QSize, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.fit_up.faults import Diagnosis, NextLook, diagnose
from jovial_tack.answers.fit_up.faults_words import (
    cause_words,
    look_words,
    named_causes,
    unknown_words,
    why_words,
)
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.edits.symptoms import forget_symptoms, set_finding, set_material
from jovial_tack.document.model import Symptoms
from jovial_tack.document.targets import PulleyAt, drive_of
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.boxes import Box, paint_box
from jovial_tack.ui.widgets.desk_part import scrolled
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, on_button, plain, together
from jovial_tack.ui.widgets.theme import Theme

_HINT = "Evidence, not a verdict. Running only with hands and hair clear; never dressing on a belt."
_GROUPS = {
    "noise": "What is heard", "when": "When", "water": "Water on the ribs", "belt": "The belt",
    "look": "Looked at, standing", "run": "Looked at, running", "arm": "The arm", "tension": "Tension",
    "spin": "By hand, belt off", "measure": "Measured", "symptom": "Symptoms",
}  # fmt: skip
_RUBBERS = (("", "rubber not told"), ("epdm", "newer rubber (EPDM)"), ("old", "older rubber"))
_TILE, _BOX = 40, 20.0
_SPOKEN = {"open": "not looked at", "done": "seen", "absent": "not there"}


class Tile(QPushButton):
    """A finding: not looked at, seen, not there; a press goes on to the next. turned: to which."""

    turned = pyqtSignal(object)

    def __init__(self, words: str, theme: Theme) -> None:
        super().__init__(on_button(capital(words)))
        self.theme = theme
        self._words = words
        self.box: Box = "open"
        self.setMinimumHeight(_TILE)
        self.setStyleSheet("text-align: left; padding: 4px 8px 4px 38px; font-size: 13px;")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.clicked.connect(lambda _=False: self._turn())

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(260, _TILE)

    def show_state(self, *, seen: bool | None) -> None:
        """Show whether it is seen."""
        self.box = "open" if seen is None else "done" if seen else "absent"
        self.setAccessibleName(f"{self._words}: {_SPOKEN[self.box]}")
        self.update()

    def _turn(self) -> None:
        after: dict[Box, bool | None] = {"open": True, "done": False, "absent": None}
        self.turned.emit(after[self.box])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The button, and its box over it."""
        super().paintEvent(event)
        painter = QPainter(self)
        top = (self.height() - _BOX) / 2
        paint_box(painter, QRectF(9.0, top, _BOX, _BOX), self.box, self.theme)


class NoiseCard(SideCard):
    """Of one drive: tiles of evidence, the likely causes above them, and the next thing to look at."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Noise finder", _HINT, parent)
        self._session = session
        self.told: Diagnosis | None = None
        self.drive, self.rubber = QComboBox(), QComboBox()
        for choice, spoken in ((self.drive, "Drive"), (self.rubber, "Rubber of the belt")):
            choice.setAccessibleName(spoken)
            choice.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        for key, words in _RUBBERS:
            self.rubber.addItem(words, key)
        self.drive.activated.connect(lambda _k: self.refresh())
        self.rubber.activated.connect(lambda _k: self._set_rubber())
        row = QHBoxLayout()
        row.addWidget(self.drive)
        row.addWidget(self.rubber)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(6)
        self.causes, self.why = heading("plain"), heading("faded")
        self.asked = heading("subheading")
        self.answers = QWidget()
        answers = QHBoxLayout(self.answers)
        answers.setContentsMargins(0, 0, 0, 0)
        self.seen, self.absent = QPushButton("Seen"), QPushButton("Not there")
        for button, seen in ((self.seen, True), (self.absent, False)):
            button.setMinimumHeight(_TILE)
            button.clicked.connect(lambda _=False, s=seen: self._answer(s))
            answers.addWidget(button)
        for widget in (self.causes, self.why, self.asked, self.answers):
            column.addWidget(widget)
        self.tiles: dict[str, Tile] = {}
        findings = session.catalogue.faults.findings.values()
        for group, members in groupby(findings, key=lambda finding: finding.group):
            title = heading("subheading")
            title.setText(_GROUPS.get(group, group))
            column.addWidget(title)
            for finding in members:
                tile = Tile(finding.words, theme)
                tile.turned.connect(lambda seen, key=finding.name: self._tell(key, seen))
                self.tiles[finding.name] = tile
                column.addWidget(tile)
        column.addStretch(1)
        self.anew = QPushButton("Forget all of this drive")
        self.anew.clicked.connect(lambda _=False: self._forget())
        self.column.addLayout(row)
        self.column.addWidget(scrolled(inside), 1)
        self.column.addWidget(self.anew)
        session.readings_changed.connect(self.refresh)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        for tile in self.tiles.values():
            tile.theme = theme
            tile.update()

    def look(self) -> None:
        """Begin with the drive of what is selected."""
        self._offer()
        meant = drive_of(self._session.selection)
        if meant is not None and self.drive.findData(meant) >= 0:
            self.drive.setCurrentIndex(self.drive.findData(meant))
        self.refresh()

    def _offer(self) -> None:
        """The drives there are, the chosen one kept."""
        build, chosen = self._session.build, self.drive.currentData()
        here = [(drive.id, drive.label) for drive in build.drives]
        if here != [
            (self.drive.itemData(k), self.drive.itemText(k)) for k in range(self.drive.count())
        ]:
            self.drive.clear()
            for key, label in here:
                self.drive.addItem(label, key)
            self.drive.setCurrentIndex(max(self.drive.findData(chosen), 0))

    def refresh(self) -> None:
        """Weigh what is told of the drive."""
        if not self.isVisible():
            return
        self._offer()
        session, name = self._session, self.drive.currentData()
        can = name is not None and not session.is_read_only
        for widget in (*self.tiles.values(), self.rubber, self.anew, self.answers):
            widget.setEnabled(can)
        if name is None:
            self.told = None
            self.causes.setText("No belt drive yet.")
            return
        build, catalogue = session.build, session.catalogue
        symptoms = build.symptoms.get(name, Symptoms())
        self.told = diagnose(build, session.results.drive(name), catalogue)
        for key, tile in self.tiles.items():
            tile.show_state(seen=symptoms.findings.get(key))
        newer = symptoms.material == "epdm"
        self.tiles["cracks"].setEnabled(can and not newer)
        reason = (
            "newer rubber loses material and hardly cracks: the wear gauge tells" if newer else ""
        )
        self.tiles["cracks"].setToolTip(plain(reason))
        self.rubber.setCurrentIndex(self.rubber.findData(symptoms.material or ""))
        self._show_causes(self.told)

    def _show_causes(self, told: Diagnosis) -> None:
        build, catalogue = self._session.build, self._session.catalogue
        causes, looked = named_causes(told), bool(build.symptoms.get(told.drive))
        lines = []
        for one in causes if looked else ():
            remedy = f"{'solved: ' if one.solved else ''}{one.remedy}"
            lines.append(f"• {sentence(cause_words(build, told, one))}\n   {capital(remedy)}.")
        if not looked:
            lines.append("Say what is heard and seen; what was not looked at has no weight.")
        elif not causes:
            lines.append("Nothing stands out yet.")
        lines += [sentence(words) for words in unknown_words(told, catalogue)]
        self.causes.setText(together("\n".join(lines)))
        why = why_words(catalogue, causes[0]) if causes and looked else ()
        self.why.setText("\n".join(sentence(each) for each in why[:4]))
        self.why.setVisible(bool(why))
        look = self.next_look
        shown = look is not None and looked
        self.asked.setVisible(shown)
        self.answers.setVisible(shown)
        if look is not None:
            self.asked.setText(together(f"Look next: {look_words(catalogue, look)}"))

    @property
    def next_look(self) -> NextLook | None:
        """What is to be looked at next."""
        return self.told.look_next[0] if self.told is not None and self.told.look_next else None

    def _answer(self, seen: bool) -> None:
        look = self.next_look
        if look is not None:
            self._tell(look.finding, seen)

    def _tell(self, finding: str, seen: bool | None) -> None:
        session, drive = self._session, self.drive.currentData()
        if drive is None or session.is_read_only:
            return
        words = session.catalogue.faults.findings[finding].words
        session.edit(f"noise finder: {words}", set_finding(session.build, drive, finding, seen))
        self.refresh()
        self._light()

    def _light(self) -> None:
        """Light where the likeliest cause would be."""
        told = self.told
        named = named_causes(told) if told is not None else ()
        if told is not None and named and named[0].where is not None:
            self._session.select(PulleyAt(told.drive, named[0].where))

    def _set_rubber(self) -> None:
        session, drive = self._session, self.drive.currentData()
        if drive is not None and not session.is_read_only:
            material = self.rubber.currentData() or None
            session.edit("rubber of the belt", set_material(session.build, drive, material))
            self.refresh()

    def _forget(self) -> None:
        session, drive = self._session, self.drive.currentData()
        if drive in session.build.symptoms and not session.is_read_only:
            session.edit("forget what was seen", forget_symptoms(session.build, drive))
            self.refresh()
