"""What `loads` prints with --json, key by key."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jovial_tack.answers.grip.loads import BeltUse, Pulls
from jovial_tack.answers.results import number

Json = dict[str, Any]


def loads_json(pulls: Sequence[Pulls], uses: Sequence[BeltUse]) -> Json:
    """What belts do to their parts, as `loads --json` tells it."""
    return {
        "format": "jovial-tack/loads",
        "version": 1,
        "shafts": [
            {
                "id": one.shaft,
                "rpm": [number(float(rpm)) for rpm in one.rpm],
                "pull_n": [[number(float(p.real)), number(float(p.imag))] for p in one.pull_n],
                "most_n": number(one.most[0]),
                "direction_deg": number(one.most[1]),
                "at_rpm": number(one.most[2]),
                "limit_n": number(one.limit_n),
                "moment_nm": number(one.moment_nm),
                "moment_limit_nm": number(one.moment_limit_nm),
            }
            for one in pulls
        ],
        "belts": [
            {
                "drive": use.drive,
                "bends_per_s": number(use.bends_per_s),
                "longest_span": list(use.longest),
                "longest_span_mm": number(use.longest_mm),
                "life_ratio": number(use.life),
            }
            for use in uses
        ],
    }
