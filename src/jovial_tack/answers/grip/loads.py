"""What belts do to their parts: pulls on shafts over the revs, their moments on bearings, bends, and
how long a belt lasts against another state (METHOD 9).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np

from jovial_tack.answers.kinds import HUB_LOAD
from jovial_tack.answers.results import DriveResult, Results
from jovial_tack.catalogue import Catalogue, Construction
from jovial_tack.core.arrays import MM_PER_M, Complex, Float
from jovial_tack.core.grip.life import damage
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Drive, Shaft

#: How a shaft bears what pulls at it.
Borne = Literal["good", "watch", "stop", "unknown"]


class Pulls(Value, frozen=True, eq=False):
    """The pull of all belts on a shaft: rpm (R,) of the engine, pull_n (R,) plane vectors, N; limit_n
    of its bearing and moment_nm, the greatest moment on it, both None where not known.
    """

    shaft: str
    rpm: Float
    pull_n: Complex
    limit_n: float | None
    moment_nm: float | None
    moment_limit_nm: float | None

    @property
    def most(self) -> tuple[float, float, float]:
        """The greatest pull, N, its direction, degrees counter-clockwise from x, and the engine's
        speed.
        """
        at = int(np.argmax(np.abs(self.pull_n)))
        pull = complex(self.pull_n[at])
        return abs(pull), float(np.degrees(np.angle(pull))), float(self.rpm[at])


class BeltUse(Value, frozen=True):
    """How a belt is used at redline: bends a second, and the longest span with its length, mm; life:
    how many times as long it lasts as in another state, None where there is none or it cannot be told.
    """

    drive: str
    bends_per_s: float
    longest: tuple[str, str]
    longest_mm: float
    life: float | None


def pulls_of(build: Build, results: Results) -> tuple[Pulls, ...]:
    """The pulls on all shafts, the greatest share of a limit first, then the greatest pull."""
    found = [pulls for shaft in build.shafts if (pulls := _on(build, results, shaft)) is not None]

    def gravity(pulls: Pulls) -> tuple[float, float]:
        most = pulls.most[0]
        return (most / pulls.limit_n if pulls.limit_n else 0.0, most)

    return tuple(sorted(found, key=gravity, reverse=True))


def _on(build: Build, results: Results, shaft: Shaft) -> Pulls | None:
    each: list[tuple[Float, Complex, float | None]] = []
    for result in results.drives:
        drive = build.find_drive(result.id)
        for pulley in () if drive is None else drive.pulleys:
            told = result.pulley(pulley.id)
            if pulley.shaft != shaft.id or told is None or None in told.hub_load_n:
                continue
            size = np.array(told.hub_load_n, dtype=float)
            way = np.radians(np.array(told.hub_direction_deg, dtype=float))
            if not size.size:
                continue
            known = pulley.plane_mm is not None and shaft.bearing_mm is not None
            lever = (pulley.plane_mm or 0.0) - (shaft.bearing_mm or 0.0) if known else None
            each.append((np.array(result.rpm, dtype=float), size * np.exp(1j * way), lever))
    if not each:
        return None
    # drives that were taken over from before may be known at more speeds than others
    rpm = each[0][0]
    for speeds, _, _ in each[1:]:
        rpm = np.intersect1d(rpm, speeds)
    rpm = np.sort(rpm)
    if not rpm.size:
        return None
    pulls = [_at(rpm, speeds, pull) for speeds, pull, _ in each]
    total = np.sum(pulls, axis=0)
    moment = None
    if all(lever is not None for _, _, lever in each):
        levers = [lever or 0.0 for _, _, lever in each]
        turning = np.sum([lever * pull for lever, pull in zip(levers, pulls, strict=True)], axis=0)
        moment = float(np.abs(turning).max()) / MM_PER_M
    return Pulls(
        shaft.id,
        rpm,
        np.asarray(total, dtype=np.complex128),
        shaft.hub_load_limit_n,
        moment,
        shaft.hub_moment_limit_nm,
    )


def pulls_mark(build: Build, results: Results, pulls: Pulls) -> Borne:
    """How a shaft bears its pulls, as is found of it on the high side of the damping, hot and at rest
    too; unknown where it has no limit.
    """
    on = {(d.id, p.id) for d in build.drives for p in d.pulleys if p.shaft == pulls.shaft}
    levels = {
        finding.level
        for result in results.drives
        for finding in result.findings
        if finding.kind == HUB_LOAD and (result.id, finding.where) in on
    }
    if levels:
        return "stop" if "stop" in levels else "watch"
    moment, bears = pulls.moment_nm, pulls.moment_limit_nm
    if moment is not None and bears is not None and moment > bears:
        return "watch"
    return "unknown" if pulls.limit_n is None else "good"


def _at(rpm: Float, known: Float, pull: Complex) -> Complex:
    """Pulls at speeds that are among those known."""
    order = np.argsort(known)
    return np.asarray(pull[order][np.searchsorted(known[order], rpm)])


def belt_uses(
    build: Build, results: Results, catalogue: Catalogue, before: tuple[Build, Results] | None
) -> tuple[BeltUse, ...]:
    """How the belts that run are used. before: another state to tell their life by."""
    found = []
    for result in results.drives:
        drive = build.drive(result.id)
        rate = _passes_per_s(result)
        if rate is None or not result.spans:
            continue
        span = max(result.spans, key=lambda one: one.length_mm)
        found.append(
            BeltUse(
                drive.id,
                float(rate.max()) * len(drive.route),
                (span.from_id, span.to_id),
                span.length_mm,
                _life(drive, result, catalogue, before),
            )
        )
    return tuple(found)


def _passes_per_s(result: DriveResult) -> Float | None:
    """How often a second a place of the belt goes round (R,)."""
    speeds = [speed for speed in result.belt_speed_mps if speed is not None]
    if not speeds or not result.cord_length_mm or len(speeds) != len(result.belt_speed_mps):
        return None
    return MM_PER_M * np.array(speeds) / result.cord_length_mm


def _life(
    drive: Drive,
    result: DriveResult,
    catalogue: Catalogue,
    before: tuple[Build, Results] | None,
) -> float | None:
    """Life against another state: the damage an hour at even revs did then, over what it does now."""
    other = None if before is None else before[0].find_drive(drive.id)
    if before is None or other is None:
        return None
    # a belt of another make lives by laws of its own
    if (other.belt.profile, other.belt.construction) != (
        drive.belt.profile,
        drive.belt.construction,
    ):
        return None
    built = catalogue.construction(drive.belt.profile, drive.belt.construction)
    earlier = next((d for d in before[1].drives if d.id == drive.id), None)
    if earlier is None:
        return None
    now, then = (_damage(d, r, built) for d, r in ((drive, result), (other, earlier)))
    return None if not now or not then else then / now


def _damage(drive: Drive, result: DriveResult, built: Construction) -> float | None:
    rate = _passes_per_s(result)
    tensions = [span.tension_n for span in result.spans]
    if rate is None or any(None in each for each in tensions) or not tensions:
        return None
    spans = np.array(tensions, dtype=float)
    peak = np.maximum(spans, np.roll(spans, 1, axis=0)) / drive.belt.ribs
    sizes: Sequence[float] = [drive.pulley(name).diameter_mm for name in drive.route]
    each = damage(peak, np.array(sizes)[:, None], built.bending_stiffness_n_m2_per_rib)
    order = np.argsort(np.array(result.rpm))
    per_second = (each.sum(axis=0) * rate)[order]
    rpm = np.array(result.rpm, dtype=float)[order]
    if rpm.size < 2 or rpm[-1] == rpm[0]:
        return float(per_second.mean())
    return float(np.trapezoid(per_second, rpm) / (rpm[-1] - rpm[0]))
