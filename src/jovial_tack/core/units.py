"""Quantities as builders type and read them: lengths, angles, torques, forces and the like.

Each quantity has the unit the mechanics use, the one US shops use, and the spellings understood. A
number may carry a fraction (``5 1/8``) and a decimal comma; a length may be in feet and inches. A build
is shown in one of two systems, named by its unit of length: "mm", or "in" with lbf, lb·ft, hp and psi.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from jovial_tack.core.errors import EitherFigureError, UnitError
from jovial_tack.core.numerals import Numeral, read_numeral
from jovial_tack.core.value import Value

KM_PER_MILE = 1.609344
MM_PER_INCH = 25.4
N_PER_LBF = 4.4482216152605
NM_PER_LBF_FT = 1.3558179483314004
KW_PER_HP = 0.7456998715822702
KPA_PER_PSI = 6.894757293168361
LITRES_PER_CUBIC_INCH = 0.016387064
KG_PER_LB = 0.45359237
KG_M2_PER_LB_IN2 = KG_PER_LB * (MM_PER_INCH / 1000) ** 2
INCHES_PER_FOOT = 12.0

_LONGEST = 40


class Quantity(Value, frozen=True):
    """A kind of figure.

    word: what one is called, with its article; example: how to type one; factors: every spelling
    understood and what it is worth in the unit of the mechanics; unit, other: the units shown; digits:
    decimals shown in each; zeros: of a spelling whose zero lies elsewhere, what it reads at the zero of
    the mechanics' unit; most: more than any figure of it in this trade, in the unit of the mechanics,
    which tells whether a point may mark thousands.
    """

    word: str
    example: str
    factors: Mapping[str, float]
    unit: str
    other: str | None = None
    digits: tuple[int, int] = (1, 1)
    zeros: Mapping[str, float] = {}
    most: float = 1e9

    def shown(self, system: str) -> str:
        """The unit it is shown in, in a build shown in a system ("mm" or "in").

        >>> FORCE.shown("in"), SPEED.shown("in"), LENGTH.shown("mm")
        ('lbf', 'rpm', 'mm')
        """
        return self.other if system == "in" and self.other is not None else self.unit

    def factor(self, unit: str) -> float:
        """What a shown unit is worth in the unit of the mechanics."""
        return self.factors[unit.lower()]


LENGTH = Quantity(
    "a length",
    "130 mm, 5.125 in or 5 1/8 in",
    {
        "mm": 1.0,
        "cm": 10.0,
        "m": 1000.0,
        "in": MM_PER_INCH,
        "inch": MM_PER_INCH,
        "inches": MM_PER_INCH,
        '"': MM_PER_INCH,
        "''": MM_PER_INCH,
        "″": MM_PER_INCH,
        "”": MM_PER_INCH,
        "thou": MM_PER_INCH / 1000,
        "ft": INCHES_PER_FOOT * MM_PER_INCH,
        "foot": INCHES_PER_FOOT * MM_PER_INCH,
        "feet": INCHES_PER_FOOT * MM_PER_INCH,
        "'": INCHES_PER_FOOT * MM_PER_INCH,
        "′": INCHES_PER_FOOT * MM_PER_INCH,
        "’": INCHES_PER_FOOT * MM_PER_INCH,
    },
    "mm",
    "in",
    (1, 3),
    most=10_000,
)
ANGLE = Quantity(
    "an angle", "12.5 or 12.5°", {"°": 1.0, "deg": 1.0, "degrees": 1.0}, "°", most=720.0
)
#: Pound-feet by their spellings; pound-inches are a twelfth of each.
_POUND_FEET = (
    "lb·ft", "lb ft", "lbft", "lb-ft", "lbs ft", "ft·lb", "ft lb", "ftlb", "ft-lb", "ft lbs",
    "ft-lbs", "lbf·ft", "lbf ft", "lbfft", "lbf-ft", "ft·lbf", "ft lbf", "ft-lbf",
)  # fmt: skip
TORQUE = Quantity(
    "a torque",
    "16 N·m or 12 lb·ft",
    {
        "n·m": 1.0,
        "nm": 1.0,
        "n m": 1.0,
        "n*m": 1.0,
        "n-m": 1.0,
        **dict.fromkeys(_POUND_FEET, NM_PER_LBF_FT),
        **{name.replace("ft", "in"): NM_PER_LBF_FT / 12 for name in _POUND_FEET},
    },
    "N·m",
    "lb·ft",
    (1, 1),
    most=10_000,
)
TORQUE_RATE = Quantity(
    "a spring rate",
    "0.45 N·m/° or 4 lb·in/°",
    {
        f"{name}/{degree}": value
        for name, value in TORQUE.factors.items()
        for degree in ("°", "deg", "degree")
    },
    "N·m/°",
    "lb·in/°",
    (2, 1),
    most=100.0,
)
FORCE = Quantity(
    "a force",
    "450 N or 100 lbf",
    {
        "n": 1.0,
        "kn": 1000.0,
        "lbf": N_PER_LBF,
        "lb": N_PER_LBF,
        "lbs": N_PER_LBF,
        "kgf": 9.80665,
        "kg": 9.80665,
    },
    "N",
    "lbf",
    (0, 0),
    most=100_000,
)
FORCE_RATE = Quantity(
    "a spring rate",
    "4 N/mm or 23 lbf/in",
    {
        **{f"{name}/mm": value for name, value in FORCE.factors.items()},
        **{
            f"{name}/{inch}": value / MM_PER_INCH
            for name, value in FORCE.factors.items()
            for inch in ("in", "inch")
        },
    },
    "N/mm",
    "lbf/in",
    (2, 1),
    most=1000.0,
)
SPEED = Quantity(
    "a speed",
    "6500 rpm",
    {"rpm": 1.0, "1/min": 1.0, "r/min": 1.0},
    "rpm",
    None,
    (0, 0),
    most=200_000,
)
POWER = Quantity(
    "a power",
    "3 kW or 4 hp",
    {"kw": 1.0, "w": 1e-3, "hp": KW_PER_HP, "bhp": KW_PER_HP},
    "kW",
    "hp",
    (1, 1),
    most=2000.0,
)
BELT_SPEED = Quantity(
    "a belt speed",
    "40 m/s",
    {"m/s": 1.0, "ft/min": 0.00508, "fpm": 0.00508},
    "m/s",
    "ft/min",
    (1, 0),
    most=200.0,
)
TONE = Quantity("a tone", "85 Hz", {"hz": 1.0}, "Hz", None, (0, 0), most=10_000)
PRESSURE = Quantity(
    "a pressure",
    "70 kPa or 10 psi",
    {"kpa": 1.0, "psi": KPA_PER_PSI, "psig": KPA_PER_PSI, "bar": 100.0, "mbar": 0.1},
    "kPa",
    "psi",
    (1, 1),
    most=2000.0,
)
TEMPERATURE = Quantity(
    "a temperature",
    "25 °C or 77 °F",
    {"°c": 1.0, "c": 1.0, "°f": 5 / 9, "f": 5 / 9, "k": 1.0},
    "°C",
    "°F",
    (0, 0),
    {"°f": 32.0, "f": 32.0, "k": 273.15},
    most=2000.0,
)
DISPLACEMENT = Quantity(
    "a displacement",
    "5.7 litres or 350 ci",
    {
        **dict.fromkeys(("litres", "litre", "l", "liters", "liter"), 1.0),
        "cc": 1e-3,
        "cm³": 1e-3,
        **dict.fromkeys(
            ("ci", "cid", "cu in", "cu.in", "in³", "cubic inches"), LITRES_PER_CUBIC_INCH
        ),
    },
    "litres",
    "ci",
    (2, 0),
    most=100.0,
)
AIR_FLOW = Quantity(
    "an air flow",
    "0.35 kg/s or 46 lb/min",
    {"kg/s": 1.0, "g/s": 1e-3, "kg/h": 1 / 3600, "lb/min": KG_PER_LB / 60},
    "kg/s",
    "lb/min",
    (3, 1),
    most=10.0,
)
MASS = Quantity(
    "a mass",
    "1.4 kg or 3.1 lb",
    {"kg": 1.0, "g": 1e-3, "lb": KG_PER_LB, "lbs": KG_PER_LB, "oz": KG_PER_LB / 16},
    "kg",
    "lb",
    (2, 2),
    most=1000.0,
)
INERTIA = Quantity(
    "a moment of inertia",
    "0.003 kg·m² or 10 lb·in²",
    {
        **dict.fromkeys(("kg·m²", "kg m²", "kgm²", "kg·m2", "kg m2", "kgm2", "kg m^2"), 1.0),
        **dict.fromkeys(
            ("lb·in²", "lb in²", "lbin²", "lb·in2", "lb in2", "lb-in2", "lb in^2"), KG_M2_PER_LB_IN2
        ),
    },
    "kg·m²",
    "lb·in²",
    (4, 1),
    most=10.0,
)
DENSITY = Quantity(
    "a density",
    "2700 kg/m³",
    {"kg/m³": 1.0, "kg/m3": 1.0, "g/cm³": 1000.0, "g/cm3": 1000.0},
    "kg/m³",
    None,
    (0, 0),
    most=25_000,
)
STIFFNESS = Quantity(
    "an elastic modulus", "70 GPa", {"gpa": 1.0, "mpa": 1e-3}, "GPa", None, (0, 0), most=1000.0
)
CURRENT = Quantity(
    "a current", "60 A", {"a": 1.0, "amp": 1.0, "amps": 1.0}, "A", None, (0, 0), most=1000.0
)
VOLTAGE = Quantity("a voltage", "14.2 V", {"v": 1.0, "volts": 1.0}, "V", None, (1, 1), most=1000.0)
DISTANCE = Quantity(
    "a distance",
    "48210 km or 29960 mi",
    {
        "km": 1.0,
        "mi": KM_PER_MILE,
        "mile": KM_PER_MILE,
        "miles": KM_PER_MILE,
    },
    "km",
    "mi",
    (0, 0),
)
HOURS = Quantity("hours", "120 h", {"h": 1.0, "hour": 1.0, "hours": 1.0}, "h", None, (1, 1))
PASSES = Quantity("passes", "85", {"": 1.0, "passes": 1.0, "pass": 1.0}, "", None, (0, 0))
MONEY = Quantity("an amount", "12.50", {"": 1.0}, "", None, (2, 2))
MONTHS = Quantity(
    "months", "24", {"": 1.0, "mo": 1.0, "month": 1.0, "months": 1.0}, "months", None, (0, 0)
)
COUNT = Quantity("a count", "3", {"": 1.0}, "", None, (0, 0))
PERCENT = Quantity("a percentage", "75 %", {"%": 1.0}, "%", None, (0, 0), most=1000.0)
RATIO = Quantity("a ratio", "2.05", {"": 1.0}, "", None, (3, 3), most=100.0)

_FEET_AND_INCHES = re.compile(
    r"""(?P<sign>[-+−]?)\s*(?P<feet>\d+)\s*(?:ft|foot|feet|'|′|’)\.?\s*,?\s*-?\s*(?P<inches>\d.*)""",
    re.IGNORECASE | re.ASCII,
)
#: Strokes that group thousands, as in 6'500, and are no feet.
_GROUPED = re.compile(r"[-+−]?\d{1,3}(?:['’]\d{3})+(?!\d)", re.ASCII)


