"""At the right: what is due, what may be entered, and the event that is looked at."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QShowEvent
from PyQt6.QtWidgets import (
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from jovial_tack.answers.logbook.words import KINDS, due_words
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.edits.logbook import add_attachment, remove_attachment, set_caption
from jovial_tack.document.edits.symptoms import set_finding, set_material
from jovial_tack.document.model import Build
from jovial_tack.files.attachments import attach
from jovial_tack.ui.logbook.book import Book
from jovial_tack.ui.logbook.entering import enter_by_kind
from jovial_tack.ui.logbook.form import EventForm
from jovial_tack.ui.widgets.desk_part import DeskPart, empty, scrolled
from jovial_tack.ui.widgets.dragged import local_files
from jovial_tack.ui.widgets.text import heading, on_button, together
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.widgets.typed import Parked, TextField

_OFFERED = (
    "belt_tried", "fitted", "removed", "tension_check", "inspection", "cost", "note", "bearing",
    "tensioner", "engine_locked",
)  # fmt: skip
_MOST_LINES = 3
_MARKS = {"good": "", "watch": "Soon: ", "stop": "Due: ", "not_determined": "Open: "}


class LogbookPage(DeskPart):
    """Touch a kind, type the use, type the note. …_wanted: the card of that is asked for."""

    intervals_wanted = pyqtSignal()
    record_wanted = pyqtSignal()
    offers_wanted = pyqtSignal()
    finder_wanted = pyqtSignal(str)  # of a drive, which has been told what an inspection found

    def __init__(self, book: Book, theme: Theme) -> None:
        super().__init__()
        self._book = book
        self.setObjectName("card")
        self.setAcceptDrops(True)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 14, 16, 10)
        column.setSpacing(8)
        title = heading()
        title.setText("Logbook")
        self.due, self.problems = heading("plain"), heading("badfigure")
        self.kinds: dict[str, QPushButton] = {}
        grid = QGridLayout()
        grid.setSpacing(6)
        for place, kind in enumerate(_OFFERED):
            button = QPushButton(on_button(capital(KINDS[kind])))
            button.setMinimumHeight(36)
            button.clicked.connect(lambda _=False, k=kind: self.enter(k))
            self.kinds[kind] = button
            grid.addWidget(button, place // 2, place % 2)
        self.form = EventForm(book)
        self.attached = QWidget()
        self._attached = QVBoxLayout(self.attached)
        self._captions: dict[str, TextField] = {}
        self._parked = Parked(self)
        self._attached.setContentsMargins(0, 0, 0, 0)
        self._attached.setSpacing(4)
        self.attach_button = QPushButton("A picture or file of it …")
        self.attach_button.clicked.connect(lambda _=False: self.ask_file())
        self.remove_button = QPushButton("Take it out")
        self.remove_button.clicked.connect(lambda _=False: book.remove())
        below = QHBoxLayout()
        for text, wanted in (
            ("Intervals", self.intervals_wanted),
            ("Lives, costs", self.record_wanted),
            ("Offers", self.offers_wanted),
        ):
            button = QPushButton(text)
            button.setObjectName("act")
            button.clicked.connect(lambda _=False, signal=wanted: signal.emit())
            below.addWidget(button)
        for told in (title, self.due, self.problems):
            column.addWidget(told)
        column.addLayout(below)
        self.add_word = heading("subheading")
        self.add_word.setText("Enter today")
        self.ask_button = QPushButton("Ask the noise finder …")
        self.ask_button.clicked.connect(lambda _=False: self._ask_finder())
        self.done_button = QPushButton("Done with it")
        self.done_button.clicked.connect(lambda _=False: book.choose(""))
        ends = QHBoxLayout()
        ends.addWidget(self.done_button)
        ends.addWidget(self.remove_button)
        for widget in (self.form, self.ask_button, self.attached, self.attach_button):
            column.addWidget(widget)
        column.addLayout(ends)
        column.addWidget(self.add_word)
        column.addLayout(grid)
        column.addStretch(1)
        outer.addWidget(scrolled(inside))
        book.changed.connect(self.refresh)
        book.chosen_changed.connect(self.refresh)

    def enter(self, kind: str) -> None:
        """Enter an event of a kind, with what the build knows of it, and have its use ready."""
        if enter_by_kind(self._book, kind) is not None:
            self.form.begin()

    def showEvent(self, event: QShowEvent | None) -> None:
        """In sight again, once a card is put away: as it is now."""
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Show the present logbook."""
        if not self.isVisible():
            return
        book = self._book
        session, told, event = book.session, book.told, book.chosen
        system = session.build.display_units
        lines = [
            f"{_MARKS['good' if thing.done else thing.due.state]}{due_words(thing, system)}"
            for thing in sorted(told.due, key=lambda t: -(t.due.share or 0.0))
        ]
        things = {thing.due.share for thing in told.due}
        said = [each.message for each in told.findings if each.value not in things]
        said += [finding.message for finding in book.files]
        lines = [*lines[:_MOST_LINES], *said[:_MOST_LINES]]
        self.due.setText(together("\n".join(sentence(line) for line in lines)))
        self.due.setVisible(bool(lines))
        self.problems.setText(together("\n".join(sentence(each) for each in told.problems[:4])))
        self.problems.setVisible(bool(told.problems))
        for button in (*self.kinds.values(), self.attach_button, self.remove_button):
            button.setEnabled(not session.is_read_only)
        for widget in (self.attach_button, self.remove_button, self.done_button, self.attached):
            widget.setVisible(event is not None)
        asks = (
            event is not None
            and bool(event.findings)
            and session.build.find_drive(event.drive or "") is not None
        )
        self.ask_button.setVisible(asks)
        self.form.refresh()
        self._show_attached()

    def _show_attached(self) -> None:
        self._parked.put_away(self._captions)
        self._captions = {}
        empty(self._attached)
        event = self._book.chosen
        for each in self._book.session.build.logbook.attachments:
            if event is None or each.of != event.id:
                continue
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            words = heading("faded")
            words.setText(together(each.path))
            caption = TextField(f"What {each.path} shows", most=500)
            caption.show_text(each.caption, of=each.id)
            caption.setPlaceholderText("what it shows")
            caption.committed.connect(partial(self._caption, each.id, caption))
            caption.refused.connect(self.form.refuse)
            self._captions[each.id] = caption
            out = QPushButton("Take out")
            out.setObjectName("act")
            out.setAccessibleName(f"Take {each.path} out")
            out.clicked.connect(lambda _=False, name=each.id: self._detach(name))
            line.addWidget(words)
            line.addWidget(caption, 1)
            line.addWidget(out)
            self._attached.addWidget(row)
            row.show()  # so that it can be typed in at once
        self._parked.bring_back(self._captions)

    def _ask_finder(self) -> None:
        """Tell the noise finder what the inspection found of its drive: one step to undo."""
        event = self._book.chosen
        if event is None or event.drive is None:
            return
        drive, found, material = event.drive, event.findings, event.material

        def told(build: Build) -> Build:
            for finding, seen in found.items():
                build = set_finding(build, drive, finding, seen)
            return set_material(build, drive, material) if material in ("epdm", "old") else build

        self.form.refuse(self._book.edit(f"noise finder: {event.id}", told))
        self.finder_wanted.emit(drive)

    # files

    def ask_file(self) -> None:
        """Ask for a file, and attach it to the event that is looked at."""
        name, _ = QFileDialog.getOpenFileName(
            self, "A picture or file of it", "", "Pictures (*.jpg *.jpeg *.png);;All files (*)"
        )
        if name:
            self.attach(Path(name))

    def attach(self, source: Path) -> None:
        """Attach a file to the event that is looked at: it is copied beside the build."""
        session, event = self._book.session, self._book.chosen
        if event is None or session.is_read_only:
            return
        if session.path is None:
            self.form.refuse("Save the build first: its pictures lie in a folder beside it.")
            return
        try:
            found = attach(session.path, source)
        except JovialTackError as error:
            self.form.refuse(sentence(str(error)))
            return
        build, _ = add_attachment(
            session.build, found.path, found.sha256, found.size, of=event.id, taken=event.at
        )
        session.edit(f"attach {found.path}", build)
        self._book.tell()

    def _caption(self, attachment_id: str, field: TextField, text: str) -> None:
        """Take what is said of an attachment."""
        label = f"what {attachment_id} shows"
        refused = self._book.edit(label, lambda now: set_caption(now, attachment_id, text))
        if refused:
            field.turn_down(refused)
        self.form.refuse(refused)

    def _detach(self, attachment_id: str) -> None:
        self._book.edit("take a file out", lambda build: remove_attachment(build, attachment_id))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """A file may be dropped on the event that is looked at."""
        if event is not None and self._book.chosen is not None and local_files(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Attach what is dropped."""
        for path in () if event is None else local_files(event.mimeData()):
            self.attach(path)
