"""What is told of a pull, and of all pulls of a log."""

from __future__ import annotations

from jovial_tack.core.arrays import Float
from jovial_tack.core.run_check.moments import Moment
from jovial_tack.core.value import Value


class Trace(Value, frozen=True):
    """A pull for drawing, over rising rpm, all (B,): boost measured, expected without a loss and by a
    straight line through the low part, kPa, and the slip it means.

    air_kpa: the air it was driven in, if it is known; sd_kpa: one standard deviation of the boost
    measured, by its noise and, where the air is known, by how well (B,).
    """

    rpm: Float
    boost_kpa: Float
    expected_kpa: Float
    line_kpa: Float
    slip: Float
    air_kpa: float
    air_is_known: bool
    sd_kpa: Float


class Twin(Value, frozen=True):
    """Something else that looks like slip in boost. settled_by: the channel that would part them;
    ruled_out, seen: whether a channel is in the log that speaks against it, or for it.
    """

    name: str
    words: str
    settled_by: str
    ruled_out: bool = False
    seen: bool = False


class Pull(Value, frozen=True):
    """What one full-throttle pull shows, or all pulls of a log together.

    slip: True, False, or None where the data cannot tell; reason says why. onset_rpm with the interval
    that holds it with 95 %; boost_lost_kpa and worst_slip with its interval at the top of the pull.
    would_show: the slip at the top that would have been seen, None where it cannot tell. confidence:
    "clear", "likely" or "cannot tell". twins: what else looks like it by boost alone.
    """

    from_s: float
    to_s: float
    low_rpm: float
    high_rpm: float
    slip: bool | None
    confidence: str
    reason: str
    onset_rpm: float | None = None
    onset_interval: tuple[float, float] | None = None
    boost_lost_kpa: float | None = None
    worst_slip: float | None = None
    worst_interval: tuple[float, float] | None = None
    would_show: float | None = None
    twins: tuple[Twin, ...] = ()
    trace: Trace | None = None


class Judged(Value, frozen=True):
    """A log's pulls, and what the log says in all; answer is None where there is nothing to judge.

    moments: where else the blower's own speed leaves the crank's.
    """

    answer: Pull | None
    pulls: tuple[Pull, ...]
    moments: tuple[Moment, ...] = ()
