"""What compared states look like, and the card that weighs keeping an accessory against deleting it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.comparing import Compared
from jovial_tack.ui.widgets.marks import MarkLabel
from jovial_tack.ui.widgets.text import Label, heading, together
from jovial_tack.ui.widgets.theme import Theme


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
        line.addWidget(MarkLabel(verdict.mark, theme), 0, Qt.AlignmentFlag.AlignTop)
        message = heading("plain")
        message.setText(together(f"{verdict.title}: {verdict.sentence}"))
        line.addWidget(message, 1)
        column.addLayout(line)
    for text in (*more, _figures(row)):
        words = Label(together(text))
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
