"""What was kept of one drive: readings and belts tried, each of which can be taken out again."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from jovial_tack.answers.belt.measured import WAYS
from jovial_tack.core.units import FORCE, TONE, TORQUE, format_length, written, written_in
from jovial_tack.document.edits.logbook import events_of, remove_event
from jovial_tack.document.model import Event, EventKind
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import empty
from jovial_tack.ui.widgets.text import heading, together

_RESULTS = {"fits": "it fits", "long": "too long", "short": "too short", "off": "off the pulleys"}


class Kept(QWidget):
    """A button that keeps what the page shows, and a line an event, newest first, each with one that
    takes it out. wanted: the page's is to be kept; changed: one was taken out.
    """

    wanted = pyqtSignal()
    changed = pyqtSignal()

    def __init__(self, session: Session, kind: EventKind, keep: str) -> None:
        super().__init__()
        self._session, self.kind = session, kind
        self.button = QPushButton(keep)
        self.button.setObjectName("act")
        self.button.clicked.connect(lambda _=False: self.wanted.emit())
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.button)
        self._column = QVBoxLayout()
        self._column.setSpacing(3)
        whole.addLayout(self._column)

    def show_of(self, drive: str) -> None:
        """Show what is kept of a drive; the button stays away until there is something to keep."""
        self.button.hide()
        empty(self._column)
        for event in reversed(events_of(self._session.build, drive, self.kind)):
            line = self._line(event)
            self._column.addWidget(line)
            line.show()

    def _line(self, event: Event) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        words = heading("faded")
        words.setText(together(in_words(event, self._session.build.display_units)))
        out = QPushButton("Take out")
        out.setObjectName("act")
        out.setAccessibleName(f"Take out {event.id}")
        out.setEnabled(not self._session.is_read_only)
        out.clicked.connect(partial(self._take_out, event.id))
        row.addWidget(words, 1)
        row.addWidget(out)
        return line

    def _take_out(self, event_id: str, _checked: bool = False) -> None:
        session = self._session
        session.edit(f"take out {event_id}", remove_event(session.build, event_id))
        self.changed.emit()


def in_words(event: Event, unit: str) -> str:
    """One event: its day, what it was, its figure."""
    if event.kind == "belt_tried":
        return f"{event.at}: {_tried(event)}"
    if event.kind == "tension_check":
        return f"{event.at}: {_pushed(event, unit)}"
    name = next((way.title for key, way in WAYS.items() if key == event.way), event.way)
    what = "" if event.value_mm is None else format_length(event.value_mm, unit)
    if event.teeth is not None:
        what = f"{event.teeth} teeth"
    known = "" if event.sd_mm is None else f" ±{format_length(2 * event.sd_mm, unit)}"
    return f"{event.at}: {what}{known}, {name}"


def _tried(event: Event) -> str:
    """A belt tried in words."""
    parts = [event.number]
    if event.arm_angle_deg is not None:
        parts.append(f"arm at {event.arm_angle_deg:.1f}°")
    if event.travel_share is not None:
        parts.append(f"{100 * event.travel_share:.0f} % along")
    if event.verdict:
        parts.append(_RESULTS[event.verdict])
    return ", ".join(parts)


def _pushed(event: Event, unit: str) -> str:
    """A tension check in words."""
    parts = []
    if event.push_n is not None and event.play_mm is not None:
        push, play = written_in(event.push_n, FORCE, unit, 1), format_length(event.play_mm, unit)
        parts.append(f"{play} of play under {push}")
    if event.tone_hz is not None:
        parts.append(written(event.tone_hz, TONE))
    if event.twist_nm is not None:
        parts.append(f"{written_in(event.twist_nm, TORQUE, unit, 2)} to twist it")
    if event.tension_n is not None:
        parts.append(f"{written_in(event.tension_n, FORCE, unit)} at rest")
    return ", ".join(parts)
