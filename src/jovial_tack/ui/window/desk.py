"""The desk: verdicts, station rail, front view, what lies under it, and what stands at its right.

The front view always stays; a station changes what is laid around it. Under it lies the belt ribbon,
the plan view or a pull's boost; at the right the card (with the plot over the revs at Grip) or the log.
"""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from jovial_tack.answers.drive.air import blower_of
from jovial_tack.answers.ratios.rev_plan import rev_plan
from jovial_tack.answers.verdicts import READ_AT, Mark, Verdict
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.belt import BeltBench, BeltsAlongWindow
from jovial_tack.ui.cards import CardHolder
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.grip.revs_plot import RevsPlot
from jovial_tack.ui.grip.ribbon import BeltRibbon
from jovial_tack.ui.lay_out.variants import VariantsCard
from jovial_tack.ui.line_up.plan import PlanView
from jovial_tack.ui.ratios.boost import BoostCard
from jovial_tack.ui.ratios.map import MapCard
from jovial_tack.ui.ratios.rev_plan import RevPlanView, state_of
from jovial_tack.ui.ratios.underdrive import UnderdriveCard
from jovial_tack.ui.run_check import Logs, RunCheckPanel, RunCheckPlot
from jovial_tack.ui.session import Session
from jovial_tack.ui.stations import STATIONS
from jovial_tack.ui.survey.keeping import KeepCard
from jovial_tack.ui.survey.shelf import ShelfCard
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.window.about import AboutCard
from jovial_tack.ui.window.keys import KeysCard
from jovial_tack.ui.window.notice import Notice
from jovial_tack.ui.window.rail import StationRail
from jovial_tack.ui.window.rpm_slider import RpmSlider
from jovial_tack.ui.window.verdict_strip import VerdictStrip

_RIGHT_WIDTH = 336
_GAP = 8


_GRAVEST: tuple[Mark, ...] = ("stop", "watch", "good")


