"""Where shafts fall into place: level with others, in line with their rims, with equal gaps; mirrors.

All lengths mm. A shaft's radius is that of its largest pulley, or the usual one of its kind.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from jovial_tack.build.edits import changed, move_shaft
from jovial_tack.build.model import (
    Build,
    Drive,
    HolesMount,
    Obstacle,
    Point,
    Rotation,
    Shaft,
    SlotMount,
    SpringArmTensioner,
    SwingMount,
)
from jovial_tack.catalogue import Catalogue

_TURNED: dict[str, Rotation] = {"cw": "ccw", "ccw": "cw"}


@dataclass(frozen=True)
class Guide:
    """Why a shaft fell into place: a word, and the line that shows it."""

    word: str
    points: tuple[Point, Point]


@dataclass(frozen=True)
class Stands:
    """Another shaft: its id, centre and radius."""

    shaft: str
    x: float
    y: float
    radius: float


def radius_on(build: Build, shaft_id: str, catalogue: Catalogue) -> float:
    """Radius of the largest pulley on a shaft; without one half the usual diameter of its kind."""
    sizes = [p.diameter_mm / 2 for d in build.drives for p in d.pulleys if p.shaft == shaft_id]
    usual = catalogue.kinds[build.shaft(shaft_id).kind].typical_diameter_mm / 2
    return max(sizes, default=usual)


def others_of(
    build: Build, shaft_id: str, centers: Mapping[str, Point], catalogue: Catalogue
) -> tuple[Stands, ...]:
    """All other shafts, where they stand."""
    return tuple(
        Stands(shaft.id, *centers[shaft.id], radius_on(build, shaft.id, catalogue))
        for shaft in build.shafts
        if shaft.id != shaft_id
    )


def snapped(
    place: Point, radius: float, others: tuple[Stands, ...], reach: float
) -> tuple[Point, tuple[Guide, ...]]:
    """A place near one that is asked for which falls in with the others, and why.

    Along each axis the nearest within reach counts: level with a centre, or rim level with a rim, so
    that a span between the two runs straight across. An axis still free is used for equal gaps to the
    two nearest.
    """
    x, y = place
    guides: list[Guide] = []
    level = _nearest([(s.y, s, "level") for s in others] + _rims(others, radius, 1), y, reach)
    plumb = _nearest([(s.x, s, "plumb") for s in others] + _rims(others, radius, 0), x, reach)
    if plumb is not None:
        x = plumb[0]
    if level is not None:
        y = level[0]
    if (level is None) != (plumb is None) or (level is None and len(others) > 1):
        free = (1 if plumb is None else 0, 1 if level is None else 0)
        found = _even_gaps((x, y), radius, others, reach, free)
        if found is not None:
            (x, y), pair = found
            guides += [Guide("equal gap", _between_rims((x, y), radius, s)) for s in pair]
    for snap, way in ((level, 1), (plumb, 0)):
        if snap is not None:
            guides.append(Guide(snap[2], _guide_line(snap, way, (x, y), radius)))
    return (x, y), tuple(guides)


_Snap = tuple[float, Stands, str]


def _rims(others: tuple[Stands, ...], radius: float, axis: int) -> list[_Snap]:
    """Places along an axis where the two rims are level on the same side."""
    return [
        ((s.x, s.y)[axis] + side * (s.radius - radius), s, "rim level" if axis else "rim plumb")
        for s in others
        for side in (1, -1)
        if abs(s.radius - radius) > 0.05
    ]


def _nearest(snaps: list[_Snap], value: float, reach: float) -> _Snap | None:
    close = [snap for snap in snaps if abs(snap[0] - value) <= reach]
    return min(close, key=lambda snap: abs(snap[0] - value), default=None)


def _guide_line(snap: _Snap, axis: int, place: Point, radius: float) -> tuple[Point, Point]:
    """From the other shaft to this one, through their centres or along their rims."""
    at, other, word = snap
    if not word.startswith("rim"):
        return (other.x, other.y), place
    side = 1 if abs((other.x, other.y)[axis] + other.radius - at - radius) < 1e-6 else -1
    if axis:
        return (other.x, other.y + side * other.radius), (place[0], place[1] + side * radius)
    return (other.x + side * other.radius, other.y), (place[0] + side * radius, place[1])


def _even_gaps(
    place: Point, radius: float, others: tuple[Stands, ...], reach: float, free: tuple[int, int]
) -> tuple[Point, tuple[Stands, Stands]] | None:
    """The nearest place with equal gaps to the rims of the two nearest shafts, by Newton."""
    if len(others) < 2:
        return None
    a, b = sorted(others, key=lambda s: _away(place, s)[0] - s.radius)[:2]
    at = complex(*place)
    for _ in range(8):
        (da, ua), (db, ub) = _away((at.real, at.imag), a), _away((at.real, at.imag), b)
        miss = (da - a.radius) - (db - b.radius)
        slope = complex((ua - ub).real * free[0], (ua - ub).imag * free[1])
        if abs(slope) < 0.2:
            return None
        at -= miss * slope / abs(slope) ** 2
    if abs(at - complex(*place)) > reach or _away((at.real, at.imag), a)[0] < a.radius + radius:
        return None
    return (at.real, at.imag), (a, b)


def _away(place: Point, other: Stands) -> tuple[float, complex]:
    """Distance to another centre, and the unit vector from it."""
    way = complex(place[0] - other.x, place[1] - other.y)
    size = abs(way)
    return size, way / size if size else 1 + 0j


def _between_rims(place: Point, radius: float, other: Stands) -> tuple[Point, Point]:
    """The two ends of the gap between a pulley and another."""
    _, way = _away(place, other)
    start = complex(other.x, other.y) + other.radius * way
    end = complex(*place) - radius * way
    return (start.real, start.imag), (end.real, end.imag)


# placed by command


def level_with(build: Build, shaft_id: str, other: str, *, plumb: bool = False) -> Build:
    """Put a shaft level with another one, or plumb above or below it."""
    x, y = build.shaft(shaft_id).center_mm
    ox, oy = build.shaft(other).center_mm
    return move_shaft(build, shaft_id, ox if plumb else x, y if plumb else oy)


def rim_level_with(build: Build, shaft_id: str, other: str, catalogue: Catalogue) -> Build:
    """Put a shaft so that the nearer of its upper or lower rims is level with the other's."""
    x, y = build.shaft(shaft_id).center_mm
    oy = build.shaft(other).center_mm[1]
    off = radius_on(build, other, catalogue) - radius_on(build, shaft_id, catalogue)
    return move_shaft(build, shaft_id, x, min((oy + off, oy - off), key=lambda v: abs(v - y)))


