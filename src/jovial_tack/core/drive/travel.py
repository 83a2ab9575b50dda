"""An arm's travel between its stops, cut into cells, and which of them it can work in (METHOD 5)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.drive.arm import (
    ArmGeometry,
    Layout,
    Layouts,
    SpringArm,
    SpringArms,
    place_arm,
)
from jovial_tack.core.drive.path import faults
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value, replace

_SCAN_STEP = np.radians(2.5)
_SCAN_CELLS = (16, 240)
_EDGE_LANES, _EDGE_PASSES = 65, 3


class Travel(Value, frozen=True):
    """The stretches of an arm's travel in which it can work, as C cells from wound to unwound.

    low, high (C,) rad; whole (C,) cells that work at both ends; edge (C,) cells with one working
    end, whose other end is the last working angle once `exact`, and the node of the scan before;
    exists, works (C + 1,) where the survey's nodes have a path, and where the arm works too; nodes: the
    geometry there, if low and high are still those of the survey. Of several drives all have an axis
    of drives more, and an arm of shorter travel has cells of no width at its end.
    """

    low: Float
    high: Float
    whole: Bool
    edge: Bool
    exact: bool
    exists: Bool
    works: Bool
    nodes: ArmGeometry | None = None

    @property
    def usable(self) -> Bool:
        """Cells that may hold an equilibrium (C,)."""
        return self.whole | self.edge if self.exact else self.whole

    @property
    def unwound_works(self) -> Bool:
        """Whether the arm still works at its unwound stop."""
        return np.asarray(self.works[-1])

    def drive(self, which: int, cells: int) -> Travel:
        """That of one of several drives, with its own number of cells."""
        upto, more = (slice(cells), which), (slice(cells + 1), which)
        nodes = None if self.nodes is None else self.nodes.drive(which, cells + 1)
        edge = self.edge[upto]
        return Travel(
            self.low[upto],
            self.high[upto],
            self.whole[upto],
            edge,
            not edge.any(),
            self.exists[more],
            self.works[more],
            nodes,
        )


def working(layout: Layout, arm: SpringArm, angle: Float) -> tuple[Bool, Bool]:
    """Where a path exists, and where the spring can also hold the belt taut (...).

    The arm works where its push lengthens the path and its spring still has torque.
    """
    return _working(layout, arm, angle, place_arm(layout, arm, angle))


def _working(
    layout: Layout | Layouts, arm: SpringArm | SpringArms, angle: Float, geometry: ArmGeometry
) -> tuple[Bool, Bool]:
    exists = ~faults(geometry.path, layout.driver_sign).any
    with np.errstate(invalid="ignore"):
        # NaN of a path that does not exist compares false: no lever
        lever = (arm.push * geometry.grown > 0) & (arm.spring_torque(angle) > 0)
    return exists, exists & lever


def cells_of(arm: SpringArm | SpringArms) -> Int:
    """Into how many cells an arm's travel is cut, per drive.

    Raises GeometryError when the stops coincide.
    """
    return cells_across(*arm.stops)


def cells_across(wound: float | Float, unwound: float | Float) -> Int:
    """Into how many cells a travel is cut from one stop to the other (...), rad.

    Raises GeometryError when the stops coincide.
    """
    across = np.abs(np.subtract(unwound, wound))
    if not across.all():
        raise GeometryError("the two stops of the arm are the same angle")
    cells = np.ceil(across / _SCAN_STEP).astype(np.int64)
    return np.asarray(np.minimum(np.maximum(cells, _SCAN_CELLS[0]), _SCAN_CELLS[1]))


def survey_travel(layout: Layout | Layouts, arm: SpringArm | SpringArms) -> Travel:
    """Cut the travel between the stops into cells and see which of them work.

    Raises GeometryError when the stops coincide.
    """
    cells = cells_of(arm)
    wound, unwound = arm.stops
    index = np.arange(cells.max() + 1).reshape(-1, *(1,) * cells.ndim)
    step = np.subtract(unwound, wound) / cells
    # several drives are cut as finely as the widest; a shorter travel ends in cells of no width
    nodes = np.where(index < cells, wound + index * step, unwound)
    geometry = place_arm(layout, arm, nodes)
    exists, works = _working(layout, arm, nodes, geometry)
    # one end works and the other does not: a stretch begins or ends in there
    edge = works[:-1] ^ works[1:]
    whole = works[:-1] & works[1:]
    return Travel(nodes[:-1], nodes[1:], whole, edge, not edge.any(), exists, works, geometry)


def with_exact_edges(layout: Layout, arm: SpringArm, travel: Travel) -> Travel:
    """The travel with the ends of its workable stretches found exactly."""
    cells = np.flatnonzero(travel.edge)
    low, high = travel.low.copy(), travel.high.copy()
    if cells.size:
        # the stretch ends in this cell, seen from the wound stop; otherwise it begins in it
        closes = travel.works[:-1][cells]
        # the end that works is the lower one where a stretch closes, the upper where one begins
        inside = np.where(closes, low[cells], high[cells])
        found = _edge(layout, arm, np.where(closes, high[cells], low[cells]), inside)
        low[cells[~closes]] = found[~closes]
        high[cells[closes]] = found[closes]
    return replace(travel, low=low, high=high, exact=True, nodes=None)


def _edge(layout: Layout, arm: SpringArm, outside: Float, inside: Float) -> Float:
    """The last working angle on the way from inside a stretch to outside it, by finer grids."""
    share = np.linspace(0.0, 1.0, _EDGE_LANES)[:, None]
    lane = np.arange(inside.size)
    for _ in range(_EDGE_PASSES):
        angles = inside + share * (outside - inside)
        _, works = working(layout, arm, angles)
        # both ends are known from the pass before, and a rounding must not change them
        works[0], works[-1] = True, False
        past = np.argmin(works, axis=0)
        inside, outside = angles[past - 1, lane], angles[past, lane]
    return inside
