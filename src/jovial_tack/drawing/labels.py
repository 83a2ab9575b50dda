"""Finding a free spot for every label: beside its pulley, off belts, pulleys and other labels.

Works in screen pixels with y down, since the size of words does not follow the zoom.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.value import Value


class Wanted(Value, frozen=True):
    """A label to place: anchor and radius of what it names, and its own size; px."""

    x: float
    y: float
    radius: float
    width: float
    height: float


Box = tuple[float, float, float, float]

_ANGLES = np.radians([0, -30, 30, -60, 60, 180, -150, 150, -90, 90, -120, 120])
_REACH = (6.0, 26.0, 52.0, 84.0)
_LEADER_STEPS = np.linspace(0.0, 1.0, 9)[:, None]


def place_labels(wanted: Sequence[Wanted], belts: Float, outlines: Float, bounds: Box) -> list[Box]:
    """A box (left, top, width, height) for every label, the first ones choosing first.

    belts (M, 2): points along all belts, dense enough that none slips between them; outlines (K, 2):
    points along pulleys and arms, which a label may cross only at need. Inside its own pulley is
    tried first, then spots around it; the spot that covers the least is taken, and whose leader to
    what it names crosses no other words.
    """
    placed = np.empty((0, 4))
    leaders = np.empty((0, 2))
    for label in wanted:
        boxes = _candidates(label)
        others = [other for other in wanted if other is not label]
        cost = 0.05 * np.arange(len(boxes))
        cost += 10.0 * np.minimum(_covered(boxes, belts, 4.0), 30.0)
        cost += 2.5 * np.minimum(_covered(boxes, outlines, 1.0), 30.0)
        cost += 2.0 * _overlap(boxes, placed) + 5.0 * _outside(boxes, bounds)
        cost += 12.0 * _misleads(boxes, others) + 4.0 * _covered(boxes, leaders, 1.0)
        if len(placed):
            own = [_leader(label, box) for box in boxes]
            cost += 4.0 * np.array([_covered(placed, points, 1.0).sum() for points in own])
        best = boxes[int(np.argmin(cost))]
        placed = np.concatenate([placed, best[None]])
        leaders = np.concatenate([leaders, _leader(label, best)])
    return [(float(x), float(y), float(w), float(h)) for x, y, w, h in placed]


def _leader(label: Wanted, box: Float) -> Float:
    """Points from a label's box to the rim of what it names (9, 2); none if it stands beside it."""
    x = min(max(label.x, box[0]), box[0] + box[2])
    y = min(max(label.y, box[1]), box[1] + box[3])
    away = float(np.hypot(x - label.x, y - label.y))
    if away <= label.radius + 12:
        return np.empty((0, 2))
    rim = np.array([label.x, label.y]) + np.array([x - label.x, y - label.y]) * label.radius / away
    return np.asarray(np.array([x, y]) + _LEADER_STEPS * (rim - np.array([x, y])))


def _candidates(label: Wanted) -> Float:
    """Boxes to try (B, 4), the best first: inside its own pulley, then around it."""
    w, h = label.width, label.height
    found: list[Box] = []
    if label.radius > np.hypot(w / 2, h + 10):
        # inside the pulley, clear of the centre mark
        for below in (1, -1):
            y = label.y + below * (h / 2 + 10)
            found.append((label.x - w / 2, y - h / 2, w, h))
    for reach in _REACH:
        for angle in _ANGLES:
            x = label.x + np.cos(angle) * (label.radius + reach)
            y = label.y + np.sin(angle) * (label.radius + reach)
            left = x - w / 2 + np.cos(angle) * w / 2
            top = y - h / 2 + np.sin(angle) * h / 2
            found.append((float(left), float(top), w, h))
    return np.array(found)


def _outside(boxes: Float, bounds: Box) -> Float:
    """How far boxes (B, 4) reach beyond the bounds (B,)."""
    right, bottom = boxes[:, 0] + boxes[:, 2], boxes[:, 1] + boxes[:, 3]
    beyond = np.maximum(bounds[0] - boxes[:, 0], 0) + np.maximum(bounds[1] - boxes[:, 1], 0)
    beyond += np.maximum(right - bounds[0] - bounds[2], 0)
    return np.asarray(beyond + np.maximum(bottom - bounds[1] - bounds[3], 0))


def _misleads(boxes: Float, others: Sequence[Wanted]) -> Float:
    """In how many other pulleys a box lies, which it would then seem to name (B,)."""
    if not others:
        return np.zeros(len(boxes))
    x, y, radius = np.array([(other.x, other.y, other.radius) for other in others]).T
    middle = boxes[:, :2] + boxes[:, 2:] / 2
    away = np.hypot(middle[:, :1] - x, middle[:, 1:] - y)
    return np.asarray((away < radius).sum(axis=1, dtype=float))


def _covered(boxes: Float, points: Float, pad: float) -> Float:
    """How many points (P, 2) lie under each of the boxes (B,)."""
    low, high = boxes[:, :2] - pad, boxes[:, :2] + boxes[:, 2:] + pad
    inside = (points[:, 0] > low[:, :1]) & (points[:, 0] < high[:, :1])
    inside &= (points[:, 1] > low[:, 1:]) & (points[:, 1] < high[:, 1:])
    return np.asarray(inside.sum(axis=1, dtype=float))


def _overlap(boxes: Float, placed: Float) -> Float:
    """Area of the boxes (B, 4) that lies under those placed (Q, 4) already (B,)."""
    low = np.maximum(boxes[:, None, :2], placed[:, :2])
    high = np.minimum(boxes[:, None, :2] + boxes[:, None, 2:], placed[:, :2] + placed[:, 2:])
    shared = np.maximum(high - low, 0.0)
    return np.asarray((shared[..., 0] * shared[..., 1]).sum(axis=1))
