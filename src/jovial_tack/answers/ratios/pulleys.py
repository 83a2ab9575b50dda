"""Boost over the revs, and which pulleys make a boost (docs/METHOD.md, 11)."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.air import air_of
from jovial_tack.answers.drive.solve import solve_again
from jovial_tack.answers.interchange import interchange
from jovial_tack.answers.places import Place
from jovial_tack.answers.ratios.charge import Charged, charged_drive
from jovial_tack.answers.ratios.diameters import driven_diameter, driver_diameter, offset_mm
from jovial_tack.answers.ratios.map import off_the_map
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import RAD_S_PER_RPM
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.ratios.blower import charge_at, ratio_for_boost
from jovial_tack.core.units import PRESSURE, format_length, written_in
from jovial_tack.core.value import Value
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.model import Build

#: Pulleys that can be had at all, mm.
_LEAST_MM, _MOST_MM = 20.0, 1000.0
_ALIKE = 0.4  # a part further from a pulley's size is none to take its place


class PulleyPair(Value, frozen=True):
    """A pair of pulleys: effective diameters of blower and driver, mm, and which of them was changed;
    whether it hits the wish exactly; part: the one on the shelf, if it is one.

    boost kPa at the wished engine speed and at redline, the blower's speed and rim speed there, belt
    speed; how today's belt then lies, and how far wrap, grip and path are from today's; next_belt_mm:
    the stocked belt for it; contact_mm: belt on the blower's pulley, wrap by cord radius.
    problem: why it cannot be had, with the nearest that can.
    """

    blower_mm: float
    crank_mm: float
    changed: str
    exact: bool
    ratio: float
    boost_kpa: float
    redline_boost_kpa: float
    redline_blower_rpm: float
    rim_speed_mps: float
    belt_speed_mps: float
    blower_wrap_deg: float | None
    wrap_change_deg: float | None
    contact_mm: float | None
    worst_arc_used: float | None
    arc_used_change: float | None
    path_effective_length_mm: float | None
    length_change_mm: float | None
    place: Place | None
    next_belt_mm: float | None
    part: str | None
    problem: str | None


def pulleys_for(
    build: Build,
    catalogue: Catalogue,
    target_kpa: float,
    at_rpm: float,
    check_cancelled: Callable[[], None] = lambda: None,
) -> tuple[PulleyPair, ...]:
    """Pulleys that make a boost at an engine speed: another blower pulley, or another driver pulley.

    For each the exact diameter, its two neighbours of a stepped series (2.5 mm, or 0.1 in), and those
    on the shelf that come within a tenth of it, solved with the belt as it is. Raises GeometryError
    where no ratio makes that boost. check_cancelled: called before each pair; what it raises ends it.
    """
    search = _Search(build, catalogue, at_rpm, check_cancelled)
    found = search.found
    air = air_of(build.air)
    ratio = ratio_for_boost(found.blower, found.engine, air, at_rpm, target_kpa)
    if ratio is None:
        most = search.most_within_limit()
        unit = build.display_units
        nearest = ""
        if most is not None:
            nearest = f"; {written_in(most, PRESSURE, unit)} is the most within its speed limit"
        raise GeometryError(
            f"no pulleys make {written_in(target_kpa, PRESSURE, unit)} at {at_rpm:g} rpm with this"
            f" blower and engine{nearest}"
        )
    case, place = found.case, found.place
    step = catalogue.parts.pulley_step(build.display_units)
    exact_sizes = (
        ("blower", driven_diameter(case, place, ratio)),
        ("crank", driver_diameter(case, place, ratio)),
    )
    pairs = [
        search.pair(which, size, ratio)
        for which, exact in exact_sizes
        for size in _around(exact, step)
        if _LEAST_MM <= size <= _MOST_MM
    ]
    if not pairs:
        blower, crank = (format_length(size, build.display_units) for _, size in exact_sizes)
        raise GeometryError(
            f"no pulley that can be had makes {written_in(target_kpa, PRESSURE, build.display_units)}"
            f" at {at_rpm:g} rpm: the blower's would be {blower}, or the crank's {crank}; look at the"
            " blower's figures"
        )
    near = [p for p in search.on_the_shelf() if abs(p.boost_kpa - target_kpa) <= 0.1 * target_kpa]
    return tuple(pairs + near)


def pulleys_at_hand(
    build: Build,
    catalogue: Catalogue,
    at_rpm: float,
    check_cancelled: Callable[[], None] = lambda: None,
) -> tuple[PulleyPair, ...]:
    """What boost pulleys make: those on the shelf, and four steps of a series each way for the blower's
    and for the driver's pulley. Raises GeometryError without a blower that can be computed.
    """
    search = _Search(build, catalogue, at_rpm, check_cancelled)
    step = catalogue.parts.pulley_step(build.display_units)
    pairs = search.on_the_shelf()
    for which, now in (("blower", search.now[0]), ("crank", search.now[1])):
        middle = round(now / step) * step
        sizes = [middle + k * step for k in range(-4, 5)]
        pairs += [search.pair(which, size) for size in sizes if size > step]
    return tuple(pairs)


def _around(exact: float, step: float) -> list[float]:
    """An exact diameter and its neighbours of a stepped series, mm."""
    below = float(np.floor(exact / step) * step)
    others = [size for size in (below, below + step) if abs(size - exact) > 1e-6]
    return [size for size in (exact, *others) if size > 1.0]


class _Search:
    """Pairs of pulleys tried on one build, each compared with what is fitted."""

    def __init__(
        self,
        build: Build,
        catalogue: Catalogue,
        at_rpm: float,
        check_cancelled: Callable[[], None],
    ) -> None:
        self.check_cancelled = check_cancelled
        self.build, self.catalogue, self.at_rpm = build, catalogue, at_rpm
        self.found = charged_drive(build, catalogue)
        case = self.found.case
        self.drive, self.driver = case.model.id, case.pulleys[case.driver]
        self.blower = case.pulleys[self.found.place]
        self.now = self.blower.diameter_mm, self.driver.diameter_mm
        self._before = solve_again(build, None, catalogue, None, reserve=False)
        self._today = self._before.results.drive(self.drive)

    def pair(
        self, which: str, size_mm: float, wished_ratio: float | None = None, part: str | None = None
    ) -> PulleyPair:
        """The build with another blower or crank pulley."""
        self.check_cancelled()
        sizes = (size_mm, self.now[1]) if which == "blower" else (self.now[0], size_mm)
        tried = fit_pair(self.build, self.found, *sizes)
        now = charged_drive(tried, self.catalogue)
        redline, air = self.build.engine.redline_rpm, air_of(self.build.air)
        speeds = np.array([self.at_rpm, redline])
        charge = charge_at(now.blower, now.engine, air, speeds, now.ratio)
        solved = solve_again(tried, None, self.catalogue, self._before, reserve=False)
        result = solved.results.drive(self.drive)
        pulley, before = result.pulley(self.blower.id), self._today.pulley(self.blower.id)
        used = None if pulley is None else pulley.worst_arc_used
        used_now = None if before is None else before.worst_arc_used
        wrap = None if pulley is None else pulley.wrap_deg
        belt = belts_to_order(tried, self.catalogue, self.drive).get(self.drive)
        blower_rpm = float(charge.blower_rpm[1])
        return PulleyPair(
            blower_mm=sizes[0],
            crank_mm=sizes[1],
            changed=which,
            exact=wished_ratio is not None and abs(now.ratio / wished_ratio - 1.0) < 1e-9,
            ratio=now.ratio,
            boost_kpa=float(charge.boost_kpa[0]),
            redline_boost_kpa=float(charge.boost_kpa[1]),
            redline_blower_rpm=blower_rpm,
            rim_speed_mps=blower_rpm * RAD_S_PER_RPM * sizes[0] / 2000.0,
            belt_speed_mps=float(now.case.drive.speed(np.array(redline))),
            blower_wrap_deg=wrap,
            contact_mm=None
            if wrap is None
            else float(np.radians(wrap) * now.case.drive.radii[now.place]),
            wrap_change_deg=_difference(wrap, None if before is None else before.wrap_deg),
            worst_arc_used=used,
            arc_used_change=_difference(used, used_now),
            path_effective_length_mm=result.path_effective_length_mm,
            length_change_mm=_difference(
                result.path_effective_length_mm, self._today.path_effective_length_mm
            ),
            place=getattr(result.tensioner, "place", None),
            next_belt_mm=None if belt is None else belt.effective_length_mm,
            part=part,
            problem=self._problem(now),
        )

    def on_the_shelf(self) -> list[PulleyPair]:
        """Pairs with each grooved pulley of the shelf that interchanges."""
        build, pairs = self.build, []
        for part in build.shelf:
            if part.kind != "pulley" or part.diameter_mm is None or part.side == "back":
                continue
            for which, pulley in (("blower", self.blower), ("crank", self.driver)):
                alike = abs(part.diameter_mm / pulley.diameter_mm - 1.0) <= _ALIKE
                fits = interchange(build, self.drive, pulley.id, part.id)
                if part.id != pulley.part and alike and all(fit.level != "stop" for fit in fits):
                    pairs.append(self.pair(which, part.diameter_mm, part=part.label))
        return pairs

    def most_within_limit(self) -> float | None:
        """The boost with the blower at its limit at redline, kPa; None without one."""
        limit = self.found.case.shafts[self.found.place].max_rpm
        return None if limit is None else self._boost_with(limit / self.build.engine.redline_rpm)

    def _boost_with(self, ratio: float) -> float:
        found, air = self.found, air_of(self.build.air)
        charge = charge_at(found.blower, found.engine, air, np.array([self.at_rpm]), ratio)
        return float(charge.boost_kpa[0])

    def _problem(self, now: Charged) -> str | None:
        """Why a pair cannot be had, and the most boost that can."""
        case, redline = now.case, self.build.engine.redline_rpm
        unit = self.build.display_units
        shaft, profile = case.shafts[now.place], case.belt.profile
        if shaft.max_rpm is not None and now.ratio * redline > shaft.max_rpm * (1 + 1e-9):
            most = self.most_within_limit()
            assert most is not None
            return (
                f"{shaft.label} would turn {now.ratio * redline:.0f} rpm at redline, over its"
                f" {shaft.max_rpm:.0f} rpm limit; {written_in(most, PRESSURE, unit)} is the most"
                " within it"
            )
        least = profile.least_grooved_mm
        for place in (now.place, case.driver):
            size = case.pulleys[place].diameter_mm
            if size >= least:
                continue
            # the same belt and the other pulley, with this one as small as the profile allows
            cord = case.drive.radii[place]
            grown = (least / 2 + offset_mm(case, place)) / float(cord)
            ratio = now.ratio / grown if place == now.place else now.ratio * grown
            return (
                f"{case.shafts[place].label} would have {format_length(size, unit)}, and a"
                f" {profile.name} belt should not bend round less than {format_length(least, unit)};"
                f" there {written_in(self._boost_with(ratio), PRESSURE, unit)} are made"
            )
        return off_the_map(self.build, now, self.at_rpm)


def fit_pair(build: Build, found: Charged, blower_mm: float, driver_mm: float) -> Build:
    """The build with another pair of pulleys on the blower's drive."""
    case = found.case
    build = set_diameter(build, case.model.id, case.pulleys[found.place].id, blower_mm)
    return set_diameter(build, case.model.id, case.pulleys[case.driver].id, driver_mm)


def _difference(value: float | None, before: float | None) -> float | None:
    return None if value is None or before is None else value - before
