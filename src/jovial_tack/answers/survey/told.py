"""What a survey tells: places, how well they are known, readings that do not fit, the next to take."""

from __future__ import annotations

from collections.abc import Mapping
from math import degrees, sqrt
from statistics import NormalDist

import numpy as np

from jovial_tack.answers.drive.planes import sd_of
from jovial_tack.answers.drive.surveyed import Surveyed, label_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.survey.adjusting import Adjusted, Ellipse
from jovial_tack.core.survey.doubting import (
    UNCHECKED,
    Doubt,
    least_blunder_seen,
    predicted,
    redundancy_of,
    standardised_of,
)
from jovial_tack.core.survey.net import Kind, is_level
from jovial_tack.core.survey.next_reading import NextReading, length_sd, next_reading
from jovial_tack.core.units import ANGLE, format_length, written_in
from jovial_tack.core.value import Value, replace
from jovial_tack.document import model as doc

_DISAGREE = 0.01
_UNKNOWN_MM = 100.0  # a belt's length known no better is not known


class ToldShaft(Value, frozen=True):
    """A shaft, or a point of the survey: where it is, mm, and how well that is known.

    sd_mm, ellipse: None where it is not determined. moved_mm: how far from where it is drawn; also:
    other places the readings allow as well.
    """

    name: str
    label: str
    center_mm: doc.Point
    sd_mm: tuple[float, float] | None
    ellipse: Ellipse | None
    determined: bool
    weak: bool
    read: bool
    moved_mm: float
    also: tuple[doc.Point, ...] = ()


class ToldReading(Value, frozen=True):
    """A reading of the survey, by its place there.

    residual: what was read less what the others make of it, mm or degrees (is_angle); standardised:
    over what is usual for it. is_place: of a known place or a bolt pattern, which is no single figure.
    checked: whether others tell it too. doubt: why it does not fit; problem:
    why it is not used.
    """

    place: int
    words: str
    read: str
    sd: str
    is_angle: bool
    residual: float | None = None
    standardised: float | None = None
    redundancy: float | None = None
    checked: bool = False
    least_blunder_seen: float | None = None
    doubt: Doubt | None = None
    alike: tuple[int, ...] = ()
    problem: str = ""
    set_aside: bool = False
    is_place: bool = False


class ToldNext(Value, frozen=True):
    """The reading that would help most: what it is, of what, in words; sd in mm or degrees."""

    kind: Kind
    names: tuple[str, ...]
    words: str
    how: str
    sd: float
    diameters_mm: tuple[float, ...]
    length_sd_mm: tuple[tuple[float, ...], tuple[float, ...]]
    parts: bool


class ToldPlane(Value, frozen=True):
    """The plane of a pulley by depths and steps, mm; sd_mm None where no depth ties it to the face."""

    drive: str
    pulley: str
    z_mm: float
    sd_mm: float | None


class ToldSurvey(Value, frozen=True):
    """All that a survey tells. drives: of each drive its name and one standard deviation of its belt's
    length by where the shafts are, mm. chance: of readings that disagree as much by luck alone.
    """

    shafts: tuple[ToldShaft, ...]
    readings: tuple[ToldReading, ...]
    next: ToldNext | None
    drives: tuple[tuple[str, float], ...]
    chi2: float
    dof: int
    chance: float | None
    turn_free: bool
    planes: tuple[ToldPlane, ...] = ()

    @property
    def suspects(self) -> tuple[ToldReading, ...]:
        """The readings that do not fit."""
        return tuple(reading for reading in self.readings if reading.doubt is not None)

    @property
    def loose(self) -> tuple[ToldShaft, ...]:
        """Shafts that have readings and are not determined by them."""
        return tuple(shaft for shaft in self.shafts if not shaft.determined)

    @property
    def disagree(self) -> bool:
        """Whether the readings disagree more than their ±."""
        return self.chance is not None and self.chance < _DISAGREE


def tell_survey(
    build: doc.Build, catalogue: Catalogue, found: Surveyed, *, ahead: bool = True
) -> ToldSurvey:
    """Put what a survey says into figures and words. ahead: look for the next reading too."""
    adjusted = found.doubted.adjusted
    lengths = {name: length_sd(adjusted, along) for name, along in found.lengths.items()}
    dof = adjusted.dof
    return ToldSurvey(
        tuple(_shaft(build, found, k) for k in range(len(found.built.names))),
        _readings(build, catalogue, found),
        _next(build, catalogue, found) if ahead else None,
        tuple(lengths.items()),
        adjusted.chi2,
        dof,
        chance_of(adjusted.chi2, dof),
        adjusted.turn_free and bool(adjusted.net.readings),
        _planes(found),
    )


