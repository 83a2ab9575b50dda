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
from jovial_tack.core.run_check.points import STANDARD_AIR_KPA, Log
from jovial_tack.files.logs.columns import KIND, NEEDED, UNITS, Channel, Role
from jovial_tack.files.logs.layout import LogLayout
from jovial_tack.files.logs.stamps import clock_seconds, spread, unit_by_steps
from jovial_tack.files.needed import missing_in

_MOST_RPM = 30_000.0
_MOST_BLOWER_RPM = 300_000.0
_MOST_KPA = 1_000.0
_FEW = 0.02
#: How well the air's pressure is known where it is logged or typed, and where nobody told it, kPa.
_AIR_SD_KPA, _AIR_UNTOLD_KPA = 0.4, 8.0
_SPOKEN: dict[Role, str] = {
    "time": "time",
    "rpm": "engine speed",
    "boost": "boost",
    "blower_rpm": "blower speed",
    "throttle": "throttle",
    "baro": "the air's pressure",
    "before_throttle": "the pressure before the throttle",
    "bypass": "the bypass",
    "intake": "the intake temperature",
    "before_blower": "the pressure before the blower",
    "after_blower": "the pressure after the blower",
    "discharge": "the discharge temperature",
    "gear": "the gear",
    "speed": "the road speed",
    "knock": "what is taken back for knock",
    "lambda": "lambda",
}
#: A channel that is slower than the others has its figures in rows of its own, this far apart.
_SLOWEST_S = 0.6
_UNEVEN = 3.0
_SAMPLE = 50_000  # figures are enough to see in which unit a million of them are

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
    missing = next((role for role in NEEDED if role not in used), None)
    if missing is not None:
        shown = ", ".join(layout.heads[:10]) + (" …" if len(layout.heads) > 10 else "")
        is_not = f"no column is named as {_SPOKEN[missing]} ({shown})"
        rate = ", or tell the rate, as in time=20Hz" if missing == "time" else ""
        raise LogError(f"{name}: {is_not}; name it, as in {missing}=COLUMN{rate}")
    progress("Reading the columns", 0.05)
    taken = _columns(layout, used)
    progress("Checking the figures", 0.5)
    remarks: list[str] = []
    for role, channel in used.items():
        used[role] = _settled(role, channel, taken[role], layout)
        taken[role] = taken[role] * UNITS[KIND[role]].get(used[role].unit, 1.0)
    taken["time"] = spread(taken["time"])
    taken = _at_their_own_rows(layout, taken, remarks)
    used = {role: channel for role, channel in used.items() if role in taken}
    air, known_to = (air_kpa, _AIR_SD_KPA) if air_kpa else _air(taken, used, remarks)
    remarks += _assumed(layout, used)

    def above_air(role: Role) -> Float | None:
        if role not in taken:
            return None
        return taken[role] - (air if used[role].zero == "absolute" else 0.0)

    boost = above_air("boost")
    assert boost is not None
    log = Log(
        taken["time"],
        taken["rpm"],
        boost,
        taken.get("blower_rpm"),
        taken.get("throttle"),
        air,
        known_to,
        used["boost"].zero == "absolute",
        taken.get("bypass"),
        above_air("before_throttle"),
        taken.get("intake"),
        before_blower_kpa=above_air("before_blower"),
        after_blower_kpa=above_air("after_blower"),
        discharge_c=taken.get("discharge"),
        gear=taken.get("gear"),
        road_speed=taken.get("speed"),
        knock_deg=taken.get("knock"),
        mixture=taken.get("lambda"),
    )
    return LoadedLog(log, used, tuple(remarks))


def _columns(layout: LogLayout, used: Mapping[Role, Channel]) -> dict[Role, Float]:
    """The columns in use as floats (N,), NaN where a cell is no figure; times in seconds by a clock."""
    wanted = sorted({channel.column for channel in used.values() if channel.column >= 0})
    frame = _frame(layout, wanted, as_text=set())
    found = {place: _floats(frame[_name(place)]) for place in wanted}
    missing = {place: np.isnan(found[place]) for place in wanted}
    odd = {place for place in wanted if missing[place].mean() > _FEW}
    if odd:
        # clocks, spaces, quoted commas: looked at as text, which takes longer
        text = _frame(layout, wanted, as_text=odd)
        clock = used["time"].column
        for place in odd:
            found[place] = _from_text(text[_name(place)], is_time=place == clock)
            missing[place] = np.isnan(found[place])
    # rows in which nothing stands at all are between rows, not of the log
    blank = np.logical_and.reduce(list(missing.values()))
    if blank.any():
        found = {place: values[~blank] for place, values in found.items()}
    count = next(iter(found.values())).size
    if not count:
        raise LogError(f"{layout.path.name}: there are no rows of figures in it; is it a CSV log?")
    taken = {}
    for role, channel in used.items():
        if channel.column < 0:
            taken[role] = np.arange(count) / float(channel.unit.split()[0])
        else:
            taken[role] = found[channel.column]
    return taken