def with_equal_gaps(
    build: Build, shaft_id: str, centers: Mapping[str, Point], catalogue: Catalogue
) -> Build:
    """Put a shaft where its gaps to its two nearest neighbours are equal; as it is if nowhere near."""
    others = others_of(build, shaft_id, centers, catalogue)
    radius = radius_on(build, shaft_id, catalogue)
    found = _even_gaps(build.shaft(shaft_id).center_mm, radius, others, 1000.0, (1, 1))
    return build if found is None else move_shaft(build, shaft_id, *found[0])


def mirror_shaft(build: Build, shaft_id: str) -> Build:
    """Put a shaft on the other side of the crank's vertical."""
    x, y = build.shaft(shaft_id).center_mm
    return move_shaft(build, shaft_id, 2 * _axis(build) - x, y)


def _axis(build: Build) -> float:
    crank = next((s for s in build.shafts if s.kind == "crank"), None)
    return 0.0 if crank is None else crank.center_mm[0]


def mirror_build(build: Build) -> Build:
    """The whole layout mirrored at the crank's vertical; the crank goes on turning as it did.

    The belts then run the other way round their pulleys, so what was the slack side becomes the tight
    one: routes are reversed, arms push the other way.
    """
    axis = _axis(build)

    def flip(point: Point) -> Point:
        return round(2 * axis - point[0], 3), point[1]

    def shaft(old: Shaft) -> Shaft:
        mount = old.mount
        if isinstance(mount, SlotMount):
            mount = changed(mount, from_mm=flip(mount.from_mm), to_mm=flip(mount.to_mm))
        elif isinstance(mount, SwingMount):
            mount = changed(
                mount, pivot_mm=flip(mount.pivot_mm),
                from_deg=180.0 - mount.from_deg, to_deg=180.0 - mount.to_deg,
            )  # fmt: skip
        elif isinstance(mount, HolesMount):
            mount = changed(mount, positions_mm=tuple(flip(p) for p in mount.positions_mm))
        needs = {} if old.mount is None else {"mount": mount}
        return changed(old, center_mm=flip(old.center_mm), **needs)

    def drive(old: Drive) -> Drive:
        held = old.tensioner
        changes: dict[str, object] = {"route": tuple(reversed(old.route))}
        if isinstance(held, SpringArmTensioner):
            changes["tensioner"] = _mirrored_arm(held, flip)
        pulleys = tuple(
            changed(p, tilt_deg=(p.tilt_deg[0], -p.tilt_deg[1])) if p.tilt_deg[1] else p
            for p in old.pulleys
        )
        return changed(old, pulleys=pulleys, **changes)

    def obstacle(old: Obstacle) -> Obstacle:
        return changed(old, outline_mm=tuple(flip(point) for point in old.outline_mm))

    out = changed(
        build,
        shafts=tuple(shaft(s) for s in build.shafts),
        drives=tuple(drive(d) for d in build.drives),
    )
    if build.obstacles:
        out = changed(out, obstacles=tuple(obstacle(o) for o in build.obstacles))
    return out


def _mirrored_arm(arm: SpringArmTensioner, flip: object) -> SpringArmTensioner:
    """An arm mirrored at a vertical: angles count from the other side, and it pushes the other way."""
    assert callable(flip)
    changes: dict[str, object] = {
        "pivot_mm": flip(arm.pivot_mm),
        "pushes": _TURNED[arm.pushes],
        "angle_deg": 180.0 - arm.angle_deg,
        "stops_deg": tuple(180.0 - stop for stop in arm.stops_deg),
    }
    if arm.window_deg is not None:
        changes["window_deg"] = tuple(180.0 - end for end in arm.window_deg)
    if arm.notches_deg is not None:
        changes["notches_deg"] = tuple(-notch for notch in arm.notches_deg)
    if arm.wrench_mm is not None:
        changes["wrench_deg"] = -arm.wrench_deg
    return changed(arm, **changes)


def distances(one: Stands, other: Stands) -> tuple[float, float, float, float]:
    """Centre to centre, across, up, and from rim to rim."""
    across, up = other.x - one.x, other.y - one.y
    apart = abs(complex(across, up))
    return apart, across, up, apart - one.radius - other.radius
