"""Curves and compressor maps from open CSV text, and given to the shaft they belong to (METHOD 11)."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from functools import lru_cache

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.errors import BuildFileError, GeometryError
from jovial_tack.core.numerals import number_in_cell
from jovial_tack.core.ratios.compressor_map import CompressorMap, SpeedLine
from jovial_tack.core.units import KW_PER_HP
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build, Shaft, SuperchargerLoad

_KG_S_PER_LB_MIN = 0.45359237 / 60.0
_SPEED = ("speed", "rpm")
_MAP_HEADS = {
    "speed": _SPEED,
    "flow": ("flow",),
    "pressure ratio": ("ratio",),
    "efficiency": ("efficiency", "eff", "eta"),
}
_MOST_POINTS = 5000


@lru_cache(maxsize=8)
def read_map(text: str) -> CompressorMap:
    """A map from CSV text with a row of heads, known by words in them.

    Flow in kg/s or, if its head says so, in lb/min; efficiency, which may be missing, as a fraction or
    in percent. Raises GeometryError with what is missing.
    """
    heads, table = _table(text, _MAP_HEADS, optional=("efficiency",))
    if "lb" in heads["flow"]:
        table[:, 1] *= _KG_S_PER_LB_MIN
    if np.nanmax(table[:, 3], initial=0.0) > 1.5:
        table[:, 3] /= 100.0
    if (table[:, :2] <= 0).any() or (table[:, 2] < 1).any():
        raise GeometryError("a compressor map needs speeds and flows above 0 and ratios from 1")
    lines = []
    for speed in np.unique(table[:, 0]):
        own = table[table[:, 0] == speed]
        own = own[np.argsort(own[:, 1], kind="stable")]
        lines.append(SpeedLine(float(speed), own[:, 1], own[:, 2], own[:, 3]))
    return CompressorMap(tuple(lines))


def _with_map(build: Build, shaft: Shaft, text: str) -> Build:
    read_map(text)
    load = shaft.load
    if not isinstance(load, SuperchargerLoad) or load.model != "centrifugal":
        raise BuildFileError("map", "a centrifugal blower; choose its air side first")
    return set_shaft(build, shaft.id, load=changed(load, map_csv=text))


def with_curve(build: Build, shaft_id: str, text: str) -> tuple[Build, str]:
    """Give a shaft the curve or map of a CSV text; returns what it was too.

    A map of speed, flow and pressure ratio belongs to a centrifugal blower, a column of A to an
    alternator, one of kW (or hp) is any shaft's load. Raises GeometryError or BuildFileError.
    """
    shaft = build.shaft(shaft_id)
    first = next(iter(_rows(text)), "").casefold()
    if "ratio" in first:
        return _with_map(build, shaft, text), "compressor map"
    for word, role, words in (
        ("output curve", "current_a", ("current", "amp", "amps", "a")),
        ("load curve", "power_kw", ("kw", "power", "hp")),
    ):
        if not any(_names(head, words) for head in first.split(_mark(first))):
            continue
        heads, table = _table(text, {"speed": _SPEED, role: words})
        if "hp" in heads[role]:
            table[:, 1] *= KW_PER_HP
        rpm, values = (tuple(column) for column in table[np.argsort(table[:, 0])].T.tolist())
        if role == "current_a":
            if shaft.kind != "alternator":
                raise BuildFileError("curve", "an alternator; a column of kW is a load")
            return set_shaft(build, shaft_id, output={"rpm": rpm, role: values}), word
        given = {"type": "table", "rpm": rpm, role: values}
        return set_shaft(build, shaft_id, load=given), word
    raise GeometryError(
        "no curve in it: a row of heads is needed, such as “rpm,current_a”, “rpm,power_kw” or"
        " “speed_rpm,corrected_flow_kg_s,pressure_ratio,efficiency”"
    )


def _rows(text: str) -> list[str]:
    """The rows that say something: neither empty nor a remark."""
    return [row for row in text.splitlines() if row.strip(" ;,\t") and not row.startswith("#")]


def _mark(heads: str) -> str:
    """What parts the cells of a row of heads."""
    return next((mark for mark in (";", "\t") if mark in heads), ",")


def _names(head: str, words: Iterable[str]) -> bool:
    """Whether a head has one of the words in it: “output [A]” has “a”, “ratio” has not."""
    return bool(set(re.findall(r"[a-z]+", head)) & set(words))


def _table(
    text: str, wanted: Mapping[str, Iterable[str]], optional: tuple[str, ...] = ()
) -> tuple[dict[str, str], Float]:
    """The heads and the columns (K, roles) of a text; NaN where an optional one is not given."""
    rows = _rows(text)
    if len(rows) < 3 or len(rows) > _MOST_POINTS:
        raise GeometryError(
            f"a curve needs a row of heads and 2 to {_MOST_POINTS} rows of points below it"
        )
    mark = _mark(rows[0])
    heads = [head.strip().casefold() for head in rows[0].split(mark)]
    places = _places(heads, wanted, optional)
    points = []
    for number, row in enumerate(rows[1:], start=2):
        cells = [cell.strip() for cell in row.split(mark)]
        try:
            points.append(
                [_cell(cells, k, role in optional, comma=mark != ",") for role, k in places.items()]
            )
        except (ValueError, IndexError):
            raise GeometryError(f"row {number} is no point of a curve: {row[:40]}") from None
    chosen = {role: heads[k] for role, k in places.items() if k is not None}
    return chosen, np.array(points, dtype=float)


def _places(
    heads: list[str], wanted: Mapping[str, Iterable[str]], optional: tuple[str, ...]
) -> dict[str, int | None]:
    """The column of each role; one column is one thing, and only an optional one may be missing."""
    places: dict[str, int | None] = {}
    for role, words in wanted.items():
        free = [k for k in range(len(heads)) if k not in places.values()]
        place = next((k for k in free if _names(heads[k], words)), None)
        if place is None and role not in optional:
            raise GeometryError(f"no column for {role.replace('_', ' ')}; its head names it")
        places[role] = place
    return places


def _cell(cells: list[str], place: int | None, is_optional: bool, *, comma: bool) -> float:
    """A figure of a row; NaN where an optional one is not given. Raises ValueError for what is none."""
    if place is None or (is_optional and cells[place].lower() in ("", "nan")):
        return np.nan
    return number_in_cell(cells[place], comma=comma)
