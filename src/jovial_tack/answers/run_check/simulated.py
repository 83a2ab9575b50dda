"""A stand-in for a logger: pulls of a blown engine as it would write them, slipping or not."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.run_check.points import STANDARD_AIR_KPA, fan_boost
from jovial_tack.core.value import Value

#: Columns of what is simulated, in the order they are written.
HEADS = (
    "Time [s]",
    "Engine speed [rpm]",
    "Boost [kPa gauge]",
    "Throttle [%]",
    "Blower speed [rpm]",
)
_REST_S, _LIFT_S = 2.0, 2.0
_LOW_RPM, _CRUISE_KPA = 2400.0, -48.0
_TOP_HEAD = 0.17  # PR^κ − 1 at the top of a pull, about 80 kPa


class Simulated(Value, frozen=True):
    """What is driven: pulls to an engine speed with a blower geared by ratio.

    slip: the share of its speed lost at the top, from an onset on; noise: as a share of the boost.
    """

    pulls: int = 1
    seconds: float = 7.0
    hertz: float = 20.0
    high_rpm: float = 6600.0
    ratio: float = 2.05
    slip: float = 0.0
    onset_rpm: float = 5600.0
    noise: float = 0.01
    seed: int = 1


def simulated_log(driven: Simulated) -> Float:
    """The samples of a drive (N, 5), columns as HEADS: rest, pull and lift, one pull after another."""
    dice = np.random.default_rng(driven.seed)
    whole = _REST_S + driven.seconds + _LIFT_S
    time = np.arange(0.0, whole * driven.pulls, 1.0 / driven.hertz)
    within = np.mod(time, whole)
    along = np.clip((within - _REST_S) / driven.seconds, 0.0, 1.0)
    rpm = _LOW_RPM + (driven.high_rpm - _LOW_RPM) * (1.25 * along - 0.25 * along**2)
    lifted = np.maximum(within - _REST_S - driven.seconds, 0.0)
    rpm = np.maximum(rpm - 2100.0 * lifted, _LOW_RPM)
    pulls = (within >= _REST_S) & (lifted == 0.0)
    past = np.clip((rpm - driven.onset_rpm) / (driven.high_rpm - driven.onset_rpm), 0.0, 1.0)
    lost = np.where(pulls, driven.slip * past, 0.0)
    turns = rpm / driven.high_rpm * (1.0 - lost)
    made = fan_boost(_TOP_HEAD * turns**2, STANDARD_AIR_KPA)
    boost = np.where(pulls, made, _CRUISE_KPA)
    boost = boost * (1.0 + driven.noise * dice.standard_normal(time.size))
    throttle = np.where(pulls, 100.0, 9.0) + 0.3 * dice.standard_normal(time.size)
    blower = rpm * driven.ratio * (1.0 - lost) + 20.0 * dice.standard_normal(time.size)
    seen = rpm + 6.0 * dice.standard_normal(time.size)
    return np.stack([time, seen, boost, throttle, blower], axis=1)
