"""The lines of a blower's air side on its shaft's card, and what it makes at the speed shown."""

from __future__ import annotations

from typing import Any

import numpy as np

from jovial_tack.answers.drive.air import air_of, blower_of, engine_air
from jovial_tack.core.ratios.blower import Charge, charge_at
from jovial_tack.core.units import INERTIA, PERCENT, POWER, PRESSURE, RATIO, SPEED, TEMPERATURE
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build, KnownPoint, Shaft, SuperchargerLoad
from jovial_tack.document.targets import ShaftAt
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import Choice, Figure, Row, Shown

_MODELS = (
    ("", "representative load"),
    ("positive_displacement", "positive displacement"),
    ("centrifugal", "centrifugal"),
)


def _load(view: Shown[ShaftAt]) -> SuperchargerLoad | None:
    load = view.shaft.load
    return load if isinstance(load, SuperchargerLoad) and load.model is not None else None


def _model(view: Shown[ShaftAt]) -> str:
    load = _load(view)
    return "" if load is None or load.model is None else load.model


def _set_model(build: Build, target: ShaftAt, key: str) -> Build:
    """Describe a blower by its air side, with usual figures to type over, or not at all."""
    shaft = build.shaft(target.shaft)
    if not key:
        return set_shaft(build, shaft.id, load=None)
    given: dict[str, Any] = {"type": "supercharger", "model": key}
    if key == "centrifugal":
        given["known_point"] = {"unit_rpm": shaft.max_rpm or 12000.0, "boost_kpa": 60.0}
    else:
        litres = build.engine.displacement_l or 4.0
        given["displacement_l_per_rev"] = round(0.3 * litres, 2)
    return set_shaft(build, shaft.id, load=given)


def _its_load(build: Build, target: ShaftAt) -> SuperchargerLoad:
    load = build.shaft(target.shaft).load
    assert isinstance(load, SuperchargerLoad)
    return load


def _its_point(build: Build, target: ShaftAt) -> KnownPoint:
    point = _its_load(build, target).known_point
    assert point is not None
    return point


def _write(build: Build, target: ShaftAt, **keys: Any) -> Build:
    return set_shaft(build, target.shaft, load=changed(_its_load(build, target), **keys))


def _write_point(build: Build, target: ShaftAt, **keys: Any) -> Build:
    return _write(build, target, known_point=changed(_its_point(build, target), **keys))


def _label(view: Shown[ShaftAt]) -> str:
    return f"air side of {view.shaft.label}"


_LOAD = Fields(SuperchargerLoad, _its_load, _write, _label)
_POINT = Fields(KnownPoint, _its_point, _write_point, _label)


def _share(name: str, key: str, spoken: str) -> Figure[ShaftAt]:
    return _LOAD.figure(key, name, PERCENT, spoken, percent=True)


def _made(view: Shown[ShaftAt]) -> Charge | None:
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


_TAKEN: tuple[Row[ShaftAt], ...] = (
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
_PUSHED: tuple[Row[ShaftAt], ...] = (
    _LOAD.figure(
        "displacement_l_per_rev",
        "Per turn",
        RATIO,
        "Litres displaced in one turn",
        aside="litres",
        missing="litres",
    ),
    _share("Volumetric", "volumetric_efficiency", "Volumetric efficiency of the blower"),
    _LOAD.figure("step_up", "Step-up", RATIO, "Step-up inside the blower", aside="inside"),
    _LOAD.figure(
        "impeller_inertia_kg_m2",
        "Rotor inertia",
        INERTIA,
        "Moment of inertia of its rotors or impeller, at their own speed",
        aside="behind the step-up",
    ),
)
_KNOWN: tuple[Row[ShaftAt], ...] = (
    _POINT.figure(
        "unit_rpm", "Known at", SPEED, "Speed of its pulley at the known point", aside="its pulley"
    ),
    _POINT.figure("boost_kpa", "Known boost", PRESSURE, "Boost at the known point", aside="there"),
)


def blower_lines(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
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
