"""What `log` prints with --json, key by key."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.results import number
from jovial_tack.answers.run_check.judging import CheckedPull

Json = dict[str, Any]


def checked_pull_json(checked: CheckedPull) -> Json:
    """As `log --json` tells it."""
    pull, interval = checked.pull, checked.pull.onset_interval
    return {
        "from_s": number(pull.from_s),
        "to_s": number(pull.to_s),
        "rpm": [number(pull.low_rpm), number(pull.high_rpm)],
        "slip": pull.slip,
        "onset_rpm": number(pull.onset_rpm),
        "onset_interval": None if interval is None else [number(v) for v in interval],
        "boost_lost_kpa": number(pull.boost_lost_kpa),
        "worst_slip_fraction": number(pull.worst_slip),
        "confidence": pull.confidence,
        "reason": pull.reason,
        "friction_ribs": number(checked.friction_ribs),
    }
