"""The survey of the open build: adjusted at once as a figure is typed, searched on a worker after."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jovial_tack.answers.drive.surveyed import Surveyed, surveyed
from jovial_tack.answers.survey.told import ToldSurvey, tell_survey
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import JovialTackError
from jovial_tack.document.model import Build
from jovial_tack.ui.session import Session
from jovial_tack.ui.worker import NewestOnly

_LATER_MS = 250
_Of = tuple[object, ...]
_Answer = tuple[_Of, Surveyed | None, ToldSurvey | None]


class Readings(QObject):
    """What the survey says of the present build, kept up to date while somebody looks.

    changed: something else is said. pending: other arrangements, doubts and the next reading are still
    looked for. chosen: the reading that is looked at, by its place.
    """

    changed = pyqtSignal()
    chosen_changed = pyqtSignal()

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.found: Surveyed | None = None
        self.told: ToldSurvey | None = None
        self.problem = ""
        self.pending = False
        self.chosen: int | None = None
        self._looking = False
        self._of: _Of = ()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_LATER_MS)
        self._later.timeout.connect(self._search)
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self._worker.failed.connect(self._fail)
        session.build_changed.connect(lambda: self._follow())
        session.replaced.connect(self._start_over)

    def look(self, *, on: bool) -> None:
        """Somebody looks, or nobody any more."""
        self._looking = on
        if on:
            self._follow()

    def choose(self, place: int | None) -> None:
        """Look at another reading."""
        if place != self.chosen:
            self.chosen = place
            self.chosen_changed.emit()

    def close(self) -> None:
        """Let running work end."""
        self._later.stop()
        self._worker.finish()

    def _start_over(self) -> None:
        self.found = self.told = None
        self._of = ()
        self.choose(None)
        # one that was opened is looked at once, for the mark of its station
        self._follow(opened=bool(self.session.build.survey.readings))

    @property
    def is_current(self) -> bool:
        """Whether what is said is of the present build."""
        return _is_same(_parts(self.session.build), self._of)

    def _follow(self, *, opened: bool = False) -> None:
        build = self.session.build
        of = _parts(build)
        if not (self._looking or opened) or _is_same(of, self._of):
            return
        if build is not self.session.history.build:
            return  # what is dragged was measured where it was: it is followed when it is let go
        self._of = of
        count = len(build.survey.readings)
        if self.chosen is not None and self.chosen >= count:
            self.choose(None)
        self._at_once(build)
        self.pending = self.found is not None
        self.changed.emit()
        self._worker.drop()
        # what is typed is drawn first: a search takes its share of the interpreter
        self._later.start()

    def _search(self) -> None:
        """Look for what takes longer, of the build as it is by now."""
        of, build, catalogue = self._of, self.session.history.build, self.session.catalogue
        if self.pending and _is_same(of, _parts(build)):
            self._worker.submit(lambda: (of, *_searched(build, catalogue)))

    def _at_once(self, build: Build) -> None:
        """From the places of the last time, without a search: as fast as one types."""
        begin = None
        if self.found is not None:
            begin = dict(zip(self.found.built.names, self.found.places.tolist(), strict=True))
        catalogue = self.session.catalogue
        try:
            self.found = surveyed(build, catalogue, begin, search=False)
            self.told = (
                None
                if self.found is None
                else tell_survey(build, catalogue, self.found, ahead=False)
            )
            self.problem = ""
        except JovialTackError as error:
            self.found, self.told, self.problem = None, None, str(error)

    def _take(self, answer: _Answer) -> None:
        of, found, told = answer
        if _is_same(of, self._of):  # another build may have an empty survey as well
            self.found, self.told = found, told
            self.pending = False
            self.changed.emit()

    def _fail(self, error: Exception) -> None:
        self.pending = False
        self.problem = str(error)
        self.changed.emit()


def _parts(build: Build) -> _Of:
    """The parts of a build that its survey depends on."""
    return build.survey, build.shafts, build.drives, build.logbook, build.display_units


def _is_same(one: _Of, other: _Of) -> bool:
    return len(one) == len(other) and all(a is b for a, b in zip(one, other, strict=True))


def _searched(build: Build, catalogue: Catalogue) -> tuple[Surveyed | None, ToldSurvey | None]:
    found = surveyed(build, catalogue)
    return found, None if found is None else tell_survey(build, catalogue, found)
