"""How a log file is laid out: encoding, separator, decimal sign, heads, first row of figures."""

from __future__ import annotations

import csv
import os
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

from jovial_tack.core.errors import LogError
from jovial_tack.files.logs.columns import Channel, Role, recognised, unit_in
from jovial_tack.files.logs.other import table_text
from jovial_tack.files.reading import open_regular
from jovial_tack.files.whole import mark_read_in, reason

_HEAD_BYTES = 1 << 16
_MOST_BYTES = 2 << 30
_SEPARATORS = ("\t", ";", "|", ",")
_NUMBER = re.compile(r"[-+−]?(\d+([.,]\d*)?|[.,]\d+)([eE][-+]?\d+)?$")
_LOOKED_AT = 200


@dataclass(frozen=True)
class LogLayout:
    """What was found out about a log before it is read whole.

    heads and units: of every column; first_row: the line, from 0, where figures begin; channels: what
    the heads say.
    """

    path: Path
    encoding: str
    separator: str
    decimal_comma: bool
    first_row: int
    heads: tuple[str, ...]
    units: tuple[str, ...]
    channels: Mapping[Role, Channel]
    text: bytes | None = field(default=None, repr=False)  # of a file that is none itself


def _no_columns(path: Path, lines: list[str]) -> LogError:
    if any(_NUMBER.match(line.strip()) for line in lines):
        return LogError(
            f"{path.name}: only one column of figures was found; a log needs time, engine speed"
            " and boost, separated by commas, semicolons or tabs"
        )
    return LogError(f"{path.name}: there are no rows of figures in it; is it a CSV log?")


def _cells(line: str, separator: str) -> list[str]:
    """The cells of a line, marks within quotes left alone."""
    if '"' not in line:
        return [cell.strip() for cell in line.split(separator)]
    try:
        row = next(csv.reader([line], delimiter=separator, skipinitialspace=True), [])
    except csv.Error:
        row = line.split(separator)
    return [cell.strip().strip('"') for cell in row]


def survey_log(path: Path) -> LogLayout:
    """Look at the beginning of a log. Raises LogError with one sentence if it is none."""
    head, size = _beginning(path)
    if size > _MOST_BYTES:
        raise LogError(f"{path.name}: over 2 GB; cut the log to the pulls first")
    if not head.strip():
        raise LogError(f"{path.name}: the file is empty")
    table = table_text(path, head)
    if table is not None:
        head, size = table[:_HEAD_BYTES], len(table)
    encoding = "utf-8" if table is not None else _encoding(head, path)
    text = head.decode(encoding, "ignore")
    lines = text.splitlines()
    if size > len(head) and len(lines) > 1:
        lines.pop()  # cut off in its middle
    lines = lines[:_LOOKED_AT]
    separator = _separator(lines)
    if separator is None:
        raise _no_columns(path, lines)
    rows = [_cells(line, separator) for line in lines]
    comma = separator != "," and _has_decimal_comma(rows)
    # blank lines are not counted, as they are skipped when the figures are read
    first = _first_figures(rows)
    if first is None:
        raise LogError(f"{path.name}: there are no rows of figures in it; is it a CSV log?")
    heads, units = _heads(rows, first)
    channels = recognised(heads, units)
    return LogLayout(path, encoding, separator, comma, first, heads, units, channels, table)


def _beginning(path: Path) -> tuple[bytes, int]:
    mark_read_in(path)
    try:
        handle = open_regular(path)
        with os.fdopen(handle, "rb") as file:
            return file.read(_HEAD_BYTES), os.fstat(handle).st_size
    except IsADirectoryError:
        raise LogError(f"{path}: that is a folder, not a log") from None
    except OSError as error:
        raise LogError(f"{path}: {reason(error)}") from None


