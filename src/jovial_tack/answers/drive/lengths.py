"""Belt lengths a drive calls for and takes."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.clearance import Ends
from jovial_tack.core.arrays import Float
from jovial_tack.core.belt.lines import belt_to_order, effective_length
from jovial_tack.core.drive.inverse import belt_for_angle
from jovial_tack.core.drive.path import faults, trace
from jovial_tack.core.drive.sliding import slide_paths
from jovial_tack.document.model import LockedTensioner


def window_lengths(
    case: SolvableCase, usable: tuple[float, float] | None = None
) -> tuple[float, float] | None:
    """Shortest and longest effective length, mm, of a belt that rests inside the arm's window.

    usable: arm angles, rad, that collisions leave, if some are in the way. None without an arm, or
    where no angle of the window has a path and a lever. METHOD 5.
    """
    drive, arm = case.drive, case.arm
    if arm is None:
        return None
    low, high = sorted(arm.window)
    if usable is not None:
        low, high = max(low, min(usable)), min(high, max(usable))
        if low > high:
            return None
    cords = belt_for_angle(drive.layout, arm, drive.belt, np.linspace(low, high, 13))
    if np.isnan(cords).all():
        return None
    lengths = effective_length(cords, case.belt.profile.effective_to_cord_mm)
    return float(np.nanmin(lengths)), float(np.nanmax(lengths))


_TRAVEL_NODES = 97


def called_for_length(case: SolvableCase, usable: Ends | None = None) -> float | None:
    """Effective length, mm, of the belt a locked drive calls for: as it stands, or at the middle of
    its (usable) travel.

    None where there is no path there. METHOD 4 and 5.
    """
    layout, track = case.drive.layout, case.track
    if track is None:
        path = trace(layout.centers, layout.signed_radii)
        exists, total = not bool(faults(path, layout.driver_sign).any), path.total
    else:
        middle = np.asarray(sum(usable or (0.0, 1.0)) / 2)
        total, good = slide_paths(layout, case.moving, track, middle)
        exists = bool(good)
    return float(_filling(case, total)) if exists else None


def travel_lengths(case: SolvableCase, usable: Ends | None = None) -> tuple[float, float] | None:
    """Shortest and longest effective length, mm, that fit somewhere on a locked shaft's travel.

    usable: the shares that collisions leave. None without a travel, or where there is no path on it.
    """
    track = case.track
    if track is None:
        return None
    shares = np.linspace(*(usable or (0.0, 1.0)), _TRAVEL_NODES)
    paths, exists = slide_paths(case.drive.layout, case.moving, track, shares)
    if not exists.any():
        return None
    fills = _filling(case, paths[exists])
    return float(fills.min()), float(fills.max())


def _filling(case: SolvableCase, path_mm: Float) -> Float:
    """Effective length of the belt that fills cord paths (...) at the installed tension, mm."""
    tensioner, belt = case.model.tensioner, case.belt
    assert isinstance(tensioner, LockedTensioner)
    return belt_to_order(
        path_mm,
        np.asarray(tensioner.installed_tension_n),
        np.asarray(belt.reference_tension_n),
        np.asarray(belt.stiffness_n),
        belt.profile.effective_to_cord_mm,
    )
