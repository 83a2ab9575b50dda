"""What every option of a space is to the mechanics: radii, places, springs, loads (METHOD 6 and 8).

The figures are read off builds that are assembled as any other, one per option or pair of options, so
that a combination is to the mechanics what its build is.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.adjusters import adjuster_of
from jovial_tack.answers.drive.assemble import assemble, friction_of, radius_of
from jovial_tack.answers.drive.belt_figures import BeltFigures, belt_figures
from jovial_tack.answers.drive.case import SolvableCase, runs_free
from jovial_tack.answers.drive.taking import situation_of, taken_by
from jovial_tack.answers.finder.space import FinderError, Space
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import MM_PER_M, Bool, Complex, Float, Int
from jovial_tack.core.belt.lines import cord_length
from jovial_tack.core.drive.arm import SpringArm
from jovial_tack.core.drive.loads import belt_speed
from jovial_tack.core.drive.train import CarriedLoad
from jovial_tack.core.grip.finder.many import Arms, Loads, Many, offsets_from
from jovial_tack.core.value import Value
from jovial_tack.document.edits.belts import set_belt
from jovial_tack.document.edits.brackets import bolt_bracket
from jovial_tack.document.edits.changing import with_pulley
from jovial_tack.document.edits.freedoms import put_in_hole
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.model import Build, Pulley


class Figures(Value, frozen=True, eq=False):
    """The options of a space as arrays; P is how many a pulley has, N the pulleys of the route.

    rpm (S,); radii mm, ribs: per place (P,); friction: per place (constructions, P); torque N·m: per
    place (P of the driver, P, S), None where nothing is taken; shifts: per hole and offset axis
    (options, N) complex mm, with those of the arm's pivot (options,); arms per notch; belts per
    construction; axis_of: the axis of each place's pulley, None where it stays.
    """

    case: SolvableCase
    rpm: Float
    radii: tuple[Float, ...]
    ribs: tuple[Bool, ...]
    friction: tuple[Float, ...]
    torque: tuple[Float | None, ...]
    shifts: tuple[tuple[Complex, Complex], ...]
    arms: tuple[SpringArm, ...]
    belts: tuple[BeltFigures, ...]
    axis_of: tuple[int | None, ...]

    @property
    def driver(self) -> int:
        """The place of the driver on the route."""
        return self.case.driver


def figures_of(space: Space, case: SolvableCase, rpm: Float) -> Figures:
    """The figures of every option of a drive with a spring arm at engine speeds (S,), rev/min."""
    route, situation = space.drive.route, situation_of(space.build, space.catalogue)
    named = [name for name, _ in space.pulleys]
    options = [dict(space.pulleys).get(name, (space.drive.pulley(name),)) for name in route]
    belts = tuple(belt_of(space, construction) for construction in space.constructions)
    return Figures(
        case=case,
        rpm=rpm,
        radii=tuple(np.array([radius_of(p, belts[0]) for p in each]) for each in options),
        ribs=tuple(np.array([p.side == "ribs" for p in each]) for each in options),
        friction=tuple(
            np.array([[friction_of(p, belt, situation) for p in each] for belt in belts])
            for each in options
        ),
        torque=tuple(_torque(space, case, options, place, rpm) for place in range(len(route))),
        shifts=tuple(_shifts(space, case)),
        arms=tuple(_arm(space, case, notch) for notch in space.notches),
        belts=belts,
        axis_of=tuple(named.index(name) if name in named else None for name in route),
    )


def cases_named(build: Build, catalogue: Catalogue) -> dict[str, SolvableCase]:
    """The drives of a build that turn, by their ids."""
    cases = assemble(build, catalogue)
    return {case.model.id: case for case in cases if isinstance(case, SolvableCase)}


def case_of(build: Build, space: Space) -> SolvableCase:
    """The drive of a build. Raises FinderError where nothing turns it."""
    for case in assemble(build, space.catalogue):
        if case.model.id == space.choices.drive and isinstance(case, SolvableCase):
            return case
    raise FinderError(f"nothing turns {space.drive.label}")


def belt_of(space: Space, construction: str) -> BeltFigures:
    """The drive's belt in another construction."""
    made = set_belt(space.build, space.drive.id, construction=construction)
    return belt_figures(made.drive(space.drive.id).belt, space.catalogue)


def _torque(
    space: Space, case: SolvableCase, options: list[tuple[Pulley, ...]], place: int, rpm: Float
) -> Float | None:
    """What a pulley takes (P of the driver, P, S), N·m: it hangs on its speed, which both set."""
    if place == case.driver or not case.drive.torques(rpm)[:, place].any():
        return None
    drive, driving = space.drive.id, options[case.driver]
    taken = np.empty((len(driving), len(options[place]), rpm.size))
    # what belts further on take hangs on all that turns them: then the whole build is assembled
    alone = not isinstance(case.drive.loads[place], CarriedLoad)
    situation = situation_of(space.build, space.catalogue)
    for k, driver in enumerate(driving):
        for m, pulley in enumerate(options[place]):
            if alone:
                sign = case.signs[case.driver] * (1 if pulley.side == driver.side else -1)
                turns = radius_of(driver, case.belt) / radius_of(pulley, case.belt)
                ratio = case.drive.speed_ratio * turns
                own = taken_by(space.build, case.shafts[place], ratio, space.catalogue, situation)
                free = runs_free(pulley, sign)
                taken[k, m] = 0.0 if free else own.load.torque_nm(rpm * ratio)
                continue
            made = with_pulley(with_pulley(space.build, drive, driver), drive, pulley)
            taken[k, m] = case_of(made, space).drive.torques(rpm)[:, place]
    return taken


