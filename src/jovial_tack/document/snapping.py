"""Where shafts fall into place: level with others, rims in line, equal gaps."""

from __future__ import annotations

from collections.abc import Mapping

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, HoleCut, Point, SpringArmTensioner, SwingMount


class Guide(Value, frozen=True):
    """Why a shaft fell into place: a word, and the line that shows it."""

    word: str
    points: tuple[Point, Point]


class Placed(Value, frozen=True):
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
) -> tuple[Placed, ...]:
    """All other shafts, where they stand."""
    return tuple(
        Placed(shaft.id, *centers[shaft.id], radius_on(build, shaft.id, catalogue))
        for shaft in build.shafts
        if shaft.id != shaft_id
    )


def snapped(
    place: Point, radius: float, others: tuple[Placed, ...], reach: float
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


_Snap = tuple[float, Placed, str]


def _rims(others: tuple[Placed, ...], radius: float, axis: int) -> list[_Snap]:
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
    place: Point, radius: float, others: tuple[Placed, ...], reach: float, free: tuple[int, int]
) -> tuple[Point, tuple[Placed, Placed]] | None:
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


def _away(place: Point, other: Placed) -> tuple[float, complex]:
    """Distance to another centre, and the unit vector from it."""
    way = complex(place[0] - other.x, place[1] - other.y)
    size = abs(way)
    return size, way / size if size else 1 + 0j


def _between_rims(place: Point, radius: float, other: Placed) -> tuple[Point, Point]:
    """The two ends of the gap between a pulley and another."""
    _, way = _away(place, other)
    start = complex(other.x, other.y) + other.radius * way
    end = complex(*place) - radius * way
    return (start.real, start.imag), (end.real, end.imag)


def distances(one: Placed, other: Placed) -> tuple[float, float, float, float]:
    """Centre to centre, across, up, and from rim to rim."""
    across, up = other.x - one.x, other.y - one.y
    apart = abs(complex(across, up))
    return apart, across, up, apart - one.radius - other.radius


class Snap(Value, frozen=True):
    """A place what is cut may fall into: why, and the boss that is there."""

    at: Point
    word: str
    boss: str | None = None


class Fell(Value, frozen=True):
    """Where a cut fell, why, and over which boss."""

    at: Point
    guides: tuple[Guide, ...] = ()
    boss: str | None = None


def cut_snaps(build: Build, plate_id: str, cut_id: str) -> tuple[Snap, ...]:
    """Where a cut of a plate may fall into place: bosses, shafts and what they swing about, other cuts'
    middles.
    """
    snaps = [Snap(boss.at_mm, boss.label, boss.id) for boss in build.bosses if boss.on != plate_id]
    for shaft in build.shafts:
        snaps.append(Snap(shaft.center_mm, shaft.label))
        if isinstance(shaft.mount, SwingMount):
            snaps.append(Snap(shaft.mount.pivot_mm, f"pivot of {shaft.label}"))
    for drive in build.drives:
        if isinstance(drive.tensioner, SpringArmTensioner):
            snaps.append(Snap(drive.tensioner.pivot_mm, f"pivot of {drive.label}"))
    others = [cut for cut in build.plate(plate_id).features if cut.id != cut_id]
    snaps += [Snap(cut.at_mm, "hole", None) for cut in others if isinstance(cut, HoleCut)]
    return tuple(snaps)


def snapped_cut(place: Point, snaps: tuple[Snap, ...], reach: float) -> Fell:
    """A place near one that is asked for: onto a boss or a shaft, else level or plumb with one."""
    x, y = place
    on = [snap for snap in snaps if snap.word != "hole"]
    near = min(on, key=lambda s: abs(complex(s.at[0] - x, s.at[1] - y)), default=None)
    if near is not None and abs(complex(near.at[0] - x, near.at[1] - y)) <= 1.5 * reach:
        return Fell(near.at, (Guide(near.word, (near.at, near.at)),), near.boss)
    guides: list[Guide] = []
    level = min(snaps, key=lambda s: abs(s.at[1] - y), default=None)
    plumb = min(snaps, key=lambda s: abs(s.at[0] - x), default=None)
    if level is not None and abs(level.at[1] - y) <= reach:
        y = level.at[1]
    else:
        level = None
    if plumb is not None and abs(plumb.at[0] - x) <= reach:
        x = plumb.at[0]
    else:
        plumb = None
    for snap, word in ((level, "level"), (plumb, "plumb")):
        if snap is not None:
            guides.append(Guide(f"{word} with {snap.word}", (snap.at, (x, y))))
    return Fell((x, y), tuple(guides))
