"""Undo as the list of earlier builds, each with the name of the edit that led away from it."""

from __future__ import annotations

from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Build

_MOST = 1000


class Step(Value, frozen=True):
    """A build and the label of the edit that made it."""

    label: str
    build: Build


class History(Value, frozen=True):
    """An immutable history; `at` is the place of the present build in `steps`."""

    steps: tuple[Step, ...]
    at: int = 0

    @staticmethod
    def of(build: Build) -> History:
        """A history that starts with a build."""
        return History((Step("", build),))

    @property
    def build(self) -> Build:
        """The present build."""
        return self.steps[self.at].build

    @property
    def undo_label(self) -> str | None:
        """Name of the edit undo would take back; None at the start."""
        return self.steps[self.at].label if self.at > 0 else None

    @property
    def redo_label(self) -> str | None:
        """Name of the edit redo would make again; None at the end."""
        return self.steps[self.at + 1].label if self.at + 1 < len(self.steps) else None

    def edited(self, label: str, build: Build) -> History:
        """With one more edit; what had been undone is dropped. An edit without effect adds nothing."""
        if build == self.build:
            return self
        steps = (*self.steps[: self.at + 1], Step(label, build))[-_MOST:]
        return History(steps, len(steps) - 1)

    def undone(self) -> History:
        """One edit back; the same history at the start."""
        return replace(self, at=max(self.at - 1, 0))

    def redone(self) -> History:
        """One edit forward; the same history at the end."""
        return replace(self, at=min(self.at + 1, len(self.steps) - 1))
