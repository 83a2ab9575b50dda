"""Pulleys for a boost, at the right of the desk: a wish typed, and the pulleys that grant it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.ratios.charge import boost_at, charged_drive
from jovial_tack.answers.ratios.pulleys import PulleyPair, fit_pair, pulleys_at_hand, pulleys_for
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.errors import GeometryError, JovialTackError
from jovial_tack.core.units import BELT_SPEED, PRESSURE, SPEED, format_length, written_in
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.blocks import ComparisonPage, act_row
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.marks import MarkLabel
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import Label, heading, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.worker import NewestOnly

_HINT = (
    "A smaller blower pulley is held by less belt; a larger crank pulley raises the belt's speed. All"
    " with today's belt: its arm stands elsewhere for each pair, and moves wrap and grip along."
)


class BoostCard(SideCard):
    """Finds pulleys off the window's thread; fitting a pair is one step to undo."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Pulleys for a boost", _HINT, parent)
        self._session, self._theme = session, theme
        self.pairs: tuple[PulleyPair, ...] = ()
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self._worker.failed.connect(self._fail)
        self.boost = QuantityField("Boost wanted", PRESSURE, draft=True)
        self.at = QuantityField("At engine speed", SPEED, draft=True)
        wish = QHBoxLayout()
        for word, field in (("Boost", self.boost), ("at", self.at)):
            label = Label(word)
            label.setBuddy(field)
            wish.addWidget(label)
            wish.addWidget(field, 1)
            field.refused.connect(self._refuse)
        self.for_boost = QPushButton("Pulleys for it")
        self.at_hand = QPushButton("What pulleys at hand make")
        group, ways = QButtonGroup(self), QHBoxLayout()
        for button in (self.for_boost, self.at_hand):
            button.setObjectName("choice")
            button.setCheckable(True)
            button.clicked.connect(self._find)
            group.addButton(button)
            ways.addWidget(button)
        ways.addStretch(1)
        self.for_boost.setChecked(True)
        self.boost.committed.connect(lambda kpa: self.ask_for(kpa, None))
        self.at.committed.connect(lambda rpm: self.ask_for(None, rpm))
        self.message = heading("badfigure")
        self.message.hide()
        self._page = ComparisonPage()
        self.working = heading("faded")
        self.working.setText("Trying pulleys …")
        self.working.hide()
        self.column.addLayout(wish)
        self.column.addLayout(ways)
        self.column.addWidget(self.message)
        self.column.addWidget(self.working)
        self.column.addWidget(self._page, 1)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self._show()

    def open(self) -> None:
        """Begin with the boost there is, at the speed shown; or say what is missing."""
        session = self._session
        try:
            charge = boost_at(session.build, session.catalogue, (session.rpm,))
        except JovialTackError as error:
            self.pairs = ()
            self._show()
            self._refuse(f"{str(error)[0].upper()}{str(error)[1:]}.")
            return
        self._refuse("")
        self.at.show_value(session.rpm, "rpm")
        made = round(float(charge.boost_kpa[0]), 1)
        self.boost.show_value(made, PRESSURE.shown(session.build.display_units))
        self._find()

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    def ask_for(self, kpa: float | None, rpm: float | None) -> None:
        """Another boost or another engine speed is wished."""
        if kpa is not None and kpa != self.boost.value:
            self.boost.change_value(kpa)
        if rpm is not None and rpm != self.at.value:
            self.at.change_value(rpm)
        self._find()

    def _find(self, _checked: bool = False) -> None:
        session, kpa, rpm = self._session, self.boost.value, self.at.value
        build, catalogue = session.build, session.catalogue
        check = self._worker.check_cancelled  # a window that closes does not wait for all of them
        self.boost.setEnabled(self.for_boost.isChecked())
        if self.at_hand.isChecked() and rpm is not None and rpm > 0:
            self._work(lambda: pulleys_at_hand(build, catalogue, rpm, check))
            return
        if kpa is None or rpm is None or kpa <= 0 or rpm <= 0:
            self._refuse("A boost and an engine speed above zero are needed.")
            return
        self._work(lambda: pulleys_for(build, catalogue, kpa, rpm, check))

    def _work(self, work: Callable[[], tuple[PulleyPair, ...]]) -> None:
        """Find pulleys off the window's thread, and say so meanwhile; what was found before goes."""
        self._refuse("")
        self.pairs = ()
        self._show()
        self.working.show()
        self._worker.submit(work)

    def _take(self, pairs: tuple[PulleyPair, ...]) -> None:
        self.working.hide()
        self._refuse("")
        self.pairs = pairs
        self._show()

    def _fail(self, error: Exception) -> None:
        self.working.hide()
        self.pairs = ()
        self._show()
        self._refuse(f"{str(error)[0].upper()}{str(error)[1:]}.")

    def _refuse(self, text: str) -> None:
        self.message.setText(text)
        self.message.setVisible(bool(text))

    def _show(self) -> None:
        blocks = [self._block(pair) for pair in self.pairs]
        exact = [pair for pair in self.pairs if pair.exact]
        if len(exact) == 2:
            blocks.insert(0, self._beside(*exact))
        self._page.show_blocks(blocks)

    def _beside(self, blower: PulleyPair, crank: PulleyPair) -> QWidget:
        """The two ways to the same ratio side by side."""
        block, unit = QWidget(), self._session.build.display_units
        grid = QGridLayout(block)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(2)
        grid.setColumnStretch(0, 1)
        for column, text in enumerate(("same ratio by", "blower", "crank")):
            head = heading("faded" if column == 0 else "subheading")
            head.setWordWrap(False)
            head.setText(text)
            grid.addWidget(head, 0, column)
        for row, (word, read) in enumerate(_BESIDE, start=1):
            grid.addWidget(Label(word), row, 0)
            for column, pair in enumerate((blower, crank), start=1):
                figure = Label(read(pair, unit))
                figure.setObjectName("figure")
                figure.setAlignment(Qt.AlignmentFlag.AlignRight)
                grid.addWidget(figure, row, column)
        return block

    def _block(self, pair: PulleyPair) -> QWidget:
        block, unit = QWidget(), self._session.build.display_units
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        digits = 1 if unit == "mm" else 3
        sizes = [format_length(mm, unit, digits=digits) for mm in (pair.blower_mm, pair.crank_mm)]
        line = QHBoxLayout()
        line.setSpacing(8)
        line.addWidget(MarkLabel(_state_of(pair), self._theme))
        name = heading("subheading")
        name.setText(together(f"blower {sizes[0]}, crank {sizes[1]}"))
        line.addWidget(name, 1)
        column.addLayout(line)
        message = heading("faded")
        message.setText(together(_in_words(pair, unit)))
        column.addWidget(message)
        spoken = f"Fit blower {sizes[0]}, crank {sizes[1]}"
        column.addLayout(act_row("Fit these", spoken, partial(self._fit, pair)))
        return block

    def _fit(self, pair: PulleyPair) -> None:
        session = self._session
        try:
            found = charged_drive(session.build, session.catalogue)
        except GeometryError:
            return  # the blower has gone meanwhile
        build = fit_pair(session.build, found, round(pair.blower_mm, 2), round(pair.crank_mm, 2))
        made = written_in(pair.boost_kpa, PRESSURE, session.build.display_units)
        session.edit(f"pulleys for {made}", build)


