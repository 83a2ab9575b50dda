"""Edits that look for what suits, by solving."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.case import Case, SolvableCase
from jovial_tack.answers.drive.judging import case_of, reserve_of
from jovial_tack.answers.drive.solve import Solution, solve_again
from jovial_tack.answers.kinds import BELT_FLOATS, LOW_RESERVE, SLIP, TOO_TIGHT
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.drive.path import faults, trace
from jovial_tack.core.drive.sliding import Slot
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.changing import changed, with_drive, with_shaft
from jovial_tack.document.edits.routes import Side, lay_on
from jovial_tack.document.edits.tensioners import set_locked, set_tensioner
from jovial_tack.document.model import Build, SpringSlideTensioner, Tensioner
from jovial_tack.document.travel import track_on

#: Of the most tension, where the least that holds is not near it.
_SHARE_OF_MOST = 0.6
_SLIGHT = 0.36


def best_span(
    build: Build, drive_id: str, shaft_id: str, side: Side, catalogue: Catalogue
) -> str | None:
    """The pulley after which a shaft joins a belt with the shortest path; None if nowhere."""
    found: list[tuple[float, str]] = []
    for after in build.drive(drive_id).route:
        tried = lay_on(build, drive_id, after, shaft_id, side, catalogue)
        case = case_of(tried, drive_id, catalogue)
        if not isinstance(case, SolvableCase):
            continue
        path = trace(case.drive.layout.centers, case.drive.layout.signed_radii)
        if not bool(faults(path, case.drive.layout.driver_sign).any):
            found.append((float(path.total), after))
    return min(found)[1] if found else None


def set_spring_arm(build: Build, drive_id: str, pulley_id: str, catalogue: Catalogue) -> Build:
    """Put a pulley on a spring arm, the weakest of a usual series that holds, and fit the belt for it.

    The arm stands across the way in which the pulley takes up belt, so that it has its full lever; of
    the two sides its pivot takes the one with more room.
    """
    drive, usual = build.drive(drive_id), catalogue.parts
    shaft = build.shaft(drive.pulley(pulley_id).shaft)
    center = complex(*shaft.center_mm)
    way = _takes_up(case_of(build, drive_id, catalogue), drive.route.index(pulley_id))
    others = [complex(*s.center_mm) for s in build.shafts if s.id != shaft.id]
    pivots = {turn: center + 1j * turn * way * usual.arm_mm for turn in (1, -1)}
    turn = max(pivots, key=lambda t: min((abs(pivots[t] - o) for o in others), default=0.0))
    angle = float(np.degrees(np.angle(center - pivots[turn])))
    tensioner = {
        "type": "spring_arm",
        "pulley": pulley_id,
        "pivot_mm": (round(pivots[turn].real, 1), round(pivots[turn].imag, 1)),
        "pushes": "ccw" if turn > 0 else "cw",
        "angle_deg": round(angle, 1),
        "stops_deg": _either_side(angle, usual.arm_stops_deg),
        "window_deg": _either_side(angle, usual.arm_window_deg),
        "arm_mm": usual.arm_mm,
        "rate_nm_per_deg": usual.arm_rate_nm_per_deg,
        "damping_fraction": usual.arm_damping_fraction,
    }
    if shaft.kind == "idler":
        build = with_shaft(build, changed(shaft, kind="tensioner"))
    sprung = changed(drive, tensioner={**tensioner, "torque_nm": usual.arm_torques_nm[-3]})
    return _with_spring(with_drive(build, sprung), drive_id, catalogue)


def set_spring_slide(build: Build, drive_id: str, pulley_id: str, catalogue: Catalogue) -> Build:
    """Put a pulley on a sprung slide, with the weakest of a usual series that holds, and fit the belt.

    Its shaft keeps the slot it has; another gets one of usual length along the way in which the pulley
    takes up belt.
    """
    drive, usual = build.drive(drive_id), catalogue.parts
    shaft = build.shaft(drive.pulley(pulley_id).shaft)
    center = complex(*shaft.center_mm)
    way = _takes_up(case_of(build, drive_id, catalogue), drive.route.index(pulley_id))
    slot = track_on(shaft.mount)
    kind = "tensioner" if shaft.kind == "idler" else shaft.kind
    if not isinstance(slot, Slot):
        slot = Slot(center - usual.slide_mm / 2 * way, center + usual.slide_mm / 2 * way)
        ends = [(round(end.real, 1), round(end.imag, 1)) for end in (slot.start, slot.end)]
        mount = {"type": "slot", "from_mm": ends[0], "to_mm": ends[1]}
        shaft = changed(shaft, mount=mount)
    build = with_shaft(build, changed(shaft, kind=kind))
    # the spring pushes to the end at which the pulley takes up more belt
    onward = ((slot.end - slot.start) * way.conjugate()).real >= 0
    length, beside = slot.length_mm, (1.0 - usual.slide_window_share) / 2
    tensioner = {
        "type": "spring_slide",
        "pulley": pulley_id,
        "pushes_to": "second" if onward else "first",
        "at_mm": round(length / 2, 1),
        "force_n": usual.slide_forces_n[-3],
        "rate_n_per_mm": usual.slide_rate_n_per_mm,
        "window_mm": (round(beside * length, 1), round((1.0 - beside) * length, 1)),
        "damping_fraction": usual.slide_damping_fraction,
    }
    sprung = changed(build.drive(drive_id), tensioner=tensioner)
    return _with_spring(with_drive(build, sprung), drive_id, catalogue)


def _with_spring(build: Build, drive_id: str, catalogue: Catalogue) -> Build:
    """The weakest spring of its series that holds, and the belt for it.

    What belt suits hardly depends on the spring: one for a middling spring, then for the one found.
    """
    build = _weakest_that_does(fit_belt(build, drive_id, catalogue), drive_id, catalogue)
    build = fit_belt(build, drive_id, catalogue)
    if _wrong_with(solve_again(build, None, catalogue, None, reserve=False), drive_id):
        tensioner = build.drive(drive_id).tensioner
        found = getattr(tensioner, _strength(tensioner)[0], 0.0)
        build = _weakest_that_does(build, drive_id, catalogue, found)
        build = fit_belt(build, drive_id, catalogue)
    return build


def _strength(tensioner: Tensioner | None) -> tuple[str, str]:
    """The key of a spring's strength, and that of the usual series."""
    if isinstance(tensioner, SpringSlideTensioner):
        return "force_n", "slide_forces_n"
    return "torque_nm", "arm_torques_nm"


