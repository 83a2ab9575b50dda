"""Why a belt has no path: overlap first, then contact, then crossing (docs/METHOD.md, section 3)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import BELT_CROSSES_ITSELF, NO_CONTACT, PULLEYS_OVERLAP
from jovial_tack.answers.results import Finding
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.path import (
    Path,
    PathFaults,
    blame_for_turning,
    faults,
    pulley_gaps,
    trace,
)


def geometry_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """What makes the drawn path impossible; empty if it is not the geometry."""
    path, found = solved.drawn_path, solved.rest_faults
    if path is None or found is None or not bool(found.any):
        return []
    overlaps = list(_overlaps(solved, path, found, speech))
    if overlaps:
        return overlaps
    contact = list(_contact(solved, path, found, speech))
    return contact or list(_crossings(solved, path, found, speech))


def _overlaps(solved: Solved, path: Path, found: PathFaults, speech: Speech) -> Iterator[Finding]:
    centers, radii = path.centers, np.abs(path.signed_radii)
    gaps = pulley_gaps(centers, radii)
    pairs = path.ring.pulley_pairs
    for place in np.flatnonzero(found.overlap):
        here, there = int(pairs.first[place]), int(pairs.second[place])
        depth = -float(gaps[place])
        yield Finding(
            PULLEYS_OVERLAP,
            "stop",
            solved.case.model.route[there],
            f"{speech.at(there)} and {speech.at(here)} stand {speech.length(depth)} into one another;"
            f" move them at least that far apart",
            value=depth,
            limit=0.0,
        )


def _contact(solved: Solved, path: Path, found: PathFaults, speech: Speech) -> Iterator[Finding]:
    lost = [int(place) for place in np.flatnonzero(found.lost)]
    if not lost and bool(found.turning):
        lost = [_turning_wrong(solved, path)]
    if not lost:
        return
    hint = _reversal_hint(solved, path)
    for place in lost:
        pulley = solved.case.pulleys[place]
        mend = hint or _flip_hint(solved, path, speech, place)
        where = f"the belt cannot reach {speech.at(place)} with its {pulley.side}"
        yield Finding(NO_CONTACT, "stop", pulley.id, f"{where}; {mend}")


def _turning_wrong(solved: Solved, path: Path) -> int:
    """The pulley because of which the belt does not go once round."""
    layout = solved.drive.layout
    blamed = blame_for_turning(path.centers, path.signed_radii, layout.driver)
    if blamed is not None:
        return blamed
    # with two pulleys, or no single culprit, the one turning against the driver most
    signs = path.signed_radii * layout.driver_sign
    others = [place for place in range(path.centers.size) if place != layout.driver]
    return min(others, key=lambda place: float(signs[place]))


def _reversal_hint(solved: Solved, path: Path) -> str:
    driver = solved.drive.layout.driver
    order = np.arange(path.centers.size)[::-1]
    if path.centers.size > 2 and _exists(
        path.centers[order], path.signed_radii[order], driver, order
    ):
        return "the route reads against the belt's travel: turn its order round"
    return ""


def _flip_hint(solved: Solved, path: Path, speech: Speech, place: int) -> str:
    driver = solved.drive.layout.driver
    count = path.centers.size
    pulley = solved.case.pulleys[place]
    order = np.arange(count)
    if place != driver:
        profile = solved.case.belt.profile
        change = profile.cord_to_back_mm - profile.effective_to_cord_mm
        flipped = path.signed_radii.copy()
        grown = change if pulley.side == "ribs" else -change
        flipped[place] = -np.sign(flipped[place]) * (abs(flipped[place]) + grown)
        if _exists(path.centers, flipped, driver, order):
            other = "back" if pulley.side == "ribs" else "ribs"
            return f"it can with its {other}"
        if count > 2:
            keep = np.delete(order, place)
            if _exists(
                path.centers[keep], path.signed_radii[keep], int(driver - (place < driver)), keep
            ):
                return f"without {speech.at(place)} the belt has a path, or move it toward the belt"
    return "check its place, its side and the order of the route"


def _exists(centers: Complex, signed_radii: Float, driver: int, order: object) -> bool:
    if isinstance(order, np.ndarray) and order.size == centers.size and order[0] > order[-1]:
        driver = centers.size - 1 - driver
    path = trace(centers, signed_radii)
    return not bool(faults(path, float(np.sign(signed_radii[driver]))).any)


def _crossings(solved: Solved, path: Path, found: PathFaults, speech: Speech) -> Iterator[Finding]:
    route = solved.case.model.route
    count = path.centers.size
    mend = _swap_hint(solved, path, speech)
    seen: set[int] = set()
    bystanders = path.ring.bystanders
    for place in np.flatnonzero(found.through):
        span, pulley = int(bystanders.first[place]), int(bystanders.second[place])
        if pulley in seen:
            continue
        seen.add(pulley)
        yield Finding(
            BELT_CROSSES_ITSELF,
            "stop",
            route[pulley],
            f"the belt from {speech.at(span)} to {speech.at((span + 1) % count)} runs through"
            f" {speech.at(pulley)}; {mend}",
        )
    pairs = path.ring.span_pairs
    for place in np.flatnonzero(found.crossing):
        if count == 2:
            break
        here, there = int(pairs.first[place]), int(pairs.second[place])
        if here in seen or there in seen:
            continue
        seen.update((here, there))
        yield Finding(
            BELT_CROSSES_ITSELF,
            "stop",
            route[there],
            f"the span from {speech.at(here)} crosses the span from {speech.at(there)}; {mend}",
        )


def _swap_hint(solved: Solved, path: Path, speech: Speech) -> str:
    driver = solved.drive.layout.driver
    count = path.centers.size
    for place in range(count):
        after = (place + 1) % count
        order = np.arange(count)
        order[place], order[after] = after, place
        at = int(np.flatnonzero(order == driver)[0])
        swapped = trace(path.centers[order], path.signed_radii[order])
        if not bool(faults(swapped, float(np.sign(swapped.signed_radii[at]))).any):
            return f"with {speech.at(place)} and {speech.at(after)} the other way round it does not"
    return "change the order of the route or the side of a pulley"
