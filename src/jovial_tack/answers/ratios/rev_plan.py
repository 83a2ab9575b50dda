"""The rev plan: every shaft's speeds against what it can take and must give (docs/METHOD.md, 11)."""

from __future__ import annotations

from collections.abc import Mapping

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.duties import Currents, Shortfall, asked_of, others_than, shortfalls
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import Value
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.model import Build


class PlannedShaft(Value, frozen=True):
    """Speeds of one shaft; ratio over the crank, None where it stands still. margin: greatest speed
    over that at redline, less one; None without a greatest speed. driven: by a belt, unlike the crank.
    former_ratio: with the pulleys the engine had, None if they are not given; output_a: what an
    alternator gives at idle and cruise, against asked_a; short: duties that are not met, in words;
    maybe_short: those that are not met by figures that are only usual for the kind.
    """

    id: str
    name: str
    ratio: float | None
    idle_rpm: float | None
    cruise_rpm: float | None
    redline_rpm: float | None
    max_rpm: float | None
    margin: float | None
    driven: bool
    min_rpm: float | None = None
    former_ratio: float | None = None
    output_a: tuple[float, float] | None = None
    asked_a: tuple[float | None, float | None] = (None, None)
    short: tuple[str, ...] = ()
    maybe_short: tuple[str, ...] = ()

    @property
    def over_former(self) -> float | None:
        """How much faster than with the former pulleys, as a fraction (underdriven: below zero)."""
        if self.ratio is None or self.former_ratio is None:
            return None
        return self.ratio / self.former_ratio - 1.0


def rev_plan(build: Build, catalogue: Catalogue) -> tuple[PlannedShaft, ...]:
    """Every shaft's speeds at idle, cruise and redline."""
    ratios = speed_ratios(build, catalogue)
    engine = build.engine
    former = _former_ratios(build, catalogue)
    currents = _currents(build, catalogue)
    plan = []
    for shaft in build.shafts:
        ratio = ratios.get(shaft.id)
        idle, cruise, top = (
            None if ratio is None else ratio * rpm
            for rpm in (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
        )
        most = shaft.max_rpm
        margin = None if most is None or top is None else most / top - 1.0
        driven = ratio is not None and shaft.kind != "crank"
        given = currents.get(shaft.id)
        missed: tuple[Shortfall, ...] = ()
        if ratio is not None and driven:
            others = others_than(shaft, currents)
            missed = shortfalls(shaft, engine, ratio, catalogue, others)
        plan.append(
            PlannedShaft(
                shaft.id,
                shaft.label,
                ratio,
                idle,
                cruise,
                top,
                most,
                margin,
                driven,
                shaft.min_rpm,
                former.get(shaft.id) if driven else None,
                None if given is None else (given.idle, given.cruise),
                asked_of(shaft, engine),
                tuple(s.words for s in missed if not s.usual),
                tuple(s.words for s in missed if s.usual),
            )
        )
    return tuple(plan)


def _currents(build: Build, catalogue: Catalogue) -> Mapping[str, Currents]:
    """What every alternator that turns gives at idle and at cruise, A."""
    solvable = (case for case in assemble(build, catalogue) if isinstance(case, SolvableCase))
    first = next(solvable, None)  # every case knows those of all alternators
    return {} if first is None else first.currents


def _former_ratios(build: Build, catalogue: Catalogue) -> dict[str, float]:
    """The ratios with the pulleys the engine had before, of shafts that these would turn otherwise."""
    before = build
    for drive in build.drives:
        for pulley in drive.pulleys:
            if pulley.former_mm is not None:
                before = set_diameter(before, drive.id, pulley.id, pulley.former_mm)
    if before is build:
        return {}
    now, then = speed_ratios(build, catalogue), speed_ratios(before, catalogue)
    return {shaft: ratio for shaft, ratio in then.items() if ratio != now.get(shaft)}


def speed_ratios(build: Build, catalogue: Catalogue) -> dict[str, float]:
    """Speed of each shaft that turns over the crank's, from cord radii."""
    found = {shaft.id: 1.0 for shaft in build.shafts if shaft.kind == "crank"}
    for case in assemble(build, catalogue):
        if not isinstance(case, SolvableCase):
            continue
        for place, shaft in enumerate(case.shafts):
            if place != case.driver:
                found[shaft.id] = float(case.drive.ratios[place])
    return found