def _takes_up(case: Case, place: int) -> complex:
    """The way, a unit vector, in which a pulley that moves takes up most belt; upward if none does."""
    if not isinstance(case, SolvableCase):
        return 1j
    direction = trace(case.drive.layout.centers, case.drive.layout.signed_radii).direction
    taken = complex(direction[place - 1] - direction[place])
    return taken / abs(taken) if np.isfinite(taken) and abs(taken) > 1e-6 else 1j


def _either_side(angle_deg: float, by_deg: float) -> tuple[float, float]:
    return round(angle_deg - by_deg, 1), round(angle_deg + by_deg, 1)


def _weakest_that_does(
    build: Build, drive_id: str, catalogue: Catalogue, least: float = 0.0
) -> Build:
    """The build with the weakest spring of the series with which nothing is wrong, or the least."""
    tries = []
    solution = None
    key, series = _strength(build.drive(drive_id).tensioner)
    for strength in [each for each in getattr(catalogue.parts, series) if each >= least]:
        tried = set_tensioner(build, drive_id, **{key: strength})
        solution = solve_again(tried, None, catalogue, solution, reserve=False)
        wrong = _wrong_with(solution, drive_id)
        tries.append((wrong, strength, tried))
        if wrong == 0:
            break
    return min(tries, key=lambda each: each[:2])[2]


def _wrong_with(solution: Solution, drive_id: str) -> int:
    """How much is wrong with an arm: slip, too tight, a belt far from mid window; then reserve."""
    result = solution.results.drive(drive_id)
    kinds = {finding.kind for finding in result.findings}
    inside = getattr(result.tensioner, "window_fraction", None) or 0.0
    grave = len(kinds & {SLIP, BELT_FLOATS, TOO_TIGHT}) + (not 0.2 < inside < 0.8)
    return 2 * grave + (LOW_RESERVE in kinds)


def bolt_shaft(build: Build, drive_id: str, shaft_id: str, catalogue: Catalogue) -> Build:
    """Tension a belt by moving a shaft and bolting it, at a pull inside the band of its tension.

    From the least that holds to the most that belt and bearings bear; where that band is empty, or the
    least is not known, at most as tight as they bear.
    """
    belt = case_of(build, drive_id, catalogue).belt
    start = _SHARE_OF_MOST * belt.construction.most_tension_n_per_rib * belt.ribs
    build = set_locked(build, drive_id, shaft_id, _in_tens(start))
    grip = reserve_of(build, drive_id, catalogue)
    if grip is None or not grip.most_tension_n:
        return build
    most, least = grip.most_tension_n, grip.least_tension_n or 0.0
    middle = (least * most) ** 0.5 if least > _SLIGHT * most else _SHARE_OF_MOST * most
    return set_tensioner(build, drive_id, installed_tension_n=_in_tens(min(middle, most)))


def _in_tens(pull_n: float) -> float:
    """A pull as it is set, N: in steps of ten, rounded down."""
    return max(10.0, float(pull_n // 10) * 10.0)


def fit_belt(build: Build, drive_id: str, catalogue: Catalogue) -> Build:
    """Fit the stocked belt that suits the tensioner best; the build as it is if none does."""
    started = build
    if build.drive(drive_id).belt.effective_length_mm is None:
        started = set_belt_length(build, drive_id, 1000.0)  # any: what suits does not depend on it
    order = belts_to_order(started, catalogue, drive_id).get(drive_id)
    return build if order is None else set_belt_length(build, drive_id, order.effective_length_mm)
