"""The lines of a blower's air side on its shaft's card, and what it makes at the speed shown."""

from __future__ import annotations

from typing import Any

import numpy as np

from jovial_tack.answers.drive.air import air_of, blower_of, engine_air
from jovial_tack.core.ratios.blower import Charge, charge_at
from jovial_tack.core.units import PERCENT, POWER, PRESSURE, RATIO, SPEED, TEMPERATURE
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build, Shaft, SuperchargerLoad
from jovial_tack.document.targets import Target
from jovial_tack.sheets.sheet import Change, Choice, Figure, Row, Shown

_MODELS = (
    ("", "representative load"),
    ("positive_displacement", "positive displacement"),
    ("centrifugal", "centrifugal"),
)


def _load(view: Shown) -> SuperchargerLoad | None:
    load = view.shaft.load
    return load if isinstance(load, SuperchargerLoad) and load.model is not None else None


def _model(view: Shown) -> str:
    load = _load(view)
    return "" if load is None or load.model is None else load.model


def _set_model(build: Build, target: Target, key: str) -> Build:
    """Describe a blower by its air side, with usual figures to type over, or not at all."""
    shaft = build.shaft(target[1])
    if not key:
        return set_shaft(build, shaft.id, load=None)
    given: dict[str, Any] = {"type": "supercharger", "model": key}
    if key == "centrifugal":
        given["known_point"] = {"unit_rpm": shaft.max_rpm or 12000.0, "boost_kpa": 60.0}
    else:
        litres = build.engine.displacement_l or 4.0
        given["displacement_l_per_rev"] = round(0.3 * litres, 2)
    return set_shaft(build, shaft.id, load=given)


def _set(key: str, scale: float = 1.0) -> Change:
    def change(build: Build, target: Target, value: float) -> Build:
        load = build.shaft(target[1]).load
        assert isinstance(load, SuperchargerLoad)
        return set_shaft(build, target[1], load=changed(load, **{key: value * scale}))

    return change


def _set_point(key: str) -> Change:
    def change(build: Build, target: Target, value: float) -> Build:
        load = build.shaft(target[1]).load
        assert isinstance(load, SuperchargerLoad) and load.known_point is not None
        point = changed(load.known_point, **{key: value})
        return set_shaft(build, target[1], load=changed(load, known_point=point))

    return change


def _label(view: Shown) -> str:
    return f"air side of {view.shaft.label}"


def _share(name: str, key: str, spoken: str) -> Figure:
    return Figure(
        name,
        PERCENT,
        lambda v: 100 * getattr(_load(v), key),
        change=_set(key, 0.01),
        label=_label,
        spoken=spoken,
    )


def _made(view: Shown) -> Charge | None:
    """What it makes at the engine speed shown."""
    shaft: Shaft = view.shaft
    blower, engine = blower_of(view.build, shaft), engine_air(view.build.engine)
    if blower is None or engine is None:
        return None
    for drive in view.build.drives:
        for pulley in drive.pulleys:
            found = (
                view.results.drive(drive.id).pulley(pulley.id) if pulley.shaft == shaft.id else None
            )
            if found is not None:
                air = air_of(view.build.air)
                return charge_at(blower, engine, air, np.array([view.rpm]), found.speed_ratio)
    return None


def _read(name: str) -> Any:
    return lambda view: float(getattr(m, name)[0]) if (m := _made(view)) is not None else None


_TAKEN: tuple[Row, ...] = (
    _share("Adiabatic", "adiabatic_efficiency", "Adiabatic efficiency of the blower"),
    _share("Mechanical", "mechanical_efficiency", "Mechanical efficiency of the blower"),
    _share("Intercooler", "intercooler_effectiveness", "Effectiveness of the intercooler"),
    Figure(
        "Boost",
        PRESSURE,
        _read("boost_kpa"),
        aside=Shown.at,
        spoken="Boost over the air's pressure",
        absent=lambda v: "–" if v.build.engine.displacement_l else "needs litres",
    ),
    Figure("Pressure ratio", RATIO, _read("ratio"), aside=Shown.at),
    Figure(
        "Discharge",
        TEMPERATURE,
        _read("discharge_c"),
        aside=lambda _v: "hot side",
        spoken="Temperature before the intercooler",
    ),
    Figure("Drive power", POWER, _read("power_kw"), aside=Shown.at),
)
_PUSHED: tuple[Row, ...] = (
    Figure(
        "Per turn",
        RATIO,
        lambda v: load.displacement_l_per_rev if (load := _load(v)) else None,
        change=_set("displacement_l_per_rev"),
        aside=lambda _v: "litres",
        label=_label,
        spoken="Litres displaced in one turn",
    ),
    _share("Volumetric", "volumetric_efficiency", "Volumetric efficiency of the blower"),
    Figure(
        "Step-up",
        RATIO,
        lambda v: load.step_up if (load := _load(v)) else None,
        change=_set("step_up"),
        aside=lambda _v: "inside",
        label=_label,
        spoken="Step-up inside the blower",
    ),
)
_KNOWN: tuple[Row, ...] = (
    Figure(
        "Known at",
        SPEED,
        lambda v: _load(v).known_point.unit_rpm,  # type: ignore[union-attr]
        change=_set_point("unit_rpm"),
        aside=lambda _v: "its pulley",
        label=_label,
        spoken="Speed of its pulley at the known point",
    ),
    Figure(
        "Known boost",
        PRESSURE,
        lambda v: _load(v).known_point.boost_kpa,  # type: ignore[union-attr]
        change=_set_point("boost_kpa"),
        aside=lambda _v: "there",
        label=_label,
        spoken="Boost at the known point",
    ),
)


def blower_lines(view: Shown) -> tuple[Row, ...]:
    """The lines of a blower; none for other shafts."""
    if view.shaft.kind != "supercharger" and not isinstance(view.shaft.load, SuperchargerLoad):
        return ()
    model = Choice(
        "Air side",
        lambda _v: _MODELS,
        _model,
        _set_model,
        _label,
        "How the blower's boost and load are known",
    )
    own = {"positive_displacement": _PUSHED, "centrifugal": _KNOWN}.get(_model(view))
    return (model,) if own is None else (model, *own, *_TAKEN)
