"""What `cases` prints with --json, key by key."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.grip.situations import Situations
from jovial_tack.answers.results import number
from jovial_tack.document.model import Build

Json = dict[str, Any]


def situations_json(build: Build, told: Situations) -> Json:
    """A drive in every situation, as `cases --json` tells it; a share of null: the belt floats."""
    route = build.drive(told.drive).route
    return {
        "format": "jovial-tack/cases",
        "version": 1,
        "drive": told.drive,
        "worst": told.worst.key,
        "slips_from_rpm": {"wet": number(told.band[0]), "dry": number(told.band[1])},
        "rpm": [number(float(rpm)) for rpm in told.grid],
        "cases": [
            {
                "id": one.key,
                "name": one.label,
                "representative": one.usual,
                "worst_arc_used": number(one.worst[0]),
                "where": route[one.worst[1]],
                "at_rpm": number(one.worst[2]),
                "slips_rpm": [[number(low), number(high)] for low, high in one.slips],
                "arc_used": {
                    name: [number(float(share)) for share in told.over[k][:, place]]
                    for place, name in enumerate(route)
                },
            }
            for k, one in enumerate(told.each)
        ],
    }
