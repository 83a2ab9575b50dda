"""The four verdicts, always in sight; each leads to the place it is about."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetricsF, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from jovial_tack.answers.verdicts import Verdict
from jovial_tack.core.words import capital
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.elided import ElidedButton
from jovial_tack.ui.widgets.marks import WORDS, paint_mark
from jovial_tack.ui.widgets.text import heading, plain, together
from jovial_tack.ui.widgets.theme import Theme, style_sheet, words

_HEIGHT, _COMPACT = 98, 50
_BY_KEY = (
    Qt.FocusReason.TabFocusReason,
    Qt.FocusReason.BacktabFocusReason,
    Qt.FocusReason.ShortcutFocusReason,
)


class VerdictButton(QAbstractButton):
    """One verdict: mark and title, the sentence on up to two lines, the mend below.

    reached: what is cut of it, when a key has come to it; "" when that may go again.
    """

    reached = pyqtSignal(str)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._verdict = Verdict("", "unknown", "", "")
        self._broken: tuple[Verdict, float] | None = None
        self._lines: list[tuple[str, int, str]] = []
        self.compact = False
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.mend_button = ElidedButton(self)
        self.mend_button.setObjectName("mend")
        self.mend_button.setCursor(Qt.CursorShape.PointingHandCursor)
        self.mend_button.hide()

    @property
    def verdict(self) -> Verdict:
        """The verdict shown."""
        return self._verdict

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def show_verdict(self, verdict: Verdict) -> None:
        """Show a verdict; repaints only if it is another."""
        if verdict == self._verdict:
            return
        self._verdict = verdict
        said = f"{verdict.sentence} {verdict.others}".strip()
        whole = f"{verdict.title}: {WORDS[verdict.mark]}. {said}. {verdict.detail}"
        self.setAccessibleName(whole.rstrip(". ") + ".")
        self.setToolTip(plain(f"{verdict.sentence}\n{verdict.detail}".strip()))
        self._show_mend()
        self.update()

    @property
    def whole(self) -> str:
        """All it says, where the strip cuts some of it; "" where nothing is cut."""
        verdict = self._verdict
        lines = [text for text, _, _ in _broken(verdict, self.width() - 24.0)]
        shown = lines[:1] if verdict.mends else lines
        room = QFontMetricsF(words(14))
        if self.compact:
            lines, shown = [verdict.sentence], [f"{verdict.sentence} {verdict.detail}"]
        cut = any(room.horizontalAdvance(text) > self.width() - 24 for text in shown)
        mends = [capital(mend.sentence) for mend in verdict.mends]
        if not cut and not mends:
            return ""
        said = [f"{verdict.sentence} {verdict.others}".strip(), *(mends or [verdict.detail])]
        return "\n".join(text for text in said if text)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Reached by key it tells the whole."""
        super().focusInEvent(event)
        by_key = event is not None and event.reason() in _BY_KEY
        self.reached.emit(self.whole if by_key else "")

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """What was told goes again."""
        super().focusOutEvent(event)
        self.reached.emit("")

    def _show_mend(self) -> None:
        """The first mend as a button with its own words, in the place of the last line."""
        mends = self._verdict.mends
        self.mend_button.setVisible(bool(mends) and not self.compact)
        if not mends or self.compact:
            return
        whole = capital(mends[0].sentence)
        self.mend_button.show_words(whole, f"{whole} (one step to undo)")
        wide = min(self.width() - 20, self.mend_button.sizeHint().width())
        self.mend_button.setGeometry(10, _HEIGHT - 29, wide, 23)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The mend keeps to the room there is."""
        super().resizeEvent(event)
        self._show_mend()

    def sizeHint(self) -> QSize:
        """A quarter of the window's width, three lines high, or one."""
        return QSize(240, _COMPACT if self.compact else _HEIGHT)

    def set_compact(self, compact: bool) -> None:
        """Show title and sentence only, where the window is low."""
        self.compact = compact
        self._show_mend()
        self.updateGeometry()
        self.update()

    def _break_again(self, width: float) -> None:
        """Break its words into lines, if they or the room for them are others."""
        verdict = self._verdict
        if self._broken == (verdict, width):
            return
        self._broken, self._lines = (verdict, width), _broken(verdict, width)
        if verdict.mends:  # the mend is told by its button
            self._lines = [each for each in self._lines if each[2] == "ink"]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint mark, title, sentence and detail; what does not fit ends in an ellipsis."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, verdict = self._theme, self._verdict
        frame = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        held = self.hasFocus()
        painter.setPen(QPen(theme.color("accent" if held else "rule"), 2 if held else 1))
        painter.setBrush(theme.color("raised" if self.underMouse() else "paper"))
        painter.drawRoundedRect(frame, 6, 6)
        paint_mark(painter, QRectF(12, 11, 16, 16), verdict.mark, theme)
        self._text(
            painter, QRectF(36, 8, self.width() - 46, 22), verdict.title, 15, "ink", bold=True
        )
        if verdict.others:
            beside = 46 + QFontMetricsF(words(15, bold=True)).horizontalAdvance(verdict.title)
            others = QRectF(beside, 8, self.width() - beside - 10, 22)
            self._text(painter, others, verdict.others, 13, "faded")
        line = QRectF(12, 31, self.width() - 24, 18)
        self._break_again(line.width())
        if self.compact:
            self._text(painter, line.translated(0, -3), verdict.sentence, 13, "ink")
            return
        for place, (text, px, color) in enumerate(self._lines):
            self._text(painter, line.translated(0, 18 * place), text, px, color)

    def _text(
        self, painter: QPainter, box: QRectF, text: str, px: int, color: str, *, bold: bool = False
    ) -> None:
        font = words(px, bold=bold)
        painter.setFont(font)
        painter.setPen(self._theme.color(color))
        elided = QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, box.width())
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, elided)