def _shifts(space: Space, case: SolvableCase) -> list[tuple[Complex, Complex]]:
    """How far each option of holes and offsets moves the pulleys, and the arm's pivot."""
    made = [[put_in_hole(space.build, name, at) for at in options] for name, options in space.holes]
    made += [
        [bolt_bracket(space.build, name, at) for at in options] for name, options in space.offsets
    ]
    assert case.arm is not None
    found = []
    for builds in made:
        cases = [case_of(build, space) for build in builds]
        centers = [each.drive.layout.centers - case.drive.layout.centers for each in cases]
        pivots = [each.arm.pivot - case.arm.pivot for each in cases if each.arm is not None]
        found.append((np.stack(centers), np.array(pivots, dtype=np.complex128)))
    return found


def _arm(space: Space, case: SolvableCase, notch: int | None) -> SpringArm:
    model = case.model
    if notch is not None:
        model = set_arm(space.build, model.id, notch=notch).drive(model.id)
    factor = situation_of(space.build, space.catalogue).spring_factor
    arm = adjuster_of(model, case.shafts, case.drive.layout, case.belt, factor)
    assert isinstance(arm, SpringArm)
    return arm


class Laws(Value, frozen=True, eq=False):
    """A run of combinations without their belts, as the mechanics take them: J drives, their loads, and
    the ratio of every pulley over the crank (N, J).
    """

    many: Many
    loads: Loads
    ratios: Float


def laws_of(space: Space, figures: Figures, laws: Int) -> Laws:
    """The drives of combinations (J,), numbered without their belts."""
    places = np.unravel_index(laws, space.shape[:-1])
    count = len(space.pulleys)
    of_pulleys, (notch, construction) = places[:count], places[-2:]
    of_places = places[count:-2]
    zero = np.zeros(laws.size, dtype=np.int64)
    own = [zero if axis is None else of_pulleys[axis] for axis in figures.axis_of]
    radii = np.stack([radii[k] for radii, k in zip(figures.radii, own, strict=True)])
    ribs = np.stack([ribs[k] for ribs, k in zip(figures.ribs, own, strict=True)])
    # a pulley on the belt's other side turns the other way than the driver
    sign = figures.case.signs[figures.driver] * np.where(ribs == ribs[figures.driver], 1, -1)
    friction = np.stack(
        [friction[construction, k] for friction, k in zip(figures.friction, own, strict=True)]
    )
    centers = np.repeat(figures.case.drive.layout.centers[:, None], laws.size, axis=1)
    pivot = np.array([arm.pivot for arm in figures.arms], dtype=np.complex128)[notch]
    for (moved, moved_pivot), k in zip(figures.shifts, of_places, strict=True):
        centers += moved[k].T
        pivot = pivot + moved_pivot[k]
    belts = figures.belts
    many = Many(
        centers,
        sign * radii,
        figures.driver,
        figures.arms[0].index,
        _arms(figures, notch, pivot),
        friction,
        np.array([belt.stiffness_n for belt in belts])[construction],
        np.array([belt.reference_tension_n for belt in belts])[construction],
    )
    mass = np.array([belt.mass_kg_per_m for belt in belts])[construction]
    speed_ratio = figures.case.drive.speed_ratio
    speed = belt_speed(figures.rpm[:, None] * speed_ratio, radii[figures.driver])
    loads = Loads(_offsets_n(figures, own, radii), mass * speed**2)
    return Laws(many, loads, speed_ratio * radii[figures.driver] / radii)


def _arms(figures: Figures, notch: Int, pivot: Complex) -> Arms:
    def of(name: str) -> Float:
        return np.array([getattr(arm, name) for arm in figures.arms])[notch]

    wound, unwound = np.array([arm.stops for arm in figures.arms]).T
    first, last = np.array([arm.window for arm in figures.arms]).T
    return Arms(
        figures.arms[0].push,
        pivot,
        of("arm_mm"),
        of("angle"),
        of("torque_nm"),
        of("rate_nm_per_rad"),
        (wound[notch], unwound[notch]),
        (first[notch], last[notch]),
        figures.arms[0].way,
    )


def _offsets_n(figures: Figures, own: list[Int], radii: Float) -> Float:
    """Traction of each span above that of the span leaving the driver (S, N, J), N."""
    driver = figures.driver
    steps = np.zeros((figures.rpm.size, *radii.shape))
    for place, torque in enumerate(figures.torque):
        if torque is not None:
            steps[:, place] = MM_PER_M * torque[own[driver], own[place]].T / radii[place]
    return offsets_from(steps, driver)


def cord_mm(space: Space, figures: Figures) -> Float:
    """Cord length at T_ref of every belt of the space (B,), mm."""
    profile = figures.belts[0].profile
    lengths = [length for length in space.belts if length is not None]
    return np.asarray(cord_length(np.array(lengths), profile.effective_to_cord_mm))
