"""Points along shapes, for keeping labels off them."""

from __future__ import annotations

from math import atan2, cos, degrees, pi, radians, sin

from jovial_tack.drawing.shapes import BeltLoop, Circle, Line, Point


def belt_points(belt: BeltLoop, step_mm: float) -> list[Point]:
    """Points along a belt no further apart than a step."""
    points: list[Point] = []
    for (x0, y0), (x1, y1) in belt.spans:
        count = max(2, int(((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5 / step_mm))
        points += [(x0 + (x1 - x0) * k / count, y0 + (y1 - y0) * k / count) for k in range(count)]
    for place, (center, radius, sweep) in enumerate(belt.arcs):
        start = belt.spans[place - 1][1]
        first = degrees(atan2(start[1] - center[1], start[0] - center[0]))
        count = max(2, int(abs(radians(sweep)) * radius / step_mm))
        for k in range(count):
            angle = radians(first + sweep * k / count)
            points.append((center[0] + radius * cos(angle), center[1] + radius * sin(angle)))
    return points


def outline_points(shape: Circle | Line, step_mm: float) -> list[Point]:
    """Points along a circle or line no further apart than a step."""
    if isinstance(shape, Circle):
        count = max(8, int(2 * pi * shape.radius / step_mm))
        turns = [2 * pi * k / count for k in range(count)]
        x, y = shape.center
        return [(x + shape.radius * cos(t), y + shape.radius * sin(t)) for t in turns]
    points: list[Point] = []
    for (x0, y0), (x1, y1) in zip(shape.points, shape.points[1:], strict=False):
        count = max(1, int(((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5 / step_mm))
        points += [
            (x0 + (x1 - x0) * k / count, y0 + (y1 - y0) * k / count) for k in range(count + 1)
        ]
    return points
