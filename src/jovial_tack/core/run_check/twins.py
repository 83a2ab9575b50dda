"""What looks like slip in boost and is none, and what of it a channel of the log rules out."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.core.run_check.points import Log
from jovial_tack.core.run_check.pull import Twin


def bypass_opens(log: Log, onset: float) -> str:
    """Whether the bypass is seen to open where boost begins to be lost; "" where it is not."""
    if log.bypass is None:
        return ""
    early, late = log.bypass[log.rpm < onset], log.bypass[log.rpm >= onset]
    if early.size < 4 or late.size < 4:
        return ""
    moved = abs(float(np.median(late[-max(4, late.size // 2) :]) - np.median(early)))
    rough = 4.0 * float(np.median(np.abs(np.diff(log.bypass)))) + 2.0
    if moved <= rough:
        return ""
    return f"the bypass moves from about {onset:.0f} rpm on, where boost is lost: that is no slip"


def twins_of(log: Log, onset_rpm: float) -> tuple[Twin, ...]:
    """What else would look like slip in a log's boost, and what of it a channel of it rules out.

    Parameters: one pull of a log, without the part in which its throttle closes; rpm. METHOD 17.
    """
    late = log.rpm > onset_rpm
    warms = log.intake_c is not None and late.sum() > 4 and float(np.ptp(log.intake_c[late])) < 6.0
    restricted = False
    if log.before_throttle_kpa is not None and late.sum() > 4:
        # what is lost across the throttle grows no further once it is wide open
        across = log.before_throttle_kpa - log.boost_kpa
        restricted = float(np.ptp(across[late])) < max(2.0, 0.05 * float(np.max(log.boost_kpa)))
    return (
        Twin(
            "throttle", "a throttle that closes", "throttle", log.throttle is not None or restricted
        ),
        Twin("valve", "a valve that lifts", "bypass", log.bypass is not None),
        Twin("restriction", "a restriction", "blower_rpm"),
        Twin("heat", "heat", "intake_c", bool(warms)),
    )


def displacement_words(log: Log, onset: float | None) -> str:
    """Why a displacement blower's boost does not tell its speed, and what would; onset in rpm."""
    seen = "" if onset is None else f"boost falls away from about {onset:.0f} rpm, but "
    needed = "log its speed" if log.bypass is not None else "log its speed, or the bypass"
    return (
        f"{seen}a displacement blower makes nearly the same boost at any speed, so that boost alone"
        f" does not tell how fast it turns: {needed}"
    )


def either(words: Sequence[str]) -> str:
    """Things to choose from, in words: “a, b or c”."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"
