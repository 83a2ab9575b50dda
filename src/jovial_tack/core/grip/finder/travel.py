"""Where the arms of many drives come to rest: which cell of their travel holds the first crossing.

The nodes are those of `core.drive.travel.survey_travel`, so that the same crossing is found. A node
tells the belt that would rest there, W(θ) = L(θ)/(1 + (T̄(θ) − T_ref)/EA): a belt of cord length L0
rests in the first cell over which W passes L0 from below. So one look along the travel serves every
belt. Whether a path exists is costly to tell; it is asked only of the nodes that decide.
"""

from __future__ import annotations

from functools import cached_property
from typing import Any

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int, chosen
from jovial_tack.core.drive.travel import cells_across
from jovial_tack.core.grip.finder.existing import path_exists, still_exists
from jovial_tack.core.grip.finder.many import Many
from jovial_tack.core.grip.finder.near import Near, Still, place_near
from jovial_tack.core.grip.finder.taut import Loaded, cord_wanted, mean_n, slack_n
from jovial_tack.core.value import Value

#: States solved side by side, so many that the arrays of one step stay in the processor's cache.
ROWS = 16384
#: The same of belts on one drive, of which only a few are solved.
ONE_DRIVE = 4 * ROWS


def parts_of(rows: int, size: int = ROWS) -> list[slice]:
    """Rows in parts of a size that is handled fast."""
    return [slice(first, min(first + size, rows)) for first in range(0, rows, size)]


class Nodes(Value, frozen=True, eq=False, dict=True):
    """The travel of J drives as K nodes from wound to unwound, all (K, J): angle rad; the path's
    length, mm; the base traction at rest, N, and what a newton more in the spans out of and into the
    arm's pulley adds to it; whether the arm has a lever and its spring has torque. near: the path
    there, of the drives named in `of` (J,).
    """

    angle: Float
    total: Float
    rest_n: Float
    by_out: Float
    by_into: Float
    levers: Bool
    grows: Bool
    near: Near
    of: Int

    @cached_property
    def whole(self) -> Bool:
        """Cells with a lever at both ends (C, J)."""
        return self.levers[:-1] & self.levers[1:]

    @cached_property
    def works(self) -> Bool:
        """Whether there is such a cell (J,)."""
        return np.asarray(self.whole.any(axis=0))

    @cached_property
    def first(self) -> Int:
        """The first of them (J,)."""
        return np.asarray(np.argmax(self.whole, axis=0))

    @cached_property
    def end(self) -> Int:
        """The cell after the first stretch of them (J,); C where it goes on to the unwound stop."""
        cells = np.arange(self.whole.shape[0])[:, None]
        after = ~self.whole & (cells > self.first)
        return np.where(after.any(axis=0), np.argmax(after, axis=0), cells.size)

    def chosen(self, which: Int) -> Nodes:
        """Those of the chosen drives."""
        return Nodes(
            chosen(self.angle, which),
            chosen(self.total, which),
            chosen(self.rest_n, which),
            chosen(self.by_out, which),
            chosen(self.by_into, which),
            chosen(self.levers, which),
            chosen(self.grows, which),
            self.near,
            self.of[which],
        )

    def near_at(self, node: Int, drive: Int) -> Near:
        """The path at nodes (R,) of drives (R,)."""
        return self.near.at(node, self.of[drive])

    def reaches_toggle(self, node: Int, drive: Int) -> Bool:
        """Whether the push shortens the path at nodes (R,); not where there is none."""
        return ~self.grows[node, drive] & np.isfinite(self.total[node, drive])

    def slack_n(self, out_n: Float | float, into_n: Float | float) -> Float:
        """Base traction (K, J), N, with offsets (J,) of the spans out of and into the arm's pulley."""
        return self.rest_n + out_n * self.by_out - into_n * self.by_into


