"""The pull of belts on shafts as arrows: the trail of its tip over the revs, the arrow at one speed,
and a dashed circle for the bearing's limit.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from jovial_tack.answers.grip.loads import Pulls
from jovial_tack.document.targets import NOTHING
from jovial_tack.drawing.shapes import Circle, Line, Shape

#: How long the greatest pull is drawn, mm, and the head of an arrow against its length.
LONGEST_MM = 120.0
_HEAD, _SPREAD = 0.16, 0.35


def pull_shapes(
    each: Sequence[Pulls], rpm: float, centers: Mapping[str, tuple[float, float]]
) -> tuple[Shape, ...]:
    """Arrows, trails and limits at an engine speed; centers: where the shafts stand."""
    greatest = max((pulls.most[0] for pulls in each), default=0.0)
    if greatest <= 0:
        return ()
    return tuple(_shapes(each, rpm, centers, LONGEST_MM / greatest))


def _shapes(
    each: Sequence[Pulls], rpm: float, centers: Mapping[str, tuple[float, float]], scale: float
) -> Iterator[Shape]:
    for pulls in each:
        center = complex(*centers[pulls.shaft])
        tips = center + scale * pulls.pull_n
        trail = tuple((tip.real, tip.imag) for tip in tips.tolist())
        over = pulls.limit_n is not None and pulls.most[0] > pulls.limit_n
        yield Line(f"pull/{pulls.shaft}/trail", "gap_stop" if over else "gap", 90.0, NOTHING, trail)
        if pulls.limit_n is not None and scale * pulls.limit_n <= 2 * LONGEST_MM:
            at, radius = (center.real, center.imag), scale * pulls.limit_n
            yield Circle(f"pull/{pulls.shaft}/limit", "baseline", 84.0, NOTHING, at, radius)
        tip = tips[int(np.argmin(np.abs(pulls.rpm - rpm)))]
        back = (tip - center) * _HEAD
        left, right = tip - back * (1 + 1j * _SPREAD * 2), tip - back * (1 - 1j * _SPREAD * 2)
        points = (center, tip, left, tip, right)
        arrow = tuple((point.real, point.imag) for point in map(complex, points))
        yield Line(f"pull/{pulls.shaft}", "guide", 91.0, NOTHING, arrow)
