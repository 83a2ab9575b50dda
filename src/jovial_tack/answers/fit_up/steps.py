"""The steps of fitting a build up, in order, with what they say and whether they are done."""

from __future__ import annotations

from typing import Literal

from jovial_tack.answers.fit_up.compare import Compared, compared
from jovial_tack.answers.fit_up.graph import Node, nodes_of, waits_for
from jovial_tack.answers.fit_up.stamps import stamped
from jovial_tack.answers.fit_up.wording import asks_of, cautions_of, looks_of, words_of
from jovial_tack.answers.results import Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.fit_up.order import in_order
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, DoneStep, SeenThen, TorqueNote, dump
from jovial_tack.document.targets import Target

State = Literal["open", "done", "again"]
#: At which kinds figures are compared, and which are looked at again where another turned to again.
_COMPARED, _LOOKED_AT = ("tension", "recheck", "first"), ("belt", "tension", "recheck")


class Step(Value, frozen=True):
    """One step as it is told. look_again: something its drive hangs on was changed since; asks: what it
    asks for that would not be as it should, as findings of the noise finder.
    """

    id: str
    kind: str
    of: tuple[str, ...]
    words: str
    cautions: tuple[str, ...]
    looks: tuple[str, ...]
    after: tuple[str, ...]
    about: tuple[Target, ...]
    stamp: str
    state: State
    look_again: bool
    figures: Compared | None
    done: DoneStep | None
    seen: SeenThen | None
    torque: TorqueNote | None
    asks: tuple[str, ...] = ()


class Steps(Value, frozen=True):
    """All steps in order, and the loops among them by the ids of their members."""

    steps: tuple[Step, ...]
    loops: tuple[tuple[str, ...], ...]

    def step(self, step_id: str) -> Step | None:
        """The step of an id; None if there is none."""
        return next((step for step in self.steps if step.id == step_id), None)

    @property
    def next(self) -> Step | None:
        """The first that is to be done, or done again."""
        return next((step for step in self.steps if step.state != "done"), None)


def steps_of(build: Build, results: Results, catalogue: Catalogue) -> Steps:
    """Tell the steps of a build. results: as solved, for the figures to compare."""
    telling = _Telling(build, results, catalogue)
    ranks = {node.id: node.rank for node in telling.nodes.values()}
    ordered = in_order(telling.waits, ranks)
    return Steps(tuple(telling.told(name) for name in ordered.names), ordered.loops)


_OF_SHAFTS = ("threads", "unit", "mount", "mount_adjuster", "jam", "last")
_OF_DRIVES = ("pulley", "align", "belt", "tension", "fixing", "recheck", "first")


class _Telling:
    """All that the steps of one build are told by."""

    def __init__(self, build: Build, results: Results, catalogue: Catalogue) -> None:
        self._build, self._results, self._catalogue = build, results, catalogue
        nodes, plain = nodes_of(build, catalogue), dump(build)
        self.nodes = {node.id: node for node in nodes}
        self.waits = waits_for(build, nodes)
        self._stamps = {node.id: stamped(plain, node.depends) for node in nodes}
        self._torques = {note.step: note for note in build.notes_torque}
        self._stale = {
            drive
            for node in nodes
            if self._state(node.id) == "again"
            for drive in self._drives(node)
        }

    def _state(self, name: str) -> State:
        done = self._build.fit_up.done.get(name)
        if done is None:
            return "open"
        return "done" if done.stamp == self._stamps[name] else "again"

    def _drives(self, node: Node) -> set[str]:
        """The drives a step is of: its own, or those its shaft or bracket serves."""
        build = self._build
        if node.kind in _OF_DRIVES:
            return {node.of[0]}
        shafts = set(node.of) if node.kind in _OF_SHAFTS else set()
        if node.kind == "bracket":
            shafts = set(build.bracket(node.of[0]).shafts)
        return {d.id for d in build.drives for p in d.pulleys if p.shaft in shafts}

    def _looks_again(self, node: Node) -> bool:
        if self._state(node.id) != "done":
            return False
        if node.kind == "turn":
            return bool(self._stale)
        return node.kind in _LOOKED_AT and node.of[0] in self._stale

    def told(self, name: str) -> Step:
        """One step."""
        build, node, figures = self._build, self.nodes[name], None
        if node.kind in _COMPARED:
            figures = compared(build, self._results.drive(node.of[0]))
        return Step(
            node.id,
            node.kind,
            node.of,
            words_of(build, node),
            cautions_of(build, node, self._catalogue),
            looks_of(build, node),
            self.waits[name],
            node.about,
            self._stamps[name],
            self._state(name),
            self._looks_again(node),
            figures,
            build.fit_up.done.get(name),
            build.fit_up.read.get(name),
            self._torques.get(name),
            asks_of(build, node),
        )