def nodes_of(many: Many, still: Still) -> Nodes:
    """Look along the travel of every drive."""
    wound, unwound = many.arms.stops
    cells = cells_across(wound, unwound)
    index = np.arange(int(cells.max()) + 1)[:, None]
    step = (unwound - wound) / cells
    # all are cut as finely as the widest; a shorter travel ends in cells of no width
    angle = np.where(index < cells, wound + index * step, unwound)
    near = _placed(many, still, angle)
    with np.errstate(invalid="ignore", divide="ignore"):
        grown, torque = near.grown, many.arms.torque_nmm(angle)
        grows = many.arms.push * grown > 0
        return Nodes(
            angle,
            near.total,
            many.arms.push * torque / grown,
            near.out_pull / grown,
            near.in_pull / grown,
            # NaN of a path that does not exist compares false: no lever
            grows & (torque > 0) & np.isfinite(near.total),
            grows,
            near,
            np.arange(many.count),
        )


def _placed(many: Many, still: Still, angle: Float) -> Near:
    """The path at nodes (K, J), node by node: the arrays of one stay in the processor's cache."""
    kinds, of = _alike(many)
    levers = many.chosen(kinds).arms.lever(angle[:, kinds])
    first = place_near(many, still, angle[0], levers[0, of])
    names = [name for name in Near.__struct_fields__ if getattr(first, name) is not None]
    every: dict[str, Any] = {
        name: np.empty(angle.shape, getattr(first, name).dtype) for name in names
    }
    for node, at in enumerate(angle):
        near = first if node == 0 else place_near(many, still, at, levers[node, of])
        for name, figure in every.items():
            figure[node] = getattr(near, name)
    figures: list[Any] = [every.get(name) for name in Near.__struct_fields__]
    return Near(*figures)


def _alike(many: Many) -> tuple[Int, Int]:
    """The drives whose arms are of one length and travel: the first of each kind, and of which kind
    every drive is (J,). Mostly there are as many as notches, so that few turns are worked out.
    """
    arms, every = many.arms, np.arange(many.count)
    if (arms.arm_mm != arms.arm_mm[0]).any():
        return every, every
    wound, unwound = arms.stops
    travel = wound + 1j * unwound
    if (travel == travel[0]).all():
        return every[:1], np.zeros_like(every)
    _, first, of = np.unique(travel, return_index=True, return_inverse=True)
    return first, of


def levers_of(many: Many, near: Near, angle: Float) -> Bool:
    """Where the arm's push lengthens the path and its spring has torque (J,)."""
    with np.errstate(invalid="ignore"):
        levers = (many.arms.push * near.grown > 0) & (many.arms.torque_nmm(angle) > 0)
    return np.asarray(levers & np.isfinite(near.total))


class Wanted(Value, frozen=True, eq=False):
    """The belt that would rest at each node in one state: cord length at T_ref (K, J), mm; exact (K,
    J): False where it is only known to be shorter, or longer, than every belt that is tried.
    """

    cord_mm: Float
    exact: Bool


def wanted_at_rest(loaded: Loaded, nodes: Nodes) -> Wanted:
    """The belts that would rest at each node."""
    with np.errstate(invalid="ignore", divide="ignore"):
        cord = cord_wanted(loaded.many, nodes.total, nodes.rest_n)
    return Wanted(cord, np.ones(cord.shape, dtype=np.bool_))


def wanted_running(loaded: Loaded, nodes: Nodes, shortest: Float, longest: Float) -> Wanted:
    """The same in a running state; of the belts that are tried the shortest and the longest (J,), mm.

    The mean tension lies between the least and the greatest traction. Where that is enough to tell that
    every belt is longer, or every one shorter, the mean itself is not worked out.
    """
    offsets_n, centrifugal_n = loaded.offsets_n, loaded.centrifugal_n
    assert offsets_n is not None
    assert centrifugal_n is not None
    with np.errstate(invalid="ignore", divide="ignore"):
        many = loaded.many
        base = nodes.slack_n(offsets_n[many.arm_place], offsets_n[many.before]) + centrifugal_n
        # the more tension, the shorter the belt that stretches so far
        least = cord_wanted(many, nodes.total, base + offsets_n.max(axis=0))
        most = cord_wanted(many, nodes.total, base + offsets_n.min(axis=0))
        shorter = most < shortest
        longer = least >= longest
    cord = np.where(longer, least, most)
    asked = nodes.levers & ~shorter & ~longer
    node, drive = np.nonzero(asked)
    for part in parts_of(drive.size):
        where = node[part], drive[part]
        own = loaded.chosen(drive[part])
        cord[where] = cord_at(own, nodes.near_at(*where), nodes.angle[where])
    return Wanted(cord, asked)


