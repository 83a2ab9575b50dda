"""Bosses of the engine, and bracket plates with what is cut through them."""

from __future__ import annotations

from cmath import phase, rect
from collections.abc import Callable, Mapping
from itertools import pairwise
from math import degrees, radians
from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.edits.stacks import set_boss
from jovial_tack.document.meant import boss_of
from jovial_tack.document.model import (
    ArcCut,
    Boss,
    Build,
    Cut,
    HoleCut,
    MeantFor,
    Plate,
    Point,
    SlotCut,
    make,
)

_USUAL_HOLE_MM = 11.0
_SLOT_MM, _ARC_MM, _ARC_DEG = 30.0, 60.0, 30.0


def add_boss(build: Build, at_mm: Point) -> tuple[Build, str]:
    """Put a boss of the engine somewhere, threaded as the last one was; returns its id too."""
    name = free_name("boss", (boss.id for boss in build.bosses))
    label = free_name("Boss", (boss.label for boss in build.bosses))
    last = next((boss for boss in reversed(build.bosses) if boss.on is None), None)
    alike: dict[str, Any] = {"z_mm": 0.0}
    if last is not None:
        alike = {key: getattr(last, key) for key in ("z_mm", "thread", "material")}
        if last.thread_depth_mm is not None:
            alike["thread_depth_mm"] = last.thread_depth_mm
    boss = make(Boss, {"id": name, "name": label, "at_mm": at_mm, **alike})
    return changed(build, bosses=(*build.bosses, boss)), name


def move_boss(build: Build, boss_id: str, x_mm: float, y_mm: float) -> Build:
    """Move a boss; the holes that are for it, and were over it, go along."""
    boss = build.find_boss(boss_id)
    assert boss is not None
    build = set_boss(build, boss_id, at_mm=(round(x_mm, 3), round(y_mm, 3)))
    for plate in build.plates:
        cuts = tuple(
            changed(cut, at_mm=(round(x_mm, 3), round(y_mm, 3)))
            if isinstance(cut, HoleCut)
            and (own := boss_of(build, cut)) is not None
            and own.id == boss_id
            and abs(complex(*cut.at_mm) - complex(*boss.at_mm)) < 0.01
            else cut
            for cut in plate.features
        )
        if cuts != plate.features:
            build = set_plate(build, plate.id, features=cuts)
    return build


def is_sat_on(build: Build, boss_id: str) -> bool:
    """Whether an ear sits on a boss."""
    return any(ear.boss == boss_id for stack in build.stacks for ear in stack.ears)


def remove_boss(build: Build, boss_id: str) -> Build:
    """Take a boss away; holes that were for it stay, for nothing."""
    for plate in build.plates:
        cuts = tuple(
            changed(cut, meant=None) if cut.meant is not None and cut.meant.boss == boss_id else cut
            for cut in plate.features
        )
        build = set_plate(build, plate.id, features=cuts)
    left = tuple(boss for boss in build.bosses if boss.id != boss_id)
    return changed(build, bosses=left or None)


def with_plate(build: Build, plate: Plate) -> Build:
    """The build with a plate in the place of that of the same id, or behind the others."""
    kept = [plate if one.id == plate.id else one for one in build.plates]
    if all(one.id != plate.id for one in build.plates):
        kept.append(plate)
    return changed(build, plates=tuple(kept))


def new_plate(build: Build, label: str, **keys: Any) -> Plate:
    """A plate that is not in the build yet, under a name that is free there."""
    name = free_name("plate", (plate.id for plate in build.plates))
    label = free_name(label, (plate.label for plate in build.plates))
    return make(Plate, {"id": name, "name": label, **keys})


def set_plate(build: Build, plate_id: str, **changes: Any) -> Build:
    """Change figures of a plate; None takes one away. Raises BuildFileError."""
    return with_plate(build, changed(build.plate(plate_id), **changes))


