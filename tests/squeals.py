"""Recordings of an engine with a squeal that swells once at each turn of something, made up."""

from __future__ import annotations

import wave
from pathlib import Path

import numpy as np

RATE = 22_050


def recording(
    rng: np.random.Generator,
    rpm: float,
    firings: float,
    beats: float,
    loud: float,
    *,
    drift: float = 0.002,
    seconds: float = 8.0,
) -> np.ndarray:
    """Firing, half orders and hiss, and a squeal (none where loud is 0) of wandering pitch that swells
    beats times a turn of the crank, never twice alike. drift: how far the revs wander, as a share.
    """
    t = np.arange(int(seconds * RATE)) / RATE
    wander = np.interp(t, np.linspace(0, seconds, 8), rng.normal(size=8))
    turned = np.cumsum(rpm / 60.0 * (1.0 + drift * wander)) / RATE
    sound = 0.5 * rng.normal(size=t.size)
    for k in range(1, 8):
        sound += rng.uniform(0.3, 1.0) / k * np.sin(2 * np.pi * firings * k * turned)
    for k in range(1, 20):
        sound += rng.uniform(0.05, 0.3) * np.sin(np.pi * k * turned + rng.uniform(0, 6))
    gone = turned * beats + rng.uniform()
    swell = np.exp(-0.5 * ((gone % 1.0 - 0.5) / (0.5 * rng.uniform(0.08, 0.35))) ** 2)
    each = rng.lognormal(0.0, 0.5, size=int(gone[-1]) + 2)
    pitch = np.interp(t, np.linspace(0, seconds, 20), 1.0 + 0.03 * rng.normal(size=20))
    tone = np.sin(2 * np.pi * np.cumsum(rng.uniform(2000.0, 5000.0) * pitch) / RATE)
    return np.asarray(sound + loud * each[gone.astype(int)] * swell * tone)


def write_wav(path: Path, sound: np.ndarray, *, wide: int = 2, channels: int = 1) -> Path:
    """Write it as PCM of so many bytes a sample, every channel alike."""
    scaled = 0.8 * sound / np.abs(sound).max()
    if wide == 1:
        held = np.round(128 + 127 * scaled).astype(np.uint8)[:, None]
    else:
        whole = np.round(scaled * (2.0 ** (8 * wide - 1) - 1)).astype("<i4")
        held = whole.view(np.uint8).reshape(-1, 4)[:, :wide]
    with wave.open(str(path), "wb") as file:
        file.setnchannels(channels)
        file.setsampwidth(wide)
        file.setframerate(RATE)
        file.writeframes(np.tile(held, channels).tobytes())
    return path
