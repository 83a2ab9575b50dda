"""At the belt counter, without any layout: what one reading means to ask for (docs/METHOD.md, 13).

A reading of an old belt, or of the pulleys with the adjuster where it should rest; or what is left of a
number. Lines that run a distance apart differ by 2π times it, whatever the layout.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise, product
from math import hypot, pi
from typing import Literal

from jovial_tack.answers.belt.buying import BeltChoice
from jovial_tack.answers.belt.measured import WAYS, Way, check_line, string_in
from jovial_tack.catalogue import Catalogue, Profile
from jovial_tack.core.belt.lines import effective_length
from jovial_tack.core.belt.numbers import TOP_WIDTHS_MM, Reading, elsewhere, read_number
from jovial_tack.core.belt.tried import Came, TriedBelt, right_length
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.core.words import sentence
from jovial_tack.document.model import Drive

#: A number in inches is rounded to a tenth.
_ROUNDED_MM = 2.6
#: The most digits that may be worn off a number.
_MOST_WORN = 3
_MOST_MM = 100_000.0
#: How far a top width may be worn or misread, mm.
_WIDTH_NEAR_MM = 0.8
#: Wrap of a pulley on the belt's back, rad, where it is not known, and one standard deviation.
_BACK_WRAP, _BACK_WRAP_SIGMA = 1.0, 0.5
#: A belt rests at about this share of the most it may be set to, and that is as well known.
_SHARE_OF_MOST = 0.6

#: What came of a belt, as it is said; and how far an adjuster takes up what is off (rep.).
_CAME = re.compile(r"\b(too long|long|loose|too short|short|tight|fits|fit|right|ok)\b", re.I)
_CAME_OF: dict[str, Came] = {
    "long": "long", "too long": "long", "loose": "long",
    "short": "short", "too short": "short", "tight": "short",
    "fits": "fits", "fit": "fits", "right": "fits", "ok": "fits",
}  # fmt: skip
_TAKEN_UP_MM = 4.0

CounterWay = Way | Literal["length"]
#: Every way, the one that needs no reading of one's own first.
COUNTER_WAYS: tuple[CounterWay, ...] = ("length", *WAYS)


class Numbered(Value, frozen=True):
    """A stocked belt by its usual number and in the other schemes; off_mm: from what was read."""

    number: str
    elsewhere: tuple[tuple[str, str], ...]
    effective_length_mm: float
    off_mm: float


class ToAskFor(Value, frozen=True):
    """What to ask for: the nearest stocked belt, the second choice, and what is another belt.

    length_mm: effective, as read; sigma_mm: one standard deviation; steps: how it was found.
    """

    profile: str
    width: str
    length_mm: float
    sigma_mm: float
    first: Numbered
    second: Numbered | None
    not_to_take: tuple[str, ...]
    steps: tuple[str, ...]


def profiles_of(
    catalogue: Catalogue, ribs: int | None, width_mm: float | None, profile: str | None
) -> tuple[tuple[Profile, int], ...]:
    """Which belts ribs or a top width mean: (profile, ribs), several where the width does not tell.

    Raises GeometryError that says what would.
    """
    if profile is not None:
        found = next(
            (p for n, p in catalogue.profiles.items() if n.upper() == profile.upper()), None
        )
        if found is None:
            raise GeometryError(
                f"no profile “{profile[:20]}”; there are {', '.join(catalogue.profiles)}"
            )
        if found.section == "toothed":
            if width_mm is None:
                raise GeometryError("a toothed belt is asked for with its width")
            return ((found, max(1, round(width_mm))),)
        if found.section == "ribbed" and ribs is None:
            raise GeometryError("a ribbed belt is asked for with its ribs; count them")
        return ((found, ribs or 1),)
    if ribs is not None:
        if not 1 <= ribs <= 30:
            raise GeometryError("a ribbed belt has 1 to 30 ribs")
        return ((catalogue.profiles["PK"], ribs),)
    if width_mm is None:
        raise GeometryError("count the ribs, or measure the top width of a V-belt")
    near = [
        name
        for name, wide in TOP_WIDTHS_MM.items()
        if name in catalogue.profiles and abs(wide - width_mm) <= _WIDTH_NEAR_MM
    ]
    if not near:
        known = ", ".join(f"{wide:g}" for wide in sorted(TOP_WIDTHS_MM.values()))
        raise GeometryError(f"no V-belt has a top width of {width_mm:g} mm; there are {known} mm")
    near.sort(key=lambda name: abs(TOP_WIDTHS_MM[name] - width_mm))
    return tuple((catalogue.profiles[name], 1) for name in near)


def at_the_counter(
    catalogue: Catalogue,
    kind: tuple[Profile, int],
    way: CounterWay,
    reading_mm: float,
    *,
    thick_mm: float = 0.0,
    on_the_back: int = 0,
    unit: str = "mm",
) -> ToAskFor:
    """What a reading means to ask for.

    Parameters: profile and ribs; the way ("length": as it is sold, on the line its number counts); the
    reading, mm (of teeth: their count); thickness of the tape or diameter of the string, mm; how many
    pulleys run on the belt's back, which a tape or string lies nearer to than the belt. Raises
    GeometryError where the reading has no meaning.
    """
    profile, ribs = kind
    if not 0 < reading_mm <= _MOST_MM:
        raise GeometryError(f"a reading must be above zero and at most {_MOST_MM:.0f} mm")
    length, sigma, steps = _effective(
        catalogue, profile, ribs, way, reading_mm, thick_mm, on_the_back, unit
    )
    stocked = _stocked(catalogue, profile, ribs, length, unit)
    steps = (*steps, f"effective length {format_length(length, unit)}")
    told = not_to_take(profile, ribs)
    second = stocked[1] if len(stocked) > 1 else None
    wide = profile.counted(ribs)
    return ToAskFor(profile.name, wide, length, sigma, stocked[0], second, told, steps)


def _effective(
    catalogue: Catalogue,
    profile: Profile,
    ribs: int,
    way: CounterWay,
    reading_mm: float,
    thick_mm: float,
    on_the_back: int,
    unit: str,
) -> tuple[float, float, tuple[str, ...]]:
    """The effective length a reading means, its standard deviation, and how."""
    construction = catalogue.constructions[profile.name]["standard"]
    to_cord = profile.effective_to_cord_mm
    reference = profile.reference_tension_n_per_rib / construction.stiffness_n_per_rib
    rests = _SHARE_OF_MOST * construction.most_tension_n_per_rib / construction.stiffness_n_per_rib
    stretch = rests - reference  # of a belt at rest against one at its reference pull
    unsure = abs(stretch) * reading_mm
    if way == "length":
        length = reading_mm - profile.number_offset_mm
        line = profile.number_line
        return length, 0.0, () if line == "effective" else (f"sold by its {line} length",)
    free = WAYS[way].sigma_mm
    if way == "teeth":
        if profile.tooth_pitch_mm is None:
            raise GeometryError("teeth are counted on toothed belts only")
        pitch_length = round(reading_mm) * profile.tooth_pitch_mm
        step = f"{round(reading_mm)} teeth are {format_length(pitch_length, unit)} of pitch length"
        return effective_length(pitch_length, to_cord), 0.0, (step,)
    if way == "fixture":
        return reading_mm, free, ("a fixture reads the effective length at the reference pull",)
    if way == "flat":
        cord = reading_mm * (1 + reference)
        return (
            effective_length(cord, to_cord),
            free,
            ("laid flat a cut belt shows its cord, slack",),
        )
    if way == "outside":
        cord = (reading_mm - 2 * pi * profile.cord_to_back_mm) / (1 + stretch)
        apart = format_length(2 * pi * profile.cord_to_back_mm, unit)
        step = f"the back is {apart} longer than the cord, and in place the belt is stretched"
        return effective_length(cord, to_cord), hypot(free, unsure), (step,)
    above = _above_effective(profile, way, thick_mm)
    nearer = thick_mm / 2 - (profile.cord_to_back_mm + to_cord)  # than the belt, on its back
    wraps = on_the_back * _BACK_WRAP
    path = reading_mm - 2 * pi * above - wraps * (above + nearer)
    length = effective_length((path + 2 * pi * to_cord) / (1 + stretch), to_cord)
    back = on_the_back**0.5 * _BACK_WRAP_SIGMA * abs(above + nearer)
    how = "over the rims" if way == "rims" else "round the pulleys"
    steps: tuple[str, ...] = (
        f"{how} the line lies {format_length(above, unit)} above the belt's effective line",
    )
    if on_the_back:
        steps += (
            f"{on_the_back} on the belt's back are taken with {_BACK_WRAP:g} rad of wrap each",
        )
    return length, hypot(free, unsure, back), steps


def _above_effective(profile: Profile, way: CounterWay, thick_mm: float) -> float:
    """How far the centre of a tape or string lies above the effective line, mm."""
    check_line(profile, way, thick_mm)
    return -string_in(profile, thick_mm) if way == "string" else thick_mm / 2


def _stocked(
    catalogue: Catalogue, profile: Profile, ribs: int, length_mm: float, unit: str
) -> tuple[Numbered, ...]:
    """The stocked belts nearest to a length, the nearest first."""
    lengths: Sequence[float] = catalogue.lengths.get(profile.name, ())
    if not lengths:
        raise GeometryError(f"no stocked lengths of {profile.name} are known")
    step = max(b - a for a, b in pairwise(lengths))
    near = sorted(lengths, key=lambda length: abs(length - length_mm))[:2]
    if abs(near[0] - length_mm) > step:
        first, last = (format_length(end, unit) for end in (lengths[0], lengths[-1]))
        raise GeometryError(f"{profile.name} belts are stocked from {first} to {last}")
    return tuple(numbered(profile, ribs, length, length_mm) for length in near)


def numbered(profile: Profile, ribs: int, length_mm: float, wanted_mm: float) -> Numbered:
    """A belt of an effective length by its numbers, and what it is off from a length wanted."""
    usual = profile.number(ribs, length_mm)
    readings = [r for r in read_number(usual) if r.profile == profile.name]
    others = elsewhere(readings[0]) if readings else {}
    return Numbered(usual, tuple(others.items()), length_mm, length_mm - wanted_mm)


def not_to_take(profile: Profile, ribs: int) -> tuple[str, ...]:
    """What looks alike and is another belt."""
    grade = "one with another suffix or grade (stretch, soft and low-stretch belts are others)"
    if profile.section == "ribbed":
        wide = f"{ribs - 1} or {ribs + 1} ribs" if ribs > 1 else "2 ribs"
        sides = "a single-sided belt" if profile.name == "DPK" else "a double-sided belt"
        return (wide, sides, grade)
    if profile.section == "v":
        alike = [name for name in TOP_WIDTHS_MM if name != profile.name]
        return (f"{', '.join(alike)}, whose width or angle is another", grade)
    return ("another form of tooth of the same pitch", "another width", grade)


def worn_number(
    catalogue: Catalogue, text: str, ribs: int | None = None, width_mm: float | None = None
) -> tuple[Numbered, ...]:
    """The stocked belts a half worn number may have been; “?” for each digit that is gone.

    ribs and width: what is seen on the belt itself. Raises GeometryError where too much is gone or
    nothing stocked fits.
    """
    gone = text.count("?")
    if not gone:
        raise GeometryError("type ? for each digit that is gone, such as 6PK18?5")
    if gone > _MOST_WORN:
        raise GeometryError(f"{gone} digits gone are too many; measure the belt instead")
    parts = text.split("?")
    found: dict[str, Numbered] = {}
    for digits in product("0123456789", repeat=gone):
        tried = "".join(a + b for a, b in zip(parts, (*digits, ""), strict=True))
        for reading in read_number(tried):
            belt = _seen(catalogue, reading, ribs, width_mm)
            if belt is not None:
                found[belt.number] = belt
    if not found:
        raise GeometryError(f"no stocked belt reads “{text[:40]}”; look at the digits again")
    return tuple(sorted(found.values(), key=lambda belt: belt.effective_length_mm))


def _is_as_wide(profile: Profile, width_mm: float) -> bool:
    """Whether a belt's top may have been measured as so wide."""
    wide = TOP_WIDTHS_MM.get(profile.name)
    return wide is not None and abs(wide - width_mm) <= _WIDTH_NEAR_MM


