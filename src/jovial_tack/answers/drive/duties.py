"""What a shaft must give: a least useful speed, and the current asked of an alternator (METHOD 11)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import Value
from jovial_tack.document.model import Engine, OutputCurve, Shaft

#: Current at idle and at cruise, A.
Currents = tuple[float, float]


class Shortfall(Value, frozen=True):
    """A duty that is not met: what is given and asked at an engine speed, in words; the speed the shaft
    turns there and the least with which it would do, None if no speed does.
    """

    words: str
    engine_rpm: float
    rpm: float
    needed_rpm: float | None


def output_of(shaft: Shaft, catalogue: Catalogue) -> OutputCurve | None:
    """The output curve of an alternator, its own or the representative one; None for other shafts."""
    if shaft.output is not None:
        return shaft.output
    given = catalogue.kinds[shaft.kind].output
    if given is None:
        return None
    return OutputCurve(rpm=tuple(given["rpm"]), current_a=tuple(given["current_a"]))


def current_at(curve: OutputCurve, rpm: float) -> float:
    """Current at an alternator's own speed, A: none below the first point, held beyond the last."""
    return float(np.interp(rpm, curve.rpm, curve.current_a, left=0.0))


def speed_for(curve: OutputCurve, current_a: float) -> float | None:
    """The least speed at which an alternator gives a current, rpm; None if it never does.

    >>> speed_for(OutputCurve(rpm=(1000.0, 2000.0, 4000.0), current_a=(0.0, 60.0, 100.0)), 80.0)
    3000.0
    """
    rpm, given = np.array(curve.rpm), np.array(curve.current_a)
    enough = np.flatnonzero(given >= current_a)
    if not enough.size:
        return None
    last = int(enough[0])
    if last == 0:
        return float(rpm[0])
    low, high = given[last - 1], given[last]
    share = (current_a - low) / (high - low)
    return float(rpm[last - 1] + share * (rpm[last] - rpm[last - 1]))


def currents_of(
    shafts: Iterable[Shaft], ratios: Mapping[str, float], engine: Engine, catalogue: Catalogue
) -> dict[str, Currents]:
    """What every alternator that turns gives at idle and at cruise, A, by its shaft.

    ratios: how many times as fast as the crank each shaft turns; those left out stand still.
    """
    found = {}
    for shaft in shafts:
        curve = output_of(shaft, catalogue) if shaft.kind == "alternator" else None
        if curve is not None and shaft.id in ratios:
            speeds = (engine.idle_rpm * ratios[shaft.id], engine.cruise_rpm * ratios[shaft.id])
            found[shaft.id] = (current_at(curve, speeds[0]), current_at(curve, speeds[1]))
    return found


def others_than(shaft_id: str, currents: Mapping[str, Currents]) -> Currents:
    """What all alternators but one give together at idle and at cruise, A."""
    others = [given for name, given in currents.items() if name != shaft_id]
    return sum(idle for idle, _ in others), sum(cruise for _, cruise in others)


def shortfalls(
    shaft: Shaft, engine: Engine, ratio: float, catalogue: Catalogue, others: Currents = (0.0, 0.0)
) -> tuple[Shortfall, ...]:
    """The duties a shaft does not meet when it turns `ratio` times as fast as the crank.

    others: what the other alternators give at idle and at cruise, A; the current asked is met together.
    """
    found = []
    idle = engine.idle_rpm * ratio
    if shaft.min_rpm is not None and idle < shaft.min_rpm * (1 - 1e-9):
        words = f"turns {idle:.0f} rpm at idle and is of use from {shaft.min_rpm:.0f} rpm"
        found.append(Shortfall(words, engine.idle_rpm, idle, shaft.min_rpm))
    curve = output_of(shaft, catalogue) if shaft.kind == "alternator" else None
    if curve is None:
        return tuple(found)
    for word, speed, asked, more in (
        ("idle", engine.idle_rpm, engine.electrical_idle_a, others[0]),
        ("cruise", engine.cruise_rpm, engine.electrical_cruise_a, others[1]),
    ):
        given = current_at(curve, speed * ratio)
        if asked is not None and given + more < asked * (1 - 1e-9):
            beside = f" beside {more:.0f} A of the others" if more else ""
            words = f"gives {given:.0f} A at {word}{beside}, where {asked:.0f} A are asked"
            found.append(Shortfall(words, speed, speed * ratio, speed_for(curve, asked - more)))
    return tuple(found)
