"""The line of time by use: belts as bars, checks and looks as marks, what comes next at its end."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from jovial_tack.answers.logbook.told import BeltLife
from jovial_tack.answers.logbook.words import amount, event_words
from jovial_tack.document.model import Event
from jovial_tack.ui.logbook.book import Book
from jovial_tack.ui.widgets.text import plain
from jovial_tack.ui.widgets.theme import Theme, figures, words

_LEFT, _RIGHT, _TOP, _ROW, _AXIS = 118.0, 96.0, 6.0, 24.0, 20.0
_BAR, _MARK, _NEAR = 12.0, 5.0, 9.0
_MOST_ROWS = 4
#: How far the line goes on behind its last mark, as a share of it.
_BEYOND = 0.04
#: How each kind of event is marked: a disc, a ring, a square, a cross or a tick.
_MARKS = {
    "tension_check": "ring", "inspection": "disc", "belt_tried": "cross", "cost": "square",
    "engine_locked": "cross", "bearing": "square", "tensioner": "square",
}  # fmt: skip


class LifeLine(QWidget):
    """Painted over the use of the build; a press on a mark or a bar looks at its event."""

    def __init__(self, book: Book, theme: Theme) -> None:
        super().__init__()
        self._book, self.theme = book, theme
        self.setMinimumHeight(round(_TOP + 2 * _ROW + _AXIS))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setAccessibleName("Line of time by use")
        #: where each event is painted
        self.places: dict[str, QPointF] = {}
        self._painted: set[tuple[int, int, str]] = set()
        self._ends = 0.0, 1.0
        book.changed.connect(self.refresh)
        book.chosen_changed.connect(self.update)

    def refresh(self) -> None:
        """Paint the present logbook."""
        rows = min(max(len(self._rows), 1), _MOST_ROWS)
        self.setFixedHeight(round(_TOP + rows * _ROW + _AXIS))
        self.update()

    @property
    def _rows(self) -> list[str]:
        """The drives that have events, those of the build first; "" for what is of none."""
        build = self._book.session.build
        known = [drive.id for drive in build.drives]
        found = {event.drive or "" for event in build.logbook.events}
        others = sorted(found - set(known))
        return [name for name in (*known, *others) if name in found][:_MOST_ROWS]

    def _find_ends(self) -> tuple[float, float]:
        """The least and the most use on the line; what is due lies before its end."""
        told = self._book.told
        unit = told.unit
        events = self._book.session.build.logbook.events
        known = [value for e in events if (value := getattr(e, unit)) is not None]
        now = told.now[unit]
        if not known or now is None:
            return 0.0, 1.0
        begun = min(known)
        due = [now + left for thing in told.due if (left := thing.due.left.get(unit)) is not None]
        # what is due further on than all that was would press that into a corner
        furthest = now + (now - begun) + 1.0
        last = max([now, *(each for each in due if each < furthest)])
        beyond = _BEYOND * max(last - begun, 1e-9)
        return begun, last + beyond

    def _x(self, use: float) -> float:
        low, high = self._ends
        room = max(self.width() - _LEFT - _RIGHT, 1.0)
        return _LEFT + room * (use - low) / max(high - low, 1e-9)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Rows of drives, bars of belts, marks of events, the use of now, what is due."""
        painter, t, book = QPainter(self), self.theme, self._book
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        told, build = book.told, book.session.build
        self.places, self._painted = {}, set()
        unit, now = told.unit, told.now[told.unit]
        rows, self._ends = self._rows, self._find_ends()
        if now is None or not rows:
            painter.setFont(words(13))
            painter.setPen(t.color("faded"))
            text = "No event with its use yet: the line of time begins with the first."
            room = QRectF(self.rect()).adjusted(10, 0, -10, 0)
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, text)
            return
        heights = {name: _TOP + _ROW * (place + 0.5) for place, name in enumerate(rows)}
        painter.setFont(words(13))
        for name, y in heights.items():
            found = build.find_drive(name)
            label = "Engine" if not name else name if found is None else found.label
            painter.setPen(t.color("ink"))
            box = QRectF(8.0, y - _ROW / 2, _LEFT - 14.0, _ROW)
            metrics = painter.fontMetrics()
            label = metrics.elidedText(label, Qt.TextElideMode.ElideRight, int(box.width()))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, label)
            painter.setPen(QPen(t.color("rule"), 1.0))
            painter.drawLine(QPointF(_LEFT, y), QPointF(self.width() - _RIGHT, y))
        for belt in told.belts:
            if belt.drive in heights:
                self._paint_belt(painter, belt, heights[belt.drive], now)
        for each in build.logbook.events:
            use = getattr(each, unit)
            if use is not None and (each.drive or "") in heights:
                self._paint_event(painter, each, QPointF(self._x(use), heights[each.drive or ""]))
        self._paint_axis(painter, now)

    def _paint_belt(self, painter: QPainter, belt: BeltLife, y: float, now: float) -> None:
        unit, t = self._book.told.unit, self.theme
        begun = getattr(belt.fitted, unit)
        if begun is None or belt.use is None:
            return
        ended = begun + belt.use
        box = QRectF(self._x(begun), y - _BAR / 2, self._x(ended) - self._x(begun), _BAR)
        painter.setPen(QPen(t.color("ink"), 1.2))
        painter.setBrush(t.color("raised"))
        painter.drawRoundedRect(box, 3, 3)
        if belt.failed:
            painter.setPen(QPen(t.color("stop"), 3.0))
            painter.drawLine(
                QPointF(box.right(), box.top() - 3), QPointF(box.right(), box.bottom() + 3)
            )

    def _paint_event(self, painter: QPainter, event: Event, at: QPointF) -> None:
        t, shape = self.theme, _MARKS.get(event.kind, "tick")
        self.places[event.id] = at
        chosen = self._book.chosen
        is_chosen = chosen is not None and chosen.id == event.id
        spot = round(at.x()), round(at.y()), shape
        if spot in self._painted and not is_chosen:
            return  # of hundreds on one spot the first is seen
        self._painted.add(spot)
        if is_chosen:
            painter.setPen(QPen(t.color("accent"), 2.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, _MARK + 4, _MARK + 4)
        painter.setPen(QPen(t.color("ink"), 1.8))
        painter.setBrush(t.color("ink") if shape == "disc" else t.color("paper"))
        box = QRectF(at.x() - _MARK, at.y() - _MARK, 2 * _MARK, 2 * _MARK)
        if shape in ("disc", "ring"):
            painter.drawEllipse(at, _MARK - 1, _MARK - 1)
        elif shape == "square":
            painter.drawRect(box.adjusted(1, 1, -1, -1))
        elif shape == "cross":
            painter.drawLine(box.topLeft(), box.bottomRight())
            painter.drawLine(box.topRight(), box.bottomLeft())
        else:
            painter.drawLine(QPointF(at.x(), box.top() - 2), QPointF(at.x(), box.bottom() + 2))

    def _paint_axis(self, painter: QPainter, now: float) -> None:
        told, t = self._book.told, self.theme
        system = self._book.session.build.display_units
        foot = self.height() - _AXIS
        low, _ = self._ends
        painter.setFont(figures(12))
        painter.setPen(t.color("faded"))
        painter.drawText(QPointF(_LEFT, foot + 15), amount(low, told.unit, system))
        x = self._x(now)
        painter.setPen(QPen(t.color("accent"), 2.0))
        painter.drawLine(QPointF(x, _TOP), QPointF(x, foot))
        painter.setPen(t.color("ink"))
        text = f"now {amount(now, told.unit, system)}"
        wide = painter.fontMetrics().horizontalAdvance(text)
        begin = max(min(x - wide / 2, self.width() - wide - 6.0), _LEFT + 90.0)
        painter.drawText(QPointF(begin, foot + 15), text)
        for thing in told.due:
            left = thing.due.left.get(told.unit)
            if left is None or thing.done:
                continue
            at = self._x(now + left)
            y = _TOP + 4
            if at > self.width() - 8 or at < _LEFT:
                continue
            color = t.color("watch" if thing.due.state in ("watch", "stop") else "faded")
            painter.setPen(QPen(color, 1.6))
            painter.drawLine(QPointF(at, _TOP), QPointF(at, foot))
            painter.setBrush(color)
            flag = [QPointF(at, y), QPointF(at + 9, y + 4), QPointF(at, y + 8)]
            painter.drawPolygon(QPolygonF(flag))

    def _event_at(self, place: QPointF) -> str:
        """The event nearest to a place, if it is near; "" where none is."""
        near = {
            name: (at - place).manhattanLength()
            for name, at in self.places.items()
            if (at - place).manhattanLength() < 2 * _NEAR
        }
        return min(near, key=lambda name: near[name], default="")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Look at the event that is pressed."""
        if event is not None and (name := self._event_at(event.position())):
            self._book.choose(name)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Tell the event under the pointer."""
        if event is None:
            return
        name = self._event_at(event.position())
        build = self._book.session.build
        found = next((each for each in build.logbook.events if each.id == name), None)
        text = "" if found is None else plain(f"{found.at}: {event_words(build, found)}")
        QToolTip.showText(event.globalPosition().toPoint(), text, self)
