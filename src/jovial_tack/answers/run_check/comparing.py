"""What a change bought, from a log before it and one after: boost in the same air, and where."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.run_check.points import running_mean
from jovial_tack.core.run_check.pulls import Compared
from jovial_tack.core.units import PRESSURE, written

_SURELY = 2.0  # standard deviations


def bought(compared: Compared, unit: str) -> str:
    """In a sentence what the second pull makes more or less than the first, in kPa or psi.

    Only what stands out of the noise, and of the air where that is known, is told.
    """
    more, within = compared.more_kpa, _SURELY * compared.sd_kpa
    # three neighbours together: one alone may be noise
    steady = running_mean(more, 3)
    surely = np.abs(steady) > within
    low, high = compared.rpm[0], compared.rpm[-1]
    air = "in the same air " if compared.in_same_air else "as logged, in air nobody noted, "
    if not surely.any():
        most = written(float(within.max()), PRESSURE, unit)
        span = f"from {low:.0f} to {high:.0f} rpm"
        return f"{air}the second makes as much as the first {span}, within {most}"
    place = int(np.argmax(np.where(surely, np.abs(steady), 0.0)))
    same_way = surely & (np.sign(steady) == np.sign(steady[place]))
    told = written(float(steady[place]), PRESSURE, unit, sign=True).split(" ")[0]
    spread = written(float(within[place]), PRESSURE, unit)
    where = compared.rpm[same_way]
    word = "more" if steady[place] > 0 else "less"
    return (
        f"{air}the second makes {told} ± {spread} at {compared.rpm[place]:.0f} rpm, and {word} than the"
        f" first from {where[0]:.0f} to {where[-1]:.0f} rpm"
    )
