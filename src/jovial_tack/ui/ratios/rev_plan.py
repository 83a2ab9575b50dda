"""The rev plan: a band for every shaft from idle over cruise to redline, against what it can take.

The end of a band is dragged: the pulley that gives that speed is fitted while it moves.
"""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QBrush,
    QFontMetricsF,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import QWidget

from jovial_tack.answers.ratios.diameters import set_speed_at_redline, step_diameter
from jovial_tack.answers.ratios.rev_plan import PlannedShaft, rev_plan
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.model import Build
from jovial_tack.document.targets import NOTHING, PulleyAt, ShaftAt, Target
from jovial_tack.files.exports import plan_csv
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.framed_view import FramedView
from jovial_tack.ui.widgets.plots import export_painted
from jovial_tack.ui.widgets.text import plain
from jovial_tack.ui.widgets.theme import MARK_COLORS, Theme, figures, words

_LEFT, _RIGHT, _TOP, _FOOT = 128.0, 278.0, 34.0, 22.0
_WIDE, _NARROW_RIGHT = 560, 70.0
_NOTES = 142.0  # where a row's notes begin, right of its margin
_ROW = 24.0
_GRAB_PX = 7.0
_NARROW = 0.05  # a margin below this is watched
_STEP_MM = 0.5
_LABEL = 58.0  # between figures of the scale, px
_HINT = "Drag the end of a band for another pulley; ↑ ↓ choose, ← → change it by 0.5 mm"