def parse(
    text: str, quantity: Quantity, default_unit: str | None = None, decimals: int = 0
) -> float:
    """A typed figure in the unit of the mechanics; without a unit it is taken in default_unit.

    decimals: those the figure is shown with where it is typed. A single separator before just three
    figures may mark thousands: a comma always, a point unless decimals are shown with it, or as
    thousands the figure were more than any of this trade.

    Raises UnitError with one sentence when the text is not such a figure, EitherFigureError where it
    may be either of two.

    >>> round(parse("12 lb·ft", TORQUE), 3), parse("0,45", TORQUE_RATE), parse("90 deg", ANGLE)
    (16.27, 0.45, 90.0)
    >>> parse("6 ft 9 in", LENGTH), parse("10 thou", LENGTH), round(parse("80 °F", TEMPERATURE), 1)
    (2057.4, 0.254, 26.7)
    >>> parse("6'500", LENGTH), parse("1.234,5 km", DISTANCE), parse("5.125 in", LENGTH)
    (6500.0, 1234.5, 130.175)
    >>> parse("12,500", DISTANCE)
    Traceback (most recent call last):
    jovial_tack.core.errors.EitherFigureError: “12,500” may be 12.5 km or 12 500 km: type it so
    """
    typed = " ".join(text.split())
    feet = _FEET_AND_INCHES.fullmatch(typed) if quantity is LENGTH else None
    if feet is not None and _GROUPED.match(typed) is None:
        return _feet_and_inches(typed, feet)
    numeral = _numeral_in(typed)
    unit = "" if numeral is None else _unit_in(numeral.rest, quantity)
    unit = unit or default_unit or quantity.unit
    spelling = unit.lower()
    is_known = spelling in quantity.factors
    if numeral is None or (not is_known and unit[:1].isdigit()):
        raise UnitError(f"“{typed[:_LONGEST]}” is not {quantity.word}; type {quantity.example}")
    if not is_known:
        shown = [u for u in (quantity.unit, quantity.other) if u]
        use = f"; use {' or '.join(shown)}" if shown else f"; type {quantity.example}"
        raise UnitError(f"“{unit}” is not a unit for {quantity.word}{use}")
    scale = quantity.factors[spelling]
    if numeral.grouped is not None:
        as_shown = numeral.mark == "." and decimals >= _GROUP
        too_many = abs(numeral.grouped) * scale > quantity.most
        if not (as_shown or (too_many and numeral.mark == ".")):
            readings = _readings(numeral, unit, point_divides=too_many)
            raise EitherFigureError(typed, readings)
    return round((numeral.value - quantity.zeros.get(spelling, 0.0)) * scale, 9)


