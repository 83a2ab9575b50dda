"""The sheet of what is cut through a bracket plate: a hole, a slot or an arc."""

from __future__ import annotations

from functools import partial
from typing import Any

from jovial_tack.answers.results import Finding
from jovial_tack.core.units import ANGLE, LENGTH
from jovial_tack.document.edits.plates import (
    put_for,
    remove_cut,
    set_cut,
    toggle_web,
)
from jovial_tack.document.meant import boss_of, cut_name
from jovial_tack.document.model import (
    ArcCut,
    Build,
    Cut,
    HoleCut,
    MeantFor,
    SlotCut,
)
from jovial_tack.document.targets import BossAt, CutAt, PlateAt, ShaftAt, Target
from jovial_tack.sheets.of_plate import CAUTION, short, told_of
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown


def _cut(view: Shown[CutAt]) -> Cut:
    return view.build.plate(view.target.plate).feature(view.target.cut)


def _changed_cut(build: Build, target: CutAt, **keys: Any) -> Build:
    return set_cut(build, target.plate, target.cut, **keys)


def _cut_label(view: Shown[CutAt]) -> str:
    return cut_name(view.build, _cut(view))


def _size(
    key: str, name: str, spoken: str, axis: int | None = None, *, angle: bool = False
) -> Figure[CutAt]:
    """A line of one figure of a cut."""

    def value(view: Shown[CutAt]) -> float | None:
        found = getattr(_cut(view), key)
        return found if axis is None or found is None else float(found[axis])

    def change(build: Build, target: CutAt, number: float) -> Build:
        new: Any = number
        if axis is not None:
            place = list(getattr(build.plate(target.plate).feature(target.cut), key))
            place[axis] = number
            new = tuple(place)
        return _changed_cut(build, target, **{key: new})

    return Figure(
        name,
        ANGLE if angle else LENGTH,
        value,
        change=change,
        label=_cut_label,
        spoken=spoken,
        digits=None if angle else 2,
    )


_HOLE_LINES: tuple[Row[CutAt], ...] = (
    _size("at_mm", "Right", "Its middle, to the right", 0),
    _size("at_mm", "Up", "Its middle, upward", 1),
    _size("diameter_mm", "Diameter", "Its diameter"),
)
_SLOT_LINES: tuple[Row[CutAt], ...] = (
    _size("from_mm", "From, right", "Its first end, to the right", 0),
    _size("from_mm", "From, up", "Its first end, upward", 1),
    _size("to_mm", "To, right", "Its second end, to the right", 0),
    _size("to_mm", "To, up", "Its second end, upward", 1),
    _size("width_mm", "Wide", "How wide it is"),
)
_ARC_LINES: tuple[Row[CutAt], ...] = (
    _size("center_mm", "Centre, right", "The middle of its circle, to the right", 0),
    _size("center_mm", "Centre, up", "The middle of its circle, upward", 1),
    _size("radius_mm", "Radius", "Radius of its circle"),
    _size("from_deg", "From", "Where it begins, counter-clockwise from the right", angle=True),
    _size("to_deg", "To", "Where it ends, counter-clockwise from the right", angle=True),
    _size("width_mm", "Wide", "How wide it is"),
)


def _meant_options(view: Shown[CutAt]) -> tuple[tuple[str, str], ...]:
    build = view.build
    options = [("", "nothing told")]
    options += [(f"boss/{boss.id}", boss.label) for boss in build.bosses]
    for stack in build.stacks:
        names = [shaft.label for shaft in build.shafts if shaft.id == stack.shaft]
        unit = names[0] if names else stack.shaft
        for ear in stack.ears:
            boss = build.find_boss(ear.boss)
            at = ear.id if boss is None else boss.label
            options.append((f"ear/{stack.shaft}/{ear.id}", f"{unit} at {at}"))
    options += [(f"shaft/{s.id}", f"{s.label}, its travel") for s in build.shafts]
    return tuple(options)


def _meant_key(view: Shown[CutAt]) -> str:
    meant = _cut(view).meant
    if meant is None:
        return ""
    if meant.boss is not None:
        return f"boss/{meant.boss}"
    if meant.ear is None:
        return f"shaft/{meant.shaft}"
    for stack in view.build.stacks:
        if meant.shaft in (None, stack.shaft) and any(ear.id == meant.ear for ear in stack.ears):
            return f"ear/{stack.shaft}/{meant.ear}"
    return ""