def _broken(verdict: Verdict, width: float) -> list[tuple[str, int, str]]:
    """Sentence and detail broken into the three lines there are: text, size in px, colour."""
    first, rest = split_line(verdict.sentence, width, QFontMetricsF(words(14)))
    lines = [(first, 14, "ink"), (rest, 14, "ink")] if rest else [(first, 14, "ink")]
    detail, more = split_line(verdict.detail, width, QFontMetricsF(words(13)))
    if len(lines) == 1 and more:
        return [*lines, (detail, 13, "faded"), (more, 13, "faded")]
    return [*lines, (verdict.detail, 13, "faded")]


def split_line(text: str, width: float, metrics: QFontMetricsF) -> tuple[str, str]:
    """The words that fit on a first line, and the rest."""
    line, parts = "", text.split(" ")
    for place, part in enumerate(parts):
        longer = f"{line} {part}".strip()
        if line and metrics.horizontalAdvance(longer) > width:
            return line, " ".join(parts[place:])
        line = longer
    return line, ""


class VerdictStrip(QWidget):
    """Fits, Order, Holds and Lines up, side by side. chosen: the verdict that was clicked."""

    chosen = pyqtSignal(object)

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.buttons = [VerdictButton(theme, self) for _ in range(4)]
        self.whole = heading("told")
        self.whole.setParent(self)
        self.whole.setStyleSheet(style_sheet(theme))
        self.whole.hide()
        for button in self.buttons:
            row.addWidget(button)
            button.reached.connect(lambda text, b=button: self._tell_whole(b, text))
            button.clicked.connect(lambda _=False, b=button: self.chosen.emit(b.verdict))
            button.mend_button.clicked.connect(lambda _=False, b=button: self._mend(b.verdict))
        session.readings_changed.connect(self.refresh)
        session.settled.connect(self.refresh)
        self.refresh()

    def _mend(self, verdict: Verdict) -> None:
        """Do the first mend: one step to undo."""
        if verdict.mends:
            mend = verdict.mends[0]
            self._session.edit(mend.words, mend.build)

    def set_compact(self, compact: bool) -> None:
        """Show a line of each only."""
        for button in self.buttons:
            button.set_compact(compact)

    def _tell_whole(self, button: VerdictButton, text: str) -> None:
        """Lay the whole of a verdict below it, over what is there; it takes no clicks."""
        window = self.window()
        if not text or window is None:
            self.whole.hide()
            return
        if self.whole.parent() is not window:
            self.whole.setParent(
                window
            )  # shown without it, it would be a window that takes the focus
        self.whole.setText(together(text))
        wide = min(max(button.width(), 420), window.width() - 20)
        self.whole.setFixedWidth(wide)
        self.whole.adjustSize()
        below = button.mapTo(window, button.rect().bottomLeft())
        left = min(below.x(), window.width() - wide - 10)
        self.whole.move(left, below.y() + 6)
        self.whole.raise_()
        self.whole.show()

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.whole.setStyleSheet(style_sheet(theme))
        for button in self.buttons:
            button.set_theme(theme)

    def refresh(self) -> None:
        """Show the session's verdicts."""
        for button, verdict in zip(self.buttons, self._session.verdicts, strict=True):
            button.show_verdict(verdict)
