"""What a shaft must give: a least useful speed, and the current asked of an alternator (METHOD 11)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.ratios.alternator import current_at, speed_for
from jovial_tack.core.value import Value
from jovial_tack.document.model import Engine, OutputCurve, Shaft

#: What is asked at idle and at cruise, A; None where nothing is.
Asked = tuple[float | None, float | None]


class Currents(Value, frozen=True):
    """What an alternator gives at idle and at cruise, A; bank: of its batteries, None: the car's."""

    idle: float
    cruise: float
    bank: str | None = None


class Shortfall(Value, frozen=True):
    """A duty that is not met: what is given and asked at an engine speed, in words.

    rpm: what the shaft turns there; needed_rpm: the least higher speed with which it would do, None if
    none does. usual: told from the output curve usual for its kind, since it has none of its own.
    """

    words: str
    engine_rpm: float
    rpm: float
    needed_rpm: float | None
    usual: bool = False


def output_of(shaft: Shaft, catalogue: Catalogue) -> OutputCurve | None:
    """The output curve of an alternator, its own or the representative one; None for other shafts."""
    if shaft.output is not None:
        return shaft.output
    given = catalogue.kinds[shaft.kind].output
    if given is None:
        return None
    return OutputCurve(rpm=tuple(given["rpm"]), current_a=tuple(given["current_a"]))


def given_at(curve: OutputCurve, rpm: float) -> float:
    """Current an alternator gives at its own speed, A."""
    return current_at(np.array(curve.rpm), np.array(curve.current_a), rpm)


def needed_for(curve: OutputCurve, current_a: float, above_rpm: float) -> float | None:
    """The least speed over another at which an alternator gives a current, rpm; None if none does."""
    return speed_for(np.array(curve.rpm), np.array(curve.current_a), current_a, above_rpm)


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
            idle, cruise = (given_at(curve, speed) for speed in speeds)
            found[shaft.id] = Currents(idle, cruise, shaft.bank)
    return found


def others_than(shaft: Shaft, currents: Mapping[str, Currents]) -> tuple[float, float]:
    """What the other alternators on the same batteries give together at idle and at cruise, A."""
    others = [c for name, c in currents.items() if name != shaft.id and c.bank == shaft.bank]
    return sum(c.idle for c in others), sum(c.cruise for c in others)


def asked_of(shaft: Shaft, engine: Engine) -> Asked:
    """The current that is asked of an alternator and those beside it, by its bank where it has one."""
    if shaft.bank is None:
        return engine.electrical_idle_a, engine.electrical_cruise_a
    bank = engine.banks[shaft.bank]
    return bank.idle_a, bank.cruise_a


def shortfalls(
    shaft: Shaft,
    engine: Engine,
    ratio: float,
    catalogue: Catalogue,
    others: tuple[float, float] = (0.0, 0.0),
) -> tuple[Shortfall, ...]:
    """The duties a shaft does not meet when it turns `ratio` times as fast as the crank.

    others: what the other alternators give at idle and at cruise, A; the current asked is met together.
    """
    asked_idle, asked_cruise = asked_of(shaft, engine)
    found = []
    idle = engine.idle_rpm * ratio
    if shaft.min_rpm is not None and idle < shaft.min_rpm * (1 - 1e-9):
        words = f"turns {idle:.0f} rpm at idle and is of use from {shaft.min_rpm:.0f} rpm"
        found.append(Shortfall(words, engine.idle_rpm, idle, shaft.min_rpm))
    curve = output_of(shaft, catalogue) if shaft.kind == "alternator" else None
    if curve is None:
        return tuple(found)
    for word, speed, asked, more in (
        ("idle", engine.idle_rpm, asked_idle, others[0]),
        ("cruise", engine.cruise_rpm, asked_cruise, others[1]),
    ):
        given = given_at(curve, speed * ratio)
        if asked is not None and given + more < asked * (1 - 1e-9):
            beside = f" beside {more:.0f} A of the others" if more else ""
            bank = "" if shaft.bank is None else f" of bank {shaft.bank}"
            words = f"gives {given:.0f} A at {word}{beside}, where {asked:.0f} A are asked{bank}"
            needed = needed_for(curve, asked - more, speed * ratio)
            found.append(Shortfall(words, speed, speed * ratio, needed, shaft.output is None))
    return tuple(found)