def _name(place: int) -> str:
    return f"column_{place + 1}"


def _floats(series: Any) -> Float:
    return np.asarray(series.fill_null(float("nan")).to_numpy(), dtype=float)


def _from_text(cells: Any, *, is_time: bool) -> Float:
    """Figures of cells that did not read as such (N,)."""
    trimmed = cells.str.strip_chars(" \"'\u00a0").str.replace("−", "-", literal=True)
    if is_time:
        seconds = clock_seconds(trimmed)
        if np.isfinite(seconds).mean() > 0.5:
            return seconds
    plain = trimmed.str.replace(r"^([-+]?\d+),(\d+)$", "${1}.${2}")
    return _floats(plain.cast(float, strict=False))


def _frame(layout: LogLayout, wanted: list[int], as_text: set[int]) -> Any:
    """The wanted columns; those in as_text as they are written."""
    source: Path | io.BytesIO = layout.path
    if layout.text is not None:
        source = io.BytesIO(layout.text)
    elif layout.encoding.startswith("utf-16"):
        text = layout.path.read_bytes().decode(layout.encoding, "replace")
        source = io.BytesIO(text.encode())
    elif layout.encoding == "utf-8-sig" and _has_mark(layout.path):
        source = io.BytesIO(layout.path.read_bytes()[len(codecs.BOM_UTF8) :])
    names = [_name(place) for place in range(len(layout.heads))]
    figures = {_name(place) for place in wanted if place not in as_text}
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # what it finds odd in a row is told by what is missing
            return _read_csv(layout, source, names, [_name(place) for place in wanted], figures)
    except (KeyboardInterrupt, SystemExit, MemoryError):
        raise
    except ImportError as error:
        raise LogError(f"{layout.path.name}: {missing_in(error) or error}") from None
    except BaseException as error:  # what reads it panics with an error that is no exception
        said = (str(error).splitlines() or [type(error).__name__])[0][:120]
        raise LogError(f"{layout.path.name}: the rows could not be read ({said})") from None


