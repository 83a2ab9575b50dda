"""The lines of load cases and banks of batteries, on the engine's card and on that of a shaft."""

from __future__ import annotations

from collections.abc import Callable

from jovial_tack.answers.drive.taking import situation_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import CURRENT, RATIO
from jovial_tack.document.edits.loads import (
    add_bank,
    add_case,
    look_at,
    own_case,
    remove_bank,
    remove_case,
    rename_bank,
    set_bank,
    set_case,
    set_case_load,
)
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build
from jovial_tack.document.targets import NOTHING, Nothing, ShaftAt
from jovial_tack.sheets.sheet import Act, Change, Choice, Figure, Row, Shown, Words

#: Kinds of shafts that take nothing by themselves.
CARRIES_NONE = ("crank", "idler", "tensioner", "jackshaft")


def _cases(view: Shown[Nothing]) -> tuple[tuple[str, str], ...]:
    """The build's own load cases, then the usual ones of what is on the engine."""
    kinds = {shaft.kind for shaft in view.build.shafts}
    own = [(case.id, case.label) for case in view.build.load_cases]
    taken = {case.id for case in view.build.load_cases}
    usual = [
        (name, f"{case.label} (rep.)")
        for name, case in view.catalogue.load_cases.items()
        if name not in taken and (kinds & case.loads.keys() or name == view.build.load_case)
    ]
    return (("", "loads as they are"), *own, *usual)


def _factor(name: str, key: str, spoken: str) -> Figure[Nothing]:
    def value(view: Shown[Nothing]) -> float | None:
        situation = situation_of(view.build, view.catalogue)
        found: float = getattr(situation, key)
        return found

    def change(build: Build, _target: object, factor: float) -> Build:
        return set_case(build, build.load_case or "", **{key: factor})

    return Figure(
        name,
        RATIO,
        value,
        change=change,
        label=lambda _v: "load case",
        spoken=spoken,
        aside=lambda _v: "times as usual",
    )


_NAMED: Words[Nothing] = Words(
    "Case named",
    lambda v: situation_of(v.build, v.catalogue).label,
    lambda b, _t, text: set_case(b, b.load_case or "", name=text),
    lambda _v: "name of load case",
    "Name of the load case",
)


def case_lines(view: Shown[Nothing]) -> tuple[Row[Nothing], ...]:
    """Which load case is looked at; of one of the build's own its name and factors too."""
    lines: tuple[Row[Nothing], ...] = (
        Choice(
            "Load case",
            _cases,
            lambda v: v.build.load_case or "",
            lambda b, _t, key: look_at(b, key),
            lambda _v: "load case",
            "Situation the drives are looked at in",
        ),
    )
    if own_case(view.build, view.build.load_case or "") is None:
        return lines
    return (
        *lines,
        _NAMED,
        _factor("Friction", "friction_factor", "Friction of all belts, times as usual"),
        _factor("Springs", "spring_factor", "Pull of all spring arms, times as usual"),
    )


def case_acts(view: Shown[Nothing]) -> tuple[Act, ...]:
    """A new load case, and the one that is looked at away."""
    acts = [
        Act("+ Load case", lambda b: add_case(b, "case", {}), "add load case", lambda _b: NOTHING),
        Act("+ Bank of batteries", add_bank, "add bank of batteries", lambda _b: NOTHING),
    ]
    own = own_case(view.build, view.build.load_case or "")
    if own is not None:
        acts.append(
            Act(
                f"Delete {own.label}",
                lambda b: remove_case(b, own.id),
                "delete load case",
                lambda _b: NOTHING,
            )
        )
    for bank in view.build.engine.banks:
        acts.append(
            Act(
                f"Delete {bank}",
                lambda b, name=bank: remove_bank(b, name),  # type: ignore[misc]
                "delete bank of batteries",
                lambda _b: NOTHING,
            )
        )
    return tuple(acts)


def load_in_case(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
    """On a shaft's card: how many times its own load it takes in the load case that is looked at."""
    if view.build.load_case is None or view.shaft.kind in CARRIES_NONE:
        return ()

    def value(v: Shown[ShaftAt]) -> float | None:
        told = situation_of(v.build, v.catalogue).loads.get(v.shaft.id, 1.0)
        return told if isinstance(told, float | int) else None

    def aside(v: Shown[ShaftAt]) -> str:
        situation = situation_of(v.build, v.catalogue)
        usual = situation.usual and v.shaft.id in situation.loads
        return "times (rep.)" if usual else "times its own"

    return (
        Figure(
            "In this case",
            RATIO,
            value,
            aside,
            lambda _v: "another load",
            _in_own_case(view.catalogue),
            lambda v: f"load of {v.shaft.label} in the case",
            "Load in the load case that is looked at, times its own",
        ),
    )


def _in_own_case(catalogue: Catalogue) -> Change[ShaftAt]:
    """A factor typed into a usual load case makes it one of the build's own."""

    def change(build: Build, target: ShaftAt, factor: float) -> Build:
        name = build.load_case or ""
        if own_case(build, name) is None:
            situation = situation_of(build, catalogue)
            loads = {k: v for k, v in situation.loads.items() if isinstance(v, float | int)}
            build = add_case(
                build,
                situation.label,
                loads,
                friction_factor=situation.friction_factor,
                spring_factor=situation.spring_factor,
            )
        return set_case_load(build, build.load_case or "", target.shaft, factor)

    return change


def bank_lines(view: Shown[Nothing]) -> tuple[Row[Nothing], ...]:
    """The banks of batteries with what each asks at idle and at cruise."""
    lines: list[Row[Nothing]] = []
    for place in range(len(view.build.engine.banks)):
        lines += [_bank_name(place), _asked(place, "idle"), _asked(place, "cruise")]
    return tuple(lines)


def _bank_at(build: Build, place: int) -> str:
    return list(build.engine.banks)[place]


def _bank_name(place: int) -> Words[Nothing]:
    return Words(
        f"Bank {place + 1}",
        lambda v: _bank_at(v.build, place),
        lambda b, _t, text: rename_bank(b, _bank_at(b, place), text),
        lambda _v: "name of bank",
        "Name of the bank of batteries",
    )


def _asked(place: int, when: str) -> Figure[Nothing]:
    key = f"{when}_a"
    return Figure(
        f"Bank {place + 1} {when}",
        CURRENT,
        lambda v: getattr(v.build.engine.banks[_bank_at(v.build, place)], key),
        change=lambda b, _t, amps: set_bank(b, _bank_at(b, place), **{key: amps}),
        absent=lambda _v: "",
        aside=lambda _v: f"asked at {when}",
        label=lambda v: f"bank {_bank_at(v.build, place)}",
        spoken=f"Current bank {place + 1} asks for at {when}",
    )


def bank_choice(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
    """On an alternator's card: the bank it is on; none where there are no banks."""
    if view.shaft.kind != "alternator" or not view.build.engine.banks:
        return ()
    options: Callable[[Shown[ShaftAt]], tuple[tuple[str, str], ...]] = lambda v: (  # noqa: E731
        ("", "the car's"),
        *((name, name) for name in v.build.engine.banks),
    )
    return (
        Choice(
            "Charges",
            options,
            lambda v: v.shaft.bank or "",
            lambda b, t, key: set_shaft(b, t.shaft, bank=key or None),
            lambda v: f"bank of {v.shaft.label}",
            "Batteries the alternator charges",
        ),
    )
