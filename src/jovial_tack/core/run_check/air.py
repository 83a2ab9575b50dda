"""The air's pressure by how high a place lies."""

from __future__ import annotations

from jovial_tack.core.arrays import MM_PER_M
from jovial_tack.core.errors import EitherFigureError, UnitError
from jovial_tack.core.units import LENGTH, PRESSURE, parse
from jovial_tack.core.value import replace

#: Lengths as high as mountains: of an elevation a point may mark thousands.
_ELEVATION = replace(LENGTH, most=9e6)
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
        found = parse(text, PRESSURE, "kPa", decimals=3)
    except EitherFigureError:
        raise
    except UnitError:
        found = pressure_at_kpa(_elevation_m(text))
    if not _LEAST_KPA <= found <= _MOST_KPA:
        raise UnitError("the air is given as 98.2 kPa, 1600 m or 5250 ft")
    return found


def _elevation_m(text: str) -> float:
    """A typed elevation, m. Raises UnitError."""
    try:
        return parse(text, _ELEVATION, "m") / MM_PER_M
    except EitherFigureError:
        raise
    except UnitError:
        raise UnitError("the air is given as 98.2 kPa, 1600 m or 5250 ft") from None
