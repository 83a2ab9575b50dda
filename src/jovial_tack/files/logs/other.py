"""Logs that are no text: Parquet, Excel, MDF4 and CAN, turned into the text of a table in memory.

Parquet is read by what is there already; the others by small or large extras, which are imported when
a file asks for them. What a log means is then found out as of any other text.
"""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from jovial_tack.core.errors import LogError
from jovial_tack.core.value import Value

_MARK = ";"
_MOST_CELLS = 60_000_000


class _Kind(Value, frozen=True):
    """A format: what it is called, how its files begin and end in their name, what reads them, and the
    extra that brings that.
    """

    name: str
    begins: tuple[bytes, ...]
    read: Callable[[Path], bytes]
    extra: str = ""
    suffixes: tuple[str, ...] = ()

    def is_of(self, path: Path, head: bytes) -> bool:
        """Whether a file is of this kind; words may begin as messages of a bus do."""
        named = not self.suffixes or path.suffix.lower() in self.suffixes
        return named and head.startswith(self.begins)


def table_text(path: Path, head: bytes) -> bytes | None:
    """The table of a log as UTF-8 text, if its file begins as one of the other formats; else None.

    Raises LogError with one sentence: what is wrong, or which extra to install.
    """
    kind = next((kind for kind in _KINDS if kind.is_of(path, head)), None)
    if kind is None:
        return None
    try:
        return kind.read(path)
    except LogError:
        raise
    except ImportError:
        raise LogError(
            f"{path.name}: reading {kind.name} needs an extra: pip install 'jovial-tack[{kind.extra}]',"
            " or export it as CSV"
        ) from None
    except (KeyboardInterrupt, SystemExit, MemoryError):
        raise
    except BaseException as error:  # the readers raise whatever they like, and one panics
        said = (str(error).splitlines() or [type(error).__name__])[0][:120]
        raise LogError(f"{path.name}: it could not be read as {kind.name} ({said})") from None


def _check_size(cells: int, path: Path) -> None:
    if cells > _MOST_CELLS:
        raise LogError(f"{path.name}: over {_MOST_CELLS} cells; cut the log to the pulls first")


def _written(frame: Any, path: Path) -> bytes:
    """A frame as text with its heads; instants as seconds from the first."""
    import polars as pl

    _check_size(frame.height * frame.width, path)
    for name, kind in frame.schema.items():
        if kind in (pl.Datetime, pl.Duration, pl.Time):
            micros = (
                frame[name].cast(kind if kind != pl.Datetime else pl.Datetime("us")).cast(pl.Int64)
            )
            size = 1e9 if kind == pl.Time else 1e6
            frame = frame.with_columns((micros - micros.min()).cast(pl.Float64).alias(name) / size)
    out = io.BytesIO()
    frame.write_csv(out, separator=_MARK, float_precision=9)
    return out.getvalue()


def _parquet(path: Path) -> bytes:
    import polars as pl

    lazy = pl.scan_parquet(path)
    plain = [
        name
        for name, kind in lazy.collect_schema().items()
        if kind.is_numeric() or kind.is_temporal() or kind == pl.String
    ]
    # counted before it is unpacked: a small file may hold a great many alike
    _check_size(lazy.select(pl.len()).collect().item() * max(len(plain), 1), path)
    return _written(lazy.select(plain).collect(), path)


def _excel(path: Path) -> bytes:
    import fastexcel

    book = fastexcel.read_excel(str(path))
    # the first sheet with a table in it; words and pictures may stand on others
    for name in book.sheet_names:
        sheet = book.load_sheet(name, header_row=None, dtypes="string")
        frame = sheet.to_polars()
        if frame.height > 8 and frame.width > 1:
            text = _written(frame, path)
            return text.split(b"\n", 1)[1]  # its heads are numbers of columns
    raise LogError(f"{path.name}: no sheet of it holds a table")


def _mdf(path: Path) -> bytes:
    import asammdf

    with asammdf.MDF(str(path)) as measured:
        signals = [
            signal
            for signal in measured.iter_channels(skip_master=True)
            if signal.samples.dtype.kind in "iuf"
            and signal.samples.ndim == 1
            and len(signal.samples)
        ]
    if not signals:
        raise LogError(f"{path.name}: no channel of it holds figures")
    stamps = np.unique(np.concatenate([signal.timestamps for signal in signals]))
    heads = [f"{signal.name} [{signal.unit}]" if signal.unit else signal.name for signal in signals]
    return _rows("Time [s]", stamps, heads, [(s.timestamps, s.samples) for s in signals], path)


def _can(path: Path) -> bytes:
    import can
    import cantools

    # a pipe or a device of that name would be waited for
    described = sorted(each for each in path.parent.glob("*.dbc") if each.is_file())
    own = path.with_suffix(".dbc")
    chosen = own if own in described else described[0] if len(described) == 1 else None
    if chosen is None:
        raise LogError(
            f"{path.name}: what its messages mean stands in a DBC file; put it beside the log, of the"
            " same name or as the only one"
        )
    database = cantools.database.load_file(str(chosen))
    series: dict[str, tuple[list[float], list[float]]] = {}
    with can.LogReader(str(path)) as messages:
        for message in messages:
            for name, value in _decoded(database, message):
                at, values = series.setdefault(name, ([], []))
                at.append(message.timestamp)
                values.append(value)
    if not series:
        raise LogError(f"{path.name}: {chosen.name} knows none of its messages")
    units = {s.name: s.unit for m in database.messages for s in m.signals}
    heads = [f"{name} [{units[name]}]" if units.get(name) else name for name in series]
    stamps = np.unique(np.concatenate([np.array(at) for at, _ in series.values()]))
    columns = [(np.array(at), np.array(values)) for at, values in series.values()]
    return _rows("Time [s]", stamps, heads, columns, path)


def _decoded(database: Any, message: Any) -> list[tuple[str, float]]:
    try:
        found = database.decode_message(message.arbitration_id, message.data)
    except Exception:  # a message nobody described, or one cut short
        return []
    return [(k, float(v)) for k, v in found.items() if isinstance(v, int | float)]


def _rows(
    time: str,
    stamps: np.ndarray[Any, Any],
    heads: list[str],
    columns: list[tuple[np.ndarray[Any, Any], np.ndarray[Any, Any]]],
    path: Path,
) -> bytes:
    """Channels of their own stamps as a table: each has figures in its own rows only."""
    import polars as pl

    _check_size(stamps.size * (len(columns) + 1), path)
    filled = {time: stamps - stamps[0]}
    for place, (head, (at, values)) in enumerate(zip(heads, columns, strict=True)):
        column = np.full(stamps.size, np.nan)
        column[np.searchsorted(stamps, at)] = values
        filled[head if head not in filled else f"{head} {place}"] = column
    return _written(pl.DataFrame(filled).fill_nan(None), path)


_KINDS = (
    _Kind("Parquet", (b"PAR1",), _parquet),
    _Kind("Excel", (b"PK\x03\x04", b"\xd0\xcf\x11\xe0"), _excel, "excel"),
    _Kind("MDF", (b"MDF ", b"UnFinMF "), _mdf, "mdf"),
    _Kind("CAN logs", (b"LOGG", b"date ", b"("), _can, "can", (".blf", ".asc", ".log")),
)
