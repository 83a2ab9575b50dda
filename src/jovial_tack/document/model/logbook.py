"""The logbook: what was tried, fitted, read and paid, with its day and use; intervals, offers,
pictures.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from jovial_tack.document.model.base import (
    Amount,
    AmountOrZero,
    Degrees,
    Name,
    Part,
    SizeMm,
    seal,
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
Unit = Literal["km", "hours", "passes"]
Reason = Literal[
    "interval", "worn", "slipped", "torn", "came_off", "engine_locked", "look", "changed_plan"
]
Day = Annotated[str, Meta(pattern=r"^[0-9]{4}-[0-9]{2}-[0-9]{2}$")]


class Event(Part, frozen=True, kw_only=True):
    """One thing that happened; which figures it has depends on its kind.

    at: the day, as typed. km, hours, passes: the use it happened at. drive: may be gone by now. Of a
    reading: the way it was taken, what was read (mm, or teeth), the thickness of tape or string, one
    standard deviation. Of a belt tried: its number and effective length, where the adjuster came to
    stand, and what came of it. Of a tension check: the span that was pushed, plucked or twisted (the
    pulley it leaves), push and play, tone, or the torque of a quarter turn, and the tension that means;
    after: the first distance, or again. Of a belt that was removed: the reason. Of an inspection: the
    rubber, how deep the ribs are, what a wear gauge shows, cracks in 75 mm of one rib, and findings of
    the noise finder. Of a run: the name and checksum of its log, and the onset of slip that was found
    in it. what: that was paid for, or the shaft whose bearing was changed.
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
    currency: Annotated[str, Meta(max_length=200)] = ""
    km: AmountOrZero | None = None
    hours: AmountOrZero | None = None
    passes: AmountOrZero | None = None
    reason: Reason | None = None
    after: Literal["first", "again"] | None = None
    material: Literal["epdm", "old", "unknown"] | None = None
    rib_depth_mm: AmountOrZero | None = None
    gauge: Literal["proud", "level", "below"] | None = None
    cracks_in_75mm: Annotated[int, Meta(ge=0, le=1000)] | None = None
    through_cracks: bool | None = None
    findings: Mapping[Name, bool] = {}
    what: str = ""

    def __post_init__(self) -> None:
        seal(self, "findings")


class PerMonth(Part, frozen=True, kw_only=True):
    """How much it is used in a month."""

    km: AmountOrZero | None = None
    hours: AmountOrZero | None = None
    passes: AmountOrZero | None = None


class Use(Part, frozen=True, kw_only=True):
    """How much it was used by a day, and the unit its life is counted in."""

    unit: Unit = "km"
    km: AmountOrZero | None = None
    hours: AmountOrZero | None = None
    passes: AmountOrZero | None = None
    per_month: PerMonth = PerMonth()
    as_of: Day | None = None


class Interval(Part, frozen=True, kw_only=True):
    """What is changed or looked at again after so much use or time, whichever is first.

    what: "belt:DRIVE", "toothed:DRIVE", "tensioner:DRIVE", "bearing:SHAFT", or "tension:DRIVE" to set
    it again once after a belt was fitted; what it names may be gone. after_event: due at once after
    such an event.
    """

    id: Name
    what: Annotated[str, Meta(pattern="^(belt|toothed|tensioner|bearing|tension):.{1,200}$")]
    km: Amount | None = None
    hours: Amount | None = None
    passes: Amount | None = None
    months: Annotated[int, Meta(ge=1, le=1200)] | None = None
    after_event: Literal["engine_locked"] | None = None
    source: Annotated[str, Meta(max_length=200)] = ""


class Offer(Part, frozen=True, kw_only=True):
    """What a seller asks for a belt: its number, others it is known by, and the price. drive: under
    “for” in the file.
    """

    drive: Name = msgspec.field(name="for")
    number: Annotated[str, Meta(max_length=200)]
    maker_word: Annotated[str, Meta(max_length=200)] = ""
    other_numbers: Annotated[
        tuple[Annotated[str, Meta(max_length=200)], ...], Meta(max_length=20)
    ] = ()
    seller: Annotated[str, Meta(max_length=200)] = ""
    price: AmountOrZero | None = None
    currency: Annotated[str, Meta(max_length=200)] = ""
    at: Day | None = None
    days: AmountOrZero | None = None
    url: Annotated[str, Meta(max_length=2000)] = ""
    note: Annotated[str, Meta(max_length=2000)] = ""


class Attachment(Part, frozen=True, kw_only=True):
    """A file beside the build, in NAME.files/, by its path there and checksum. of: the event, or what
    else, it belongs to.
    """

    id: Name
    path: Annotated[str, Meta(min_length=1, max_length=500)]
    sha256: Annotated[str, Meta(pattern="^[0-9a-f]{64}$")]
    bytes: Annotated[int, Meta(ge=0)]
    taken: Day | None = None
    of: Annotated[str, Meta(max_length=200)] = ""
    caption: Annotated[str, Meta(max_length=500)] = ""


class Logbook(Part, frozen=True, kw_only=True):
    """All events, in the order in which they were entered; the use so far, and what hangs on both."""

    use: Use = Use()
    events: Annotated[tuple[Event, ...], Meta(max_length=100000)] = ()
    intervals: Annotated[tuple[Interval, ...], Meta(max_length=500)] = ()
    offers: Annotated[tuple[Offer, ...], Meta(max_length=2000)] = ()
    attachments: Annotated[tuple[Attachment, ...], Meta(max_length=5000)] = ()

    def __post_init__(self) -> None:
        unique([event.id for event in self.events], "events", "id")
        unique([interval.id for interval in self.intervals], "intervals", "id")
        unique([attachment.id for attachment in self.attachments], "attachments", "id")
