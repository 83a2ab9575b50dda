"""The card of readings of planes and tilts: laser, straightedge, depth, square, plumb line, run-out."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.line_up.read import (
    Read,
    called,
    label_of,
    read_planes,
    simulated_laser,
    taken_over,
)
from jovial_tack.answers.line_up.words import plane_words
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.units import ANGLE, LENGTH
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.stacks import (
    add_alignment_reading,
    change_alignment_reading,
    remove_alignment_reading,
)
from jovial_tack.document.targets import PulleyAt
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import scrolled
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, plain, together
from jovial_tack.ui.widgets.theme import Theme, words

_HINT = "What was read of groove planes and tilts. Planes of the build change only when you say so."
_CAUTION = "Never look into a laser, nor at it in a mirror; switch it off before you lean over it."
KINDS = (
    ("Laser in the grooves", "laser"),
    ("Straightedge on the rim", "straightedge"),
    ("Depth of a groove", "depth"),
    ("Found square", "square"),
    ("Plumb line", "plumb"),
    ("Run-out of a rim", "runout"),
)
_HOW = {
    "laser": "Seat it in the grooves of one pulley, read its line at the near and the far rim of the"
    " other: + where that groove stands before the line.",
    "straightedge": "Lay it on the face of one rim, read the gap at the near and the far side of the"
    " other: + where that rim stands before it. Both rims' faces must be known (Rim on their cards).",
    "depth": "From the face all planes are measured from, forward to the groove.",
    "square": "Held against its face: it stands square to the face all planes are measured from.",
    "plumb": "How far it leans from a plumb line, + where its top stands forward.",
    "runout": "Turned once by hand at a fixed pointer: the greatest reading less the least.",
}
_OF_TWO = ("laser", "straightedge")


class ReadingsCard(SideCard):
    """Readings typed one after another, what they tell, and the offer to take it over."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Readings of planes", _HINT, parent)
        self._session = session
        self._trials = 0
        self.read: Read | None = None
        self.kind = ElidedChoice("Kind of reading")
        for text, key in KINDS:
            self.kind.addItem(text, key)
        self.picture = ToolPicture(theme)
        self.how, self.refusal = heading("faded"), heading("stop")
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(7)
        column.addWidget(self.kind)
        column.addWidget(self.picture)
        column.addWidget(self.how)
        self._lines = FieldLines()
        self.on = self._choice("On", "Pulley the tool is on")
        self.at = self._choice("At", "Pulley that is read")
        self.near = self._field("Near rim", "What was read at the near rim, or in the middle")
        self.far = self._field("Far rim", "What was read at the far rim; empty if read once")
        self.angle = self._field("Leans", "How far it leans", degrees=True)
        column.addLayout(self._lines)
        self.add = self._button("Add", self.add_reading)
        self.simulate = self._button("Simulated laser", self._simulate)
        row = QHBoxLayout()
        row.addWidget(self.add)
        row.addWidget(self.simulate)
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(self.refusal)
        self.told = heading("plain")
        column.addWidget(self.told)
        self.take = self._button("Move the planes there", self.take_over)
        row = QHBoxLayout()
        row.addWidget(self.take)
        row.addStretch(1)
        column.addLayout(row)
        self.list = _Lines(self._remove)
        self.list.setAccessibleName("Readings of planes; Delete takes one away")
        self.list.itemDoubleClicked.connect(lambda _i: self._toggle_aside())
        column.addWidget(self.list)
        self.aside = self._button("Set aside, or use again", self._toggle_aside)
        self.drop = self._button("Take away", lambda: self._remove(self.list.currentRow()))
        row = QHBoxLayout()
        row.addWidget(self.aside)
        row.addWidget(self.drop)
        row.addStretch(1)
        column.addLayout(row)
        caution = heading("faded")
        caution.setText(_CAUTION)
        column.addWidget(caution)
        column.addStretch(1)
        self.column.addWidget(scrolled(inside), 1)
        self.kind.activated.connect(lambda _k: self._show_lines())
        self.near.returnPressed.connect(self._entered)
        self.far.returnPressed.connect(self._entered)
        self.angle.returnPressed.connect(self._entered)
        session.readings_changed.connect(self.refresh)
        session.replaced.connect(self.refresh)

    def _button(self, text: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("act")
        button.clicked.connect(lambda _=False: act())
        return button

    def _choice(self, word: str, spoken: str) -> ElidedChoice:
        choice = ElidedChoice(spoken)
        choice.activated.connect(lambda _k: self._show_lines())
        self._lines.add_line(word, choice)
        return choice

    def _field(self, word: str, spoken: str, *, degrees: bool = False) -> QuantityField:
        field = QuantityField(spoken, ANGLE if degrees else LENGTH, draft=True)
        field.refused.connect(lambda text: self.refusal.setText(sentence(text) if text else ""))
        self._lines.add_line(word, field)
        return field

    # what it shows

    def open(self) -> None:
        """Begin to type, at the pulley that is selected; called once the card is in sight."""
        self.refresh()
        chosen = self._session.selection
        if isinstance(chosen, PulleyAt):
            name = called(self._session.build, (chosen.drive, chosen.pulley))
            self.at.setCurrentIndex(max(self.at.findData(name), 0))
            self._show_lines()
        self.near.setFocus()

    def refresh(self) -> None:
        """Show what the present build has, if the card is in sight."""
        if not self.isVisible():
            return
        build = self._session.build
        for choice, first in ((self.on, 0), (self.at, 1)):
            before = choice.currentData()
            choice.clear()
            for drive in build.drives:
                for pulley in drive.pulleys:
                    name = drive.id, pulley.id
                    choice.addItem(label_of(build, name), called(build, name))
            place = choice.findData(before)
            choice.setCurrentIndex(min(first, choice.count() - 1) if place < 0 else place)
        unit = LENGTH.shown(build.display_units)
        for field in (self.near, self.far):
            field.show_in(unit, 2)
        self.angle.show_in("°", 2)
        cases = assemble(build, self._session.catalogue) if build.drives else ()
        self.read = None
        if not self._session.is_read_only:
            self.read = read_planes(build, cases, self._session.catalogue)
        self._show_list()
        self._show_told()
        self._show_lines()

    def _show_list(self) -> None:
        build, chosen = self._session.build, self.list.currentRow()
        self.list.clear()
        lines = () if self.read is None else self.read.lines
        for line, reading in zip(lines, build.alignment.readings, strict=False):
            text = line.words
            if reading.set_aside:
                text += " · set aside"
            elif line.problem:
                text += f" · not used: {line.problem}"
            elif line.suspect:
                text = f"! {text} · does not fit the others; read it again"
            elif line.standardised is None:
                text += " · nothing checks it"
            item = QListWidgetItem(text)
            item.setToolTip(plain(text))
            self.list.addItem(item)
        self.list.setCurrentRow(min(max(chosen, 0), len(lines) - 1))
        self.list.setVisible(bool(lines))
        for button in (self.aside, self.drop):
            button.setVisible(bool(lines))

    def _show_told(self) -> None:
        build = self._session.build
        told = () if self.read is None else self.read.pulleys
        said = [together(sentence(plane_words(build, one))) for one in told]
        self.told.setText("\n".join(said))
        sure = any(one.plane_mm is not None or one.tilt_deg != (None, None) for one in told)
        self.take.setVisible(bool(told))
        self.take.setEnabled(sure and not self._session.is_read_only)

    def _show_lines(self) -> None:
        kind = str(self.kind.currentData())
        of_two = kind in _OF_TWO
        shown = {
            self.on: of_two,
            self.at: True,
            self.near: kind not in ("square", "plumb"),
            self.far: of_two,
            self.angle: kind == "plumb",
        }
        for widget, is_shown in shown.items():
            self._lines.show_line(widget, shown=is_shown)
        self._lines.rename(self.at, "At" if of_two else "Of")
        self._lines.rename(self.near, "Near rim" if of_two else "Read")
        self.simulate.setVisible(kind == "laser")
        self.how.setText(_HOW[kind])
        self.picture.show_tool(kind, self.on.currentText(), self.at.currentText())
        editable = self.at.count() > 0 and not self._session.is_read_only
        self.add.setEnabled(editable)
        self.simulate.setEnabled(editable)

    # what it does

    def _entered(self) -> None:
        if not any(field.isModified() for field in (self.near, self.far, self.angle)):
            self.add_reading()

    def add_reading(self) -> None:
        """Add what was typed to the readings."""
        kind, at = str(self.kind.currentData()), str(self.at.currentData())
        reading: dict[str, Any] = {"type": kind}
        if kind in _OF_TWO:
            values = [v for v in (self.near.value, self.far.value) if v is not None]
            reading |= {"on": str(self.on.currentData()), "at": at, "offsets_mm": values}
            missing = not values or self.near.value is None
        else:
            reading["pulley"] = at
            key = {"depth": "value_mm", "runout": "tir_mm", "plumb": "value_deg"}.get(kind)
            value = self.angle.value if kind == "plumb" else self.near.value
            missing = key is not None and value is None
            if key is not None:
                reading[key] = value
        if missing:
            self.refusal.setText("Type what was read first.")
            self.near.setFocus()
            return
        if self._edit("reading of planes", lambda b: add_alignment_reading(b, reading)):
            for field in (self.near, self.far, self.angle):
                field.change_value(None)
            self.near.setFocus()

    def _simulate(self) -> None:
        """What a laser would read as the build is drawn: typed into the fields, to try the readings."""
        session = self._session
        self._trials += 1
        try:
            near, far = simulated_laser(
                session.build,
                str(self.on.currentData()),
                str(self.at.currentData()),
                assemble(session.build, session.catalogue),
                session.catalogue,
                self._trials,
            )
        except JovialTackError as error:
            self.refusal.setText(sentence(str(error)))
            return
        self.refusal.setText("")
        self.near.change_value(near)
        self.far.change_value(far)
        self.add.setFocus()

    def _toggle_aside(self) -> None:
        place = self.list.currentRow()
        readings = self._session.build.alignment.readings
        if 0 <= place < len(readings):
            aside = None if readings[place].set_aside else True
            self._edit(
                "reading set aside", lambda b: change_alignment_reading(b, place, set_aside=aside)
            )

    def _remove(self, place: int) -> None:
        if 0 <= place < len(self._session.build.alignment.readings):
            self._edit("reading of planes", lambda b: remove_alignment_reading(b, place))

    def take_over(self) -> None:
        """Have the build's planes and tilts be those that were read."""
        read = self.read
        if read is not None:
            self._edit("planes as read", lambda b: taken_over(b, read))

    def _edit(self, what: str, change: Callable[[Any], Any]) -> bool:
        try:
            build = change(self._session.build)
        except JovialTackError as error:
            self.refusal.setText(sentence(str(error)))
            return False
        self.refusal.setText("")
        self._session.edit(what, build)
        return True

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.picture.set_theme(theme)


class _Lines(QListWidget):
    """A list whose Delete key takes a line away."""

    def __init__(self, remove: Callable[[int], object]) -> None:
        super().__init__()
        self._remove = remove
        self.setWordWrap(True)
        self.setFixedHeight(112)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete takes away."""
        if event is not None and event.key() == Qt.Key.Key_Delete:
            self._remove(self.currentRow())
        else:
            super().keyPressEvent(event)


class ToolPicture(QWidget):
    """How a tool is held, looking down: forward is down, toward the viewer."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme, self._kind = theme, "laser"
        self._names = ("", "")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("How the tool is held, looking down")

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(280, 96)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def show_tool(self, kind: str, on: str, at: str) -> None:
        """Draw another tool."""
        self._kind, self._names = kind, (on, at)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The pulleys from above, the tool, and which way counts as +."""
        painter, t, width = QPainter(self), self._theme, float(self.width())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        of_two = self._kind in _OF_TWO
        right = (
            QRectF(width * 0.62, 44, width * 0.26, 14)
            if of_two
            else QRectF(width * 0.3, 44, width * 0.4, 14)
        )
        left = QRectF(width * 0.05, 34, width * 0.3, 14)
        for box, name, shown in ((left, self._names[0], of_two), (right, self._names[1], True)):
            if not shown:
                continue
            painter.setPen(QPen(t.color("ink"), 1.2))
            painter.setBrush(t.color("pulley_fill"))
            painter.drawRect(box)
            painter.setPen(QPen(t.color("ink"), 1.0, Qt.PenStyle.DotLine))
            painter.drawLine(
                QPointF(box.left(), box.center().y()), QPointF(box.right(), box.center().y())
            )
            painter.setFont(words(12))
            painter.setPen(t.color("faded"))
            metrics = QFontMetricsF(painter.font())
            name = metrics.elidedText(name, Qt.TextElideMode.ElideRight, width * 0.48)
            long = metrics.horizontalAdvance(name)
            x = min(max(box.center().x() - long / 2, 2.0), width - long - 2)
            painter.drawText(QPointF(x, box.bottom() + 28), name)
        painter.setPen(QPen(t.color("accent"), 2.0))
        ends = (right.left() + 3, right.right() - 3)
        if self._kind == "laser":
            line = left.center().y()
            painter.drawLine(QPointF(left.left(), line), QPointF(right.right() + 8, line))
            for x in ends:
                self._arrow(painter, QPointF(x, line), QPointF(x, right.center().y()))
        elif self._kind == "straightedge":
            line = left.bottom() + 2
            painter.drawLine(QPointF(left.left(), line), QPointF(right.right() + 8, line))
            for x in ends:
                self._arrow(painter, QPointF(x, line), QPointF(x, right.bottom()))
        elif self._kind == "depth":
            face = 8.0
            painter.drawLine(QPointF(right.left(), face), QPointF(right.right(), face))
            x = right.center().x()
            self._arrow(painter, QPointF(x, face), QPointF(x, right.center().y()))
        elif self._kind in ("square", "plumb"):
            x = right.right() + 6
            painter.drawLine(QPointF(x, 14), QPointF(x, right.bottom() + 4))
            painter.drawLine(
                QPointF(right.left(), right.bottom() + 4), QPointF(x, right.bottom() + 4)
            )
        else:
            x = right.right() - 4
            self._arrow(painter, QPointF(x, 14), QPointF(x, right.top()))
        painter.setFont(words(11))
        painter.setPen(t.color("faded"))
        painter.drawText(QPointF(4, 12), "looking down, engine above")
        painter.drawText(QPointF(4, 92), "+ forward")

    def _arrow(self, painter: QPainter, start: QPointF, end: QPointF) -> None:
        painter.drawLine(start, end)
        way = 1 if end.y() > start.y() else -1
        painter.drawLine(end, end + QPointF(-3, -5 * way))
        painter.drawLine(end, end + QPointF(3, -5 * way))
