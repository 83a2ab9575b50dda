"""The combinations that fit, and those of drives without a spring arm, each solved by itself."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.finder.figures import case_of
from jovial_tack.answers.finder.space import FinderError, Space
from jovial_tack.core.arrays import Float, Int
from jovial_tack.core.drive.adjuster import INSIDE
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.path import faults
from jovial_tack.core.drive.solve import Running, run, states_at
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Pulley

#: Told how many combinations are tried; what it raises ends the work.
Progress = Callable[[int], None]

#: The most combinations that are solved one at a time.
MOST_ALONE = 20_000


class Fitting(Value, frozen=True, eq=False):
    """The combinations (F,) that fit: their numbers, angle of the arm at rest rad, tension at rest N,
    the most arc used, the greatest pull on a hub N, the ratio of the pulley that is looked at, how much
    more is to buy than today and what it costs, the arm's share of its window while running (2, F), and
    how much longer the belt is than the path with the arm at its wound stop, mm.
    """

    combination: Int
    angle: Float
    tension_n: Float
    arc_used: Float
    hub_n: Float
    ratio: Float
    to_buy: Int
    cost: Float
    window: Float
    spare_mm: Float

    def chosen(self, which: Int) -> Fitting:
        """Those of some of them."""
        return Fitting(*(getattr(self, name)[..., which] for name in self.__struct_fields__))


def bought(space: Space, combination: Int) -> tuple[Int, Float]:
    """How many parts each combination takes that are neither on the engine nor on the shelf, and what
    they cost as far as prices are known.
    """
    to_buy, cost = np.zeros(combination.shape, dtype=np.int64), np.zeros(combination.shape)
    places = np.unravel_index(combination, space.shape)
    for (name, pulleys), place in zip(space.pulleys, places, strict=False):
        now = space.drive.pulley(name)
        parts = [_part_bought(space.build, now, pulley) for pulley in pulleys]
        to_buy += np.array([count for count, _ in parts])[place]
        cost += np.array([price for _, price in parts])[place]
    today = space.drive.belt
    other = np.array([name != today.construction for name in space.constructions])[places[-2]]
    longer = np.array([length != today.effective_length_mm for length in space.belts])[places[-1]]
    new = other | longer
    return to_buy + new, cost + np.where(new, _prices(space)[places[-1]], 0.0)


def _prices(space: Space) -> Float:
    """What each belt of the space costs (B,), 0 where no price is known."""
    if all(entry.price is None for entry in space.stock):
        return np.zeros(len(space.belts))
    entries = [None if length is None else space.stocked(length) for length in space.belts]
    return np.array([0.0 if entry is None else entry.price or 0.0 for entry in entries])


def _part_bought(build: Build, now: Pulley, after: Pulley) -> tuple[int, float]:
    """Whether a pulley has to be bought in place of today's, and its price if it is known."""
    if after == now or (after.part is None and after.diameter_mm == now.diameter_mm):
        return 0, 0.0
    part = None if after.part is None else build.find_part(after.part)
    if part is not None and part.count > 0:
        return 0, 0.0
    return 1, 0.0 if part is None else part.price or 0.0


def one_by_one(
    space: Space, case: SolvableCase, rpm: Float, looked_at: int, progress: Progress
) -> Fitting:
    """Every combination assembled and run by itself, for drives that are bolted tight or stretched, and
    where what changes moves another belt along. Raises FinderError where that would take too long.
    """
    if space.count > MOST_ALONE:
        raise FinderError(
            f"at most {MOST_ALONE:,} combinations of a drive that no spring keeps tight, not"
            f" {space.count:,}"
        )
    rows: list[tuple[float, ...]] = []
    for combination in range(space.count):
        row = _alone(case_of(space.build_of(combination), space), rpm, looked_at)
        if row is not None:
            rows.append((combination, *row))
        progress(combination + 1)
    columns = np.array(rows, dtype=float).reshape(len(rows), 8).T
    names = columns[0].astype(np.int64)
    to_buy, cost = bought(space, names)
    unknown = np.full(names.shape, np.nan)
    angle, tension, used, hub, ratio, low, high = columns[1:]
    return Fitting(
        names, angle, tension, used, hub, ratio, to_buy, cost, np.stack([low, high]), unknown
    )


def _alone(case: SolvableCase, rpm: Float, looked_at: int) -> tuple[float, ...] | None:
    """Angle at rest, tension at rest, most arc used, greatest pull, ratio and the arm's share of its
    window while running; None where it does not fit.
    """
    drive, arm = case.drive, case.arm
    if case.slide is not None and case.slide.share is None:
        return None
    still, running = _at_rest(case), run(drive, states_at(drive, rpm))
    rest = still.path.lanes(0)
    if bool(faults(rest, drive.layout.driver_sign).any) or not (still.outcome == INSIDE).all():
        return None
    if not (running.outcome == INSIDE).all() or not (running.tractions > 0).all():
        return None
    share = (np.nan, np.nan)
    if arm is not None:
        if not 0 <= float(arm.window_fraction(still.angle)[0]) <= 1:
            return None
        shares = arm.window_fraction(running.angle)
        share = float(shares.min()), float(shares.max())
    return (
        float(still.angle[0]),
        float(still.tractions[0, 0]),
        float(running.arc_used_fraction.max()),
        float(np.abs(running.hub_load).max()),
        float(drive.ratios[looked_at]),
        *share,
    )


def _at_rest(case: SolvableCase) -> Running:
    return run(case.drive, Lanes.at_rest(case.drive.pulley_count, case.drive.belt))
