"""Ratios: the speed of every shaft, the boost they make, the pulleys for it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from jovial_tack.answers.drive.air import blower_of
from jovial_tack.answers.ratios.rev_plan import rev_plan
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.errors import BuildFileError, JovialTackError
from jovial_tack.document.edits.curves import with_curve
from jovial_tack.drawing.curves import Over
from jovial_tack.files.companions import read_text
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.ratios.boost import BoostCard
from jovial_tack.ui.ratios.map import MapCard
from jovial_tack.ui.ratios.rev_plan import RevPlanView, state_of
from jovial_tack.ui.ratios.underdrive import UnderdriveCard
from jovial_tack.ui.room import Action, Aside, Hands, Room, Station

_CURVES = "Curves (*.csv *.txt);;All files (*)"
_GRAVEST: tuple[Mark, ...] = ("stop", "watch", "unknown", "good")


class RatiosRoom(Room):
    """The rev plan below; boost over the revs where a blower is described."""

    station = Station("ratios", 3, "Ratios", "Speeds of every shaft, and the boost they make")

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        session, theme = hands.session, hands.theme
        self._mark: Mark = "unknown"
        self.tray = self.plan = RevPlanView(session, theme)
        self.boost = BoostCard(session, theme)
        self.map = MapCard(session, theme)
        self.underdrive = UnderdriveCard(session, theme)
        self.asides = (
            Aside("Pulleys for a &boost", "Ctrl+Shift+P", self.boost, opened=self._wish),
            Aside("Compressor &map", "Ctrl+Shift+M", self.map),
            Aside("Un&derdrive", "Ctrl+Shift+U", self.underdrive, opened=self.underdrive.open),
        )
        self.entries = (
            Action("&File", "Read a c&urve for the part …", "Ctrl+R", self.read_curve),
            Action("&File", "Export the rev p&lan …", "Ctrl+Shift+E", self.plan.export),
        )
        self.plan.message.connect(hands.show_text)
        self.map.message.connect(hands.show_text)
        session.settled.connect(self._judge)

    @property
    def mark(self) -> Mark:
        """The gravest of the rev plan."""
        return self._mark

    @property
    def over(self) -> Over:
        """Boost where a blower is described, else speed."""
        build = self.hands.session.build
        described = any(blower_of(build, shaft) is not None for shaft in build.shafts)
        return "boost" if described else "speed"

    def _wish(self) -> None:
        self.boost.open()
        self.boost.boost.setFocus()

    def _judge(self) -> None:
        """Once the build has settled: what is dragged about seldom changes a ratio."""
        session = self.hands.session
        rows = () if session.is_read_only else rev_plan(session.build, session.catalogue)
        found = {state_of(row) for row in rows if row.driven}
        self._mark = next((mark for mark in _GRAVEST if mark in found), "unknown")
        self.hands.marks_changed()

    def read_curve(self) -> None:
        """Read an output curve, a load or a map for the selected shaft from a CSV file."""
        session = self.hands.session
        shaft = shaft_of(session.build, session.selection)
        if shaft is None or session.is_read_only:
            self.hands.show_text("Select the shaft the curve is for first.")
            return
        name, _ = QFileDialog.getOpenFileName(self.plan, "Read a curve", "", _CURVES)
        if name:
            self.load_curve(Path(name), shaft)

    def load_curve(self, path: Path, shaft: str) -> None:
        """Give a shaft the curve of a CSV file; what is wrong with it is said and changes nothing."""
        session = self.hands.session
        label = session.build.shaft(shaft).label
        try:
            build, what = with_curve(session.build, shaft, read_text(path))
        except JovialTackError as error:
            words = error.expected if isinstance(error, BuildFileError) else str(error)
            self.hands.ask(f"{path.name} was not taken for {label}: {words}.")
            return
        session.edit(f"{what} of {label}", build)
        self.hands.show_text(f"{label} has the {what} of {path.name}.")
