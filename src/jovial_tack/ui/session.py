"""The session: the present build, its history, what is selected and what was computed.

Widgets read from it and write only by handing it an edit, which is solved at once (`solving`).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

from PyQt6.QtCore import QObject, pyqtSignal

from jovial_tack.answers.doubts import doubts_of
from jovial_tack.answers.drive.solved import shown_speeds
from jovial_tack.answers.results import Results
from jovial_tack.answers.verdicts import Verdict, verdicts
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.engine import empty_build, set_units
from jovial_tack.document.history import History
from jovial_tack.document.loading import is_newer
from jovial_tack.document.model import Build
from jovial_tack.document.targets import NOTHING, Target
from jovial_tack.files.build_file import fingerprint_of, read_build, write_build
from jovial_tack.sheets import Shown, exists
from jovial_tack.ui.solving import Solving
from jovial_tack.ui.soon import Soon

__all__ = ["Baseline", "Session", "Target"]

Verdicts = tuple[Verdict, Verdict, Verdict, Verdict]

_LIVE_SPEEDS = 14


@dataclass(frozen=True)
class Baseline:
    """A state pinned to compare with: the build, its full results, and what undo called it then."""

    build: Build
    results: Results
    label: str


class Session(QObject):
    """One open build. See the module's text."""

    build_changed = pyqtSignal()
    results_changed = pyqtSignal()
    # the same at the pace of reading: for all that is not the front view
    readings_changed = pyqtSignal()
    selection_changed = pyqtSignal()
    asked = pyqtSignal(str)
    leaving = pyqtSignal()  # what is being typed must be taken before what follows
    hover_changed = pyqtSignal()
    rpm_changed = pyqtSignal()
    baseline_changed = pyqtSignal()
    units_changed = pyqtSignal()  # whether figures are shown in both units
    settled = pyqtSignal()  # the deep results of the present build are in
    advised = pyqtSignal()  # orders and mends of the present build are in
    replaced = pyqtSignal()  # another build was opened or begun
    saved = pyqtSignal()  # it is in its file now
    letting_go = pyqtSignal()  # unsaved work is about to be replaced by another build
    failed = pyqtSignal(str)

    def __init__(self, catalogue: Catalogue, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.catalogue = catalogue
        self.path: Path | None = None
        self.remarks: tuple[str, ...] = ()
        self._fingerprint: str | None = None
        self._file_gone = False
        self._selection: Target = NOTHING
        #: what was selected before, for what is done between two parts
        self.selected_before: Target = NOTHING
        self._hovered: Target = NOTHING
        self._rpm: float | None = None
        self._baseline: Baseline | None = None
        self._both_units = False
        #: whether what is drawn over the revs is in sight and must follow while something moves
        self.revs_shown = False
        self._preview: Build | None = None
        self._judged: Verdicts
        self._judged_of: tuple[object, object, object] = (None, None, None)
        #: what is computed of the build
        self.solving = Solving(catalogue, self)
        self.solving.deepened.connect(self._take_deep)
        self.solving.plated.connect(self.results_changed)
        self.solving.advised.connect(self._take_advice)
        self.solving.failed.connect(self.failed)
        #: the pace at which all but the front view follows
        self.reading = Soon(self._read, self)
        self.results_changed.connect(self.reading)
        self._begin(empty_build(catalogue.version))

    # what widgets read

    @property
    def build(self) -> Build:
        """The present build; while something is dragged, as it would be."""
        return self._preview or self._history.build

    def take_catalogue(self, catalogue: Catalogue) -> None:
        """Go on with other own figures, of which none moves what is solved."""
        self.catalogue = catalogue
        self.solving.take_catalogue(catalogue)

    @property
    def history(self) -> History:
        """The undo history."""
        return self._history

    @property
    def results(self) -> Results:
        """Results of the present build."""
        return self.solving.results

    @property
    def verdicts(self) -> Verdicts:
        """The four verdicts of the present build."""
        of = self.build, self.results, self.solving.orders
        if any(now is not then for now, then in zip(of, self._judged_of, strict=True)):
            here = {drive.id for drive in self.build.drives}  # the orders may be of an earlier one
            orders = {name: order for name, order in of[2].items() if name in here}
            self._judged = verdicts(self.build, self.results, orders, self.catalogue)
            self._judged_of = of
        return self._judged

    @property
    def is_doubtful(self) -> bool:
        """Whether a figure of the present build is asked about."""
        return bool(doubts_of(self.build, self.catalogue))

    @property
    def selection(self) -> Target:
        """What is selected; NOTHING is the engine as a whole."""
        return self._selection

    @property
    def hovered(self) -> Target:
        """What the pointer is over, in whichever view."""
        return self._hovered

    @property
    def view(self) -> Shown[Any]:
        """What is selected, with its results at the engine speed shown."""
        moving = self._preview is not None
        return Shown(self.build, self.results, self._selection, self.rpm, self.catalogue, moving)

    @property
    def baseline(self) -> Baseline | None:
        """The pinned state, if there is one."""
        return self._baseline

    @property
    def baseline_view(self) -> Shown[Any] | None:
        """What is selected as it was when pinned; None if it was not there or nothing is pinned."""
        pinned = self._baseline
        if pinned is None or not exists(pinned.build, self._selection):
            return None
        return Shown(pinned.build, pinned.results, self._selection, self.rpm, self.catalogue)

    @property
    def both_units(self) -> bool:
        """Whether figures are shown in their other unit too."""
        return self._both_units

    @property
    def rpm(self) -> float:
        """The engine speed that is shown; redline unless another was chosen."""
        engine = self.build.engine
        chosen = engine.redline_rpm if self._rpm is None else self._rpm
        return min(max(chosen, engine.idle_rpm), engine.redline_rpm)

    @property
    def speeds(self) -> tuple[float, ...]:
        """The engine speeds that can be shown."""
        return shown_speeds(self.build.engine)

    @property
    def is_settled(self) -> bool:
        """Whether the deep results belong to the present build."""
        return self.solving.is_settled

    @property
    def is_modified(self) -> bool:
        """Whether there is something to save; also where its file is gone."""
        return self._recovered or self._file_gone or self._history.build != self._saved

    @property
    def is_file_gone(self) -> bool:
        """Whether the file was deleted, or cannot be reached any more."""
        return self._file_gone

    def mark_file_gone(self, gone: bool) -> None:
        """Tell that the file is gone, or is there again."""
        if gone != self._file_gone:
            self._file_gone = gone
            self.build_changed.emit()

    @property
    def is_untouched(self) -> bool:
        """Whether this is an empty build in which nobody has done anything yet."""
        return not self.is_modified and self.path is None and len(self.build.shafts) <= 1

    @property
    def is_read_only(self) -> bool:
        """A file of a newer version can only be looked at."""
        return is_newer(self._history.build)

    # files

    def new(self, build: Build | None = None) -> None:
        """Begin with an empty build, or with a layout to start from, in the units now shown."""
        fresh = build or empty_build(self.catalogue.version)
        self._begin(_shown_in(fresh, self._history.build.display_units))

    def begin_in(self, unit: Literal["mm", "in"]) -> None:
        """Show an empty build that nobody has touched in a unit of length."""
        if self.is_untouched:
            build = _shown_in(self.history.build, unit)
            self._history: History = History.of(build)
            self._saved = build
            self._changed()

    def open(self, path: Path, *, demo: bool = False) -> None:
        """Open a build file. Raises BuildFileError; the present build then stays."""
        loaded = read_build(path, self.catalogue)
        self.solving.try_out(loaded.build, path.name)
        if demo:  # a beginning like any other: in the units now shown
            shown = self._history.build.display_units
            build = _shown_in(loaded.build, shown)
            self._begin(build, None, loaded.fingerprint, loaded.remarks)
        else:
            self._begin(loaded.build, path, loaded.fingerprint, loaded.remarks)

    @property
    def fingerprint(self) -> str | None:
        """Fingerprint of the file as it was opened or saved here."""
        return self._fingerprint

    def recover(self, build: Build, path: Path | None, fingerprint: str | None = None) -> None:
        """Take up unsaved work again: it belongs to a file, and is not saved in it yet.

        fingerprint: of that file when the work was kept; what was written since is then noticed.
        """
        if fingerprint is None and path is not None:
            fingerprint = fingerprint_of(path)
        self._begin(build, path, fingerprint)
        self._recovered = True
        self.build_changed.emit()

    def save(self, path: Path) -> None:
        """Save to a file. Raises SaveError; the file on disk is then as it was."""
        self.leaving.emit()
        self._fingerprint = write_build(self._history.build, path)
        self.path = path
        self._saved = self._history.build
        self._recovered = self._file_gone = False
        self.saved.emit()
        self.build_changed.emit()

    def changed_on_disk(self, path: Path) -> bool:
        """Whether another hand wrote this file since it was opened or saved here."""
        if path != self.path:
            return False
        on_disk = fingerprint_of(path)
        return on_disk is not None and on_disk != self._fingerprint

    def _begin(
        self,
        build: Build,
        path: Path | None = None,
        fingerprint: str | None = None,
        remarks: tuple[str, ...] = (),
    ) -> None:
        self.letting_go.emit()
        self._history = History.of(build)
        self._saved = build
        self._recovered = self._file_gone = False
        self._preview = None
        self._selection = NOTHING
        self.path, self._fingerprint, self.remarks = path, fingerprint, remarks
        self._rpm = None
        self._hovered = NOTHING
        self._baseline = None
        self.solving.begin_anew()
        self.solving.solve(self.build, self.rpm)
        self.replaced.emit()
        self.baseline_changed.emit()
        self.build_changed.emit()
        self.selection_changed.emit()
        self.results_changed.emit()

    # edits

    def edit(self, label: str, build: Build) -> None:
        """Take over an edited build as one undo step."""
        if self.is_read_only:
            self.drop_preview()
            return
        self._preview = None
        self._history = self._history.edited(label, build)
        self._changed()

    def attempt(self, label: str, make: Callable[[Build], Build]) -> bool:
        """Make an edit that may be refused; a refusal is told. Returns whether it was made."""
        try:
            build = make(self.build)
        except BuildFileError as error:
            self.refuse(error)
            return False
        self.edit(label, build)
        return True

    def refuse(self, error: BuildFileError) -> None:
        """Tell that an edit was refused, which is before it changed anything."""
        self.failed.emit(f"This cannot be done: it needs {error.expected}. Nothing was changed.")

    def preview(self, build: Build) -> None:
        """Show a build while something is dragged; it is not part of the history yet."""
        if not self.is_read_only:
            self._preview = build
            self._changed()

    def commit_preview(self, label: str) -> None:
        """Make what is previewed one undo step."""
        if self._preview is not None:
            self.edit(label, self._preview)

    def drop_preview(self) -> None:
        """Let go of what is previewed."""
        if self._preview is not None:
            self._preview = None
            self._changed()

    def undo(self) -> None:
        """One edit back; selection and view stay."""
        self.leaving.emit()
        self._preview = None
        self._history = self._history.undone()
        self._changed()

    def redo(self) -> None:
        """One edit forward."""
        self.leaving.emit()
        self._preview = None
        self._history = self._history.redone()
        self._changed()

    def select(self, target: Target) -> None:
        """Select something, or nothing with NOTHING or what is not there (any more)."""
        self.leaving.emit()
        target = target if exists(self.build, target) else NOTHING
        if target != self._selection:
            if self._selection != NOTHING:
                self.selected_before = self._selection
            self._selection = target
            self.selection_changed.emit()

    def hover(self, target: Target) -> None:
        """Light something in every view, or nothing with NOTHING."""
        if target != self._hovered:
            self._hovered = target
            self.hover_changed.emit()

    def show_rpm(self, rpm: float) -> None:
        """Show another engine speed: the nearest of `speeds`."""
        nearest = min(self.speeds, key=lambda speed: abs(speed - rpm))
        if nearest != self.rpm:
            self._rpm = nearest
            if any(nearest not in drive.rpm for drive in self.results.drives):
                self.solving.solve(self.build, self.rpm)
            self.rpm_changed.emit()

    def pin_baseline(self) -> None:
        """Pin the present state: figures then show how far they have moved from it."""
        build = self._history.build
        if is_newer(build):
            return
        results = self.solving.solved_whole(build)
        self._baseline = Baseline(build, results, self._history.undo_label or "as opened")
        self.baseline_changed.emit()

    def drop_baseline(self) -> None:
        """Compare with nothing."""
        self._baseline = None
        self.baseline_changed.emit()

    def show_both_units(self, both: bool) -> None:
        """Show figures in their other unit too, or not."""
        self._both_units = both
        self.units_changed.emit()

    # solving

    def _changed(self) -> None:
        self.solving.solve(self.build, self.rpm)
        if not exists(self.build, self._selection):
            self.select(NOTHING)
        self.build_changed.emit()
        self.results_changed.emit()

    def _read(self) -> None:
        """Have all but the front view follow; what is drawn over the revs needs them solved first."""
        if self.revs_shown:
            every = self.speeds
            few = every[:: max(1, len(every) // _LIVE_SPEEDS)]
            self.solving.solve_at_once(self.build, self.rpm, few)
        self.readings_changed.emit()

    def _take_deep(self) -> None:
        self.results_changed.emit()
        self.settled.emit()

    def _take_advice(self) -> None:
        self.readings_changed.emit()
        self.advised.emit()

    def close(self) -> None:
        """Let running work end."""
        self.solving.close()


def _shown_in(build: Build, unit: Literal["mm", "in"]) -> Build:
    """A build shown in a unit of length."""
    return build if build.display_units == unit else set_units(build, unit)
