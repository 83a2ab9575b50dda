"""The noise finder at the right of the desk: what is seen of a drive, and what is likely."""

from __future__ import annotations

from itertools import groupby

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
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import replace
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.edits.symptoms import forget_symptoms, set_finding, set_material
from jovial_tack.document.model import Symptoms
from jovial_tack.document.targets import PulleyAt, drive_of
from jovial_tack.files.own_faults import keep_own_figure
from jovial_tack.ui.run_check.fault_table import FaultTable
from jovial_tack.ui.run_check.hearing import Hearing
from jovial_tack.ui.run_check.tile import HEIGHT, Tile
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import scrolled
from jovial_tack.ui.widgets.text import heading, plain, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.working import WorkingCard

_HINT = "Evidence, not a verdict. Running only with hands and hair clear; never dressing on a belt."
_GROUPS = {
    "noise": "What is heard", "when": "When", "water": "Water on the ribs", "belt": "The belt",
    "look": "Looked at, standing", "run": "Looked at, running", "arm": "The arm", "tension": "Tension",
    "spin": "By hand, belt off", "measure": "Measured", "symptom": "Symptoms",
}  # fmt: skip
_RUBBERS = (("", "rubber not told"), ("epdm", "newer rubber (EPDM)"), ("old", "older rubber"))


class NoiseCard(WorkingCard):
    """Of one drive: tiles of evidence, the likely causes above them, and the next thing to look at."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(session, theme, "Noise finder", _HINT, parent)
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
            button.setMinimumHeight(HEIGHT)
            button.clicked.connect(lambda _=False, s=seen: self._answer(s))
            answers.addWidget(button)
        self.hearing = Hearing(session, self._worker)
        self.hearing.told.connect(self._weigh_anew)
        for widget in (self.causes, self.why, self.asked, self.answers, self.hearing):
            column.addWidget(widget)
        self.tiles: dict[str, Tile] = {}
        groups = list(_GROUPS)
        findings = sorted(  # those of one's own in groups of one's own come last
            session.catalogue.faults.findings.values(),
            key=lambda one: groups.index(one.group) if one.group in groups else len(groups),
        )
        for group, members in groupby(findings, key=lambda finding: finding.group):
            title = heading("subheading")
            title.setText(_GROUPS.get(group, group))
            column.addWidget(title)
            for finding in members:
                tile = Tile(finding.name, finding.words, theme)
                tile.turned.connect(lambda seen, key=finding.name: self._tell(key, seen))
                self.tiles[finding.name] = tile
                column.addWidget(tile)
        column.addStretch(1)
        self.anew = QPushButton("Forget all of this drive")
        self.anew.clicked.connect(lambda _=False: self._forget())
        self.table = QPushButton("The table …")
        self.table.clicked.connect(lambda _=False: self.open_table())
        below = QHBoxLayout()
        below.addWidget(self.anew)
        below.addWidget(self.table)
        self.column.addLayout(row)
        self.column.addWidget(scrolled(inside), 1)
        self.column.addLayout(below)
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
        self.hearing.show_of(name)
        for widget in (*self.tiles.values(), self.rubber, self.anew, self.answers, self.hearing):
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
        self._weigh_anew()

    def _weigh_anew(self) -> None:
        self.refresh()
        self._light()

    def open_table(self) -> FaultTable:
        """Open the table; what is changed there counts at once."""
        table = FaultTable(self._session.catalogue, keep_own_figure, self._take_table, self)
        table.open()
        return table

    def _take_table(self, catalogue: Catalogue) -> None:
        session = self._session
        # nothing else of it may change under what is solved already
        session.take_catalogue(
            replace(session.catalogue, faults=catalogue.faults, version=catalogue.version)
        )
        self.refresh()

    def begin_with(self, drive: str, finding: str) -> None:
        """Begin with something that was seen of a drive: one step to undo."""
        self._offer()
        self.drive.setCurrentIndex(max(self.drive.findData(drive), 0))
        self._tell(finding, True)

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
