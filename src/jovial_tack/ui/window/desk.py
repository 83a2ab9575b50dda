"""The desk: verdicts, station rail, front view, what lies under it, and what stands at its right.

The front view always stays; a station changes what is laid around it. What that is, each room says
itself (`ui/room.py`); the belt ribbon, the card and the plot over the revs are the desk's own, for
every station that has nothing else there.
"""

from __future__ import annotations

from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from jovial_tack.answers.verdicts import READ_AT, Verdict
from jovial_tack.document.targets import BeltAt, PulleyAt
from jovial_tack.ui.cards import CardHolder
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.grip.revs_plot import RevsPlot
from jovial_tack.ui.grip.ribbon import BeltRibbon
from jovial_tack.ui.room import Aside, Hands, Room
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.widgets.wardrobe import Wardrobe
from jovial_tack.ui.window.about import AboutCard
from jovial_tack.ui.window.keys import KeysCard
from jovial_tack.ui.window.lost import LostWorkCard
from jovial_tack.ui.window.notice import Notice
from jovial_tack.ui.window.rail import StationRail
from jovial_tack.ui.window.rooms import ROOMS
from jovial_tack.ui.window.rpm_slider import RpmSlider
from jovial_tack.ui.window.verdict_strip import VerdictStrip

_RIGHT_WIDTH = 336
#: In a narrower window what stands at the right folds away, in a lower one what lies below.
_NARROW, _LOW = 900, 560
_GAP = 8
_FIRST = "lay_out"

AnyRoom = TypeVar("AnyRoom", bound=Room)