def _read_csv(
    layout: LogLayout,
    source: Path | io.BytesIO,
    names: list[str],
    wanted: list[str],
    figures: set[str],
) -> Any:
    import polars as pl

    # a quote that is never closed would swallow all that follows it
    quotes = _quotes(layout.path) if layout.text is None else layout.text.count(b'"')
    quoted = quotes % 2 == 0
    return pl.read_csv(
        source,
        has_header=False,
        skip_lines=layout.first_row,
        separator=layout.separator,
        decimal_comma=layout.decimal_comma,
        schema={name: pl.Float64 if name in figures else pl.String for name in names},
        columns=wanted,
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
    if role == "time" and channel.unit_assumed:
        return replace(channel, unit=unit_by_steps(values) or channel.unit)
    known = values[np.isfinite(values)]
    if not known.size:
        return channel
    if role == "lambda" and channel.unit_assumed:
        # no engine runs at a lambda of 4; what reads more is parts of air to one of petrol
        return replace(channel, unit="AFR" if float(np.median(known)) > 4.0 else "λ")
    if KIND[role] != "pressure":
        return channel
    some = known[:: max(1, known.size // _SAMPLE)]
    low, high = (float(v) for v in np.percentile(some, (0.5, 99.5)))
    if channel.unit_assumed:
        unit = "bar" if high < 4.5 else "psi" if high < 65.0 else "kPa"
        channel = replace(channel, unit=unit)
    if channel.zero is None:
        scale = UNITS["pressure"][channel.unit]
        zero = _zero_by(low * scale, high * scale, layout.heads[channel.column])
        channel = replace(channel, zero=zero, zero_assumed=True)
    return channel


def _at_their_own_rows(
    layout: LogLayout, taken: Mapping[Role, Float], remarks: list[str]
) -> dict[Role, Float]:
    """The channels at the rows of the slowest one that is needed, each from its own rows.

    A needed channel without figures in many rows is refused, unless it is only slower than the others;
    one that serves where it is there is left out then, with a remark.
    """
    time = taken["time"]
    bad = {role: _unbelievable(role, values) for role, values in taken.items()}
    keep = np.ones(time.size, dtype=np.bool_)
    found: dict[Role, Float] = dict(taken)
    for role, missing in bad.items():
        few = max(_FEW * time.size, 3)
        if missing.all() and role in NEEDED:
            _refuse(layout, role, taken[role], missing)
        if missing.sum() <= few and not missing.all():
            if missing.any() and (role in NEEDED or role == "blower_rpm"):
                line = layout.first_row + 1 + int(np.argmax(missing))
                remarks.append(
                    f"{int(missing.sum())} rows without a believable {_SPOKEN[role]} left out, the"
                    f" first in line {line}"
                )
                keep &= ~missing
            elif missing.any():
                found[role] = _between_rows(time, taken[role], ~missing)
        elif role != "time" and _is_slower(time, ~missing):
            remarks.append(f"{_SPOKEN[role]} is logged in one row of {_every(~missing)}")
            if role in ("boost", "blower_rpm"):
                keep &= ~missing  # as many samples as there are figures of what is judged
            else:
                found[role] = _between_rows(time, taken[role], ~missing)
        elif role in NEEDED:
            _refuse(layout, role, taken[role], missing)
        else:
            head = layout.heads[layout.channels[role].column] if role in layout.channels else role
            remarks.append(f"“{head}” has too few figures, so it is not used")
            del found[role]
    if keep.sum() < 8:
        raise LogError(
            f"{layout.path.name}: only {int(keep.sum())} rows of figures; a pull needs dozens"
        )
    if keep.all():
        return found
    return {role: values[keep] for role, values in found.items()}


def _unbelievable(role: Role, values: Float) -> Bool:
    """Rows (N,) without a figure, or with one that cannot be."""
    missing = ~np.isfinite(values)
    most = {"rpm": _MOST_RPM, "blower_rpm": _MOST_BLOWER_RPM, "boost": _MOST_KPA}.get(role)
    return missing if most is None else np.asarray(missing | (np.abs(values) > most))


def _is_slower(time: Float, there: Bool) -> bool:
    """Whether a channel's figures stand in rows of their own rhythm, close enough together."""
    rows = np.flatnonzero(there & np.isfinite(time))
    if rows.size < 8:
        return False
    steps = np.diff(rows)
    far = float(np.median(np.diff(time[rows])))
    usual = float(np.median(steps))
    return usual >= 2 and bool(steps.max() <= _UNEVEN * usual) and far <= _SLOWEST_S


def _every(there: Bool) -> int:
    return round(float(np.median(np.diff(np.flatnonzero(there)))))


def _between_rows(time: Float, values: Float, there: Bool) -> Float:
    """Values (N,) interpolated in time from the rows they stand in."""
    rows = there & np.isfinite(time)
    order = np.argsort(time[rows], kind="stable")
    return np.interp(time, time[rows][order], values[rows][order])


def _refuse(layout: LogLayout, role: Role, values: Float, bad: Bool) -> None:
    """Raise LogError for a needed channel that many rows have no figure for, or none that can be."""
    name, spoken, missing = layout.path.name, _SPOKEN[role], ~np.isfinite(values)
    if missing.sum() > max(_FEW * values.size, 3) or not (bad & ~missing).any():
        line = layout.first_row + 1 + int(np.argmax(missing))
        raise LogError(
            f"{name}: {int(missing.sum())} of {values.size} rows have no figure for {spoken}, the first"
            f" in line {line}; rows of different lengths, or the wrong separator or column?"
        )
    wild = bad & ~missing
    line = layout.first_row + 1 + int(np.argmax(wild))
    unit = "kPa" if role == "boost" else "rpm"
    raise LogError(
        f"{name}: {spoken} reads {values[wild][0]:.0f} {unit} in line {line}, which cannot be;"
        " is it the right column and unit?"
    )


def _air(
    taken: Mapping[Role, Float], used: Mapping[Role, Channel], remarks: list[str]
) -> tuple[float, float]:
    """The air's pressure, kPa, and how well it is known: logged, read with the engine standing, or not
    told, and then taken as the standard one.
    """
    if "baro" in taken:
        return float(np.median(taken["baro"])), _AIR_SD_KPA
    if used["boost"].zero == "absolute":
        standing = taken["rpm"] < 50.0
        if standing.sum() >= 3:
            found = float(np.median(taken["boost"][standing]))
            if 50.0 < found < 110.0:
                return found, _AIR_SD_KPA
    remarks.append(f"the air's pressure is not logged; {STANDARD_AIR_KPA} kPa is drawn with")
    return STANDARD_AIR_KPA, _AIR_UNTOLD_KPA
