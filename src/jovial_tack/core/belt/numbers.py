"""Belt numbers of the common public schemes, read and written (docs/METHOD.md, 13).

A number says a profile, a count of ribs or a width, and a length on one of the belt's lines. One text
may be read in more than one way; all readings are given. Letters before and after are kept, not
interpreted.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Literal

from jovial_tack.core.errors import UnitError
from jovial_tack.core.units import MM_PER_INCH

Scheme = Literal[
    "metric ribs",
    "ribs and inches",
    "seven digits",
    "32nds and inches",
    "metric V",
    "inside inches",
    "toothed",
]
LengthKind = Literal["effective", "outside", "inside", "pitch"]

SHORTEST_MM, LONGEST_MM = 250.0, 5000.0
MOST_RIBS = 30
_MOST_TEXT = 60
_RIBBED = ("PK", "PJ", "DPK")
_WIDTHS_32NDS = range(8, 25)
#: Nominal top widths of the automotive V profiles, mm.
V_WIDTHS_MM = {"SAE 0.380": 9.65, "SAE 0.440": 11.18, "SAE 0.500": 12.70}
_WIDTH_NEAR_MM = 1.0
_CLASSICAL_WIDTHS_MM = {"A": 13.0, "B": 17.0}
#: Nominal top widths of all V profiles, mm.
TOP_WIDTHS_MM = V_WIDTHS_MM | _CLASSICAL_WIDTHS_MM
_PITCHES = {"5M": 5.0, "8M": 8.0, "14M": 14.0}


@dataclass(frozen=True)
class Reading:
    """One reading of a number: profile None where the width belongs to none that is known; ribs of
    ribbed belts; length in mm and the line it is measured on; width in mm where the number tells it.
    prefix and suffix: letters it does not need; style: the mark a seven-digit number begins with.
    """

    scheme: Scheme
    profile: str | None
    ribs: int | None
    length_mm: float
    length_kind: LengthKind
    width_mm: float | None = None
    prefix: str = field(default="", compare=False)
    suffix: str = field(default="", compare=False)
    style: str = field(default="", compare=False)


def read_number(text: str) -> tuple[Reading, ...]:
    """All readings of a belt number, typed loosely; none for what is no number.

    >>> [(r.profile, r.ribs, round(r.length_mm / 25.4, 1)) for r in read_number(" 5k-683 ")]
    [('PK', 5, 68.3)]
    >>> read_number("1200-8M-30")[0].width_mm
    30.0

    A whole label that holds several is read number by number:

    >>> [round(r.length_mm) for r in read_number("6PK2045 805K6")]
    [2045, 2045]
    """
    if len(text) > _MOST_TEXT:
        return ()
    whole = _read_one(text)
    if whole:
        return whole
    found = [reading for word in text.split() for reading in _read_one(word)]
    return tuple(dict.fromkeys(found)) if len(text.split()) > 1 else ()


def _read_one(text: str) -> tuple[Reading, ...]:
    """All readings of a text taken as one number."""
    plain = re.sub(r"[\s\-_/.,]+", "", text.upper().replace("×", "X"))
    found = []
    for pattern, make in _SCHEMES:
        match = pattern.fullmatch(plain)
        reading = None if match is None else make(match)
        if reading is None or match is None:
            continue
        fits = reading.ribs is None or 1 <= reading.ribs <= MOST_RIBS
        if fits and SHORTEST_MM <= reading.length_mm <= LONGEST_MM:
            found.append(replace(reading, prefix=match["before"], suffix=match["after"]))
    return tuple(found)


def why_not(text: str) -> str:
    """Why a text is no belt number, in one sentence."""
    shown = text.strip()[:40]
    if not shown:
        return "nothing is typed; a number looks like 7PK1835, 5K683, 9070912, 13425, A52 or 1200-8M-30"
    if not re.search("[0-9]", shown):
        return f"“{shown}” has no digits; a belt number holds its length"
    return (
        f"“{shown}” fits no scheme with a length of {SHORTEST_MM:g} to {LONGEST_MM:g} mm and 1 to"
        f" {MOST_RIBS} ribs; such as 7PK1835, 5K683, 9070912, 13425, A52 or 1200-8M-30"
    )


def write_number(reading: Reading) -> str:
    """A belt's number in the scheme of a reading; inch schemes round to tenths of an inch.

    Raises UnitError where the scheme cannot tell this belt.

    >>> write_number(Reading("ribs and inches", "PK", 4, 52.0 * 25.4, "effective"))
    '4K520'
    """
    tenths = round(reading.length_mm / MM_PER_INCH * 10)
    scheme, profile, ribs, width = reading.scheme, reading.profile, reading.ribs, reading.width_mm
    if scheme in ("metric ribs", "ribs and inches", "seven digits") and (
        ribs is None or profile not in _RIBBED
    ):
        raise UnitError(f"the scheme “{scheme}” tells ribbed belts only")
    if scheme == "metric ribs":
        return f"{ribs}{profile}{reading.length_mm:.0f}"
    if scheme == "ribs and inches":
        if profile not in ("PK", "PJ"):
            raise UnitError("this scheme tells PK and PJ belts only")
        return f"{ribs}{profile[1]}{tenths:03d}"
    if scheme == "seven digits":
        if profile != "PK":
            raise UnitError("the seven-digit scheme tells PK belts only")
        return f"{reading.style or '9'}{ribs:02d}{tenths:04d}"
    if scheme in ("32nds and inches", "metric V"):
        wide = width or V_WIDTHS_MM.get(profile or "")
        if wide is None:
            raise UnitError(f"the scheme “{scheme}” needs a top width")
        if scheme == "metric V":
            return f"AV{wide:.0f}x{reading.length_mm:.0f}"
        return f"{round(wide / MM_PER_INCH * 32):02d}{tenths:03d}"
    if scheme == "inside inches":
        if profile not in _CLASSICAL_WIDTHS_MM:
            raise UnitError("this scheme tells the classical sections A and B only")
        return f"{profile}{reading.length_mm / MM_PER_INCH:.0f}"
    if profile not in _PITCHES:
        raise UnitError("this scheme tells toothed belts only")
    wide_text = "" if width is None else f"-{width:.0f}"
    return f"{reading.length_mm:.0f}-{profile}{wide_text}"


def elsewhere(reading: Reading) -> dict[Scheme, str]:
    """The same belt's number in every other scheme that can tell it."""
    found: dict[Scheme, str] = {}
    for family in _FAMILIES:
        for scheme in family if reading.scheme in family else ():
            if scheme == reading.scheme:
                continue
            width = reading.width_mm
            if scheme == "32nds and inches" and reading.profile in _TRADE_32NDS:
                width = _TRADE_32NDS[reading.profile] / 32 * MM_PER_INCH
            elif scheme == "metric V" and reading.profile in _TRADE_MM:
                width = _TRADE_MM[reading.profile]
            try:
                found[scheme] = write_number(
                    replace(reading, scheme=scheme, width_mm=width, prefix="", suffix="")
                )
            except UnitError:
                continue
    return found