def _encoding(head: bytes, path: Path) -> str:
    if head.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "utf-16"
    without_mark = _utf_16_by_zeros(head)
    if without_mark is not None:
        return without_mark
    if b"\0" in head:
        raise LogError(
            f"{path.name}: it holds NUL bytes, so it is not a text log; export it as CSV"
        )
    try:
        # a character may be cut in two at the end of what was read
        head[: max(1, len(head) - 4)].decode("utf-8")
    except UnicodeDecodeError:
        return "latin-1"
    return "utf-8-sig"


def _utf_16_by_zeros(head: bytes) -> str | None:
    """UTF-16 without a mark: every other byte of plain words and figures is 0."""
    half = len(head) // 2
    if half < 8:
        return None
    even, odd = head[0 : 2 * half : 2].count(0) / half, head[1 : 2 * half : 2].count(0) / half
    if even < 0.05 and odd > 0.7:
        return "utf-16-le"
    if odd < 0.05 and even > 0.7:
        return "utf-16-be"
    return None


def _separator(lines: list[str]) -> str | None:
    """The separator that cuts most of the lines into the same number of cells, mostly figures."""
    for separator in _SEPARATORS:
        rows = (_cells(line, separator) for line in lines)
        counts = [len(row) - 1 for row in rows if _is_figures(row)]
        if not counts:
            continue
        usual = max(set(counts), key=counts.count)
        if usual >= 1 and counts.count(usual) >= 0.5 * len(counts):
            return separator
    return None


def _is_figures(cells: list[str]) -> bool:
    filled = [cell for cell in cells if cell]
    figures = sum(bool(_NUMBER.match(cell)) for cell in filled)
    return figures >= 2 and figures >= 0.5 * len(filled)


def _has_decimal_comma(rows: list[list[str]]) -> bool:
    cells = [cell for row in rows for cell in row if _NUMBER.match(cell)]
    commas, points = (sum(sign in cell for cell in cells) for sign in ",.")
    return commas > points


def _first_figures(rows: list[list[str]]) -> int | None:
    """The first of the rows of figures that go on: a line of a version and a date may look like one."""
    flags = [_is_figures(row) for row in rows]
    filled = [place for place, row in enumerate(rows) if any(row)]
    for here, following in zip(filled, [*filled[1:], None], strict=True):
        if flags[here] and (following is None or flags[following]):
            return here
    return None


def _heads(rows: list[list[str]], first: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The heads and the units of the columns, from the rows above the figures; a units row may lie
    between.
    """
    width = max(len(row) for row in rows[max(0, first - 2) : first + 1])
    named = [place for place in range(first) if sum(map(bool, rows[place])) >= 2]
    unit_rows = [place for place in named if _is_units(rows[place])]
    units = _padded(rows[unit_rows[-1]], width) if unit_rows else [""] * width
    others = [place for place in named if place not in unit_rows]
    heads = _padded(rows[_head_row(rows, others)], width) if others else [""] * width
    heads = [head or f"column {place + 1}" for place, head in enumerate(heads)]
    return tuple(heads), tuple(units)


def _head_row(rows: list[list[str]], places: list[int]) -> int:
    """The row that names columns: types and descriptions may stand below it, other words above."""

    def named(place: int) -> int:
        return len(recognised(rows[place], [""] * len(rows[place])))

    most = max(named(place) for place in places)
    return next(place for place in reversed(places) if named(place) == most)


def _is_units(cells: list[str]) -> bool:
    kinds = ("time", "rpm", "pressure", "throttle")
    filled = [cell for cell in cells if cell]
    known = sum(
        len(cell) <= 8 and any(unit_in(f"[{cell.strip('[]()')}]", kind) for kind in kinds)
        for cell in filled
    )
    # “rpm” and “s” alone are also heads: a row of units has more of them than a row of heads would
    return known >= 2 and known >= 0.5 * len(filled) and "time" not in " ".join(filled).lower()


def _padded(cells: list[str], width: int) -> list[str]:
    return (cells + [""] * width)[:width]
