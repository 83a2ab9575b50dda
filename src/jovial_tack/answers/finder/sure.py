"""How sure it is that a drive fits and holds: many engines like it, each a little otherwise (METHOD 8).

Where shafts are, diameters, the belt's length and line, its stretch and mass, the spring, and loads
that are only the usual ones of their kind are drawn within their tolerances; friction is the design one
and the damping on its low side, as findings judge.
"""

from __future__ import annotations

from math import sqrt

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.solved import Solved, damping_fraction, solve_states
from jovial_tack.answers.drive.spread import Spread, spread_of
from jovial_tack.answers.finder.figures import cases_named
from jovial_tack.catalogue import Catalogue, Limits
from jovial_tack.core.arrays import MM_PER_M, Complex, Float
from jovial_tack.core.belt.lines import cord_length
from jovial_tack.core.drive.arm import SpringArm
from jovial_tack.core.drive.loads import belt_speed
from jovial_tack.core.grip.finder.alone import solve_alone
from jovial_tack.core.grip.finder.many import Arms, Loads, Many, offsets_from
from jovial_tack.core.grip.finder.settling import FITS, OPEN
from jovial_tack.core.grip.finder.solving import Tried, solve_many
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build

SAMPLES = 2000
#: Speeds at which each is looked at, those about the peaks of arc used, idle and redline among them.
_SPEEDS = 4
_WITHIN = (5.0, 50.0, 95.0)


class Sure(Value, frozen=True):
    """Of so many engines: the share that fits, and that fits and holds, with how well these are known
    (± in 95 of 100); where 5, 50 and 95 of 100 of those that fit lie: share of the window at rest, and
    the most arc used.
    """

    samples: int
    fits: float
    holds: float
    known_within: float
    window: tuple[float, float, float]
    arc_used: tuple[float, float, float]


