"""Which steps there are, and which one is worked on; shared by the thread below and the step beside."""

from __future__ import annotations

from datetime import date

from PyQt6.QtCore import QObject, pyqtSignal

from jovial_tack.answers.fit_up.seen import reads_at
from jovial_tack.answers.fit_up.steps import Step, Steps, steps_of
from jovial_tack.document.edits.fit_up import tick, untick, untick_all
from jovial_tack.ui.causes import Read
from jovial_tack.ui.session import Session


class Following(QObject):
    """The steps of the present build, told anew while they are looked at."""

    changed = pyqtSignal()
    chosen_changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.steps = Steps((), ())
        self._chosen = ""
        self._is_on = False
        session.readings_changed.connect(self.tell)
        session.replaced.connect(self._begin)

    def look(self, *, on: bool) -> None:
        """Begin or cease to follow the build."""
        self._is_on = on
        if on:
            self.tell()

    @property
    def step(self) -> Step | None:
        """The one that is worked on: as chosen, else the next to be done, else the last."""
        steps = self.steps
        found = steps.step(self._chosen) or steps.next
        return found or (steps.steps[-1] if steps.steps else None)

    def read(self) -> Read | None:
        """What is seen at the step that is worked on; None while nothing is."""
        step = self.step
        figures = None if step is None else step.figures
        if step is None or figures is None or figures.span is None or step.seen is None:
            return None
        return Read(step.of[0], figures.span, reads_at(step))

    def choose(self, step_id: str) -> None:
        """Work on a step."""
        if step_id != self._chosen:
            self._chosen = step_id
            self.chosen_changed.emit()

    def go(self, way: int) -> None:
        """To the one before or after."""
        ids = [step.id for step in self.steps.steps]
        step = self.step
        if step is not None:
            self.choose(ids[min(max(ids.index(step.id) + way, 0), len(ids) - 1)])

    def toggle(self) -> None:
        """Tick the step, and go on to the next one to be done; a tick that holds is taken back."""
        step, session = self.step, self.session
        if step is None or session.is_read_only:
            return
        if step.state == "done":
            session.edit(f"untick: {step.words}", untick(session.build, step.id))
            self._chosen = step.id
            self.tell()
            return
        made = tick(session.build, step.id, step.stamp, date.today().isoformat())
        session.edit(f"tick: {step.words}", made)
        self.tell()
        self._go_on(step)

    def _go_on(self, step: Step) -> None:
        """To the next step that is to be done, behind this one if there is one."""
        ids = [each.id for each in self.steps.steps]
        place = ids.index(step.id) if step.id in ids else -1
        left = [each for each in self.steps.steps if each.state != "done"]
        behind = [each for each in left if ids.index(each.id) > place]
        following = behind or left
        self._chosen = following[0].id if following else step.id
        self.chosen_changed.emit()

    def begin_anew(self) -> None:
        """Take all ticks back."""
        session = self.session
        if session.build.fit_up.done and not session.is_read_only:
            session.edit("untick all steps", untick_all(session.build))
            self._chosen = ""
            self.tell()

    def _begin(self) -> None:
        self._chosen = ""

    def tell(self) -> None:
        """Tell the steps anew, while they are looked at or some are done: a change then shows on the
        rail.
        """
        session, before = self.session, self.steps
        if self._is_on or session.build.fit_up.done:
            self.steps = steps_of(session.build, session.results, session.catalogue)
        else:
            self.steps = Steps((), ())
        if self._is_on or self.steps != before:
            self.changed.emit()
