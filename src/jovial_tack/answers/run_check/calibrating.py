"""A blower's air side from a log: the boost it made where its belt still held (docs/METHOD.md, 11)."""

from __future__ import annotations

from typing import Any

import numpy as np

from jovial_tack.answers.drive.air import air_of, engine_air
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.run_check.judging import CheckedPull, blower_place
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.ratios.blower import Air, Compression, Displacement
from jovial_tack.core.run_check.pull import Pull
from jovial_tack.document.edits.belts import set_belt
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build, SuperchargerLoad

_BISECTIONS = 50
_MOST_EFFICIENCY = 1.5


def known_point(pull: Pull, case: SolvableCase, air_kpa: float) -> dict[str, Any] | None:
    """The fastest point at which a pull's blower kept up with the crank, as `known_point` of a load.

    Its boost is that of the law fitted through the part of the pull that does not slip. None where the
    pull cannot tell what the blower would make without slip, or the drive has no path.
    """
    place = blower_place(case)
    if pull.trace is None or pull.slip is None or place is None:
        return None
    rpm = pull.onset_rpm or float(pull.trace.rpm[-1])
    boost = float(np.interp(rpm, pull.trace.rpm, pull.trace.expected_kpa))
    ratio = float(case.drive.ratios[place])
    return {
        "unit_rpm": round(rpm * ratio, 1),
        "boost_kpa": round(boost, 2),
        "air": {"pressure_kpa": round(air_kpa, 3), "temperature_c": 25.0},
    }


def calibrated(build: Build, pull: Pull, case: SolvableCase, air_kpa: float) -> Build:
    """The build with its blower calibrated by a pull, in the air of the day at the build's temperature.

    A centrifugal blower (or one not described yet) takes the known point; a displacement blower takes
    the volumetric efficiency with which it makes that boost. Raises GeometryError where it cannot.
    """
    point = known_point(pull, case, air_kpa)
    if point is None:
        raise GeometryError("this pull cannot tell what the blower makes while its belt holds")
    place = blower_place(case)
    assert place is not None and isinstance(case, SolvableCase)
    shaft = case.shafts[place]
    point["air"]["temperature_c"] = build.air.temperature_c
    load = shaft.load
    if not isinstance(load, SuperchargerLoad) or load.model is None:
        given = {"type": "supercharger", "model": "centrifugal", "known_point": point}
        return set_shaft(build, shaft.id, load=given)
    if load.model == "centrifugal":
        return set_shaft(build, shaft.id, load=changed(load, known_point=point))
    engine = engine_air(build.engine)
    assert load.displacement_l_per_rev is not None
    if engine is None:
        raise GeometryError("the engine's displacement_l is needed to calibrate this blower")
    compression = Compression(
        load.adiabatic_efficiency, load.mechanical_efficiency, load.intercooler_effectiveness
    )
    air = Air(air_kpa, air_of(build.air).temperature_c)
    unit = np.array([point["unit_rpm"]])
    rpm = unit / float(case.drive.ratios[place])
    low, high = 0.01, _MOST_EFFICIENCY
    for _ in range(_BISECTIONS):
        middle = (low + high) / 2
        blower = Displacement(load.displacement_l_per_rev, middle, load.step_up, compression)
        made = (blower.ratio_at(unit, rpm, engine, air)[0] - 1.0) * air_kpa
        low, high = (middle, high) if made < point["boost_kpa"] else (low, middle)
    if high > _MOST_EFFICIENCY - 1e-6:
        raise GeometryError(
            "no volumetric efficiency makes this boost; check the litres a turn and the pulleys"
        )
    efficiency = round((low + high) / 2, 4)
    return set_shaft(build, shaft.id, load=changed(load, volumetric_efficiency=efficiency))


def with_friction(build: Build, checked: CheckedPull, case: SolvableCase) -> Build:
    """The build with the friction that makes its model slip where a pull does, on ribs and back.

    Raises GeometryError where no friction does.
    """
    share = checked.friction_share
    if share is None:
        raise GeometryError("no friction makes the model slip where the log does")
    return set_belt(
        build,
        case.model.id,
        friction_ribs=round(share * case.belt.friction_ribs, 4),
        friction_back=round(share * case.belt.friction_back, 4),
    )
