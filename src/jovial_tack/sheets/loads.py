"""The lines of a shaft's load and an alternator's output; curves are typed as “1500:45 3000:110”."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import partial
from typing import Any, TypeVar

from jovial_tack.answers.drive.duties import given_at, output_of
from jovial_tack.answers.drive.taking import electrics_of
from jovial_tack.core.errors import BuildFileError, EitherFigureError, UnitError
from jovial_tack.core.units import CURRENT, LENGTH, PERCENT, RATIO, SPEED, TORQUE, VOLTAGE, parse
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import (
    Build,
    ConstantTorqueLoad,
    PowerLawLoad,
    Shaft,
    SuperchargerLoad,
    TableLoad,
)
from jovial_tack.document.targets import ShaftAt
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import Change, Choice, Figure, Row, Say, Shown, Words
from jovial_tack.sheets.situations import CARRIES_NONE, bank_choice, load_in_case

_TYPES = (
    ("table", "a power curve"),
    ("constant_torque", "constant torque"),
    ("power_law", "torque growing with speed"),
)
_PAIR = re.compile(r"([\d.,]+)\s*[:=]\s*([\d.,]+)")


def curve_text(rpm: Sequence[float], values: Sequence[float]) -> str:
    """A curve as it is typed.

    >>> curve_text((1500.0, 3000.0), (45.0, 110.5))
    '1500:45 3000:110.5'
    """
    return " ".join(f"{n:g}:{v:g}" for n, v in zip(rpm, values, strict=True))


def read_curve(text: str) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Speeds and values of a typed curve. Raises BuildFileError for what is none.

    >>> read_curve("1500:45; 3000: 110,5")
    ((1500.0, 3000.0), (45.0, 110.5))
    """
    pairs = _PAIR.findall(text)
    left_over = _PAIR.sub("", text).strip(" ;,/")
    try:
        points = [tuple(parse(part, RATIO) for part in pair) for pair in pairs]
    except EitherFigureError as error:
        raise BuildFileError("curve", f"figures that can be read in one way: {error}") from None
    except UnitError:
        points = []
    if len(points) < 2 or left_over:
        shown = " ".join(text.split())[:40]
        raise BuildFileError("curve", f"pairs such as 1500:45 3000:110, not “{shown}”")
    return tuple(p[0] for p in points), tuple(p[1] for p in points)


def _types(view: Shown[ShaftAt]) -> tuple[tuple[str, str], ...]:
    """How a load can be known; without one of its own it is that of the kind, or follows from amps."""
    by_amps = view.shaft.kind == "alternator" and view.shaft.output is not None
    return (("", "from its output" if by_amps else "usual for its kind (rep.)"), *_TYPES)


def _set_type(view: Shown[ShaftAt], build: Build, target: ShaftAt, key: str) -> Build:
    """Give a shaft a load of another type, with usual figures to type over: those of its kind where
    they are of that type.
    """
    usual = view.catalogue.kinds[build.shaft(target.shaft).kind].load
    given: dict[str, dict[str, Any] | None] = {
        "": None,
        "table": {"rpm": (1000.0, 6000.0), "power_kw": (0.5, 3.0)},
        "constant_torque": {"torque_nm": 5.0},
        "power_law": {"torque_nm": 5.0, "at_rpm": 6000.0, "exponent": 2.0},
    }
    now = build.shaft(target.shaft).load
    if now is not None and now.type == key:
        return build
    load = given[key]
    if usual is not None and usual["type"] == key:
        load = {name: value for name, value in usual.items() if name != "type"}
    return set_shaft(build, target.shaft, load=load and {"type": key, **load})


def _set_powers(build: Build, target: ShaftAt, text: str) -> Build:
    rpm, power = read_curve(text)
    now = build.shaft(target.shaft).load
    if isinstance(now, TableLoad):
        return set_shaft(build, target.shaft, load=changed(now, rpm=rpm, power_kw=power))
    return set_shaft(build, target.shaft, load={"type": "table", "rpm": rpm, "power_kw": power})


def _set_output(build: Build, target: ShaftAt, text: str) -> Build:
    rpm, current = read_curve(text)
    now = build.shaft(target.shaft).output
    if now is not None:
        return set_shaft(build, target.shaft, output=changed(now, rpm=rpm, current_a=current))
    return set_shaft(build, target.shaft, output={"rpm": rpm, "current_a": current})


def _set_electrics(view: Shown[ShaftAt], key: str) -> Change[ShaftAt]:
    """Volts or efficiency typed; with them the output curve shown becomes the alternator's own."""

    def change(build: Build, target: ShaftAt, value: float) -> Build:
        shaft = build.shaft(target.shaft)
        if shaft.output is not None:
            return set_shaft(build, target.shaft, output=changed(shaft.output, **{key: value}))
        curve = output_of(shaft, view.catalogue)
        assert curve is not None
        output = {"rpm": curve.rpm, "current_a": curve.current_a, key: value}
        return set_shaft(build, target.shaft, output=output)

    return change


def _powers(view: Shown[ShaftAt]) -> str:
    load = view.shaft.load
    return curve_text(load.rpm, load.power_kw) if isinstance(load, TableLoad) else ""


def _currents(view: Shown[ShaftAt]) -> str:
    curve = output_of(view.shaft, view.catalogue)
    return "" if curve is None else curve_text(curve.rpm, curve.current_a)


def _label(view: Shown[ShaftAt]) -> str:
    return f"load of {view.shaft.label}"


L = TypeVar("L", ConstantTorqueLoad, PowerLawLoad)


