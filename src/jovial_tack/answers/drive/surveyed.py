"""The build's survey as a net, adjusted: where its shafts are by what was measured, and how well."""

from __future__ import annotations

from cmath import phase
from collections.abc import Callable, Mapping
from math import degrees, hypot, radians

import numpy as np

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.belts_tried import belt_reading, by_place, tried_of
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.planes import Planes, planes_of, sd_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.survey.adjusting import adjust
from jovial_tack.core.survey.doubting import Doubted, doubt, unfit_at, without
from jovial_tack.core.survey.net import Net, Reading
from jovial_tack.core.value import Value, replace
from jovial_tack.document import model as doc
from jovial_tack.document.edits.shafts import arm_of_shaft

_SIGN = {"ccw": 1, "cw": -1}
#: A shaft counts as standing where the survey puts it, mm.
_THERE_MM = 0.02
_MOST_SHAFTS = 60


class BuiltNet(Value, frozen=True):
    """A build's survey as a net. names (P,): shafts and points of the survey; of (N,): which reading of
    the survey each of the net's is; problems: why readings are not used, by their place; rims: the
    diameter of each point that has a pulley, mm.
    """

    net: Net
    names: tuple[str, ...]
    of: tuple[int, ...]
    problems: Mapping[int, str]
    rims: Mapping[int, float]

    @property
    def place_of(self) -> Mapping[str, int]:
        """The point of each shaft and point of the survey."""
        return {name: place for place, name in enumerate(self.names)}


class Surveyed(Value, frozen=True):
    """A build's survey adjusted. lengths (2P,) by drive: by how much its belt grows with each place."""

    built: BuiltNet
    doubted: Doubted
    lengths: Mapping[str, Float]
    planes: Planes | None = None

    @property
    def places(self) -> Complex:
        """Where the net's points are (P,), mm."""
        return self.doubted.adjusted.places

    @property
    def problems(self) -> Mapping[int, str]:
        """Why readings are not used, by their place in the survey."""
        return {**self.built.problems, **({} if self.planes is None else self.planes.problems)}


def survey_start(build: doc.Build, name: str) -> complex | None:
    """Where the file draws a shaft, or a point of the survey; of an arm's shaft the pivot bolt, since
    its pulley swings. None for a name that is not there.
    """
    for shaft in build.shafts:
        if shaft.id == name:
            found = arm_of_shaft(build, name)
            return complex(*(shaft.center_mm if found is None else found[1].pivot_mm))
    for point in build.survey.points:
        if point.id == name:
            return complex(*point.at_mm)
    return None


def drawn_angle_deg(build: doc.Build, one: str, other: str) -> float:
    """The direction from one shaft to another as they are drawn, degrees from level."""
    gap = (survey_start(build, other) or 0j) - (survey_start(build, one) or 0j)
    return degrees(phase(gap))


def label_of(build: doc.Build, name: str) -> str:
    """What a shaft or a point of the survey is called; an arm's shaft by its pivot."""
    for shaft in build.shafts:
        if shaft.id == name:
            is_arm = arm_of_shaft(build, name) is not None
            return f"{shaft.label} (pivot)" if is_arm else shaft.label
    return next((point.label for point in build.survey.points if point.id == name), name)


def surveyed(
    build: doc.Build,
    catalogue: Catalogue,
    begin: Mapping[str, complex] | None = None,
    *,
    search: bool = True,
) -> Surveyed | None:
    """The build's survey adjusted; None without a reading, and without two shafts to read between.

    begin: places to begin from, as those of the last time; search: look for every arrangement and for
    readings that do not fit, which takes longer than one solve.
    """
    cases = _cases(build, catalogue)
    built = built_net(build, catalogue, cases)
    planes = planes_of(build, catalogue)
    if not build.survey.readings and len(build.shafts) < 2:
        return None
    net = built.net
    start = None
    if begin is not None:
        here = zip(built.names, net.start.tolist(), strict=True)
        start = np.array([begin.get(name, drawn) for name, drawn in here])
    adjusted = adjust(net, start, search=search)
    doubted = Doubted(adjusted, tuple(range(len(net.readings))))
    if search:
        doubted = doubt(adjusted, built.rims)
    lengths = _lengths(cases, built, doubted.adjusted.places)
    return Surveyed(built, doubted, lengths, planes)


