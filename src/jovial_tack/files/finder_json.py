"""What `find` prints with --json, key by key."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jovial_tack.answers.finder.space import stands_at
from jovial_tack.answers.finder.sure import Sure
from jovial_tack.answers.finder.trying import Answer, LowSide
from jovial_tack.answers.results import number
from jovial_tack.files.results_json import place_json

Json = dict[str, Any]


def finder_json(
    answer: Answer,
    places: Sequence[int],
    low: LowSide,
    goes_on: Sequence[bool | None],
    *,
    sure: Sequence[Sure | None] = (),
    today: Sure | None = None,
) -> Json:
    """What was found, as `find --json` tells it; places: what is told of what fits, best first."""
    space = answer.space
    return {
        "format": "jovial-tack/find",
        "version": 1,
        "drive": space.choices.drive,
        "rpm": [float(rpm) for rpm in answer.rpm],
        "ratio_of": answer.looked_at,
        "tried": answer.tried,
        "feasible": answer.feasible,
        "within_limits": int(answer.fitting.combination.size),
        **({"today": {"sure": _sure(today)}} if sure else {}),
        "results": [
            {
                **_row(answer, place),
                **_low(low, k),
                "goes_on": goes_on[k],
                **({"sure": _sure(sure[k])} if sure else {}),
            }
            for k, place in enumerate(places)
        ],
    }


def _row(answer: Answer, place: int) -> Json:
    space, fitting = answer.space, answer.fitting
    combination = int(fitting.combination[place])
    options = iter(space.places(combination))
    pulleys = {name: pulleys[next(options)] for name, pulleys in space.pulleys}
    holes = {name: holes[next(options)] for name, holes in space.holes}
    offsets = {name: offsets[next(options)] for name, offsets in space.offsets}
    low, high = fitting.window[:, place]
    return {
        "words": space.words_of(combination),
        "notch": space.notches[next(options)],
        "construction": space.constructions[next(options)],
        "belt_length_mm": space.belts[next(options)],
        "holes": holes,
        "offsets": offsets,
        "diameters_mm": {name: pulley.diameter_mm for name, pulley in pulleys.items()},
        "sides": {name: pulley.side for name, pulley in pulleys.items()},
        **place_json(stands_at(space, float(fitting.angle[place]))),
        "tension_n": number(float(fitting.tension_n[place])),
        "worst_arc_used": number(float(fitting.arc_used[place])),
        "ratio": number(float(fitting.ratio[place])),
        "hub_load_n": number(float(fitting.hub_n[place])),
        "window_running": [number(float(low)), number(float(high))],
        "to_buy": int(fitting.to_buy[place]),
        "cost": number(float(fitting.cost[place])),
    }


def _low(low: LowSide, k: int) -> Json:
    return {
        "low_tension_n": number(float(low.tension_n[k])),
        "low_worst_arc_used": number(float(low.arc_used[k])),
    }


def _sure(sure: Sure | None) -> Json | None:
    if sure is None:
        return None
    return {
        "samples": sure.samples,
        "fits": number(sure.fits),
        "holds": number(sure.holds),
        "known_within": number(sure.known_within),
        "window": [number(share) for share in sure.window],
        "worst_arc_used": [number(share) for share in sure.arc_used],
    }
