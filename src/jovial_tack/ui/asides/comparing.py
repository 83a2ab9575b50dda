"""What compared states look like, and the card that weighs keeping an accessory against deleting it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.build.keeping import Way, ways_without
from jovial_tack.build.variants import Compared
from jovial_tack.ui.asides.side_card import SideCard
from jovial_tack.ui.cards.rows import Mark, heading, together
from jovial_tack.ui.session import Session
from jovial_tack.ui.theme import Theme
from jovial_tack.ui.worker import NewestOnly

_HINT = "Each way solved with the stocked belts that suit it. Choosing one is one step to undo."


def act_row(text: str, spoken: str, act: Callable[[], object]) -> QHBoxLayout:
    """A button at the left of a line of its own; spoken: its name for screen readers."""
    row = QHBoxLayout()
    button = QPushButton(text)
    button.setObjectName("act")
    button.setAccessibleName(spoken)
    button.clicked.connect(lambda _=False: act())
    row.addWidget(button)
    row.addStretch(1)
    return row


def compared_block(
    row: Compared,
    theme: Theme,
    buttons: Sequence[tuple[str, Callable[[], object]]],
    more: Sequence[str] = (),
) -> QWidget:
    """One state: its name, four verdicts, figures, further words and buttons."""
    block = QWidget()
    column = QVBoxLayout(block)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(3)
    name = heading("subheading")
    name.setText(row.name)
    column.addWidget(name)
    for verdict in row.verdicts:
        line = QHBoxLayout()
        line.setSpacing(8)
        line.addWidget(Mark(verdict.state, theme), 0, Qt.AlignmentFlag.AlignTop)
        said = heading("plain")
        said.setText(together(f"{verdict.title}: {verdict.sentence}"))
        line.addWidget(said, 1)
        column.addLayout(line)
    for text in (*more, _figures(row)):
        words = QLabel(together(text))
        words.setObjectName("faded")
        words.setWordWrap(True)
        column.addWidget(words)
    if buttons:
        line = QHBoxLayout()
        for text, act in buttons:
            button = QPushButton(text)
            button.setObjectName("act")
            button.setAccessibleName(f"{text} {row.name}")
            button.clicked.connect(lambda _=False, a=act: a())
            line.addWidget(button)
        line.addStretch(1)
        column.addLayout(line)
    return block


def _figures(row: Compared) -> str:
    belts = "1 belt" if row.belts == 1 else f"{row.belts} belts"
    reserve = "unknown" if row.reserve is None else f"{100 * row.reserve:+.0f} %"
    hub = "no limit known" if row.hub_share is None else f"{100 * row.hub_share:.0f} % of its limit"
    bill = row.bill
    cost = f" for {bill.cost:.2f}" if bill.cost else ""
    missing = f", {bill.unpriced} of them without a price" if bill.unpriced else ""
    return (
        f"{belts}, {row.pulleys} pulleys · least reserve {reserve} · hub load {hub} ·"
        f" {bill.owned} part{'' if bill.owned == 1 else 's'} owned, {bill.to_buy} to buy{cost}{missing}"
    )


class ComparisonPage(QScrollArea):
    """Blocks below one another, of the width there is."""

    def __init__(self) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def show_blocks(self, blocks: Sequence[QWidget]) -> None:
        """Show these blocks in place of those there are."""
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(14)
        for block in blocks:
            column.addWidget(block)
        column.addStretch(1)
        self.setWidget(page)
        page.show()  # what is put into an area in sight is not shown by itself


class KeepCard(SideCard):
    """Keep or delete one accessory; put away by a choice made as well."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Keep or delete?", _HINT, parent)
        self._session, self._theme, self._shaft = session, theme, ""
        self.ways: tuple[Way, ...] = ()
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self._page = ComparisonPage()
        self.column.addWidget(self._page, 1)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self._show()

    def weigh(self, shaft: str) -> None:
        """Compare the ways for a shaft, off the window's thread."""
        session, self._shaft = self._session, shaft
        build, catalogue = session.build, session.catalogue
        self.title.setText(f"{build.shaft(shaft).label}: comparing …")
        self.ways = ()
        self._show()
        self._worker.submit(lambda: ways_without(build, shaft, catalogue))

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    def _take(self, ways: tuple[Way, ...]) -> None:
        self.ways = ways
        self.title.setText("Keep or delete?")
        self._show()

    def _show(self) -> None:
        blocks = []
        for way in self.ways:
            act = ("Do this", lambda w=way: self._do(w))
            buttons = () if way.stands.is_present else (act,)
            blocks.append(compared_block(way.stands, self._theme, buttons, way.changes))
        self._page.show_blocks(blocks)

    def _do(self, way: Way) -> None:
        session = self._session
        build = way.build
        if session.build.variants:
            build = build.model_copy(update={"variants": session.build.variants})
        session.edit(way.stands.name[0].lower() + way.stands.name[1:], build)
        self.closed.emit()
