"""The sheet shown when nothing is selected: the engine's speeds, and all findings."""

from __future__ import annotations

from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.core.units import CURRENT, DISPLACEMENT, PERCENT, PRESSURE, SPEED, TEMPERATURE
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.engine import set_engine, set_title, set_units
from jovial_tack.document.edits.notes import add_note
from jovial_tack.document.edits.obstacles import add_obstacle
from jovial_tack.document.edits.shafts import add_shaft
from jovial_tack.document.model import AirState, Build, Engine, FillingCurve
from jovial_tack.document.targets import NOTHING, BeltAt, NoteAt, Nothing, ObstacleAt, ShaftAt
from jovial_tack.sheets.fields import Fields, always
from jovial_tack.sheets.loads import curve_text, read_curve
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown, Words
from jovial_tack.sheets.situations import bank_lines, case_acts, case_lines

_CAUTION = (
    "Engine off, key out, hot parts cold before hands go in. Makers' limits, local rules and"
    " qualified people come first; the figures are estimates from the data entered."
)


def _filling(view: Shown[Nothing]) -> float | None:
    filling = view.build.engine.volumetric_efficiency
    return None if isinstance(filling, FillingCurve) else 100 * filling


def _filling_text(view: Shown[Nothing]) -> str:
    filling = view.build.engine.volumetric_efficiency
    if not isinstance(filling, FillingCurve):
        return ""
    return curve_text(filling.rpm, [round(100 * value, 3) for value in filling.value])


def _set_filling(build: Build, text: str) -> Build:
    """A curve typed in per cent; an empty text goes back to one figure, that of the curve's middle."""
    now = build.engine.volumetric_efficiency
    if not text.strip():
        if not isinstance(now, FillingCurve):
            return build
        return set_engine(build, volumetric_efficiency=now.value[len(now.value) // 2])
    rpm, values = read_curve(text)
    curve = {"rpm": rpm, "value": tuple(value / 100 for value in values)}
    return set_engine(build, volumetric_efficiency=curve)


def _about_filling(view: Shown[Nothing]) -> str:
    curve = isinstance(view.build.engine.volumetric_efficiency, FillingCurve)
    return "by its curve" if curve else "volumetric"


_ENGINE: Fields[Engine, Nothing] = Fields(
    Engine, lambda build, _target: build.engine, lambda b, _target, **keys: set_engine(b, **keys)
)
_AIR: Fields[AirState, Nothing] = Fields(
    AirState,
    lambda build, _target: build.air,
    lambda b, _target, **keys: changed(b, air=changed(b.air, **keys)),
    "air",
)
_ROTATIONS = (("cw", "clockwise"), ("ccw", "counter-clockwise"))
_FIGURES: tuple[Row[Nothing], ...] = (
    Words(
        "Title",
        lambda view: view.build.title,
        lambda build, _target, text: set_title(build, text),
        always("title"),
        "Title of the build",
    ),
    _ENGINE.figure("idle_rpm", "Idle", SPEED, "Idle speed of the engine", undo="idle speed"),
    _ENGINE.figure(
        "cruise_rpm", "Cruise", SPEED, "Cruise speed of the engine", undo="cruise speed"
    ),
    _ENGINE.figure("redline_rpm", "Redline", SPEED, "Redline of the engine", undo="redline"),
    _ENGINE.figure(
        "displacement_l",
        "Displacement",
        DISPLACEMENT,
        "Displacement of the engine",
        undo="displacement",
        missing="",
    ),
    Figure(
        "Filling",
        PERCENT,
        _filling,
        absent=always(""),
        aside=_about_filling,
        change=lambda b, _t, n: set_engine(b, volumetric_efficiency=n / 100),
        label=always("filling"),
        spoken="Volumetric efficiency of the engine",
    ),
    Words(
        "rpm:%",
        _filling_text,
        lambda build, _target, text: _set_filling(build, text),
        always("filling"),
        "Volumetric efficiency curve: pairs of engine speed and per cent",
    ),
    _AIR.figure("pressure_kpa", "Air", PRESSURE, "Pressure of the air outside", aside="outside"),
    _AIR.figure(
        "temperature_c", "Air warm", TEMPERATURE, "Temperature of the air outside", aside="outside"
    ),
    _ENGINE.figure(
        "electrical_idle_a",
        "Idle draws",
        CURRENT,
        "Current the car asks for at idle",
        undo="electrical load",
        aside="at idle",
        missing="at idle",
    ),
    _ENGINE.figure(
        "electrical_cruise_a",
        "Cruise draws",
        CURRENT,
        "Current the car asks for at cruise",
        undo="electrical load",
        aside="at cruise",
        missing="at cruise",
    ),
    Choice(
        "Strokes",
        lambda _view: (("4", "four"), ("2", "two")),
        lambda view: str(view.build.engine.strokes),
        lambda build, _target, key: set_engine(build, strokes=int(key)),
        always("strokes"),
        "Strokes of a cycle",
    ),
    _ENGINE.choice(
        "crank_rotation",
        "Crank turns",
        _ROTATIONS,
        "Rotation of the crank, seen from the front",
        undo="crank rotation",
    ),
)


def _said(view: Shown[Nothing]) -> str:
    if not view.build.drives:
        return (
            "Nothing on the crank yet. Begin with a layout and drag it into shape, or put shafts on the"
            " engine (or double-click the paper where one stands) and lay a belt: the card of a shaft"
            " begins one, and a span is then pulled over further pulleys."
        )
    return (
        "Point at a pulley, an arm or a belt to see its figures; drag a shaft to move it. Framed"
        " figures can be typed over."
    )


_OFFERED = (
    "alternator",
    "water_pump",
    "power_steering",
    "compressor",
    "supercharger",
    "idler",
    "fan",
    "jackshaft",
    "other",
)


def _acts(view: Shown[Nothing]) -> tuple[Act, ...]:
    """A shaft of each usual kind to put on the engine."""
    obstacle = Act(
        "+ Something in the way",
        lambda b: add_obstacle(b, view.catalogue)[0],
        "add something in the way",
        lambda b: ObstacleAt(b.obstacles[-1].id),
        asks="Name",
    )
    begin = tuple(
        Act(
            f"Begin: {text}",
            lambda b, m=make: set_units(m(view.catalogue), b.display_units),  # type: ignore[misc]
            f"begin with {text[0].lower()}{text[1:]}",
            lambda _b: NOTHING,
        )
        for text, make in (() if view.build.drives else LAYOUTS)
    )
    return (
        *begin,
        *(
            Act(
                f"+ {view.catalogue.kinds[kind].label}",
                lambda b, k=kind: add_shaft(b, k, view.catalogue)[0],  # type: ignore[misc]
                f"add {view.catalogue.kinds[kind].label.lower()}",
                lambda b: ShaftAt(b.shafts[-1].id),
            )
            for kind in _OFFERED
        ),
        obstacle,
        Act(
            "+ Note",
            lambda b: add_note(b)[0],
            "pin a note",
            lambda b: NoteAt(b.pinned_notes[-1].id),
        ),
        *case_acts(view),
    )


ENGINE = Sheet(
    title=lambda v: v.build.title or "Untitled build",
    subtitle=_said,
    figures=lambda v: (_FIGURES[0], *case_lines(v), *_FIGURES[1:], *bank_lines(v)),
    caution=lambda _v: _CAUTION,
    findings=lambda v: v.results.findings,
    is_there=lambda _build, _target: True,
    related=lambda v: tuple((drive.label, BeltAt(drive.id)) for drive in v.build.drives),
    acts=_acts,
)