_FAMILIES: tuple[tuple[Scheme, ...], ...] = (
    ("metric ribs", "ribs and inches", "seven digits"),
    ("32nds and inches", "metric V"),
    ("inside inches",),
    ("toothed",),
)
_TRADE_32NDS = {"SAE 0.380": 13, "SAE 0.440": 15, "SAE 0.500": 17}
_TRADE_MM = {"SAE 0.380": 10.0, "SAE 0.440": 11.0, "SAE 0.500": 13.0}


def number_of(profile: str, ribs: int, length_mm: float, unit: str = "mm") -> str:
    """The usual number of a belt by its figures: of ribbed and automotive V-belts the metric one, or
    with unit "in" the one in inches; of others that of their own scheme.

    length_mm on the line the scheme tells: effective (ribbed), outside (automotive V), inside
    (classical V), pitch (toothed, whose ribs are the width in mm).
    """
    if profile in _RIBBED:
        ribbed = Reading("metric ribs", profile, ribs, length_mm, "effective")
        return _in_scheme_of(ribbed, unit)
    if profile in _PITCHES:
        return write_number(Reading("toothed", profile, None, length_mm, "pitch", float(ribs)))
    if profile in _TRADE_MM:
        single = Reading("metric V", profile, None, length_mm, "outside", _TRADE_MM[profile])
    elif profile in _CLASSICAL_WIDTHS_MM:
        single = Reading("inside inches", profile, None, length_mm, "inside")
    else:
        return f"{profile} {length_mm:.0f}"
    return ("" if ribs == 1 else f"{ribs} x ") + _in_scheme_of(single, unit)