class Desk(QWidget):
    """Everything between menu and status bar. moved: to another station, by its key; message:
    something to say in the status bar. demo: the file of the demo build.
    """

    moved = pyqtSignal(str)
    message = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme, demo: Path) -> None:
        super().__init__()
        self.setObjectName("desk")
        self._session = session
        self.front = FrontView(session, theme)
        self.strip = VerdictStrip(session, theme)
        self.notice = Notice(self)
        self.notice.asked.connect(self._place_notice)
        self.wanted: dict[str, bool] = {}
        self._small = (False, False)
        self.cards = CardHolder(session, theme)
        self.revs = RevsPlot(session, theme)
        self.ribbon = BeltRibbon(session, theme)
        self.slider = RpmSlider(session, theme)
        self.rooms = self._furnish(theme, demo)
        stations = [room.station for room in self.rooms if room.station is not None]
        self._at: dict[str, Room] = {r.station.key: r for r in self.rooms if r.station is not None}
        self.station: str = _FIRST
        self.rail = StationRail(stations, theme)
        self.keys, self.about, self.lost = KeysCard(), AboutCard(), LostWorkCard(session)
        own = tuple(Aside("", "", card) for card in (self.keys, self.about, self.lost))
        self._asides = {a.card: a for a in (*own, *(a for room in self.rooms for a in room.asides))}
        self.shown_tray: QWidget = self.ribbon
        self._lay_out()
        for card in self._asides:
            card.closed.connect(self._show_right)
        self._own = (
            self.front,
            self.strip,
            self.rail,
            self.cards,
            self.revs,
            self.ribbon,
            self.slider,
        )
        self.wardrobe = Wardrobe((*self._own, self.notice), theme)
        self.setAutoFillBackground(True)  # of the palette's ground
        self.rail.chosen.connect(self.stand_at)
        self.strip.chosen.connect(self.go_to)
        self.cards.released.connect(self.front.setFocus)
        self.revs.message.connect(self.message)
        session.readings_changed.connect(self._show_marks)
        self.stand_at(self.station)

    def _furnish(self, theme: Theme, demo: Path) -> tuple[Room, ...]:
        hands = Hands(
            session=self._session,
            theme=theme,
            front=self.front,
            demo=demo,
            show_text=self.message.emit,
            ask=self.notice.ask,
            station=lambda: self.station,
            stand_at=self.stand_at,
            call=self.call,
            call_up=self._call_up,
            to_enter=lambda: self._at[self.station].to_enter(),
            show_card=self._show_card,
            marks_changed=self._show_marks,
        )
        return tuple(room(hands) for room in ROOMS)

    def room(self, kind: type[AnyRoom]) -> AnyRoom:
        """The room of a kind."""
        return next(room for room in self.rooms if isinstance(room, kind))

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 4, 10, 4)
        column.setSpacing(_GAP)
        column.addWidget(self.strip)
        own_trays = [room.tray for room in self.rooms if room.tray is not None]
        self._trays = (self.ribbon, *own_trays)
        middle = QVBoxLayout()
        middle.setSpacing(_GAP)
        middle.addWidget(self.front, 1)
        for tray in self._trays:
            middle.addWidget(tray)
        middle.addWidget(self.slider)
        self._beside = QWidget()
        beside = QVBoxLayout(self._beside)
        beside.setContentsMargins(0, 0, 0, 0)
        beside.setSpacing(_GAP)
        beside.addWidget(self.cards, 3)
        beside.addWidget(self.revs, 2)
        self.right = QStackedWidget()
        self.right.setFixedWidth(_RIGHT_WIDTH)
        own_pages = [room.page for room in self.rooms if room.page is not None]
        for page in (self._beside, *own_pages, *self._asides):
            self.right.addWidget(page)
        row = QHBoxLayout()
        row.setSpacing(_GAP)
        row.addWidget(self.rail)
        row.addLayout(middle, 1)
        row.addWidget(self.right)
        column.addLayout(row, 1)

    # stations

    def stand_at(self, key: str) -> None:
        """Go to a station: lay out what belongs to it, and select what it is about if need be."""
        self._at[self.station].left()
        self.station, room = key, self._at[key]
        self.rail.show_chosen(key)
        shown = room.tray or self.ribbon
        for part in (shown, self.slider, self.revs):
            self.wardrobe.dress(part)
        self.shown_tray = shown
        self._fold()
        self.slider.setVisible(room.has_slider)
        self._show_revs(room)
        self._show_right()
        room.entered()
        for part in (shown, self.revs):
            if part.isVisibleTo(self):
                part.refresh()
        self.moved.emit(key)

    # small windows: what lies below and at the right folds away, and comes back by a key

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Fold what there is no room for; what was asked for by key holds until the size is another."""
        super().resizeEvent(event)
        small = self.width() < _NARROW, self.height() < _LOW
        if small != self._small:
            self._small, self.wanted = small, {}
            self.strip.set_compact(small[1])
            if any(small):
                self.message.emit(
                    "Little room here: Shift+F11 brings the card, F11 what lies below."
                )
        self._fold()
        self._place_notice()

    def toggle(self, part: str) -> None:
        """Fold or unfold the tray below ("tray") or what stands at the right ("right")."""
        self.wanted[part] = not self.is_open(part)
        self._fold()
        if part == "right" and self.is_open(part):
            self.cards.setFocus()

    def is_open(self, part: str) -> bool:
        """Whether a part of the desk is in sight: as it was put, or as there is room for."""
        narrow, low = self._small
        return self.wanted.get(part, not (narrow if part == "right" else low))

    def _fold(self) -> None:
        for tray in self._trays:
            tray.setVisible(tray is self.shown_tray and self.is_open("tray"))
        self.right.setVisible(self.is_open("right"))

    def _place_notice(self) -> None:
        """Lay the notice over the desk, below the verdicts; nothing is pushed together for it."""
        notice, wide = self.notice, self.width() - 20
        layout = notice.layout()
        tall = notice.sizeHint().height()
        if layout is not None and layout.hasHeightForWidth():
            tall = max(layout.heightForWidth(wide), notice.minimumSizeHint().height())
        notice.setGeometry(10, self.strip.geometry().bottom() + _GAP, wide, tall)
        notice.raise_()

    def _show_revs(self, room: Room) -> None:
        """The plot over the revs where the room has one; boost only where it asks for it."""
        over = room.over
        self.revs.setVisible(over is not None)
        self._session.revs_shown = over is not None
        if over is not None and over != "as before":
            self.revs.show_over(over)
        elif self.revs.over == "boost":
            self.revs.show_over("arc used")

    def go_to(self, verdict: Verdict) -> None:
        """Go to the station that mends what a verdict says, and select what it is about."""
        if verdict.where is not None:
            drive, pulley = verdict.where
            at_belt = verdict.station == "belt"
            self._session.select(BeltAt(drive) if at_belt else PulleyAt(drive, pulley))
        self.stand_at(verdict.station)

    def _show_marks(self) -> None:
        for verdict in self._session.verdicts:
            self.rail.show_mark(READ_AT[verdict.title], verdict.mark)
        doubtful = self._session.is_doubtful
        for key, room in self._at.items():
            if room.mark is None:
                continue
            # nothing is good that rests on a figure that is asked about
            open_ = doubtful and room.mark == "good"
            self.rail.show_mark(key, "unknown" if open_ else room.mark)

    # what stands at the right

    def _show_right(self) -> None:
        page = self._at[self.station].page
        if page is None:
            self._show_card()
        else:
            self.wanted.setdefault("right", True)  # the station is worked at there
            self._fold()
            self.wardrobe.dress(page)
            self.right.setCurrentWidget(page)

    def _show_card(self) -> None:
        for part in (self.cards, self.revs):
            self.wardrobe.dress(part)
        self.right.setCurrentWidget(self._beside)

    def _call_up(self, text: str) -> None:
        """Call a card to the right by what its menu calls it; one that stands there opens anew."""
        card = next(card for card, aside in self._asides.items() if aside.text == text)
        if self.right.currentWidget() is card:
            (self._asides[card].opened or card.refresh)()
        else:
            self.call(card)

    def call(self, card: SideCard) -> None:
        """Call a card to the right, or put it away if it stands there."""
        aside = self._asides[card]
        if not aside.may_open():
            return
        if self.right.currentWidget() is card and not aside.stays:
            self._show_right()
            return
        self.wardrobe.dress(card)
        self.wanted["right"] = True  # it was asked for
        self._fold()
        self.right.setCurrentWidget(card)
        card.close_button.setFocus()
        (aside.opened or card.refresh)()

    def show_keys(self, lines: list[tuple[str, list[tuple[str, str]]]]) -> None:
        """Show the list of keys at the right, or put it away."""
        self.keys.show_keys(lines)
        self.call(self.keys)

    def export_plot(self) -> None:
        """Write the plot that is in sight, or that over the revs."""
        export = self._at[self.station].export
        if export is None:
            self.stand_at("grip")
            export = self.revs.export
        export()

    # the whole of it

    def set_theme(self, theme: Theme) -> None:
        """Show everything in another theme."""
        self.wardrobe.change(theme)
        self.wardrobe.dress(self.notice)  # it shows itself
        for own in self._own:
            own.set_theme(theme)
        for room in self.rooms:
            for part in room.parts:
                part.set_theme(theme)

    def close_work(self) -> None:
        """Let running work end, before the window goes."""
        for room in self.rooms:
            room.close_work()
