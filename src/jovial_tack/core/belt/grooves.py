"""How a V-belt sits in a groove (docs/METHOD.md, 13)."""

from __future__ import annotations

from math import radians, tan


def v_seat(
    top_mm: float, thick_mm: float, width_mm: float, depth_mm: float, angle_deg: float
) -> tuple[float, float]:
    """How far a V-belt's back stands over the rim, and how much too shallow the groove is, mm.

    A belt wider than the groove rides proud (above zero), a narrower one sits deep; where the groove is
    too shallow its bottom carries instead of its flanks, and the belt stands higher by that.

    Parameters: top width and thickness of the belt, mm; width, depth (mm) and angle of the groove.

    >>> tuple(round(mm, 3) for mm in v_seat(10.0, 8.0, 9.5, 12.0, 36.0))
    (0.769, 0.0)
    >>> tuple(round(mm, 3) for mm in v_seat(10.0, 8.0, 10.0, 7.5, 36.0))
    (0.5, 0.5)
    """
    over = (top_mm - width_mm) / 2 / tan(radians(angle_deg) / 2)
    shallow = max(thick_mm - over - depth_mm, 0.0)
    return over + shallow, shallow
