"""The channels of a log as arrays in the units of the mechanics, and what had to be left out."""

from __future__ import annotations

import codecs
import io
import warnings
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, Literal

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.errors import LogError
from jovial_tack.core.run_check.slip import Log
from jovial_tack.files.logs.columns import KIND, UNITS, Channel, Role
from jovial_tack.files.logs.layout import LogLayout

STANDARD_AIR_KPA = 101.325
_MOST_RPM = 30_000.0
_MOST_BLOWER_RPM = 300_000.0
_MOST_KPA = 1_000.0
_FEW = 0.02
_SPOKEN: dict[Role, str] = {
    "time": "time",
    "rpm": "engine speed",
    "boost": "boost",
    "blower_rpm": "blower speed",
    "throttle": "throttle",
    "baro": "the air's pressure",
}
_NEEDED: tuple[Role, ...] = ("time", "rpm", "boost")

Progress = Callable[[str, float], None]


@dataclass(frozen=True)
class LoadedLog:
    """A log ready to be judged: channels as used (units and zeros settled), remarks for the user."""

    log: Log
    channels: Mapping[Role, Channel]
    remarks: tuple[str, ...]


def read_log(
    layout: LogLayout,
    channels: Mapping[Role, Channel] | None = None,
    air_kpa: float | None = None,
    progress: Progress = lambda _text, _share: None,
) -> LoadedLog:
    """Read the channels of a log.

    Parameters: the layout; the channels (those its heads tell, by default); the air's pressure, kPa
    (from the log or 101.325 by default); progress is told what is being done and the share done.
    Raises LogError with one sentence: what is wrong, where, and what would help.
    """
    used = dict(layout.channels if channels is None else channels)
    name = layout.path.name
    missing = next((role for role in _NEEDED if role not in used), None)
    if missing is not None:
        shown = ", ".join(layout.heads[:10]) + (" …" if len(layout.heads) > 10 else "")
        is_not = f"no column is named as {_SPOKEN[missing]} ({shown})"
        raise LogError(f"{name}: {is_not}; name it, as in {missing}=COLUMN")
    progress("Reading the columns", 0.05)
    values = _columns(layout, [channel.column for channel in used.values()])
    progress("Checking the figures", 0.5)
    taken = dict(zip(used, values, strict=True))
    remarks: list[str] = []
    for role, channel in used.items():
        used[role] = _settled(role, channel, taken[role], layout)
        taken[role] = taken[role] * UNITS[KIND[role]][used[role].unit]
    keep = _usable(layout, taken, remarks)
    taken = {role: values[keep] for role, values in taken.items()}
    air = air_kpa or _air(taken, used, remarks)
    boost = taken["boost"] - (air if used["boost"].zero == "absolute" else 0.0)
    remarks += _assumed(layout, used)
    log = Log(
        taken["time"], taken["rpm"], boost, taken.get("blower_rpm"), taken.get("throttle"), air
    )
    return LoadedLog(log, used, tuple(remarks))


def _columns(layout: LogLayout, wanted: list[int]) -> list[Float]:
    """The wanted columns as floats (N,), NaN where a cell is no figure."""
    source: Path | io.BytesIO = layout.path
    if layout.encoding == "utf-16":
        text = layout.path.read_bytes().decode("utf-16", "replace")
        source = io.BytesIO(text.encode())
    elif layout.encoding == "utf-8-sig" and _has_mark(layout.path):
        source = io.BytesIO(layout.path.read_bytes()[len(codecs.BOM_UTF8) :])
    names = [f"column_{place + 1}" for place in range(len(layout.heads))]
    used = {names[place] for place in wanted}
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # what it finds odd in a row is told by what is missing
            frame = _read_csv(layout, source, names, used)
    except (KeyboardInterrupt, SystemExit, MemoryError):
        raise
    except BaseException as error:  # what reads it panics with an error that is no exception
        said = (str(error).splitlines() or [type(error).__name__])[0][:120]
        raise LogError(f"{layout.path.name}: the rows could not be read ({said})") from None
    return [
        np.asarray(frame[names[place]].fill_null(float("nan")).to_numpy(), dtype=float)
        for place in wanted
    ]


def _read_csv(
    layout: LogLayout, source: Path | io.BytesIO, names: list[str], used: set[str]
) -> Any:
    import polars as pl

    # a quote that is never closed would swallow all that follows it
    quoted = _quotes(layout.path) % 2 == 0
    return pl.read_csv(
        source,
        has_header=False,
        skip_lines=layout.first_row,
        separator=layout.separator,
        decimal_comma=layout.decimal_comma,
        schema={name: pl.Float64 if name in used else pl.String for name in names},
        columns=sorted(used, key=names.index),
        quote_char='"' if quoted else None,
        ignore_errors=True,
        truncate_ragged_lines=True,
        missing_columns="insert",
        encoding="utf8-lossy",
    )


