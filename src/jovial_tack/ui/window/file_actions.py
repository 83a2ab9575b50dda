"""What happens to files: new, open, save; asked about before anything could be lost."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QLockFile, QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError, SaveError
from jovial_tack.document.model import Build
from jovial_tack.files.attachments import carry_over
from jovial_tack.files.pack import free_folder, unpack
from jovial_tack.files.places import home
from jovial_tack.files.recovery import LostWork, Owned
from jovial_tack.files.whole import sweep
from jovial_tack.ui.session import Session
from jovial_tack.ui.window.notice import Notice
from jovial_tack.ui.window.safekeeping import Safekeeping

_BUILDS = "Jovial Tack builds (*.jtack);;All files (*)"
_OPENED = "Jovial Tack builds (*.jtack);;Packed builds (*.zip);;All files (*)"


#: Beside the demo build: the same engine as it was measured.
_SURVEYED = "tessary-fen-survey.jtack"


class Files(QObject):
    """The session's file. used: a file was opened or saved; said: what became of it."""

    used = pyqtSignal(Path)
    message = pyqtSignal(str)

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
        self._lock: QLockFile | None = None
        self._elsewhere = ""
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(lambda _path: self._looked_soon.start())
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
        unpacked beside it first.
        """
        try:
            if path.suffix.lower() == ".zip":
                path = unpack(path, free_folder(path.with_suffix("")))
            self._session.open(path, demo=demo)
        except (BuildFileError, SaveError) as error:
            self._notice.ask(f"Not opened. {error}.", [("Close", lambda: None)])
            return
        self._hold(None if demo else path)
        if not demo:
            self.used.emit(path)
        if self._elsewhere:
            self._notice.ask(
                f"{path.name} is open in another window of this program ({self._elsewhere}). Save here"
                " under another name, or close it there first."
            )

    def offer_recovery(self, works: Sequence[LostWork]) -> None:
        """Offer unsaved work of a window that ended without closing."""
        if not works:
            return
        work, *further = works

        def recover() -> None:
            # what was done meanwhile is asked about; the copy stays until the work is safe
            self.after_saving(take_up)

        def take_up() -> None:
            if not self._safekeeping.keeper.adopt(work.kept):
                self._notice.ask("Another window has recovered that work already.")
                return
            self._session.recover(work.build, work.path, work.fingerprint)
            self._hold(work.path)
            self._safekeeping.keep_now()

        def throw_away() -> None:
            Owned(work.kept).remove()
            self.offer_recovery(further)

        name = work.path.name if work.path else work.build.title or "a build without a name"
        self._notice.ask(
            f"The program ended with unsaved changes in “{name}”.",
            [("Recover them", recover), ("Throw away", throw_away), ("Later", lambda: None)],
        )

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
        elif self._elsewhere:
            doubt = f"{path.name} is open in another window too ({self._elsewhere})."
        if not doubt:
            self._write(path)
            return
        self._notice.ask(
            doubt,
            [
                ("Save as …", self.save_as),
                ("Save over it", lambda: self._write(path)),
                ("Leave it", lambda: None),
            ],
        )

    def save_as(self) -> None:
        """Ask for a name and save."""
        start = str(self._session.path or home() / "build.jtack")
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the build", start, _BUILDS)
        if name:
            path = Path(name)
            self._write(path if path.suffix else path.with_suffix(".jtack"))

    def _write(self, path: Path) -> None:
        before = self._session.path
        try:
            self._session.save(path)
        except SaveError as error:
            self._notice.ask(f"{error}.", [("Save as …", self.save_as), ("Close", lambda: None)])
            return
        self._hold(path)
        self.used.emit(path)
        self.message.emit(f"Saved {path.name}")
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
        """Do something that would lose unsaved changes, once the user has said what becomes of them."""
        self._session.leaving.emit()  # what is being typed is one of them
        if not self._session.is_modified:
            act()
            return

        def save_then_act() -> None:
            self.save()
            if not self._session.is_modified:
                act()

        name = self._session.build.title or "This build"
        self._notice.ask(
            f"“{name}” has changes that are not saved.",
            [("Save", save_then_act), ("Throw away", act), ("Keep editing", lambda: None)],
        )

    # the file on disk

    def _hold(self, path: Path | None) -> None:
        """Watch a file, and mark it as open here; who else has it open is remembered."""
        watched = self._watcher.files()
        if watched:
            self._watcher.removePaths(watched)
        if path is not None and path.exists():
            self._watcher.addPath(str(path))
        name = "" if path is None else str(path.parent / f".{path.name}.lock")
        if self._lock is not None:
            if self._lock.fileName() == name:
                return
            self._lock.unlock()
        self._lock, self._elsewhere = None, ""
        if path is None:
            return
        lock = QLockFile(name)
        lock.setStaleLockTime(0)  # a lock is only stale if its process has gone
        if lock.tryLock(0):
            self._lock = lock
            sweep(path)  # what a save that was killed has left beside it
        elif lock.error() == QLockFile.LockError.LockFailedError:
            process, host, _program = lock.getLockInfo()[1:]
            self._elsewhere = f"process {process} on {host}" if host else f"process {process}"

    def _look_at_disk(self) -> None:
        path = self._session.path
        if path is None:
            return
        if path.exists() and str(path) not in self._watcher.files():
            self._watcher.addPath(str(path))  # replaced whole: the watch went with the old one
        if self._session.changed_on_disk(path):
            kept = "Your changes here are not in it. " if self._session.is_modified else ""
            self._notice.ask(
                f"{path.name} was changed on disk by another program. {kept}",
                [
                    ("Open it as it is now", lambda: self.load(path)),
                    ("Keep this one", lambda: None),
                ],
            )

    def close(self) -> None:
        """Let go of the file."""
        self._hold(None)
