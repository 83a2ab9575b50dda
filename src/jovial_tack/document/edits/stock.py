"""Belts that can be bought: the build's own stock list, or the generic lengths of the catalogue."""

from __future__ import annotations

import csv
import io

from jovial_tack.core.belt.numbers import read_number
from jovial_tack.core.cells import as_text
from jovial_tack.core.errors import GeometryError
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.model import Build, StockBelt, make

_MOST = 20000


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
    heads = [head.strip().casefold() for head in table[0]]
    places = {
        role: next((k for k, head in enumerate(heads) if any(w in head for w in words)), None)
        for role, words in _HEADS.items()
    }
    headed = places["number"] is not None and not read_number(table[0][places["number"]])
    at = places["number"] if headed and places["number"] is not None else 0
    found: list[StockBelt] = []
    for row in table[1:] if headed else table:
        number = row[at].strip().removeprefix("'") if at < len(row) else ""
        if not number or len(number) > 60 or not read_number(number):
            continue
        figures = {"number": number}
        found.append(
            make(
                StockBelt,
                figures
                | _figure("price", row, places["price"] if headed else None)
                | _figure("count", row, places["count"] if headed else None),
            )
        )
    if not found:
        raise GeometryError(
            "no belt number was found in it; numbers look like 7PK1835, 5K683 or A52"
        )
    return tuple(found)


def write_stock(stock: tuple[StockBelt, ...]) -> str:
    """A stock list as CSV text, as `read_stock` reads it."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(["number", "price", "count"])
    for entry in stock:
        price = "" if entry.price is None else f"{entry.price:.2f}"
        table.writerow([as_text(entry.number), price, "" if entry.count is None else entry.count])
    return out.getvalue()


def set_stock(build: Build, stock: tuple[StockBelt, ...]) -> Build:
    """Buy from another stock list; an empty one: from the catalogue's generic lengths."""
    return changed(build, stock=stock or None)


def _figure(role: str, row: list[str], place: int | None) -> dict[str, float | int]:
    if place is None or place >= len(row):
        return {}
    text = row[place].strip().replace(",", ".")
    try:
        value = float(text)
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
