"""Where the labels of the front view go at the present zoom."""

from __future__ import annotations

from collections.abc import Callable, Collection

import numpy as np
from PyQt6.QtCore import QPointF

from jovial_tack.core.arrays import Float
from jovial_tack.drawing.labels import Wanted, place_labels
from jovial_tack.drawing.points import belt_points, outline_points
from jovial_tack.drawing.shapes import BeltLoop, Circle, Label, Line, Point, Shape
from jovial_tack.ui.front_view.items import Item
from jovial_tack.ui.front_view.words import LabelItem

_BRIEF_SCALE = 0.58  # px per mm below which labels leave their sizes out
_FOOT_PX = 26.0  # kept free of labels for the scale
_STEP_PX = 6.0

_FAR_MM = 1000.0
_MANY_POINTS, _CELL_PX = 5000, 4.0

Pixel = Callable[[Point], tuple[float, float]]


def arrange_labels(
    items: Collection[Item], pixel: Pixel, scale: float, size: tuple[int, int]
) -> None:
    """Put every label where it is off belts, pulleys and other labels.

    pixel: where a point is on screen; scale: px per mm; size: of the view, px.
    """
    labels = [item for item in items if isinstance(item, LabelItem)]
    if not labels:
        return
    for item in labels:
        item.be_brief(scale < _BRIEF_SCALE)
    step = _STEP_PX / scale
    belts = [
        point
        for item in items
        if isinstance(item.model, BeltLoop)
        for point in belt_points(item.model, step)
    ]
    circles = [
        item.model
        for item in items
        if isinstance(item.model, Circle) and item.model.role == "pulley"
    ]
    outlines = [
        point
        for item in items
        if isinstance(item.model, Circle | Line)
        and item.model.role != "corner"
        and not _is_covered(item.model, circles)
        for point in outline_points(item.model, step)
    ]
    labels.sort(key=lambda item: -_radius(item))
    wanted = []
    for item in labels:
        assert isinstance(item.model, Label)
        x, y = pixel(item.model.anchor)
        wanted.append(Wanted(x, y, item.model.radius * scale, *item.size))
    bounds = (4.0, 4.0, size[0] - 8.0, size[1] - 8.0 - _FOOT_PX)
    boxes = place_labels(wanted, _pixels(belts, pixel), _thinned(_pixels(outlines, pixel)), bounds)
    for item, want, box in zip(labels, wanted, boxes, strict=True):
        item.put(QPointF(box[0] - want.x, box[1] - want.y), want.radius)


def _is_covered(shape: Shape, circles: Collection[Circle]) -> bool:
    """Whether a larger pulley on the same shaft hides this one."""
    return isinstance(shape, Circle) and any(
        other.center == shape.center and other.radius > shape.radius for other in circles
    )


def _pixels(points: Collection[Point], pixel: Pixel) -> Float:
    """Where many points are on screen (P, 2). The view is an affine map, which three points tell."""
    origin = np.array(pixel((0.0, 0.0)))
    across, up = np.array(pixel((_FAR_MM, 0.0))), np.array(pixel((0.0, _FAR_MM)))
    mm = np.array(list(points), dtype=float).reshape(-1, 2) / _FAR_MM
    return np.asarray(origin + mm[:, :1] * (across - origin) + mm[:, 1:] * (up - origin))


def _thinned(points: Float) -> Float:
    """Points that lie together counted once, where there are very many: outlines traced from scans."""
    if len(points) <= _MANY_POINTS:
        return points
    return np.unique(np.round(points / _CELL_PX), axis=0) * _CELL_PX


def _radius(item: LabelItem) -> float:
    return item.model.radius if isinstance(item.model, Label) else 0.0