def _in_scheme_of(reading: Reading, unit: str) -> str:
    """A belt's number as it is written where lengths are told in a unit, if there is such a scheme."""
    others = elsewhere(reading) if unit == "in" else {}
    inch = [number for scheme, number in others.items() if scheme.endswith("inches")]
    return inch[0] if inch else write_number(reading)


def v_profile(width_mm: float) -> str | None:
    """The automotive V profile of a top width; None if none is near."""
    name = min(V_WIDTHS_MM, key=lambda key: abs(V_WIDTHS_MM[key] - width_mm))
    return name if abs(V_WIDTHS_MM[name] - width_mm) <= _WIDTH_NEAR_MM else None


def _inches(tenths: str) -> float:
    return round(int(tenths) / 10 * MM_PER_INCH, 6)


def _metric_ribs(match: re.Match[str]) -> Reading | None:
    return Reading(
        "metric ribs", match["profile"], int(match["ribs"]), float(match["length"]), "effective"
    )


def _ribs_inches(match: re.Match[str]) -> Reading | None:
    return Reading(
        "ribs and inches",
        f"P{match['letter']}",
        int(match["ribs"]),
        _inches(match["length"]),
        "effective",
    )


def _seven_digits(match: re.Match[str]) -> Reading | None:
    return Reading(
        "seven digits",
        "PK",
        int(match["ribs"]),
        _inches(match["length"]),
        "effective",
        style=match["style"],
    )


def _thirty_seconds(match: re.Match[str]) -> Reading | None:
    wide = int(match["width"])
    if wide not in _WIDTHS_32NDS:
        return None
    width = round(wide / 32 * MM_PER_INCH, 6)
    length = _inches(match["length"])
    return Reading("32nds and inches", v_profile(width), None, length, "outside", width)


def _metric_v(match: re.Match[str]) -> Reading | None:
    width = float(match["width"] or match["width_bare"] or match["width_after"])
    if not 6.0 <= width <= 25.0:
        return None
    return Reading("metric V", v_profile(width), None, float(match["length"]), "outside", width)


def _inside(match: re.Match[str]) -> Reading | None:
    profile = match["letter"]
    length = round(int(match["length"]) * MM_PER_INCH, 6)
    return Reading("inside inches", profile, None, length, "inside", _CLASSICAL_WIDTHS_MM[profile])


def _toothed(match: re.Match[str]) -> Reading | None:
    profile, length = match["pitch"], float(match["length"])
    width = None if match["width"] is None else float(match["width"])
    if length % _PITCHES[profile] or (width is not None and not 4 <= width <= 200):
        return None
    return Reading("toothed", profile, None, length, "pitch", width)


_BEFORE, _AFTER = r"(?P<before>[A-Z]{0,8}?)", r"(?P<after>[A-Z]{0,8})"
_SCHEMES: tuple[tuple[re.Pattern[str], Callable[[re.Match[str]], Reading | None]], ...] = tuple(
    (re.compile(_BEFORE + pattern + _AFTER), make)
    for pattern, make in (
        (r"(?P<ribs>[0-9]{1,2})(?P<profile>DPK|PK|PJ)(?P<length>[0-9]{3,4})", _metric_ribs),
        (r"(?P<ribs>[0-9]{1,2})(?P<letter>[KJ])(?P<length>[0-9]{3,4})", _ribs_inches),
        (r"(?P<length>[0-9]{3,4})(?P<letter>[KJ])(?P<ribs>[0-9]{1,2})", _ribs_inches),
        (r"(?P<style>[0-9A-Z])(?P<ribs>[0-9]{2})(?P<length>[0-9]{4})", _seven_digits),
        (r"(?P<width>[0-9]{2})(?P<length>[0-9]{3,4})", _thirty_seconds),
        (
            r"(?:AV(?P<width>[0-9]{1,2})X|AV(?P<width_bare>[0-9]{2})|(?P<width_after>[0-9]{1,2})AV)(?P<length>[0-9]{3,4})",
            _metric_v,
        ),
        (r"(?P<letter>[AB])(?P<cogged>X?)(?P<length>[0-9]{2,3})", _inside),
        (r"(?P<length>[0-9]{3,4})(?P<pitch>5M|8M|14M)(?P<width>[0-9]{1,3})?", _toothed),
    )
)