def remove_plate(build: Build, plate_id: str) -> Build:
    """Take a plate away, and the legs that stand on it; bosses that were on it are the engine's."""
    gone = {plate_id} | {
        plate.id
        for plate in build.plates
        if plate.stands_on is not None and plate.stands_on.plate == plate_id
    }
    left = tuple(plate for plate in build.plates if plate.id not in gone)
    for boss in build.bosses:
        if boss.on in gone:
            build = set_boss(build, boss.id, on=None)
    return changed(build, plates=left or None)


def set_thickness(build: Build, plate_id: str, mm: float) -> Build:
    """Make a plate thicker or thinner; bosses on its front face stay there."""
    build = set_plate(build, plate_id, thickness_mm=mm)
    return _with_face(build, plate_id)


def set_depth(build: Build, plate_id: str, z_mm: float) -> Build:
    """Put a plate's rear face elsewhere; bosses on its front face go along."""
    return _with_face(set_plate(build, plate_id, z_mm=z_mm), plate_id)


def _with_face(build: Build, plate_id: str) -> Build:
    face = build.plate(plate_id).front_mm
    for boss in build.bosses:
        if boss.on == plate_id:
            build = set_boss(build, boss.id, z_mm=round(face, 3))
    return build


def second_plate(build: Build, plate_id: str, gap_mm: float) -> tuple[Build, str]:
    """The same plate once more, some way before the first, as for spacers between two."""
    plate = build.plate(plate_id)
    again = new_plate(build, f"{plate.label}, front")
    kept = {key: getattr(plate, key) for key in plate.given if key not in ("id", "name")}
    z = round(plate.front_mm + gap_mm, 3)
    new = changed(again, **{**kept, "z_mm": z})
    return with_plate(build, new), new.id


def add_leg(build: Build, plate_id: str, height_mm: float) -> tuple[Build, str]:
    """A leg that stands square on a plate's lower edge, as of an angle; returns its id too."""
    plate = build.plate(plate_id)
    points = [point for cut in plate.features for point in _points(cut)] or [(0.0, 0.0)]
    left, right = min(x for x, _ in points), max(x for x, _ in points)
    foot = min(y for _, y in points) - 2 * _USUAL_HOLE_MM
    line = {
        "from_mm": (round(left, 1), round(foot, 1)),
        "to_mm": (round(right + 1, 1), round(foot, 1)),
    }
    long, up = right + 1 - left, round(height_mm, 1)
    cuts = [
        {"type": "hole", "id": name, "at_mm": (round(x, 1), up), "diameter_mm": _USUAL_HOLE_MM}
        for name, x in (("hole", 0.2 * long), ("hole 2", 0.8 * long))
    ]
    keys = {key: getattr(plate, key) for key in ("material", "thickness_mm")}
    leg = new_plate(
        build, f"{plate.label}, leg", **keys, features=cuts, stands_on={"plate": plate_id, **line}
    )
    return with_plate(build, leg), leg.id


def add_cut(build: Build, plate_id: str, cut: Mapping[str, Any]) -> tuple[Build, str]:
    """Cut something through a plate, given as in the file without its id; returns that too."""
    plate = build.plate(plate_id)
    name = free_name(str(cut["type"]), (one.id for one in plate.features))
    features = (*plate.features, {"id": name, **cut})
    build = set_plate(build, plate_id, features=features)
    return joined_up(build, plate_id), name


def usual_cut(kind: str, at_mm: Point, width_mm: float = _USUAL_HOLE_MM) -> dict[str, Any]:
    """A hole, slot or arc of a usual size at a place, as in the file."""
    x, y = at_mm
    if kind == "hole":
        return {"type": kind, "at_mm": (x, y), "diameter_mm": width_mm}
    if kind == "slot":
        ends = {"from_mm": (x - _SLOT_MM / 2, y), "to_mm": (x + _SLOT_MM / 2, y)}
        return {"type": kind, **ends, "width_mm": width_mm}
    return {
        "type": kind,
        "center_mm": (x, y - _ARC_MM),
        "radius_mm": _ARC_MM,
        "from_deg": 90.0 - _ARC_DEG / 2,
        "to_deg": 90.0 + _ARC_DEG / 2,
        "width_mm": width_mm,
    }


