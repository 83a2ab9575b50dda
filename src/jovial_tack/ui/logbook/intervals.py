"""The card of use and of intervals: how much it was used, and what is changed after how much."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial

from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.logbook.told import LogbookTold
from jovial_tack.answers.logbook.words import USES, due_words
from jovial_tack.core.logbook.due import UNITS
from jovial_tack.core.units import MONTHS
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.logbook import (
    add_interval,
    remove_interval,
    set_interval,
    set_pace,
    set_use,
)
from jovial_tack.document.model import Build, Interval
from jovial_tack.ui.logbook.book import Book
from jovial_tack.ui.widgets.desk_part import empty, scrolled_column
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.typed import Parked

_HINT = "Your own rule, whichever comes first. The maker's interval rules where there is one."
_WORDS = {"km": "distance", "hours": "hours", "passes": "passes"}
_KINDS = (
    ("belt", "belt of"), ("toothed", "toothed belt of"), ("tensioner", "tensioner of"),
    ("bearing", "bearing of"), ("tension", "tension, once, of"),
)  # fmt: skip


class IntervalsCard(SideCard):
    """Use now and in a month above; a block an interval; one more below."""

    def __init__(self, book: Book, parent: QWidget | None = None) -> None:
        super().__init__("Intervals and use", _HINT, parent)
        self._book, self._session = book, book.session
        column = scrolled_column(self.column)
        self.lines = FieldLines()
        self.unit = QComboBox()
        self.unit.setAccessibleName("What lives are counted in")
        self.unit.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        for unit, words in _WORDS.items():
            self.unit.addItem(words, unit)
        self.unit.activated.connect(
            lambda _k: self._edit("lives by", lambda b: set_use(b, unit=self.unit.currentData()))
        )
        self.lines.add_line("Lives by", self.unit)
        self.now: dict[str, QuantityField] = {}
        self.pace: dict[str, QuantityField] = {}
        for unit in UNITS:
            self.now[unit] = self._use_field(unit, f"Now, {_WORDS[unit]}", self._take_use)
            self.pace[unit] = self._use_field(unit, f"In a month, {_WORDS[unit]}", self._take_pace)
        column.addLayout(self.lines)
        title = heading("subheading")
        title.setText("Changed or looked at after")
        column.addWidget(title)
        self.blocks = QVBoxLayout()
        self.blocks.setSpacing(10)
        column.addLayout(self.blocks)
        row = QHBoxLayout()
        self.kind, self.of = QComboBox(), QComboBox()
        for box, spoken in ((self.kind, "What is changed"), (self.of, "Of which drive or shaft")):
            box.setAccessibleName(spoken)
            box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            row.addWidget(box)
        for key, words in _KINDS:
            self.kind.addItem(words, key)
        self.kind.activated.connect(lambda _k: self._offer())
        self.add = QPushButton("One more interval")
        self.add.clicked.connect(lambda _=False: self._add())
        column.addLayout(row)
        column.addWidget(self.add)
        column.addStretch(1)
        self.refusal = heading("badfigure")
        self.refusal.hide()
        self.column.addWidget(self.refusal)
        self.fields: dict[tuple[str, str], QuantityField] = {}
        self._parked = Parked(self)
        self._shown: tuple[object, ...] = ()
        book.changed.connect(self.refresh)

    @property
    def _build(self) -> Build:
        return self._session.build

    def _use_field(
        self, unit: str, word: str, take: Callable[[str, float], object]
    ) -> QuantityField:
        field = QuantityField(word, USES[unit])
        field.setMaximumWidth(150)
        field.committed.connect(lambda value: take(unit, value))
        field.refused.connect(self._refuse)
        self.lines.add_line(word, field)
        return field

    def _take_use(self, unit: str, value: float) -> None:
        today = date.today().isoformat()
        self._edit("use so far", lambda build: set_use(build, **{unit: value}, as_of=today))

    def _take_pace(self, unit: str, value: float) -> None:
        self._edit("use in a month", lambda build: set_pace(build, unit, value or None))

    def _edit(self, label: str, make: Callable[[Build], Build]) -> None:
        self._refuse(self._book.edit(label, make))

    def _offer(self) -> None:
        build, bearing = self._build, self.kind.currentData() == "bearing"
        offered = build.shafts if bearing else build.drives
        items = [(each.id, each.label) for each in offered]
        if items != [(self.of.itemData(k), self.of.itemText(k)) for k in range(self.of.count())]:
            self.of.clear()
            for key, label in items:
                self.of.addItem(label, key)

    def _add(self) -> None:
        of = self.of.currentData()
        if of is not None:
            what = f"{self.kind.currentData()}:{of}"
            self._edit("one more interval", lambda build: add_interval(build, what)[0])

    def refresh(self) -> None:
        """Show use and intervals as they are."""
        if not self.isVisible():
            return
        build, use = self._build, self._build.logbook.use
        can = not self._session.is_read_only
        for widget in (self.unit, self.add, *self.now.values(), *self.pace.values()):
            widget.setEnabled(can)
        self.unit.setCurrentIndex(self.unit.findData(use.unit))
        for unit in UNITS:
            shown = USES[unit].shown(build.display_units)
            self.now[unit].show_value(getattr(use, unit), shown)
            self.pace[unit].show_value(getattr(use.per_month, unit), shown)
        self._offer()
        self._show_intervals()
        self._refuse("")

    def _show_intervals(self) -> None:
        told, build = self._book.told, self._build
        shown = build.logbook.intervals, told.due, build.display_units
        if shown == self._shown:
            return
        self._shown = shown
        self._parked.put_away(self.fields)
        self._show_blocks(told, build)
        self._parked.bring_back(self.fields)

    def _show_blocks(self, told: LogbookTold, build: Build) -> None:
        self.fields = {}
        empty(self.blocks)
        for interval, thing in zip(build.logbook.intervals, told.due, strict=True):
            words = sentence(due_words(thing, build.display_units))
            block = self._block(interval, words)
            self.blocks.addWidget(block)
            block.show()  # so that it can be typed in at once

    def _block(self, interval: Interval, words: str) -> QWidget:
        block = QWidget()
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        said = heading("plain")
        said.setText(together(words))
        column.addWidget(said)
        grid = QGridLayout()
        grid.setSpacing(4)
        system = self._build.display_units
        for place, (name, quantity) in enumerate((*USES.items(), ("months", MONTHS))):
            field = QuantityField(f"{interval.what}, after {name}", quantity)
            whole = name == "months"
            field.show_value(getattr(interval, name), quantity.shown(system))
            field.setPlaceholderText(name)
            field.committed.connect(partial(self._limit, interval.id, name, whole))
            field.refused.connect(self._refuse)
            self.fields[interval.id, name] = field
            grid.addWidget(field, place // 2, place % 2)
        column.addLayout(grid)
        below = QHBoxLayout()
        locked = QPushButton("Also once the engine locked up")
        locked.setObjectName("choice")
        locked.setCheckable(True)
        locked.setChecked(interval.after_event is not None)
        locked.clicked.connect(partial(self._after_event, interval.id))
        out = QPushButton("Take out")
        out.setObjectName("act")
        out.setAccessibleName(f"Take the interval of {interval.what} out")
        out.clicked.connect(
            lambda _=False: self._edit(
                "take an interval out", lambda build: remove_interval(build, interval.id)
            )
        )
        below.addWidget(locked, 1)
        below.addWidget(out)
        column.addLayout(below)
        return block

    def _limit(self, interval_id: str, name: str, whole: bool, value: float) -> None:
        """Take a limit; 0 takes it away."""
        limit = (round(value) if whole else value) or None
        self._edit("an interval", lambda build: set_interval(build, interval_id, **{name: limit}))

    def _after_event(self, interval_id: str, on: bool) -> None:
        event = "engine_locked" if on else None
        self._edit("an interval", lambda build: set_interval(build, interval_id, after_event=event))

    def _refuse(self, text: str) -> None:
        self.refusal.setText(text)
        self.refusal.setVisible(bool(text))