def chance_of(chi2: float, dof: int) -> float | None:
    """The chance of a sum of squares as great by luck alone; None without a figure to spare.

    Source: E. B. Wilson, M. M. Hilferty (1931).

    >>> round(chance_of(18.307, 10), 3), chance_of(0.0, 0)
    (0.05, None)
    """
    if dof < 1:
        return None
    cube = (chi2 / dof) ** (1 / 3)
    away = (cube - (1 - 2 / (9 * dof))) / sqrt(2 / (9 * dof))
    return 1.0 - NormalDist().cdf(away)


def _shaft(build: doc.Build, found: Surveyed, place: int) -> ToldShaft:
    adjusted, name = found.doubted.adjusted, found.built.names[place]
    at = complex(found.places[place])
    determined = bool(adjusted.determined[place])
    read = any(place in reading.points for reading in adjusted.net.readings)
    fixed = place == adjusted.net.fixed
    both = adjusted.covariance[2 * place : 2 * place + 2, 2 * place : 2 * place + 2]
    sure = determined and (read or fixed)
    ellipse = adjusted.ellipses[place] if sure else None
    others = [complex(other[place]) for other in adjusted.also]
    apart = [other for other in others if abs(other - at) > 1.0]
    return ToldShaft(
        name,
        label_of(build, name),
        (at.real, at.imag),
        (sqrt(both[0, 0]), sqrt(both[1, 1])) if sure else None,
        ellipse,
        sure,
        bool(adjusted.weak[place]) and sure,
        read or fixed,
        abs(at - complex(adjusted.net.start[place])),
        tuple((other.real, other.imag) for other in apart),
    )


def reading_words(build: doc.Build, catalogue: Catalogue, reading: doc.AnyReading) -> str:
    """What a reading is of: “Crank – Alternator, over both rims”."""
    kind = catalogue.readings[reading.type].label
    kind = kind[0].lower() + kind[1:]
    if isinstance(reading, doc.DepthReading):
        return f"{_pulley_label(build, reading.pulley)}, {kind}"
    if isinstance(reading, doc.StepReading):
        return f"{' – '.join(_pulley_label(build, p) for p in reading.pulleys)}, {kind}"
    if isinstance(reading, doc.BeltReading):
        event = next((e for e in build.logbook.events if e.id == reading.event), None)
        drive = reading.drive or (event.drive if event is not None else None)
        model = build.find_drive(drive) if drive is not None else None
        return f"{model.label if model is not None else drive or reading.event}, {kind}"
    names = [label_of(build, name) for name in reading.shafts]
    return f"{' – '.join(names)}, {kind}"


def read_words(build: doc.Build, reading: doc.AnyReading) -> str:
    """What was read, in the build's unit."""
    unit = build.display_units
    if isinstance(reading, doc.AngleReading):
        return written_in(reading.value_deg, ANGLE, unit)
    if isinstance(reading, doc.AtReading):
        return ", ".join(format_length(mm, unit) for mm in reading.at_mm)
    if isinstance(reading, doc.PatternReading):
        return f"{len(reading.coordinates_mm)} holes"
    if isinstance(reading, doc.BeltReading):
        length = reading.effective_length_mm
        if length is None:
            event = next((e for e in build.logbook.events if e.id == reading.event), None)
            length = None if event is None else event.effective_length_mm
        said = "" if length is None else format_length(length, unit)
        verdict = {"long": "too long", "short": "too short"}.get(reading.verdict or "", "")
        return f"{said} {verdict}".strip()
    return format_length(reading.value_mm, unit)


def _pulley_label(build: doc.Build, name: tuple[str, str]) -> str:
    drive = build.find_drive(name[0])
    pulley = next((p for p in drive.pulleys if p.id == name[1]), None) if drive else None
    if drive is None or pulley is None:
        return name[1]
    shaft = build.shaft(pulley.shaft).label
    several = sum(pulley.shaft == p.shaft for d in build.drives for p in d.pulleys) > 1
    return f"{shaft} ({drive.label})" if several else shaft


