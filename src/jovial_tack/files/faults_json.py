"""What `faults` prints with --json, key by key."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jovial_tack.answers.fit_up.faults import Diagnosis
from jovial_tack.answers.fit_up.squeal import WhoSqueals, scores_of

Json = dict[str, Any]


def faults_json(told: Sequence[Diagnosis], heard: Sequence[WhoSqueals] = ()) -> Json:
    """All causes of each drive by falling probability, what to look at next, and what was heard."""
    drives = [_drive(one) for one in told]
    for drive, one in zip(drives, heard, strict=False):
        drive["heard"] = {
            "named": list(one.named),
            "engine_too": one.engine_too,
            "beats_hz": one.heard.beats_hz,
            "crank_rpm": one.heard.crank_rpm,
            "firing_heard": one.heard.firing_heard,
            "scores": dict(scores_of(one)),
        }
    return {"format": "jovial-tack/faults", "version": 1, "drives": drives}


def _drive(one: Diagnosis) -> Json:
    return {
        "id": one.drive,
        "causes": [
            {
                "cause": cause.cause,
                "probability": cause.probability,
                "where": cause.where,
                "why": [
                    {"finding": why.finding, "seen": why.seen, "tenth_bans": why.tenth_bans}
                    for why in cause.why
                ],
                "remedy": cause.remedy,
                "solved": cause.solved,
            }
            for cause in one.causes
        ],
        "something_else": one.something_else,
        "check_next": [
            {"finding": look.finding, "bits": look.bits, "minutes": look.minutes}
            for look in one.look_next
        ],
        **({"unknown": list(one.unknown)} if one.unknown else {}),
    }
