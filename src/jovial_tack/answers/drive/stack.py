"""Pulleys stacked on one shaft: their pulls together, and how they bend it about its foremost bearing.

Each pulley's hub load acts in its groove plane; planes before the bearing overhang it. METHOD 9.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.kinds import HUB_LOAD
from jovial_tack.answers.results import DriveResult, Finding, Results
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.line_up.stack import stacked
from jovial_tack.core.units import LENGTH, TORQUE, written_in
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Shaft


class Stack(Value, frozen=True):
    """All pulleys of a shaft along R listed speeds.

    rpm (R,); load_n (R,) and moment_nm (R,): size of the summed pull, and of the moment about the
    bearing; overhang_mm (R,): where one pull of that size would have to act; unmeasured: pulleys whose
    plane is not known, which are left out.
    """

    rpm: tuple[float, ...]
    load_n: Float
    moment_nm: Float
    overhang_mm: Float
    unmeasured: int


def stack_on(build: Build, results: Results, shaft_id: str) -> Stack | None:
    """The stack on a shaft; None where its bearing is not measured or nothing pulls on it."""
    found = _pulls(build, results, build.shaft(shaft_id))
    if found is None:
        return None
    rpm, pulls, levers, unmeasured = found
    return Stack(rpm, *stacked(pulls, levers), unmeasured)


def _pulls(
    build: Build, results: Results, shaft: Shaft
) -> tuple[tuple[float, ...], Complex, Float, int] | None:
    """Speeds, hub loads (K, R) complex N, levers (K,) mm before the bearing, pulleys left out."""
    if shaft.bearing_mm is None:
        return None
    rpm: tuple[float, ...] = ()
    pulls, levers, unmeasured = [], [], 0
    for drive in build.drives:
        result: DriveResult = results.drive(drive.id)
        if rpm and result.rpm != rpm:
            continue  # it was solved at other speeds
        for pulley in [pulley for pulley in drive.pulleys if pulley.shaft == shaft.id]:
            pull = _pull_of(result, pulley.id)
            if pull is None:
                continue
            if pulley.plane_mm is None:
                unmeasured += 1
                continue
            rpm = result.rpm
            pulls.append(pull)
            levers.append(pulley.plane_mm - shaft.bearing_mm)
    if not pulls:
        return None
    return rpm, np.array(pulls), np.array(levers), unmeasured


def _pull_of(result: DriveResult, pulley_id: str) -> Complex | None:
    """Pull of the belt on a pulley along the speeds, complex N; None where it has none."""
    found = result.pulley(pulley_id)
    if found is None or None in found.hub_load_n:
        return None
    size = np.array(found.hub_load_n, dtype=float)
    way = np.radians(np.array(found.hub_direction_deg, dtype=float))
    return np.asarray(size * np.exp(1j * way))


def stack_findings(build: Build, results: Results) -> dict[str, tuple[Finding, ...]]:
    """Shafts that are bent further than they may be, by the drive whose pulley stands furthest out."""
    found: dict[str, tuple[Finding, ...]] = {}
    for shaft in build.shafts:
        limit = shaft.hub_moment_limit_nm
        stack = None if limit is None else stack_on(build, results, shaft.id)
        if stack is None or limit is None or not stack.moment_nm.max() > limit:
            continue
        lane = int(np.argmax(stack.moment_nm))
        most = float(stack.moment_nm[lane])
        drive, pulley = _outermost(build, shaft)
        unit = build.display_units
        bent = f"the pulls on {shaft.label} bend it with {written_in(most, TORQUE, unit)}"
        where = f"about its bearing at {stack.rpm[lane]:.0f} rpm"
        over = f"over its {written_in(limit, TORQUE, unit)}"
        mend = _nearer_would_do(_nearer(build, results, shaft, lane, limit), unit)
        said = f"{bent} {where}, {over}{mend}"
        finding = Finding(HUB_LOAD, "watch", pulley, said, value=most, limit=limit)
        found[drive] = (*found.get(drive, ()), finding)
    return found


def _outermost(build: Build, shaft: Shaft) -> tuple[str, str]:
    """Drive and pulley whose plane stands furthest out on a shaft."""
    planes = [
        (pulley.plane_mm, drive.id, pulley.id)
        for drive in build.drives
        for pulley in drive.pulleys
        if pulley.shaft == shaft.id and pulley.plane_mm is not None
    ]
    _, drive_id, pulley_id = max(planes)
    return drive_id, pulley_id


def _nearer_would_do(nearer_mm: float | None, unit: str) -> str:
    if nearer_mm is None:
        return ""
    closer = written_in(nearer_mm, LENGTH, unit, 0 if unit == "mm" else 2)
    return f"; all its pulleys {closer} nearer would do"


def _nearer(build: Build, results: Results, shaft: Shaft, lane: int, limit: float) -> float | None:
    """How far all pulleys must come nearer to the bearing for the moment to be at its limit, mm."""
    found = _pulls(build, results, shaft)
    assert found is not None
    _, pulls, levers, _ = found
    force, moment = pulls[:, lane].sum(), (pulls[:, lane] * levers).sum()
    # |moment − x·force| = 1000·limit, the smaller root
    a = abs(force) ** 2
    b = -2 * (moment * np.conj(force)).real
    c = abs(moment) ** 2 - (1000.0 * limit) ** 2
    under = b * b - 4 * a * c
    if a == 0 or under < 0:
        return None
    x = float((-b - np.sqrt(under)) / (2 * a))
    return x if x > 0 else None
