"""Logbook: what was tried, fitted, read and paid, what is due, and the sheets for the file."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from jovial_tack.answers.logbook.words import KINDS
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.words import sentence
from jovial_tack.document.targets import BeltAt
from jovial_tack.files.logbook_csv import read_logbook, write_logbook
from jovial_tack.files.pack import pack
from jovial_tack.files.paper.build_sheet import sheet_of, write_sheet
from jovial_tack.ui.logbook.book import Book
from jovial_tack.ui.logbook.intervals import IntervalsCard
from jovial_tack.ui.logbook.page import LogbookPage
from jovial_tack.ui.logbook.record import OffersCard, RecordCard
from jovial_tack.ui.logbook.strip import LogbookStrip
from jovial_tack.ui.room import Action, Aside, Break, Hands, Room, Station
from jovial_tack.ui.worker import NewestOnly

_TABLES = "Tables (*.csv)"


class LogbookRoom(Room):
    """The line of time and the events below, what is entered at the right."""

    station = Station("logbook", 9, "Logbook", "What was tried, fitted and paid, and what is due")
    has_slider = False

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.book = Book(hands.session)
        self._worker = NewestOnly(self.book)
        self._worker.done.connect(lambda name: hands.show_text(f"The build sheet is in {name}."))
        self._worker.failed.connect(lambda error: hands.ask(sentence(str(error))))
        self.tray = self.strip = LogbookStrip(self.book, hands.theme)
        self.page = self.logbook = LogbookPage(self.book, hands.theme)
        self.intervals = IntervalsCard(self.book)
        self.record, self.offers = RecordCard(self.book), OffersCard(self.book)
        self.asides = (
            Aside("Inter&vals and use", "Shift+F5", self.intervals),
            Aside("What it lasted and &cost", "Shift+F12", self.record),
            Aside("Offers o&f belts", "Shift+F2", self.offers),
        )
        self.entries = (
            Action("&Tools", "Enter it in the l&ogbook", "F5", self.enter_here),
            Action("&File", "&Build sheet, one page …", "Shift+F10", lambda: self.ask_sheet(False)),
            Action("&File", "Build sheet, the &whole …", "Ctrl+F10", lambda: self.ask_sheet(True)),
            Action("&File", "Pac&k the build with its pictures …", "Ctrl+F8", self.ask_pack),
            Action("&File", "&Write the logbook as a table …", "Ctrl+F12", self.ask_write),
            Action("&File", "&Enter a table in the logbook …", "Ctrl+F11", self.ask_read),
            Break("&File"),
        )
        self.logbook.intervals_wanted.connect(lambda: hands.call(self.intervals))
        self.logbook.record_wanted.connect(lambda: hands.call(self.record))
        self.logbook.offers_wanted.connect(lambda: hands.call(self.offers))
        self.logbook.finder_wanted.connect(self._find_noise)
        self.book.changed.connect(hands.marks_changed)

    @property
    def mark(self) -> Mark:
        """Watch where something is due or nearly so: a reminder, never a stop."""
        told = self.book.told
        if told.findings:
            return "watch"
        states = {thing.due.state for thing in told.due if not thing.done}
        is_open = bool(told.problems) or "not_determined" in states
        return "good" if told.due and not is_open else "unknown"

    def entered(self) -> None:
        """Show the logbook as it is."""
        self.book.tell()
        self.book.look_at_files(anew=True)
        self.strip.refresh()
        self.logbook.refresh()

    def _find_noise(self, drive: str) -> None:
        self.hands.session.select(BeltAt(drive))
        self.hands.call_up("&Noise finder")

    def enter_here(self) -> None:
        """Enter in the logbook what the station stood at has: a belt as tried, a check, a log; else a
        note of the day, to be written.
        """
        found = self.hands.to_enter()
        if self.hands.session.is_read_only:
            return
        if found is not None and found.act is not None:
            found.act()
        elif found is not None:
            self.book.enter(found.kind, **found.figures)
        else:
            self.hands.stand_at("logbook")
            self.logbook.enter("note")
            return
        self.hands.show_text(f"Entered in the logbook: {KINDS[found.kind]}.")

    def ask_write(self) -> None:
        """Ask where to, and write the events as a table."""
        chosen, _ = QFileDialog.getSaveFileName(
            self.logbook, "The logbook as a table", "logbook.csv", _TABLES
        )
        if chosen:
            self.write_table(Path(chosen if Path(chosen).suffix else f"{chosen}.csv"))

    def write_table(self, path: Path) -> None:
        """Write the events as a table; why that cannot be is said."""
        try:
            write_logbook(self.hands.session.build, path)
        except JovialTackError as error:
            self.hands.ask(sentence(str(error)))
            return
        self.hands.show_text(f"The logbook is written to {path.name}.")

    def ask_sheet(self, whole: bool) -> None:
        """Ask where to, and write the build sheet there."""
        chosen, _ = QFileDialog.getSaveFileName(
            self.logbook, "Build sheet", "build-sheet.pdf", "Sheets of paper (*.pdf)"
        )
        if chosen:
            self.write_sheet(Path(chosen if Path(chosen).suffix else f"{chosen}.pdf"), whole)

    def write_sheet(self, path: Path, whole: bool) -> None:
        """Write the build sheet, worked out off the window's thread."""
        session = self.hands.session
        build, catalogue, today = session.build, session.catalogue, date.today()
        paper = "letter" if build.display_units == "in" else "a4"
        saved_as = None if session.is_modified else session.path

        def work() -> str:
            write_sheet(sheet_of(build, catalogue, today), path, saved_as, paper, whole=whole)
            return path.name

        self.hands.show_text("The build sheet is set …")
        self._worker.submit(work)

    def ask_pack(self) -> None:
        """Ask where to, and pack the build there, as it is saved."""
        session = self.hands.session
        if session.path is None or session.is_modified:
            self.hands.ask("Save the build first: it is packed as its file is.")
            return
        chosen, _ = QFileDialog.getSaveFileName(
            self.logbook, "Pack the build", f"{session.path.stem}.zip", "Packed builds (*.zip)"
        )
        if chosen:
            self.pack(Path(chosen if Path(chosen).suffix else f"{chosen}.zip"))

    def pack(self, path: Path) -> None:
        """Pack the build with its pictures and maps; what is missing is said."""
        session = self.hands.session
        assert session.path is not None
        try:
            missing = pack(session.build, session.path, path)
        except JovialTackError as error:
            self.hands.ask(sentence(str(error)))
            return
        if missing:
            self.hands.ask(f"Packed, but these were not there: {', '.join(missing[:5])}.")
        else:
            self.hands.show_text(f"The build is packed in {path.name}.")

    def close_work(self) -> None:
        """Let a sheet that is being set end."""
        super().close_work()
        self.book.worker.finish()
        self._worker.finish()

    def ask_read(self) -> None:
        """Ask for a table, and enter its events."""
        chosen, _ = QFileDialog.getOpenFileName(
            self.logbook, "Enter a table in the logbook", "", _TABLES
        )
        if chosen:
            self.read_table(Path(chosen))

    def read_table(self, path: Path) -> None:
        """Enter the events of a table: one step to undo; rows that were not taken are said."""
        session = self.hands.session
        if session.is_read_only:
            return
        self.hands.stand_at("logbook")
        try:
            imported = read_logbook(session.build, path)
        except JovialTackError as error:
            self.hands.ask(sentence(str(error)))
            return
        session.edit(f"enter {path.name}", imported.build)
        self.book.tell()
        said = [f"{imported.added} events entered of {path.name}"]
        if imported.changed:
            said.append(f"{len(imported.changed)} changed as the table has them")
        said += [f"not taken, {bad}" for bad in imported.bad[:5]]
        if imported.bad or imported.changed:
            self.hands.ask("\n".join(sentence(each) for each in said))
        else:
            self.hands.show_text(sentence(said[0]))
