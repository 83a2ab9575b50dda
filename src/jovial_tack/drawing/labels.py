"""Finding a free spot for every label: beside its pulley, off belts, pulleys and other labels.

Works in screen pixels with y down, since the size of words does not follow the zoom.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jovial_tack.core.arrays import Float


@dataclass(frozen=True)
class Wanted:
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
    placed: list[Box] = []
    leaders = np.empty((0, 2))
    for label in wanted:
        boxes = _candidates(label)
        others = [other for other in wanted if other is not label]
        costs = [
            _cost(box, rank, placed, belts, outlines, bounds)
            + _misleads(box, others)
            + 4.0 * _covered(box, leaders, 1.0)
            + 4.0 * sum(_covered(other, _leader(label, box), 1.0) for other in placed)
            for rank, box in enumerate(boxes)
        ]
        best = boxes[int(np.argmin(costs))]
        placed.append(best)
        leaders = np.concatenate([leaders, _leader(label, best)])
    return placed


def _leader(label: Wanted, box: Box) -> Float:
    """Points from a label's box to the rim of what it names (9, 2); none if it stands beside it."""
    x = min(max(label.x, box[0]), box[0] + box[2])
    y = min(max(label.y, box[1]), box[1] + box[3])
    away = float(np.hypot(x - label.x, y - label.y))
    if away <= label.radius + 12:
        return np.empty((0, 2))
    rim = np.array([label.x, label.y]) + np.array([x - label.x, y - label.y]) * label.radius / away
    return np.asarray(np.array([x, y]) + _LEADER_STEPS * (rim - np.array([x, y])))


def _candidates(label: Wanted) -> list[Box]:
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
    return found


def _cost(
    box: Box, rank: int, placed: Sequence[Box], belts: Float, outlines: Float, bounds: Box
) -> float:
    left, top, width, height = box
    cost = 0.05 * rank
    cost += 10.0 * min(_covered(box, belts, 4.0), 30.0)
    cost += 2.5 * min(_covered(box, outlines, 1.0), 30.0)
    for other in placed:
        cost += 2.0 * _overlap(box, other)
    outside = max(bounds[0] - left, 0) + max(bounds[1] - top, 0)
    outside += max(left + width - bounds[0] - bounds[2], 0)
    outside += max(top + height - bounds[1] - bounds[3], 0)
    return cost + 5.0 * outside


def _misleads(box: Box, others: Sequence[Wanted]) -> float:
    """A label inside another pulley would seem to name that one."""
    x, y = box[0] + box[2] / 2, box[1] + box[3] / 2
    inside = [np.hypot(x - other.x, y - other.y) < other.radius for other in others]
    return 12.0 * float(sum(inside))


def _covered(box: Box, points: Float, pad: float) -> float:
    left, top, width, height = box
    x, y = points[:, 0], points[:, 1]
    inside = (x > left - pad) & (x < left + width + pad)
    inside &= (y > top - pad) & (y < top + height + pad)
    return float(inside.sum())


def _overlap(a: Box, b: Box) -> float:
    across = min(a[0] + a[2], b[0] + b[2]) - max(a[0], b[0])
    down = min(a[1] + a[3], b[1] + b[3]) - max(a[1], b[1])
    return across * down if across > 0 and down > 0 else 0.0
