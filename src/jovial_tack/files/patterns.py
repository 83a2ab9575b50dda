"""Bolt patterns out of lists of holes: `x_mm,y_mm,name`, one a line."""

from __future__ import annotations

import csv
import io
import math
from pathlib import Path

from jovial_tack.core.errors import BuildFileError, LogError
from jovial_tack.core.numerals import number_in_cell
from jovial_tack.document.edits.survey import add_pattern
from jovial_tack.document.model import Build
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import reason

_MOST_BYTES, _MOST_HOLES = 200_000, 60
_HEAD = ("x_mm", "y_mm", "name")


def read_pattern(path: Path) -> tuple[tuple[float, float, str], ...]:
    """The holes of a list: x and y, mm, and a name. Raises LogError with one sentence."""
    try:
        text = read_regular(path, _MOST_BYTES).decode("utf-8-sig", "replace")
    except OSError as error:
        raise LogError(f"{path.name}: {reason(error)}") from None
    try:
        rows = [row for row in csv.reader(io.StringIO(text)) if any(c.strip() for c in row)]
    except csv.Error as error:
        raise LogError(f"{path.name}: {error}") from None
    head = [cell.strip().lower() for cell in rows[0]] if rows else []
    if head[:2] != ["x_mm", "y_mm"]:
        raise LogError(f"{path.name}: a list of holes begins with {','.join(_HEAD)}")
    holes = []
    for line, row in enumerate(rows[1:], start=2):
        try:
            x, y = (number_in_cell(cell, comma=False) for cell in row[:2])
        except ValueError:
            raise LogError(f"{path.name}: line {line} has no place; it needs x_mm,y_mm") from None
        if not (math.isfinite(x) and math.isfinite(y) and max(abs(x), abs(y)) <= 1e4):
            raise LogError(f"{path.name}: line {line} is no place on an engine")
        name = row[2].strip()[:100] if len(row) > 2 else ""
        holes.append((x, y, name or f"hole {line - 1}"))
    if not 2 <= len(holes) <= _MOST_HOLES:
        raise LogError(f"{path.name}: a pattern has 2 to {_MOST_HOLES} holes, not {len(holes)}")
    return tuple(holes)


def pattern_from(build: Build, path: Path) -> Build:
    """The build with a pattern laid on it. Raises LogError, or BuildFileError."""
    holes = read_pattern(path)
    try:
        return add_pattern(build, path.stem, holes)
    except BuildFileError as error:
        raise LogError(f"{path.name}: this needs {error.expected}") from None