class Desk(QWidget):
    """Everything between menu and status bar. moved: to another station, by its key; told: something
    to say in the status bar.
    """

    moved = pyqtSignal(str)
    message = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("desk")
        self._session = session
        self.station = STATIONS[0].key
        self.bench = Logs(session, self)
        self.front = FrontView(session, theme)
        self.strip = VerdictStrip(session, theme)
        self.notice = Notice()
        self.rail = StationRail(theme)
        self.cards = CardHolder(session, theme)
        self.revs = RevsPlot(session, theme)
        self.ribbon = BeltRibbon(session, theme)
        self.plan = PlanView(session, theme)
        self.slider = RpmSlider(session, theme)
        self.log_panel = RunCheckPanel(self.bench, theme)
        self.log_plot = RunCheckPlot(self.bench, theme)
        self.keys = KeysCard()
        self.about = AboutCard()
        self.rev_plan = RevPlanView(session, theme)
        self.variants = VariantsCard(session, theme)
        self.shelf = ShelfCard(session)
        self.keeping = KeepCard(session, theme)
        self.wishes = BoostCard(session, theme)
        self.map = MapCard(session, theme)
        self.underdrive = UnderdriveCard(session, theme)
        self.belt_shop = BeltsAlongWindow(session, theme)
        self.belt_bench = BeltBench(session, self.belt_shop, theme)
        self._themed = (
            self.front, self.strip, self.rail, self.cards, self.revs, self.ribbon, self.plan,
            self.slider, self.log_panel, self.log_plot, self.variants, self.keeping,
            self.rev_plan, self.wishes, self.map, self.underdrive, self.belt_shop,
            self.belt_bench,
        )  # fmt: skip
        self.rail.chosen.connect(self.stand_at)
        self.strip.chosen.connect(self.go_to)
        self.cards.released.connect(self.front.setFocus)
        self._asides: tuple[SideCard, ...] = (
            self.keys, self.about, self.variants, self.shelf, self.keeping, self.wishes, self.map,
            self.underdrive, self.belt_bench,
        )  # fmt: skip
        self._lay_out()
        for page in self._asides:
            page.closed.connect(lambda: self._show_right(self.station))
        session.readings_changed.connect(self._show_states)
        session.settled.connect(self._show_plan_state)
        self.bench.changed.connect(self._show_states)
        self.shelf.opened.connect(self._open_part)
        self.belt_shop.bench_wanted.connect(self.show_belt_bench)
        self.belt_shop.overlay_wanted.connect(self.front.show_overlay)
        self.stand_at(self.station)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 4, 10, 4)
        column.setSpacing(_GAP)
        column.addWidget(self.strip)
        column.addWidget(self.notice)
        self._trays: tuple[QWidget, ...] = (
            self.ribbon, self.plan, self.log_plot, self.rev_plan, self.belt_shop,
        )  # fmt: skip
        middle = QVBoxLayout()
        middle.setSpacing(_GAP)
        middle.addWidget(self.front, 1)
        for tray in self._trays:
            middle.addWidget(tray)
        middle.addWidget(self.slider)
        message = QWidget()
        beside = QVBoxLayout(message)
        beside.setContentsMargins(0, 0, 0, 0)
        beside.setSpacing(_GAP)
        beside.addWidget(self.cards, 3)
        beside.addWidget(self.revs, 2)
        self._told = message
        self._right = QStackedWidget()
        self._right.setFixedWidth(_RIGHT_WIDTH)
        for page in (message, self.log_panel, *self._asides):
            self._right.addWidget(page)
        row = QHBoxLayout()
        row.setSpacing(_GAP)
        row.addWidget(self.rail)
        row.addLayout(middle, 1)
        row.addWidget(self._right)
        column.addLayout(row, 1)

    def stand_at(self, key: str) -> None:
        """Go to a station: lay out what belongs to it, and select what it is about if need be."""
        self.station = key
        self.rail.show_chosen(key)
        trays: dict[str, QWidget] = {
            "line_up": self.plan, "run_check": self.log_plot, "ratios": self.rev_plan,
            "belt": self.belt_shop,
        }  # fmt: skip
        shown = trays.get(key, self.ribbon)
        for tray in self._trays:
            tray.setVisible(tray is shown)
        self.slider.setVisible(key != "run_check")
        self.revs.setVisible(key in ("grip", "ratios"))
        self._session.revs_shown = key in ("grip", "ratios")
        if key == "ratios":
            build = self._session.build
            described = any(blower_of(build, shaft) is not None for shaft in build.shafts)
            self.revs.show_over("boost" if described else "speed")
        elif self.revs.over == "boost":
            self.revs.show_over("arc used")
        self._show_right(key)
        if key == "belt":
            self._select_belt()
        for widget in (self.plan, self.revs, self.log_plot, self.rev_plan, self.belt_shop):
            if widget.isVisibleTo(self):
                widget.refresh()
        self.moved.emit(key)

    def _show_right(self, key: str) -> None:
        self._right.setCurrentWidget(self.log_panel if key == "run_check" else self._told)

    def _select_belt(self) -> None:
        """At the belt a belt is looked at: that of what is selected, else that of the ribbon."""
        selection, drives = self._session.selection, self._session.build.drives
        if selection[:1] == ("belt",) or not drives:
            return
        own = selection[1] if len(selection) > 1 and selection[0] != "shaft" else drives[-1].id
        self._session.select(("belt", own))

    def go_to(self, verdict: Verdict) -> None:
        """Go to the place that mends what a verdict says."""
        if verdict.where is not None:
            drive, pulley = verdict.where
            at_belt = verdict.title == "Order"
            self._session.select(("belt", drive) if at_belt else ("pulley", drive, pulley))
        self.stand_at(verdict.station)

    def show_keys(self, lines: list[tuple[str, list[tuple[str, str]]]]) -> None:
        """Show the list of keys at the right, or put it away."""
        self.keys.show_keys(lines)
        self._show_aside(self.keys)

    def show_about(self) -> None:
        """Show what this is at the right, or put it away."""
        self._show_aside(self.about)

    def show_shelf(self) -> None:
        """Show the shelf at the right, or put it away."""
        self._show_aside(self.shelf)
        self.shelf.refresh()
        if self.shelf.isVisible():
            self.shelf.list.setFocus()

    def compare_without(self) -> None:
        """Weigh keeping the selected accessory against deleting it."""
        build = self._session.build
        shaft = shaft_of(build, self._session.selection)
        if shaft is None or build.shaft(shaft).kind == "crank" or self._session.is_read_only:
            self.message.emit("Select the accessory to keep or delete first.")
            return
        if self._right.currentWidget() is not self.keeping:
            self._show_aside(self.keeping)
        self.keeping.compare_without(shaft)

    def show_wishes(self) -> None:
        """Show the pulleys for a boost at the right, or put them away."""
        self._show_aside(self.wishes)
        if self.wishes.isVisible():
            self.wishes.open()
            self.wishes.boost.setFocus()

    def show_map(self) -> None:
        """Show the blower's map at the right, or put it away."""
        self._show_aside(self.map)
        self.map.refresh()

    def show_underdrive(self) -> None:
        """Show what smaller crank pulleys do at the right, or put it away."""
        self._show_aside(self.underdrive)
        if self.underdrive.isVisible():
            self.underdrive.open()

    def show_belt_bench(self) -> None:
        """Show the bench for belts at the right, or put it away; it goes with the belts below."""
        if self.station != "belt":
            self.stand_at("belt")
        self._show_aside(self.belt_bench)
        self.belt_bench.refresh()

    def _open_part(self, part: str) -> None:
        """The card of a part, in the shelf's place."""
        self._show_right(self.station if self.station != "run_check" else "lay_out")
        self._session.select(("part", part))

    def show_variants(self) -> None:
        """Show the variants at the right, or put them away."""
        self._show_aside(self.variants)
        self.variants.refresh()

    def _show_aside(self, page: SideCard) -> None:
        if self._right.currentWidget() is page:
            self._show_right(self.station)
        else:
            self._right.setCurrentWidget(page)
            page.close_button.setFocus()

    def _show_states(self) -> None:
        for verdict in self._session.verdicts:
            self.rail.show_state(READ_AT[verdict.title], verdict.state)
        self.rail.show_state("run_check", self.bench.state)

    def _show_plan_state(self) -> None:
        """Once the build has settled: what is dragged about seldom changes a ratio."""
        self.rail.show_state("ratios", self._plan_state())

    def _plan_state(self) -> Mark:
        """The gravest state of the rev plan."""
        if self._session.is_read_only:
            return "unknown"
        plan = rev_plan(self._session.build, self._session.catalogue)
        states = {state_of(row) for row in plan}
        return next((state for state in _GRAVEST if state in states), "unknown")

    def set_theme(self, theme: Theme) -> None:
        """Show everything in another theme."""
        for widget in self._themed:
            widget.set_theme(theme)
