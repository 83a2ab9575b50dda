"""What `logbook` prints with --json, key by key."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jovial_tack.answers.logbook.told import DueThing, KindOfLife, LogbookTold, WearTold
from jovial_tack.answers.results import Finding

Json = dict[str, Any]


def logbook_json(told: LogbookTold, files: Sequence[Finding] = ()) -> Json:
    """All that the logbook tells. files: attachments that are missing, or are not what they were."""
    return {
        "format": "jovial-tack/logbook",
        "version": 1,
        "unit": told.unit,
        "now": dict(told.now),
        "due": [_due(thing) for thing in told.due],
        "lives": [_lives(each) for each in told.lives],
        "wear": [_wear(each) for each in told.wear],
        "kept": [
            {"drive": k.drive, "span": k.span, "at": k.at, "kept_share": k.share} for k in told.kept
        ],
        "cost": {
            "total": dict(told.costs.total),
            "by_kind": {kind: dict(each) for kind, each in told.costs.by_kind.items()},
            "wrong_belts": dict(told.costs.wrong_belts),
            "per_unit": dict(told.costs.per_use),
        },
        "findings": [
            {"code": f.code, "level": f.level, "where": f.where, "message": f.message}
            for f in (*told.findings, *files)
        ],
        "problems": list(told.problems),
    }


def _due(thing: DueThing) -> Json:
    return {
        "id": thing.id,
        "what": thing.what,
        "share": thing.due.share,
        "first": thing.due.first,
        "left": dict(thing.due.left),
        "days": thing.due.days,
        "state": "good" if thing.done else thing.due.state,
        **({"done": True} if thing.done else {}),
    }


def _lives(each: KindOfLife) -> Json:
    found = each.record
    return {
        "construction": each.construction,
        "n": found.count,
        "running": found.running,
        "failed": found.ended,
        "total": found.total,
        "unit": each.unit,
        "longest": found.longest,
        "median": found.median,
        "rate": found.rate,
        "rate_low": found.rate_low,
        "rate_high": found.rate_high,
    }


def _wear(each: WearTold) -> Json:
    found = each.wear
    return {
        "drive": each.drive,
        "loss_share": None if found is None else found.loss,
        "per_1000": None if found is None or found.per_use is None else 1000.0 * found.per_use,
        "limit_at": None if found is None else found.limit_at,
        "limit_sd": None if found is None else found.limit_sd,
        "change": each.change,
    }
