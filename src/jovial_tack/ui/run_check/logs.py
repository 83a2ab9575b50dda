"""The logs on the bench: up to two, read and judged off the window's thread, with progress."""

from __future__ import annotations

import contextlib
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.run_check.calibrating import calibrated, with_friction
from jovial_tack.answers.run_check.comparing import bought
from jovial_tack.answers.run_check.judging import (
    CheckedPull,
    RunCheck,
    blower_drive,
    check_run,
    drive_case,
)
from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.errors import JovialTackError, LogError
from jovial_tack.core.run_check.air import air_typed
from jovial_tack.core.run_check.points import AIR_UNKNOWN_KPA
from jovial_tack.core.run_check.pull import Pull
from jovial_tack.core.run_check.pulls import at_equal_revs
from jovial_tack.core.units import PRESSURE
from jovial_tack.document.edits.logbook import add_event
from jovial_tack.files.build_file import fingerprint_of
from jovial_tack.files.logs import Channel, LoadedLog, LogLayout, Role, read_log, survey_log
from jovial_tack.files.logs.pipe import PipeCopy, is_pipe
from jovial_tack.ui.session import Session
from jovial_tack.ui.worker import NewestOnly

_WATCH_MS = 1000
_ENOUGH_BYTES = 400  # of a pipe, to see what its columns are


def _size_of(path: Path) -> int:
    """Bytes of a file; 0 where it has gone."""
    with contextlib.suppress(OSError):
        return path.stat().st_size
    return 0


class _CancelledError(JovialTackError):
    """The user let go of the work."""


@dataclass(frozen=True)
class OpenLog:
    """A log as far as it is known: layout, what was read, what it shows, the pull looked at."""

    layout: LogLayout
    channels: Mapping[Role, Channel]
    loaded: LoadedLog | None = None
    checked: RunCheck | None = None
    problem: str | None = None
    chosen: int = 0
    air_kpa: float | None = None  # typed, where it is not logged
    confirmed: bool = False  # what was taken by its values is right

    @property
    def answers(self) -> tuple[CheckedPull, ...]:
        """What can be looked at: all pulls together first, where there are several, then each."""
        if self.checked is None:
            return ()
        pulls, answer = self.checked.pulls, self.checked.answer
        alone = answer is None or pulls == (answer,)
        return pulls if alone or answer is None else (answer, *pulls)

    @property
    def is_assumed(self) -> bool:
        """Whether a unit or a zero was only taken by its values."""
        channels = self.channels.values()
        return any(channel.unit_assumed or channel.zero_assumed for channel in channels)

    @property
    def needs_air(self) -> bool:
        """Whether the air's pressure is not in the log, so that it is asked for."""
        if self.air_kpa is not None:
            return True
        return self.loaded is not None and self.loaded.log.air_sd_kpa >= AIR_UNKNOWN_KPA

    @property
    def pull(self) -> CheckedPull | None:
        """The pull looked at, or all together."""
        return self.answers[self.chosen] if self.chosen < len(self.answers) else None


def mark_of(pull: Pull) -> Mark:
    """How a pull is marked: by boost alone slip is never more than likely."""
    if pull.slip is None:
        return "unknown"
    if not pull.slip:
        return "good"
    return "stop" if pull.confidence == "clear" else "watch"


