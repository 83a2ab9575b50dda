"""Belts that can be bought, laid along the window of a drive: where each puts the adjuster.

Worked out off the window's thread once the build has settled; choosing one tells everything of it.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PyQt6.QtWidgets import QPushButton, QWidget

from jovial_tack.answers.belt.buying import BeltChoice, choose_belt
from jovial_tack.answers.belt.window import Candidate
from jovial_tack.answers.belt.words import about_belt, about_home
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.units import format_length
from jovial_tack.core.words import sentence
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.model import Build
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.framed_view import BeltView
from jovial_tack.ui.widgets.marks import paint_mark
from jovial_tack.ui.widgets.text import plain
from jovial_tack.ui.widgets.theme import Theme, figures, words
from jovial_tack.ui.worker import NewestOnly

_SIDE, _LINE_Y, _BEYOND_MM = 34.0, 86.0, 26.0
_MARK, _GRAB_PX = 14.0, 18.0


class BeltsAlongWindow(BeltView):
    """Takes the place of the ribbon at the station for the belt. changed: another choice is in, or
    another belt is looked at.
    """

    title = "Belts that fit"
    height_px = 196
    changed = pyqtSignal()
    bench_wanted = pyqtSignal()
    overlay_wanted = pyqtSignal(tuple)  # shapes to lay over the front view

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(session, theme, parent)
        self.choice: BeltChoice | None = None
        self.looked_at: Candidate | None = None
        self._worked_for: object = None
        self._of = session.build  # the build the choice was made for: what is painted
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self._worker.failed.connect(self._fail)
        self._failure = ""
        self._home_room = 0.0  # where the next word over the line may begin, px
        self.bench_button = QPushButton("Belt bench", self)
        self.bench_button.setObjectName("choice")
        self.bench_button.setToolTip(
            plain("Put on, measure, feel, seats, stock, numbers, toothed (Ctrl+K)")
        )
        self.bench_button.clicked.connect(lambda _=False: self.bench_wanted.emit())
        self._reading: tuple[float, float] | None = None
        self.setObjectName("beltshop")
        self.setAccessibleName("Belts that fit: lengths along the window of the adjuster")
        self.setToolTip(
            plain("Click a belt to look at it, double-click to fit it; ← → choose, Enter fits")
        )
        session.settled.connect(self._refresh_if_seen)
        session.selection_changed.connect(self._refresh_if_seen)

    @property
    def build(self) -> Build:
        """The build the choice was made for."""
        return self._of

    @property
    def drive(self) -> str:
        """The drive that is looked at; "" if there is none."""
        return self._drive

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The button stays at the right of the title."""
        size = self.bench_button.sizeHint()
        self.right_px = size.width() + 22.0
        self.bench_button.setGeometry(
            self.width() - size.width() - 12, 8, size.width(), size.height()
        )

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    def _refresh_if_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Choose belts for the drive of what is selected."""
        drive = self._take_drive()
        if drive is None:
            self.choice, self.looked_at, self._worked_for = None, None, None
            self.update()
            self.changed.emit()
            return
        build, catalogue, name = self._build, self._session.catalogue, drive.id
        if self._worked_for == (name, build):
            return
        self._worked_for = name, build
        self._worker.submit(lambda: (build, choose_belt(build, name, catalogue)))

    def _take(self, made: tuple[Build, BeltChoice]) -> None:
        build, choice = made
        if choice.drive != self._drive:
            return
        self._of = build
        before = self.looked_at.number if self.looked_at is not None else None
        self.choice, self._failure = choice, ""
        every = self.belts_shown()
        kept = [belt for belt in every if belt.number == before]
        home = [belt for belt in every if belt.number in {b.number for b in choice.bring_home}]
        nearest = sorted(home, key=self._from_middle)
        self.looked_at = next(iter(kept or nearest or every), None)
        self.update()
        self.changed.emit()

    def _from_middle(self, belt: Candidate) -> float:
        window = self.choice.window if self.choice else None
        return 0.0 if window is None else abs(belt.effective_length_mm - window.mid_mm)

    def _fail(self, error: Exception) -> None:
        self.choice, self.looked_at, self._failure = None, None, str(error)
        self.update()
        self.changed.emit()

    def belts_shown(self) -> list[Candidate]:
        """The stocked belts and the one that is fitted, by length."""
        if self.choice is None:
            return []
        found = {belt.number: belt for belt in self.choice.candidates}
        own = self.choice.installed
        if own is not None and own.number not in found:
            found[own.number] = own
        return sorted(found.values(), key=lambda belt: belt.effective_length_mm)

    def look_at(self, belt: Candidate) -> None:
        """Tell of one belt."""
        self.looked_at = belt
        self.update()
        self.changed.emit()

    def fit(self) -> None:
        """Fit the belt that is looked at: one step to undo."""
        belt, choice, session = self.looked_at, self.choice, self._session
        drives = {drive.id for drive in session.build.drives}
        if belt is None or choice is None or session.is_read_only or choice.drive not in drives:
            return  # what it was for has gone meanwhile
        length = round(belt.effective_length_mm, 4)
        session.edit(f"fit {belt.number}", set_belt_length(session.build, choice.drive, length))

    # places

    def _reach(self) -> tuple[float, float]:
        assert self.choice is not None and self.choice.window is not None
        window, own = self.choice.window, self.choice.installed
        lengths = [window.shortest_mm - _BEYOND_MM, window.longest_mm + _BEYOND_MM]
        if own is not None:
            lengths += [own.effective_length_mm - 4.0, own.effective_length_mm + 4.0]
        return min(lengths), max(lengths)

    def x_of(self, length_mm: float) -> float:
        """Where a length lies across, px."""
        low, high = self._reach()
        return _SIDE + (self.width() - 2 * _SIDE) * (length_mm - low) / (high - low)

    # painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The window, the belts along it, and two lines on the one that is looked at."""
        painter, choice = QPainter(self), self.choice
        window = None if choice is None else choice.window
        self._paint_frame(painter, self._heading())
        if choice is None or window is None:
            why = self._failure or (choice.problem if choice is not None else "")
            painter.setPen(self._theme.color("faded"))
            painter.setFont(words(13))
            text = sentence(why or "") or "No belt to choose yet."
            painter.drawText(QPointF(14, _LINE_Y), text)
            return
        self._paint_window(painter)
        room = self._home_room = 0.0
        for belt in self.belts_shown():
            room = self._paint_belt(painter, belt, room)
        self._paint_reading(painter)
        self._paint_words(painter, choice)

    def show_reading(self, order_mm: float | None, sigma_mm: float = 0.0) -> None:
        """Mark the belt a reading means, with what it is known to; nothing with None."""
        reading = None if order_mm is None else (order_mm, sigma_mm)
        if reading != self._reading:
            self._reading = reading
            self.update()

    def _paint_reading(self, painter: QPainter) -> None:
        """A bracket over what a reading leaves open, ± two standard deviations, and its middle."""
        if self._reading is None:
            return
        order, sigma = self._reading
        y = _LINE_Y + 17
        ends = [
            min(max(self.x_of(order + k * sigma), _SIDE), self.width() - _SIDE) for k in (-2, 2)
        ]
        painter.setPen(QPen(self._theme.color("ink"), 1.6))
        painter.drawLine(QPointF(ends[0], y), QPointF(ends[1], y))
        for x in ends:
            painter.drawLine(QPointF(x, y - 3), QPointF(x, y + 3))
        middle = self.x_of(order)
        if _SIDE <= middle <= self.width() - _SIDE:
            painter.drawLine(QPointF(middle, _LINE_Y - 20), QPointF(middle, y))
            painter.setFont(words(12))
            painter.drawText(QPointF(middle + 3, _LINE_Y - 12), "read")

    def _heading(self) -> str:
        """The drive, and which belts suit it."""
        choice, unit = self.choice, self._of.display_units
        if choice is None:
            return ""
        label, window = self._of.drive(choice.drive).label, choice.window
        if window is None:
            return label
        low, high = (format_length(mm, unit) for mm in (window.shortest_mm, window.longest_mm))
        return f"{label}: {low} to {high} effective rest inside the adjuster's window"

    def _paint_window(self, painter: QPainter) -> None:
        t = self._theme
        assert self.choice is not None and self.choice.window is not None
        window = self.choice.window
        left, right = self.x_of(window.shortest_mm), self.x_of(window.longest_mm)
        painter.setPen(QPen(t.color("rule"), 1))
        painter.setBrush(t.color("raised"))
        painter.drawRect(QRectF(left, _LINE_Y - 20, right - left, 40))
        painter.setPen(QPen(t.color("ink"), 1.2))
        painter.drawLine(QPointF(_SIDE - 16, _LINE_Y), QPointF(self.width() - _SIDE + 16, _LINE_Y))
        painter.setPen(QPen(t.color("accent"), 1.2, Qt.PenStyle.DashLine))
        middle = self.x_of(window.mid_mm)
        painter.drawLine(QPointF(middle, _LINE_Y - 26), QPointF(middle, _LINE_Y + 20))
        painter.setFont(words(12))
        painter.setPen(t.color("faded"))
        painter.drawText(QPointF(_SIDE - 16, _LINE_Y - 26), "too tight")
        text = "too loose"
        width = QFontMetricsF(painter.font()).horizontalAdvance(text)
        painter.drawText(QPointF(self.width() - _SIDE + 16 - width, _LINE_Y - 26), text)

    def _paint_belt(self, painter: QPainter, belt: Candidate, room: float) -> float:
        """Paint one belt; returns where the next words under the line may begin, px."""
        t, choice = self._theme, self.choice
        assert choice is not None
        x = self.x_of(belt.effective_length_mm)
        if not _SIDE - 14 <= x <= self.width() - _SIDE + 14:
            return room
        looked = self.looked_at is not None and belt.number == self.looked_at.number
        own = choice.installed is not None and belt.number == choice.installed.number
        home = belt.number in {b.number for b in choice.bring_home}
        box = QRectF(x - _MARK / 2, _LINE_Y - _MARK / 2, _MARK, _MARK)
        if belt.fits:
            painter.fillRect(box, t.color("raised"))
            paint_mark(painter, box, state_of(belt), t)
        else:
            painter.setPen(QPen(t.color("faded"), 1.4))
            painter.drawLine(QPointF(x, _LINE_Y - 5), QPointF(x, _LINE_Y + 5))
        if looked:
            painter.setPen(QPen(t.color("accent"), 2.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(-4, -4, 4, 4), 4, 4)
        painter.setFont(figures(11, bold=home or own))
        painter.setPen(t.color("accent_text" if looked else "ink" if belt.fits else "faded"))
        text = f"{belt.effective_length_mm:.0f}"
        if self._of.display_units == "in":
            text = f"{belt.effective_length_mm / 25.4:.1f}"
        metrics = QFontMetricsF(painter.font())
        width = metrics.horizontalAdvance(text)
        fits_beside = x - width / 2 >= room
        if fits_beside or looked or own:
            # a belt beside another of almost its length is written below it
            painter.drawText(QPointF(x - width / 2, _LINE_Y + (34 if fits_beside else 46)), text)
            room = x + width / 2 + 6
        painter.setFont(words(12))
        painter.setPen(t.color("accent_text"))
        for word, true, over in (("fitted", own, 40.0), ("home", home, 26.0)):
            wide = QFontMetricsF(painter.font()).horizontalAdvance(word)
            if true and (word == "fitted" or x - wide / 2 >= self._home_room):
                painter.drawText(QPointF(x - wide / 2, _LINE_Y - over), word)
                self._home_room = x + wide / 2 + 4 if word == "home" else self._home_room
        return room

    def _paint_words(self, painter: QPainter, choice: BeltChoice) -> None:
        t, belt = self._theme, self.looked_at
        lines = [] if belt is None else list(about_belt(belt, self._of, choice.drive))
        lines.append(about_home(choice, self._of))
        elide = Qt.TextElideMode.ElideRight
        for row, text in enumerate(lines):
            painter.setFont(words(13))
            painter.setPen(t.color("faded" if row == 2 else "ink"))
            shown = QFontMetricsF(painter.font()).elidedText(text, elide, self.width() - 28)
            painter.drawText(QPointF(14, _LINE_Y + 62 + 19 * row), shown)

    # the pointer and the keys

    def _at(self, x: float) -> Candidate | None:
        shown = self.belts_shown()
        if not shown or self.choice is None or self.choice.window is None:
            return None
        nearest = min(shown, key=lambda belt: abs(self.x_of(belt.effective_length_mm) - x))
        return nearest if abs(self.x_of(nearest.effective_length_mm) - x) <= _GRAB_PX else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Look at the belt under the pointer."""
        if event is None:
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        belt = self._at(event.position().x())
        if belt is not None:
            self.look_at(belt)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Fit the belt under the pointer."""
        if event is not None and self._at(event.position().x()) is not None:
            self.fit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows choose a belt, Enter fits it."""
        if event is None:
            return
        key, shown = event.key(), self.belts_shown()
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and shown:
            numbers = [belt.number for belt in shown]
            now = self.looked_at.number if self.looked_at is not None else ""
            place = numbers.index(now) if now in numbers else 0
            step = 1 if key == Qt.Key.Key_Right else -1
            self.look_at(shown[min(max(place + step, 0), len(shown) - 1)])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.fit()
        else:
            super().keyPressEvent(event)


def state_of(belt: Candidate) -> Mark:
    """Good: nothing speaks against it. Watch: it rests in the window, but does not go on so, leaves the
    window while running, or is too tight. Stop: it does not rest there, or slips.
    """
    if not belt.fits or belt.holds is False:
        return "stop"
    return "good" if belt.passes else "watch"
