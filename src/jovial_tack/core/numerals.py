"""Numbers as they are typed, in whichever way a country or a trade writes them.

One reader for fields, tables, options and logs' typed figures: a comma or a point may divide whole from
decimals or thousands from hundreds. What can only be the one is read so; what may be either is read as
both, and whoever asked has to ask back.
"""

from __future__ import annotations

import re

from jovial_tack.core.value import Value

#: Spaces that group figures, and the strokes that do: 7 200, 7\u2009200, 7'200, 7\u2019200.
_SPACES = " \u00a0\u2007\u2009\u202f"
_STROKES = "'\u2019"
#: A hyphen, the true minus, and the sign of full width.
_MINUSES = "\u2212\uff0d-"

_NUMBER = re.compile(
    rf"""(?P<sign>[+{_MINUSES}]?)[{_SPACES}]*
    (?: (?P<over>\d+)\s*[/\u2044]\s*(?P<under>\d+)                        # 7/8
      | (?P<whole>\d+)\s*[ -]\s*(?P<top>\d+)\s*[/\u2044]\s*(?P<bottom>\d+)   # 5 1/8, 5-1/8
      | (?P<digits>\d{{1,3}}(?:[{_SPACES}{_STROKES}]\d{{3}})+(?:[.,]\d*)?(?!\d)  # 7 200, 7'200.5
          | [.,]?\d[\d.,]*) )""",
    re.VERBOSE | re.ASCII,
)
_GROUPS = re.compile(r"\d{1,3}(?:([.,])\d{3})(?:\1\d{3})*", re.ASCII)
_EITHER = re.compile(r"[1-9]\d{0,2}[.,]\d{3}", re.ASCII)
_PLAIN = re.compile(r"(?:\d+[.,]?\d*|[.,]\d+)", re.ASCII)


class Numeral(Value, frozen=True):
    """A number at the beginning of a text.

    value: with its one separator taken for the decimal mark; grouped: with that taken for a mark of
    thousands, where both can be meant, None otherwise; mark: that separator; rest: what follows it.
    """

    value: float
    grouped: float | None
    mark: str
    rest: str


def read_numeral(text: str) -> Numeral | None:
    """The number a text begins with; None if it begins with none that can be understood.

    Raises ZeroDivisionError for a fraction over nothing.

    >>> read_numeral("5 1/8 in")
    Numeral(value=5.125, grouped=None, mark='', rest='in')
    >>> read_numeral("12,500 km")
    Numeral(value=12.5, grouped=12500.0, mark=',', rest='km')
    >>> read_numeral("1.234,5").value, read_numeral("1 234 567").value, read_numeral("6'500").value
    (1234.5, 1234567.0, 6500.0)
    >>> read_numeral("1,2,3") is None
    True
    """
    found = _NUMBER.match(text.strip())
    if found is None:
        return None
    sign = -1.0 if found["sign"] and found["sign"] in _MINUSES else 1.0
    rest = found.string[found.end() :].strip()
    if found["digits"] is None:
        return Numeral(sign * _fraction(found), None, "", rest)
    return _decimal(found["digits"], sign, rest)


def _fraction(found: re.Match[str]) -> float:
    if found["whole"] is not None:
        return int(found["whole"]) + int(found["top"]) / int(found["bottom"])
    return int(found["over"]) / int(found["under"])


def _decimal(digits: str, sign: float, rest: str) -> Numeral | None:
    """A number of figures and separators; None where they stand as in no number."""
    bare = digits.rstrip(",.")
    if len(digits) - len(bare) > 1:
        return None
    spaced = any(mark in bare for mark in _SPACES + _STROKES)
    joined = re.sub(f"[{_SPACES}{_STROKES}]", "", bare)
    whole = _as_point(joined, spaced=spaced)
    if whole is None:
        return None
    value = sign * float(whole)
    either = not spaced and _EITHER.fullmatch(joined) is not None
    mark = "," if "," in joined else "." if "." in joined else ""
    grouped = sign * float(re.sub("[.,]", "", joined)) if either else None
    return Numeral(value, grouped, mark, rest)


def _as_point(digits: str, *, spaced: bool) -> str | None:
    """Figures with a point for their decimals and no other separator; None where that cannot be.

    spaced: that spaces or strokes group them, so that a comma or a point can only be decimal.
    """
    marks = [mark for mark in digits if mark in ",."]
    if len(marks) <= 1:
        return digits.replace(",", ".") if _PLAIN.fullmatch(digits) else None
    if spaced:
        return None
    if len(set(marks)) == 1:  # 1,234,567: two of a kind can only group
        return digits.replace(marks[0], "") if _GROUPS.fullmatch(digits) else None
    # 1,234.5 and 1.234,5: the last is the decimal mark, all before it are of the other kind
    last = marks[-1]
    before, _, after = digits.rpartition(last)
    if last in before or _GROUPS.fullmatch(before) is None or not after.isdigit():
        return None
    return f"{before.replace(marks[0], '')}.{after}"


def number_in_cell(cell: str, *, comma: bool) -> float:
    """The number of a cell of a table. Raises ValueError, in words where it may be either of two.

    comma: the table parts its cells by another mark, so that a comma in one divides decimals. A point
    does in every table, as programs write them; with a comma of thousands a cell is asked about.

    >>> number_in_cell("1,250", comma=True), number_in_cell("1.250", comma=False)
    (1.25, 1.25)
    >>> number_in_cell("1,250", comma=False)
    Traceback (most recent call last):
    ValueError: “1,250” may be 1.25 or 1250
    """
    text = cell.strip()
    if re.fullmatch(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?", text, re.ASCII):
        return float(text)
    found = read_numeral(text)
    if found is None or found.rest:
        raise ValueError(f"“{text[:40]}” is no number")
    if found.grouped is not None and found.mark == "," and not comma:
        raise ValueError(f"“{text}” may be {found.value:g} or {found.grouped:.0f}")
    return found.value