def _state_of(pair: PulleyPair) -> Mark:
    """Red where it cannot be had, amber where today's belt is too short, too long or slips on it."""
    if pair.problem:
        return "stop"
    used = pair.worst_arc_used
    return "watch" if used is None or used >= 1.0 else "good"


def _length(mm: float | None, unit: str) -> str:
    return "–" if mm is None else format_length(mm, unit, digits=1 if unit == "mm" else 3)


def _share(value: float | None, scale: float, unit: str) -> str:
    return "–" if value is None else f"{scale * value:.0f}{unit}"


_BESIDE: tuple[tuple[str, Callable[[PulleyPair, str], str]], ...] = (
    ("Pulley", lambda p, u: _length(p.blower_mm if p.changed == "blower" else p.crank_mm, u)),
    ("Wrap", lambda p, _u: _share(p.blower_wrap_deg, 1.0, "°")),
    ("Belt on it", lambda p, u: _length(p.contact_mm, u)),
    ("Wrap used", lambda p, _u: _share(p.worst_arc_used, 100.0, " %")),
    ("Belt speed", lambda p, u: written_in(p.belt_speed_mps, BELT_SPEED, u)),
    ("Rim speed", lambda p, u: written_in(p.rim_speed_mps, BELT_SPEED, u)),
    ("Path longer by", lambda p, u: _length(p.length_change_mm, u)),
    ("Next belt", lambda p, u: "–" if p.next_belt_mm is None else format_length(p.next_belt_mm, u)),
)


def _in_words(pair: PulleyPair, unit: str) -> str:
    """What a pair means: boost, speed, wrap, grip and belt."""
    if pair.problem:
        return pair.problem[0].upper() + pair.problem[1:] + "."
    words = [f"{written_in(pair.boost_kpa, PRESSURE, unit)}{' exactly' if pair.exact else ''}"]
    if pair.part:
        words.append(f"{pair.part} from the shelf")
    words.append(f"blower {pair.redline_blower_rpm:.0f} rpm at redline")
    words.append(f"belt {written_in(pair.belt_speed_mps, BELT_SPEED, unit)}")
    if pair.blower_wrap_deg is not None:
        words.append(f"wrap {pair.blower_wrap_deg:.0f}°{_signed(pair.wrap_change_deg, '°')}")
    if pair.worst_arc_used is not None:
        change = None if pair.arc_used_change is None else 100 * pair.arc_used_change
        words.append(f"{100 * pair.worst_arc_used:.0f} % of it used{_signed(change)}")
    if pair.place is not None:
        words.append(f"{pair.place.words(unit)} with today's belt")
    elif pair.length_change_mm is None:
        words.append("today's belt does not fit")
    else:
        words.append(f"path {format_length(pair.length_change_mm, unit)} longer")
    if pair.next_belt_mm is not None:
        words.append(f"next belt {format_length(pair.next_belt_mm, unit)}")
    return ", ".join(words) + "."


def _signed(change: float | None, unit: str = "") -> str:
    """How far something is from today's, in brackets; nothing where it is the same."""
    if change is None or abs(change) < 0.5:
        return ""
    return f" ({change:+.0f}{unit})"
