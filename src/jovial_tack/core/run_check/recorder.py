"""A stand-in for a telephone beside a running engine: recordings of a squeal, made up (METHOD 18)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Float

#: Samples a second.
RATE_HZ = 22_050


def recording(
    rng: np.random.Generator,
    rpm: float,
    firings: float,
    beats: float,
    loud: float,
    *,
    drift: float = 0.002,
    seconds: float = 8.0,
) -> Float:
    """Firing, half orders and hiss of an engine, and a squeal of wandering pitch that swells with each
    turn of something, never twice alike. Samples (N,), the hiss at an effective value of one half.

    firings: for a turn of the crank; beats: turns of what squeals for one of the crank; loud: how high
    the squeal swells, 0 for none; drift: how far the revs wander, as a share.
    """
    t = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    wander = np.interp(t, np.linspace(0, seconds, 8), rng.normal(size=8))
    turned = np.cumsum(rpm / 60.0 * (1.0 + drift * wander)) / RATE_HZ
    sound = 0.5 * rng.normal(size=t.size)
    for k in range(1, 8):
        sound += rng.uniform(0.3, 1.0) / k * np.sin(2 * np.pi * firings * k * turned)
    for k in range(1, 20):
        sound += rng.uniform(0.05, 0.3) * np.sin(np.pi * k * turned + rng.uniform(0, 6))
    gone = turned * beats + rng.uniform()
    wide = 0.5 * rng.uniform(0.08, 0.35)
    swell = np.exp(-0.5 * ((gone % 1.0 - 0.5) / wide) ** 2)
    each_turn = rng.lognormal(0.0, 0.5, size=int(gone[-1]) + 2)
    pitch = np.interp(t, np.linspace(0, seconds, 20), 1.0 + 0.03 * rng.normal(size=20))
    tone = np.sin(2 * np.pi * np.cumsum(rng.uniform(2000.0, 5000.0) * pitch) / RATE_HZ)
    return np.asarray(sound + loud * each_turn[gone.astype(int)] * swell * tone)
