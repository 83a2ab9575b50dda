"""Where the arms of many drives come to rest: which cell of their travel holds the first crossing.

The nodes are those of `core.drive.travel.survey_travel`, so that the same crossing is found. A node
tells the belt that would rest there, W(θ) = L(θ)/(1 + (T̄(θ) − T_ref)/EA): a belt of cord length L0
rests in the first cell over which W passes L0 from below. So one look along the travel serves every
belt. Whether a path exists is costly to tell; it is asked only of the nodes that decide.
"""

from __future__ import annotations

from functools import cached_property

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.drive.path import faults, trace
from jovial_tack.core.drive.travel import cells_across
from jovial_tack.core.grip.finder.many import Many
from jovial_tack.core.grip.finder.near import Near, Still, place_near
from jovial_tack.core.grip.finder.taut import Loaded, cord_wanted, mean_n, slack_n
from jovial_tack.core.value import Value

#: States solved side by side, so many that the arrays of one step stay in the processor's cache.
ROWS = 4096


def parts_of(rows: int) -> list[slice]:
    """Rows in parts of a size that is handled fast."""
    return [slice(first, min(first + ROWS, rows)) for first in range(0, rows, ROWS)]


class Nodes(Value, frozen=True, eq=False, dict=True):
    """The travel of J drives as K nodes from wound to unwound: angle (J, K) rad, the path there, and
    where the arm has a lever and its spring has torque (J, K).
    """

    angle: Float
    near: Near
    levers: Bool

    @cached_property
    def whole(self) -> Bool:
        """Cells with a lever at both ends (J, C)."""
        return self.levers[:, :-1] & self.levers[:, 1:]

    @cached_property
    def works(self) -> Bool:
        """Whether there is such a cell (J,)."""
        return np.asarray(self.whole.any(axis=1))

    @cached_property
    def first(self) -> Int:
        """The first of them (J,)."""
        return np.argmax(self.whole, axis=1)

    @cached_property
    def end(self) -> Int:
        """The cell after the first stretch of them (J,); C where it goes on to the unwound stop."""
        cells = np.arange(self.whole.shape[1])
        after = ~self.whole & (cells > self.first[:, None])
        return np.where(after.any(axis=1), np.argmax(after, axis=1), cells.size)

    def chosen(self, which: Int) -> Nodes:
        """Those of the chosen drives."""
        return Nodes(self.angle[which], self.near.at(which), self.levers[which])


def nodes_of(many: Many, still: Still) -> Nodes:
    """Look along the travel of every drive."""
    wound, unwound = many.arms.stops
    cells = cells_across(wound, unwound)
    index = np.arange(int(cells.max()) + 1)
    step = (unwound - wound) / cells
    # all are cut as finely as the widest; a shorter travel ends in cells of no width
    run_out = wound[:, None] + index * step[:, None]
    angle = np.where(index < cells[:, None], run_out, unwound[:, None])
    near = place_near(many, still, angle)
    return Nodes(angle, near, levers_of(many, near, angle))


def levers_of(many: Many, near: Near, angle: Float) -> Bool:
    """Where the arm's push lengthens the path and its spring has torque."""
    with np.errstate(invalid="ignore"):
        # NaN of a path that does not exist compares false: no lever
        levers = (many.arms.push * near.grown > 0) & (many.arms.torque_nmm(angle) > 0)
    return np.asarray(levers & np.isfinite(near.total))


def path_exists(many: Many, near: Near) -> Bool:
    """Whether the path of J drives exists with their arms near angles (J,). METHOD 3."""
    centers = many.centers.copy()
    centers[many.arm_place] = many.arms.pivot + near.lever
    path = trace(centers.T, many.signed_radii.T)
    return np.asarray(~faults(path, many.driver_sign).any)


