"""Pulleys for a boost, at the right of the desk: a wish typed, and the pulleys that grant it."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from jovial_tack.build.edits import set_diameter
from jovial_tack.build.ratios import PulleyPair, boost_at, charged_drive, pulleys_for
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.units import PRESSURE, SPEED, format_length
from jovial_tack.ui.cards.rows import Mark, heading, together
from jovial_tack.ui.comparing import ComparisonPage
from jovial_tack.ui.fields import QuantityField
from jovial_tack.ui.session import Session
from jovial_tack.ui.side_card import SideCard
from jovial_tack.ui.theme import Theme
from jovial_tack.ui.worker import NewestOnly

_HINT = (
    "The boost wanted, and the engine speed it is wanted at. The first of each kind makes it exactly;"
    " the others are of a stepped series. A smaller blower pulley gives wrap away, a larger crank"
    " pulley keeps it and raises the belt's speed."
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
        self.boost = QuantityField("Boost wanted", PRESSURE)
        self.at = QuantityField("At engine speed", SPEED)
        wish = QHBoxLayout()
        for word, field in (("Boost", self.boost), ("at", self.at)):
            label = QLabel(word)
            label.setBuddy(field)
            wish.addWidget(label)
            wish.addWidget(field, 1)
            field.refused.connect(self._refuse)
        self.boost.committed.connect(lambda kpa: self._wish(kpa, None))
        self.at.committed.connect(lambda rpm: self._wish(None, rpm))
        self.said = heading("badfigure")
        self.said.hide()
        self._page = ComparisonPage()
        self.column.addLayout(wish)
        self.column.addWidget(self.said)
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
        self.boost.show_value(round(float(charge.boost_kpa[0]), 1), "kPa")
        self._find()

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    def _wish(self, kpa: float | None, rpm: float | None) -> None:
        if kpa is not None:
            self.boost.show_value(kpa, "kPa")
        if rpm is not None:
            self.at.show_value(rpm, "rpm")
        self._find()

    def _find(self) -> None:
        session, kpa, rpm = self._session, self.boost.value, self.at.value
        if kpa is None or rpm is None or kpa <= 0 or rpm <= 0:
            self._refuse("A boost and an engine speed above zero are needed.")
            return
        build, catalogue = session.build, session.catalogue
        self._worker.submit(lambda: pulleys_for(build, catalogue, kpa, rpm))

    def _take(self, pairs: tuple[PulleyPair, ...]) -> None:
        self._refuse("")
        self.pairs = pairs
        self._show()

    def _fail(self, error: Exception) -> None:
        self.pairs = ()
        self._show()
        self._refuse(f"{str(error)[0].upper()}{str(error)[1:]}.")

    def _refuse(self, text: str) -> None:
        self.said.setText(text)
        self.said.setVisible(bool(text))

    def _show(self) -> None:
        self._page.show_blocks([self._block(pair) for pair in self.pairs])

    def _block(self, pair: PulleyPair) -> QWidget:
        block, unit = QWidget(), self._session.build.display_units
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        digits = 1 if unit == "mm" else 3
        sizes = [format_length(mm, unit, digits=digits) for mm in (pair.blower_mm, pair.crank_mm)]
        line = QHBoxLayout()
        line.setSpacing(8)
        line.addWidget(Mark("stop" if pair.problem else "good", self._theme))
        name = heading("subheading")
        name.setText(together(f"blower {sizes[0]}, crank {sizes[1]}"))
        line.addWidget(name, 1)
        column.addLayout(line)
        said = heading("faded")
        said.setText(together(_in_words(pair)))
        column.addWidget(said)
        row = QHBoxLayout()
        button = QPushButton("Fit these")
        button.setObjectName("act")
        button.setAccessibleName(f"Fit blower {sizes[0]}, crank {sizes[1]}")
        button.clicked.connect(partial(self._fit, pair))
        row.addWidget(button)
        row.addStretch(1)
        column.addLayout(row)
        return block

    def _fit(self, pair: PulleyPair, _checked: bool = False) -> None:
        session = self._session
        found = charged_drive(session.build, session.catalogue)
        case = found.case
        build = set_diameter(
            session.build, case.model.id, case.pulleys[found.place].id, round(pair.blower_mm, 2)
        )
        build = set_diameter(
            build, case.model.id, case.pulleys[case.driver].id, round(pair.crank_mm, 2)
        )
        session.edit(f"pulleys for {pair.boost_kpa:.0f} kPa", build)


def _in_words(pair: PulleyPair) -> str:
    """What a pair means: boost, speed, wrap, grip and belt."""
    if pair.problem:
        return pair.problem[0].upper() + pair.problem[1:] + "."
    words = [f"{pair.boost_kpa:.1f} kPa{' exactly' if pair.exact else ''}"]
    words.append(f"blower {pair.redline_blower_rpm:.0f} rpm at redline")
    words.append(f"belt {pair.belt_speed_mps:.0f} m/s")
    if pair.blower_wrap_deg is not None:
        words.append(f"wrap {pair.blower_wrap_deg:.0f}°")
    if pair.worst_arc_used is not None:
        words.append(f"{100 * pair.worst_arc_used:.0f} % of it used")
    if pair.arm_angle_deg is not None:
        words.append(f"arm at {pair.arm_angle_deg:.1f}° with today's belt")
    elif pair.path_effective_length_mm is None:
        words.append("today's belt does not fit")
    return ", ".join(words) + "."
