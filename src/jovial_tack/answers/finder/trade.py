"""What is traded for grip: points to plot, and those of them that nothing beats."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.finder.front import front_of
from jovial_tack.answers.finder.trying import Answer
from jovial_tack.answers.results import DriveResult
from jovial_tack.core.arrays import Float, Int
from jovial_tack.core.units import FORCE
from jovial_tack.core.value import Value

#: What may be traded: key, words, and whether more of it is better.
AGAINST: tuple[tuple[str, str, bool], ...] = (
    ("hub_n", "Most pull on a hub", False),
    ("ratio", "Ratio", True),
    ("to_buy", "Parts to buy", False),
    ("cost", "Cost", False),
)
_MOST_POINTS = 4000


class Trade(Value, frozen=True, eq=False):
    """Points (Q,): x another figure, y the share of the wrap that is left at the worst, %; places: of
    each among what fits; front: those that nothing beats, in the order of x; today: the same of today,
    None where it does not run.
    """

    label: str
    x: Float
    y: Float
    places: Int
    front: Int
    today: tuple[float, float] | None


def trade_of(answer: Answer, against: str, today: DriveResult | None) -> Trade:
    """Grip against another figure. Of very many points every so many are shown, and the whole front."""
    _, words, more_is_better = next(row for row in AGAINST if row[0] == against)
    unit = answer.space.build.display_units
    scale, label = _scaled(answer, against, words, unit)
    x = getattr(answer.fitting, against).astype(float) * scale
    y = 100.0 * (1.0 - answer.fitting.arc_used)
    front = front_of(-x if more_is_better else x, y)
    shown = np.unique(np.concatenate([np.arange(0, x.size, max(1, x.size // _MOST_POINTS)), front]))
    order = {int(place): k for k, place in enumerate(shown)}
    on_front = np.array([order[int(place)] for place in front], dtype=np.int64)
    on_front = on_front[np.argsort(x[front], kind="stable")]
    return Trade(label, x[shown], y[shown], shown, on_front, _today(answer, against, scale, today))


def _scaled(answer: Answer, against: str, words: str, unit: str) -> tuple[float, str]:
    if against == "hub_n":
        shown = FORCE.shown(unit)
        return 1.0 / FORCE.factor(shown), f"{words}, {shown}"
    if against == "ratio":
        pulley = answer.space.drive.pulley(answer.looked_at)
        return 1.0, f"Ratio of {answer.space.build.shaft(pulley.shaft).label}"
    return 1.0, words


def _today(
    answer: Answer, against: str, scale: float, today: DriveResult | None
) -> tuple[float, float] | None:
    if today is None:
        return None
    used = [share for p in today.pulleys for share in p.arc_used_fraction if share is not None]
    hubs = [load for p in today.pulleys for load in p.hub_load_n if load is not None]
    if not used or not hubs:
        return None
    ratio = next((p.speed_ratio for p in today.pulleys if p.id == answer.looked_at), None)
    figures = {"ratio": ratio, "hub_n": max(hubs), "to_buy": 0.0, "cost": 0.0}
    figure = figures[against]
    return None if figure is None else (figure * scale, 100.0 * (1.0 - max(used)))
