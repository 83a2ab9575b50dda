"""The few kinds of shape everything is drawn from. All are values: equal shapes look the same."""

from __future__ import annotations

from typing import Literal

from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.value import Value
from jovial_tack.document.targets import Target

Point = tuple[float, float]

Role = Literal[
    "grid",
    "pulley",
    "shaft",
    "arm",
    "pivot",
    "window",
    "stop",
    "belt",
    "belt_behind",
    "span",
    "baseline",
    "obstacle",
    "corner",
    "gap",
    "gap_stop",
    "ghost",
    "arc_good",
    "arc_watch",
    "arc_stop",
    "arc_unknown",
    "label",
    "freedom",
    "note",
    "guide",
    "reading",
    "boss",
    "plate",
    "leg",
    "cut",
    "cut_end",
    "keep_out",
    "edge",
    "edge_watch",
    "edge_stop",
    "web",
    "web_watch",
    "web_there",
    "web_could",
    "found",
]
#: The keys of shapes that stand there to be chosen by a click begin so.
CHOICE = "choice/"
#: The states that arcs are drawn in.
ARC_STATES: dict[Role, Mark] = {
    "arc_good": "good",
    "arc_watch": "watch",
    "arc_stop": "stop",
    "arc_unknown": "unknown",
}


class Shape(Value, frozen=True):
    """Base: key is stable over edits; layer orders what lies over what; target names what it is of.

    target: NOTHING for scenery.
    """

    key: str
    role: Role
    layer: float
    target: Target


class Circle(Shape, frozen=True):
    """A circle; mm."""

    center: Point
    radius: float


class Line(Shape, frozen=True):
    """A line through points; mm. closed: back to the first."""

    points: tuple[Point, ...]
    closed: bool = False


class Arc(Shape, frozen=True):
    """An arc of a circle: from start, through sweep (ccw positive), degrees; width mm, 0 hairline."""

    center: Point
    radius: float
    start_deg: float
    sweep_deg: float
    width: float = 0.0


class BeltLoop(Shape, frozen=True):
    """A closed belt: alternating spans (start, end) and arcs (center, radius, sweep); width mm."""

    spans: tuple[tuple[Point, Point], ...]
    arcs: tuple[tuple[Point, float, float], ...]
    width: float


class Cross(Shape, frozen=True):
    """A shaft's centre mark; of the same size on screen at every zoom."""

    center: Point


class Label(Shape, frozen=True):
    """Words for a place; the back end finds a free spot near it. radius: keep this far off, mm."""

    text: str
    detail: str
    anchor: Point
    radius: float
