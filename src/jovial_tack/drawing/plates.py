"""Bosses and bracket plates over the front view: outlines, what is cut, and what they are judged by."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from jovial_tack.answers.results import CutEdge, PlateResult, Results
from jovial_tack.core.arrays import Complex
from jovial_tack.core.line_up.bolts import thread_of
from jovial_tack.core.line_up.plate_cuts import KeptOut
from jovial_tack.core.value import replace
from jovial_tack.document.edits.plates import arc_ends
from jovial_tack.document.model import Boss, Build, Cut, HoleCut, Plate, SlotCut
from jovial_tack.document.targets import (
    NOTHING,
    BossAt,
    CutAt,
    CutEndAt,
    PlateAt,
    Target,
)
from jovial_tack.drawing.shapes import CHOICE, Circle, Label, Line, Point, Role, Shape

#: How the keys of discs that stand for webs begin, behind that of all choices.
WEB = "web/"
_BOSS_MM, _END_MM, _WEB_MM = 5.0, 3.5, 4.0
#: What is kept clear of is drawn up to so far from a plate, mm.
_NEAR_MM = 60.0
#: The layer plates lie on: behind belts and pulleys, as most do; their holes stand where they are held.
_PLATE_LAYER, _OVER_LAYER, _CUT_LAYER = 1.5, 92.2, 93.0


def plate_shapes(build: Build, results: Results) -> Iterator[Shape]:
    """All bosses and plates of a build. An outline is worked out round what was kept out when the
    plate was last worked out whole.
    """
    for boss in build.bosses:
        yield Circle(f"boss/{boss.id}", "boss", 92.8, BossAt(boss.id), boss.at_mm, _radius(boss))
    for place, plate in enumerate(build.plates):
        told = results.plate(plate.id)
        away = () if told is None else told.kept_out
        if plate.stands_on is not None:
            ends = plate.stands_on.from_mm, plate.stands_on.to_mm
            yield Line(f"leg/{plate.id}", "leg", _PLATE_LAYER + 1, PlateAt(plate.id), ends)
            continue
        layer = _PLATE_LAYER + place / 100
        yield from _outlines(plate, away, layer)
        yield from _cuts(plate, _CUT_LAYER + place / 100)


def _radius(boss: Boss) -> float:
    """Half the thread of a boss, as it is drawn; a usual one where that is not told."""
    try:
        return thread_of(boss.thread).diameter_mm / 2 if boss.thread else _BOSS_MM
    except ValueError:
        return _BOSS_MM


@lru_cache(maxsize=64)
def _outlines(plate: Plate, away: tuple[KeptOut, ...], layer: float) -> tuple[Shape, ...]:
    """The outlines of a plate; kept, because most stand still while something moves. None is drawn
    where the library of shapes is not installed, which the start tells.
    """
    try:
        from jovial_tack.answers.line_up.plate_told import plate_shape
    except ImportError:
        return ()
    if not plate.features:
        return ()
    shape = plate_shape(plate, away, live=True)
    return tuple(
        Line(f"plate/{plate.id}/{k}", "plate", layer, PlateAt(plate.id), _points(line), closed=True)
        for k, line in enumerate(shape.lines)
    )


@lru_cache(maxsize=64)
def _cuts(plate: Plate, layer: float) -> tuple[Shape, ...]:
    """What is cut through a plate, and the ends it can be taken hold of by."""
    from jovial_tack.answers.line_up.plate_parts import cuts_of
    from jovial_tack.core.line_up.rings import flat

    found: list[Shape] = []
    for cut, core in zip(plate.features, cuts_of(plate), strict=True):
        target, key = CutAt(plate.id, cut.id), f"cut/{plate.id}/{cut.id}"
        if isinstance(cut, HoleCut):
            found.append(Circle(key, "cut", layer, target, cut.at_mm, cut.diameter_mm / 2))
            continue
        found.append(Line(key, "cut", layer, target, _points(flat(core.ring, 0.12)), closed=True))
        for end, at in enumerate(ends_of(cut)):
            hold = CutEndAt(plate.id, cut.id, end)
            found.append(Circle(f"{key}/{end}", "cut_end", layer + 0.005, hold, at, _END_MM))
    return tuple(found)


def ends_of(cut: Cut) -> tuple[Point, ...]:
    """The ends a slot or an arc can be taken hold of by."""
    if isinstance(cut, HoleCut):
        return ()
    return (cut.from_mm, cut.to_mm) if isinstance(cut, SlotCut) else arc_ends(cut)


def plate_overlay(build: Build, results: Results, selected: Target) -> tuple[Shape, ...]:
    """What the selected plate, or the plate of the selected cut, is judged by: what it keeps clear of,
    its edge distances as rings, its least web as a disc, webs to be put in or taken out by a click.
    """
    if isinstance(selected, BossAt):
        boss = build.find_boss(selected.boss)
        if boss is None:
            return ()
        return (Label("boss/name", "label", 101.0, NOTHING, boss.label, "", boss.at_mm, 8.0),)
    if not isinstance(selected, PlateAt | CutAt):
        return ()
    plate = next((one for one in build.plates if one.id == selected.plate), None)
    if plate is None or plate.stands_on is not None:
        return ()
    told = results.plate(plate.id)
    # what lies behind pulleys is brought before them while it is looked at
    shapes: list[Shape] = [
        replace(shape, key=f"over/{shape.key}")
        for shape in _outlines(plate, () if told is None else told.kept_out, _OVER_LAYER)
    ]
    if told is not None:
        shapes += _kept_out(told)
        shapes += _rings(plate, told)
        if told.web_mm and told.web_at_mm is not None:
            role: Role = "web_watch" if told.web_mm < told.wanted_web_mm - 0.02 else "web"
            shapes.append(Circle("web", role, 96.0, NOTHING, told.web_at_mm, told.web_mm / 2))
    return (*shapes, *_webs(plate, selected))


def _kept_out(told: PlateResult) -> Iterator[Shape]:
    """What is kept clear of, where it is near."""
    if told.bounds_mm is None:
        return
    left, foot, right, top = told.bounds_mm
    for k, one in enumerate(told.kept_out):
        across, up = one.outline.real, one.outline.imag
        beside = max(across.min() - right, left - across.max())
        away = max(beside, up.min() - top, foot - up.max())
        if away > _NEAR_MM:
            continue
        yield Line(f"kept_out/{k}", "keep_out", 1.2, NOTHING, _points(one.outline), closed=True)


def _rings(plate: Plate, told: PlateResult) -> Iterator[Shape]:
    """The edge distance of each hole as a ring; of slots at both their ends."""
    for cut in plate.features:
        edge = told.edge(cut.id)
        if edge is None:
            continue
        places = (cut.at_mm,) if isinstance(cut, HoleCut) else ends_of(cut)
        # as much metal as is wanted: where the edge comes within, the ring tells how grave that is
        for k, at in enumerate(places):
            key = f"edge/{cut.id}/{k}"
            yield Circle(key, _ring_role(edge), 92.6, NOTHING, at, edge.wanted_mm)


def _ring_role(edge: CutEdge) -> Role:
    if edge.level is None:
        return "edge"
    return "edge_stop" if edge.level == "stop" else "edge_watch"


def _webs(plate: Plate, selected: PlateAt | CutAt) -> Iterator[Shape]:
    """Discs in the middle of webs, to be clicked: those that are there, and of the selected cut those
    that could be.
    """
    if plate.webs == "hull":
        return
    middles = {cut.id: _middle(cut) for cut in plate.features}
    there = {frozenset(pair) for pair in plate.webs}
    for pair in plate.webs:
        yield _web(pair[0], pair[1], middles, "web_there")
    if not isinstance(selected, CutAt):
        return
    for cut in plate.features:
        if cut.id != selected.cut and frozenset((cut.id, selected.cut)) not in there:
            yield _web(selected.cut, cut.id, middles, "web_could")


def _web(a: str, b: str, middles: dict[str, Point], role: Role) -> Shape:
    (x, y), (to_x, to_y) = middles[a], middles[b]
    at = (x + to_x) / 2, (y + to_y) / 2
    return Circle(f"{CHOICE}{WEB}{a}\x1f{b}", role, 97.0, NOTHING, at, _WEB_MM)


def _middle(cut: Cut) -> Point:
    if isinstance(cut, HoleCut):
        return cut.at_mm
    (x, y), (to_x, to_y) = ends_of(cut)
    return (x + to_x) / 2, (y + to_y) / 2


def _points(line: Complex) -> tuple[Point, ...]:
    return tuple((place.real, place.imag) for place in line.tolist())
