"""What is computed of the build that is shown: at once without the searches, then whole, then advice.

At once is in the window's thread, for all that follows the pointer. The whole follows from a worker
when no edit came for a moment, and what is worth doing about it from another, since it takes longer.
"""

from __future__ import annotations

import logging
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jovial_tack.answers.belt.order import OrderedBelt, belts_to_order
from jovial_tack.answers.drive.solve import Solution, solve_again
from jovial_tack.answers.drive.solved import shown_speeds
from jovial_tack.answers.mending import mended, mends_of
from jovial_tack.answers.mending.mends import Key
from jovial_tack.answers.results import DriveResult, Mend, PlateResult, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError, JovialTackError
from jovial_tack.core.value import replace
from jovial_tack.document.loading import is_newer
from jovial_tack.document.model import Build
from jovial_tack.files.needed import missing_in
from jovial_tack.ui.worker import NewestOnly

log = logging.getLogger(__name__)

_QUIET_MS = 120


@dataclass(frozen=True)
class _Deep:
    """What the worker returns."""

    build: Build
    solution: Solution


@dataclass(frozen=True)
class _Plates:
    """Bracket plates worked out, and what of a build and its results they hang on."""

    of: tuple[object, ...] = ()
    each: tuple[PlateResult, ...] = ()


@dataclass(frozen=True)
class _Advice:
    """What the second worker returns."""

    build: Build
    orders: Mapping[str, OrderedBelt | None]
    mends: Mapping[Key, tuple[Mend, ...]]