def _seen(
    catalogue: Catalogue, reading: Reading, ribs: int | None, width_mm: float | None
) -> Numbered | None:
    """The stocked belt of a reading, if it is one and looks like what is seen."""
    profile = catalogue.profiles.get(reading.profile or "")
    if profile is None or (ribs is not None and reading.ribs != ribs):
        return None
    if width_mm is not None and not _is_as_wide(profile, width_mm):
        return None
    count = reading.ribs or max(1, round(reading.width_mm or 1) if profile.tooth_pitch_mm else 1)
    length = reading.length_mm - profile.number_offset_mm
    lengths = catalogue.lengths.get(profile.name, ())
    nearest = min(lengths, key=lambda stocked: abs(stocked - length), default=None)
    if nearest is None or abs(nearest - length) > _ROUNDED_MM:
        return None
    return numbered(profile, count, nearest, length)


def is_of_belts_tried(text: str) -> bool:
    """Whether a text tells what came of belts: “6PK1610 short, 6PK1615 fits, 6PK1625 long”."""
    return any(_CAME.search(part) for part in text.split(","))


def from_belts_tried(catalogue: Catalogue, text: str, unit: str = "mm") -> ToAskFor:
    """What belts that were tried mean to ask for. Raises GeometryError in one sentence."""
    tried, kinds = [], []
    for part in filter(None, (piece.strip() for piece in text.split(","))):
        came = _CAME.search(part)
        number = _CAME.sub("", part).strip(" :-")
        if came is None:
            raise GeometryError(f"say of “{part[:40]}” whether it was long, short, or fits")
        readings = [r for r in read_number(number) if r.profile in catalogue.profiles]
        if not readings:
            raise GeometryError(f"“{number[:40]}” is no belt number that is known")
        reading = readings[0]
        profile = catalogue.profiles[reading.profile or ""]
        ribs = reading.ribs or max(1, round(reading.width_mm or 1) if profile.tooth_pitch_mm else 1)
        kinds.append((profile, ribs))
        word = came[1].lower()
        tried.append(TriedBelt(reading.length_mm - profile.number_offset_mm, _CAME_OF[word]))
    if not tried:
        raise GeometryError("tell the belts that were tried, such as 6PK1610 short, 6PK1625 long")
    if len({profile.name for profile, _ in kinds}) > 1:
        raise GeometryError("the belts are of different profiles; those of one drive are alike")
    longest_short = max((b.length_mm for b in tried if b.came == "short"), default=0.0)
    shortest_long = min((b.length_mm for b in tried if b.came == "long"), default=_MOST_MM)
    if longest_short >= shortest_long:
        raise GeometryError("the belt that was too long is no longer than one that was too short")
    profile, ribs = kinds[0]
    usual = sum(belt.length_mm for belt in tried) / len(tried)
    sold = catalogue.limits.belt_length_tolerance / 2 * usual
    length, sigma = right_length(tried, sold, _TAKEN_UP_MM)
    stocked = _stocked(catalogue, profile, ribs, length, unit)
    count = "1 belt" if len(tried) == 1 else f"{len(tried)} belts"
    step = f"by {count} tried the right one is {format_length(length, unit)} effective"
    second = stocked[1] if len(stocked) > 1 else None
    told = not_to_take(profile, ribs)
    wide = profile.counted(ribs)
    return ToAskFor(profile.name, wide, length, sigma, stocked[0], second, told, (step,))


