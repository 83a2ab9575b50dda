"""How well what depends on where shafts are is known: a belt's length, a share of a window, a gap.

Shafts that were surveyed count with their covariance, since neighbours share readings; every other
centre is known as a tape usually tells it (docs/METHOD.md, 13 and 15).
"""

from __future__ import annotations

from collections.abc import Mapping
from math import hypot, sqrt

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.freedom import Freedom, freedom_of
from jovial_tack.answers.drive.surveyed import Surveyed, center_sigma, standing_survey
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex
from jovial_tack.core.drive.arm import SpringArm, place_arm
from jovial_tack.core.drive.path import Path, trace
from jovial_tack.core.drive.uncertainty import (
    arm_follows,
    by_centers_mm,
    length_sigma_mm,
)
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build

#: Standard deviations within which a figure lies in 95 of 100: what is closer is not told yet.
SURELY = 1.645
#: Steps of an adjuster by which its direction is told, rad or share of a travel.
_NEAR = 1e-4


class Spread(Value, frozen=True, eq=False):
    """How well the shafts of a build are known. found: the survey its shafts stand by, if any;
    each_mm: one standard deviation of every other centre in either axis.
    """

    found: Surveyed | None
    each_mm: float
    catalogue: Catalogue

    @property
    def surveyed(self) -> bool:
        """Whether a survey tells any of it."""
        return self.found is not None

    @property
    def key(self) -> bytes | None:
        """Equal for spreads that tell the same."""
        if self.found is None:
            return None
        adjusted = self.found.doubted.adjusted
        return adjusted.covariance.tobytes() + adjusted.determined.tobytes()

    def of(self, by_shaft: Mapping[str, complex]) -> float:
        """One standard deviation of what grows by x and y (real, imag) with each shaft's place."""
        found, rest = self.found, 0.0
        told = np.zeros(0)
        place_of: Mapping[str, int] = {}
        if found is not None:
            place_of = found.built.place_of
            told = np.zeros(2 * found.places.size)
        for name, grows in by_shaft.items():
            place = place_of.get(name)
            if found is not None and place is not None and found.doubted.adjusted.determined[place]:
                told[2 * place : 2 * place + 2] += grows.real, grows.imag
            else:
                rest += abs(grows) ** 2
        square = 0.0
        if found is not None:
            square = float(told @ found.doubted.adjusted.covariance @ told)
        return sqrt(max(square, 0.0) + self.each_mm**2 * rest)


def spread_of(build: Build, catalogue: Catalogue) -> Spread:
    """How well the shafts of a build are known."""
    found = standing_survey(build, catalogue)
    return Spread(found, catalogue.limits.survey_sigma_mm, catalogue)


def length_sigma(case: SolvableCase, spread: Spread) -> float:
    """One standard deviation of the belt length a drive takes, mm.

    From every centre, every diameter, where the cord lies in the grooves, and the tolerance of belts as
    sold.
    """
    drive = case.drive
    if case.arm is not None:
        path = place_arm(drive.layout, case.arm, np.array(sum(case.arm.window) / 2)).path
    else:
        path = trace(drive.layout.centers, drive.layout.signed_radii)
    if not np.isfinite(path.total):
        return 0.0
    found = spread.found
    if found is not None and case.model.id in found.lengths:
        centers = center_sigma(found, case.model.id, spread.each_mm)
    else:
        centers = by_centers_mm(path, spread.each_mm)
    return _sigma_with(case, path, centers, spread.catalogue)


def _sigma_with(case: SolvableCase, path: Path, centers_mm: float, catalogue: Catalogue) -> float:
    """That of a belt's length along one lane of a path, given what the centres make of it, mm."""
    limits, profile = catalogue.limits, case.belt.profile
    return length_sigma_mm(
        path,
        np.array([pulley.side == "back" for pulley in case.pulleys]),
        centers_mm=centers_mm,
        diameter_mm=limits.diameter_sigma_mm,
        # tolerances are two standard deviations
        cord_mm=profile.effective_to_cord_tolerance_mm / 2,
        number_mm=profile.number_offset_tolerance_mm / 2,
        sold=limits.belt_length_tolerance / 2,
    )


