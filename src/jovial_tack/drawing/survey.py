"""The survey over the front view: readings, places with their ellipses, and other arrangements."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.surveyed import Surveyed, rim_diameters
from jovial_tack.answers.survey.told import ToldShaft, ToldSurvey
from jovial_tack.document import model as doc
from jovial_tack.document.targets import NOTHING, ShaftAt
from jovial_tack.drawing.reading import reading_lines
from jovial_tack.drawing.shapes import CHOICE, Circle, Line, Point, Role, Shape

#: Ellipses are a millimetre or two: seen ten times as large.
ELLIPSE_SCALE = 10.0
_RIM_MM = 22.0
_SHOWN_MM = 0.3


def survey_shapes(
    build: doc.Build, found: Surveyed, told: ToldSurvey, chosen: int | None = None
) -> tuple[Shape, ...]:
    """All that is laid over the front view. chosen: the reading that is looked at."""
    places = dict(zip(found.built.names, found.places.tolist(), strict=True))
    shapes: list[Shape] = []
    for reading in told.readings:
        model = build.survey.readings[reading.place]
        names = getattr(model, "shafts", ())
        if reading.problem or reading.set_aside or any(name not in places for name in names):
            continue
        role: Role = "reading"
        if reading.doubt is not None:
            role = "gap_stop"
        if reading.place == chosen:
            role = "guide"
        radii = radii_of(build, model)
        lines = reading_lines(model.type, [places[name] for name in names], radii)
        for k, line in enumerate(lines):
            key = f"survey/reading/{reading.place}/{k}"
            shapes.append(Line(key, role, 86.0, NOTHING, _points(line)))
    for shaft in told.shafts:
        shapes += _place(build, shaft)
    for number, other in enumerate(found.doubted.adjusted.also):
        shapes += _other(build, found, number, other)
    return tuple(shapes)


def radii_of(build: doc.Build, reading: doc.AnyReading) -> list[float]:
    """The radii of the rims a reading touches, mm, one for each of its shafts."""
    names = getattr(reading, "shafts", ())
    given = getattr(reading, "diameters_mm", None)
    if given is not None and len(given) == len(names):
        return [d / 2 for d in given]
    if given is not None and len(given) == len(names) - 2:
        return [0.0, *(d / 2 for d in given), 0.0]
    return [(rim_diameters(build, name) or (0.0,))[0] / 2 for name in names]


def _place(build: doc.Build, shaft: ToldShaft) -> list[Shape]:
    """Where the survey puts a shaft: its ellipse, and the way from where it is drawn."""
    at, key = shaft.center_mm, f"survey/place/{shaft.name}"
    target = ShaftAt(shaft.name) if any(s.id == shaft.name for s in build.shafts) else NOTHING
    if not shaft.determined:
        rim = (rim_diameters(build, shaft.name) or (2 * _RIM_MM,))[0] / 2 + 6.0
        return [Circle(f"{key}/loose", "freedom", 87.0, target, at, rim)]
    shapes: list[Shape] = [Circle(key, "pivot", 89.0, target, at, 3.0)]
    if shaft.ellipse is not None and shaft.ellipse.major > 0:
        around = np.exp(1j * np.linspace(0.0, 2 * np.pi, 49)[:-1])
        axes = shaft.ellipse.major * around.real + 1j * shaft.ellipse.minor * around.imag
        drawn = complex(*at) + ELLIPSE_SCALE * axes * np.exp(1j * shaft.ellipse.angle)
        role: Role = "freedom" if shaft.weak else "reading"
        shapes.append(Line(f"{key}/ellipse", role, 87.5, target, _points(drawn), closed=True))
    return shapes


def _other(build: doc.Build, found: Surveyed, number: int, other: np.ndarray) -> list[Shape]:
    """The shafts that stand elsewhere in another arrangement, to be clicked."""
    shapes: list[Shape] = []
    for name, here, there in zip(
        found.built.names, found.places.tolist(), other.tolist(), strict=True
    ):
        if abs(here - there) < 1.0:
            continue
        rim = (rim_diameters(build, name) or (2 * _RIM_MM,))[0] / 2
        at = (there.real, there.imag)
        key = f"{CHOICE}{number}/{name}"
        shapes.append(Circle(key, "ghost", 85.0, NOTHING, at, max(rim, _RIM_MM)))
        way = ((here.real, here.imag), at)
        shapes.append(Line(f"survey/way/{number}/{name}", "baseline", 84.0, NOTHING, way))
    return shapes


def _points(line: np.ndarray) -> tuple[Point, ...]:
    return tuple((p.real, p.imag) for p in line.tolist())