def _lengths(
    cases: Mapping[str, SolvableCase], built: BuiltNet, places: Complex
) -> Mapping[str, Float]:
    """By how much the belt of each drive grows with each place."""
    found = {name: by_place(case, built.place_of, places) for name, case in cases.items()}
    return {name: along for name, along in found.items() if along is not None}


def _cases(build: doc.Build, catalogue: Catalogue) -> Mapping[str, SolvableCase]:
    if not build.drives:
        return {}
    return {c.model.id: c for c in assemble(build, catalogue) if isinstance(c, SolvableCase)}


def built_net(
    build: doc.Build, catalogue: Catalogue, cases: Mapping[str, SolvableCase]
) -> BuiltNet:
    """The readings of a build's survey between shafts and points, as a net."""
    survey, problems = build.survey, {}
    names = _names_used(build, cases)
    place_of = {name: place for place, name in enumerate(names)}
    zeros = {
        name: tool.zero_sd_mm
        for name, tool in survey.instruments.items()
        if tool.zero_sd_mm is not None
    }
    making = _Making(build, catalogue, cases, place_of, list(zeros))
    readings, of = [], []
    for place, reading in enumerate(survey.readings):
        if reading.set_aside or reading.type in ("depth", "step"):
            continue
        try:
            readings.append(making.reading(reading))
            of.append(place)
        except GeometryError as error:
            problems[place] = str(error)
    start = np.array([survey_start(build, name) or 0j for name in names], dtype=complex)
    net = Net(
        start,
        tuple(readings),
        place_of.get(fixed_of(build) or ""),
        _direction(survey.direction, place_of),
        None if survey.level_sd_deg is None else radians(survey.level_sd_deg),
        tuple(zeros.values()),
    )
    rims = {}
    for name, place in place_of.items():
        diameters = rim_diameters(build, name)
        if len(diameters) == 1:
            rims[place] = diameters[0]
    return BuiltNet(net, names, tuple(of), problems, rims)


def fixed_of(build: doc.Build) -> str | None:
    """The shaft that stays where it is drawn: the one chosen, else the crank, else the first."""
    chosen = build.survey.fixed
    if chosen is not None and survey_start(build, chosen) is not None:
        return chosen
    shafts = sorted(build.shafts, key=lambda shaft: shaft.kind != "crank")
    return shafts[0].id if shafts else None


def names_of(reading: doc.AnyReading, build: doc.Build) -> tuple[str, ...]:
    """The shafts and points a reading is of; of a belt those of its drive."""
    if isinstance(reading, doc.BeltReading):
        try:
            drive = build.find_drive(tried_of(build, reading).drive)
        except GeometryError:
            return ()
        return () if drive is None else tuple(drive.pulley(p).shaft for p in drive.route)
    return tuple(getattr(reading, "shafts", ()))


def _names_used(build: doc.Build, cases: Mapping[str, SolvableCase]) -> tuple[str, ...]:
    """All that a net is of: what is fixed, what readings name, and both ends of the direction."""
    survey = build.survey
    used = [name for r in survey.readings if not r.set_aside for name in names_of(r, build)]
    if survey.direction is not None:
        used += survey.direction.shafts
    fixed = fixed_of(build)
    used = [*([fixed] if fixed is not None else []), *used]
    if len(build.shafts) <= _MOST_SHAFTS:
        used += [shaft.id for shaft in build.shafts]  # those without a reading wait for one
    return tuple(name for name in dict.fromkeys(used) if survey_start(build, name) is not None)


def _direction(
    direction: doc.Direction | None, place_of: Mapping[str, int]
) -> tuple[int, int, float] | None:
    if direction is None or any(name not in place_of for name in direction.shafts):
        return None
    first, second = (place_of[name] for name in direction.shafts)
    return None if first == second else (first, second, radians(direction.angle_deg))


def rim_diameters(build: doc.Build, name: str) -> tuple[float, ...]:
    """The diameters of the pulleys on a shaft, mm, each once; of an arm's none, since they swing."""
    if arm_of_shaft(build, name) is not None:
        return ()
    found = [p.diameter_mm for drive in build.drives for p in drive.pulleys if p.shaft == name]
    return tuple(dict.fromkeys(found))


