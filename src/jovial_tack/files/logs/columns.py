"""What the columns of a log are, by the words and units in their heads."""

from __future__ import annotations

import re
import tomllib
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from typing import Literal, get_args

from jovial_tack.core.errors import LogError, UnitError
from jovial_tack.core.units import TONE, parse

Role = Literal[
    "time", "rpm", "boost", "blower_rpm", "throttle", "baro", "before_blower", "after_blower",
    "before_throttle", "bypass", "intake", "discharge", "gear", "speed", "knock", "lambda",
]  # fmt: skip
Zero = Literal["gauge", "absolute"]

ROLES: tuple[Role, ...] = get_args(Role)
_WORDS = Path(__file__).parents[2] / "data/logs/words.toml"

#: Factor to s, rev/min, kPa, K, km/h, degrees and lambda.
UNITS: dict[str, dict[str, float]] = {
    "time": {"s": 1.0, "ms": 1e-3, "µs": 1e-6, "min": 60.0, "days": 86400.0},
    "rpm": {"rpm": 1.0, "1/s": 60.0},
    "pressure": {
        "kPa": 1.0, "psi": 6.894757293168361, "bar": 100.0, "mbar": 0.1, "inHg": 3.386389, "Pa": 1e-3,
        "mmHg": 0.1333224, "MPa": 1000.0,
    },
    "throttle": {"%": 1.0},
    "temperature": {"°C": 1.0, "°F": 5 / 9, "K": 1.0},
    "count": {"": 1.0},
    "speed": {"km/h": 1.0, "mph": 1.609344, "m/s": 3.6},
    "angle": {"°": 1.0},
    "mixture": {"λ": 1.0, "AFR": 1 / 14.7},
}  # fmt: skip

KIND: dict[Role, str] = {
    "time": "time",
    "rpm": "rpm",
    "blower_rpm": "rpm",
    "boost": "pressure",
    "baro": "pressure",
    "throttle": "throttle",
    "before_throttle": "pressure",
    "bypass": "throttle",
    "intake": "temperature",
    "before_blower": "pressure",
    "after_blower": "pressure",
    "discharge": "temperature",
    "gear": "count",
    "speed": "speed",
    "knock": "angle",
    "lambda": "mixture",
}

#: Without these nothing can be judged; the others serve where they are.
NEEDED: tuple[Role, ...] = ("time", "rpm", "boost")

_SPELLINGS = {
    "s": "s", "sec": "s", "secs": "s", "second": "s", "seconds": "s",
    "ms": "ms", "msec": "ms", "millisecond": "ms", "milliseconds": "ms",
    "us": "µs", "µs": "µs", "μs": "µs", "usec": "µs", "microseconds": "µs",
    "min": "min", "minutes": "min", "d": "days", "days": "days",
    "rpm": "rpm", "r/min": "rpm", "rev/min": "rpm", "1/min": "rpm", "min-1": "rpm",
    "hz": "1/s", "1/s": "1/s", "rps": "1/s",
    "kpa": "kPa", "kpag": "kPa", "kpaa": "kPa", "kpa(a)": "kPa", "kpa(g)": "kPa",
    "psi": "psi", "psig": "psi", "psia": "psi", "lb/in2": "psi", "lbf/in2": "psi",
    "bar": "bar", "barg": "bar", "bara": "bar",
    "mbar": "mbar", "hpa": "mbar", "inhg": "inHg", "in.hg": "inHg", "pa": "Pa",
    "%": "%", "pct": "%", "percent": "%",
    "mmhg": "mmHg", "torr": "mmHg", "mpa": "MPa",
    "°c": "°C", "degc": "°C", "deg c": "°C", "c": "°C",
    "°f": "°F", "degf": "°F", "deg f": "°F", "f": "°F", "k": "K",
    "km/h": "km/h", "kph": "km/h", "kmh": "km/h", "mph": "mph", "m/s": "m/s",
    "°": "°", "deg": "°", "degrees": "°", "λ": "λ", "lambda": "λ", "afr": "AFR",
}  # fmt: skip