def cord_at(loaded: Loaded, near: Near, angle: Float) -> Float:
    """The belts that rest at angles (J,), cord length mm."""
    mean = mean_n(loaded, near, slack_n(loaded, near, angle))
    return cord_wanted(loaded.many, near.total, mean)


class Known(Value, frozen=True, eq=False):
    """At which nodes it has been asked whether a path exists, and what was found (K, J); base (J,):
    whether all exists that does not move; edge (C, J): where in a cell the path ends, rad, NaN where
    that was not asked.
    """

    asked: Bool
    exists: Bool
    base: Bool
    edge: Float

    @staticmethod
    def of(many: Many, still: Still, nodes: Nodes) -> Known:
        """Nothing is known yet of the nodes."""
        none = np.zeros_like(nodes.levers)
        edge = np.full(nodes.whole.shape, np.nan)
        return Known(none, none.copy(), still_exists(many, still), edge)

    def chosen(self, which: Int) -> Known:
        """That of the chosen drives."""
        return Known(
            chosen(self.asked, which),
            chosen(self.exists, which),
            self.base[which],
            chosen(self.edge, which),
        )


class State(Value, frozen=True, eq=False):
    """J drives in one state, their travel looked along."""

    loaded: Loaded
    nodes: Nodes
    known: Known
    wanted: Wanted

    def exists(self, drive: Int, node: Int) -> Bool:
        """Whether paths exist at nodes (R,); what is not known yet is found out and kept."""
        known, count = self.known, self.known.asked.shape[1]
        new = np.flatnonzero(~known.asked[node, drive])
        if new.size:
            # many belts ask for the same node
            place, each = np.divmod(np.unique(node[new] * count + drive[new]), count)
            known.asked[place, each] = True
            for part in parts_of(each.size):
                at, of = place[part], each[part]
                loaded = self.loaded.chosen(of)
                good = path_exists(loaded.many, loaded.still, self.nodes.near_at(at, of))
                known.exists[at, of] = good & known.base[of]
        return known.exists[node, drive]


class Crossings(Value, frozen=True, eq=False):
    """Where the first crossings of R belts lie: whether there is one, the cell it is in, whether more
    follow, whether the belt is too short already at the first node with a lever, and the angles between
    which the crossing lies, rad, all (R,).
    """

    found: Bool
    cell: Int
    more: Bool
    too_short: Bool
    low: Float
    high: Float

    def chosen(self, which: Int) -> Crossings:
        """Those of the chosen rows."""
        each = (getattr(self, name)[which] for name in self.__struct_fields__)
        return Crossings(*each)


def crossings_of(state: State, drive: Int, cord_mm: Float) -> Crossings:
    """Find the first crossing of belts cord_mm (R,) on drives (R,)."""
    nodes = state.nodes
    with np.errstate(invalid="ignore"):
        # NaN is only where there is no lever, in cells that are not whole
        shorter = of_rows(state.wanted.cord_mm, drive) < cord_mm
    crosses = shorter[:-1] & ~shorter[1:] & of_rows(nodes.whole, drive)
    cell = np.argmax(crosses, axis=0)
    rows = np.arange(drive.size)
    more = np.count_nonzero(crosses, axis=0) > 1
    at_first = shorter[nodes.first[drive], rows]
    too_short = ~at_first & nodes.works[drive]
    low, high = nodes.angle[cell, drive], nodes.angle[cell + 1, drive]
    return Crossings(crosses[cell, rows], cell, more, too_short, low, high)


def of_rows(figure: Any, drive: Int) -> Any:
    """A figure of drives (..., J) for rows (..., R); that of a single drive serves for all."""
    return figure if figure.shape[-1] == 1 else chosen(figure, drive)
