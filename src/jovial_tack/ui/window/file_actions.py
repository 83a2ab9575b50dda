"""What happens to files: new, open, save; asked about before anything could be lost."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError, SaveError
from jovial_tack.document.model import Build
from jovial_tack.files.attachments import carry_over
from jovial_tack.files.locks import RENEWED_EVERY_S, Holder, Mark
from jovial_tack.files.pack import LargePackError, free_folder, unpack
from jovial_tack.files.places import home, is_shipped
from jovial_tack.files.recovery import KeptText, LostWork
from jovial_tack.files.whole import sweep
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.typed import all_waiting
from jovial_tack.ui.window.notice import Notice
from jovial_tack.ui.window.safekeeping import Safekeeping
from jovial_tack.ui.window.typed_kept import waiting_words
from jovial_tack.ui.worker import NewestOnly

_BUILDS = "Jovial Tack builds (*.jtack);;All files (*)"
_OPENED = "Jovial Tack builds (*.jtack);;Packed builds (*.zip);;All files (*)"


#: Beside the demo build: the same engine as it was measured.
_SURVEYED = "tessary-fen-survey.jtack"


class Files(QObject):
    """The session's file. used: a file was opened or saved; message: what became of it; recovered:
    lost work was taken up, with what was typed in it; lost_wanted: all of it is to be seen.
    """

    used = pyqtSignal(Path)
    message = pyqtSignal(str)
    recovered = pyqtSignal(object)
    lost_wanted = pyqtSignal()

    def __init__(
        self,
        session: Session,
        notice: Notice,
        safekeeping: Safekeeping,
        demo: Path,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self._session, self._notice, self._safekeeping = session, notice, safekeeping
        self._demo, self._window = demo, parent
        self._mark = Mark()
        self._renewed = QTimer(self)
        self._renewed.setInterval(round(RENEWED_EVERY_S * 1000))
        self._renewed.timeout.connect(self._mark.renew)
        self._pack: Path | None = None
        self._unpacking = NewestOnly(self)
        self._unpacking.done.connect(self._unpacked)
        self._unpacking.failed.connect(self._not_unpacked)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(lambda _path: self._looked_soon.start())
        self._watcher.directoryChanged.connect(lambda _path: self._looked_soon.start())
        self._looked_soon = QTimer(self)
        self._looked_soon.setSingleShot(True)
        self._looked_soon.setInterval(150)  # a file is often written in several steps
        self._looked_soon.timeout.connect(self._look_at_disk)

    # opening

    def new(self) -> None:
        """Begin an empty build, after asking about unsaved changes."""

        def begin() -> None:
            self._session.new()
            self._hold(None)

        self.after_saving(begin)

    def begin_with(self, make: Callable[[Catalogue], Build]) -> None:
        """Begin with a starting layout, after asking about unsaved changes."""

        def begin() -> None:
            self._session.new(make(self._session.catalogue))
            self._hold(None)

        self.after_saving(begin)

    def open_demo(self) -> None:
        """Open the demo build, after asking about unsaved changes."""
        self.after_saving(lambda: self.load(self._demo, demo=True))

    def open(self) -> None:
        """Ask for a file and open it, after asking about unsaved changes."""
        self.after_saving(self._choose_and_open)

    def _choose_and_open(self) -> None:
        start = str(self._session.path.parent) if self._session.path else ""
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a build", start, _OPENED)
        if name:
            self.load(Path(name))

    def open_survey_demo(self) -> None:
        """Open the demo build as it was measured on the stand, after asking about unsaved changes."""
        self.after_saving(lambda: self.load(self._demo.with_name(_SURVEYED), demo=True))

    def open_other_demo(self, name: str) -> None:
        """Open another of the demo builds, after asking about unsaved changes."""
        self.after_saving(lambda: self.load(self._demo.with_name(name), demo=True))

    def load(self, path: Path, *, demo: bool = False) -> None:
        """Open a file; what is wrong with it is told, and the present build stays. A packed build is
        unpacked beside it first, on a worker.
        """
        if path.suffix.lower() == ".zip":
            self._unpack(path)
            return
        try:
            self._session.open(path, demo=demo)
        except (BuildFileError, SaveError) as error:
            self._notice.ask(f"Not opened. {error}.")
            return
        self._hold(None if demo else path)
        if demo:
            return
        self.used.emit(path)
        others = self._mark.others()
        if others:
            self._tell_of_others(path, others)

    def _unpack(self, path: Path, *, large: bool = False) -> None:
        """Unpack a build beside its pack, and open it once that is done."""
        check = self._unpacking.check_cancelled
        self._pack = path
        self._unpacking.submit(
            lambda: unpack(path, free_folder(path.with_suffix("")), large=large, check=check)
        )
        self._notice.answer(
            f"Unpacking {path.name} …", [("Cancel", self._unpacking.drop)], topic="unpacking"
        )

    def _unpacked(self, build_file: Path) -> None:
        self._notice.forget("unpacking")
        self.after_saving(lambda: self.load(build_file))

    def _not_unpacked(self, error: Exception) -> None:
        self._notice.forget("unpacking")
        path = self._pack
        if isinstance(error, LargePackError) and path is not None:
            self._notice.answer(
                f"{error}. Unpack it all the same?",
                [
                    ("Unpack it", lambda: self._unpack(path, large=True)),
                    ("Leave it", lambda: None),
                ],
                topic="unpacking",
            )
        else:
            self._notice.ask(f"Not opened. {error}.")

    def _tell_of_others(self, path: Path, others: Sequence[Holder]) -> None:
        """A file is open in other windows too; one of another machine may be gone without a word."""
        said = f"{path.name} is open in another window of this program ({others[0].words})."
        how = " Save here under another name, or close it there first."
        choices: list[tuple[str, Callable[[], object]]] = [("Close", lambda: None)]
        if all(not other.is_here for other in others):
            choices.append(("It is not open there any more", self._mark.take_over))
        self._notice.ask(said + how, choices, topic="elsewhere", of_build=True)

    def offer_recovery(self, works: Sequence[LostWork]) -> None:
        """Tell of unsaved work of windows that ended without closing."""
        lost = [work for work in works if not work.let_go]
        if not lost:
            return
        names = f"“{lost[0].name}”"
        if len(lost) > 1:
            names += f" and {len(lost) - 1} more build{'s' if len(lost) > 2 else ''}"
        later = ("Later", lambda: self.message.emit("File, Lost work … shows it at any time"))
        self._notice.ask(
            f"The program ended with unsaved changes in {names}.",
            [("Look at what was lost …", self.lost_wanted.emit), later],
            topic="lost work",
        )

    def recover(self, work: LostWork) -> None:
        """Take up lost work, after asking about unsaved changes."""

        def take_up() -> None:
            self._safekeeping.let_go()
            if not self._safekeeping.keeper.adopt(work.kept):
                self._notice.ask("Another window has recovered that work already.")
                return
            self._session.recover(work.build, work.path, work.fingerprint)
            self._hold(work.path)
            self._notice.forget("lost work")
            self.recovered.emit(work.typed)
            self._safekeeping.keep_now()

        # what was done meanwhile is asked about; the copy stays until the work is safe
        self.after_saving(take_up)

    def tell_of_typed(self, left: Sequence[KeptText]) -> None:
        """Tell what was typed in lines that are not there now: nothing of it is lost."""
        if left:
            texts = ", ".join(f"“{each.text}” ({each.name})" for each in left)
            self._notice.ask(f"Typed before the program ended, and in no build: {texts}.")

    # saving

    def save(self) -> None:
        """Save to the build's file, or ask for one."""
        path = self._session.path
        if path is None:
            self.save_as()
            return
        doubt = ""
        if self._session.changed_on_disk(path):
            doubt = f"{path.name} was changed on disk since it was opened here."
        elif others := self._mark.others():
            doubt = f"{path.name} is open in another window too ({others[0].words})."
        if doubt:
            self._ask_over(doubt, path)
        else:
            self._write(path)

    def _ask_over(self, doubt: str, path: Path) -> None:
        """Ask before what another hand has written, or may write, is written over."""
        self._notice.answer(
            doubt,
            [
                ("Save as …", self.save_as),
                ("Save over it", lambda: self._write(path)),
                ("Leave it", lambda: None),
            ],
            topic="save",
        )

    def save_as(self) -> None:
        """Ask for a name and save."""
        start = str(self._session.path or home() / "build.jtack")
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the build", start, _BUILDS)
        if not name:
            return
        path = Path(name)
        path = path if path.suffix else path.with_suffix(".jtack")
        others = self._mark.others(path)
        if others:
            self._ask_over(f"{path.name} is open in another window ({others[0].words}).", path)
        else:
            self._write(path)

    def _write(self, path: Path) -> None:
        before = self._session.path
        try:
            self._session.save(path)
        except SaveError as error:
            choices = [("Save as …", self.save_as), ("Close", lambda: None)]
            self._notice.answer(f"{error}.", choices, topic="save")
            return
        self._hold(path)
        self._notice.forget("gone")
        self.used.emit(path)
        waiting = all_waiting(self._window)
        left = f"; not in it: {waiting_words(waiting)}" if waiting else ""
        self.message.emit(f"Saved {path.name}{left}")
        self._carry_over(before, path)

    def _carry_over(self, before: Path | None, path: Path) -> None:
        """What lies beside a build goes with it to its new place; what cannot is said."""
        if before is None or before == path:
            return
        left = carry_over(self._session.build, before, path)
        if left:
            self._notice.ask(
                f"Saved, but these could not be copied beside it: {', '.join(left[:5])}."
            )

    def after_saving(self, act: Callable[[], None]) -> None:
        """Do something that would lose unsaved changes, or what is typed and in no build, once the user
        has said what becomes of them.
        """
        self._session.leaving.emit()  # what is being typed is one of them
        if not self._session.is_modified:
            self._after_entering(act)
            return

        def save_then_act() -> None:
            self.save()
            if not self._session.is_modified:
                self._after_entering(act)

        name = self._session.build.title or "This build"
        said = f"“{name}” has changes that are not saved."
        if self._session.is_file_gone and self._session.path is not None:
            said = f"{self._session.path.name} is not on the disk any more; it is only open here."
        waiting = all_waiting(self._window)
        if waiting:
            said += f" Typed, and in no build: {waiting_words(waiting)}."
        self._notice.answer(
            said,
            [("Save", save_then_act), ("Throw away", act), ("Keep editing", lambda: None)],
            topic="unsaved",
        )

    def _after_entering(self, act: Callable[[], None]) -> None:
        waiting = all_waiting(self._window)
        if not waiting:
            act()
            return
        self._notice.answer(
            f"Typed, and in no build: {waiting_words(waiting)}.",
            [("Go back to it", lambda: None), ("Throw it away", act)],
            topic="unsaved",
        )

    # the file on disk

    def _hold(self, path: Path | None) -> None:
        """Watch a file and its folder, and have this window's name beside it."""
        watched = [*self._watcher.files(), *self._watcher.directories()]
        if watched:
            self._watcher.removePaths(watched)
        if path is not None:
            there = [str(place) for place in (path, path.parent) if place.exists()]
            self._watcher.addPaths(there)
        held = None if path is None or is_shipped(path) else path
        self._mark.hold(held)
        if held is None:
            self._renewed.stop()
        else:
            self._renewed.start()
            sweep(held)  # what a save that was killed has left beside it

    def _look_at_disk(self) -> None:
        path = self._session.path
        if path is None:
            return
        there = path.exists()
        if there and str(path) not in self._watcher.files():
            self._watcher.addPath(str(path))  # replaced whole: the watch went with the old one
        was_gone = self._session.is_file_gone
        self._session.mark_file_gone(not there)
        if there:
            self._notice.forget("gone")
        elif not was_gone:
            self._tell_gone(path)
        if self._session.changed_on_disk(path):
            self._tell_changed(path)

    def _tell_gone(self, path: Path) -> None:
        where = "" if path.parent.exists() else f", with its folder {path.parent}"
        self._notice.ask(
            f"{path.name} is not on the disk any more: it was deleted or moved{where}. What is open"
            " here is all there is of it.",
            [
                ("Save it again", self.save),
                ("Save as …", self.save_as),
                ("Close", lambda: None),
            ],
            topic="gone",
            of_build=True,
        )

    def _tell_changed(self, path: Path) -> None:
        kept = "Your changes here are not in it. " if self._session.is_modified else ""
        self._notice.ask(
            f"{path.name} was changed on disk by another program. {kept}",
            [
                ("Open it as it is now", lambda: self._open_over(path)),
                ("Keep this one", lambda: None),
            ],
            topic="changed",
            of_build=True,
        )

    def _open_over(self, path: Path) -> None:
        """Open what another hand wrote; over changes made here it is asked once more."""
        self._session.leaving.emit()
        if not self._session.is_modified and not all_waiting(self._window):
            self.load(path)
            return
        self._notice.answer(
            f"{path.name} as it is on disk takes the place of your changes. They can be had again by"
            " File, Lost work.",
            [
                ("Save mine as …", self.save_as),
                ("Open it", lambda: self.load(path)),
                ("Keep editing", lambda: None),
            ],
            topic="unsaved",
        )

    def close(self) -> None:
        """Let go of the file."""
        self._unpacking.finish()
        self._hold(None)
