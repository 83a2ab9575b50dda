"""The sheet of a bracket: what it carries, and where it can be bolted on."""

from __future__ import annotations

from functools import partial

from jovial_tack.core.units import LENGTH
from jovial_tack.document.edits.brackets import (
    bolt_bracket,
    carry,
    remove_bracket,
    set_bracket,
    set_offset,
)
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


def _lines(view: Shown[BracketAt]) -> tuple[Row[BracketAt], ...]:
    places = range(len(_it(view).offsets_mm))
    return (*_LINES, *(_offset(place, axis) for place in places for axis in (0, 1)))


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