#: Figures between two marks of thousands.
_GROUP = 3


def _numeral_in(typed: str) -> Numeral | None:
    """The number of a typed figure, None where there is none. Raises UnitError."""
    try:
        return read_numeral(typed) if len(typed) <= _LONGEST else None
    except ZeroDivisionError:
        raise UnitError("a fraction needs a number above zero below the line") from None


def _unit_in(rest: str, quantity: Quantity) -> str:
    """The unit behind a number as it is looked up; a full stop behind it is none of it."""
    typed = rest.strip()
    return typed if typed.lower() in quantity.factors else typed.rstrip(".").strip()


def _readings(numeral: Numeral, unit: str, *, point_divides: bool) -> tuple[str, str]:
    """Both figures a number may be, each typed so that it can only be that one.

    point_divides: a point before three figures is a decimal mark here.
    """
    assert numeral.grouped is not None
    behind = unit if unit in ("", "°") else f" {unit}"
    decimal = f"{numeral.value:.3f}".rstrip("0").removesuffix(".")
    if len(decimal.partition(".")[2]) == _GROUP and not point_divides:
        decimal += "0"  # or it could be taken for thousands again
    grouped = f"{numeral.grouped:,.0f}".replace(",", " ")
    return f"{decimal}{behind}", f"{grouped}{behind}"


