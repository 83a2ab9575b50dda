"""Reading and writing lengths as builders do, in millimetres and inches."""

from __future__ import annotations

import re

from jovial_tack.core.errors import UnitError

MM_PER_INCH = 25.4
N_PER_LBF = 4.4482216152605
NM_PER_LBF_FT = 1.3558179483314004
KW_PER_HP = 0.7456998715822702

_MILLIMETRES = {
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
}
_LONGEST = 30
_TYPED = re.compile(
    r"""(?P<sign>[-+−]?)\s*
        (?: (?P<whole>\d+)\s*[ -]\s*(?P<over>\d+)\s*/\s*(?P<under>\d+)    # 5 1/8, 5-1/8
          | (?P<num>\d+)\s*/\s*(?P<den>\d+)                               # 7/8
          | (?P<plain>\d+(?:[.,]\d*)?|[.,]\d+) )
        \s*(?P<unit>[^\d\s.,/+-][^\d]*)?""",
    re.VERBOSE,
)


def parse_length(text: str, default_unit: str = "mm") -> float:
    """A typed length in mm: ``130``, ``130,5 mm``, ``5.125"``, ``5 1/8 in``, ``5-1/8"``, ``7/8in``.

    A number without a unit is taken in default_unit. Raises UnitError with one sentence when the
    text is not a length.

    >>> parse_length('5-1/8"'), parse_length("130,5 mm"), parse_length("2", "in")
    (130.175, 130.5, 50.8)
    """
    typed = " ".join(text.split())
    found = _TYPED.fullmatch(typed) if len(typed) <= _LONGEST else None
    if found is None:
        raise UnitError(f"“{typed[:_LONGEST]}” is not a length; type 130 mm, 5.125 in or 5 1/8 in")
    unit = (found["unit"] or default_unit).strip().lower().rstrip(".")
    if unit not in _MILLIMETRES:
        raise UnitError(f"“{unit}” is not a unit of length; use mm, cm, m or in")
    top, bottom = found["over"] or found["num"], found["under"] or found["den"]
    if bottom is not None and int(bottom) == 0:
        raise UnitError("a fraction needs a number above zero below the line")
    value = float((found["plain"] or found["whole"] or "0").replace(",", "."))
    if bottom is not None:
        value += int(top) / int(bottom)
    sign = -1.0 if found["sign"] in ("-", "−") else 1.0
    return round(sign * value * _MILLIMETRES[unit], 9)


def format_length(length_mm: float, unit: str = "mm", *, digits: int | None = None) -> str:
    """A length with its unit: one decimal in mm, three in inches, unless digits says otherwise.

    >>> format_length(130.175), format_length(130.175, "in")
    ('130.2 mm', '5.125 in')
    """
    if unit == "in":
        text = f"{length_mm / MM_PER_INCH:.{3 if digits is None else digits}f}"
    else:
        text = f"{length_mm:.{1 if digits is None else digits}f}"
    if float(text) == 0:
        text = text.lstrip("-")
    return f"{text} {unit}"