class Logs(QObject):
    """Holds the logs. changed: something of them; progressed: what is being done, and how far."""

    changed = pyqtSignal()
    progressed = pyqtSignal(str, float)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.logs: list[OpenLog | None] = [None, None]
        self.problem: str | None = None
        self._judged_with: object = None
        self._cancelled = threading.Event()
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self._worker.failed.connect(self._failed)
        session.settled.connect(self._judge_again)
        self._pipes: dict[int, PipeCopy] = {}
        self._sizes: dict[Path, int] = {}
        self._watch = QTimer(self)
        self._watch.setInterval(_WATCH_MS)
        self._watch.timeout.connect(self.look_for_growth)

    @property
    def busy(self) -> bool:
        """Whether a log is being read or judged."""
        return self._worker.busy

    @property
    def system(self) -> str:
        """In which units figures are told: in psi where the build is in inches or the log in psi."""
        log = self.logs[0]
        channels = {} if log is None else log.loaded.channels if log.loaded else log.channels
        boost = channels.get("boost")
        in_psi = boost is not None and boost.unit == "psi"
        return "in" if in_psi else self._session.build.display_units

    @property
    def state(self) -> Mark:
        """The state of the run check: of the first log's pulls, the gravest."""
        log = self.logs[0]
        answer = None if log is None or log.checked is None else log.checked.answer
        return "unknown" if answer is None else mark_of(answer.pull)

    def open(self, path: Path, place: int = 0) -> None:
        """Open a log in the first place, or in the second to compare with it.

        One that grows is followed, and so is a named pipe: what comes out of it is kept in a file.
        """
        self._close_pipe(place)
        try:
            if is_pipe(path):
                self._pipes[place] = PipeCopy(path)
                self.logs[place] = None
                self.problem = f"{path.name}: waiting for a logger to write into it"
                self._watch.start()
                self.changed.emit()
                return
            layout = survey_log(path)
        except (JovialTackError, OSError) as error:
            self.problem = str(error)
            self.changed.emit()
            return
        self._open(layout, place)

    def _open(self, layout: LogLayout, place: int) -> None:
        self.problem = None
        self._sizes[layout.path] = _size_of(layout.path)
        self.logs[place] = OpenLog(layout, layout.channels)
        self._watch.start()
        self._submit()

    def look_for_growth(self) -> None:
        """Read again what has grown: a pull is watched as it is driven."""
        if self._worker.busy:
            return
        for place, pipe in self._pipes.items():
            if self.logs[place] is None and _size_of(pipe.path) > _ENOUGH_BYTES:
                with contextlib.suppress(JovialTackError):  # not enough of it yet
                    self._open(survey_log(pipe.path), place)
        grown = False
        for place, log in enumerate(self.logs):
            if log is None or log.layout.text is not None:
                continue
            path = log.layout.path
            size = _size_of(path)
            if size <= self._sizes.get(path, 0):
                continue
            self._sizes[path], grown = size, True
            self.logs[place] = OpenLog(log.layout, log.channels, air_kpa=log.air_kpa)
        if grown:
            self._submit()

    def _close_pipe(self, place: int) -> None:
        pipe = self._pipes.pop(place, None)
        if pipe is not None:
            pipe.close()

    def take_away(self, place: int) -> None:
        """Let go of a log."""
        self.cancel()
        self._close_pipe(place)
        self.logs[place] = None
        if place == 0:
            self.logs = [self.logs[1], None]
        self.problem = None
        self.changed.emit()

    def use(self, place: int, role: Role, channel: Channel | None) -> None:
        """Use another column, unit or zero for a role, or none."""
        log = self.logs[place]
        if log is None:
            return
        source = log.loaded.channels if log.loaded else log.channels
        channels = {r: c for r, c in source.items() if r != role}
        if channel is not None:
            channels[role] = channel
        self.logs[place] = OpenLog(log.layout, channels, air_kpa=log.air_kpa)
        self._submit()

    def confirm(self) -> None:
        """What was taken by its values in the first log is right."""
        log = self.logs[0]
        if log is not None:
            self.logs[0] = replace(log, confirmed=True)
            self.changed.emit()

    def set_air(self, text: str) -> None:
        """Judge the first log in air of a pressure or an elevation; UnitError for other text."""
        air = air_typed(text) if text.strip() else None
        log = self.logs[0]
        if log is not None and air != log.air_kpa:
            self.logs[0] = OpenLog(log.layout, log.channels, air_kpa=air)
            self._submit()

    def choose(self, place: int, pull: int) -> None:
        """Look at another pull of a log."""
        log = self.logs[place]
        if log is not None and log.chosen != pull:
            self.logs[place] = replace(log, chosen=pull)
            self.changed.emit()

    @property
    def can_calibrate(self) -> bool:
        """Whether the pull looked at tells what the blower makes while its belt holds."""
        log = self.logs[0]
        pull = log.pull if log is not None else None
        known = pull is not None and pull.pull.slip is not None and pull.pull.trace is not None
        return known and not self._session.is_read_only and self._case() is not None

    def calibrate(self) -> None:
        """Take the blower's air side from the pull looked at: one step to undo."""
        log, case = self.logs[0], self._case()
        pull = log.pull if log is not None else None
        if log is None or log.loaded is None or pull is None or case is None:
            return
        session = self._session
        try:
            build = calibrated(session.build, pull.pull, case, log.loaded.log.air_kpa)
        except JovialTackError as error:
            self.problem = str(error)
            self.changed.emit()
            return
        session.edit(f"calibrate the blower by {log.layout.path.name}", build)

    @property
    def can_take_friction(self) -> bool:
        """Whether the pull looked at means a friction that the build does not have yet."""
        pull = None if self.logs[0] is None else self.logs[0].pull
        if pull is None or pull.friction_share is None or self._session.is_read_only:
            return False
        return abs(pull.friction_share - 1.0) > 0.005 and self._case() is not None

    def take_friction(self) -> None:
        """Give the build's belt the friction with which its model slips where the log does."""
        log, case = self.logs[0], self._case()
        pull = None if log is None else log.pull
        if log is None or pull is None or case is None or not self.can_take_friction:
            return
        session = self._session
        build = with_friction(session.build, pull, case)
        session.edit(f"friction by {log.layout.path.name}", build)

    @property
    def model_onset_rpm(self) -> float | None:
        """Where the model's first pulley of the blower's drive begins to slip."""
        drive = None if self._session.is_read_only else blower_drive(self._session.build)
        if drive is None:
            return None
        pulleys = self._session.results.drive(drive).pulleys
        return min((low for pulley in pulleys for low, _ in pulley.slips_rpm), default=None)

    @property
    def bought(self) -> str | None:
        """What the second log makes more or less than the first, if both have a pull."""
        pulls = [None if log is None else log.pull for log in self.logs]
        if pulls[0] is None or pulls[1] is None:
            return None
        found = at_equal_revs(pulls[0].pull, pulls[1].pull)
        return None if found is None else bought(found, PRESSURE.shown(self.system))

    @property
    def can_keep(self) -> bool:
        """Whether there is an answer to enter in the logbook that is not in it yet."""
        log = self.logs[0]
        if log is None or log.pull is None or self._session.is_read_only:
            return False
        kept = {e.sha256 for e in self._session.build.logbook.events if e.kind == "run"}
        return fingerprint_of(log.layout.path) not in kept

    def keep(self) -> None:
        """Enter the first log in the logbook, with what it shows and its checksum: one step to undo."""
        log, session = self.logs[0], self._session
        checksum = None if log is None else fingerprint_of(log.layout.path)
        if log is None or log.pull is None or not self.can_keep:
            return
        pull = log.pull.pull
        build, _ = add_event(
            session.build,
            "run",
            date.today().isoformat(),
            drive=blower_drive(session.build),
            log=log.layout.path.name,
            sha256=checksum,
            note=pull.reason,
            onset_rpm=None if pull.onset_rpm is None else round(pull.onset_rpm, 1),
        )
        session.edit(f"keep {log.layout.path.name}", build)
        self.changed.emit()

    def _case(self) -> SolvableCase | None:
        build = self._session.build
        drive = blower_drive(build)
        if drive is None:
            return None
        try:
            return drive_case(build, drive, self._session.catalogue)
        except LogError:
            return None

    def cancel(self) -> None:
        """Stop what is being read or judged."""
        self._cancelled.set()

    def close(self) -> None:
        """Let running work end."""
        self._watch.stop()
        self.cancel()
        self._worker.finish()
        for place in list(self._pipes):
            self._close_pipe(place)

    def _judge_again(self) -> None:
        """The build has changed: what it says of the onset may be another."""
        if self.logs[0] is None or self._worker.busy or self._build_key() == self._judged_with:
            return
        self.logs = [None if log is None else replace(log, checked=None) for log in self.logs]
        self._submit()

    def _build_key(self) -> object:
        build = self._session.build
        drive = blower_drive(build)
        return None if drive is None else (build.drive(drive), build.shafts, build.engine)

    def _submit(self) -> None:
        """Read and judge the logs that are not judged yet; what runs is let go of first."""
        build, catalogue = self._session.build, self._session.catalogue
        read_only = self._session.is_read_only
        self._judged_with = self._build_key()
        self._cancelled.set()
        self._cancelled = cancelled = threading.Event()
        waiting = [(k, log) for k, log in enumerate(self.logs) if log and not log.checked]

        def part(low: float, high: float) -> Callable[[str, float], None]:
            def progress(text: str, share: float) -> None:
                if cancelled.is_set():
                    raise _CancelledError("reading was cancelled")
                self.progressed.emit(text, low + (high - low) * share)

            return progress

        def work() -> list[tuple[int, OpenLog]]:
            case = None
            drive = None if read_only else blower_drive(build)
            if drive is not None:
                with contextlib.suppress(
                    LogError
                ):  # a drive that cannot exist says nothing of slip
                    case = drive_case(build, drive, catalogue)
            return [(place, _judged(log, case, part)) for place, log in waiting]

        self._worker.submit(work)
        self.changed.emit()

    def _take(self, results: list[tuple[int, OpenLog]]) -> None:
        for place, log in results:
            now = self.logs[place]
            if now is not None and now.layout is log.layout:
                self.logs[place] = log
        self.changed.emit()

    def _failed(self, error: Exception) -> None:
        self.problem = f"the log could not be judged: {error}"
        self.changed.emit()


def _judged(
    log: OpenLog,
    case: SolvableCase | None,
    part: Callable[[float, float], Callable[[str, float], None]],
) -> OpenLog:
    """A log read (if it was not yet) and judged, or with the reason why not."""
    try:
        loaded = log.loaded or read_log(log.layout, log.channels, log.air_kpa, part(0.0, 0.6))
        checked = check_run(loaded.log, case, part(0.6, 1.0))
    except JovialTackError as error:
        return replace(log, problem=str(error))
    found = replace(log, channels=loaded.channels, loaded=loaded, checked=checked, problem=None)
    return replace(found, chosen=min(log.chosen, max(len(found.answers) - 1, 0)))
