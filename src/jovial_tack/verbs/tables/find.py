"""What a finder found, as text for the terminal."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.answers.finder.sure import Sure
from jovial_tack.answers.finder.trying import Answer, LowSide
from jovial_tack.answers.finder.words import counted_words, sure_words
from jovial_tack.core.units import FORCE, written_in
from jovial_tack.core.words import capital, sentence

_AIMS = {
    "reserve": "most grip first",
    "ratio": "nearest to the ratio first",
    "hub_load": "least pull on a hub first",
    "cost": "least to pay first",
    "owned": "least to buy first",
}


def find_table(
    answer: Answer,
    places: Sequence[int],
    low: LowSide,
    goes_on: Sequence[bool | None],
    best: str,
    *,
    sure: Sequence[Sure | None] = (),
    today: Sure | None = None,
) -> str:
    """How many were tried, why the best is better than today, and the list."""
    space = answer.space
    label = space.drive.label
    lines = [f"{label}: {counted_words(answer)}, {_AIMS[space.choices.aim]}"]
    if best:
        lines.append(sentence(capital(best)))
    if today is not None:
        lines.append(f"Today it {sure_words(today)}.")
    for k, place in enumerate(places):
        lines += ["", *_row(answer, place, low, k, goes_on[k])]
        if sure and (said := sure_words(sure[k])):
            lines.append(f"     {said}")
    if not places:
        lines.append("Nothing that was tried keeps the limits.")
    return "\n".join(lines)


def _row(answer: Answer, place: int, low: LowSide, k: int, goes_on: bool | None) -> list[str]:
    space, fitting = answer.space, answer.fitting
    unit = space.build.display_units
    used, low_used = float(fitting.arc_used[place]), float(low.arc_used[k])
    looked_at = space.build.shaft(space.drive.pulley(answer.looked_at).shaft).label
    figures = [
        f"arc used {100 * used:.0f} %"
        + (f" ({100 * low_used:.0f} % with damping)" if np.isfinite(low_used) else ""),
        f"{written_in(float(fitting.tension_n[place]), FORCE, unit)} at rest",
        f"arm {np.degrees(fitting.angle[place]):.1f}°",
        f"ratio of {looked_at} {fitting.ratio[place]:.3f}",
        f"hub {written_in(float(fitting.hub_n[place]), FORCE, unit)}",
        f"{int(fitting.to_buy[place])} to buy" if fitting.to_buy[place] else "nothing to buy",
    ]
    if goes_on is False:
        figures.append("cannot be put on")
    words = capital(space.words_of(int(fitting.combination[place])))
    return [f"{k + 1:3d}  {words}", f"     {', '.join(figures)}"]