def set_cut(build: Build, plate_id: str, cut_id: str, **changes: Any) -> Build:
    """Change figures of a cut; None takes one away. Raises BuildFileError."""
    plate = build.plate(plate_id)
    cuts = tuple(changed(c, **changes) if c.id == cut_id else c for c in plate.features)
    return set_plate(build, plate_id, features=cuts)


def remove_cut(build: Build, plate_id: str, cut_id: str) -> Build:
    """Fill a cut again; webs to it go with it."""
    plate = build.plate(plate_id)
    cuts = tuple(cut for cut in plate.features if cut.id != cut_id)
    webs: Any = plate.webs
    if plate.webs != "hull":
        webs = tuple(pair for pair in plate.webs if cut_id not in pair)
    keys = {"features": cuts or None, **({"webs": webs} if webs != plate.webs else {})}
    return set_plate(build, plate_id, **keys)


def move_cut(
    build: Build, plate_id: str, cut_id: str, dx_mm: float, dy_mm: float, end: int | None = None
) -> Build:
    """Move a cut, or one end of a slot or an arc; a boss that is on the plate goes with its hole.

    The end of an arc goes along its circle.
    """
    plate = build.plate(plate_id)
    cut = plate.feature(cut_id)

    def shifted(point: Point) -> Point:
        return round(point[0] + dx_mm, 3), round(point[1] + dy_mm, 3)

    if isinstance(cut, HoleCut):
        boss = boss_of(build, cut)
        build = set_cut(build, plate_id, cut_id, at_mm=shifted(cut.at_mm))
        if boss is not None and boss.on == plate_id:
            build = set_boss(build, boss.id, at_mm=shifted(cut.at_mm))
        return build
    if isinstance(cut, SlotCut):
        keys = ("from_mm", "to_mm")
        moved = {key: shifted(getattr(cut, key)) for k, key in enumerate(keys) if end in (None, k)}
        return set_cut(build, plate_id, cut_id, **moved)
    if end is None:
        return set_cut(build, plate_id, cut_id, center_mm=shifted(cut.center_mm))
    key = ("from_deg", "to_deg")[end]
    start, _ = arc_ends(cut) if end == 0 else arc_ends(cut)[::-1]
    away = complex(*start) + complex(dx_mm, dy_mm) - complex(*cut.center_mm)
    turned = degrees(phase(away)) if away else getattr(cut, key)
    before = getattr(cut, key)
    turned = before + (turned - before + 180.0) % 360.0 - 180.0
    return set_cut(build, plate_id, cut_id, **{key: round(turned, 2)})


def arc_ends(cut: ArcCut) -> tuple[Point, Point]:
    """The middles of the ends of an arc."""
    middle = complex(*cut.center_mm)
    first, last = (
        middle + rect(cut.radius_mm, radians(angle)) for angle in (cut.from_deg, cut.to_deg)
    )
    return (first.real, first.imag), (last.real, last.imag)


def mirrored(plate: Plate, flip: Callable[[Point], Point]) -> Plate:
    """A plate mirrored at an upright line; a leg keeps its own drawing and stands on the mirrored
    line.
    """
    changes: dict[str, Any] = {}
    if plate.stands_on is not None:
        line = plate.stands_on
        changes["stands_on"] = changed(line, from_mm=flip(line.from_mm), to_mm=flip(line.to_mm))
    elif plate.features:
        changes["features"] = tuple(_mirrored_cut(cut, flip) for cut in plate.features)
    if plate.keep_out and plate.stands_on is None:
        changes["keep_out"] = tuple(
            changed(one, outline_mm=tuple(flip(point) for point in one.outline_mm))
            for one in plate.keep_out
        )
    return changed(plate, **changes)


