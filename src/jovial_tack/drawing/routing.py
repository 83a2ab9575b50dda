"""The picture of the routing for the bay: pulleys, belts with their ribbed side and their way, the
order in which the belt is laid on, the adjuster; black on white, legible at 90 mm wide (METHOD 17).

Everything is in millimetres of paper, y upward from the lower left corner.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

import numpy as np

from jovial_tack.answers.belt.putting_on import FittingRoom
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.judging import case_of
from jovial_tack.answers.results import DriveResult, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex
from jovial_tack.core.drive.path import Path
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Drive, LockedTensioner, SlotMount, SpringArmTensioner
from jovial_tack.drawing.front import shaft_centers

#: The sticker, mm, and how much of it at the foot is for words.
WIDE, TALL = 90.0, 70.0
_EDGE, _FOOT_LINE, _TEXT, _NUMBER = 3.0, 2.9, 1.75, 2.0
_BELT, _THIN, _TICK, _TICK_STEP = 1.0, 0.3, 0.9, 2.2
_ARROW = 2.4
#: Letters of a line at the foot: up to where three columns have room, and at most.
_NARROW, _LONGEST = 17, 27


class Stroke(Value, frozen=True):
    """A line through points, or what they enclose where it is filled. wide: 0 for none."""

    points: tuple[complex, ...]
    wide: float
    closed: bool = False
    dashed: bool = False
    filled: bool = False


class Disc(Value, frozen=True):
    """A circle with a white face, or a black one."""

    center: complex
    radius: float
    wide: float
    black: bool = False


class Words(Value, frozen=True):
    """A line of words, its middle or its beginning at a place, its height in mm."""

    at: complex
    text: str
    high: float
    where: Literal["middle", "start"] = "middle"


Mark = Stroke | Disc | Words


class Picture(Value, frozen=True):
    """The whole picture: what lies over what, in this order."""

    title: str
    wide: float
    tall: float
    marks: tuple[Mark, ...]


def routing_picture(build: Build, results: Results, catalogue: Catalogue) -> Picture:
    """The routing of all belts that have a path. Raises GeometryError where none has."""
    shown = [
        (drive, result)
        for drive in build.drives
        if (result := results.drive(drive.id)).rest_path is not None
    ]
    if not shown:
        raise GeometryError("no belt has a path yet: there is no routing to draw")
    numbers = {drive.id: _laid_on(build, drive, catalogue) for drive, _ in shown}
    legend = list(_legend(build, shown, numbers))
    columns = 3 if max(map(len, legend)) <= _NARROW else 2
    lines = -(-len(legend) // columns)
    foot = _EDGE + lines * _FOOT_LINE + _FOOT_LINE
    place = _Place.of([result for _, result in shown], foot)
    marks: list[Mark] = []
    # the belt that lies further in is drawn first, dashed where another lies before it
    shown.sort(key=lambda each: _depth(each[0]))
    for k, (drive, result) in enumerate(shown):
        marks += _adjuster(build, results, drive, place)
        marks += _belt(drive, result, place, dashed=k < len(shown) - 1)
        marks += _pulleys(drive, result, place, numbers[drive.id])
    marks += _crank(build, shown, place)
    marks += _numbers(shown, place, numbers)
    for k, text in enumerate(legend):
        column, row = divmod(k, lines)
        x = _EDGE + column * (WIDE - 2 * _EDGE) / columns
        at = complex(x, _EDGE + (lines - 1 - row) * _FOOT_LINE)
        marks.append(Words(at, text, _TEXT, "start"))
    title = build.title or build.engine.name or "Routing"
    marks.append(Words(complex(WIDE / 2, TALL - _EDGE - 1.0), _short(title, 52), 2.6))
    return Picture(title, WIDE, TALL, tuple(marks))


def _depth(drive: Drive) -> float:
    planes = [pulley.plane_mm for pulley in drive.pulleys if pulley.plane_mm is not None]
    return float(np.mean(planes)) if planes else 0.0


class _Place(Value, frozen=True):
    """From the engine to the paper."""

    scale: float
    shift: complex

    @staticmethod
    def of(results: list[DriveResult], foot: float) -> _Place:
        """All pulleys between the words at the foot and the title."""
        paths = [path for result in results if (path := result.rest_path) is not None]
        centers = np.concatenate([path.centers for path in paths])
        reach = np.concatenate([np.abs(path.signed_radii) for path in paths])
        low = complex((centers.real - reach).min(), (centers.imag - reach).min())
        high = complex((centers.real + reach).max(), (centers.imag + reach).max())
        room = complex(WIDE - 2 * _EDGE, TALL - foot - 2 * _EDGE - 2.0)
        size = high - low
        scale = min(room.real / size.real, room.imag / size.imag)
        middle = complex(WIDE / 2, foot + room.imag / 2)
        return _Place(scale, middle - scale * (low + high) / 2)

    def at(self, point: complex) -> complex:
        """Where a place of the engine is on paper, mm."""
        return self.scale * point + self.shift


def _laid_on(build: Build, drive: Drive, catalogue: Catalogue) -> tuple[str, ...]:
    """The pulleys in the order in which the belt is laid round them: the one it is lifted over last at
    the end, else from the first of the route.
    """
    case, length = case_of(build, drive.id, catalogue), drive.belt.effective_length_mm
    last = None
    if isinstance(case, SolvableCase) and case.decided and length is not None:
        try:
            fitting = FittingRoom(case, catalogue).judge(length)
        except GeometryError:
            return drive.route
        last = fitting.last.pulley
        if not fitting.can and fitting.leave_off:
            last = fitting.leave_off[0]
    if last is None:
        return drive.route
    begin = drive.route.index(last) + 1
    return (*drive.route[begin:], *drive.route[:begin])


def _legend(
    build: Build, shown: list[tuple[Drive, DriveResult]], numbers: dict[str, tuple[str, ...]]
) -> Iterator[str]:
    """Which number is what; the last of each belt is said to be the last."""
    letters = _letters([drive for drive, _ in shown])
    for drive, _ in shown:
        letter = letters[drive.id]
        for number, name in enumerate(numbers[drive.id], start=1):
            label = build.shaft(drive.pulley(name).shaft).label
            end = " (last)" if number == len(drive.route) else ""
            yield _short(f"{letter}{number} {label}{end}", _LONGEST)


def _letters(drives: list[Drive]) -> dict[str, str]:
    """A letter for each belt, where there are several; by their ids, whichever is drawn first."""
    names = sorted(drive.id for drive in drives)
    return {name: chr(ord("A") + k) if len(names) > 1 else "" for k, name in enumerate(names)}


def _short(text: str, most: int) -> str:
    return text if len(text) <= most else f"{text[: most - 1]}…"


def _belt(drive: Drive, result: DriveResult, place: _Place, *, dashed: bool) -> Iterator[Mark]:
    path = result.rest_path
    assert path is not None
    ring = np.concatenate([_round(path, k) for k in range(path.centers.size)])
    points = tuple(place.at(complex(point)) for point in ring)
    yield Stroke(points, _BELT, closed=True, dashed=dashed)
    side = _ribs_side(drive, path)
    for k in np.argsort(-path.length, kind="stable").tolist():
        start, end = place.at(complex(path.start[k])), place.at(complex(path.end[k]))
        way = (end - start) / abs(end - start)
        for off in np.arange(_TICK_STEP, abs(end - start) - _TICK_STEP / 2, _TICK_STEP).tolist():
            foot = start + off * way + side * 1j * way * _BELT / 2
            yield Stroke((foot, foot + side * 1j * way * _TICK), _THIN)
    longest = np.argsort(-path.length, kind="stable")[:2].tolist()
    for k in longest:
        start, end = place.at(complex(path.start[k])), place.at(complex(path.end[k]))
        yield _arrow((start + end) / 2, (end - start) / abs(end - start))


def _ribs_side(drive: Drive, path: Path) -> int:
    """On which side of its travel the ribs are: +1 left, as a ribbed pulley that turns ccw has them."""
    for k, name in enumerate(drive.route):
        if drive.pulley(name).side == "ribs":
            return 1 if path.signed_radii[k] > 0 else -1
    return 1


def _arrow(tip: complex, way: complex) -> Stroke:
    """A filled head that points along a way, its middle at a place."""
    front, back = tip + way * _ARROW / 2, tip - way * _ARROW / 2
    across = 0.45j * way * _ARROW
    return Stroke((front, back + across, back - across), 0.0, closed=True, filled=True)


def _round(path: Path, k: int) -> Complex:
    """The belt round one pulley, as corners close enough to look round."""
    begin = path.end[k - 1] - path.centers[k]
    turn = np.sign(path.signed_radii[k]) * path.wrap[k]
    steps = max(int(np.ceil(abs(turn) / 0.08)), 1)
    return np.asarray(path.centers[k] + begin * np.exp(1j * turn * np.linspace(0, 1, steps + 1)))


def _pulleys(
    drive: Drive, result: DriveResult, place: _Place, order: tuple[str, ...]
) -> Iterator[Mark]:
    path = result.rest_path
    assert path is not None
    for k, name in enumerate(drive.route):
        center = place.at(complex(path.centers[k]))
        radius = max(place.scale * abs(float(path.signed_radii[k])) - _BELT / 2, 0.8)
        yield Disc(center, radius, _THIN)
        if name == order[-1]:
            yield Disc(center, max(radius - 0.9, 0.5), _THIN)


def _numbers(
    shown: list[tuple[Drive, DriveResult]], place: _Place, numbers: dict[str, tuple[str, ...]]
) -> Iterator[Mark]:
    """The number of every pulley in its middle; those on one shaft below one another."""
    letters = _letters([drive for drive, _ in shown])
    at_shaft: dict[str, tuple[complex, list[str]]] = {}
    for drive, result in shown:
        path = result.rest_path
        assert path is not None
        for k, name in enumerate(drive.route):
            number = f"{letters[drive.id]}{numbers[drive.id].index(name) + 1}"
            center = place.at(complex(path.centers[k]))
            at_shaft.setdefault(drive.pulley(name).shaft, (center, []))[1].append(number)
    for center, told in at_shaft.values():
        for k, number in enumerate(sorted(told)):
            line = (len(told) - 1) / 2 - k
            yield Words(center + 1j * (line * _NUMBER * 1.35 - _NUMBER / 2), number, _NUMBER)


def _adjuster(build: Build, results: Results, drive: Drive, place: _Place) -> Iterator[Mark]:
    """The arm with its pivot bolt, or the bolt of what is moved."""
    held, centers = drive.tensioner, shaft_centers(build, results)
    if isinstance(held, SpringArmTensioner):
        pivot = place.at(complex(*held.pivot_mm))
        pulley = place.at(complex(*centers[drive.pulley(held.pulley).shaft]))
        yield Stroke((pivot, pulley), 1.6)
        yield Disc(pivot, 1.3, _THIN)
        yield Disc(pivot, 0.6, 0.0, black=True)
    elif isinstance(held, LockedTensioner):
        mount = build.shaft(held.shaft).mount
        if isinstance(mount, SlotMount):
            points = tuple(place.at(complex(*end)) for end in (mount.from_mm, mount.to_mm))
            yield Stroke(points, 0.5, dashed=True)


def _crank(build: Build, shown: list[tuple[Drive, DriveResult]], place: _Place) -> Iterator[Mark]:
    """An arrow round the crank, the way it turns."""
    for drive, result in shown:
        path = result.rest_path
        for k, name in enumerate(drive.route):
            if path is None or build.shaft(drive.pulley(name).shaft).kind != "crank":
                continue
            center = place.at(complex(path.centers[k]))
            turn = 1 if build.engine.crank_rotation == "ccw" else -1
            radius = 0.72 * place.scale * abs(float(path.signed_radii[k]))
            angles = np.radians(200.0 + turn * np.linspace(0.0, 140.0, 24))
            points = tuple(complex(p) for p in center + radius * np.exp(1j * angles))
            yield Stroke(points, 0.4)
            yield _arrow(points[-1], complex(1j * turn * np.exp(1j * angles[-1])))
            return
