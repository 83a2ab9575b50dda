"""What the blower makes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from jovial_tack.answers.drive.air import air_of, blower_of, engine_air
from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.results import number
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.ratios.blower import AirEngine, Blower, Charge, charge_at
from jovial_tack.core.ratios.compressor_map import Operating
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build


class Charged(Value, frozen=True):
    """A build's blower on its drive: all that a boost depends on."""

    case: SolvableCase
    place: int
    blower: Blower
    engine: AirEngine

    @property
    def ratio(self) -> float:
        """Speed of the blower's input over the crank's."""
        return float(self.case.drive.ratios[self.place])


def charged_drive(build: Build, catalogue: Catalogue) -> Charged:
    """The first blower that can be computed. Raises GeometryError that says what is missing."""
    engine = engine_air(build.engine)
    if engine is None:
        raise GeometryError("the engine's displacement_l is needed to compute a boost")
    for case in assemble(build, catalogue):
        for place, shaft in enumerate(case.shafts):
            blower = blower_of(build, shaft)
            if blower is not None and isinstance(case, SolvableCase) and place != case.driver:
                return Charged(case, place, blower, engine)
    raise GeometryError(
        "no driven shaft carries a supercharger with its model; give its load a model"
        " (positive_displacement or centrifugal) and its figures"
    )


def boost_at(build: Build, catalogue: Catalogue, rpm: Sequence[float] | None = None) -> Charge:
    """What the blower makes at engine speeds, default idle, cruise and redline."""
    engine = build.engine
    listed = rpm or (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
    found = charged_drive(build, catalogue)
    air = air_of(build.air)
    return charge_at(found.blower, found.engine, air, np.array(listed, dtype=float), found.ratio)


def charge_json(charge: Charge, on_map: Operating | None = None) -> dict[str, Any]:
    """As `boost --json` has it; lists run along rpm. on_map: told too where the blower has a map."""
    names = {
        "rpm": "engine_rpm",
        "blower_rpm": "blower_rpm",
        "boost_kpa": "boost_kpa",
        "pressure_ratio": "ratio",
        "discharge_c": "discharge_c",
        "power_kw": "power_kw",
        "mass_flow_kg_s": "mass_flow_kg_s",
    }
    values = {key: [number(float(v)) for v in getattr(charge, name)] for key, name in names.items()}
    if on_map is not None:
        for key, figures in (
            ("corrected_flow_kg_s", on_map.flow),
            ("map_efficiency", on_map.efficiency),
            ("surge_margin", on_map.surge_margin),
            ("choke_margin", on_map.choke_margin),
        ):
            values[key] = [number(float(v)) for v in figures]
    return values