def _mirrored_cut(cut: Cut, flip: Callable[[Point], Point]) -> Cut:
    if isinstance(cut, HoleCut):
        return changed(cut, at_mm=flip(cut.at_mm))
    if isinstance(cut, SlotCut):
        return changed(cut, from_mm=flip(cut.from_mm), to_mm=flip(cut.to_mm))
    # counter-clockwise stays counter-clockwise: its ends change places
    ends = {"from_deg": 180.0 - cut.to_deg, "to_deg": 180.0 - cut.from_deg}
    return changed(cut, center_mm=flip(cut.center_mm), **ends)


def over_its_boss(build: Build, plate_id: str) -> Build:
    """All holes of a plate over the bosses they are for."""
    plate = build.plate(plate_id)
    cuts = tuple(
        changed(cut, at_mm=boss.at_mm)
        if isinstance(cut, HoleCut) and (boss := boss_of(build, cut)) is not None
        else cut
        for cut in plate.features
    )
    return set_plate(build, plate_id, features=cuts)


def put_for(
    build: Build, plate_id: str, cut_id: str, meant: MeantFor | Mapping[str, str] | None
) -> Build:
    """Say what a cut is for; a hole goes over the boss that it is for."""
    build = set_cut(build, plate_id, cut_id, meant=meant)
    cut = build.plate(plate_id).feature(cut_id)
    boss = boss_of(build, cut)
    if boss is not None and isinstance(cut, HoleCut):
        build = set_cut(build, plate_id, cut_id, at_mm=boss.at_mm)
    return build


def set_webs(build: Build, plate_id: str, how: str) -> Build:
    """Join what is cut by the hull round all, or by webs in a ring."""
    return set_plate(
        build, plate_id, webs="hull" if how == "hull" else ring_of_webs(build, plate_id)
    )


def ring_of_webs(build: Build, plate_id: str) -> tuple[tuple[str, str], ...]:
    """Webs from each cut to the next, round the middle of all."""
    cuts = build.plate(plate_id).features
    places = {
        cut.id: sum((complex(*p) for p in _points(cut)), 0j) / len(_points(cut)) for cut in cuts
    }
    if len(cuts) < 2:
        return ()
    middle = sum(places.values(), 0j) / len(places)
    order = sorted(places, key=lambda name: phase(places[name] - middle or 1))
    pairs = list(pairwise(order))
    return tuple([*pairs, (order[-1], order[0])] if len(order) > 2 else pairs)


def joined_up(build: Build, plate_id: str) -> Build:
    """A plate with webs whose last cut is joined to the nearest other one, if nothing joins it yet."""
    plate = build.plate(plate_id)
    if plate.webs == "hull" or len(plate.features) < 2:
        return build
    last = plate.features[-1]
    if any(last.id in pair for pair in plate.webs):
        return build
    here = complex(*_points(last)[0])
    near = min(plate.features[:-1], key=lambda cut: abs(complex(*_points(cut)[0]) - here))
    return set_plate(build, plate_id, webs=(*plate.webs, (near.id, last.id)))


def toggle_web(build: Build, plate_id: str, a: str, b: str) -> Build:
    """Put a web between two cuts, or take it away; a hull becomes webs in a ring first."""
    if build.plate(plate_id).webs == "hull":
        build = set_webs(build, plate_id, "webs")
    webs = build.plate(plate_id).webs
    assert webs != "hull"
    kept = tuple(pair for pair in webs if set(pair) != {a, b})
    return set_plate(build, plate_id, webs=kept if len(kept) < len(webs) else (*webs, (a, b)))


def _points(cut: Cut) -> tuple[Point, ...]:
    """The places a cut is told by."""
    if isinstance(cut, HoleCut):
        return (cut.at_mm,)
    return (cut.from_mm, cut.to_mm) if isinstance(cut, SlotCut) else arc_ends(cut)
