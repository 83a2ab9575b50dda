"""The line a tape or string takes round the pulleys, drawn over the layout while it is measured."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.drive.path import Path
from jovial_tack.document.targets import NOTHING
from jovial_tack.drawing.shapes import Circle, Line, Shape

_STEP = np.radians(4.0)


def measuring_line(path: Path) -> tuple[Shape, ...]:
    """The closed line of a path, and a dot where the reading begins; for one path with (N,) members."""
    points: list[complex] = []
    for place in range(path.centers.size):
        center, wrap = path.centers[place], float(path.wrap[place])
        start = path.end[place - 1] - center
        turn = float(np.sign(path.signed_radii[place]))
        count = max(2, int(wrap / _STEP) + 2)
        points += (center + start * np.exp(1j * turn * np.linspace(0.0, wrap, count))).tolist()
    line = tuple((point.real, point.imag) for point in points)
    begin = path.start[0]
    at = (float(begin.real), float(begin.imag))
    return (
        Line("measuring", "ghost", 88.0, NOTHING, line, closed=True),
        Circle("measuring/begin", "pivot", 89.0, NOTHING, at, 4.0),
    )
