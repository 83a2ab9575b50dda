"""What `worth` prints with --json, key by key."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jovial_tack.answers.mending.worth import Worth
from jovial_tack.answers.results import number

Json = dict[str, Any]


def worth_json(drive_id: str, factor: float | None, worths: Sequence[Worth]) -> Json:
    """What every change of a drive is worth, as `worth --json` tells it."""
    return {
        "format": "jovial-tack/worth",
        "version": 1,
        "drive": drive_id,
        "capacity_factor": number(factor),
        "changes": [
            {
                "words": one.words,
                "capacity_factor": number(one.factor[1]),
                "won": number(one.won),
                "slips_from_rpm": number(one.slips_from[1]),
                "hub_load_n": [number(load) for load in one.hub_n],
                "rest_tension_n": [number(tension) for tension in one.rest_n],
                "to_buy": one.to_buy,
                "cost": number(one.cost),
                "worse": list(one.worse),
                "level": one.level,
            }
            for one in worths
        ],
    }
