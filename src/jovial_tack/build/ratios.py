"""The rev plan: every shaft's speeds against what it can take and must give (docs/METHOD.md, 11)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from jovial_tack.build.assemble import DriveCase, assemble
from jovial_tack.build.duties import current_at, output_of, shortfalls
from jovial_tack.build.edits import set_diameter
from jovial_tack.build.model import Build
from jovial_tack.build.results import number
from jovial_tack.catalogue import Catalogue


@dataclass(frozen=True)
class PlannedShaft:
    """Speeds of one shaft; ratio over the crank, None where it stands still. margin: greatest speed
    over that at redline, less one; None without a greatest speed. driven: by a belt, unlike the crank.
    former_ratio: with the pulleys the engine had, None if they are not given; output_a: what an
    alternator gives at idle and cruise, against asked_a; short: duties that are not met, in words.
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

    @property
    def over_former(self) -> float | None:
        """How much faster than with the former pulleys, as a fraction (underdriven: below zero)."""
        if self.ratio is None or self.former_ratio is None:
            return None
        return self.ratio / self.former_ratio - 1.0

    def to_json(self) -> dict[str, Any]:
        """As `plan --json` tells it."""
        keys = ("ratio", "idle_rpm", "cruise_rpm", "redline_rpm", "max_rpm", "margin", "min_rpm",
                "over_former")  # fmt: skip
        told: dict[str, Any] = {"id": self.id}
        told |= {key: number(getattr(self, key)) for key in keys}
        told["output_a"] = None if self.output_a is None else [number(a) for a in self.output_a]
        told["asked_a"] = [number(a) for a in self.asked_a] if self.output_a is not None else None
        return told | {"short": list(self.short)}


def rev_plan(build: Build, catalogue: Catalogue) -> tuple[PlannedShaft, ...]:
    """Every shaft's speeds at idle, cruise and redline."""
    ratios = speed_ratios(build, catalogue)
    engine = build.engine
    former = _former_ratios(build, catalogue)
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
        curve = output_of(shaft, catalogue) if shaft.kind == "alternator" else None
        given = curve is not None and idle is not None and cruise is not None
        plan.append(
            PlannedShaft(
                shaft.id, shaft.label, ratio, idle, cruise, top, most, margin, driven, shaft.min_rpm,
                former.get(shaft.id) if driven else None,
                (current_at(curve, idle), current_at(curve, cruise)) if given else None,  # type: ignore[arg-type]
                (engine.electrical_idle_a, engine.electrical_cruise_a),
                tuple(s.words for s in shortfalls(shaft, engine, ratio, catalogue)) if driven else (),  # type: ignore[arg-type]
            )
        )  # fmt: skip
    return tuple(plan)


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
        if case.drive is None:
            continue
        for place, shaft in enumerate(case.shafts):
            if place != case.driver:
                found[shaft.id] = float(case.drive.ratios[place])
    return found


def driven_place(build: Build, shaft_id: str, catalogue: Catalogue) -> tuple[DriveCase, int] | None:
    """The drive that turns a shaft, and the shaft's place on its route; None if nothing turns it."""
    for case in assemble(build, catalogue):
        for place, shaft in enumerate(case.shafts):
            if case.drive is not None and shaft.id == shaft_id and place != case.driver:
                return case, place
    return None


def set_speed_at_redline(
    build: Build, shaft_id: str, redline_rpm: float, catalogue: Catalogue
) -> Build:
    """Give a shaft the driven pulley with which it turns so fast at redline; the build as it is if
    nothing turns it.
    """
    found = driven_place(build, shaft_id, catalogue)
    if found is None:
        return build
    case, place = found
    size = driven_diameter(case, place, redline_rpm / build.engine.redline_rpm)
    return set_diameter(build, case.model.id, case.pulleys[place].id, round(size, 1))


def step_diameter(build: Build, shaft_id: str, step_mm: float, catalogue: Catalogue) -> Build:
    """Make the driven pulley of a shaft larger or smaller; the build as it is if nothing turns it."""
    found = driven_place(build, shaft_id, catalogue)
    if found is None:
        return build
    case, place = found
    pulley = case.pulleys[place]
    return set_diameter(build, case.model.id, pulley.id, round(pulley.diameter_mm + step_mm, 2))


def offset_mm(case: DriveCase, place: int) -> float:
    """From a pulley's given radius to its cord radius, mm."""
    assert case.drive is not None
    return float(case.drive.radii[place]) - case.pulleys[place].diameter_mm / 2


def driven_diameter(case: DriveCase, place: int, ratio: float) -> float:
    """The diameter, mm, with which a driven pulley turns `ratio` times as fast as the crank."""
    drive = case.drive
    assert drive is not None
    radius = drive.speed_ratio * float(drive.radii[case.driver]) / ratio
    return 2 * (radius - offset_mm(case, place))


def driver_diameter(case: DriveCase, place: int, ratio: float) -> float:
    """The diameter, mm, of the driver with which a pulley turns `ratio` times as fast as the crank."""
    drive = case.drive
    assert drive is not None
    radius = ratio * float(drive.radii[place]) / drive.speed_ratio
    return 2 * (radius - offset_mm(case, case.driver))