def _readings(build: doc.Build, catalogue: Catalogue, found: Surveyed) -> tuple[ToldReading, ...]:
    doubted, built = found.doubted, found.built
    doubts = {built.of[each.reading]: each for each in doubted.doubts}
    figures = _figures(found)
    told = []
    for place, reading in enumerate(build.survey.readings):
        doubt = doubts.get(place)
        is_angle = isinstance(reading, doc.AngleReading)
        sd = sd_of(reading, build.survey, catalogue)
        written = written_in(sd, ANGLE, build.display_units) if is_angle else ""
        base = ToldReading(
            place,
            reading_words(build, catalogue, reading),
            read_words(build, reading),
            written or format_length(sd, build.display_units),
            is_angle,
            doubt=_in_degrees(doubt) if doubt is not None and is_angle else doubt,
            alike=() if doubt is None else tuple(built.of[k] for k in doubt.alike),
            problem=found.problems.get(place, ""),
            set_aside=reading.set_aside,
            is_place=isinstance(reading, doc.AtReading | doc.PatternReading),
        )
        told.append(_with_figures(base, figures.get(place), is_angle=is_angle))
    return tuple(told)


def _in_degrees(doubt: Doubt) -> Doubt:
    return replace(doubt, would_read=degrees(doubt.would_read), sd=degrees(doubt.sd))


class _Figures(Value, frozen=True):
    residual: float
    standardised: float | None
    redundancy: float | None
    seen: float | None


def _figures(found: Surveyed) -> Mapping[int, _Figures]:
    """Residual, standardised residual, redundancy and least blunder seen, by place in the survey."""
    doubted, built = found.doubted, found.built
    adjusted, told = doubted.adjusted, {}
    worst, spare = standardised_of(adjusted), redundancy_of(adjusted)
    for k, own in enumerate(doubted.used):
        rows = np.flatnonzero(adjusted.of == k)
        row = rows[int(np.argmax(np.abs(adjusted.off[rows])))]
        reading = adjusted.net.readings[k]
        told[built.of[own]] = _Figures(
            -float(adjusted.off[row]) * reading.sd,
            float(worst[k]),
            float(spare[k]),
            least_blunder_seen(reading, float(spare[k])),
        )
    for k, reading in enumerate(built.net.readings):
        if k not in doubted.used:
            away, sd = predicted(reading, adjusted)
            told[built.of[k]] = _Figures(away, away / np.hypot(sd, reading.sd), None, None)
    if found.planes is not None:
        heights = found.planes.heights
        for k, place in enumerate(found.planes.of):
            told[place] = _Figures(float(heights.off[k]), None, float(heights.redundancy[k]), None)
    return told


def _with_figures(base: ToldReading, figures: _Figures | None, *, is_angle: bool) -> ToldReading:
    if figures is None:
        return base
    scale = degrees(1.0) if is_angle else 1.0
    spare = figures.redundancy
    return replace(
        base,
        residual=figures.residual * scale,
        standardised=figures.standardised,
        redundancy=spare,
        checked=spare is None or spare >= UNCHECKED,
        least_blunder_seen=None if figures.seen is None else figures.seen * scale,
    )


def _next(build: doc.Build, catalogue: Catalogue, found: Surveyed) -> ToldNext | None:
    adjusted, built = found.doubted.adjusted, found.built
    kinds = catalogue.readings
    leveled = any(map(is_level, adjusted.net.readings))
    tapes: dict[Kind, float] = {"distance": kinds["distance"].sd_mm}
    if leveled:
        tapes |= {"dx": kinds["dx"].sd_mm, "dy": kinds["dy"].sd_mm}
    best = next_reading(adjusted, tuple(found.lengths.values()), tapes)
    if best is None and adjusted.turn_free and adjusted.net.readings:
        best = _to_level(adjusted, kinds["dy"].sd_mm)
    if best is None:
        return None
    return _told_next(build, catalogue, built.names, built.rims, best)


def _to_level(adjusted: Adjusted, sd: float) -> NextReading | None:
    """A reading against the level, where nothing tells how the whole net is turned."""
    fixed, places = adjusted.net.fixed, adjusted.places
    others = np.flatnonzero(adjusted.determined & (np.arange(places.size) != fixed))
    if fixed is None or not others.size:
        return None
    # the farther to the side, the better its height tells the turn
    far = int(others[np.argmax(np.abs((places[others] - places[fixed]).real))])
    return NextReading("dy", (fixed, far), sd, ((), ()))


def _told_next(
    build: doc.Build,
    catalogue: Catalogue,
    names: tuple[str, ...],
    rims: Mapping[int, float],
    best: NextReading,
) -> ToldNext:
    kind: Kind = best.kind
    over = kind == "distance" and all(point in rims for point in best.points)
    if over:
        kind = "outside"  # the same distance, and rims are found more surely than centres
    row = catalogue.readings[kind]
    labels = " – ".join(label_of(build, names[point]) for point in best.points)
    return ToldNext(
        kind,
        tuple(names[point] for point in best.points),
        f"{labels}, {row.label[0].lower()}{row.label[1:]}",
        row.how,
        row.sd_mm,
        tuple(rims[point] for point in best.points) if over else (),
        best.length_sd_mm,
        best.parts,
    )


