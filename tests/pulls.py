"""Simulated pulls for tests: the truth is set, noise is added, nothing is shared with the analysis."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, field


@dataclass
class Sim:
    """A pull from low to high rpm. slip: onset rpm, worst fraction at the top, power of its growth."""

    seed: int = 0
    hertz: float = 25.0
    seconds: float = 7.0
    low: float = 2400.0
    high: float = 6800.0
    noise: float = 0.01
    of_full_scale: bool = False
    slip: tuple[float, float, float] | None = None
    leak: float = 0.0  # share of the boost lost everywhere
    bypass: tuple[float, float] | None = None  # rpm, share of the boost lost above it
    taper: tuple[float, float] | None = None  # rpm, share of the throttle closed at the top
    ratio: float = 2.05
    full_boost: float = 85.0
    air: float = 101.325
    law: str = "fan"
    rows: list[tuple[float, float, float, float, float]] = field(default_factory=list)

    def run(self, start: float = 0.0) -> Sim:
        """Fill rows: time s, rpm, boost kPa, blower rpm, throttle %."""
        rng = random.Random(self.seed)
        rows, steps = [], int((self.seconds + 3.0) * self.hertz)
        for k in range(steps):
            t = k / self.hertz
            along = (t - 1.5) / self.seconds
            pulling = 0.0 <= along <= 1.0
            if pulling:
                rpm = self.low + (self.high - self.low) * (1.2 * along - 0.2 * along**2)
            else:
                rpm = self.low if along < 0 else self.high - 1800 * (t - 1.5 - self.seconds)
            throttle = 100.0 if pulling else 9.0
            if pulling and self.taper and rpm > self.taper[0]:
                throttle -= (
                    100 * self.taper[1] * (rpm - self.taper[0]) / (self.high - self.taper[0])
                )
            boost, blower = self._boost(rpm, throttle) if pulling else (-48.0, rpm * self.ratio)
            scale = self.full_boost if self.of_full_scale else boost
            boost += self.noise * scale * rng.gauss(0, 1)
            rows.append(
                (start + t, rpm + rng.gauss(0, 6), boost, blower + rng.gauss(0, 15),
                 throttle + rng.gauss(0, 0.3))
            )  # fmt: skip
        self.rows = rows
        return self

    def _boost(self, rpm: float, throttle: float) -> tuple[float, float]:
        blower = rpm * self.ratio
        if self.slip and rpm > self.slip[0]:
            onset, worst, power = self.slip
            blower *= 1 - worst * ((rpm - onset) / (self.high - onset)) ** power
        full = self.high * self.ratio
        if self.law == "fan":
            head = ((1 + self.full_boost / self.air) ** (2 / 7) - 1) * (blower / full) ** 2
            boost = self.air * ((1 + head) ** 3.5 - 1)
        elif self.law == "square":
            boost = self.full_boost * (blower / full) ** 2
        else:
            boost = self.full_boost * blower / full
        boost *= 1 - self.leak
        if self.bypass and rpm > self.bypass[0]:
            boost *= 1 - self.bypass[1]
        return boost * (1 - 0.9 * (1 - throttle / 100)), blower


def text(sims: list[Sim], columns: tuple[int, ...] = (0, 1, 2)) -> str:
    """The pulls as a CSV with the chosen columns."""
    heads = ["Time [s]", "Engine speed [rpm]", "Boost [kPa]", "Blower speed [rpm]", "Throttle [%]"]
    lines = [",".join(heads[c] for c in columns)]
    for sim in sims:
        lines += [",".join(f"{row[c]:.4f}" for c in columns) for row in sim.rows]
    return "\n".join(lines) + "\n"


def spread(number: int, low: float, high: float) -> float:
    """An even spread of values from low to high that looks irregular."""
    return low + (high - low) * math.modf(number * 0.6180339887)[0]
