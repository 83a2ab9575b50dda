"""What a station brings to the desk: one room each, declared once.

The desk lays out trays and cards, the menus and the list of keys their actions, and themes and
closing reach every part, all from what a room says here. A new station is a new room and a word in
`ui/window/rooms.py`.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, ClassVar, Literal, get_args

from PyQt6.QtGui import QKeySequence

from jovial_tack.answers import kinds
from jovial_tack.answers.verdicts import Mark
from jovial_tack.document.model import EventKind
from jovial_tack.drawing.curves import Over
from jovial_tack.ui.front_view import FrontView
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import DeskPart
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.theme import Theme

Menu = Literal["&File", "&Edit", "&Place", "&Tools", "&View", "&Station", "&Help"]
MENUS: tuple[Menu, ...] = get_args(Menu)


@dataclass(frozen=True)
class Station:
    """A stage of the work. number: its place in the order of work; what: said in its tip."""

    key: kinds.Station
    number: int
    name: str
    what: str


@dataclass(frozen=True)
class Action:
    """An entry of a menu with its key. name: by which the window finds it again to change its words
    or its mark; choice: of actions with the same word here one is marked; marked by itself: "own".
    """

    menu: Menu
    text: str
    key: QKeySequence.StandardKey | str
    act: Callable[[], object]
    name: str = ""
    choice: str = ""


@dataclass(frozen=True)
class Submenu:
    """A menu within a menu, of entries without keys: (text, what it does)."""

    menu: Menu
    text: str
    entries: Sequence[tuple[str, Callable[[], object]]] = ()
    name: str = ""


@dataclass(frozen=True)
class Break:
    """A line between the entries of a menu."""

    menu: Menu


Entry = Action | Submenu | Break


@dataclass(frozen=True)
class Aside:
    """A card called up at the right by its key, and put away by it again.

    may_open: asked before, and says itself what is missing; opened: called once it is in sight, in
    place of refreshing it; stays: called again, it opens anew and is not put away.
    """

    text: str
    key: str
    card: SideCard
    opened: Callable[[], object] | None = None
    may_open: Callable[[], bool] = lambda: True
    stays: bool = False
    menu: Menu = "&Tools"


@dataclass(frozen=True)
class Hands:
    """What a room may do to the desk. demo: the file of the demo build."""

    session: Session
    theme: Theme
    front: FrontView
    demo: Path
    show_text: Callable[[str], object]  # in the status bar, for a while
    ask: Callable[[str], object]  # as a notice, until it is closed
    station: Callable[[], str]  # the key of the one stood at
    stand_at: Callable[[str], object]
    call: Callable[[SideCard], object]  # a card to the right, or away again
    call_up: Callable[[str], object]  # the card of another room, by what its menu calls it
    to_enter: Callable[[], ToEnter | None]  # what the station stood at has for the logbook
    show_card: Callable[[], object]  # the card of what is selected, in the place of an aside
    marks_changed: Callable[[], object]  # of the station, on the rail


@dataclass(frozen=True)
class ToEnter:
    """An event for the logbook: its kind, and its figures; or (act) what enters it by itself."""

    kind: EventKind
    figures: Mapping[str, Any] = field(default_factory=dict)
    act: Callable[[], object] | None = None


class Room:
    """What a station lays around the front view. Each says what it has; the rest is as here."""

    #: None: not to be stood at yet, only its asides are there.
    station: ClassVar[Station | None] = None
    has_slider: ClassVar[bool] = True

    def __init__(self, hands: Hands) -> None:
        self.hands = hands
        #: below the front view; None: the belt ribbon
        self.tray: DeskPart | None = None
        #: at the right; None: the card of what is selected
        self.page: DeskPart | None = None
        self.asides: tuple[Aside, ...] = ()
        self.entries: tuple[Entry, ...] = ()
        #: writes the plot in sight to a file; None: the plot over the revs
        self.export: Callable[[], object] | None = None

    @property
    def mark(self) -> Mark | None:
        """Its mark on the rail; None: that of the verdict read here."""
        return None

    @property
    def over(self) -> Over | Literal["as before"] | None:
        """What is plotted over the revs below the card; None: there is no plot."""
        return None

    def to_enter(self) -> ToEnter | None:
        """What may be entered in the logbook here, as things are; None: a note of the day."""
        return None

    @property
    def parts(self) -> tuple[DeskPart, ...]:
        """All its parts of the desk."""
        around = [part for part in (self.tray, self.page) if part is not None]
        return (*around, *(aside.card for aside in self.asides))

    def entered(self) -> None:
        """Called when its station is stood at, once everything lies there."""

    def left(self) -> None:
        """Called when another station is gone to."""

    def close_work(self) -> None:
        """Let running work end, before the window goes."""
        for part in self.parts:
            part.close_work()
