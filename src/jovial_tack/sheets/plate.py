"""The sheet of a bracket plate: what it is made of, its webs, and what it is judged by."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from jovial_tack.answers.results import Finding, PlateResult
from jovial_tack.core.units import ANGLE, DENSITY, LENGTH, MASS, STIFFNESS
from jovial_tack.document.edits.plates import (
    add_cut,
    add_leg,
    over_its_boss,
    remove_plate,
    second_plate,
    set_depth,
    set_plate,
    set_thickness,
    set_webs,
    usual_cut,
)
from jovial_tack.document.meant import boss_of, cut_name
from jovial_tack.document.model import (
    Build,
    Cut,
    HoleCut,
    Plate,
    Point,
    SlotCut,
    dump,
)
from jovial_tack.document.targets import NOTHING, CutAt, PlateAt, Target
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.of_plate import CAUTION, short, told_of
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown

_SECOND_GAP_MM, _LEG_MM = 30.0, 30.0


def _plate(view: Shown[PlateAt]) -> Plate:
    return view.build.plate(view.target.plate)


def _worked_out(
    read: Callable[[PlateResult], float | None],
) -> Callable[[Shown[PlateAt]], float | None]:
    def value(view: Shown[PlateAt]) -> float | None:
        told = told_of(view)
        return None if told is None else read(told)

    return value


def _wanted_web(view: Shown[PlateAt]) -> str:
    told = told_of(view)
    return "" if told is None else f"{short(view, told.wanted_web_mm)} wanted"


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
    Figure("Least web", LENGTH, _worked_out(lambda told: told.web_mm), aside=_wanted_web,
           spoken="The widest disc that gets from every hole to every other"),
    _PLATE.figure("least_web_mm", "Web wanted", LENGTH, "The least web that is wanted", undo="webs",
                  missing="usual"),
    Figure("Mass", MASS, _worked_out(lambda told: told.mass_kg), spoken="What it weighs"),
    Figure("Turns, least", ANGLE,
           _worked_out(lambda told: None if told.bent is None else told.bent.turned_deg[0]),
           digits=2, aside=lambda _v: "by the pull",
           spoken="How far the most pull of its belts turns it, at least"),
    Figure("Turns, most", ANGLE,
           _worked_out(lambda told: None if told.bent is None else told.bent.turned_deg[1]),
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
    told = told_of(view)
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
    told = told_of(view)
    found = () if told is None else told.findings
    if not found:
        return ""
    more = "" if len(found) == 1 else f" (+{len(found) - 1} more below)"
    said = found[0].message.removeprefix(f"{_plate(view).label}: ")
    return f"{'Not so' if found[0].level == 'stop' else 'To watch'}: {said}{more}."


def _plate_findings(view: Shown[PlateAt]) -> tuple[Finding, ...]:
    told = told_of(view)
    return () if told is None else told.findings


PLATE = Sheet(
    title=lambda v: _plate(v).label,
    subtitle=_plate_subtitle,
    figures=_plate_lines,
    caution=lambda _v: CAUTION,
    findings=_plate_findings,
    is_there=lambda build, target: build.plate(target.plate).id == target.plate,
    related=lambda v: tuple(
        (cut_name(v.build, cut), CutAt(v.target.plate, cut.id)) for cut in _plate(v).features
    ),
    acts=_plate_acts,
)
