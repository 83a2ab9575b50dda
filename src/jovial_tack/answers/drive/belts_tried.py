"""Belts that were tried as readings of the path: how long it is with the adjuster at some place."""

from __future__ import annotations

from collections.abc import Mapping
from math import hypot, radians

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.freedom import Freedom, freedom_of, length_slope, rest_pull
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.arm import Layout, SpringArm
from jovial_tack.core.drive.path import faults, trace
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.survey.net import Bound, Reading
from jovial_tack.core.value import Value
from jovial_tack.document import model as doc

_ENDS = 25


class Tried(Value, frozen=True):
    """A belt that was tried on a drive: typed in the survey, or an event of the logbook."""

    drive: str
    length_mm: float
    arm_angle_deg: float | None
    travel_share: float | None
    verdict: str | None
    sd_mm: float | None


def tried_of(build: doc.Build, reading: doc.BeltReading) -> Tried:
    """What a reading says, its event's figures taken where it names one. Raises GeometryError."""
    drive, length = reading.drive, reading.effective_length_mm
    arm, share, verdict = reading.arm_angle_deg, reading.travel_share, reading.verdict
    if reading.event is not None:
        event = next((e for e in build.logbook.events if e.id == reading.event), None)
        if event is None:
            raise GeometryError(f"the logbook has no event “{reading.event}”")
        drive, length = drive or event.drive, length or event.effective_length_mm
        arm = event.arm_angle_deg if arm is None else arm
        share = event.travel_share if share is None else share
        if verdict is None and event.verdict in ("long", "short"):
            verdict = event.verdict
    if drive is None or length is None:
        raise GeometryError("the event tells no drive, or no length of its belt")
    return Tried(drive, length, arm, share, verdict, reading.sd_mm)


def belt_reading(
    tried: Tried, case: SolvableCase, place_of: Mapping[str, int], catalogue: Catalogue
) -> Reading:
    """A belt tried on a drive as a reading of the net.

    place_of: the net's point of each shaft; that of an arm's shaft is its pivot. Raises GeometryError
    with a sentence where nothing can be told by it. METHOD 15.
    """
    freedom = freedom_of(case)
    if tried.verdict is not None:
        at, bound = _at_its_end(case, freedom, tried.verdict)
    else:
        at, bound = _where_it_stood(freedom, tried), None
    layout = case.drive.layout
    offsets = offsets_at(case, freedom, at)
    slope = length_slope(freedom, at)
    belt = case.belt.stretching(tried.length_mm)
    pull = case.belt.reference_tension_n if bound else rest_pull(case, at)
    limits = catalogue.limits
    mark = 0.0
    if bound is None and freedom is not None:
        of_arm = isinstance(freedom.by, SpringArm) and not freedom.by.slides
        mark = slope * (radians(limits.arm_mark_sd_deg) if of_arm else limits.travel_mark_sd)
    own = hypot(
        limits.belt_length_tolerance / 2 * tried.length_mm,
        case.belt.profile.number_offset_tolerance_mm / 2,
        case.belt.profile.effective_to_cord_tolerance_mm / 2 * 2 * np.pi,
    )
    return Reading(
        "belt",
        tuple(place_of[shaft.id] for shaft in case.shafts),
        float(belt.length_at(np.asarray(pull))),
        hypot(own, mark) if tried.sd_mm is None else tried.sd_mm,
        diameters=tuple((2.0 * np.abs(layout.signed_radii)).tolist()),
        turns=_turns(layout),
        at=tuple(offsets.tolist()),
        bound=bound,
    )


def _turns(layout: Layout) -> tuple[int, ...]:
    """Which way round the belt runs over each pulley, +1 counter-clockwise."""
    return tuple(int(sign) for sign in np.sign(layout.signed_radii).tolist())


def offsets_at(case: SolvableCase, freedom: Freedom | None, at: float) -> Complex:
    """How far each pulley stands from the survey's point of its shaft (N,), mm: an arm's pulley from
    the pivot, one on a travel from where it is drawn.
    """
    offsets = np.zeros(case.drive.layout.centers.size, dtype=complex)
    if freedom is None:
        return offsets
    of_arm = isinstance(freedom.by, SpringArm) and not freedom.by.slides
    base = freedom.by.pivot if of_arm and isinstance(freedom.by, SpringArm) else freedom.drawn
    offsets[list(freedom.moving)] = freedom.center(at) - base
    return offsets


def usual_place(case: SolvableCase, freedom: Freedom | None) -> float:
    """Where an adjuster stands in the middle: of an arm's window, rad; of a travel."""
    return sum(case.arm.window) / 2 if case.arm is not None else 0.5


def by_place(case: SolvableCase, place_of: Mapping[str, int], places: Complex) -> Float | None:
    """By how much the belt grows with x and y of each of the net's points (2P,), which stand at places
    (P,), mm, the adjuster in its middle; None where there is no path.
    """
    freedom = freedom_of(case)
    layout = case.drive.layout
    at = usual_place(case, freedom)
    surveyed = [place_of.get(shaft.id) for shaft in case.shafts]
    # where they are measured and not where they are drawn: there the belt grows otherwise
    drawn = _centers(layout.centers, freedom, at)
    offsets = offsets_at(case, freedom, at)
    centers = np.array(
        [
            drawn[k] if place is None else places[place] + offsets[k]
            for k, place in enumerate(surveyed)
        ]
    )
    path = trace(centers, layout.signed_radii)
    if not np.isfinite(path.total):
        return None
    # what enters a pulley pulls one way, what leaves it the other
    gradients = np.roll(path.direction, 1) - path.direction
    found = np.zeros(2 * places.size)
    for place, gradient in zip(surveyed, gradients.tolist(), strict=True):
        if place is not None:
            found[2 * place : 2 * place + 2] += gradient.real, gradient.imag
    return found


def _where_it_stood(freedom: Freedom | None, tried: Tried) -> float:
    if freedom is None:
        return 0.0
    if isinstance(freedom.by, SpringArm) and not freedom.by.slides:
        if tried.arm_angle_deg is None:
            raise GeometryError("it is not told where the arm stood, nor that the belt did not fit")
        return radians(tried.arm_angle_deg)
    if tried.travel_share is None:
        raise GeometryError(
            "it is not told where on its travel the shaft stood, nor that it did not fit"
        )
    return tried.travel_share


def _at_its_end(case: SolvableCase, freedom: Freedom | None, verdict: str) -> tuple[float, Bound]:
    """Where the path is longest, which a belt that is too long passes; or shortest."""
    bound: Bound = "most" if verdict == "long" else "least"
    if freedom is None:
        return 0.0, bound
    low, high = sorted(freedom.ends)
    places = np.linspace(low, high, _ENDS)
    path = freedom.paths(places)
    exists = ~np.asarray(faults(path, case.drive.layout.driver_sign).any).reshape(-1)
    if not exists.any():
        raise GeometryError("the drive has no path anywhere on the adjuster's travel")
    total = np.where(exists, path.total, -np.inf if verdict == "long" else np.inf)
    return float(places[np.argmax(total) if verdict == "long" else np.argmin(total)]), bound


def _centers(drawn: Complex, freedom: Freedom | None, at: float) -> Complex:
    centers = drawn.copy()
    if freedom is not None:
        centers[list(freedom.moving)] = freedom.center(at)
    return centers
