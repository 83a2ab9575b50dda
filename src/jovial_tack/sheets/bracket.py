"""The sheet of a bracket: what it carries, and where it can be bolted on."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from jovial_tack.answers.line_up.told import plate_of
from jovial_tack.core.units import ANGLE, LENGTH, Quantity
from jovial_tack.document.edits.brackets import (
    bolt_bracket,
    carry,
    remove_bracket,
    set_bracket,
    set_offset,
    usual_plate,
)
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.model import Bracket, Build
from jovial_tack.document.targets import NOTHING, BracketAt, ShaftAt
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown


def _it(view: Shown[BracketAt]) -> Bracket:
    return view.build.bracket(view.target.bracket)


def _offset(place: int, axis: int) -> Figure[BracketAt]:
    def change(build: Build, target: BracketAt, mm: float) -> Build:
        offset = list(build.bracket(target.bracket).offsets_mm[place])
        offset[axis] = mm
        return set_offset(build, target.bracket, place, (offset[0], offset[1]))

    return Figure(
        f"Offset {place + 1} {'xy'[axis]}",
        LENGTH,
        lambda v: _it(v).offsets_mm[place][axis],
        change=change,
        label=lambda v: f"offsets of {_it(v).label}",
        spoken=f"Offset {place + 1}, {('to the right', 'upward')[axis]}",
    )


_KEYS: Fields[Bracket, BracketAt] = Fields(
    Bracket,
    lambda build, target: build.bracket(target.bracket),
    lambda build, target, **keys: set_bracket(build, target.bracket, **keys),
    named=lambda view: _it(view).label,
)
_LINES: tuple[Row[BracketAt], ...] = (
    _KEYS.words("name", "Name", "Name of the bracket", undo="name", reads="label"),
    Choice(
        "Bolted at",
        lambda v: tuple((str(k), f"offset {k + 1}") for k in range(len(_it(v).offsets_mm))),
        lambda v: str(_it(v).at),
        lambda b, t, key: bolt_bracket(b, t.bracket, int(key)),
        lambda v: f"place of {_it(v).label}",
        "Which of its offsets it is bolted on at",
    ),
)


def _plate(key: str, name: str, quantity: Quantity, spoken: str) -> Figure[BracketAt]:
    def put(build: Build, target: BracketAt, value: float) -> Build:
        plate = build.bracket(target.bracket).plate
        assert plate is not None
        return set_bracket(build, target.bracket, plate=changed(plate, **{key: value}))

    return Figure(
        name,
        quantity,
        lambda v: getattr(_it(v).plate, key),
        change=put,
        label=lambda v: f"plate of {_it(v).label}",
        spoken=spoken,
    )


def _pulled(end: str) -> Callable[[Shown[BracketAt]], float | None]:
    def read(view: Shown[BracketAt]) -> float | None:
        found = plate_of(view.build, view.results, view.catalogue, view.target.bracket)
        return None if found is None else float(getattr(found, end))

    return read


def _belts_pulled(place: int) -> Callable[[Shown[BracketAt]], float | None]:
    def read(view: Shown[BracketAt]) -> float | None:
        found = plate_of(view.build, view.results, view.catalogue, view.target.bracket)
        return None if found is None else found.angles_deg[place]

    return read


_PLATE: tuple[Row[BracketAt], ...] = (
    _plate("length_mm", "Plate, long", LENGTH, "From the line of its bolts to where it carries"),
    _plate("width_mm", "Plate, wide", LENGTH, "Across that"),
    _plate("thickness_mm", "Plate, thick", LENGTH, "Its thickness"),
    _plate("direction_deg", "Plate toward", ANGLE, "From its bolts to where it carries"),
    _plate("z_mm", "Plate at", LENGTH, "Its middle, forward from the face planes are measured from"),
    Choice(
        "Made of",
        lambda _v: (("aluminium", "Aluminium"), ("iron", "Iron"), ("steel", "Steel")),
        lambda v: plate.material if (plate := _it(v).plate) is not None else "",
        change=lambda b, t, key: _made_of(b, t, key),
        label=lambda v: f"plate of {_it(v).label}",
        spoken="What the plate is made of",
    ),
    Figure("Turns, least", ANGLE, _pulled("low_deg"), digits=2, aside=lambda _v: "by the pull",
           spoken="How far the most pull of its belts turns it, at least"),
    Figure("Turns, most", ANGLE, _pulled("high_deg"), digits=2, aside=lambda _v: "by the pull",
           spoken="How far the most pull of its belts turns it, at most"),
    Figure("Belts at rest", ANGLE, _belts_pulled(0), digits=2, aside=lambda _v: "out of line",
           spoken="The worst angle of its belts at rest"),
    Figure("Belts pulled", ANGLE, _belts_pulled(1), digits=2, aside=lambda _v: "at least",
           spoken="The worst angle of its belts under their greatest pull, at least"),
)  # fmt: skip


def _made_of(build: Build, target: BracketAt, key: str) -> Build:
    plate = build.bracket(target.bracket).plate
    assert plate is not None
    return set_bracket(build, target.bracket, plate=changed(plate, material=key))


def _lines(view: Shown[BracketAt]) -> tuple[Row[BracketAt], ...]:
    places = range(len(_it(view).offsets_mm))
    offsets = (_offset(place, axis) for place in places for axis in (0, 1))
    return (*_LINES, *offsets, *(_PLATE if _it(view).plate is not None else ()))


def _acts(view: Shown[BracketAt]) -> tuple[Act, ...]:
    bracket, label = _it(view), _it(view).label
    offsets = bracket.offsets_mm
    x, y = offsets[-1]
    more = (*offsets, (x, y + 10.0))
    acts = [
        Act(
            "Add an offset",
            lambda b: set_bracket(b, bracket.id, offsets_mm=more),
            f"offset of {label}",
        )
    ]
    if bracket.plate is None:
        acts.append(
            Act(
                "Say what it is made of", partial(_with_plate, name=bracket.id), f"plate of {label}"
            )
        )
    else:
        bare = partial(set_bracket, bracket_id=bracket.id, plate=None)
        acts.append(Act("Forget what it is made of", bare, f"plate of {label}"))
    if len(offsets) > 1:
        away = partial(_without_last, name=bracket.id)
        acts.append(Act("Take the last offset away", away, f"offset of {label}"))
    for shaft in view.build.shafts:
        if shaft.id in bracket.shafts and len(bracket.shafts) == 1:
            continue
        on = shaft.id not in bracket.shafts
        acts.append(
            Act(
                f"Carry {shaft.label}" if on else f"Let go of {shaft.label}",
                partial(carry, bracket_id=bracket.id, shaft_id=shaft.id, on=on),
                f"shafts of {label}",
            )
        )
    acts.append(
        Act(
            "Delete",
            lambda b: remove_bracket(b, bracket.id),
            f"delete {label}",
            lambda _b: NOTHING,
            removes=True,
        )
    )
    return tuple(acts)


def _with_plate(build: Build, name: str) -> Build:
    """The bracket as a plate of a usual size, to type over."""
    return set_bracket(build, name, plate=usual_plate(build, name))


def _without_last(build: Build, name: str) -> Build:
    offsets = build.bracket(name).offsets_mm
    if build.bracket(name).at == len(offsets) - 1:
        build = bolt_bracket(build, name, 0)
    return set_bracket(build, name, offsets_mm=offsets[:-1])


BRACKET = Sheet(
    title=lambda v: _it(v).label,
    subtitle=lambda v: (
        "Bracket that carries "
        + ", ".join(v.build.shaft(name).label for name in _it(v).shafts)
        + ". Drag one of them to bolt it on at another offset."
    ),
    figures=_lines,
    caution=lambda _v: "Support what a bracket carries before its bolts come out.",
    findings=lambda _v: (),
    is_there=lambda build, target: build.bracket(target.bracket).id == target.bracket,
    related=lambda v: tuple((v.build.shaft(name).label, ShaftAt(name)) for name in _it(v).shafts),
    acts=_acts,
)
