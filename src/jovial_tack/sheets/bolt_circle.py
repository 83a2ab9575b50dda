"""Lines that parts and noses share: the bolt circle, and the way of fixing."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from jovial_tack.core.units import LENGTH, RATIO
from jovial_tack.document.model import BoltCircle, Build
from jovial_tack.sheets.sheet import Figure, Say, Shown, T

FIXINGS = (("", "not given"), ("keyed", "keyed"), ("pressed", "pressed"), ("bolted", "bolted"))
_USUAL: BoltCircle = (4, 60.0)

ReadCircle = Callable[[Build, T], BoltCircle | None]
WriteCircle = Callable[[Build, T, Any], Build]


def bolt_lines(
    names: tuple[str, str], read: ReadCircle[T], write: WriteCircle[T], label: Say[T]
) -> tuple[Figure[T], Figure[T]]:
    """Number of bolts, and the diameter of their circle; the first typed makes the usual other one."""

    def value(place: int, view: Shown[T]) -> float | None:
        circle = read(view.build, view.target)
        return None if circle is None else float(circle[place])

    def change(place: int, build: Build, target: T, number: float) -> Build:
        count, circle = read(build, target) or _USUAL
        whole: Any = int(number) if float(number).is_integer() else number
        return write(build, target, (whole, circle) if place == 0 else (count, number))

    return (
        Figure(
            names[0],
            RATIO,
            partial(value, 0),
            absent=lambda _v: "",
            digits=0,
            label=label,
            aside=lambda _v: "on the circle",
            change=partial(change, 0),
            spoken="Number of bolts",
        ),
        Figure(
            names[1],
            LENGTH,
            partial(value, 1),
            absent=lambda _v: "",
            label=label,
            change=partial(change, 1),
            spoken="Diameter of the bolt circle",
        ),
    )
