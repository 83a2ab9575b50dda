"""Whether a pulley holds its belt: arc used, creep and bending (docs/METHOD.md, section 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.tension import entry


def arc_used(tractions_n: Float, friction: Float) -> Float:
    """Creeping arc needed on each pulley: |ln(F_exit/F_entry)|/μ, rad.

    Parameters: span tractions (..., N) N, index k leaving pulley k; friction (..., N), the
    effective (wedged) value of the side in contact. NaN where a traction is not positive: the belt
    floats and holds nothing. Source: Euler–Eytelwein. METHOD 8.

    >>> arc_used(np.array([[100.0, 400.0]]), np.array([0.45, 0.45])).round(4).tolist()
    [[3.0807, 3.0807]]
    """
    before = entry(tractions_n)
    held = (before > 0) & (tractions_n > 0)
    # NaN on both sides of the division: the logarithm of 0 would tell infinity for a floating belt
    ratio = np.where(held, tractions_n, np.nan) / np.where(held, before, np.nan)
    return np.abs(np.log(ratio)) / friction


def creep_fraction(tight_n: Float, slack_n: Float, stiffness_n: Float) -> Float:
    """Speed lost to elastic creep, apart from slip: (F_tight − F_slack)/EA. METHOD 8.

    >>> float(creep_fraction(np.array(1500.0), np.array(600.0), np.array(150000.0)))
    0.006
    """
    return (tight_n - slack_n) / stiffness_n
