"""The page of the belt bench on how the belt sits in each pulley, drawn to scale."""

from __future__ import annotations

from itertools import chain

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QSizePolicy, QWidget

from jovial_tack.answers.belt.seating import Seat, seat_of
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import ANGLE, LENGTH, RATIO
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.theme import Theme, figures


class Section(QWidget):
    """A cross-section through belt and rim, both to the same scale."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._seat: Seat | None = None
        self.setAccessibleName("Cross-section of belt and pulley")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(280, 150)

    def show_seat(self, seat: Seat | None, theme: Theme) -> None:
        """Draw how a belt sits."""
        self._seat = seat
        self._theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Rim and belt, and the line the diameter is given on."""
        if self._seat is None:
            return
        painter, t = QPainter(self), self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        across, up = zip(*chain.from_iterable(o for _, o in self._seat.outlines), strict=True)
        left, right, low, high = min(across), max(across), min(up), max(up)
        scale = min((self.width() - 20) / (right - left), (self.height() - 30) / (high - low))
        middle = self.width() / 2 - scale * (left + right) / 2

        def at(x: float, y: float) -> QPointF:
            return QPointF(middle + scale * x, 8 + scale * (high - y))

        for role, outline in self._seat.outlines:
            own = role == "pulley"
            painter.setPen(QPen(t.color("ink" if own else "belt"), 1.2))
            painter.setBrush(t.color("pulley_fill" if own else "belt_behind"))
            painter.drawPolygon(QPolygonF([at(x, y) for x, y in outline]))
        painter.setPen(QPen(t.color("accent"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(at(left, 0.0), at(right, 0.0))
        painter.setFont(figures(11))
        painter.setPen(t.color("faded"))
        box = QRectF(0, self.height() - 16, self.width(), 16)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "dashed: where the diameter is given")


class SeatsPage(Page):
    """One pulley of the belt at a time; groove figures can be typed where they are known."""

    name = "Seats"

    def __init__(self, session: Session, along: BeltsAlongWindow, theme: Theme) -> None:
        super().__init__(session, along)
        self.theme = theme
        self.pulley = QComboBox()
        self.pulley.setAccessibleName("Pulley looked at")
        self.pulley.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.pulley.activated.connect(lambda _k: self.refresh())
        self.section = Section(theme)
        self.column.insertWidget(0, self.pulley)
        self.column.insertWidget(1, self.section)
        self.fields: dict[str, QuantityField] = {}
        for key, word, spoken, quantity in (
            ("groove_width_mm", "Groove width", "Top width of the groove", LENGTH),
            ("groove_depth_mm", "Groove depth", "Depth of the groove", LENGTH),
            ("groove_angle_deg", "Groove angle", "Angle between the flanks", ANGLE),
            ("grooves", "Grooves", "How many grooves there are", RATIO),
            ("first_groove", "Rib 1 in groove", "Which groove carries the first rib", RATIO),
        ):
            field = QuantityField(spoken, quantity)
            field.committed.connect(lambda value, k=key: self._set(k, value))
            field.refused.connect(self.refuse)
            self.add_line(word, field)
            self.fields[key] = field

    @property
    def read_of(self) -> tuple[str, ...]:
        """The drive and the pulley."""
        return self._along.drive, str(self.pulley.currentData())

    def _set(self, key: str, value: float) -> None:
        """Take a figure for the pulley it was typed for, whichever is looked at by now."""
        session, typed_for = self._session, self.fields[key].of
        drive, name = typed_for if isinstance(typed_for, tuple) else self.read_of
        model = session.build.find_drive(drive)
        if model is None or all(pulley.id != name for pulley in model.pulleys):
            return  # it has gone while this was being typed
        pulley = model.pulley(name)
        whole = key in ("grooves", "first_groove")
        try:
            given = int(value) if whole and value == round(value) else value
            build = with_pulley(session.build, drive, changed(pulley, **{key: given}))
        except BuildFileError as error:
            reason = f"This needs {error.expected}."
            self.fields[key].turn_down(reason)
            self.refuse(reason)
            return
        shaft = build.shaft(pulley.shaft).label
        session.edit(f"groove of {shaft}", build)
        self.refresh()

    def refresh(self) -> None:
        """Draw the pulley chosen, of the drive of the shop."""
        session, build = self._session, self._session.build
        model = self.drive_shown("there is no belt whose seat could be drawn")
        for widget in (self.pulley, self.section):
            widget.setVisible(model is not None)
        if model is None:
            self.section.show_seat(None, self.theme)
            return
        names = [(name, build.shaft(model.pulley(name).shaft).label) for name in model.route]
        if [
            (self.pulley.itemData(k), self.pulley.itemText(k)) for k in range(self.pulley.count())
        ] != names:
            kept = self.pulley.currentData()
            self.pulley.clear()
            for name, label in names:
                self.pulley.addItem(label, name)
            self.pulley.setCurrentIndex(max(self.pulley.findData(kept), 0))
            self.look_at()
        pulley = model.pulley(str(self.pulley.currentData()))
        profile = session.catalogue.profile(model.belt.profile)
        seat = seat_of(
            profile, model.belt.ribs, pulley, session.catalogue.parts, build.display_units
        )
        self.section.show_seat(seat, self.theme)
        grooved = pulley.side == "ribs"
        for key, field in self.fields.items():
            in_v = key in ("groove_width_mm", "groove_depth_mm", "groove_angle_deg")
            section = "v" if in_v else "ribbed"
            self.show_line(field, shown=grooved and profile.section == section)
            value = getattr(pulley, key)
            unit = build.display_units if key.endswith("_mm") else "°" if in_v else ""
            field.show_value(
                None if value is None else float(value), unit, digits=None if in_v else 0
            )
        notes = () if seat.given else ("Groove figures not typed are representative.",)
        self.show_text(*(sentence(word) for word in seat.words), *notes)