class RevPlanView(FramedView):
    """Takes the place of the ribbon at the station for ratios. told: what became of an export."""

    message = pyqtSignal(str)

    title = "Rev plan"
    height_px = 232

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(session, theme, parent)
        self.rows: tuple[PlannedShaft, ...] = ()
        self._held: tuple[str, Build] | None = None  # whose band is dragged, and the build before
        self.setObjectName("revplan")
        self.setAccessibleName("Rev plan: speeds of every shaft")
        self.setToolTip(plain(_HINT))
        session.readings_changed.connect(self._refresh_if_seen)
        session.selection_changed.connect(self.update)

    def _refresh_if_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Plan the session's build."""
        session = self._session
        plan = () if session.is_read_only else rev_plan(session.build, session.catalogue)
        self.rows = tuple(row for row in plan if row.ratio is not None)
        self.update()

    # places

    def _row_height(self) -> float:
        room = self.height() - _TOP - _FOOT
        return min(_ROW, room / max(1, len(self.rows)))

    def _most(self) -> float:
        speeds = [v for row in self.rows for v in (row.redline_rpm, row.max_rpm) if v is not None]
        return max(speeds, default=1.0) * 1.02

    @property
    def _right(self) -> float:
        """Kept free at the right for words, px; in a narrow window for a figure only."""
        return _RIGHT if self.width() >= _WIDE else _NARROW_RIGHT

    @property
    def _across(self) -> float:
        """Room for the bands, px."""
        return max(self.width() - _LEFT - self._right, 40.0)

    def x_of(self, rpm: float) -> float:
        """Where a speed lies across, px."""
        return _LEFT + self._across * rpm / self._most()

    def y_of(self, place: int) -> float:
        """The middle of a row, px."""
        return _TOP + (place + 0.5) * self._row_height()

    def _row_at(self, y: float) -> PlannedShaft | None:
        place = int((y - _TOP) // self._row_height()) if y >= _TOP else -1
        return self.rows[place] if 0 <= place < len(self.rows) else None

    def _is_of(self, target: Target, shaft: str) -> bool:
        if isinstance(target, PulleyAt):
            return shaft_of(self._session.build, target) == shaft
        return target == ShaftAt(shaft)

    # painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A row a shaft: name, band, limit, and the margin in words."""
        self._paint(QPainter(self))

    def _paint(self, painter: QPainter) -> None:
        self._paint_frame(
            painter,
            "idle, cruise, redline; | the most it may turn, [ the least it is of use at; rpm",
        )
        self._paint_scale(painter)
        for place, row in enumerate(self.rows):
            self._paint_row(painter, place, row)

    def _paint_scale(self, painter: QPainter) -> None:
        t, most = self._theme, self._most()
        across = self._across / most  # px for a rev/min
        steps = (1000, 2000, 2500, 5000, 10000, 20000)
        step = next((s for s in steps if s * across >= _LABEL), max(most, 1.0))
        painter.setFont(figures(11))
        y = self.height() - 8.0
        for k in range(int(most // step) + 1):
            x = self.x_of(k * step)
            painter.setPen(QPen(t.color("grid"), 1))
            painter.drawLine(QPointF(x, _TOP), QPointF(x, self.height() - _FOOT))
            painter.setPen(t.color("faded"))
            text = f"{k * step:.0f}"
            width = QFontMetricsF(painter.font()).horizontalAdvance(text)
            painter.drawText(QPointF(x - width / 2, y), text)

    def _paint_row(self, painter: QPainter, place: int, row: PlannedShaft) -> None:
        t, session = self._theme, self._session
        assert row.idle_rpm is not None and row.redline_rpm is not None
        assert row.cruise_rpm is not None
        y, thick = self.y_of(place), min(10.0, self._row_height() * 0.45)
        lit = self._is_of(session.selection, row.id) or self._is_of(session.hovered, row.id)
        painter.setFont(words(13))
        painter.setPen(t.color("accent_text" if lit else "ink"))
        metrics = QFontMetricsF(painter.font())
        elide = Qt.TextElideMode.ElideRight
        painter.drawText(QPointF(14, y + 4), metrics.elidedText(row.name, elide, _LEFT - 24))
        state = state_of(row)
        low, high = self.x_of(row.idle_rpm), self.x_of(row.redline_rpm)
        painter.setPen(QPen(t.color("accent" if lit else "ink"), 1.2))
        painter.setBrush(t.color("raised"))
        painter.drawRect(QRectF(low, y - thick / 2, high - low, thick))
        if row.max_rpm is not None:
            limit = self.x_of(row.max_rpm)
            if high > limit:
                over = QRectF(limit, y - thick / 2, high - limit, thick)
                painter.fillRect(over, QBrush(t.color("stop"), Qt.BrushStyle.DiagCrossPattern))
            painter.setPen(QPen(t.color(MARK_COLORS[state]), 2.4))
            painter.drawLine(QPointF(limit, y - thick), QPointF(limit, y + thick))
        cruise = self.x_of(row.cruise_rpm)
        painter.setPen(QPen(t.color("ink"), 1.2))
        painter.drawLine(QPointF(cruise, y - thick / 2), QPointF(cruise, y + thick / 2))
        painter.setPen(QPen(t.color("accent" if lit else "ink"), 3.0))
        painter.drawLine(QPointF(high, y - thick / 2), QPointF(high, y + thick / 2))
        if row.min_rpm is not None:
            self._paint_least(painter, self.x_of(row.min_rpm), y, thick, short=bool(row.short))
        painter.setFont(figures(12))
        painter.setPen(t.color(MARK_COLORS[state] if state != "unknown" else "faded"))
        text = f"{row.redline_rpm:.0f}"
        if row.margin is None and row.driven:
            text += "  limit unknown"
        elif row.margin is not None:
            text += f"  {100 * row.margin:+.0f} % left" if row.margin >= 0 else "  over its limit"
        left = _LEFT + self._across + 12
        painter.drawText(QPointF(left, y + 4), text)
        painter.setFont(words(12))
        painter.setPen(t.color("watch" if row.short else "faded"))
        metrics = QFontMetricsF(painter.font())
        note = metrics.elidedText(notes_of(row), elide, max(self._right - _NOTES - 20, 0.0))
        painter.drawText(QPointF(left + _NOTES, y + 4), note)

    def _paint_least(
        self, painter: QPainter, x: float, y: float, thick: float, *, short: bool
    ) -> None:
        """The least useful speed: a mark open to the right, at which the band should begin."""
        painter.setPen(QPen(self._theme.color("watch" if short else "good"), 2.0))
        reach = thick * 0.8
        painter.drawLine(QPointF(x, y - reach), QPointF(x, y + reach))
        painter.drawLine(QPointF(x, y - reach), QPointF(x + 4, y - reach))
        painter.drawLine(QPointF(x, y + reach), QPointF(x + 4, y + reach))

    # read and exported

    def event(self, event: QEvent | None) -> bool:
        """A tip tells the speeds of the shaft under the pointer."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            row = self._row_at(event.pos().y())
            self.setToolTip(plain(_HINT if row is None else told_of(row)))
        return super().event(event)

    def export(self) -> None:
        """Write the plan to a file of the user's choice."""
        export_painted(self, self._paint, plan_csv(self.rows), "rev-plan", self.message.emit)

    # the pointer and the keys

    def _grabs(self, at: QPointF) -> PlannedShaft | None:
        row = self._row_at(at.y())
        if row is None or not row.driven or row.redline_rpm is None:
            return None
        return row if abs(self.x_of(row.redline_rpm) - at.x()) <= _GRAB_PX else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Select a shaft, and take hold of the end of its band."""
        if event is None:
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        row, held = self._row_at(event.position().y()), self._grabs(event.position())
        if row is not None:
            self._session.select(ShaftAt(row.id))
        if held is not None and not self._session.is_read_only:
            self._held = held.id, self._session.history.build

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag the end of a band, or light a shaft."""
        if event is None:
            return
        session = self._session
        if self._held is None:
            row = self._row_at(event.position().y())
            session.hover(NOTHING if row is None else ShaftAt(row.id))
            grabs = self._grabs(event.position()) is not None
            shape = Qt.CursorShape.SizeHorCursor if grabs else Qt.CursorShape.ArrowCursor
            self.setCursor(shape)
            return
        shaft, base = self._held
        across = self._across
        rpm = max(event.position().x() - _LEFT, 1.0) / across * self._most()
        try:
            session.preview(set_speed_at_redline(base, shaft, rpm, session.catalogue))
        except BuildFileError:
            return  # beyond what a pulley can be
        self.refresh()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Letting go makes it one undo step."""
        if self._held is not None:
            shaft, before = self._held
            name = before.shaft(shaft).label
            self._held = None
            self._session.commit_preview(f"diameter of {name}")
            self.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows choose a shaft and change its pulley."""
        if event is None:
            return
        key, session = event.key(), self._session
        now = [k for k, row in enumerate(self.rows) if self._is_of(session.selection, row.id)]
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.rows:
            step = 1 if key == Qt.Key.Key_Down else -1
            place = (now[0] + step) % len(self.rows) if now else 0
            session.select(ShaftAt(self.rows[place].id))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and now:
            row = self.rows[now[0]]
            # to the right is faster: a smaller pulley
            step_mm = -_STEP_MM if key == Qt.Key.Key_Right else _STEP_MM
            try:
                build = step_diameter(session.build, row.id, step_mm, session.catalogue)
            except BuildFileError:
                return
            if build != session.build:
                session.edit(f"diameter of {row.name}", build)
        else:
            super().keyPressEvent(event)


def state_of(row: PlannedShaft) -> Mark:
    """How a shaft's speed stands against what it can take and must give."""
    if row.margin is not None and row.margin < 0:
        return "stop"
    if row.short or (row.margin is not None and row.margin < _NARROW):
        return "watch"
    # without a limit, or by a usual output only, nothing is known to be good
    return "unknown" if row.margin is None or row.maybe_short else "good"


def notes_of(row: PlannedShaft) -> str:
    """What else is told of a shaft: current against what is asked, and against its former pulleys."""
    parts = []
    if row.output_a is not None:
        asked = "" if row.asked_a[0] is None else f" of {row.asked_a[0]:.0f}"
        parts.append(f"{row.output_a[0]:.0f}{asked} A idle")
    elif row.short:
        parts.append("idles too slowly")
    if row.over_former is not None:
        change = f"{100 * row.over_former:+.0f} %".replace("-", "\u2212")
        parts.append(change if parts else f"{change} on former")
    return ", ".join(parts)


def told_of(row: PlannedShaft) -> str:
    """Everything of a row, a line a matter."""
    speeds = (("idle", row.idle_rpm), ("cruise", row.cruise_rpm), ("redline", row.redline_rpm))
    lines = [f"{row.name}: ratio {row.ratio:.3f}"]
    lines += [f"{word} {rpm:.0f} rpm" for word, rpm in speeds if rpm is not None]
    if row.max_rpm is not None:
        lines.append(f"limit {row.max_rpm:.0f} rpm")
    elif row.driven:
        lines.append("limit unknown")
    if row.output_a is not None:
        lines.append(f"gives {row.output_a[0]:.0f} A at idle, {row.output_a[1]:.0f} A at cruise")
    lines += row.short
    lines += [f"not known yet, by the output usual for its kind: {w}" for w in row.maybe_short]
    if row.driven:
        lines.append(_HINT)
    return "\n".join(lines)