class Wanted(Value, frozen=True, eq=False):
    """The belt that would rest at each node in one state: cord length at T_ref (J, K), mm; exact (J, K):
    False where it is only known to be shorter, or longer, than every belt that is tried.
    """

    cord_mm: Float
    exact: Bool


def wanted_at_rest(loaded: Loaded, nodes: Nodes) -> Wanted:
    """The belts that would rest at each node."""
    with np.errstate(invalid="ignore", divide="ignore"):
        tension = slack_n(loaded, nodes.near, nodes.angle)
        cord = cord_wanted(loaded, nodes.near, tension)
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
        base = slack_n(loaded, nodes.near, nodes.angle) + centrifugal_n[:, None]
        # the more tension, the shorter the belt that stretches so far
        least = cord_wanted(loaded, nodes.near, base + offsets_n.max(axis=0)[:, None])
        most = cord_wanted(loaded, nodes.near, base + offsets_n.min(axis=0)[:, None])
        shorter = most < shortest[:, None]
        longer = least >= longest[:, None]
    cord = np.where(longer, least, most)
    asked = nodes.levers & ~shorter & ~longer
    drive, node = np.nonzero(asked)
    for part in parts_of(drive.size):
        where = drive[part], node[part]
        cord[where] = cord_at(loaded.chosen(drive[part]), nodes.near.at(*where), nodes.angle[where])
    return Wanted(cord, asked)


def cord_at(loaded: Loaded, near: Near, angle: Float) -> Float:
    """The belts that rest at angles (J,), cord length mm."""
    return cord_wanted(loaded, near, mean_n(loaded, near, slack_n(loaded, near, angle)))


class Known(Value, frozen=True, eq=False):
    """At which nodes it has been asked whether a path exists, and what was found (J, K)."""

    asked: Bool
    exists: Bool

    @staticmethod
    def of(nodes: Nodes) -> Known:
        """Nothing is known yet."""
        return Known(np.zeros_like(nodes.levers), np.zeros_like(nodes.levers))

    def at(self, many: Many, nodes: Nodes, drive: Int, node: Int) -> Bool:
        """Whether paths exist at nodes (R,); what is not known yet is found out and kept."""
        new = ~self.asked[drive, node]
        if new.any():
            self.asked[drive[new], node[new]] = True
            each = np.unique(np.stack([drive[new], node[new]]), axis=1)
            for part in parts_of(each.shape[1]):
                of, place = each[:, part]
                self.exists[of, place] = path_exists(many.chosen(of), nodes.near.at(of, place))
        return self.exists[drive, node]


class State(Value, frozen=True, eq=False):
    """J drives in one state, their travel looked along."""

    loaded: Loaded
    nodes: Nodes
    known: Known
    wanted: Wanted

    def exists(self, drive: Int, node: Int) -> Bool:
        """Whether paths exist at nodes (R,)."""
        return self.known.at(self.loaded.many, self.nodes, drive, node)


class Crossings(Value, frozen=True, eq=False):
    """Where the first crossings of R belts lie: whether there is one, the cell it is in, whether more
    follow, and whether the belt is too short already at the first node with a lever, all (R,).
    """

    found: Bool
    cell: Int
    more: Bool
    too_short: Bool


def crossings_of(state: State, drive: Int, cord_mm: Float) -> Crossings:
    """Find the first crossing of belts cord_mm (R,) on drives (R,)."""
    nodes = state.nodes
    with np.errstate(invalid="ignore"):
        # NaN is only where there is no lever, in cells that are not whole
        shorter = state.wanted.cord_mm[drive] < cord_mm[:, None]
    crosses = shorter[:, :-1] & ~shorter[:, 1:] & nodes.whole[drive]
    cell = np.argmax(crosses, axis=1)
    rows = np.arange(drive.size)
    more = np.count_nonzero(crosses, axis=1) > 1
    at_first = shorter[rows, nodes.first[drive]]
    return Crossings(crosses[rows, cell], cell, more, ~at_first & nodes.works[drive])