class _Making:
    """Readings of a survey made into readings of its net; GeometryError tells why one cannot be."""

    def __init__(
        self,
        build: doc.Build,
        catalogue: Catalogue,
        cases: Mapping[str, SolvableCase],
        place_of: Mapping[str, int],
        zeros: list[str],
    ) -> None:
        self._build, self._catalogue, self._cases = build, catalogue, cases
        self._place_of, self._zeros = place_of, zeros
        self._ways: dict[type[doc.Part], Callable[..., Reading]] = {
            doc.BeltReading: self._belt,
            doc.AngleReading: self._angle,
            doc.AtReading: self._at,
            doc.PatternReading: self._pattern,
            doc.OverReading: self._over,
            doc.RoundReading: self._round,
            doc.DxReading: self._level,
            doc.DyReading: self._level,
        }

    def reading(self, reading: doc.AnyReading) -> Reading:
        if isinstance(reading, doc.BeltReading):
            return self._belt(reading)
        points = self._points(reading.shafts)  # type: ignore[union-attr]
        sd = sd_of(reading, self._build.survey, self._catalogue)
        make = self._ways.get(type(reading), self._plain)
        return make(reading, points, sd)

    def _points(self, names: tuple[str, ...]) -> tuple[int, ...]:
        for name in names:
            if name not in self._place_of:
                raise GeometryError(f"“{name}” is no shaft of the build, nor a point of the survey")
        if len(set(names)) < len(names):
            twice = next(name for k, name in enumerate(names) if name in names[:k])
            raise GeometryError(
                f"it is of {label_of(self._build, twice)} to itself; choose another for one of them"
            )
        return tuple(self._place_of[name] for name in names)

    def _rims(self, names: tuple[str, ...], given: tuple[float, ...] | None) -> tuple[float, ...]:
        if given is not None:
            if len(given) != len(names):
                raise GeometryError(f"it needs {len(names)} diameters, and has {len(given)}")
            return given
        found = []
        for name in names:
            rims = rim_diameters(self._build, name)
            label = label_of(self._build, name)
            if not rims and arm_of_shaft(self._build, name) is not None:
                raise GeometryError(f"its pulley swings; measure to the bolt of the {label}")
            if not rims:
                raise GeometryError(f"{label} has no pulley yet; type the diameter of its rim")
            if len(rims) > 1:
                raise GeometryError(f"{label} has {len(rims)} pulleys; type which diameter it was")
            found.append(rims[0])
        return tuple(found)

    def _plain(self, reading: doc.AnyReading, points: tuple[int, ...], sd: float) -> Reading:
        """Between two, and off a straight line."""
        kind, given = reading.type, getattr(reading, "diameters_mm", None)
        names = reading.shafts  # type: ignore[union-attr]
        rims: tuple[float, ...] = ()
        if kind in ("outside", "inside", "tangent", "cross"):
            rims = self._rims(names, given)
        zero = self._zero(reading)
        value = reading.value_mm  # type: ignore[union-attr]
        return Reading(kind, points, value, sd, diameters=rims, zero=zero)  # type: ignore[arg-type]

    def _zero(self, reading: doc.AnyReading) -> int | None:
        name = reading.instrument
        return self._zeros.index(name) if name in self._zeros else None

    def _level(
        self, reading: doc.DxReading | doc.DyReading, points: tuple[int, ...], sd: float
    ) -> Reading:
        rims, zero = sum(reading.rims_mm), self._zero(reading)
        kind = "dx" if isinstance(reading, doc.DxReading) else "dy"
        return Reading(kind, points, reading.value_mm, sd, rims_mm=rims, zero=zero)  # type: ignore[arg-type]

    def _angle(self, reading: doc.AngleReading, points: tuple[int, ...], sd: float) -> Reading:
        rims: tuple[float, ...] = ()
        if reading.side is not None:
            rims = self._rims(reading.shafts, reading.diameters_mm)
        value = radians(reading.value_deg)
        return Reading("angle", points, value, radians(sd), diameters=rims, side=reading.side)

    def _at(self, reading: doc.AtReading, points: tuple[int, ...], sd: float) -> Reading:
        return Reading("at", points, 0.0, sd, at=(complex(*reading.at_mm),))

    def _pattern(self, reading: doc.PatternReading, points: tuple[int, ...], sd: float) -> Reading:
        places = tuple(complex(*place) for place in reading.coordinates_mm)
        return Reading("pattern", points, 0.0, sd, at=places)

    def _round(self, reading: doc.RoundReading, points: tuple[int, ...], sd: float) -> Reading:
        rims = self._rims(reading.shafts, reading.diameters_mm)
        zero, thick = self._zero(reading), self._thick(reading.thick_mm)
        return Reading(
            "round", points, reading.value_mm, sd, diameters=rims, thick_mm=thick, zero=zero
        )

    def _over(self, reading: doc.OverReading, points: tuple[int, ...], sd: float) -> Reading:
        between = reading.shafts[1:-1]
        rims = self._rims(between, reading.diameters_mm)
        turns = reading.turns
        signs = (
            tuple(_SIGN[turn] for turn in turns)
            if turns is not None
            else _turns_drawn([survey_start(self._build, name) or 0j for name in reading.shafts])
        )
        return Reading(
            "over", points, reading.value_mm, sd, diameters=rims, turns=signs,
            thick_mm=self._thick(reading.thick_mm), zero=self._zero(reading),
        )  # fmt: skip

    def _thick(self, typed: float | None) -> float:
        return self._catalogue.parts.tape_thick_mm if typed is None else typed

    def _belt(self, reading: doc.BeltReading, *_: object) -> Reading:
        tried = tried_of(self._build, reading)
        case = self._cases.get(tried.drive)
        if case is None:
            raise GeometryError(f"there is no drive “{tried.drive}” that turns")
        return belt_reading(tried, case, self._place_of, self._catalogue)


