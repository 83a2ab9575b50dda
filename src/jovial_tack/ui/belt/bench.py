"""The bench for belts, at the right of the desk: put on, measure, feel, stock, teeth and more."""

from __future__ import annotations

from PyQt6.QtWidgets import QButtonGroup, QGridLayout, QPushButton, QStackedWidget, QWidget

from jovial_tack.answers.belt.steps import CAUTION, STRETCH_CAUTION, fitting_steps
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.judging import case_of
from jovial_tack.core.words import sentence
from jovial_tack.document.model import StretchTensioner
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.feeling import FeelPage
from jovial_tack.ui.belt.listening import TonePage
from jovial_tack.ui.belt.measuring import MeasurePage
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.belt.seats import SeatsPage
from jovial_tack.ui.belt.seeing import SeenPage
from jovial_tack.ui.belt.stock import StockPage
from jovial_tack.ui.belt.tables import NumberPage, ToothedPage
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import on_button
from jovial_tack.ui.widgets.theme import Theme


class PutOnPage(Page):
    """The steps of putting on the belt that is looked at."""

    name = "Put on"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.fit_button = QPushButton("Fit this belt in the build")
        self.fit_button.setObjectName("act")
        self.fit_button.clicked.connect(lambda _=False: self._fit())
        self.column.insertWidget(0, self.fit_button)

    def _fit(self) -> None:
        self._along.fit()

    def refresh(self) -> None:
        """Tell the steps for the belt that is looked at."""
        belt, choice = self._along.looked_at, self._along.choice
        self.fit_button.setVisible(belt is not None and not self._session.is_read_only)
        if belt is None or choice is None:
            self.show_text("No belt is looked at; choose one below the front view.")
            return
        build = self._along.build
        case = case_of(build, choice.drive, self._session.catalogue)
        if not isinstance(case, SolvableCase):
            return  # a belt was chosen for it: it can be solved
        steps = fitting_steps(case, belt, build.display_units)
        stretch = isinstance(case.model.tensioner, StretchTensioner)
        self.fit_button.setText(on_button(f"Fit {belt.number} in the build"))
        lines = [f"{k}. {sentence(step)}" for k, step in enumerate(steps, start=1)]
        self.show_text(
            *(lines if len(lines) > 1 else [sentence(steps[0])]),
            caution=STRETCH_CAUTION if stretch else CAUTION,
        )


class BeltBench(SideCard):
    """Pages chosen at the top; each follows the belt that is looked at in the shop."""

    def __init__(
        self, session: Session, along: BeltsAlongWindow, theme: Theme, parent: QWidget | None = None
    ) -> None:
        super().__init__("Belt bench", "", parent)
        self.put_on = PutOnPage(session, along)
        self.measure = MeasurePage(session, along)
        self.seen = SeenPage(session, along)
        self.feel = FeelPage(session, along)
        self.tone = TonePage(session, along)
        self.seats = SeatsPage(session, along, theme)
        self.stock = StockPage(session, along)
        self.number = NumberPage(session, along)
        self.toothed = ToothedPage(session, along)
        self.pages: tuple[Page, ...] = (
            self.put_on,
            self.measure,
            self.seen,
            self.feel,
            self.tone,
            self.seats,
            self.stock,
            self.number,
            self.toothed,
        )
        choices, group = QGridLayout(), QButtonGroup(self)
        choices.setSpacing(6)
        self.stack = QStackedWidget()
        self.buttons: list[QPushButton] = []
        for place, page in enumerate(self.pages):
            button = QPushButton(page.name)
            button.setObjectName("choice")
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, k=place: self.show_page(k))
            group.addButton(button)
            choices.addWidget(button, place // 4, place % 4)
            self.stack.addWidget(page)
            self.buttons.append(button)
        self.column.addLayout(choices)
        self.column.addWidget(self.stack, 1)
        self.buttons[0].setChecked(True)
        along.changed.connect(self.refresh)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.seats.theme = theme
        self.refresh()

    def show_page(self, place: int) -> None:
        """Turn to a page."""
        self.buttons[place].setChecked(True)
        self.stack.setCurrentIndex(place)
        self.refresh()

    def refresh(self) -> None:
        """Work out the page that is seen."""
        if self.isVisible():
            page = self.stack.currentWidget()
            assert isinstance(page, Page)
            page.refresh()
