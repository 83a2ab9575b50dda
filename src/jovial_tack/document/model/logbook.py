"""What was tried and read, with its date: the logbook's events."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from jovial_tack.document.model.base import (
    AmountOrZero,
    Degrees,
    Name,
    Part,
    SizeMm,
    unique,
)

EventKind = Literal[
    "reading",
    "belt_tried",
    "fitted",
    "removed",
    "tension_check",
    "inspection",
    "run",
    "cost",
    "bearing",
    "tensioner",
    "engine_locked",
    "note",
]
Day = Annotated[str, Meta(pattern=r"^[0-9]{4}-[0-9]{2}-[0-9]{2}$")]


class Event(Part, frozen=True, kw_only=True):
    """One thing that happened; which figures it has depends on its kind.

    at: the day, as typed. drive: may be gone by now. Of a reading: the way it was taken, what was read
    (mm, or teeth), the thickness of tape or string, one standard deviation. Of a belt tried: its number
    and effective length, where the adjuster came to stand, and what came of it. Of a tension check: the
    span that was pushed, plucked or twisted (the pulley it leaves), push and play, tone, or the torque
    of a quarter turn, and the tension that means. Of a run: the name and checksum of its log, and the
    onset of slip that was found in it.
    """

    id: Name
    at: Day
    kind: EventKind
    drive: Name | None = None
    note: str = ""
    way: str = ""
    value_mm: SizeMm | None = None
    teeth: Annotated[int, Meta(ge=1, le=10000)] | None = None
    thick_mm: AmountOrZero | None = None
    sd_mm: AmountOrZero | None = None
    number: str = ""
    effective_length_mm: SizeMm | None = None
    construction: str = ""
    arm_angle_deg: Degrees | None = None
    travel_share: Annotated[float, Meta(ge=0, le=1)] | None = None
    verdict: Literal["fits", "long", "short", "off"] | None = None
    why: str = ""
    span: Name | None = None
    push_n: AmountOrZero | None = None
    play_mm: AmountOrZero | None = None
    tone_hz: AmountOrZero | None = None
    twist_nm: AmountOrZero | None = None
    tension_n: AmountOrZero | None = None
    log: str = ""
    sha256: Annotated[str, Meta(pattern="^([0-9a-f]{64})?$")] = ""
    onset_rpm: AmountOrZero | None = None
    cost: AmountOrZero | None = None
    currency: str = ""


class Logbook(Part, frozen=True, kw_only=True):
    """All events, in the order in which they were entered."""

    events: Annotated[tuple[Event, ...], Meta(max_length=100000)] = ()

    def __post_init__(self) -> None:
        unique([event.id for event in self.events], "events", "id")
