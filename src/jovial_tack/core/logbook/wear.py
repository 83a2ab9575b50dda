"""How far the ribs of a belt are worn, and when they will be at their limit (METHOD 19)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.core.value import Value

#: Shares of the depth of a new rib that are lost: looked at, changed (rep.); and how closely two
#: readings alone are known, mm (rep.).
WATCH_LOSS, CHANGE_LOSS, GAUGE_MM = 0.10, 0.20, 0.1


class Wear(Value, frozen=True):
    """How far ribs are worn. loss: of a new rib's depth, as the last reading or the line through them
    has it; per_use: depth lost for a unit of use, mm; limit_at: use at which the limit is reached, ±
    one standard deviation; None where they do not yet wear beyond what is read wrongly.
    """

    loss: float
    per_use: float | None
    limit_at: float | None
    limit_sd: float | None


def wear(uses: Sequence[float], depths_mm: Sequence[float], new_mm: float) -> Wear | None:
    """What readings (N,) of one belt's ribs tell, at uses since it was fitted; None without one."""
    if not uses:
        return None
    u, d = np.array(uses, float), np.array(depths_mm, float)
    spread = float(((u - u.mean()) ** 2).sum())
    if u.size < 2 or spread <= 0.0:
        return Wear(1.0 - float(d[int(np.argmax(u))]) / new_mm, None, None, None)
    slope = float(((u - u.mean()) * (d - d.mean())).sum() / spread)
    at_mean = float(d.mean())
    away = d - at_mean - slope * (u - u.mean())
    sd = float(np.sqrt((away**2).sum() / (u.size - 2))) if u.size > 2 else GAUGE_MM
    slope_sd = sd / spread**0.5
    loss = 1.0 - (at_mean + slope * (float(u.max()) - float(u.mean()))) / new_mm
    if not slope < -2.0 * slope_sd:
        return Wear(loss, -slope, None, None)
    limit_mm = (1.0 - CHANGE_LOSS) * new_mm
    limit_at = float(u.mean()) + (limit_mm - at_mean) / slope
    off = limit_at - float(u.mean())
    limit_sd = (sd**2 / u.size + (slope_sd * off) ** 2) ** 0.5 / abs(slope)
    return Wear(loss, -slope, limit_at, float(limit_sd))


def change_by_cracks(
    material: str | None, cracks: int | None, through: bool | None
) -> tuple[bool, str]:
    """Whether cracks alone say that a belt is to be changed, and why."""
    if through:
        return True, "a crack goes through to the cords"
    if not cracks:
        return False, ""
    if material == "epdm":
        return True, "newer rubber hardly ever cracks: any crack is one too many"
    if material == "old" and cracks >= 3:
        return True, f"{cracks} cracks in 75 mm of one rib"
    return False, ""