def _quotes(path: Path) -> int:
    """How many quotation marks a file holds."""
    count = 0
    with path.open("rb") as file:
        while piece := file.read(1 << 20):
            count += piece.count(b'"')
    return count


def _has_mark(path: Path) -> bool:
    with path.open("rb") as file:
        return file.read(3) == codecs.BOM_UTF8


def _assumed(layout: LogLayout, used: Mapping[Role, Channel]) -> list[str]:
    """What was taken for granted of boost and speed, in words."""
    remarks = []
    for channel in (used["boost"], used["rpm"]):
        head = layout.heads[channel.column]
        if channel.unit_assumed:
            remarks.append(f"“{head}” names no unit; {channel.unit} is assumed")
        if channel.zero_assumed:
            remarks.append(f"“{head}” is taken as {channel.zero} by its values")
    return remarks


def _zero_by(low_kpa: float, high_kpa: float, head: str) -> Literal["gauge", "absolute"]:
    """Whether pressures of a column count from the air's or from none, by where they lie."""
    if low_kpa < -2.0:
        return "gauge"
    if "boost" in head.lower():
        # a boost gauge shows nothing above the air's pressure when there is none
        return "absolute" if low_kpa > 85.0 else "gauge"
    return "absolute" if low_kpa > 8.0 and high_kpa > 85.0 else "gauge"


def _settled(role: Role, channel: Channel, values: Float, layout: LogLayout) -> Channel:
    """The channel with what its head did not say told by its values."""
    if KIND[role] != "pressure":
        return channel
    known = values[np.isfinite(values)]
    if not known.size:
        return channel
    low, high = (float(v) for v in np.percentile(known, (0.5, 99.5)))
    if channel.unit_assumed:
        unit = "bar" if high < 4.5 else "psi" if high < 65.0 else "kPa"
        channel = replace(channel, unit=unit)
    if channel.zero is None:
        scale = UNITS["pressure"][channel.unit]
        zero = _zero_by(low * scale, high * scale, layout.heads[channel.column])
        channel = replace(channel, zero=zero, zero_assumed=True)
    return channel


def _usable(layout: LogLayout, taken: Mapping[Role, Float], remarks: list[str]) -> Bool:
    """The rows (N,) in which every channel has a believable figure; many bad ones are refused."""
    name, rows = layout.path.name, taken["time"].size
    keep = np.ones(rows, dtype=np.bool_)
    for role, values in taken.items():
        missing = ~np.isfinite(values)
        head = _SPOKEN[role]
        if missing.sum() > max(_FEW * rows, 3):
            line = layout.first_row + 1 + int(np.argmax(missing))
            raise LogError(
                f"{name}: {int(missing.sum())} of {rows} rows have no figure for {head}, the first in"
                f" line {line}; rows of different lengths, or the wrong separator or column?"
            )
        most = {"rpm": _MOST_RPM, "blower_rpm": _MOST_BLOWER_RPM, "boost": _MOST_KPA}.get(role)
        wild = np.zeros_like(missing) if most is None else np.abs(values) > most
        if wild.sum() > max(_FEW * rows, 3):
            line = layout.first_row + 1 + int(np.argmax(wild))
            unit = "kPa" if role == "boost" else "rpm"
            raise LogError(
                f"{name}: {head} reads {values[wild][0]:.0f} {unit} in line {line}, which cannot be;"
                " is it the right column and unit?"
            )
        bad = missing | wild
        if bad.any():
            line = layout.first_row + 1 + int(np.argmax(bad))
            remarks.append(
                f"{int(bad.sum())} rows without a believable {head} left out, the first in line {line}"
            )
        keep &= ~bad
    if keep.sum() < 8:
        raise LogError(f"{name}: only {int(keep.sum())} rows of figures; a pull needs dozens")
    return keep


def _air(taken: Mapping[Role, Float], used: Mapping[Role, Channel], remarks: list[str]) -> float:
    """The air's pressure, kPa: logged, or read with the engine standing, or the standard one."""
    if "baro" in taken:
        return float(np.median(taken["baro"]))
    if used["boost"].zero == "absolute":
        standing = taken["rpm"] < 50.0
        if standing.sum() >= 3:
            found = float(np.median(taken["boost"][standing]))
            if 50.0 < found < 110.0:
                return found
    remarks.append(f"the air's pressure is not logged; {STANDARD_AIR_KPA} kPa is assumed")
    return STANDARD_AIR_KPA