class Solving(QObject):
    """The results of one build after another. See the module's text."""

    deepened = pyqtSignal()  # the whole results of the present build are in
    plated = pyqtSignal()  # its bracket plates are worked out
    advised = pyqtSignal()  # its orders and mends are in
    failed = pyqtSignal(str)

    def take_catalogue(self, catalogue: Catalogue) -> None:
        """Go on with other figures, of which none moves what is solved."""
        self._catalogue = catalogue

    def __init__(self, catalogue: Catalogue, parent: QObject) -> None:
        super().__init__(parent)
        self._catalogue = catalogue
        self._build: Build | None = None
        self._solution = Solution(Results(()))
        self._mended: Results | None = None
        #: plates are worked out with the whole; until then they are those of a moment ago
        self._plates = _Plates()
        self._shown: tuple[Results | None, _Plates, Results] = (None, self._plates, Results(()))
        #: the belts to order, by drive; of an earlier build until those of the present one are in
        self.orders: Mapping[str, OrderedBelt | None] = {}
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take_deep)
        self._worker.failed.connect(self._not_deepened)
        self._plater = NewestOnly(self)
        self._plater.done.connect(self._take_plates)
        self._plater.failed.connect(self._not_deepened)
        self._adviser = NewestOnly(self)
        self._adviser.done.connect(self._take_advice)
        self._adviser.failed.connect(self._not_deepened)
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.setInterval(_QUIET_MS)
        self._quiet.timeout.connect(self._deepen)

    @property
    def results(self) -> Results:
        """Results of the present build."""
        own = self._mended or self._solution.results
        if not self._plates.each:
            return own
        if self._shown[0] is not own or self._shown[1] is not self._plates:
            shown = replace(own, plates=self._plates.each)
            self._shown = own, self._plates, shown
        return self._shown[2]

    @property
    def is_settled(self) -> bool:
        """Whether the whole results and the advice belong to the present build."""
        return not (self._quiet.isActive() or self._adviser.busy) and self.has_plates

    @property
    def has_plates(self) -> bool:
        """Whether what is told of bracket plates is of the present build."""
        return not (self._quiet.isActive() or self._worker.busy or self._plater.busy)

    def begin_anew(self) -> None:
        """Forget the build before: nothing of another one is taken over."""
        self._solution, self._mended, self.orders = Solution(Results(())), None, {}
        self._plates = _Plates()

    def solve(self, build: Build, rpm: float) -> None:
        """Solve a build at once, and whole when it has been quiet. rpm: the speed shown."""
        self.solve_at_once(build, rpm)
        if not is_newer(build):
            self._worker.drop()
            self._adviser.drop()
            self._plater.drop()
            self._quiet.start()

    def solve_at_once(self, build: Build, rpm: float, further: Sequence[float] = ()) -> None:
        """Solve at idle, cruise, redline, the speed shown and further ones, without the searches."""
        self._build, engine = build, build.engine
        if is_newer(build):
            self._solution, self._mended = _unsolved(build), None
            return
        own = {engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm, rpm}
        listed = tuple(sorted(own.union(further)))
        self._mended = None
        try:
            self._solution = solve_again(build, listed, self._catalogue, self._solution, live=True)
        except Exception as error:  # the window goes on, and undo leads back
            log.exception("this state was not computed")
            self._solution = _unsolved(build)
            self.failed.emit(f"This state could not be computed ({_in_a_line(error)}); undo it.")

    def solved_whole(self, build: Build) -> Results:
        """The whole results of a build now, at all its speeds."""
        speeds = shown_speeds(build.engine)
        return solve_again(build, speeds, self._catalogue, self._solution).results

    def try_out(self, build: Build, name: str) -> None:
        """Raise BuildFileError for a build that cannot be computed, before it is shown."""
        if is_newer(build):
            return
        try:
            solve_again(build, None, self._catalogue, None, live=True)
        except Exception as error:
            log.exception("not opened: %s", name)
            raise BuildFileError(
                "", f"{name}: it cannot be computed ({_in_a_line(error)})"
            ) from None

    def _deepen(self) -> None:
        build, before, catalogue = self._build, self._solution, self._catalogue
        assert build is not None
        check_cancelled, speeds = self._worker.check_cancelled, shown_speeds(build.engine)

        def work() -> _Deep:
            solution = solve_again(
                build, speeds, catalogue, before, check_cancelled=check_cancelled
            )
            return _Deep(build, solution)

        self._worker.submit(work)

    def _take_deep(self, deep: _Deep) -> None:
        if deep.build is not self._build:
            return
        self._solution, self._mended = deep.solution, None
        self.deepened.emit()
        if deep.build is self._build:  # what it brought about may have been an edit
            self._plate(deep)
            self._advise(deep)

    def _plate(self, deep: _Deep) -> None:
        """Work out the bracket plates; those of before stand where nothing they hang on has changed."""
        build, solution, catalogue = deep.build, deep.solution, self._catalogue
        of = _plates_hang_on(build, solution)
        if not build.plates:
            self._plates = _Plates()
            return
        same = len(of) == len(self._plates.of) and all(
            now is then for now, then in zip(of, self._plates.of, strict=True)
        )
        if same:
            return
        check_cancelled = self._plater.check_cancelled

        def work() -> _Plates:
            from jovial_tack.answers.line_up.plate_told import told_plates

            return _Plates(of, told_plates(build, solution.results, catalogue, check_cancelled))

        self._plater.submit(work)

    def _take_plates(self, plates: _Plates) -> None:
        self._plates = plates
        self.plated.emit()

    def _advise(self, deep: _Deep) -> None:
        build, solution, catalogue = deep.build, deep.solution, self._catalogue
        check_cancelled = self._adviser.check_cancelled

        def work() -> _Advice:
            orders = belts_to_order(build, catalogue, check_cancelled=check_cancelled)
            mends = mends_of(build, catalogue, solution, orders, check_cancelled)
            return _Advice(build, orders, mends)

        self._adviser.submit(work)

    def _take_advice(self, advice: _Advice) -> None:
        if advice.build is not self._build:
            return
        self.orders = advice.orders
        self._mended = mended(self._solution.results, advice.mends, advice.build.display_units)
        self.advised.emit()

    def _not_deepened(self, error: Exception) -> None:
        if isinstance(error, ImportError) and missing_in(error):
            return  # what is out of use was told at the start
        self.failed.emit(f"the reserve could not be worked out: {error}")

    def close(self) -> None:
        """Let running work end."""
        self._quiet.stop()
        self._worker.finish()
        self._plater.finish()
        self._adviser.finish()


def _plates_hang_on(build: Build, solution: Solution) -> tuple[object, ...]:
    """What of a build and its drives bracket plates hang on."""
    parts = (build.plates, build.bosses, build.stacks, build.shafts, build.obstacles)
    return (*parts, build.drives, build.display_units, *solution.own.drives)


def _unsolved(build: Build) -> Solution:
    """Results of a build of which nothing is computed."""
    return Solution(Results(tuple(DriveResult(drive.id, ()) for drive in build.drives)))


def _in_a_line(error: Exception) -> str:
    first = (str(error).splitlines() or [""])[0][:160]
    return first if isinstance(error, JovialTackError) else f"{type(error).__name__}: {first}"
