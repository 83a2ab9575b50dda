"""The sheets of bosses, bracket plates and what is cut through them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from jovial_tack.answers.results import Finding, PlateResult
from jovial_tack.core.units import ANGLE, DENSITY, LENGTH, MASS, STIFFNESS, written_in
from jovial_tack.document.edits.plates import (
    add_cut,
    add_leg,
    is_sat_on,
    over_its_boss,
    put_for,
    remove_boss,
    remove_cut,
    remove_plate,
    second_plate,
    set_cut,
    set_depth,
    set_plate,
    set_thickness,
    set_webs,
    toggle_web,
    usual_cut,
)
from jovial_tack.document.edits.stacks import set_boss
from jovial_tack.document.meant import boss_of, cut_name
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
    dump,
)
from jovial_tack.document.targets import NOTHING, BossAt, CutAt, PlateAt, ShaftAt, Target
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown

_SECOND_GAP_MM, _LEG_MM = 30.0, 30.0
_CAUTION = (
    "Plates are drawn by places that were typed: check the paper on the engine before you cut. Edges"
    " and webs are judged by usual rules, not by strength; deburr, and follow the maker's torques."
)

# bosses


def _boss(view: Shown[BossAt]) -> Boss:
    boss = view.build.find_boss(view.target.boss)
    if boss is None:
        raise KeyError(view.target.boss)
    return boss


def _boss_in(build: Build, target: BossAt) -> Boss:
    boss = build.find_boss(target.boss)
    if boss is None:
        raise KeyError(target.boss)
    return boss


_BOSS: Fields[Boss, BossAt] = Fields(
    Boss,
    _boss_in,
    lambda build, target, **keys: set_boss(build, target.boss, **keys),
    named=lambda view: _boss(view).label,
)
_BOSS_LINES: tuple[Row[BossAt], ...] = (
    _BOSS.words("name", "Name", "Name of the boss", undo="name", reads="label"),
    *(
        _BOSS.figure("at_mm", word, LENGTH, spoken, undo="place", axis=axis)
        for axis, word, spoken in (
            (0, "Right", "Its middle, to the right of the crank"),
            (1, "Up", "Its middle, above the crank"),
        )
    ),
    _BOSS.figure("z_mm", "Face", LENGTH, "How far forward its face stands", undo="face"),
    _BOSS.words("thread", "Thread", "Its thread, as M10x1.5 or 3/8-16", undo="thread"),
    _BOSS.figure("thread_depth_mm", "Thread, deep", LENGTH, "Depth of full thread", undo="thread"),
    _BOSS.choice(
        "material",
        "In",
        (("aluminium", "Aluminium"), ("iron", "Iron"), ("steel", "Steel")),
        "What the boss is cast in",
        undo="material",
    ),
    _BOSS.figure(
        "sd_mm", "Known to ±", LENGTH, "One standard deviation of its place", undo="place", digits=2
    ),
)


def _boss_acts(view: Shown[BossAt]) -> tuple[Act, ...]:
    boss = _boss(view)
    if is_sat_on(view.build, boss.id):
        return ()  # it goes with the ear
    return (
        Act(
            "Delete",
            partial(remove_boss, boss_id=boss.id),
            f"delete {boss.label}",
            lambda _build: NOTHING,
            removes=True,
        ),
    )


def _boss_subtitle(view: Shown[BossAt]) -> str:
    boss = _boss(view)
    on = next((plate.label for plate in view.build.plates if plate.id == boss.on), None)
    where = "Boss of the engine" if on is None else f"On the front face of {on}"
    return f"{where}. Drag it, or type where it is; the holes over it go along."


BOSS = Sheet(
    title=lambda v: _boss(v).label,
    subtitle=_boss_subtitle,
    figures=lambda _v: _BOSS_LINES,
    caution=lambda _v: (
        "A place is as good as it was measured: survey bosses that a plate is cut for."
    ),
    findings=lambda _v: (),
    is_there=lambda build, target: build.find_boss(target.boss) is not None,
    related=lambda v: tuple(
        (plate.label, PlateAt(plate.id))
        for plate in v.build.plates
        if plate.id == _boss(v).on
        or any((b := boss_of(v.build, c)) and b.id == _boss(v).id for c in plate.features)
    ),
    acts=_boss_acts,
)

# plates


def _plate(view: Shown[PlateAt]) -> Plate:
    return view.build.plate(view.target.plate)


def _told(view: Shown[Any]) -> PlateResult | None:
    return view.results.plate(view.target.plate)


def _of_told(
    read: Callable[[PlateResult], float | None],
) -> Callable[[Shown[PlateAt]], float | None]:
    def value(view: Shown[PlateAt]) -> float | None:
        told = _told(view)
        return None if told is None else read(told)

    return value


def _wanted_web(view: Shown[PlateAt]) -> str:
    told = _told(view)
    return "" if told is None else f"{_short(view, told.wanted_web_mm)} wanted"


def _short(view: Shown[Any], mm: float) -> str:
    return written_in(mm, LENGTH, view.build.display_units)


_PLATE: Fields[Plate, PlateAt] = Fields(
    Plate,
    lambda build, target: build.plate(target.plate),
    lambda build, target, **keys: set_plate(build, target.plate, **keys),
    named=lambda view: _plate(view).label,
)
_PLATE_LINES: tuple[Row[PlateAt], ...] = (
    _PLATE.words("name", "Name", "Name of the plate", undo="name", reads="label"),
    _PLATE.figure(
        "thickness_mm", "Thick", LENGTH, "How thick it is", undo="thickness", digits=2,
        change=lambda b, t, mm: set_thickness(b, t.plate, mm),
    ),
    _PLATE.figure(
        "z_mm", "Rear face", LENGTH, "How far forward its rear face stands", undo="depth", digits=2,
        change=lambda b, t, mm: set_depth(b, t.plate, mm),
    ),
    _PLATE.words("material", "Made of", "What it is made of", undo="material"),
    Choice(
        "Joined by",
        lambda _v: (("hull", "the hull round all"), ("webs", "webs")),
        lambda v: "hull" if _plate(v).webs == "hull" else "webs",
        lambda b, t, key: set_webs(b, t.plate, key),
        lambda v: f"webs of {_plate(v).label}",
        "How what is cut is joined: all within one outline, or by webs from one to the other",
    ),
    _PLATE.figure("web_mm", "Webs, wide", LENGTH, "How wide webs are at most", undo="webs",
                  missing="as its pads"),
    _PLATE.figure("fillet_mm", "Inner corners", LENGTH, "Least radius of inner corners",
                  undo="corners"),
    Figure("Least web", LENGTH, _of_told(lambda told: told.web_mm), aside=_wanted_web,
           spoken="The widest disc that gets from every hole to every other"),
    _PLATE.figure("least_web_mm", "Web wanted", LENGTH, "The least web that is wanted", undo="webs",
                  missing="usual"),
    Figure("Mass", MASS, _of_told(lambda told: told.mass_kg), spoken="What it weighs"),
    Figure("Turns, least", ANGLE,
           _of_told(lambda told: None if told.bent is None else told.bent.turned_deg[0]),
           digits=2, aside=lambda _v: "by the pull",
           spoken="How far the most pull of its belts turns it, at least"),
    Figure("Turns, most", ANGLE,
           _of_told(lambda told: None if told.bent is None else told.bent.turned_deg[1]),
           digits=2, aside=lambda _v: "by the pull",
           spoken="How far the most pull of its belts turns it, at most"),
    _PLATE.figure("density_kg_m3", "Density", DENSITY, "Density of its material", undo="material",
                  missing="by its material"),
    _PLATE.figure("young_gpa", "Elastic modulus", STIFFNESS, "Elastic modulus of its material",
                  undo="material", missing="by its material"),
)  # fmt: skip


def _leg_lines() -> tuple[Row[PlateAt], ...]:
    def figure(key: str, axis: int) -> Figure[PlateAt]:
        def change(build: Build, target: PlateAt, mm: float) -> Build:
            stands = dict(dump(build.plate(target.plate))["stands_on"])
            place = list(stands[key])
            place[axis] = mm
            return set_plate(build, target.plate, stands_on={**stands, key: tuple(place)})

        end = "from" if key == "from_mm" else "to"
        return Figure(
            f"Stands {end}, {'right' if axis == 0 else 'up'}",
            LENGTH,
            lambda v: getattr(_plate(v).stands_on, key)[axis],
            change=change,
            label=lambda v: f"foot of {_plate(v).label}",
            spoken=f"Where the line it stands on begins or ends: {end}, {('right', 'up')[axis]}",
        )

    return tuple(figure(key, axis) for key in ("from_mm", "to_mm") for axis in (0, 1))


_LEG_LINES = _leg_lines()


def _plate_lines(view: Shown[PlateAt]) -> tuple[Row[PlateAt], ...]:
    more = () if _plate(view).stands_on is None else _LEG_LINES
    return (*_PLATE_LINES, *more, *_spacer_lines(view))


def _spacer_lines(view: Shown[PlateAt]) -> Iterator[Row[PlateAt]]:
    """What stands between a plate and what is behind it, a line each."""
    told = _told(view)
    plate = _plate(view)
    ids = {cut.id for cut in plate.features}
    for spacer in () if told is None else told.spacers:
        if spacer.id not in ids:
            continue
        length = spacer.length_mm

        def value(_view: Shown[PlateAt], mm: float = length) -> float:
            return mm

        def beside(_view: Shown[PlateAt], behind: str = spacer.behind) -> str:
            return f"to {behind}"

        name = f"Spacer, {spacer.id}"
        yield Figure(name, LENGTH, value, aside=beside, digits=2,
                     spoken="Spacer between the plate and what is behind it")  # fmt: skip


def _middle(plate: Plate) -> Point:
    """A place for something new: the middle of what is there."""
    points = [place for cut in plate.features for place in _places(cut)]
    if not points:
        return 0.0, 150.0
    return (
        round(sum(x for x, _ in points) / len(points), 1),
        round(sum(y for _, y in points) / len(points), 1),
    )


def _places(cut: Cut) -> tuple[Point, ...]:
    if isinstance(cut, HoleCut):
        return (cut.at_mm,)
    return (cut.from_mm, cut.to_mm) if isinstance(cut, SlotCut) else (cut.center_mm,)


def _plate_acts(view: Shown[PlateAt]) -> tuple[Act, ...]:
    plate, name = _plate(view), view.target.plate
    label = plate.label

    def cutting(kind: str) -> Callable[[Build], Build]:
        return lambda build: add_cut(build, name, usual_cut(kind, _middle(plate)))[0]

    acts = [
        Act(f"Add {word}", cutting(kind), f"{kind} in {label}", partial(_last_cut, plate=name))
        for kind, word in (("hole", "a hole"), ("slot", "a slot"), ("arc", "an arc"))
    ]
    if any(boss_of(view.build, cut) is not None for cut in plate.features):
        over = partial(over_its_boss, plate_id=name)
        acts.append(Act("Put holes over their bosses", over, f"holes of {label}"))
    if plate.stands_on is None and plate.features:
        acts += [
            Act(
                "The same again before it",
                lambda b: second_plate(b, name, _SECOND_GAP_MM)[0],
                f"second plate of {label}",
                lambda b: PlateAt(b.plates[-1].id),
                asks="Rear face",
            ),
            Act(
                "A leg square to it",
                lambda b: add_leg(b, name, _LEG_MM)[0],
                f"leg of {label}",
                lambda b: PlateAt(b.plates[-1].id),
            ),
        ]
    if plate.keep_out:
        free = partial(set_plate, plate_id=name, keep_out=None)
        acts.append(Act("Forget its own keep-outs", free, f"keep-outs of {label}"))
    acts.append(
        Act(
            "Delete",
            partial(remove_plate, plate_id=name),
            f"delete {label}",
            lambda _b: NOTHING,
            removes=True,
        )
    )
    return tuple(acts)


def _last_cut(build: Build, plate: str) -> Target:
    return CutAt(plate, build.plate(plate).features[-1].id)


def _plate_subtitle(view: Shown[PlateAt]) -> str:
    plate, build = _plate(view), view.build
    if plate.stands_on is not None:
        on = next((p.label for p in build.plates if p.id == plate.stands_on.plate), "a plate")
        return (
            f"Leg that stands square on {on}; it is drawn flat, in place of the engine, on paper. Its"
            " right is along that line, its up is forward."
        )
    if not plate.features:
        return "Bracket plate with nothing cut in it yet: add a hole."
    worst = _worst(view)
    if worst:
        return worst
    return (
        "Bracket plate. Drag what is cut in it; click twice on it for a further hole. Ctrl+P: on paper"
        " and for the cutter."
    )


def _worst(view: Shown[PlateAt]) -> str:
    """The gravest of what is wrong with a plate, where it is seen at once; "" if nothing is."""
    told = _told(view)
    found = () if told is None else told.findings
    if not found:
        return ""
    more = "" if len(found) == 1 else f" (+{len(found) - 1} more below)"
    said = found[0].message.removeprefix(f"{_plate(view).label}: ")
    return f"{'Not so' if found[0].level == 'stop' else 'To watch'}: {said}{more}."


def _plate_findings(view: Shown[PlateAt]) -> tuple[Finding, ...]:
    told = _told(view)
    return () if told is None else told.findings


PLATE = Sheet(
    title=lambda v: _plate(v).label,
    subtitle=_plate_subtitle,
    figures=_plate_lines,
    caution=lambda _v: _CAUTION,
    findings=_plate_findings,
    is_there=lambda build, target: build.plate(target.plate).id == target.plate,
    related=lambda v: tuple(
        (cut_name(v.build, cut), CutAt(v.target.plate, cut.id)) for cut in _plate(v).features
    ),
    acts=_plate_acts,
)

# what is cut


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
    told = _told(view)
    found = None if told is None else told.edge(view.target.cut)
    return None if found is None else found.away_mm


def _edge_wanted(view: Shown[CutAt]) -> str:
    told = _told(view)
    found = None if told is None else told.edge(view.target.cut)
    return "" if found is None else f"{_short(view, found.wanted_mm)} wanted"


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
    told = _told(view)
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
    caution=lambda _v: _CAUTION,
    findings=_cut_findings,
    is_there=lambda build, target: build.plate(target.plate).feature(target.cut).id == target.cut,
    related=_cut_related,
    acts=_cut_acts,
)