def how_sure(
    build: Build,
    drive_id: str,
    catalogue: Catalogue,
    samples: int = SAMPLES,
    seed: int = 1,
    solved: Solved | None = None,
) -> Sure | None:
    """Draw engines like a build and solve one of their drives; None where no spring arm keeps it tight,
    or where it does not run as it is. The same seed gives the same figures.
    """
    case = cases_named(build, catalogue).get(drive_id)
    if case is None or case.arm is None or not case.decided:
        return None
    engine = build.engine
    own = (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
    solved = solved or solve_states([case], own, catalogue.limits, live=True)[0]
    if solved.turning is None:
        return None
    spread, rng = spread_of(build, catalogue), np.random.default_rng(seed)
    tried = _drawn(case, _speeds(solved), spread, catalogue, samples, rng)
    return _told(case, tried, samples)


def _speeds(solved: Solved) -> Float:
    """Idle, redline, and where the pulleys use most of their wrap between."""
    over = solved.over_revs
    assert over is not None
    used = np.nan_to_num(over.low.arc_used_fraction, nan=np.inf).max(axis=1)
    engine = solved.case.engine
    worst = over.rpm[np.argsort(-used)[: _SPEEDS - 2]]
    return np.unique([engine.idle_rpm, engine.redline_rpm, *worst.tolist()])


def _drawn(
    case: SolvableCase,
    rpm: Float,
    spread: Spread,
    catalogue: Catalogue,
    samples: int,
    rng: np.random.Generator,
) -> Tried:
    """Solve engines drawn about a drive."""
    limits, arm, drive, belt = catalogue.limits, case.arm, case.drive, case.belt
    assert arm is not None

    def about(size: float) -> Float:
        """So much of a figure more or less, tolerances being two standard deviations."""
        return np.maximum(1.0 + rng.normal(0.0, size / 2, samples), 0.05)

    shifts = _shifts(case, spread, samples, rng)
    centers = drive.layout.centers[:, None] + shifts
    signs = np.sign(drive.layout.signed_radii)[:, None]
    radii = drive.radii[:, None] + _radii_off(case, limits, samples, rng)
    built = belt.construction
    stiffness = belt.stiffness_n * about(built.stiffness_tolerance)
    mass = belt.mass_kg_per_m * about(built.mass_tolerance)
    strength = about(limits.spring_tolerance)
    many = Many(
        centers,
        signs * radii,
        case.driver,
        arm.index,
        _arms(arm, strength, shifts[arm.index], samples),
        np.repeat(drive.friction[:, None], samples, axis=1),
        stiffness,
        np.full(samples, belt.reference_tension_n),
    )
    speed = belt_speed(rpm[:, None] * drive.speed_ratio, radii[case.driver])
    low = 1.0 - damping_fraction(case)
    loads = Loads(_offsets_n(case, rpm, radii, catalogue, rng), mass * speed**2, low)
    length = case.model.belt.effective_length_mm
    assert length is not None
    number = rng.normal(0.0, belt.profile.number_offset_tolerance_mm / 2, samples)
    sold = length * about(limits.belt_length_tolerance) + number
    # a belt whose cord lies higher is longer by as much all round
    cords = np.asarray(cord_length(sold, belt.profile.effective_to_cord_mm))
    tried = solve_many(many, loads, np.arange(samples), cords)
    for row in np.flatnonzero(tried.outcome == OPEN):
        solve_alone(many, loads, tried, int(row))
    return tried


def _shifts(case: SolvableCase, spread: Spread, samples: int, rng: np.random.Generator) -> Complex:
    """Where each engine's shafts are against the drawn ones (N, J), complex mm; the arm's pivot in the
    place of its pulley. Surveyed ones together, since they share readings.
    """
    names = [shaft.id for shaft in case.shafts]
    plain = rng.normal(0.0, spread.each_mm, (2, len(names), samples))
    shifts: Complex = plain[0] + 1j * plain[1]
    found = spread.found
    if found is None:
        return shifts
    adjusted, place_of = found.doubted.adjusted, found.built.place_of
    drawn = rng.multivariate_normal(
        np.zeros(adjusted.covariance.shape[0]), adjusted.covariance, samples, method="eigh"
    ).T
    for k, name in enumerate(names):
        place = place_of.get(name)
        if place is not None and adjusted.determined[place]:
            shifts[k] = drawn[2 * place] + 1j * drawn[2 * place + 1]
    return shifts


def _radii_off(case: SolvableCase, limits: Limits, samples: int, rng: np.random.Generator) -> Float:
    """How far cord radii are off (N, J), mm: each by its pulley, and all by where the cord lies."""
    each = rng.normal(0.0, limits.diameter_sigma_mm / 2, (len(case.pulleys), samples))
    cord = rng.normal(0.0, case.belt.profile.effective_to_cord_tolerance_mm / 2, samples)
    # a cord that lies higher in the grooves lies as much nearer to the back
    side = np.array([1.0 if pulley.side == "ribs" else -1.0 for pulley in case.pulleys])
    return np.asarray(each + side[:, None] * cord)


def _arms(arm: SpringArm, strength: Float, pivot_off: Complex, samples: int) -> Arms:
    full = np.ones(samples)
    (wound, unwound), (first, last) = arm.stops, arm.window
    return Arms(
        arm.push,
        arm.pivot + pivot_off,
        full * arm.arm_mm,
        full * arm.angle,
        strength * arm.torque_nm,
        strength * arm.rate_nm_per_rad,
        (full * wound, full * unwound),
        (full * first, full * last),
        arm.way,
    )


def _offsets_n(
    case: SolvableCase, rpm: Float, radii: Float, catalogue: Catalogue, rng: np.random.Generator
) -> Float:
    """Traction of each span above that of the span leaving the driver (S, N, J), N."""
    torque, driver = case.drive.torques(rpm), case.driver
    steps = np.zeros((rpm.size, *radii.shape))
    for place, shaft in enumerate(case.shafts):
        if place == driver:
            continue
        within = catalogue.kinds[shaft.kind].load_tolerance if shaft.id in case.guessed else None
        share = np.maximum(1.0 + rng.normal(0.0, (within or 0.0) / 2, radii.shape[1]), 0.0)
        steps[:, place] = MM_PER_M * torque[:, place, None] * share / radii[place]
    return offsets_from(steps, driver)


def _told(case: SolvableCase, tried: Tried, samples: int) -> Sure:
    assert case.arm is not None
    good = tried.outcome == FITS
    holds = good & (tried.arc_used < 1.0)
    share = case.arm.window_fraction(tried.angle[good])
    sure = float(holds.mean())
    return Sure(
        samples,
        float(good.mean()),
        sure,
        1.96 * sqrt(max(sure * (1.0 - sure), 1.0 / samples) / samples),
        _within(share),
        _within(tried.arc_used[good]),
    )


def _within(figures: Float) -> tuple[float, float, float]:
    if not figures.size:
        return (np.nan, np.nan, np.nan)
    low, middle, high = (float(figure) for figure in np.percentile(figures, _WITHIN))
    return low, middle, high