_BLOWER = r"blower|super ?charger|charger|impeller|head unit|\bs/?c\b"
_NOT_MEASURED = (
    r"target|request|demand|desired|limit|error|duty|temp|ratio|correction|trim|comp\b|volt|\braw\b"
    r"|\bgear|transmission|gearbox"
)
_UNIT = rf"({_BLOWER}|compressor)"
_HEADS: tuple[tuple[Role, str, str], ...] = (
    # before boost and intake, which would take them by “inlet pressure” and “charge temp”
    (
        "before_blower",
        rf"(pre|before|ahead of) ?{_UNIT}|{_UNIT} (inlet|in) press",
        _NOT_MEASURED,
    ),
    (
        "after_blower",
        rf"(post|after|behind) ?{_UNIT}|{_UNIT} (outlet|out|discharge) press"
        r"|(pre|before) ?(inter)?cooler press",
        _NOT_MEASURED,
    ),
    (
        "before_throttle",
        r"(pre|before|ahead of) ?throttle|throttle (inlet|in) press|(boost|charge) pipe press",
        _NOT_MEASURED,
    ),
    (
        "discharge",
        rf"discharge (air )?temp|{_UNIT} (outlet|out|discharge)( air)? temp"
        rf"|(post|after|behind) ?{_UNIT} temp",
        r"target|desired|volt|\braw\b|limit",
    ),
    ("blower_rpm", rf"({_BLOWER}).*\b(rpm|speed|revs?|spd)\b", _NOT_MEASURED),
    (
        "time",
        r"^(log ?|elapsed ?|run ?)?(time|timestamp|t)\b|^(elapsed|seconds|secs?)\b",
        r"\blap\b",
    ),
    (
        "rpm",
        r"\b(engine|eng|crank|motor)( ?shaft)? ?(rpm|speed|revs?|spd)\b|\brpm\b|^revs?\b"
        r"|\bspeed engine\b|\bn ?engine\b|\bn mot\b",
        rf"{_NOT_MEASURED}|{_BLOWER}|wheel|shaft speed|turbine|fan|pump|alternator",
    ),
    (
        "boost",
        r"\bboost\b|\bmap\b|manifold|plenum|(charge|intake|inlet) (air )?press",
        rf"{_NOT_MEASURED}|baro|ambient|control|solenoid|bypass",
    ),
    ("bypass", r"by ?pass|recirc", r"target|request|demand|desired|temp|press|volt|\braw\b"),
    (
        "intake",
        r"(intake|inlet|charge|manifold) (air )?temp|\biat\b",
        r"target|desired|volt|\braw\b|limit",
    ),
    ("throttle", r"throttle|\btps?\b|\bpedal\b|accelerator", _NOT_MEASURED),
    ("baro", r"\bbaro|ambient press|atmos", "temp"),
    ("gear", r"^gear$|current gear|gear (position|pos|number|selected)", r"target|ratio|oil|volt"),
    (
        "speed",
        r"\b(vehicle|road|ground|car|gps) ?speed|^speed$|\bvss\b",
        rf"target|limit|volt|engine|shaft|fan|{_BLOWER}",
    ),
    (
        "knock",
        r"knock.*(retard|corr|ign|timing)|(retard|timing|ignition).*knock",
        r"level|volt|count|sensor|noise|threshold|limit",
    ),
    (
        "lambda",
        r"\blambda\b|\bafr\b|air ?fuel ratio|wideband",
        r"target|error|trim|corr|desired|volt|control|command|request",
    ),
)
_INSTEAD: tuple[Role, ...] = ("before_throttle", "after_blower")
#: In place of a column: samples at an even rate, told as time=20Hz.
_NO_COLUMN = -1
_RATE = re.compile(r"[\d. ]+hz", re.IGNORECASE)
_ABSOLUTE = r"\babs(olute)?\b|psia\b|bara\b|kpaa\b|\(a\)"
_GAUGE = r"\bgau?ge\b|\brel(ative)?\b|psig\b|barg\b|kpag\b|\(g\)"


@dataclass(frozen=True)
class Channel:
    """A column put to use: its place, what it is measured in, and what of that is only assumed.

    zero: whether a pressure counts from the air's pressure or from vacuum; None: to be told by its
    values.
    """

    column: int
    unit: str
    zero: Zero | None = None
    unit_assumed: bool = False
    zero_assumed: bool = False


def recognised(heads: Sequence[str], units: Sequence[str]) -> dict[Role, Channel]:
    """The channels whose column heads say what they are; the first column that fits is taken."""
    found: dict[Role, Channel] = {}
    words = [_words(head) for head in heads]
    for role, wanted, unwanted in _heads():
        for place, head in enumerate(words):
            taken = any(channel.column == place for channel in found.values())
            if not taken and re.search(wanted, head) and not re.search(unwanted, head):
                found[role] = channel_of(role, place, heads[place], units[place])
                break
    # the only pressure there is serves as the boost, wherever along the way it is taken
    for role in _INSTEAD:
        if "boost" not in found and role in found:
            place = found.pop(role).column
            found["boost"] = channel_of("boost", place, heads[place], units[place])
    return found


def channel_of(role: Role, place: int, head: str, unit: str) -> Channel:
    """A column in a role, with the unit and the zero its head tells."""
    said = unit_in(f"{head} [{unit}]" if unit else head, KIND[role])
    text = f"{head} {unit}".lower()
    zero: Zero | None = None
    if KIND[role] == "pressure":
        plain = _words(text) + " " + text
        zero = "gauge" if re.search(_GAUGE, plain) else None
        zero = "absolute" if re.search(_ABSOLUTE, plain) or role == "baro" else zero
    first = next(iter(UNITS[KIND[role]]))
    return Channel(place, said or first, zero, unit_assumed=said is None)