def counter_lines(found: ToAskFor, unit: str = "mm") -> tuple[str, ...]:
    """What to ask for, in sentences."""
    lines = [sentence(step) for step in found.steps]
    if found.sigma_mm:
        lines[-1] = f"{lines[-1][:-1]}, known to ±{format_length(2 * found.sigma_mm, unit)}."
    lines.append(f"Ask for {in_schemes(found.first, unit)} ({_off(found.first, unit)}).")
    if found.second is not None:
        lines.append(
            f"Second choice: {in_schemes(found.second, unit)} ({_off(found.second, unit)})."
        )
    lines.append(f"Do not take: {'; '.join(found.not_to_take)}.")
    return tuple(lines)


def in_schemes(belt: Numbered, unit: str) -> str:
    """Its number in the scheme of the unit shown, and in the others."""
    names = [belt.number, *(name for _, name in belt.elsewhere)]
    if unit == "in":
        inch = [name for scheme, name in belt.elsewhere if scheme.endswith("inches")]
        names = list(dict.fromkeys([*inch, *names]))
    return f"{names[0]}, also called {' or '.join(names[1:])}" if len(names) > 1 else names[0]


def _off(belt: Numbered, unit: str) -> str:
    if abs(belt.off_mm) < 0.05:
        return "as read"
    return f"{format_length(abs(belt.off_mm), unit)} {'longer' if belt.off_mm > 0 else 'shorter'}"


def asked_for(
    choice: BeltChoice, drive: Drive, catalogue: Catalogue, order_mm: float, unit: str
) -> str:
    """The stocked belt nearest to a length a drive should be given, in all schemes; "" without one."""
    stocked = [belt for belt in choice.candidates if belt.count != 0]
    if not stocked:
        return ""
    nearest = min(stocked, key=lambda belt: abs(belt.effective_length_mm - order_mm))
    profile = catalogue.profiles[drive.belt.profile]
    belt = numbered(profile, drive.belt.ribs, nearest.effective_length_mm, order_mm)
    told = in_schemes(belt, unit)
    return told if nearest.number in told else f"{nearest.number}, the same as {told}"
