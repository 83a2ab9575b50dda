"""A log's channels, and a pull of it as points to judge: ln of apparent blower speed over engine speed.

docs/METHOD.md, section 17.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.run_check.accounts import Law, Points
from jovial_tack.core.value import Value, replace

__all__ = [
    "Law",
    "Log",
    "Points",
    "likely_air",
    "points_of",
    "running_mean",
    "shifts",
    "without_closing",
]

KAPPA = (1.4 - 1.0) / 1.4
STANDARD_AIR_KPA = 101.325

_LEAST_BOOST_KPA = 4.0
_LEAST_BOOST_SHARE = 0.06
_LEAST_POINTS = 12
_LEAST_RPM = 100.0  # below it an engine stands
_LEAST_GAIN = 1.3
#: A higher gear: engine speed over road speed falls by so much (as a logarithm) within so much time.
_SHIFT, _SHIFT_S, _ROLLING_KMH = 0.12, 0.25, 10.0
_MOST_POINTS = 120
#: After the throttle opens boost builds up; what is left then decays within this.
_BUILDING_S, _SETTLING_S = 0.5, 0.2
_SMOOTH_S = 0.4
_APART_S = 0.1
#: Air that nobody logged: near the sea in most places, with its weather, and anywhere up to 3000 m.
_AIRS_KPA = np.arange(70.0, 104.1, 3.0)
_BY_THE_SEA = (100.8, 1.4, 0.6)  # mean, standard deviation, share of places
_GRID_SD_KPA = 1.5
_FLAT = 0.8  # of d ln head / d ln rpm: a fan has 2, a displacement blower about 0
_UNCOOLED = 0.6  # adiabatic efficiency of a displacement blower, for the heat in its boost (rep.)

#: From this uncertainty on the air counts as not known, kPa.
AIR_UNKNOWN_KPA = 3.0


class Log(Value, frozen=True):
    """Channels of a log, all (N,): time s rising, engine rpm, boost above the air's pressure kPa.

    blower_rpm, throttle (any unit, rising with opening), bypass (any unit), pressures before the
    throttle, before and after the blower above the air's, kPa, temperature of the intake air and of
    what leaves the blower, °C, gear, road speed (any unit), ignition taken back for knock, degrees, and
    lambda, or None. air_kpa: ambient pressure, known to air_sd_kpa; is_absolute: boost was logged above
    vacuum, so that it is as uncertain as the air. law: of the blower, None: by how boost rises.
    """

    time_s: Float
    rpm: Float
    boost_kpa: Float
    blower_rpm: Float | None = None
    throttle: Float | None = None
    air_kpa: float = STANDARD_AIR_KPA
    air_sd_kpa: float = 0.4
    is_absolute: bool = False
    bypass: Float | None = None
    before_throttle_kpa: Float | None = None
    intake_c: Float | None = None
    law: Law | None = None
    before_blower_kpa: Float | None = None
    after_blower_kpa: Float | None = None
    discharge_c: Float | None = None
    gear: Float | None = None
    road_speed: Float | None = None
    knock_deg: Float | None = None
    mixture: Float | None = None

    def taken(self, which: slice | Bool) -> Log:
        """Some of the samples."""

        def some(values: Float | None) -> Float | None:
            return None if values is None else values[which]

        return replace(
            self,
            time_s=self.time_s[which],
            rpm=self.rpm[which],
            boost_kpa=self.boost_kpa[which],
            blower_rpm=some(self.blower_rpm),
            throttle=some(self.throttle),
            bypass=some(self.bypass),
            before_throttle_kpa=some(self.before_throttle_kpa),
            intake_c=some(self.intake_c),
            before_blower_kpa=some(self.before_blower_kpa),
            after_blower_kpa=some(self.after_blower_kpa),
            discharge_c=some(self.discharge_c),
            gear=some(self.gear),
            road_speed=some(self.road_speed),
            knock_deg=some(self.knock_deg),
            mixture=some(self.mixture),
        )

    def in_air(self, air_kpa: float) -> Log:
        """The same log if the air had another pressure."""
        if air_kpa == self.air_kpa:
            return self
        boost = self.boost_kpa
        if self.is_absolute:
            boost = boost + (self.air_kpa - air_kpa)
        return replace(self, air_kpa=air_kpa, boost_kpa=boost)


def fan_head(boost_kpa: Float, air_kpa: float) -> Float:
    """Head of a centrifugal blower in units of cp·T1: PR^κ − 1, which grows with speed squared.

    Parameters: boost above the air's pressure, kPa; the air's pressure, kPa. Source: affinity laws.
    METHOD 11 and 17.

    >>> round(float(fan_head(np.array(70.0), 101.325)), 4)
    0.1619
    """
    ratio = np.maximum(1.0 + boost_kpa / air_kpa, 1e-6)
    return np.asarray(ratio**KAPPA - 1.0)


def fan_boost(head: Float, air_kpa: float) -> Float:
    """Boost of a head, kPa: the inverse of `fan_head`. METHOD 17.

    >>> round(float(fan_boost(fan_head(np.array(70.0), 101.325), 101.325)), 6)
    70.0
    """
    return np.asarray(air_kpa * ((1.0 + head) ** (1.0 / KAPPA) - 1.0))


def shifts(log: Log) -> Bool:
    """Samples (N,) at which a higher gear goes in, by the gear, else by rpm over road speed."""
    changed = np.zeros(log.time_s.size, dtype=np.bool_)
    if log.gear is not None:
        gear = np.round(log.gear)
        # in neutral between two gears some write 0
        moved = np.flatnonzero((np.diff(gear) > 0) & (gear[1:] >= 2))
        changed[moved + 1] = True
    elif log.road_speed is not None:
        rolls = (log.road_speed > _ROLLING_KMH) & (log.rpm > _LEAST_RPM)
        per_speed = np.log(np.where(rolls, log.rpm, 1.0) / np.where(rolls, log.road_speed, 1.0))
        time = log.time_s
        fallen = np.interp(time - _SHIFT_S, time, per_speed) - np.interp(
            time + _SHIFT_S, time, per_speed
        )
        edges = np.flatnonzero(np.diff((rolls & (fallen > _SHIFT)).astype(np.int8)) == 1)
        changed[edges + 1] = True
    return changed


def likely_air(log: Log) -> list[tuple[float, float]]:
    """Pressures the air may have had, kPa, with the weight of each before the log is looked at.

    One where it is known, or hardly matters: above the air's pressure its own changes little.
    """
    if not log.is_absolute or log.air_sd_kpa < AIR_UNKNOWN_KPA or log.blower_rpm is not None:
        return [(log.air_kpa, 1.0)]
    mean, sd, share = _BY_THE_SEA
    sea = np.exp(-0.5 * ((_AIRS_KPA - mean) / np.hypot(sd, _GRID_SD_KPA)) ** 2)
    weight = share * sea / sea.sum() + (1.0 - share) / _AIRS_KPA.size
    return list(zip(_AIRS_KPA.tolist(), weight.tolist(), strict=True))


def without_closing(log: Log) -> tuple[Log, float | None]:
    """The pull without what a lift lets go, up to where the throttle closes for good, and where."""
    if log.throttle is None or log.throttle.size < 8:
        return log, None
    opened = running_mean(log.throttle, max(3, log.throttle.size // 40))
    most = float(np.median(opened[: max(4, opened.size // 3)]))
    spread = float(np.median(np.abs(np.diff(log.throttle)))) / max(most, 1e-9)
    closing = opened < (0.985 - min(spread, 0.02)) * most
    closing[: opened.size // 4] = False
    if not closing.any():
        return log, None
    # the mean smears the first of the closing over its own width
    width = max(3, log.throttle.size // 40)
    kept = np.ones(opened.size, dtype=np.bool_)
    closes_at = None
    edges = np.flatnonzero(np.diff(np.concatenate([[False], closing, [False]]).astype(np.int8)))
    for start, stop in edges.reshape(-1, 2).tolist():
        first = max(start - width, 1)
        if stop == opened.size:  # to the end: what the tune does
            closes_at = float(log.rpm[start])
            kept[first:] = False
        else:  # a lift: what follows counts again once the boost has built up
            kept[first:] &= log.time_s[first:] > log.time_s[stop - 1] + _BUILDING_S
    return log.taken(kept), closes_at


def points_of(log: Log) -> tuple[Points | None, str]:
    """The points of a pull, or why there are too few."""
    by_speed = log.blower_rpm is not None
    time = log.time_s - log.time_s[0]
    built = time >= min(_BUILDING_S, 0.25 * float(time[-1]))
    if log.blower_rpm is not None:
        # where the pull ends one channel may end before the other
        ends = float(time[-1]) - min(_APART_S, 0.05 * float(time[-1]))
        known = (log.blower_rpm > 0) & built & (time <= ends)
    else:
        least = max(
            _LEAST_BOOST_KPA, _LEAST_BOOST_SHARE * float(np.max(log.boost_kpa, initial=0.0))
        )
        known = (log.boost_kpa > least) & built
    known &= log.rpm > _LEAST_RPM
    if known.sum() < _LEAST_POINTS:
        return None, "too little of the pull has boost to compare with"
    climb = _climb(log)[known]
    log, time = log.taken(known), time[known]
    law: Law = "fan"
    if log.blower_rpm is not None:
        y, lever, by_air = (
            np.log(log.blower_rpm / log.rpm),
            np.zeros(time.size),
            np.zeros(time.size),
        )
    else:
        law = log.law or law_of(log)
        y, lever, by_air = _apparent(log, law)
    first = 0 if by_speed else _once_boost_stands(y)
    settling = np.exp(-(time - time[first]) / _SETTLING_S)
    columns = (log.rpm, y, _noise(y[first:], lever[first:]), log.boost_kpa, climb, settling, by_air)
    rpm, y, sigma, boost, climb, settling, by_air = (v[-(y.size - first) :] for v in columns)
    if rpm.size < _LEAST_POINTS or rpm.max() < _LEAST_GAIN * rpm.min():
        return None, "the pull covers too few revs with boost to calibrate low in it"
    order = np.argsort(rpm, kind="stable")
    groups = min(rpm.size, _MOST_POINTS)
    starts = (np.arange(groups) * rpm.size) // groups
    counts = np.diff(np.append(starts, rpm.size)).astype(float)

    def mean(values: Float) -> Float:
        return np.asarray(np.add.reduceat(values[order], starts) / counts)

    guessed = log.is_absolute and log.air_sd_kpa >= AIR_UNKNOWN_KPA
    sd = _GRID_SD_KPA if guessed else log.air_sd_kpa
    points = Points(
        mean(rpm),
        mean(y),
        mean(sigma) / np.sqrt(counts),
        mean(boost),
        mean(climb),
        mean(settling),
        mean(by_air),
        sd,
        by_speed,
        law,
        guessed,
    )
    return points, ""


def _climb(log: Log) -> Float:
    """Rise of engine speed over engine speed (N,), 1/s, smoothed."""
    gaps = np.diff(log.time_s)
    step = float(np.median(gaps[gaps > 0])) if (gaps > 0).any() else 1.0
    width = min(max(3, round(_SMOOTH_S / step)), log.rpm.size)
    smooth = running_mean(log.rpm, width)
    return np.asarray(np.gradient(smooth, step) / np.maximum(smooth, 1.0))


def law_of(log: Log) -> Law:
    """A blower's law by how its head rises low in a pull: with the square of the speed, or hardly."""
    log = log.taken((log.boost_kpa > _LEAST_BOOST_KPA) & (log.rpm > _LEAST_RPM))
    if log.rpm.size < _LEAST_POINTS:
        return "fan"
    low = log.rpm < np.median(log.rpm)
    head = np.maximum(fan_head(log.boost_kpa[low], log.air_kpa), 1e-6)
    along = np.log(log.rpm[low])
    if np.ptp(along) < 0.05:
        return "fan"
    slope = float(np.polyfit(along, np.log(head), 1)[0])
    return "displacement" if slope < _FLAT else "fan"


