"""The air's pressure by how high a place lies."""

from __future__ import annotations

from jovial_tack.core.arrays import MM_PER_M
from jovial_tack.core.errors import UnitError
from jovial_tack.core.units import LENGTH, PRESSURE, parse

_SEA_KPA = 101.325
_LEAST_KPA, _MOST_KPA = 40.0, 120.0


def pressure_at_kpa(elevation_m: float) -> float:
    """Pressure of the standard atmosphere at an elevation, kPa. Source: ISO 2533. METHOD 17.

    >>> round(pressure_at_kpa(1600.0), 1)
    83.5
    """
    return float(_SEA_KPA * (1.0 - 2.25577e-5 * elevation_m) ** 5.25588)


def air_typed(text: str) -> float:
    """The air's pressure, kPa, from a typed pressure (kPa without a unit) or an elevation in m or ft.

    Raises UnitError with one sentence.

    >>> air_typed("98.2"), round(air_typed("1600 m"), 1), round(air_typed("5250 ft"), 1)
    (98.2, 83.5, 83.5)
    """
    try:
        found = parse(text, PRESSURE, "kPa")
    except UnitError:
        try:
            found = pressure_at_kpa(parse(text, LENGTH, "m") / MM_PER_M)
        except UnitError:
            raise UnitError("the air is given as 98.2 kPa, 1600 m or 5250 ft") from None
    if not _LEAST_KPA <= found <= _MOST_KPA:
        raise UnitError("the air is given as 98.2 kPa, 1600 m or 5250 ft")
    return found
