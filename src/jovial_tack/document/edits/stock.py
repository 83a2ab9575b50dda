"""Belts that can be bought: the build's own stock list, or the generic lengths of the catalogue."""

from __future__ import annotations

import csv
import io

from jovial_tack.core.belt.numbers import read_number
from jovial_tack.core.cells import as_text
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.numerals import number_in_cell
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.model import Build, StockBelt, make

_MOST, _LONGEST = 20000, 60


def read_stock(text: str) -> tuple[StockBelt, ...]:
    """A stock list from CSV text: a column of numbers, and of price and count if there are any.

    Raises GeometryError where no belt number can be read in it.
    """
    rows = [row for row in text.splitlines() if row.strip(" ;,\t") and not row.startswith("#")]
    if not rows or len(rows) > _MOST:
        raise GeometryError(f"a stock list has 1 to {_MOST} lines, a belt number in each")
    mark = next((mark for mark in (";", "\t") if mark in rows[0]), ",")
    try:
        table = list(csv.reader(rows, delimiter=mark))
    except csv.Error as error:
        raise GeometryError(f"it is no table a stock list can be ({error})") from None
    places = _places(table[0])
    comma = mark != ","
    each = (_belt_of(row, places, comma=comma) for row in (table[1:] if places else table))
    found = tuple(belt for belt in each if belt is not None)
    if not found:
        raise GeometryError(
            "no belt number was found in it; numbers look like 7PK1835, 5K683 or A52"
        )
    return found


def _places(heads: list[str]) -> dict[str, int]:
    """Where number, price and count stand by a row of heads; nothing if it is no row of heads."""
    found = {}
    for role, words in _HEADS.items():
        for place, head in enumerate(heads):
            if any(word in head.strip().casefold() for word in words):
                found[role] = place
                break
    # a number may stand in a row whose text looks like a head
    named = "number" in found and not read_number(heads[found["number"]])
    return found if named else {}


def _belt_of(row: list[str], places: dict[str, int], *, comma: bool) -> StockBelt | None:
    """The belt of a row; None where no number can be read in it. comma: it divides decimals there."""
    at = places.get("number", 0)
    number = row[at].strip().removeprefix("'") if at < len(row) else ""
    if not number or len(number) > _LONGEST or not read_number(number):
        return None
    price = _figure("price", row, places.get("price"), comma=comma)
    count = _figure("count", row, places.get("count"), comma=comma)
    return make(StockBelt, {"number": number} | price | count)


def write_stock(stock: tuple[StockBelt, ...]) -> str:
    """A stock list as CSV text, as `read_stock` reads it."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(["number", "price", "count"])
    for entry in stock:
        price = "" if entry.price is None else _price(entry.price)
        table.writerow([as_text(entry.number), price, "" if entry.count is None else entry.count])
    return out.getvalue()


def _price(price: float) -> str:
    """A price as lists write it, with all its digits where it has more than two."""
    usual = f"{price:.2f}"
    return usual if float(usual) == price else repr(price)


def set_stock(build: Build, stock: tuple[StockBelt, ...]) -> Build:
    """Buy from another stock list; an empty one: from the catalogue's generic lengths."""
    return changed(build, stock=stock or None)


def _figure(role: str, row: list[str], place: int | None, *, comma: bool) -> dict[str, float | int]:
    """A price or a count; nothing where it is none, or may be either of two."""
    if place is None or place >= len(row):
        return {}
    try:
        value = number_in_cell(row[place], comma=comma)
    except ValueError:
        return {}
    if not 0 <= value < 1e5:
        return {}
    return {role: int(value) if role == "count" else value}


_HEADS = {
    "number": ("number", "belt", "part", "item"),
    "price": ("price", "cost"),
    "count": ("count", "qty", "quantity", "stock"),
}
