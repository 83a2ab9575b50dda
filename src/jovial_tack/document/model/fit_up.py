"""What was done on the engine, and the builder's own notes on it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from jovial_tack.document.model.base import Amount, AmountOrZero, Degrees, Name, Part, seal, unique
from jovial_tack.document.model.logbook import Day

#: What holds a thread: the builder's own word for how strongly, never a brand.
Lock = Annotated[str, Meta(max_length=60)]


class SeenThen(Part, frozen=True, kw_only=True):
    """What was seen at a step: the arm's angle or share of travel, a tone, what a push gave."""

    arm_angle_deg: Degrees | None = None
    travel_share: Annotated[float, Meta(ge=0, le=1)] | None = None
    tone_hz: AmountOrZero | None = None


class DoneStep(Part, frozen=True, kw_only=True):
    """A step that was ticked: on what the build was then (stamp), and on what day."""

    stamp: Annotated[str, Meta(pattern="^[0-9a-f]{12}$")]
    at: Day
    note: Annotated[str, Meta(max_length=2000)] = ""


class OwnStep(Part, frozen=True, kw_only=True):
    """A step of the builder's own, after and before others, by their ids."""

    id: Name
    words: Annotated[str, Meta(min_length=1, max_length=500)]
    after: Annotated[tuple[Name, ...], Meta(max_length=200)] = ()
    before: Annotated[tuple[Name, ...], Meta(max_length=200)] = ()


class FitUp(Part, frozen=True, kw_only=True):
    """Steps done, by their ids, what was seen at them, and steps of the builder's own.

    Steps that are not in the build any more are kept, and count for nothing.
    """

    done: Mapping[Name, DoneStep] = {}
    read: Mapping[Name, SeenThen] = {}
    own: Annotated[tuple[OwnStep, ...], Meta(max_length=200)] = ()

    def __post_init__(self) -> None:
        unique([step.id for step in self.own], "own", "id")
        seal(self, "done")
        seal(self, "read")


class TorqueNote(Part, frozen=True, kw_only=True):
    """The builder's own note for the fasteners of a step: torque, how the thread was, what locks it.

    step: the id of the step, under “for” in the file.
    """

    step: Name = msgspec.field(name="for")
    nm: Amount | None = None
    lubricant: Literal["dry", "oiled", "greased"] | None = None
    lock: Lock = ""
    left_hand: bool = False
    note: Annotated[str, Meta(max_length=500)] = ""