def _lines_of(kind: type[L]) -> Fields[L, ShaftAt]:
    """The lines of a load of one kind."""

    def its(build: Build, target: ShaftAt) -> L:
        load = build.shaft(target.shaft).load
        assert isinstance(load, kind)
        return load

    def write(build: Build, target: ShaftAt, **keys: Any) -> Build:
        return set_shaft(build, target.shaft, load=changed(its(build, target), **keys))

    return Fields(kind, its, write, _label)


_CONSTANT, _POWER_LAW = _lines_of(ConstantTorqueLoad), _lines_of(PowerLawLoad)
_CONSTANT_LINES = (
    _CONSTANT.figure("torque_nm", "Load torque", TORQUE, "Torque it takes", aside="at every speed"),
)
_POWER_LAW_LINES = (
    _POWER_LAW.figure(
        "torque_nm", "Load torque", TORQUE, "Torque it takes at that speed", aside="there"
    ),
    _POWER_LAW.figure(
        "at_rpm", "Taken at", SPEED, "Speed at which it takes that torque", aside="its own"
    ),
    _POWER_LAW.figure(
        "exponent", "Grows with", RATIO, "Exponent of the speed", aside="power of speed"
    ),
)


def load_lines(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
    """How a shaft's load is known; none for shafts that carry none or are told by their air side."""
    shaft, load = view.shaft, view.shaft.load
    told_by_air = shaft.kind == "supercharger" or isinstance(load, SuperchargerLoad)
    if shaft.kind in CARRIES_NONE or told_by_air:
        return load_in_case(view)
    lines: list[Row[ShaftAt]] = [
        Choice(
            "Load",
            _types,
            lambda v: v.shaft.load.type if v.shaft.load else "",
            partial(_set_type, view),
            _label,
            "How the shaft's load is known",
        ),
    ]
    if isinstance(load, TableLoad):
        spoken = "Power curve: pairs of its own speed, rpm, and kW"
        lines.append(Words("rpm:kW", _powers, _set_powers, _label, spoken))
    elif isinstance(load, ConstantTorqueLoad):
        lines += _CONSTANT_LINES
    elif isinstance(load, PowerLawLoad):
        lines += _POWER_LAW_LINES
    return (*lines, *load_in_case(view), *_output_lines(view))


def _judged(view: Shown[ShaftAt]) -> str:
    """Whether the end play that was measured is within what is allowed."""
    play, limit = view.shaft.end_play_mm, view.shaft.end_play_limit_mm
    if play is None or limit is None:
        return "measured"
    return "within limit" if play <= limit else "OVER ITS LIMIT"


_SHAFT: Fields[Shaft, ShaftAt] = Fields(
    Shaft,
    lambda build, target: build.shaft(target.shaft),
    lambda build, target, **keys: set_shaft(build, target.shaft, **keys),
    "end play",
    lambda view: view.shaft.label,
)
_END_PLAY = (
    _SHAFT.figure(
        "end_play_mm",
        "End play",
        LENGTH,
        "End play of the shaft, as measured",
        aside=_judged,
        digits=2,
    ),
    _SHAFT.figure(
        "end_play_limit_mm",
        "Most end play",
        LENGTH,
        "Most end play allowed",
        aside="allowed",
        missing="allowed",
        digits=2,
    ),
)


def end_play_lines(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
    """The end play of a camshaft as it was measured, and what is allowed; none for other shafts."""
    return _END_PLAY if view.shaft.kind == "camshaft" else ()


def _output_lines(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
    curve = output_of(view.shaft, view.catalogue) if view.shaft.kind == "alternator" else None
    if curve is None:
        return ()
    spoken = "Output curve: pairs of its own speed, rpm, and A"

    def given(v: Shown[ShaftAt]) -> float | None:
        here = output_of(v.shaft, v.catalogue)
        ratio = next(
            (
                found.speed_ratio
                for drive in v.build.drives
                for pulley in drive.pulleys
                if pulley.shaft == v.shaft.id
                and (found := v.results.drive(drive.id).pulley(pulley.id)) is not None
            ),
            None,
        )
        return None if ratio is None or here is None else given_at(here, v.rpm * ratio)

    return (
        Words("rpm:A", _currents, _set_output, lambda v: f"output of {v.shaft.label}", spoken),
        Figure(
            "Gives",
            CURRENT,
            given,
            spoken="Current it can give at the speed shown",
            aside=lambda v: v.at() + ("" if v.shaft.output else " (rep.)"),
        ),
        *bank_choice(view),
        *(_electrics(view) if view.shaft.load is None else ()),
    )


def _electrics(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
    """What an alternator's belt load follows from, beside its amps."""

    def given(v: Shown[ShaftAt]) -> tuple[float, float]:
        curve = output_of(v.shaft, v.catalogue)
        assert curve is not None
        return electrics_of(curve, v.catalogue)

    def usual(key: str) -> Say[ShaftAt]:
        return lambda v: "" if getattr(v.shaft.output, key, None) else "(rep.)"

    share = _set_electrics(view, "efficiency")
    return (
        Figure(
            "Volts",
            VOLTAGE,
            lambda v: given(v)[0],
            usual("volts"),
            digits=1,
            change=_set_electrics(view, "volts"),
            label=_label,
            spoken="Volts it charges at",
        ),
        Figure(
            "Efficiency",
            PERCENT,
            lambda v: 100 * given(v)[1],
            usual("efficiency"),
            change=lambda b, t, n: share(b, t, n / 100),
            label=_label,
            spoken="Share of the belt's power that becomes current",
        ),
    )
