"""The front view of a build: pulleys, arms, belts, arcs used and labels, as shapes."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from math import atan2, cos, degrees, radians, sin

import numpy as np

from jovial_tack.answers.drive.clearance import wrench_outline
from jovial_tack.answers.drive.freedom import hung_outline
from jovial_tack.answers.drive.scene import DRAWN_GAPS
from jovial_tack.answers.results import (
    ArmResult,
    ClearanceResult,
    DriveResult,
    FixedResult,
    Results,
)
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex
from jovial_tack.core.drive.path import Path
from jovial_tack.core.units import format_length
from jovial_tack.document.edits.brackets import carried_places
from jovial_tack.document.model import (
    Build,
    Drive,
    HolesMount,
    LockedTensioner,
    Shaft,
    SlotMount,
    SpringArmTensioner,
    SpringSlideTensioner,
    SwingMount,
)
from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    BeltAt,
    BracketAt,
    CornerAt,
    NoteAt,
    ObstacleAt,
    PulleyAt,
    ShaftAt,
    SpanAt,
    Target,
)
from jovial_tack.document.travel import notch_offset_deg, slot_of
from jovial_tack.drawing.plates import plate_shapes
from jovial_tack.drawing.shapes import Arc, BeltLoop, Circle, Cross, Label, Line, Point, Role, Shape

BELT_WIDTH_MM = 4.6
#: A drawn spring: how far its foot lies behind the slot, half its width, its turns; half a tick.
_SPRING_MM, _COIL_MM, _COILS, _TICK_MM = 22.0, 7.0, 9, 11.0


def front_view(
    build: Build,
    results: Results,
    catalogue: Catalogue,
    rpm: float | None = None,
    baseline: Results | None = None,
) -> tuple[Shape, ...]:
    """All shapes of the front view; drives further from the engine lie over those behind them.

    The arc used is that at an engine speed (the last listed one), in the state it has on the low
    side of the arm's damping.
    """
    centers = shaft_centers(build, results)
    shapes: list[Shape] = []
    order = sorted(build.drives, key=_depth)
    for layer, drive in enumerate(order, start=1):
        look: Role = "belt" if layer == len(order) else "belt_behind"
        result = results.drive(drive.id)
        lane = -1 if rpm is None else result.lane(rpm)
        shapes += _drive_shapes(build, drive, result, centers, 10.0 * layer, catalogue, look, lane)
    shapes += _obstacle_shapes(build, results, centers)
    shapes += _note_shapes(build)
    shapes += _bracket_shapes(build)
    shapes += plate_shapes(build, results)
    if baseline is not None:
        shapes += _baseline_shapes(results, baseline)
    carried: dict[str, list[float]] = {}
    for drive in build.drives:
        for pulley in drive.pulleys:
            carried.setdefault(pulley.shaft, []).append(pulley.diameter_mm)
    for shaft in build.shafts:
        at = centers[shaft.id]
        shapes += _mount_shapes(shaft)
        if shaft.id not in carried:
            shapes.append(Circle(f"bare/{shaft.id}", "freedom", 2.0, ShaftAt(shaft.id), at, 20.0))
        shapes.append(Cross(f"shaft/{shaft.id}", "shaft", 90.0, ShaftAt(shaft.id), at))
        diameters = tuple(carried.get(shaft.id, ()))
        shapes.append(_label(shaft, at, diameters, build.display_units))
    return tuple(shapes)


def shaft_centers(build: Build, results: Results) -> dict[str, Point]:
    """Where every shaft is drawn: arm pulleys where the belt puts them at rest, mm."""
    centers: dict[str, Point] = {shaft.id: shaft.center_mm for shaft in build.shafts}
    for drive in build.drives:
        tensioner, result = drive.tensioner, results.drive(drive.id).tensioner
        if isinstance(tensioner, SpringArmTensioner):
            shaft = drive.pulley(tensioner.pulley).shaft
            angle = result.arm_angle_deg if isinstance(result, ArmResult) else None
            if angle is None:
                angle = drawn_arm_angle_deg(tensioner, centers[shaft])
            centers[shaft] = _around(tensioner.pivot_mm, tensioner.arm_mm, angle)
        elif isinstance(tensioner, SpringSlideTensioner):
            slid = _slid_to(build, drive, result)
            if slid is not None:
                centers[drive.pulley(tensioner.pulley).shaft] = slid
        elif isinstance(tensioner, LockedTensioner):
            travel = result.travel if isinstance(result, FixedResult) else None
            if travel is not None:
                centers[tensioner.shaft] = travel.center_mm
    return centers


def _slid_to(build: Build, drive: Drive, result: object) -> Point | None:
    """Where a belt puts a sprung slide; None where that is not known."""
    tensioner = drive.tensioner
    assert isinstance(tensioner, SpringSlideTensioner)
    slot = slot_of(drive, build.shaft(drive.pulley(tensioner.pulley).shaft))
    place = result.slide_mm if isinstance(result, ArmResult) else None
    if slot is None or place is None:
        return None
    return _point(complex(slot.center(np.asarray(place / slot.length_mm))))


def drawn_arm_angle_deg(arm: SpringArmTensioner, picture: Point) -> float:
    """The angle of an arm whose equilibrium is unknown: toward its drawn pulley."""
    return degrees(atan2(picture[1] - arm.pivot_mm[1], picture[0] - arm.pivot_mm[0]))


def _depth(drive: Drive) -> float:
    planes = [pulley.plane_mm for pulley in drive.pulleys if pulley.plane_mm is not None]
    return float(np.mean(planes)) if planes else 0.0


def _around(center: Point, radius: float, angle_deg: float) -> Point:
    return (
        center[0] + radius * cos(radians(angle_deg)),
        center[1] + radius * sin(radians(angle_deg)),
    )


def _drive_shapes(
    build: Build,
    drive: Drive,
    result: DriveResult,
    centers: dict[str, Point],
    layer: float,
    catalogue: Catalogue,
    look: Role,
    lane: int,
) -> Iterator[Shape]:
    for pulley in drive.pulleys:
        yield Circle(
            f"pulley/{drive.id}/{pulley.id}",
            "pulley",
            layer,
            PulleyAt(drive.id, pulley.id),
            centers[pulley.shaft],
            pulley.diameter_mm / 2,
        )
    if isinstance(drive.tensioner, SpringArmTensioner):
        yield from _arm_shapes(drive, drive.tensioner, centers, layer)
        half_width = catalogue.parts.wrench_half_width_mm
        yield from _wrench_shapes(drive, drive.tensioner, result, layer, half_width)
    if isinstance(drive.tensioner, SpringSlideTensioner):
        yield from _slide_shapes(build, drive, drive.tensioner, centers, layer)
    if result.rest_path is None:
        points = tuple(centers[drive.pulley(name).shaft] for name in drive.route)
        target = BeltAt(drive.id)
        yield Line(f"ghost/{drive.id}", "ghost", layer + 5, target, points, closed=True)
        return
    watch = catalogue.limits.low_reserve_arc_used
    yield from _belt_shapes(drive, result, layer, watch, look, lane)


def _belt_shapes(
    drive: Drive, result: DriveResult, layer: float, watch: float, look: Role, lane: int
) -> Iterator[Shape]:
    path = result.rest_path
    assert path is not None
    loop = _loop(f"belt/{drive.id}", look, layer + 5, BeltAt(drive.id), path, BELT_WIDTH_MM)
    yield loop
    for name, ends in zip(drive.route, loop.spans, strict=True):
        key, target = f"span/{drive.id}/{name}", SpanAt(drive.id, name)
        yield Line(key, "span", layer + 5.5, target, ends)
    if result.arcs_used is None:
        return
    share, low = (of[lane].tolist() for of in result.arcs_used)
    for place, (name, used) in enumerate(zip(drive.route, share, strict=True)):
        if not used > 0.005:  # nor where the belt floats
            continue
        center, radius, turns = loop.arcs[place]
        # the creeping arc lies at the run-off side: it ends where the belt leaves
        (x, y), sweep = loop.spans[place][0], min(used, 1.0) * turns
        worst = low[place] if low[place] > used else used
        yield Arc(
            f"arc/{drive.id}/{name}",
            arc_role(worst, watch, guessed=bool(result.guessed)),
            layer + 6,
            PulleyAt(drive.id, name),
            center,
            radius,
            degrees(atan2(y - center[1], x - center[0])) - sweep,
            sweep,
            BELT_WIDTH_MM,
        )


def _loop(key: str, role: Role, layer: float, target: Target, path: Path, width: float) -> BeltLoop:
    starts, ends = _points(path.start), _points(path.end)
    turns = np.degrees(np.sign(path.signed_radii) * path.wrap).tolist()
    radii = np.abs(path.signed_radii).tolist()
    return BeltLoop(
        key,
        role,
        layer,
        target,
        tuple(zip(starts, ends, strict=True)),
        tuple(zip(_points(path.centers), radii, turns, strict=True)),
        width,
    )


def _points(values: Complex) -> list[Point]:
    return [(value.real, value.imag) for value in values.tolist()]


def _baseline_shapes(results: Results, baseline: Results) -> Iterator[Shape]:
    """The belts of a pinned state that run elsewhere now."""
    now = {drive.id: drive.rest_path for drive in results.drives}
    for drive in baseline.drives:
        path, other = drive.rest_path, now.get(drive.id)
        if path is None:
            continue
        same = (
            other is not None
            and other.centers.shape == path.centers.shape
            and bool(np.allclose(other.centers, path.centers, atol=0.05))
            and bool(np.allclose(other.signed_radii, path.signed_radii, atol=0.02))
        )
        if not same:
            yield _loop(f"baseline/{drive.id}", "baseline", 89.0, NOTHING, path, 0.0)


def arc_role(used: float, watch: float, *, guessed: bool = False) -> Role:
    """The look of an arc of which a share is used; guessed: by loads that are only the usual ones."""
    if guessed:
        return "arc_unknown"
    return "arc_stop" if used >= 1 else "arc_watch" if used > watch else "arc_good"


def _arm_shapes(
    drive: Drive, arm: SpringArmTensioner, centers: dict[str, Point], layer: float
) -> Iterator[Shape]:
    shaft = drive.pulley(arm.pulley).shaft
    target = ArmAt(drive.id)
    yield Line(f"arm/{drive.id}", "arm", layer + 7, target, (arm.pivot_mm, centers[shaft]))
    yield Circle(f"pivot/{drive.id}", "pivot", layer + 8, target, arm.pivot_mm, 7.0)
    turned = notch_offset_deg(arm)
    if arm.window_deg is not None:
        low, high = sorted(arm.window_deg)
        yield Arc(
            f"window/{drive.id}",
            "window",
            layer + 7,
            target,
            arm.pivot_mm,
            arm.arm_mm,
            low + turned,
            high - low,
        )
    unturned = centers[shaft][0] - arm.pivot_mm[0], centers[shaft][1] - arm.pivot_mm[1]
    now = degrees(atan2(unturned[1], unturned[0])) - turned
    for place, notch in enumerate(arm.notches_deg or ()):
        # the place of the arm's middle in each notch, to drag it to
        at = _around(arm.pivot_mm, 0.5 * arm.arm_mm, now + notch)
        yield Circle(f"notch/{drive.id}/{place}", "freedom", layer + 7.5, target, at, 2.5)
    for place, stop in enumerate(arm.stops_deg):
        tick = tuple(_around(arm.pivot_mm, arm.arm_mm * r, stop + turned) for r in (0.9, 1.1))
        yield Line(f"stop/{drive.id}/{place}", "stop", layer + 7, target, tick)


def _slide_shapes(
    build: Build,
    drive: Drive,
    slide: SpringSlideTensioner,
    centers: dict[str, Point],
    layer: float,
) -> Iterator[Shape]:
    """A sprung slide: its spring from the end it pushes from, and the ends of its window."""
    shaft = build.shaft(drive.pulley(slide.pulley).shaft)
    slot = slot_of(drive, shaft)
    if slot is None:
        return
    target = ArmAt(drive.id)
    way = (slot.end - slot.start) / slot.length_mm
    seat = slot.start if slide.pushes_to == "second" else slot.end
    onward = way if slide.pushes_to == "second" else -way
    foot, here = seat - _SPRING_MM * onward, complex(*centers[shaft.id])
    yield Line(f"arm/{drive.id}", "stop", layer + 7, target, _coil(foot, here))
    yield Circle(f"pivot/{drive.id}", "pivot", layer + 8, target, _point(foot), 3.5)
    across = _TICK_MM * 1j * way
    for place, end in enumerate(slide.window_mm or ()):
        at = slot.start + end * way
        tick = (_point(at - across), _point(at + across))
        yield Line(f"window/{drive.id}/{place}", "window", layer + 7, target, tick)
    for place, stop in enumerate((slot.start, slot.end)):
        tick = (_point(stop - 0.7 * across), _point(stop + 0.7 * across))
        yield Line(f"stop/{drive.id}/{place}", "stop", layer + 7, target, tick)


def _coil(foot: complex, here: complex) -> tuple[Point, ...]:
    """A spring drawn from its foot to where it pushes."""
    along = here - foot
    if abs(along) < 1e-6:
        return _point(foot), _point(here)
    side = 1j * along / abs(along) * _COIL_MM
    turns = [foot + along * (k + 0.5) / _COILS + (side if k % 2 else -side) for k in range(_COILS)]
    return tuple(_point(point) for point in (foot, *turns, here))


def _wrench_shapes(
    drive: Drive,
    arm: SpringArmTensioner,
    result: DriveResult,
    layer: float,
    half_width_mm: float,
) -> Iterator[Shape]:
    """The swing of the wrench that winds the arm back: its bar at both ends, and the way of its end."""
    found = result.tensioner
    rests = found.arm_angle_deg if isinstance(found, ArmResult) else None
    if arm.wrench_mm is None or rests is None:
        return
    turned = notch_offset_deg(arm)
    stops = sorted(stop + turned for stop in arm.stops_deg)
    wound = stops[0] if arm.pushes == "ccw" else stops[1]
    for place, angle in enumerate((rests, wound)):
        bar = wrench_outline(arm, radians(angle), half_width_mm)
        corners = tuple(_point(corner) for corner in bar)
        yield Line(
            f"wrench/{drive.id}/{place}",
            "freedom",
            layer + 7,
            ArmAt(drive.id),
            corners,
            closed=True,
        )
    start = rests + arm.wrench_deg
    sweep = wound - rests
    yield Arc(
        f"wrench/{drive.id}",
        "freedom",
        layer + 7,
        ArmAt(drive.id),
        arm.pivot_mm,
        arm.wrench_mm,
        start,
        sweep,
    )


def _obstacle_shapes(build: Build, results: Results, centers: dict[str, Point]) -> Iterator[Shape]:
    """What is in the way, its corners, and the least gap to each where it matters."""
    gaps: dict[str, ClearanceResult] = {}
    for drive in results.drives:
        for found in drive.clearances:
            least = gaps.get(found.obstacle)
            if least is None or _gravity(found) < _gravity(least):
                gaps[found.obstacle] = found
    for obstacle in build.obstacles:
        closed = obstacle.closed and len(obstacle.outline_mm) > 2
        outline = hung_outline(build, obstacle, centers)
        yield from _outline_shapes(obstacle.id, obstacle.label, outline, closed)
        least = gaps.get(obstacle.id)
        if least is not None and least.gap_mm < DRAWN_GAPS * least.needed_mm:
            role: Role = "gap_stop" if least.gap_mm < least.needed_mm else "gap"
            yield Line(f"gap/{obstacle.id}", role, 96.0, NOTHING, (least.here_mm, least.there_mm))


def _gravity(found: ClearanceResult) -> tuple[bool, float]:
    """Which of two gaps is drawn: that of belts and parts before that of a wrench, the tightest."""
    return found.of == "wrench", found.gap_mm - found.needed_mm


#: Outlines with more corners, as from a scan, are moved whole: nobody takes hold of one of hundreds.
MOST_CORNERS = 80


@lru_cache(maxsize=256)
def _outline_shapes(
    name: str, label: str, outline: tuple[Point, ...], closed: bool
) -> tuple[Shape, ...]:
    """An outline, its corners and its name; kept, because most stand still while something moves."""
    target, key = ObstacleAt(name), f"obstacle/{name}"
    middle = sum(x for x, _ in outline) / len(outline), sum(y for _, y in outline) / len(outline)
    corners = tuple(
        Circle(f"{key}/{k}", "corner", 95.0, CornerAt(name, k), point, 3.5)
        for k, point in enumerate(outline if len(outline) <= MOST_CORNERS else ())
    )
    return (
        Line(key, "obstacle", 1.0, target, outline, closed),
        *corners,
        Label(f"label/{key}", "label", 100.0, target, label, "", middle, 4.0),
    )


def _note_shapes(build: Build) -> Iterator[Shape]:
    """The notes: a pin where each is stuck, its words beside it."""
    for note in build.pinned_notes:
        target = NoteAt(note.id)
        yield Circle(f"note/{note.id}", "note", 97.0, target, note.at_mm, 5.0)
        first = note.text.strip().partition("\n")[0] or "Note"
        yield Label(f"label/note/{note.id}", "note", 100.0, target, first, "", note.at_mm, 5.0)


def _bracket_shapes(build: Build) -> Iterator[Shape]:
    """The places a bracket can bring its shafts to."""
    for bracket in build.brackets:
        target = BracketAt(bracket.id)
        for name in bracket.shafts:
            for place, at in enumerate(carried_places(build, bracket, name)):
                key = f"bracket/{bracket.id}/{name}/{place}"
                yield Circle(key, "freedom", 92.5, target, at, 6.0)


def _mount_shapes(shaft: Shaft) -> Iterator[Shape]:
    """The freedom of a shaft: its slot, its swing about a bolt, or its holes."""
    mount, target = shaft.mount, ShaftAt(shaft.id)
    key = f"mount/{shaft.id}"
    if isinstance(mount, SlotMount):
        yield Line(key, "freedom", 92.0, target, (mount.from_mm, mount.to_mm))
        for place, end in enumerate((mount.from_mm, mount.to_mm)):
            yield Circle(f"{key}/{place}", "freedom", 92.0, target, end, 3.0)
    elif isinstance(mount, SwingMount):
        low, sweep = mount.from_deg, mount.to_deg - mount.from_deg
        yield Arc(key, "freedom", 92.0, target, mount.pivot_mm, mount.radius_mm, low, sweep)
        yield Circle(f"{key}/pivot", "pivot", 92.0, target, mount.pivot_mm, 5.0)
    elif isinstance(mount, HolesMount):
        for place, hole in enumerate(mount.positions_mm):
            yield Circle(f"{key}/{place}", "freedom", 92.0, target, hole, 4.0)


def _label(shaft: Shaft, at: Point, diameters: tuple[float, ...], unit: str) -> Label:
    radius = max(diameters) / 2 if diameters else 20.0
    sizes = _sizes(diameters, unit)
    target = ShaftAt(shaft.id)
    return Label(f"label/{shaft.id}", "label", 100.0, target, shaft.label, sizes, at, radius)


@lru_cache(maxsize=256)
def _sizes(diameters: tuple[float, ...], unit: str) -> str:
    sizes = [format_length(diameter, unit).removesuffix(f" {unit}") for diameter in diameters]
    return f"{' / '.join(sizes)} {unit}" if sizes else ""


def _point(value: complex) -> Point:
    return (float(value.real), float(value.imag))
