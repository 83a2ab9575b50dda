"""What `log` prints with --json, key by key."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.results import number
from jovial_tack.answers.run_check.judging import CheckedPull
from jovial_tack.core.run_check.moments import Moment
from jovial_tack.core.run_check.pulls import Compared

Json = dict[str, Any]


def checked_pull_json(checked: CheckedPull) -> Json:
    """As `log --json` tells it."""
    pull, interval = checked.pull, checked.pull.onset_interval
    worst, band = pull.worst_interval, checked.friction_band
    return {
        "from_s": number(pull.from_s),
        "to_s": number(pull.to_s),
        "rpm": [number(pull.low_rpm), number(pull.high_rpm)],
        "slip": pull.slip,
        "onset_rpm": number(pull.onset_rpm),
        "onset_interval": None if interval is None else [number(v) for v in interval],
        "boost_lost_kpa": number(pull.boost_lost_kpa),
        "worst_slip_fraction": number(pull.worst_slip),
        "worst_slip_interval": None if worst is None else [number(v) for v in worst],
        "would_show_fraction": number(pull.would_show),
        "confidence": pull.confidence,
        "reason": pull.reason,
        "friction_ribs": number(checked.friction_ribs),
        "friction_band": None if band is None else [number(v) for v in band],
        "twins": [
            {
                "name": twin.name,
                "settled_by": twin.settled_by,
                "ruled_out": twin.ruled_out,
                "seen": twin.seen,
            }
            for twin in pull.twins
        ],
    }


def moment_json(moment: Moment) -> Json:
    """A moment in which the blower's own speed leaves the crank's."""
    return {
        "from_s": number(moment.from_s),
        "to_s": number(moment.to_s),
        "rpm": number(moment.rpm),
        "worst_slip_fraction": number(moment.worst),
        "in_gear_change": moment.in_gear_change,
        "in_jerks": moment.in_jerks,
    }


def compared_json(compared: Compared) -> Json:
    """Two logs at equal engine speeds."""
    return {
        "in_same_air": compared.in_same_air,
        "rpm": [number(v) for v in compared.rpm.tolist()],
        "first_kpa": [number(v) for v in compared.first_kpa.tolist()],
        "second_kpa": [number(v) for v in compared.second_kpa.tolist()],
        "sd_kpa": [number(v) for v in compared.sd_kpa.tolist()],
    }