def density_slope(boost_kpa: Float, air_kpa: float) -> Float:
    """By how much ln of the density of pressed air grows with boost, 1/kPa.

    d ln(p/T)/dp with T/T1 = 1 + (PR^κ − 1)/η, not cooled. Source: adiabatic compression.
    METHOD 17.

    >>> float(density_slope(np.array(0.0), 100.0).round(5))
    0.00524
    """
    ratio = 1.0 + boost_kpa / air_kpa
    warm = 1.0 + np.maximum(fan_head(boost_kpa, air_kpa), 0.0) / _UNCOOLED
    by_ratio = 1.0 / ratio - KAPPA * ratio ** (KAPPA - 1.0) / _UNCOOLED / warm
    return np.asarray(by_ratio / air_kpa)


def density_ratio(boost_kpa: Float, air_kpa: float) -> Float:
    """Density of pressed air over the air's, not cooled: (p/T)/(p₁/T₁). METHOD 17.

    >>> float(density_ratio(np.array(0.0), 100.0))
    1.0
    """
    ratio = 1.0 + boost_kpa / air_kpa
    return np.asarray(ratio / (1.0 + np.maximum(fan_head(boost_kpa, air_kpa), 0.0) / _UNCOOLED))


def _apparent(log: Log, law: Law) -> tuple[Float, Float, Float]:
    """ln of apparent blower speed over engine speed (N,), its change per kPa of boost and of air."""
    air, ratio = log.air_kpa, 1.0 + log.boost_kpa / log.air_kpa
    head = np.maximum(fan_head(log.boost_kpa, air), 1e-9)
    if law == "displacement":
        # what is pushed over what is swallowed: the density, warmer than the air as it is pressed
        y = np.log(density_ratio(log.boost_kpa, air))
        by_ratio = air * density_slope(log.boost_kpa, air)
    else:
        y = 0.5 * np.log(head / log.rpm**2)
        by_ratio = 0.5 * KAPPA * ratio ** (KAPPA - 1.0) / head
    # absolute: the ratio falls as p/air²; above the air's pressure only as boost/air²
    pressed = log.boost_kpa + air if log.is_absolute else log.boost_kpa
    return y, by_ratio / air, -by_ratio * pressed / air**2


