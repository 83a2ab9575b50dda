"""A drive as it stands hot: the block has grown and moved the centres apart, the pulleys have grown.

docs/METHOD.md, section 13. The belt keeps its length.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.catalogue import Limits
from jovial_tack.core.drive.arm import Layout, SpringArm
from jovial_tack.core.drive.path import trace
from jovial_tack.core.drive.solve import BeltDrive, Locked
from jovial_tack.core.value import replace


def warmed(drive: BeltDrive, limits: Limits) -> BeltDrive:
    """The drive hot. A locked one is given what its belt is pulled longer on top of what was set."""
    layout, adjuster = warm_layout(drive.layout, limits), drive.adjuster
    if isinstance(adjuster, SpringArm):
        return replace(drive, layout=layout, adjuster=warm_arm(drive.layout, adjuster, limits))
    hot = adjuster.tension_n + tension_growth_n(drive, limits)
    return replace(drive, layout=layout, adjuster=Locked(hot))


def tension_growth_n(drive: BeltDrive, limits: Limits) -> float:
    """By how much a bolted drive is tighter hot than it was set cold, N; 0 for a spring arm."""
    adjuster, belt = drive.adjuster, drive.belt
    if isinstance(adjuster, SpringArm):
        return 0.0
    cold, hot = (
        float(trace(layout.centers, layout.signed_radii).total)
        for layout in (drive.layout, warm_layout(drive.layout, limits))
    )
    # the belt's own length follows from the tension it was set to on the cold path
    stretched = 1.0 + (adjuster.tension_n - float(belt.reference_tension_n)) / float(
        belt.stiffness_n
    )
    return float(belt.stiffness_n) * stretched * (hot / cold - 1.0)


def warm_layout(layout: Layout, limits: Limits) -> Layout:
    """Centres farther from the crank's by the block's growth, radii larger by the pulleys'."""
    crank = layout.centers[layout.driver]
    centers = crank + (layout.centers - crank) * _grown(limits)
    radii = layout.signed_radii * (1 + limits.pulley_growth_per_k * limits.hot_rise_k)
    return replace(layout, centers=np.asarray(centers), signed_radii=np.asarray(radii))


def warm_arm(layout: Layout, arm: SpringArm, limits: Limits) -> SpringArm:
    """An arm whose pivot has moved with the block."""
    return replace(arm, pivot=warm_point(layout, arm.pivot, limits))


def warm_point(layout: Layout, point: complex, limits: Limits) -> complex:
    """Where a point of the block has moved to."""
    crank = complex(layout.centers[layout.driver])
    return crank + (point - crank) * _grown(limits)


def _grown(limits: Limits) -> float:
    return 1 + limits.block_growth_per_k * limits.hot_rise_k
