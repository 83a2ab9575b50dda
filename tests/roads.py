"""Logs of a blown engine, for tests: the air's way is computed, the truth is set, nothing is shared.

A blower with a head that falls with flow draws through a filter and pushes through a cooler into an
engine whose filling has a hump. Slip, leaks, valves and throttles are laid on, and what a logger does
to it all: sensors that lag, channels that are held, quantised, jittered or slow.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
_FINE_HZ = 400.0
_BEFORE_S, _AFTER_S = 1.5, 1.5


@dataclass(frozen=True)
class Road:
    """One pull. slip: onset rpm, share lost at the top, power of its growth; None keeps up."""

    seed: int = 0
    slip: tuple[float, float, float] | None = None
    low: float = 2400.0
    high: float = 6800.0
    seconds: float = 6.0
    hertz: float = 25.0
    ratio: float = 2.05
    head: float = 0.17  # PR^κ − 1 at the top, before flow
    falls: float = 0.08  # of the head with flow
    filter_kpa: float = 1.5
    cooler_kpa: float = 4.0
    hump: float = 0.06  # of the filling over the revs
    air_kpa: float = 101.325
    air_c: float = 22.0
    heats_k: float = 4.0
    leak: float = 0.0
    bypass: tuple[float, float] | None = None  # rpm from which, share of the boost lost
    valve: tuple[float, float] | None = None  # boost kPa from which, share of the rest let go
    restriction: float = 0.0  # kPa at the top, growing with flow cubed
    clogged: float = 0.0  # the same before the blower
    choke: tuple[float, float] | None = None  # rpm from which, share of the speed's head lost
    sensor_s: float = 0.4  # by which the discharge temperature is behind
    taper: tuple[float, float] | None = (
        None  # rpm from which, share of the throttle closed at the top
    )
    noise: float = 0.01
    noise_kpa: float = 0.15
    lag_s: float = 0.03
    fill_s: float = 0.12
    step_kpa: float = 0.0
    jitter: float = 0.0
    held: int = 1  # samples for which boost is held
    displacement: bool = False


@dataclass(frozen=True)
class Logged:
    """What the logger wrote, each (N,), and the truth of the pull: when, and slip at its top."""

    time_s: Array
    rpm: Array
    map_kpa: Array
    blower_rpm: Array
    throttle: Array
    bypass: Array
    inlet_kpa: Array
    outlet_kpa: Array
    discharge_c: Array
    road: Road

    @property
    def worst(self) -> float:
        """The share lost at the top; 0 where it keeps up."""
        return 0.0 if self.road.slip is None else self.road.slip[1]


def slip_at(road: Road, rpm: Array) -> Array:
    """The share of its speed the blower loses at engine speeds."""
    if road.slip is None:
        return np.zeros_like(rpm)
    onset, worst, power = road.slip
    return worst * np.clip((rpm - onset) / (road.high - onset), 0.0, 1.2) ** power


def driven(road: Road, start_s: float = 0.0) -> Logged:
    """Drive a pull and log it."""
    dice = np.random.default_rng(road.seed)
    time = np.arange(0.0, road.seconds + _BEFORE_S + _AFTER_S, 1.0 / _FINE_HZ)
    along = np.clip((time - _BEFORE_S) / road.seconds, 0.0, 1.0)
    bend = dice.uniform(0.1, 0.35)
    rpm = road.low + (road.high - road.low) * ((1 + bend) * along - bend * along**2)
    off = time > _BEFORE_S + road.seconds
    rpm[off] -= 1700.0 * (time[off] - _BEFORE_S - road.seconds)
    open_ = np.clip((time - _BEFORE_S + 0.15) / 0.15, 0.0, 1.0) * ~off
    if road.taper is not None:
        closes = np.clip((rpm - road.taper[0]) / (road.high - road.taper[0]), 0.0, 1.0)
        open_ = open_ * (1.0 - road.taper[1] * closes)
    lost = slip_at(road, rpm) * (open_ > 0.5)
    blower = rpm * road.ratio * (1.0 - lost)
    made, inlet, outlet, hot = _made(road, rpm, blower, along)
    if road.bypass is not None:
        made = made * (1.0 - road.bypass[1] * np.clip((rpm - road.bypass[0]) / 40.0, 0.0, 1.0))
    if road.valve is not None:
        made -= road.valve[1] * np.maximum(made - road.valve[0], 0.0)
    shut = np.where(open_ < 0.5, -55.0 - made, 0.0)
    gauge = made * (1.0 - 0.9 * (1.0 - np.maximum(open_, 0.5)) ** 2 * 4 * (open_ < 1)) + shut
    gauge = _behind(gauge, road.fill_s)
    gauge = _behind(gauge, road.lag_s)
    # a throttle that closes dams up what is before it, and lets less in
    lets = gauge / np.maximum(made, 1e-6)
    ways = [
        inlet * np.clip(lets, 0.0, 1.0) ** 2,
        np.maximum(outlet, gauge),
        _behind(hot, road.sensor_s),
    ]
    return _written(road, dice, start_s, time, rpm, gauge + road.air_kpa, blower, open_, ways)


def _made(road: Road, rpm: Array, blower: Array, along: Array) -> tuple[Array, Array, Array, Array]:
    """Above the air's pressure with the throttle open, kPa: boost, before the blower, after it; and
    the temperature of what leaves the blower, °C.
    """
    turns = blower / (road.high * road.ratio)
    share = rpm / road.high
    filling = 1.0 + road.hump * np.sin(np.pi * (share - 0.3) / 0.7)
    warm = 1.0 + road.heats_k * along / 295.0
    flow = share * filling
    choke, chokes = road.choke or (road.low, 0.0)
    past = np.clip((rpm - choke) / (road.high - choke), 0.0, 1.0)
    efficiency = 0.7 * (1.0 - 2.5 * chokes * past)
    ratio = np.ones_like(rpm)
    for _ in range(30):
        before = road.air_kpa - road.filter_kpa * (flow * ratio) ** 2
        if road.displacement:
            made = np.maximum((1.0 + 2.2 * road.head) * turns / share / filling, 1.0) ** 1.2
        else:
            taken = flow * ratio / np.maximum(turns, 1e-6)
            head = road.head * turns**2 * (1.0 - road.falls * (taken - 1.0)) / warm
            head = head * (1.0 - chokes * past) ** 2
            made = (1.0 + np.maximum(head, 0.0)) ** 3.5
        before -= road.clogged * (flow * ratio) ** 3 / (1.6**3)
        after = before * made - road.cooler_kpa * (flow * ratio) ** 2 / road.high * rpm
        after -= road.restriction * (flow * ratio) ** 3 / (1.6**3)
        ratio = 0.6 * ratio + 0.4 * after / road.air_kpa
    outlet = (before * made - road.air_kpa) * (1.0 - road.leak)
    enters = 273.15 + road.air_c + road.heats_k * along
    hot = enters * (1.0 + (made**0.2857 - 1.0) / efficiency) - 273.15
    return (ratio - 1.0) * road.air_kpa * (1.0 - road.leak), before - road.air_kpa, outlet, hot


def _behind(values: Array, seconds: float) -> Array:
    """Values as a sensor or a volume follows them, with a time constant."""
    if seconds <= 0:
        return values
    share = 1.0 - np.exp(-1.0 / (_FINE_HZ * seconds))
    out, now = np.empty_like(values), values[0]
    for k, value in enumerate(values):
        now += share * (value - now)
        out[k] = now
    return out


def _written(
    road: Road,
    dice: np.random.Generator,
    start_s: float,
    time: Array,
    rpm: Array,
    pressure: Array,
    blower: Array,
    open_: Array,
    ways: list[Array],
) -> Logged:
    stamps = np.arange(0.0, time[-1], 1.0 / road.hertz)
    meant = stamps + road.jitter / road.hertz * dice.uniform(-0.5, 0.5, stamps.size)

    def taken(values: Array) -> Array:
        return np.asarray(np.interp(meant, time, values))

    gauge = taken(pressure) - road.air_kpa
    noisy = gauge + road.noise * np.abs(gauge) * dice.standard_normal(gauge.size)
    noisy += road.noise_kpa * dice.standard_normal(gauge.size)
    whole = noisy + road.air_kpa
    whole = whole[(np.arange(whole.size) // road.held) * road.held]
    if road.step_kpa:
        whole = np.round(whole / road.step_kpa) * road.step_kpa
    return Logged(
        start_s + stamps,
        taken(rpm) + 5.0 * dice.standard_normal(stamps.size),
        whole,
        taken(blower) + 20.0 * dice.standard_normal(stamps.size),
        100.0 * taken(open_) + 0.3 * dice.standard_normal(stamps.size),
        0.2 * dice.standard_normal(stamps.size) + 2.0,
        taken(ways[0]) + 0.2 * dice.standard_normal(stamps.size),
        taken(ways[1]) + 0.4 * dice.standard_normal(stamps.size),
        taken(ways[2]) + 0.5 * dice.standard_normal(stamps.size),
        road,
    )


#: Twenty kinds of days and loggers: what is different from a plain pull, drawn with dice (a, b in 0–1).
KINDS = (
    "plain", "weather", "altitude", "leak", "taper", "restriction", "heat", "quantised", "jittered",
    "5 Hz", "10 Hz", "100 Hz", "lag", "short", "long", "held", "noisy", "low boost", "high boost",
    "falling head",
)  # fmt: skip


def of_kind(kind: str, road: Road, a: float, b: float) -> Road:
    """A road of a kind."""
    match kind:
        case "weather":
            return replace(road, air_kpa=98.0 + 6.0 * a, air_c=40.0 * b)
        case "altitude":
            return replace(road, air_kpa=78.0 + 16.0 * a)
        case "leak":
            return replace(road, leak=0.05 + 0.25 * a)
        case "taper":
            return replace(road, taper=(5400.0 + 800.0 * a, 0.1 + 0.3 * b))
        case "restriction":
            return replace(road, restriction=1.0 + 3.0 * a)
        case "heat":
            return replace(road, heats_k=8.0 + 14.0 * a)
        case "quantised":
            return replace(road, step_kpa=0.5 + 0.5 * a)
        case "jittered":
            return replace(road, jitter=1.0)
        case "5 Hz":
            return replace(road, hertz=5.0, seconds=road.seconds + 2.0)
        case "10 Hz":
            return replace(road, hertz=10.0)
        case "100 Hz":
            return replace(road, hertz=100.0)
        case "lag":
            return replace(road, lag_s=0.05 + 0.1 * a)
        case "short":
            return replace(road, seconds=2.6 + 1.2 * a, hertz=50.0)
        case "long":
            return replace(road, seconds=10.0 + 5.0 * a)
        case "held":
            return replace(road, hertz=50.0, held=5)
        case "noisy":
            return replace(road, noise=0.02 + 0.02 * a)
        case "low boost":
            return replace(road, head=0.07 + 0.03 * a)
        case "high boost":
            return replace(road, head=0.26 + 0.08 * a)
        case "falling head":
            return replace(road, falls=0.12 + 0.12 * a, cooler_kpa=4.0 + 6.0 * b)
    return road


def roads(count: int, slipping: bool, first: int = 0) -> list[tuple[str, Road]]:
    """Pulls of all kinds in turn, each drawn anew."""
    found = []
    for k in range(first, first + count):
        dice = np.random.default_rng(70_000 + 2 * k + slipping)
        low, high = dice.uniform(2200, 3200), dice.uniform(6000, 7200)
        plain = Road(
            seed=k,
            low=low,
            high=high,
            seconds=dice.uniform(4.0, 9.0),
            hertz=float(dice.choice([20.0, 25.0, 50.0])),
            head=dice.uniform(0.11, 0.24),
            falls=dice.uniform(0.02, 0.12),
            filter_kpa=dice.uniform(0.3, 3.0),
            cooler_kpa=dice.uniform(0.0, 6.0),
            hump=dice.uniform(0.02, 0.09),
            heats_k=dice.uniform(0.0, 8.0),
            air_kpa=dice.normal(101.0, 0.8),
            noise=dice.uniform(0.004, 0.012),
            lag_s=dice.uniform(0.0, 0.05),
        )
        if slipping:
            onset = low + (high - low) * dice.uniform(0.42, 0.88)
            worst = float(np.exp(dice.uniform(np.log(0.03), np.log(0.16))))
            plain = replace(plain, slip=(onset, worst, dice.uniform(1.0, 2.0)))
        kind = KINDS[k % len(KINDS)]
        road = of_kind(kind, plain, *dice.uniform(0, 1, 2))
        found.append((kind, road))
    return found