def _turns_drawn(places: list[complex]) -> tuple[int, ...]:
    """Which way round a tape runs over the far side of each rim between two ends."""
    along = places[-1] - places[0]
    left = [((place - places[0]) * along.conjugate()).imag > 0 for place in places[1:-1]]
    return tuple(-1 if is_left else 1 for is_left in left)


def stands_as_surveyed(build: doc.Build, found: Surveyed) -> bool:
    """Whether every shaft that was surveyed is drawn where the survey puts it."""
    shafts = {shaft.id for shaft in build.shafts}
    determined = found.doubted.adjusted.determined
    for name, place, sure in zip(found.built.names, found.places.tolist(), determined, strict=True):
        start = survey_start(build, name)
        if sure and name in shafts and start is not None and abs(start - place) > _THERE_MM:
            return False
    return True


_Kept = tuple[tuple[object, ...], Surveyed | None]
#: The surveys looked at last, by the parts of the build they are of: the same ones are asked for often.
_kept: list[_Kept] = []
_KEPT = 6


def standing_survey(build: doc.Build, catalogue: Catalogue) -> Surveyed | None:
    """The build's survey, if its shafts stand where that puts them; None otherwise, and without one."""
    survey = build.survey
    if not survey.readings:
        return None
    of = survey, build.shafts, build.drives, build.logbook, catalogue
    for kept, known in list(_kept):
        if all(a is b for a, b in zip(kept, of, strict=True)):
            return known
    found = surveyed(build, catalogue, search=False)
    if found is not None and not stands_as_surveyed(build, found):
        # they may have been taken without a reading that does not fit
        found = _without_what_does_not_fit(build, found, catalogue)
    _kept.insert(0, (of, found))
    del _kept[_KEPT:]
    return found


def _without_what_does_not_fit(
    build: doc.Build, found: Surveyed, catalogue: Catalogue
) -> Surveyed | None:
    """A survey without the readings that contradict where the shafts are drawn, if all others put them
    there; None otherwise.
    """
    net = found.built.net
    out = unfit_at(net, net.start)
    if not out:
        return None
    less, used = without(net, out)
    told = replace(found, doubted=Doubted(adjust(less, search=False), used))
    if not stands_as_surveyed(build, told):
        return None
    places = told.doubted.adjusted.places
    return replace(told, lengths=_lengths(_cases(build, catalogue), found.built, places))


def center_sigma(found: Surveyed | None, drive: str, each_mm: float) -> float:
    """One standard deviation of a belt's length by where the shafts are, mm.

    What was surveyed by its covariance, since neighbours share readings; every other centre known to
    each_mm in either axis. METHOD 13 and 15.
    """
    if found is None or drive not in found.lengths:
        return 0.0
    adjusted, along = found.doubted.adjusted, found.lengths[drive]
    sure = np.repeat(adjusted.determined, 2)
    told = np.where(sure, along, 0.0)
    rest = np.where(sure, 0.0, along)
    return hypot(
        float(np.sqrt(max(float(told @ adjusted.covariance @ told), 0.0))),
        each_mm * float(np.linalg.norm(rest)),
    )
