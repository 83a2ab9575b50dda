"""Every combination of a space tried, and those that fit ranked by what is aimed at (METHOD 8)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.answers.drive.air import air_of, blower_of, engine_air
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.solved import damping_fraction
from jovial_tack.answers.finder.figures import (
    Figures,
    belt_of,
    case_of,
    cord_mm,
    figures_of,
    laws_of,
)
from jovial_tack.answers.finder.fitting import Fitting, Progress, bought, one_by_one
from jovial_tack.answers.finder.space import FinderError, Space
from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.drive.arm import place_arm
from jovial_tack.core.drive.path import Path, trace
from jovial_tack.core.grip.finder.alone import solve_alone
from jovial_tack.core.grip.finder.many import Loads, Many
from jovial_tack.core.grip.finder.settling import FITS, OPEN
from jovial_tack.core.grip.finder.solving import Tried, solve_many
from jovial_tack.core.ratios.blower import charge_at
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import LockedTensioner

#: Combinations without their belts that are made ready at a time: two parts of the kernel's.
_LAWS = 24_000
MOST = 5_000_000


class Answer(Value, frozen=True, eq=False):
    """What was found: how many were tried and fit, and those of them that keep what can be told of the
    limits at once, best first; case: the drive today; looked_at: the pulley whose ratio is told;
    figures: None where no arm keeps the belt tight; broken: how many of what fits break each limit.
    """

    space: Space
    case: SolvableCase
    rpm: Float
    looked_at: str
    tried: int
    feasible: int
    fitting: Fitting
    figures: Figures | None
    broken: tuple[tuple[str, int], ...] = ()


def find(space: Space, rpm: Sequence[float], progress: Progress = lambda _count: None) -> Answer:
    """Try every combination at engine speeds, rev/min. Raises FinderError where that makes no sense."""
    if space.count > MOST:
        raise FinderError(f"at most {MOST:,} combinations at once, not {space.count:,}")
    speeds = np.array(rpm, dtype=float)
    case = case_of(space.build, space)
    if None in space.belts and not isinstance(case.model.tensioner, LockedTensioner):
        label = space.drive.label
        raise FinderError(f"choices.belt_lengths_mm: the belts to try, since {label} has none")
    if not case.model.tensioner:
        raise FinderError(f"{space.drive.label}: how it is tensioned is not decided yet")
    looked_at = _looked_at(space, case, speeds)
    figures = figures_of(space, case, speeds) if turns_by_arm(space, case) else None
    if figures is None:
        every = one_by_one(space, case, speeds, looked_at, progress)
    else:
        every = _all_at_once(space, figures, looked_at, progress)
    limits = _limits(space, case, every)
    keeps = np.ones(every.combination.shape, dtype=np.bool_)
    for kept in limits.values():
        keeps &= kept
    within = every.chosen(np.flatnonzero(keeps))
    return Answer(
        space,
        case,
        speeds,
        space.drive.route[looked_at],
        space.count,
        every.combination.size,
        within.chosen(_ranked(space, within)),
        figures,
        tuple((words, int((~kept).sum())) for words, kept in limits.items()),
    )


def turns_by_arm(space: Space, case: SolvableCase) -> bool:
    """Whether a spring arm keeps the belt tight, and nothing that changes moves the shafts of another
    belt, which would take that belt along.
    """
    if case.arm is None:
        return False
    own = {shaft.id for shaft in case.shafts}
    others = (drive for drive in space.build.drives if drive.id != case.model.id)
    held = (d.tensioner.shaft for d in others if isinstance(d.tensioner, LockedTensioner))
    return not own & set(held) or not (space.holes or space.offsets)


def _all_at_once(space: Space, figures: Figures, looked_at: int, progress: Progress) -> Fitting:
    lengths, belts = cord_mm(space, figures), len(space.belts)
    parts: list[Fitting] = []
    laws = space.count // belts
    for first in range(0, laws, _LAWS):
        names = np.arange(first, min(first + _LAWS, laws))
        parts.append(_tried(space, figures, names, lengths, looked_at, progress))
        progress(int(names[-1] + 1) * belts)
    return _joined(parts)


def _tried(
    space: Space,
    figures: Figures,
    names: Int,
    lengths: Float,
    looked_at: int,
    progress: Progress,
) -> Fitting:
    laws, belts = laws_of(space, figures, names), lengths.size
    done = int(names[0]) * belts
    drive = np.repeat(np.arange(names.size), belts)
    tried = solve_many(
        laws.many,
        laws.loads,
        drive,
        np.tile(lengths, names.size),
        lambda rows: progress(done + rows),
    )
    for row in np.flatnonzero(tried.outcome == OPEN):
        solve_alone(laws.many, laws.loads, tried, int(row))
    rows = np.flatnonzero(tried.outcome == FITS)
    combination = names[drive[rows]] * belts + rows % belts
    wound, unwound = (end[drive[rows]] for end in laws.many.arms.window)
    to_buy, cost = bought(space, combination)
    return Fitting(
        combination,
        tried.angle[rows],
        tried.tension_n[rows],
        tried.arc_used[rows],
        tried.hub_n[rows],
        laws.ratios[looked_at, drive[rows]],
        to_buy,
        cost,
        np.sort((tried.running[:, rows] - wound) / (unwound - wound), axis=0),
        tried.spare_mm[rows],
    )


def _joined(parts: Sequence[Fitting]) -> Fitting:
    names = Fitting.__struct_fields__
    return Fitting(
        *(np.concatenate([getattr(part, name) for part in parts], axis=-1) for name in names)
    )


def _looked_at(space: Space, case: SolvableCase, rpm: Float) -> int:
    """The pulley whose ratio is told: the one of the target, else the blower's, else the first that
    takes something, else the one after the driver.
    """
    route, target = space.drive.route, space.choices.target
    if target is not None:
        return route.index(target.pulley)
    for place, shaft in enumerate(case.shafts):
        if shaft.kind == "supercharger" and place != case.driver:
            return place
    takes = np.asarray(case.drive.torques(rpm).any(axis=0))
    takes[case.driver] = False
    return int(np.argmax(takes)) if takes.any() else (case.driver + 1) % len(route)


def _limits(space: Space, case: SolvableCase, fitting: Fitting) -> dict[str, Bool]:
    """Which combinations keep each limit that can be told of all at once, by its words: ratio, boost,
    and of what is solved whole later the tension at rest on the high side of damping.
    """
    kept: dict[str, Bool] = {}
    target = space.choices.target
    if target is not None:
        off = np.abs(fitting.ratio - target.ratio)
        kept["the ratio"] = np.asarray(off <= target.tolerance + 1e-12)
    if space.choices.boost_kpa is not None:
        boost = boost_kpa(space, case, fitting.ratio)
        low, high = space.choices.boost_kpa
        theirs = f" ({boost.min():.0f} to {boost.max():.0f} kPa)" if boost.size else ""
        kept[f"the boost{theirs}"] = (boost >= low) & (boost <= high)
    if "not_tight" in space.choices.needs:
        belts = [belt_of(space, name) for name in space.constructions]
        most = np.array([b.construction.most_tension_n_per_rib * b.ribs for b in belts])
        which = np.unravel_index(fitting.combination, space.shape)[-2]
        tight = fitting.tension_n * (1.0 + damping_fraction(case))
        kept["the belt's tension"] = np.asarray(tight <= most[which])
    return kept


def boost_kpa(space: Space, case: SolvableCase, ratio: Float) -> Float:
    """Boost at redline with the blower at ratios (F,) over the crank, kPa.

    Raises FinderError where the drive turns no blower that can be computed.
    """
    build = space.build
    engine = engine_air(build.engine)
    blowers = [blower_of(build, shaft) for shaft in case.shafts if shaft.kind == "supercharger"]
    if engine is None or not blowers or blowers[0] is None:
        raise FinderError(
            "choices.boost_kpa: the drive turns no blower whose boost can be computed"
        )
    redline, air = np.array([build.engine.redline_rpm]), air_of(build.air)
    each, of = np.unique(ratio, return_inverse=True)
    made = [float(charge_at(blowers[0], engine, air, redline, one).boost_kpa[0]) for one in each]
    return np.array(made)[of] if made else np.zeros(0)


def _ranked(space: Space, fitting: Fitting) -> Int:
    """The order of combinations, best first; what is equally good by grip, then as they are counted."""
    used, target = fitting.arc_used, space.choices.target
    first: Float = used
    match space.choices.aim:
        case "ratio":
            assert target is not None
            first = np.abs(fitting.ratio - target.ratio).round(9)
        case "hub_load":
            first = fitting.hub_n
        case "cost":
            first = fitting.cost
        case "owned":
            first = fitting.to_buy.astype(float)
        case _:
            pass
    return np.lexsort((fitting.combination, used, first))


class LowSide(Value, frozen=True, eq=False):
    """Combinations on the low side of their springs' damping: the most arc used and the tension at rest
    (F,); NaN where the belt does not run so.
    """

    arc_used: Float
    tension_n: Float


def low_side(answer: Answer, which: Int) -> LowSide:
    """The low side of some of what fits, which (F,) of it."""
    space, fitting, figures = answer.space, answer.fitting, answer.figures
    if figures is None:
        return LowSide(fitting.arc_used[which], fitting.tension_n[which])
    names, belt = np.divmod(fitting.combination[which], len(space.belts))
    laws = laws_of(space, figures, names)
    low = 1.0 - damping_fraction(answer.case)
    weak = replace(laws.many, arms=laws.many.arms.times(low))
    order, lengths = np.arange(names.size), cord_mm(space, figures)[belt]
    running = _settled(laws.many, replace(laws.loads, spring_scale=low), order, lengths)
    no_loads = Loads(laws.loads.offsets_n[:0], laws.loads.centrifugal_n[:0])
    resting = _settled(weak, no_loads, order, lengths)
    return LowSide(
        np.where(running.outcome == FITS, running.arc_used, np.nan),
        np.where(resting.outcome == FITS, resting.tension_n, np.nan),
    )


def _settled(many: Many, loads: Loads, drive: Int, lengths: Float) -> Tried:
    """Belts on drives solved, those left open by the general code."""
    tried = solve_many(many, loads, drive, lengths)
    for row in np.flatnonzero(tried.outcome == OPEN):
        solve_alone(many, loads, tried, int(row))
    return tried


def path_of(answer: Answer, place: int) -> Path:
    """The path at rest of one of what fits: one with (N,) members."""
    space, fitting = answer.space, answer.fitting
    case = case_of(space.build_of(int(fitting.combination[place])), space)
    layout = case.drive.layout
    if case.arm is None:
        return trace(np.asarray(layout.centers), layout.signed_radii)
    return place_arm(layout, case.arm, fitting.angle[[place]]).path.lanes(0)