def _put_for(build: Build, target: CutAt, key: str) -> Build:
    kind, _, rest = key.partition("/")
    meant: dict[str, str] | MeantFor | None = None
    if kind == "ear":
        # an id may hold strokes of its own: the one that is there is meant
        for stack in build.stacks:
            for ear in stack.ears:
                if rest == f"{stack.shaft}/{ear.id}":
                    meant = {"ear": ear.id, "shaft": stack.shaft}
    elif kind:
        meant = {kind: rest}
    return put_for(build, target.plate, target.cut, meant)


_FOR: Row[CutAt] = Choice(
    "For", _meant_options, _meant_key, _put_for, _cut_label, "What goes through it"
)


def _edge(view: Shown[CutAt]) -> float | None:
    told = told_of(view)
    found = None if told is None else told.edge(view.target.cut)
    return None if found is None else found.away_mm


def _edge_wanted(view: Shown[CutAt]) -> str:
    told = told_of(view)
    found = None if told is None else told.edge(view.target.cut)
    return "" if found is None else f"{short(view, found.wanted_mm)} wanted"


_EDGE_LINES: tuple[Row[CutAt], ...] = (
    Figure("To the edge", LENGTH, _edge, aside=_edge_wanted,
           spoken="From its middle to the edge of the plate"),
    Figure(
        "Pad", LENGTH, lambda v: _cut(v).edge_mm,
        absent=lambda _v: "usual",
        change=lambda b, t, mm: _changed_cut(b, t, edge_mm=mm),
        label=_cut_label,
        spoken="Metal wanted round it, from its middle",
    ),
)  # fmt: skip


def _cut_lines(view: Shown[CutAt]) -> tuple[Row[CutAt], ...]:
    own = {HoleCut: _HOLE_LINES, SlotCut: _SLOT_LINES, ArcCut: _ARC_LINES}[type(_cut(view))]
    return (_FOR, *own, *_EDGE_LINES)


def _cut_acts(view: Shown[CutAt]) -> tuple[Act, ...]:
    plate, cut = view.build.plate(view.target.plate), _cut(view)
    label = _cut_label(view)
    acts: list[Act] = []
    if plate.webs != "hull":
        for other in plate.features:
            if other.id == cut.id:
                continue
            there = any(set(pair) == {cut.id, other.id} for pair in plate.webs)
            name = cut_name(view.build, other)
            acts.append(
                Act(
                    f"No web to {name}" if there else f"Web to {name}",
                    partial(toggle_web, plate_id=plate.id, a=cut.id, b=other.id),
                    f"web of {label}",
                )
            )
    acts.append(
        Act(
            "Delete",
            partial(remove_cut, plate_id=plate.id, cut_id=cut.id),
            f"delete {label}",
            lambda _b: PlateAt(plate.id),
            removes=True,
        )
    )
    return tuple(acts)


def _cut_findings(view: Shown[CutAt]) -> tuple[Finding, ...]:
    told = told_of(view)
    own = () if told is None else told.findings
    return tuple(finding for finding in own if finding.where == view.target.cut)


def _cut_related(view: Shown[CutAt]) -> tuple[tuple[str, Target], ...]:
    build, cut = view.build, _cut(view)
    found: list[tuple[str, Target]] = [
        (build.plate(view.target.plate).label, PlateAt(view.target.plate))
    ]
    boss = boss_of(build, cut)
    if boss is not None:
        found.append((boss.label, BossAt(boss.id)))
    if cut.meant is not None:
        found += [(s.label, ShaftAt(s.id)) for s in build.shafts if s.id == cut.meant.shaft]
    return tuple(found)


CUT = Sheet(
    title=lambda v: _cut_label(v)[:1].upper() + _cut_label(v)[1:],
    subtitle=lambda v: f"In {v.build.plate(v.target.plate).label}. Drag it, or type where it is.",
    figures=_cut_lines,
    caution=lambda _v: CAUTION,
    findings=_cut_findings,
    is_there=lambda build, target: build.plate(target.plate).feature(target.cut).id == target.cut,
    related=_cut_related,
    acts=_cut_acts,
)
