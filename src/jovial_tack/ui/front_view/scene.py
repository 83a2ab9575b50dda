"""From the plane of a build to the scene: y goes down there."""

from __future__ import annotations

from PyQt6.QtCore import QPointF

from jovial_tack.drawing.shapes import Point


def scene_point(point: Point) -> QPointF:
    """A point of the front view in the scene, whose y runs down."""
    return QPointF(point[0], -point[1])