def _planes(found: Surveyed) -> tuple[ToldPlane, ...]:
    if found.planes is None:
        return ()
    heights = found.planes.heights
    return tuple(
        ToldPlane(
            drive,
            pulley,
            float(heights.z[k]),
            sqrt(heights.covariance[k, k]) if heights.known[k] else None,
        )
        for k, (drive, pulley) in enumerate(found.planes.names)
    )


def doubt_words(build: doc.Build, told: ToldSurvey, reading: ToldReading) -> str:
    """One sentence of a reading that does not fit: what it would have to read, and why it may not."""
    doubt = reading.doubt
    assert doubt is not None
    unit = build.display_units
    within = _written(doubt.sd, reading, unit)
    if reading.is_place:
        off = format_length(abs(reading.residual or 0.0), unit)
        would = f"the others put it {off} elsewhere, ± {within}"
    else:
        would = f"the others make it {_written(doubt.would_read, reading, unit)} ± {within}"
    said = f"{reading.words}: {reading.read} does not fit; {would}"
    if reading.alike:
        others = " or ".join(f"“{told.readings[k].words}”" for k in reading.alike)
        said = (
            f"{reading.words} ({reading.read}) or {others} does not fit: take them again; for the first"
            f" {would}"
        )
    if doubt.reasons:
        said += f"; perhaps {', or '.join(doubt.reasons)}"
    return said


def _written(value: float, reading: ToldReading, unit: str) -> str:
    if reading.is_angle:
        return written_in(value, ANGLE, unit)
    return format_length(value, unit)


def next_words(build: doc.Build, told: ToldSurvey) -> str:
    """One sentence of the reading to take next; "" where none would help."""
    if told.next is None:
        return ""
    said = f"Next: {told.next.words}"
    if told.turn_free and is_level_kind(told.next.kind):
        said += ", which tells how all of it is turned"
    if told.next.parts:
        said += ", which tells the two arrangements apart"
    now, then = told.next.length_sd_mm
    if now:
        worst = int(np.argmax(np.array(now) - np.array(then)))
        name = build.drive(told.drives[worst][0]).label
        unit = build.display_units
        if then[worst] > _UNKNOWN_MM:
            return f"{said}."  # of the length nothing is known yet, whatever this adds
        before = "" if now[worst] > _UNKNOWN_MM else f", now ± {format_length(now[worst], unit)}"
        said += (
            f": the length of {name} is then known to ± {format_length(then[worst], unit)}{before}"
        )
    return f"{said}."


def is_level_kind(kind: str) -> bool:
    """Whether a reading of a kind is taken against the level."""
    return kind in ("dx", "dy", "angle")


def survey_words(build: doc.Build, told: ToldSurvey) -> list[str]:
    """What is to be said of a survey as a whole, the gravest first."""
    lines = [f"{doubt_words(build, told, reading)}." for reading in told.suspects]
    also = [shaft.label for shaft in told.shafts if shaft.also]
    if also:
        lines.append(
            f"{_and(also)} may also stand elsewhere: the readings fit both ways. Click one of the"
            " dashed ones in the view, or take a reading that tells."
        )
    if told.disagree and not told.suspects:
        lines.append(
            "The readings disagree more than their ± allows, and none stands out: is each ± as told?"
        )
    missing = [shaft.label for shaft in told.shafts if not shaft.read]
    loose = [shaft.label for shaft in told.loose if shaft.read]
    if told.turn_free:
        lines.append("No reading tells how all of it is turned: it stays turned as drawn.")
    if loose:
        lines.append(f"Not determined yet: {_and(loose)}.")
    if missing:
        lines.append(f"Without a reading yet: {_and(missing)}.")
    weak = [shaft.label for shaft in told.shafts if shaft.weak]
    if weak:
        lines.append(f"Known worse than to a centimetre: {_and(weak)}.")
    unchecked = sum(not r.checked and r.residual is not None for r in told.readings)
    if unchecked and not told.suspects:
        one = "1 reading is" if unchecked == 1 else f"{unchecked} readings are"
        lines.append(f"{one} checked by no other (?): a slip there would not be seen.")
    return lines


def _and(names: list[str]) -> str:
    shown = names if len(names) <= 4 else [*names[:3], f"{len(names) - 3} more"]
    return shown[0] if len(shown) == 1 else f"{', '.join(shown[:-1])} and {shown[-1]}"
