"""Diameters for a speed."""

from __future__ import annotations

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.catalogue import Catalogue
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.model import Build


def driven_place(
    build: Build, shaft_id: str, catalogue: Catalogue
) -> tuple[SolvableCase, int] | None:
    """The drive that turns a shaft, and the shaft's place on its route; None if nothing turns it."""
    for case in assemble(build, catalogue):
        for place, shaft in enumerate(case.shafts):
            if isinstance(case, SolvableCase) and shaft.id == shaft_id and place != case.driver:
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


def offset_mm(case: SolvableCase, place: int) -> float:
    """From a pulley's given radius to its cord radius, mm."""
    return float(case.drive.radii[place]) - case.pulleys[place].diameter_mm / 2


def driven_diameter(case: SolvableCase, place: int, ratio: float) -> float:
    """The diameter, mm, with which a driven pulley turns `ratio` times as fast as the crank."""
    drive = case.drive
    assert drive is not None
    radius = drive.speed_ratio * float(drive.radii[case.driver]) / ratio
    return 2 * (radius - offset_mm(case, place))


def driver_diameter(case: SolvableCase, place: int, ratio: float) -> float:
    """The diameter, mm, of the driver with which a pulley turns `ratio` times as fast as the crank."""
    drive = case.drive
    assert drive is not None
    radius = ratio * float(drive.radii[place]) / drive.speed_ratio
    return 2 * (radius - offset_mm(case, case.driver))