def _feet_and_inches(typed: str, found: re.Match[str]) -> float:
    """Feet and, behind them, less than a foot; mm. Raises UnitError."""
    try:
        behind = parse(found["inches"], LENGTH, "in")
    except EitherFigureError as error:  # it can be no thousands: they would be feet again
        behind = parse(error.readings[0], LENGTH, "in")
    foot = INCHES_PER_FOOT * MM_PER_INCH
    if behind >= foot:
        raise UnitError(f"“{typed[:_LONGEST]}”: what stands behind feet is less than 12 in")
    sign = -1.0 if found["sign"] in ("-", "−") else 1.0
    return sign * round(int(found["feet"]) * foot + behind, 9)


def parse_length(text: str, default_unit: str = "mm") -> float:
    """A typed length in mm: ``130``, ``130,5 mm``, ``5.125"``, ``5 1/8 in``, ``5-1/8"``, ``7/8in``.

    A number without a unit is taken in default_unit. Raises UnitError with one sentence when the
    text is not a length.

    >>> parse_length('5-1/8"'), parse_length("130,5 mm"), parse_length("2", "in")
    (130.175, 130.5, 50.8)
    """
    return parse(text, LENGTH, default_unit)


def written(
    value: float,
    quantity: Quantity,
    unit: str | None = None,
    *,
    digits: int | None = None,
    sign: bool = False,
    difference: bool = False,
) -> str:
    """A figure with its unit, in the quantity's own decimals unless digits says otherwise.

    sign: with a + where it is positive; difference: of two figures, so that it has no zero of its own.

    >>> written(16.27, TORQUE), written(16.27, TORQUE, "lb·ft"), written(-2.04, ANGLE, sign=True)
    ('16.3 N·m', '12.0 lb·ft', '-2.0°')
    >>> written(25.0, TEMPERATURE, "°F")
    '77 °F'
    """
    shown = unit or quantity.unit
    if digits is None:
        digits = quantity.digits[0 if shown == quantity.unit else 1]
    zero = 0.0 if difference else quantity.zeros.get(shown.lower(), 0.0)
    there = value / quantity.factor(shown) + zero
    text = f"{there:{'+' if sign else ''}.{digits}f}"
    if float(text) == 0:
        text = text.lstrip("-+")
    gap = "" if shown in ("°", "") else " "
    return f"{text}{gap}{shown}"


def format_length(length_mm: float, unit: str = "mm", *, digits: int | None = None) -> str:
    """A length with its unit: one decimal in mm, three in inches, unless digits says otherwise.

    >>> format_length(130.175), format_length(130.175, "in")
    ('130.2 mm', '5.125 in')
    """
    return written(length_mm, LENGTH, unit, digits=digits)


def written_in(value: float, quantity: Quantity, system: str, digits: int | None = None) -> str:
    """A figure as a build shown in a system ("mm" or "in") tells it.

    >>> written_in(450.0, FORCE, "mm"), written_in(450.0, FORCE, "in")
    ('450 N', '101 lbf')
    """
    return written(value, quantity, quantity.shown(system), digits=digits)