def _once_boost_stands(y: Float) -> int:
    """Where the boost has built up after the throttle opened: within the first quarter of the pull."""
    quarter = y.size // 4
    usual = float(np.median(y[quarter : max(2 * quarter, quarter + 4)]))
    low = np.flatnonzero(y[:quarter] < usual - 0.12)
    return int(low[-1]) + 1 if low.size else 0


def _noise(y: Float, lever: Float) -> Float:
    """Noise of y per sample (N,): a share of the boost, and a part that is the same for all boosts.

    Taken from second differences, which the smooth pull itself hardly touches; lever (N,): change of y
    per kPa.
    """
    rough = (y[2:] - 2 * y[1:-1] + y[:-2]) ** 2 / 6.0
    # a few jumps (a shift, a held sample) are no noise
    rough = np.minimum(rough, 12.0 * np.median(rough) + 1e-12)
    squared = lever[1:-1] ** 2
    usual = rough.mean() + 1e-12
    even, by_lever = float(rough.mean()), 0.0
    if float(np.ptp(squared)) > 0:
        design = np.stack([np.ones_like(squared), squared], axis=1)
        even, by_lever = np.linalg.lstsq(design / usual, rough / usual, rcond=None)[0]
    if even < 0 or by_lever < 0:
        even = max(float(rough.mean()), 0.0) if by_lever <= 0 else 0.0
        by_lever = 0.0 if even else float(rough.sum() / squared.sum())
    return np.asarray(np.sqrt(even + by_lever * lever**2 + 1e-8))


def running_mean(values: Float, width: int) -> Float:
    """Centred mean over `width` samples (N,), the ends held.

    >>> running_mean(np.array([0.0, 0.0, 3.0, 3.0, 3.0]), 3).tolist()
    [0.0, 1.0, 2.0, 3.0, 3.0]
    """
    before, count = width // 2, values.size
    summed = np.empty(count + width)
    summed[0] = 0.0
    summed[1 : before + 1] = values[0]
    summed[before + 1 : before + 1 + count] = values
    summed[before + 1 + count :] = values[-1]
    np.cumsum(summed, out=summed)
    mean = summed[width:] - summed[:-width]
    mean /= width
    return mean
