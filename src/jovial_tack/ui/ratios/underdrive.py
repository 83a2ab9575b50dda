"""Underdriving, at the right of the desk: what smaller crank pulleys save and what they slow down."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jovial_tack.answers.ratios.underdrive import Underdrive, underdrives
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import POWER, format_length, written_in
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.targets import drive_of
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.blocks import ComparisonPage, act_row
from jovial_tack.ui.widgets.marks import MarkLabel
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme

_HINT = (
    "The same drive with a smaller crank pulley: the power the loads' own curves give back, and the"
    " duties that are then missed. Belt and adjuster must follow the smaller pulley."
)


class UnderdriveCard(SideCard):
    """One block a crank pulley; fitting it is one step to undo."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Underdrive", _HINT, parent)
        self._session, self._theme = session, theme
        self.drive = ""
        self.steps: tuple[Underdrive, ...] = ()
        self.message = heading("badfigure")
        self._page = ComparisonPage()
        self.column.addWidget(self.message)
        self.column.addWidget(self._page, 1)
        session.settled.connect(self._refresh_if_seen)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self._show()

    def open(self) -> None:
        """Begin with the drive of what is selected, or the first one that carries no blower."""
        session = self._session
        build, selection = session.build, session.selection
        drives = [drive.id for drive in build.drives]
        own = drive_of(selection)
        if own in drives:
            self.drive = own
        else:
            without = [
                drive.id
                for drive in build.drives
                if all(build.shaft(p.shaft).kind != "supercharger" for p in drive.pulleys)
            ]
            self.drive = (without or drives or [""])[0]
        self.refresh()

    def refresh(self) -> None:
        """Work the steps out for the build as it is."""
        session = self._session
        self.steps, why = (), ""
        if session.is_read_only or session.build.find_drive(self.drive) is None:
            why = "There is no belt whose crank pulley could be made smaller."
        else:
            self.title.setText(f"Underdrive: {session.build.drive(self.drive).label}")
            try:
                self.steps = underdrives(session.build, self.drive, session.catalogue)
            except GeometryError as error:
                why = f"{str(error)[0].upper()}{str(error)[1:]}."
        self.message.setText(why)
        self.message.setVisible(bool(why))
        self._show()

    def _refresh_if_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def _show(self) -> None:
        self._page.show_blocks([self._block(step) for step in self.steps])

    def _block(self, step: Underdrive) -> QWidget:
        block, unit = QWidget(), self._session.build.display_units
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        size = format_length(step.driver_mm, unit, digits=1 if unit == "mm" else 3)
        line = QHBoxLayout()
        line.setSpacing(8)
        line.addWidget(MarkLabel("watch" if step.too_slow else "good", self._theme))
        name = heading("subheading")
        name.setText(together(f"{size}, {100 * step.slower:.0f} % slower"))
        line.addWidget(name, 1)
        column.addLayout(line)
        saved = [
            f"saves {written_in(kw, POWER, unit, 2)} at {word}"
            for kw, word in ((step.saved_cruise_kw, "cruise"), (step.saved_redline_kw, "redline"))
        ]
        message = heading("plain")
        message.setText(together(f"S{', '.join(saved)[1:]}."))
        column.addWidget(message)
        for words in step.too_slow:
            short = heading("faded")
            short.setText(together(f"{words}."))
            column.addWidget(short)
        spoken = f"Fit a crank pulley of {size}"
        column.addLayout(act_row("Fit it", spoken, partial(self._fit, step)))
        return block

    def _fit(self, step: Underdrive) -> None:
        session = self._session
        if session.build.find_drive(self.drive) is None:
            return  # the belt has gone meanwhile
        build = set_diameter(session.build, self.drive, step.driver, step.driver_mm)
        session.edit(f"underdrive {build.drive(self.drive).label}", build)
