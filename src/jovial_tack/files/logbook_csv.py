"""The logbook's events as one table in CSV, out and in again; out and in is the same logbook.

UTF-8, RFC 4180, a line feed at the end of each line, a decimal point; nothing in a cell is absent. A
table from a spreadsheet with semicolons may have decimal commas.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.logbook.due import read_day
from jovial_tack.core.numerals import number_in_cell
from jovial_tack.core.value import Value
from jovial_tack.document.edits.logbook import put_events
from jovial_tack.document.model import Build, Event, make
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import mark_read_in, reason, replace_file

#: The columns that always stand; further ones stand where an event has such a figure.
COLUMNS = (
    "id", "at", "km", "hours", "passes", "drive", "kind", "number", "effective_length_mm",
    "construction", "arm_angle_deg", "tone_hz", "rib_depth_mm", "cracks_in_75mm", "reason", "verdict",
    "cost", "currency", "note",
)  # fmt: skip
_WHOLE = frozenset({"teeth", "cracks_in_75mm"})
_YES = frozenset({"through_cracks"})
_NUMBERS = frozenset(
    {
        "km", "hours", "passes", "value_mm", "thick_mm", "sd_mm", "effective_length_mm",
        "arm_angle_deg", "travel_share", "push_n", "play_mm", "tone_hz", "twist_nm", "tension_n",
        "onset_rpm", "cost", "rib_depth_mm",
    }
)  # fmt: skip
#: Cells of these are of a few words or figures; in all others a space may be meant.
_TRIMMED = (
    _NUMBERS
    | _WHOLE
    | _YES
    | frozenset(
        {"at", "kind", "reason", "verdict", "after", "material", "gauge", "sha256", "findings"}
    )
)
_MORE = tuple(name for name in Event.__struct_fields__ if name not in COLUMNS)
_MOST_BYTES, _MOST_ROWS, _MOST_TOLD = 50_000_000, 100_000, 20
#: What a spreadsheet takes for a formula; such words have a quotation mark before them in the table.
_FORMULA = re.compile(r"^'*[=+\-−@\t\r]")
_GUARDED = re.compile(r"^'+[=+\-−@\t\r]")


class Imported(Value, frozen=True, eq=False):
    """A build with a table's events. changed: ids that were there already; bad: rows that were not
    taken, each with its line and why.
    """

    build: Build
    added: int
    changed: tuple[str, ...]
    bad: tuple[str, ...]


def logbook_csv(build: Build) -> str:
    """The text of the table."""
    events = build.logbook.events
    more = [name for name in _MORE if any(_cell(getattr(event, name)) for event in events)]
    strange = sorted({key for event in events for key in event.unknown if key.startswith("x_")})
    stream = io.StringIO()
    table = csv.writer(stream, lineterminator="\n")
    table.writerow([*COLUMNS, *more, *strange])
    for event in events:
        cells = [getattr(event, name) for name in (*COLUMNS, *more)]
        cells += [event.unknown.get(key) for key in strange]
        table.writerow([_cell(value) for value in cells])
    return stream.getvalue()


def write_logbook(build: Build, path: Path) -> None:
    """Write the table to a file. Raises SaveError."""
    replace_file(path, logbook_csv(build).encode("utf-8"))


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return repr(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    if isinstance(value, Mapping):
        return " ".join(f"{key}:{'yes' if seen else 'no'}" for key, seen in value.items())
    text = str(value)
    return f"'{text}" if _FORMULA.match(text) else text


def read_logbook(build: Build, path: Path) -> Imported:
    """The build with the events of a table. Raises BuildFileError for what is no table."""
    mark_read_in(path)
    try:
        text = read_regular(path, _MOST_BYTES).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BuildFileError(path.name, f"not UTF-8 text from byte {error.start}") from None
    except OSError as error:
        raise BuildFileError(path.name, f"cannot be read ({reason(error)})") from None
    try:
        return taken(build, text)
    except csv.Error as error:
        raise BuildFileError(path.name, f"no CSV: {error}") from None
    except BuildFileError as error:
        raise BuildFileError(path.name, error.expected) from None


def taken(build: Build, text: str) -> Imported:
    """The build with the events of a table's text: bad rows are told, all others taken."""
    first = text.split("\n", 1)[0]
    split = ";" if first.count(";") > first.count(",") else ","
    rows = csv.reader(io.StringIO(text), delimiter=split, strict=True)
    head = [name.strip() for name in next(rows, [])]
    if not {"at", "kind"} <= set(head):
        raise BuildFileError(
            "", f"a table whose first line has at and kind, as {','.join(COLUMNS)}"
        )
    good: list[dict[str, Any]] = []
    bad: list[str] = []
    there = {event.id for event in build.logbook.events}
    seen: set[str] = set()
    for cells in rows:
        line = rows.line_num
        if not any(cell.strip() for cell in cells):
            continue
        if len(good) >= _MOST_ROWS:
            bad.append(f"line {line} and those behind it: more than {_MOST_ROWS} events")
            break
        try:
            row = _row(head, cells, comma=split == ";")
            if row.get("id") in seen:
                raise ValueError(f"the id {row['id']} stands in the table already")
            _checked(row, build)
        except (ValueError, BuildFileError) as error:
            bad.append(f"line {line}: {error}")
            continue
        good.append(row)
        if row.get("id"):
            seen.add(row["id"])
    changed = tuple(sorted(seen & there))
    made = put_events(build, good) if good else build
    return Imported(made, len(good) - len(changed), changed, tuple(bad[:_MOST_TOLD]))


def _row(head: Sequence[str], cells: Sequence[str], *, comma: bool) -> dict[str, Any]:
    """A row by the keys of an event; None where a cell is empty. Raises ValueError."""
    if len(cells) > len(head):
        raise ValueError(f"{len(cells)} cells under {len(head)} headings")
    known = {*COLUMNS, *_MORE}
    row: dict[str, Any] = {}
    for name, cell in zip(head, cells, strict=False):
        if not name:
            continue
        key = name if name in known else name if name.startswith("x_") else f"x_{name}"
        value = _value(key, cell.strip() if key in _TRIMMED else cell, comma=comma)
        if value is not None or key in known:
            row[key] = value
    return row


def _value(key: str, cell: str, *, comma: bool) -> Any:
    if not cell:
        return None
    if key in _NUMBERS or key in _WHOLE:
        try:
            number = number_in_cell(cell, comma=comma)
        except ValueError as error:
            raise ValueError(f"{key} needs a number: {error}") from None
        if key in _NUMBERS:
            return number
        if not number.is_integer():
            raise ValueError(f"{key} needs a whole number, not “{cell}”")
        return int(number)
    if key in _YES:
        return _seen(key, cell)
    if key == "findings":
        pairs = [part.rpartition(":") for part in cell.split()]
        return {name: _seen(name, told) for name, _, told in pairs}
    return cell[1:] if _GUARDED.match(cell) else cell


def _seen(key: str, told: str) -> bool:
    if told not in ("yes", "no"):
        raise ValueError(f"{key} needs yes or no, not “{told}”")
    return told == "yes"


def _checked(row: Mapping[str, Any], build: Build) -> None:
    """Refuse a row that makes no event. Raises BuildFileError, ValueError."""
    given = {key: value for key, value in row.items() if value is not None}
    if "at" not in given or "kind" not in given:
        raise ValueError("a day (at) and a kind are needed")
    if read_day(given["at"]) is None:
        raise ValueError(f"there is no day “{given['at']}”; a day is written as 2026-11-27")
    make(Event, {"id": "new", **given})
