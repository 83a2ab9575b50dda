"""What the views of one belt share: which belt, the build they drew, their frame and title."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jovial_tack.document.model import Drive
from jovial_tack.document.targets import NOTHING, drive_of
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import DeskPart
from jovial_tack.ui.widgets.theme import Theme, words


class FramedView(DeskPart):
    """A painted view with a frame, a title and a subtitle, in a tray under the front view."""

    title = ""
    height_px = 0
    right_px = 14.0  # kept free at the right of the title

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._theme = session, theme
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        session.hover_changed.connect(self.update)

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(400, self.height_px)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def leaveEvent(self, event: QEvent | None) -> None:
        """Nothing is pointed at any more."""
        self._session.hover(NOTHING)

    def _paint_frame(self, painter: QPainter, subtitle: str) -> None:
        t, focus = self._theme, self.hasFocus()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(t.color("accent" if focus else "rule"), 2 if focus else 1))
        painter.setBrush(t.color("paper"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 6, 6)
        painter.setFont(words(14, bold=True))
        painter.setPen(t.color("ink"))
        painter.drawText(QPointF(14, 21), self.title)
        left = 14 + QFontMetricsF(painter.font()).horizontalAdvance(self.title) + 10
        painter.setFont(words(13))
        painter.setPen(t.color("faded"))
        room = self.width() - left - self.right_px
        elide = Qt.TextElideMode.ElideRight
        message = QFontMetricsF(painter.font()).elidedText(subtitle, elide, room)
        painter.drawText(QPointF(left, 21), message)


class BeltView(FramedView):
    """A framed view of the belt of the selected part, or of the last one shown.

    A view is drawn anew a moment after the build has changed (`Session.readings_changed`); until then
    it paints the build it has drawn, never the newer one, in which a pulley may be gone.
    """

    first_drive = 0  # which drive is shown before anything was selected

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(session, theme, parent)
        self._drive = ""
        self._build = session.build

    def _take_drive(self) -> Drive | None:
        """Look at the present build; the drive to draw, None if it cannot be drawn."""
        session = self._session
        self._build, selection = session.build, session.selection
        drives = [drive.id for drive in self._build.drives]
        own = drive_of(selection)
        if own in drives:
            self._drive = own
        if self._drive not in drives:
            self._drive = drives[self.first_drive] if drives else ""
        if not self._drive or session.is_read_only:
            return None
        return self._build.drive(self._drive)

    def _name(self, pulley: str) -> str:
        """A pulley of the drive drawn, by the name of its shaft."""
        build = self._build
        return build.shaft(build.drive(self._drive).pulley(pulley).shaft).label

    def _belt_name(self) -> str:
        """The drive drawn, by name; "" if there is none."""
        return self._build.drive(self._drive).label if self._drive else ""
