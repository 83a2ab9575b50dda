"""When something is due: after so much use or time, whichever is first (METHOD 19)."""

from __future__ import annotations

from calendar import monthrange
from collections.abc import Mapping
from datetime import date
from typing import Literal

from jovial_tack.core.value import Value

UNITS = ("km", "hours", "passes")
State = Literal["good", "watch", "stop", "not_determined"]
#: From which share on it is watched, and the days of an average month (365.25 / 12).
WATCH_FROM = 0.8
DAYS_A_MONTH = 30.44


class Due(Value, frozen=True):
    """How far something is on its way to being due.

    share: used of the limit that is reached first, None where that cannot be told; first: that limit
    (km, hours, passes, months, event); left: of each limit of use that is known, in its unit; days:
    until the first is reached, by the use in a month and by the calendar; None where neither tells it.
    """

    share: float | None
    first: str | None
    left: Mapping[str, float]
    days: float | None
    state: State


NOTHING = Due(None, None, {}, None, "not_determined")


def read_day(text: str | None) -> date | None:
    """A day written as 2026-11-27; None for what is none."""
    if not text:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None


def add_months(day: date, months: int) -> date:
    """The same day so many months later, or the last of that month: 31 January and one is 28 February.

    >>> add_months(date(2028, 1, 31), 1)
    datetime.date(2028, 2, 29)
    """
    years, month = divmod(day.month - 1 + months, 12)
    year = day.year + years
    if year > date.max.year:
        return date.max
    return date(year, month + 1, min(day.day, monthrange(year, month + 1)[1]))


def due(
    limits: Mapping[str, float],
    months: int | None,
    then: Mapping[str, float | None],
    now: Mapping[str, float | None],
    since: date | None,
    today: date | None,
    per_month: Mapping[str, float | None],
) -> Due:
    """How far something is since it was begun.

    limits: of use, by unit; then, now: use when it began, and now; since, today: the days of both. A
    limit whose use is not known leaves it open, unless another is reached already.
    """
    shares: dict[str, float] = {}
    left: dict[str, float] = {}
    days: list[float] = []
    is_open = not limits and months is None
    for unit, limit in limits.items():
        begun, here = then.get(unit), now.get(unit)
        if begun is None or here is None or here < begun:
            is_open = True
            continue
        used = here - begun
        shares[unit], left[unit] = used / limit, limit - used
        pace = per_month.get(unit)
        if pace:
            days.append(max(limit - used, 0.0) / (pace / DAYS_A_MONTH))
    if months is not None:
        if since is None or today is None or today < since:
            is_open = True
        else:
            end = add_months(since, months)
            whole = (end - since).days
            shares["months"] = (today - since).days / whole
            days.append(float(max((end - today).days, 0)))
    return _judged(shares, left, days, is_open)


def _judged(
    shares: Mapping[str, float], left: Mapping[str, float], days: list[float], is_open: bool
) -> Due:
    first = max(shares, key=lambda name: shares[name], default=None)
    soonest = min(days, default=None)
    share = shares[first] if first is not None else None
    if share is not None and share >= 1.0:
        return Due(share, first, left, 0.0, "stop")
    if share is None or is_open:
        # what is known is not reached, what is not known may be
        return Due(None, None, left, soonest, "not_determined")
    return Due(share, first, left, soonest, "watch" if share >= WATCH_FROM else "good")


def due_by_event() -> Due:
    """Due at once, since something happened after which it is changed whatever it looks like."""
    return Due(1.0, "event", {}, 0.0, "stop")
