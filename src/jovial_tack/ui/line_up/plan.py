"""The plan view: looking down on one drive, z drawn many times larger, pulleys dragged along shafts."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import MM_PER_INCH, format_length
from jovial_tack.document.edits.pulleys import set_plane
from jovial_tack.document.targets import NOTHING, PulleyAt, SpanAt, Target
from jovial_tack.drawing.plan import Plan, PlanPulley, PlanSpan, plan_view
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.framed_view import BeltView
from jovial_tack.ui.widgets.marks import paint_mark
from jovial_tack.ui.widgets.text import plain
from jovial_tack.ui.widgets.theme import MARK_COLORS, Theme, figures, words

_LEFT, _RIGHT, _TOP, _BOTTOM = 74.0, 22.0, 34.0, 30.0
_LEAST_Z_MM = 6.0
_GRAB_PX = 9.0
_STEPS = (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100)


class PlanView(BeltView):
    """Groove planes, spans with their angles, tilt, and the spacer each shaft needs."""

    title = "Looking down"
    height_px = 232

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(session, theme, parent)
        self._plan: Plan | None = None
        self._held: tuple[str, float, float] | None = None  # pulley, z at the press, y of the press
        self._range: tuple[float, float] | None = None
        self._moving = False
        self.setObjectName("plan")
        self.setAccessibleName("Plan view, looking down")
        self.setToolTip(
            plain("Looking down: drag a pulley along its shaft; ← → choose, ↑ ↓ move by 0.1 mm")
        )
        session.readings_changed.connect(self._refresh_if_seen)
        session.selection_changed.connect(self._refresh_if_seen)
        session.replaced.connect(self._refresh_if_seen)

    @property
    def shown(self) -> Plan | None:
        """The plan shown."""
        return self._plan

    def _refresh_if_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Look down on the drive of the selected part, or go on showing the last one."""
        session, drive = self._session, self._take_drive()
        self._plan = None
        if drive is not None:
            profile = session.catalogue.profile(drive.belt.profile)
            self._plan = plan_view(self._build, session.results, drive.id, profile)
        if self._held is None:
            self._range = None  # the scale rests while something is dragged
        self.update()

    # places

    def _z_range(self) -> tuple[float, float]:
        assert self._plan is not None
        if self._range is None:
            low, high = self._plan.z_range
            room = max(_LEAST_Z_MM - (high - low), 0.5 * (high - low)) / 2
            self._range = low - room, high + room
        return self._range

    def _x(self, x: float) -> float:
        assert self._plan is not None
        low, high = self._plan.x_range
        return _LEFT + (x - low) / max(high - low, 1.0) * (self.width() - _LEFT - _RIGHT)

    def _y(self, z: float) -> float:
        low, high = self._z_range()
        return _TOP + (z - low) / (high - low) * (self.height() - _TOP - _BOTTOM)

    def z_per_px(self) -> float:
        """How many millimetres of depth a pixel is."""
        low, high = self._z_range()
        return (high - low) / (self.height() - _TOP - _BOTTOM)

    def point_of(self, pulley: str) -> QPointF:
        """The middle of a pulley's groove plane, px."""
        assert self._plan is not None
        found = next(p for p in self._plan.pulleys if p.pulley == pulley)
        return QPointF(
            (self._x(found.left[0]) + self._x(found.right[0])) / 2,
            (self._y(found.left[1]) + self._y(found.right[1])) / 2,
        )

    def target_at(self, at: QPointF) -> Target:
        """The pulley at a point, or else the span; the nearest, and of equals the selected one."""
        plan = self._plan
        if plan is None:
            return NOTHING
        best: tuple[float, Target] = (_GRAB_PX, NOTHING)
        for span in plan.spans:
            away = self._away(at, span.start, span.end) + 3.0  # pulleys first
            if away < best[0]:
                best = away, SpanAt(plan.drive, span.leaves)
        for pulley in plan.pulleys:
            target = PulleyAt(plan.drive, pulley.pulley)
            away = self._away(at, pulley.left, pulley.right)
            away -= 2.0 if target == self._session.selection else 0.0
            away += (pulley.right[0] - pulley.left[0]) * 1e-3  # a small one before a large one
            if away < best[0]:
                best = away, target
        return best[1]

    def _away(self, at: QPointF, a: tuple[float, float], b: tuple[float, float]) -> float:
        start, end = QPointF(self._x(a[0]), self._y(a[1])), QPointF(self._x(b[0]), self._y(b[1]))
        along = end - start
        length = QPointF.dotProduct(along, along)
        share = QPointF.dotProduct(at - start, along) / length if length else 0.0
        gap = at - (start + along * min(max(share, 0.0), 1.0))
        return float(QPointF.dotProduct(gap, gap) ** 0.5)

    # the pointer and the keys

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Select, and take hold of a pulley."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        self.refresh()
        target = self.target_at(event.position())
        self._session.select(target)
        if isinstance(target, PulleyAt):
            self._held = target.pulley, self._plane(target.pulley), event.position().y()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag what is held along its shaft; otherwise light what is pointed at."""
        if event is None:
            return
        if self._held is None:
            target = self.target_at(event.position())
            self._session.hover(target)
            grab = isinstance(target, PulleyAt)
            self.setCursor(Qt.CursorShape.SizeVerCursor if grab else Qt.CursorShape.ArrowCursor)
            return
        pulley, z, y = self._held
        moved = event.position().y() - y
        if self._moving or abs(moved) >= 3:
            self._moving = True
            snap = 0.05 if self._build.display_units == "mm" else MM_PER_INCH / 1000
            self._preview(pulley, round((z + moved * self.z_per_px()) / snap) * snap)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A drag becomes one undo step."""
        if self._held is not None and self._moving:
            self._session.commit_preview(f"plane of {self._name(self._held[0])}")
        self._held, self._moving = None, False
        self.refresh()

    def _plane(self, pulley: str) -> float:
        plane = self._build.drive(self._drive).pulley(pulley).plane_mm
        if plane is not None or self._plan is None:
            return plane or 0.0
        found = next(p for p in self._plan.pulleys if p.pulley == pulley)
        return (found.left[1] + found.right[1]) / 2

    def _preview(self, pulley: str, z: float) -> None:
        try:
            build = set_plane(self._session.history.build, self._drive, pulley, round(z, 4))
        except BuildFileError:
            return
        self._session.preview(build)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right choose a pulley, up and down move it; Esc lets go."""
        self.refresh()
        if event is None or self._plan is None:
            return
        key, selection = Qt.Key(event.key()), self._session.selection
        names = [pulley.pulley for pulley in self._plan.pulleys]
        here = None
        if isinstance(selection, PulleyAt) and selection.drive == self._drive:
            here = selection.pulley
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = 1 if key == Qt.Key.Key_Right else -1
            place = 0 if here is None else (names.index(here) + step) % len(names)
            self._session.select(PulleyAt(self._drive, names[place]))
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and here is not None:
            move = -0.1 if key == Qt.Key.Key_Up else 0.1
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                move *= 10
            self._preview(here, self._plane(here) + move)
            self._session.commit_preview(f"plane of {self._name(here)}")
        elif key == Qt.Key.Key_Escape:
            self._held, self._moving = None, False
            self._session.drop_preview()
            self._session.select(NOTHING)
        else:
            super().keyPressEvent(event)

    # painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the plan."""
        painter, t = QPainter(self), self._theme
        self._paint_frame(painter, self._subtitle())
        if self._plan is None:
            return
        self._paint_scale(painter)
        taken: list[QRectF] = [
            QRectF(
                min(self._x(p.left[0]), self._x(p.right[0])),
                min(self._y(p.left[1]), self._y(p.right[1])) - 5,
                abs(self._x(p.right[0]) - self._x(p.left[0])),
                abs(self._y(p.right[1]) - self._y(p.left[1])) + 10,
            )
            for p in self._plan.pulleys
        ]
        arcs = zip(self._plan.spans, self._plan.spans[1:] + self._plan.spans[:1], strict=True)
        painter.setPen(QPen(t.color("belt_behind"), 1.0))
        for span, after in arcs:
            painter.drawLine(*self._ends(span.end, after.start))
        for span in self._plan.spans:
            self._paint_span(painter, span)
        for pulley in self._plan.pulleys:
            self._paint_window(painter, pulley)
        for pulley in sorted(self._plan.pulleys, key=lambda p: p.left[0] - p.right[0]):
            self._paint_pulley(painter, pulley)
        for span in self._plan.spans:
            taken += self._along(*self._ends(span.start, span.end))
        for pulley in self._plan.pulleys:
            self._paint_spacer(painter, pulley, taken)
        for pulley in self._plan.pulleys:
            self._paint_name(painter, pulley, taken)
        for span in self._plan.spans:
            self._paint_angle(painter, span, taken)

    def _subtitle(self) -> str:
        name = self._belt_name()
        if not name:
            return "no belt yet"
        if self._plan is None:
            return f"{name} has no path to look down on"
        low, high = self._plan.x_range
        x_scale = (self.width() - _LEFT - _RIGHT) / max(high - low, 1.0)
        times = 1 / (self.z_per_px() * x_scale)
        unknown = sum(not p.known and not p.flat for p in self._plan.pulleys)
        missing = f"; {unknown} planes not measured" if unknown else ""
        return (
            f"{name}, engine above, you below; along the shafts {times:.0f} times larger{missing}"
        )

    def _paint_scale(self, painter: QPainter) -> None:
        t, unit = self._theme, self._build.display_units
        size = 1.0 if unit == "mm" else MM_PER_INCH
        low, high = self._z_range()
        step = next((s for s in _STEPS if s * size / self.z_per_px() >= 24), _STEPS[-1]) * size
        if unit == "in":
            step = (
                next(
                    (
                        s
                        for s in (0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5)
                        if s * size / self.z_per_px() >= 24
                    ),
                    10.0,
                )
                * size
            )
        painter.setFont(figures(11))
        mark = int(low // step) + 1
        while mark * step < high:
            y = self._y(mark * step)
            painter.setPen(QPen(t.color("grid"), 1))
            painter.drawLine(QPointF(_LEFT - 8, y), QPointF(self.width() - _RIGHT + 8, y))
            painter.setPen(t.color("faded"))
            text = f"{mark * step / size:.{2 if unit == 'in' else 1}f}"
            box = QRectF(4, y - 8, _LEFT - 18, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
            mark += 1
        painter.setFont(words(12))
        painter.drawText(QPointF(14, self.height() - 10.0), f"plane, {unit}")

    def _ends(self, a: tuple[float, float], b: tuple[float, float]) -> tuple[QPointF, QPointF]:
        return QPointF(self._x(a[0]), self._y(a[1])), QPointF(self._x(b[0]), self._y(b[1]))

    def _along(self, start: QPointF, end: QPointF) -> list[QRectF]:
        """Small boxes along a line, for keeping words off it."""
        count = max(2, int((end - start).manhattanLength() / 10))
        steps = (start + (end - start) * (k / count) for k in range(count + 1))
        return [QRectF(at.x() - 3, at.y() - 3, 6, 6) for at in steps]

    def _lit(self, target: Target) -> bool:
        return target in (self._session.selection, self._session.hovered)

    def _paint_span(self, painter: QPainter, span: PlanSpan) -> None:
        assert self._plan is not None
        t = self._theme
        lit = self._lit(SpanAt(self._plan.drive, span.leaves))
        name = "accent" if lit else "belt" if span.state == "good" else MARK_COLORS[span.state]
        style = Qt.PenStyle.DotLine if span.state == "unknown" else Qt.PenStyle.SolidLine
        painter.setPen(QPen(t.color(name), 3.2 if lit or span.state == "stop" else 2.0, style))
        painter.drawLine(*self._ends(span.start, span.end))

    def _paint_pulley(self, painter: QPainter, pulley: PlanPulley) -> None:
        assert self._plan is not None
        t, target = self._theme, PulleyAt(self._plan.drive, pulley.pulley)
        held = target == self._session.selection
        color = t.color("accent" if self._lit(target) else "ink" if pulley.known else "faded")
        start, end = self._ends(pulley.left, pulley.right)
        pen = QPen(color, 4.4 if held else 3.4)
        if pulley.flat or not pulley.known:
            pen.setWidthF(2.0 if not held else 3.0)
            pen.setStyle(Qt.PenStyle.DashLine if pulley.known else Qt.PenStyle.DotLine)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        painter.setPen(pen)
        painter.drawLine(start, end)
        if not pulley.flat:
            painter.setPen(QPen(color, 1.6))
            for at in (start, end):
                painter.drawLine(at + QPointF(0, -5), at + QPointF(0, 5))

    def _paint_spacer(self, painter: QPainter, pulley: PlanPulley, taken: list[QRectF]) -> None:
        if not pulley.spacer_mm:
            return
        t, unit = self._theme, self._build.display_units
        x = (self._x(pulley.left[0]) + self._x(pulley.right[0])) / 2
        z = (pulley.left[1] + pulley.right[1]) / 2
        start, end = QPointF(x, self._y(z)), QPointF(x, self._y(z + pulley.spacer_mm))
        painter.setPen(QPen(t.color("accent"), 1.8))
        painter.drawLine(start, end)
        way = 1 if end.y() > start.y() else -1
        taken.append(QRectF(start, end).normalized().adjusted(-6, 0, 6, 0))
        painter.drawLine(end, end + QPointF(-4, -6 * way))
        painter.drawLine(end, end + QPointF(4, -6 * way))
        size = format_length(abs(pulley.spacer_mm), unit, digits=2 if unit == "mm" else 3)
        text = f"{size} spacer" if pulley.spacer_mm > 0 else f"take off {size}"
        painter.setFont(words(12, bold=True))
        width = QFontMetricsF(painter.font()).horizontalAdvance(text)
        box = _free_box(x + 8, (start.y() + end.y()) / 2, width, 16, taken, self.rect())
        painter.setPen(t.color("accent_text"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_window(self, painter: QPainter, pulley: PlanPulley) -> None:
        """From where to where a pulley may stand: a bar along its shaft."""
        if pulley.window is None or self._plan is None:
            return
        t, held = self._theme, self._is_held(pulley)
        x = (self._x(pulley.left[0]) + self._x(pulley.right[0])) / 2
        top, bottom = _TOP - 4, self.height() - _BOTTOM + 4
        ends = [min(max(self._y(z), top), bottom) for z in pulley.window]
        color = t.color("good")
        color.setAlpha(110 if held else 55)
        half = 5.0 if held else 3.5
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(color)
        painter.drawRoundedRect(QRectF(x - half, ends[0], 2 * half, ends[1] - ends[0]), 2, 2)
        painter.setPen(QPen(t.color("good"), 1.2))
        for end, z in zip(ends, pulley.window, strict=True):
            if top < self._y(z) < bottom:
                painter.drawLine(QPointF(x - half - 2, end), QPointF(x + half + 2, end))

    def _is_held(self, pulley: PlanPulley) -> bool:
        assert self._plan is not None
        return PulleyAt(self._plan.drive, pulley.pulley) == self._session.selection

    def _paint_name(self, painter: QPainter, pulley: PlanPulley, taken: list[QRectF]) -> None:
        assert self._plan is not None
        t = self._theme
        held = self._is_held(pulley)
        text = pulley.name if pulley.known else f"{pulley.name}: not measured"
        painter.setFont(words(12, bold=held))
        painter.setPen(t.color("ink" if pulley.known else "faded"))
        metrics = QFontMetricsF(painter.font())
        text = metrics.elidedText(text, Qt.TextElideMode.ElideRight, 150)
        width = metrics.horizontalAdvance(text)
        x = (self._x(pulley.left[0]) + self._x(pulley.right[0])) / 2 - width / 2
        y = (self._y(pulley.left[1]) + self._y(pulley.right[1])) / 2 - 14
        box = _free_box(x, y, width, 16, taken, self.rect())
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_angle(self, painter: QPainter, span: PlanSpan, taken: list[QRectF]) -> None:
        if span.angle_deg is None:
            return
        t = self._theme
        text = f"{span.angle_deg:.2f}°"
        painter.setFont(figures(11))
        width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 16
        start, end = self._ends(span.start, span.end)
        middle = (start + end) / 2
        box = _free_box(middle.x() - width / 2, middle.y() + 13, width, 15, taken, self.rect())
        paint_mark(painter, QRectF(box.left(), box.top() + 2, 11, 11), span.state, t)
        painter.setPen(t.color(MARK_COLORS[span.state] if span.state != "good" else "faded"))
        painter.drawText(box.adjusted(14, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, text)


def _free_box(
    x: float, middle: float, width: float, height: float, taken: list[QRectF], room: QRect
) -> QRectF:
    """A box near a place that covers none of those taken, if there is one; it is then taken too."""
    right = float(room.width()) - 8
    first = QRectF(min(max(x, _LEFT), right - width), middle - height / 2, width, height)
    best, least = first, float("inf")
    for aside in (0.0, width * 0.6, -width * 0.6, width * 1.1, -width * 1.1):
        for up in (0, -16, 16, -30, 30, -46, 46, -62, 62):
            box = first.translated(aside, up)
            left = min(max(box.left(), _LEFT), right - width)
            box.moveLeft(left)
            outside = max(_TOP - 6 - box.top(), 0) + max(box.bottom() - room.height() + 8, 0)
            covers = sum(
                (box & other).width() * (box & other).height()
                for other in taken
                if box.intersects(other)
            )
            cost = covers + 40 * outside + 0.4 * (abs(up) + abs(aside))
            if cost < least:
                best, least = box, cost
    taken.append(best)
    return best
