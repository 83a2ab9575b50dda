"""The card shown when nothing is selected: the build as a whole, and what to do next."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QPushButton

from jovial_tack.ui.cards.base import Card
from jovial_tack.ui.session import Session
from jovial_tack.ui.theme import Theme

_CAUTION = (
    "Engine off, key out, hot parts cold before hands go in. Makers' limits, local rules and"
    " qualified people come first; the figures are estimates from the data entered."
)


class OverviewCard(Card):
    """The build: engine and drives; for an empty build, how to begin."""

    demo_wanted = pyqtSignal()
    open_wanted = pyqtSignal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        for name in ("Idle", "Cruise", "Redline"):
            self.figures.add_row(name)
        self.open_button = QPushButton("Open a build …")
        self.demo_button = QPushButton("Look at the demo build")
        self.open_button.clicked.connect(self.open_wanted)
        self.demo_button.clicked.connect(self.demo_wanted)
        self.column.insertWidget(3, self.open_button)
        self.column.insertWidget(4, self.demo_button)
        self.caution.setText(_CAUTION)

    def refresh(self) -> None:
        """Show the build as it now is."""
        build = self._session.build
        self.title.setText(build.title or "Untitled build")
        engine = build.engine
        for name, rpm in (
            ("Idle", engine.idle_rpm),
            ("Cruise", engine.cruise_rpm),
            ("Redline", engine.redline_rpm),
        ):
            self.figures.show_row(name, f"{rpm:.0f} rpm")
        empty = not build.drives
        for button in (self.open_button, self.demo_button):
            button.setVisible(empty)
        if self._session.is_read_only:
            said = "Written by a newer version: it can be looked at here, not changed or computed."
        elif empty:
            said = (
                "Nothing on the engine yet but the crank. Drawing an engine from scratch is not"
                " built yet: open a build file, or look at the demo."
            )
        else:
            said = (
                "Point at a pulley, an arm or a belt to see its figures; drag a shaft to move it."
            )
        self.subtitle.setText(said)
        self.findings.show_findings(self._session.results.findings)
