"""An arm's travel between its stops, cut into cells, and which of them it can work in (METHOD 5)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.drive.arm import ArmGeometry, Layout, SpringArm, place_arm
from jovial_tack.core.drive.path import faults
from jovial_tack.core.errors import GeometryError

_SCAN_STEP = np.radians(2.5)
_SCAN_CELLS = (16, 240)
_EDGE_LANES, _EDGE_PASSES = 65, 3


@dataclass(frozen=True)
class Travel:
    """The stretches of an arm's travel in which it can work, as C cells from wound to unwound.

    low, high (C,) rad; whole (C,) cells that work at both ends; edge (C,) cells with one working
    end, whose other end is the last working angle once `exact`, and the node of the scan before;
    low_works (C,) whether the low end of the scan's cell works; unwound_works: whether the arm still
    works at its unwound stop; nodes: the geometry at every low and at the last high, if the cells lie
    end to end.
    """

    low: Float
    high: Float
    whole: Bool
    edge: Bool
    exact: bool
    low_works: Bool
    unwound_works: bool
    nodes: ArmGeometry | None = None

    @property
    def usable(self) -> Bool:
        """Cells that may hold an equilibrium (C,)."""
        return self.whole | self.edge if self.exact else self.whole


def working(layout: Layout, arm: SpringArm, angle: Float) -> tuple[Bool, Bool]:
    """Where a path exists, and where the spring can also hold the belt taut (...).

    The arm works where its push lengthens the path and its spring still has torque.
    """
    return _working(layout, arm, angle, place_arm(layout, arm, angle))


def _working(
    layout: Layout, arm: SpringArm, angle: Float, geometry: ArmGeometry
) -> tuple[Bool, Bool]:
    exists = ~faults(geometry.path, layout.driver_sign).any
    with np.errstate(invalid="ignore"):
        lever = (arm.push * geometry.grown > 0) & (arm.spring_torque(angle) > 0)
    return exists, exists & lever


def survey_travel(layout: Layout, arm: SpringArm) -> Travel:
    """Cut the travel between the stops into cells and see which of them work.

    Raises GeometryError when the stops coincide.
    """
    wound, unwound = arm.stops
    if wound == unwound:
        raise GeometryError("the two stops of the arm are the same angle")
    least, most = _SCAN_CELLS
    cells = int(np.clip(np.ceil(abs(unwound - wound) / _SCAN_STEP), least, most))
    nodes = np.linspace(wound, unwound, cells + 1)
    geometry = place_arm(layout, arm, nodes)
    _, works = _working(layout, arm, nodes, geometry)
    edge = works[:-1] ^ works[1:]
    return Travel(
        nodes[:-1],
        nodes[1:],
        works[:-1] & works[1:],
        edge,
        not edge.any(),
        works[:-1],
        bool(works[-1]),
        geometry,
    )


def with_exact_edges(layout: Layout, arm: SpringArm, travel: Travel) -> Travel:
    """The travel with the ends of its workable stretches found exactly."""
    cells = np.flatnonzero(travel.edge)
    low, high = travel.low.copy(), travel.high.copy()
    if cells.size:
        closes = travel.low_works[cells]
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
        works[0], works[-1] = True, False
        past = np.argmin(works, axis=0)
        inside, outside = angles[past - 1, lane], angles[past, lane]
    return inside