def share_sigma(case: SolvableCase, value: float | None, spread: Spread) -> float | None:
    """One standard deviation of how far into its window an arm rests, or along its travel a shaft is
    bolted, as a share of it.

    value: rad of the arm, share of the travel; None, and where it has no lever, tells None.
    """
    freedom = freedom_of(case)
    if freedom is None or value is None or not np.isfinite(value):
        return None
    path = freedom.paths(np.array([value])).lanes(0)
    if not np.isfinite(path.total):
        return None
    follows, by_length = _follows(case, freedom, value, path)
    by_shaft: dict[str, complex] = {}
    for shaft, grows in zip(case.shafts, follows.tolist(), strict=True):
        by_shaft[shaft.id] = by_shaft.get(shaft.id, 0j) + grows
    low, high = case.arm.window if case.arm is not None else (0.0, 1.0)
    others = _sigma_with(case, path, 0.0, spread.catalogue) * by_length
    sigma = hypot(spread.of(by_shaft), others) / abs(high - low)
    return sigma if np.isfinite(sigma) else None


def _follows(
    case: SolvableCase, freedom: Freedom, value: float, path: Path
) -> tuple[Complex, float]:
    """How far an adjuster gives way to each centre (N,), in its own parameter per mm by x (real) and y
    (imag), and to the belt's length.
    """
    if isinstance(freedom.by, SpringArm):
        belt = case.belt
        return arm_follows(
            case.drive.layout, freedom.by, value, belt.stiffness_n, belt.reference_tension_n
        )
    onward = freedom.center(value + _NEAR) - freedom.center(value - _NEAR)
    pulls = np.roll(path.direction, 1) - path.direction
    grown = float((pulls[list(freedom.moving)] * np.conj(onward / (2 * _NEAR))).real.sum())
    # it is bolted at one tension: the belt has one length
    return (-pulls / grown, 1.0 / grown) if grown else (np.full_like(pulls, np.inf), np.inf)


class Gapped(Value, frozen=True, eq=False):
    """A gap and what stands at its ends. here, there: complex mm; of: the place on the route whose
    pulley it is at, or whose following span; what: belt, pulley, body or wrench; hung_on: the shaft the
    obstacle is fixed to, None for one that stands by itself; at_rest: whether the belt puts the
    adjuster where it is.
    """

    here: complex
    there: complex
    of: int
    what: str
    hung_on: str | None
    at_rest: bool


def gap_sigma(
    case: SolvableCase, path: Path, value: float | None, gap: Gapped, spread: Spread
) -> float:
    """One standard deviation of a gap by where the shafts are, mm.

    The point of a span moves as its two pulleys do, in the shares of its place between them: along the
    gap a tangent line shifts evenly from one to the other. At rest the belt moves the adjuster with its
    pulleys too, by as much as its length takes back.

    Parameters: one lane of a path; value of the adjuster's freedom there, None where nothing moves.
    """
    count = path.centers.size
    weights = np.zeros(count, dtype=complex)
    along = path.direction[gap.of]
    share = 0.0
    away = (gap.here - path.start[gap.of]) * along.conjugate()
    if gap.what == "belt" and abs(away.imag) < abs(path.signed_radii[gap.of]):
        share = float(np.clip(away.real / path.length[gap.of], 0.0, 1.0))
    way = gap.here - gap.there
    if abs(way) < 1e-9:  # they touch: across the belt there, or from the pulley's middle
        way = 1j * along if share > 0 else gap.here - path.centers[gap.of]
    way /= abs(way) or 1.0
    weights[gap.of] += (1.0 - share) * way
    weights[(gap.of + 1) % count] += share * way
    freedom = freedom_of(case)
    if gap.at_rest and freedom is not None and value is not None and gap.what != "wrench":
        moving = list(freedom.moving)
        follows, _ = _follows(case, freedom, value, path)
        onward = freedom.center(value + _NEAR) - freedom.center(value - _NEAR)
        opened = float((weights[moving] * np.conj(onward / (2 * _NEAR))).real.sum())
        if opened:
            weights = weights + opened * follows
    by_shaft: dict[str, complex] = {}
    for shaft, weight in zip(case.shafts, weights.tolist(), strict=True):
        by_shaft[shaft.id] = by_shaft.get(shaft.id, 0j) + weight
    if gap.hung_on is not None:
        by_shaft[gap.hung_on] = by_shaft.get(gap.hung_on, 0j) - way
    return spread.of(by_shaft)


def known_by(surveyed: bool) -> str:
    """What a ± rests on, in words."""
    return "surveyed" if surveyed else "usual tape"
