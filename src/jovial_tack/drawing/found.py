"""A layout that was found, as a ghost over the one there is."""

from __future__ import annotations

from collections.abc import Iterator

from jovial_tack.core.drive.path import Path
from jovial_tack.document.targets import NOTHING
from jovial_tack.drawing.measuring import measuring_line
from jovial_tack.drawing.shapes import Circle, Line, Shape


def found_shapes(path: Path) -> tuple[Shape, ...]:
    """The belt's way and its pulleys, dashed; path: one with (N,) members."""
    return tuple(_shapes(path))


def _shapes(path: Path) -> Iterator[Shape]:
    line = measuring_line(path)[0]
    assert isinstance(line, Line)
    yield Line("found", "found", 88.0, NOTHING, line.points, closed=True)
    for place, center in enumerate(path.centers.tolist()):
        radius = abs(float(path.signed_radii[place]))
        yield Circle(f"found/{place}", "found", 87.0, NOTHING, (center.real, center.imag), radius)
