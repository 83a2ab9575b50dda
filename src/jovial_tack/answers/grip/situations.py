"""A drive in every situation over all revs: the build's load cases and the catalogue's, and what time,
weather and the throttle do to a belt (METHOD 8).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase, runs_free
from jovial_tack.answers.drive.hot import warmed
from jovial_tack.answers.drive.solved import damping_fraction
from jovial_tack.catalogue import Catalogue, Limits
from jovial_tack.core.arrays import RAD_S_PER_RPM, Float
from jovial_tack.core.drive.loads import Speeding
from jovial_tack.core.drive.solve import BeltDrive, run, states_at
from jovial_tack.core.grip.reserve import slip_ranges
from jovial_tack.core.grip.revs import Range, speeds_over
from jovial_tack.core.value import Value, replace
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.model import Build, Shaft, SuperchargerLoad

#: Columns of the picture over the revs.
_COLUMNS = 49


class Situation(Value, frozen=True, eq=False):
    """One situation: rpm (R,), and the share of its wrap that each pulley uses (R, N), on the low side
    of the damping, infinite where the belt floats; slips: the ranges in which a pulley slips. usual:
    whether its figures are representative ones and not the build's own.
    """

    key: str
    label: str
    rpm: Float
    used: Float
    slips: tuple[Range, ...]
    usual: bool

    @property
    def worst(self) -> tuple[float, int, float]:
        """The most of a wrap that is used, by which place of the route, and at what speed."""
        at, place = np.unravel_index(int(np.argmax(self.used)), self.used.shape)
        return float(self.used[at, place]), int(place), float(self.rpm[at])


class Situations(Value, frozen=True, eq=False):
    """A drive in every situation, as it is first, then the worst first; band: from what speed it slips
    as it is with wet and with new and dry ribs, None for never. grid (C,) rpm and over (K, C,
    N) the shares at it, for a picture.
    """

    drive: str
    each: tuple[Situation, ...]
    grid: Float
    over: Float
    band: tuple[float | None, float | None]

    @property
    def worst(self) -> Situation:
        """The situation in which most of a wrap is used."""
        return max(self.each, key=lambda one: one.worst[0])


def situations_of(
    build: Build,
    drive_id: str,
    catalogue: Catalogue,
    check_cancelled: Callable[[], None] = lambda: None,
) -> Situations | None:
    """Solve a drive in every situation; None while it is undecided or does not turn."""
    engine = build.engine
    grid = np.linspace(engine.idle_rpm, engine.redline_rpm, _COLUMNS)
    found: list[Situation] = []
    over: list[Float] = []
    for key, label, case, drive, usual in _all(build, drive_id, catalogue):
        check_cancelled()
        if not case.decided:
            return None
        looked_at = speeds_over(drive, engine.idle_rpm, engine.redline_rpm)
        every = np.unique([*grid, *looked_at])
        used = _used(case, drive, every)
        # looked for as everywhere else, so that the same speed is told
        at = np.unique([*looked_at, engine.cruise_rpm])
        slips = slip_ranges(drive, at, spring_scale=1.0 - damping_fraction(case))
        found.append(Situation(key, label, every, used, slips, usual))
        over.append(used[np.searchsorted(every, grid)])
    if not found:
        return None
    order = sorted(range(1, len(found)), key=lambda k: -found[k].worst[0])
    order = [0, *order]
    plain = next(_all(build, drive_id, catalogue))
    return Situations(
        drive_id,
        tuple(found[k] for k in order),
        grid,
        np.stack([over[k] for k in order]),
        _band(plain[2], catalogue.limits),
    )


def _band(case: SolvableCase, limits: Limits) -> tuple[float | None, float | None]:
    """From what speed a drive slips with wet and with new and dry ribs."""
    engine, drive = case.engine, case.drive
    at = np.unique([*speeds_over(drive, engine.idle_rpm, engine.redline_rpm), engine.cruise_rpm])
    low = 1.0 - damping_fraction(case)
    slips = [
        slip_ranges(drive, at, spring_scale=low, friction_scale=factor)
        for factor in (limits.friction_wet, limits.friction_dry)
    ]
    wet, dry = (ranges[0][0] if ranges else None for ranges in slips)
    return wet, dry


def _used(case: SolvableCase, drive: BeltDrive, rpm: Float) -> Float:
    states = states_at(drive, rpm)
    low = 1.0 - damping_fraction(case)
    running = run(drive, replace(states, spring_scale=np.full(rpm.shape, low)))
    used = running.arc_used_fraction
    # a belt that floats at one pulley, or has no path at all, holds nothing
    return np.where(np.isnan(used), np.inf, used)


_Way = tuple[str, str, SolvableCase, BeltDrive, bool]


def _all(build: Build, drive_id: str, catalogue: Catalogue) -> Iterator[_Way]:
    """Every situation: key, label, the case, the drive as it is then, and whether by usual figures."""
    plain = _case(changed(build, load_case=None), drive_id, catalogue)
    if plain is None:
        return
    yield "as_it_is", "as it is", plain, plain.drive, False
    own = {case.id: case.label for case in build.load_cases}
    kinds = {shaft.kind for shaft in plain.shafts}
    usual = {
        name: case.label
        for name, case in catalogue.load_cases.items()
        if name not in own and kinds & set(case.loads)
    }
    for name, label in {**own, **usual}.items():
        case = _case(changed(build, load_case=name), drive_id, catalogue)
        if case is not None:
            yield name, label[:1].lower() + label[1:], case, case.drive, name in usual
    inertia = reflected_inertia(plain, build, catalogue)
    for key, label, drive in _conditions(plain, catalogue.limits, inertia):
        yield key, label, plain, drive, True


def _case(build: Build, drive_id: str, catalogue: Catalogue) -> SolvableCase | None:
    for case in assemble(build, catalogue):
        if case.model.id == drive_id and isinstance(case, SolvableCase):
            return case
    return None


def _conditions(
    case: SolvableCase, limits: Limits, inertia: Float
) -> Iterator[tuple[str, str, BeltDrive]]:
    """What weather, time and the throttle make of a drive. inertia (N,): at its pulleys, kg·m²."""
    drive = case.drive
    for key, label, factor in (
        ("wet", "wet", limits.friction_wet),
        ("oily", "oily", limits.friction_oily),
        ("glazed", "glazed ribs", limits.friction_glazed),
    ):
        yield key, label, replace(drive, friction=drive.friction * factor)
    yield "hot", "hot", warmed(drive, limits)
    arm = case.arm
    if arm is not None:
        left = 1.0 - limits.weak_spring
        weak = replace(
            arm, torque_nm=arm.torque_nm * left, rate_nm_per_rad=arm.rate_nm_per_rad * left
        )
        yield "weak_spring", "worn spring", replace(drive, adjuster=weak)
        belt = drive.belt
        longer = replace(belt, cord_length_mm=belt.cord_length_mm * (1.0 + limits.belt_run_in))
        yield "run_in", "belt run in", replace(drive, belt=longer)
    if inertia.any():
        yield "speeding", "revving up", _speeding(case, limits.speeding_rpm_per_s, inertia)
        yield "shifting", "shift at full revs", _speeding(case, limits.shifting_rpm_per_s, inertia)


def reflected_inertia(case: SolvableCase, build: Build, catalogue: Catalogue) -> Float:
    """The moment of inertia that each pulley of a drive turns (N,), kg·m², at the pulley's speed: its
    shaft's, a blower's rotors times the square of their step-up, and what belts further on turn times
    the square of their ratio. 0 where none is told, and for the driver.
    """
    cases = [each for each in assemble(build, catalogue) if isinstance(each, SolvableCase)]
    found = np.zeros(len(case.shafts))
    for place, shaft in enumerate(case.shafts):
        if place == case.driver or runs_free(case.pulleys[place], case.signs[place]):
            continue
        found[place] = _own_inertia(shaft)
        # loops of belts turn nothing and are no solvable cases, so that this ends
        for further in cases:
            if further.shafts[further.driver].id == shaft.id and further.model.id != case.model.id:
                radii = np.abs(further.drive.layout.signed_radii)
                steps = radii[further.driver] / radii
                found[place] += float(reflected_inertia(further, build, catalogue) @ steps**2)
    return found


def _own_inertia(shaft: Shaft) -> float:
    """What turns with a shaft, at its own speed, kg·m²."""
    inertia = shaft.inertia_kg_m2 or 0.0
    if isinstance(shaft.load, SuperchargerLoad):
        inertia += (shaft.load.impeller_inertia_kg_m2 or 0.0) * shaft.load.step_up**2
    return inertia


def _speeding(case: SolvableCase, rpm_per_s: float, inertia: Float) -> BeltDrive:
    """The drive while the engine's speed changes so fast: the inertia at each pulley (N,), kg·m², takes
    torque, or gives it back, where no one-way pulley lets it run on.
    """
    drive = case.drive
    ratios = drive.ratios
    loads = []
    for place, load in enumerate(drive.loads):
        if not inertia[place]:
            loads.append(load)
            continue
        more = float(inertia[place] * ratios[place]) * rpm_per_s * RAD_S_PER_RPM
        loads.append(Speeding(load, more, case.pulleys[place].one_way is not None))
    return replace(drive, loads=tuple(loads))