def unit_in(head: str, kind: str) -> str | None:
    """The unit named in a column's head: in brackets, or as its last word.

    >>> unit_in("Boost (psig)", "pressure"), unit_in("map_kpa", "pressure"), unit_in("rpm", "rpm")
    ('psi', 'kPa', 'rpm')
    """
    bracketed = re.findall(r"[\[(]\s*([^\[\]()]+?)\s*[\])]", head)
    loose = re.split(r"[\s_\[\]()]+", head)
    for text in [*reversed(bracketed), *reversed(loose)]:
        for part in (text, *text.split()):
            unit = _SPELLINGS.get(part.strip().lower())
            if unit in UNITS[kind]:
                return unit
    return None


@cache
def _heads() -> tuple[tuple[Role, str, str], ...]:
    """What heads hold and do not hold, by role, in all languages the words of the data are in."""
    words = tomllib.loads(_WORDS.read_text("utf-8"))
    others = "|".join(words["not"])
    found = []
    for role, wanted, unwanted in _HEADS:
        spoken = "|".join(words.get(role, ()))
        wanted = rf"{wanted}|\b({spoken})" if spoken else wanted
        # the time stands for itself; of all else something wanted or set may be meant
        found.append((role, wanted, unwanted if role == "time" else rf"{unwanted}|{others}"))
    return tuple(found)


def _words(head: str) -> str:
    """A head in small letters with everything but letters, digits and / as spaces, accents left out."""
    head = unicodedata.normalize("NFKD", head.replace("ł", "l").replace("Ł", "L"))
    head = "".join(letter for letter in head if not unicodedata.combining(letter))
    head = re.sub(r"[\[(][^\])]*[\])]", " ", head)  # a unit makes no role
    apart = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", head)
    return " ".join(re.sub(r"[^a-z0-9/%]+", " ", apart.lower()).split())


def _role_named(text: str) -> Role | None:
    return next((role for role in ROLES if role == text.strip().lower()), None)


def with_named(
    channels: Mapping[Role, Channel], heads: Sequence[str], units: Sequence[str], named: str
) -> dict[Role, Channel]:
    """The channels with some columns named by the user: ``time=Time,boost=MAP@psi-absolute``.

    A column is named by its head (with or without unit, in any case) or its number from 1. Raises
    LogError when a role, column or unit is not known.
    """
    found = dict(channels)
    for part in filter(None, (text.strip() for text in named.split(","))):
        role_text, equals, rest = part.partition("=")
        role = _role_named(role_text) if equals else None
        if role is None:
            raise LogError(f"“{part}” names no channel; use {', '.join(ROLES)}, as in rpm=Engine")
        if role == "time" and _RATE.fullmatch(rest.strip()):
            found["time"] = Channel(_NO_COLUMN, f"{_rate_hz(rest):g} Hz")
            continue
        name, _, measured = rest.partition("@")
        place = _column_named(heads, name.strip())
        # a column is one thing: what it was taken for before, it is not
        found = {r: other for r, other in found.items() if other.column != place}
        channel = channel_of(role, place, heads[place], units[place])
        found[role] = _measured_in(channel, role, measured.strip()) if measured else channel
    return found


def _rate_hz(typed: str) -> float:
    """A typed rate of samples, Hz. Raises LogError."""
    try:
        return parse(typed, TONE)
    except UnitError as error:
        raise LogError(str(error)) from None


def _column_named(heads: Sequence[str], name: str) -> int:
    if name.isdigit() and 1 <= int(name) <= len(heads):
        return int(name) - 1
    bare = [re.sub(r"[\[(].*", "", head).strip().lower() for head in heads]
    for names in ([head.strip().lower() for head in heads], bare, [_words(head) for head in heads]):
        if name.lower() in names:
            return names.index(name.lower())
    shown = ", ".join(heads[:12]) + (" …" if len(heads) > 12 else "")
    raise LogError(f"the log has no column “{name}”; it has {shown}")


def _measured_in(channel: Channel, role: Role, measured: str) -> Channel:
    unit_text, _, zero_text = measured.partition("-")
    kind = KIND[role]
    unit = _SPELLINGS.get(unit_text.lower())
    if unit not in UNITS[kind]:
        raise LogError(f"“{unit_text}” is not a unit for {role}; use {', '.join(UNITS[kind])}")
    channel = replace(channel, unit=unit, unit_assumed=False)
    if not zero_text:
        return channel
    zeros: dict[str, Zero] = {"gauge": "gauge", "absolute": "absolute", "abs": "absolute"}
    if zero_text not in zeros or kind != "pressure":
        raise LogError(f"“{zero_text}” is not a zero for {role}; pressures are gauge or absolute")
    return replace(channel, zero=zeros[zero_text], zero_assumed=False)
